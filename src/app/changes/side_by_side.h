#pragma once

#include "scene/scene_view.h"

namespace wendrix::app {

/// A second view beside the scene, of the same members seen from the same place: whichever a person turns, the other
/// follows.
class SideBySide final : public QObject {
    Q_OBJECT
public:
    /// @param scene  outlives it
    SideBySide(SceneView& scene, QWidget* parent);

    [[nodiscard]] SceneView& view() { return *view_; }
    /// What it shows, in the looks of the other.
    void show(view::Subject subject);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void follow(SceneView& leader, SceneView& follower);

    SceneView& scene_;
    SceneView* view_;
    SceneView* leader_; ///< whichever was touched last
};

} // namespace wendrix::app
