#pragma once

#include "scene/scene_view.h"

class QLabel;

namespace wendrix::app {

/// A second view beside the scene, of the same members seen from the same place: whichever a person turns, the other
/// follows.
class SideBySide final : public QObject {
    Q_OBJECT
public:
    /// @param scene  outlives it
    /// @param parent  of the second view
    SideBySide(SceneView& scene, QWidget* parent);

    [[nodiscard]] SceneView& view() { return *view_; }
    /// What it shows, in the looks of the other, and what stands over either.
    void show(view::Subject subject, const QString& before, const QString& after);
    void end(); ///< the scene is alone again

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void follow(SceneView& leader, SceneView& follower);

    SceneView& scene_;
    SceneView* view_;
    QLabel *before_, *after_;
    SceneView* leader_; ///< whichever was touched last
};

} // namespace wendrix::app
