#pragma once

#include <QObject>
#include <QTimer>
#include <QVariantAnimation>

#include "core/view/camera.h"

#include <deque>

namespace wendrix::app {

/// Where one looks from and how that becomes another place: at once, on a way, back again.
class ViewMotion final : public QObject {
    Q_OBJECT
public:
    explicit ViewMotion(QObject* parent);

    [[nodiscard]] const view::Camera& camera() const { return camera_; }
    [[nodiscard]] view::Camera whereItGoes() const; ///< the view, or the one it is moving to
    [[nodiscard]] bool isMoving() const { return isMoving_; }
    /// Remembers the view and goes to another.
    void go(const view::Camera& camera, bool isSmooth);
    void steer(const view::Camera& camera); ///< a little further on a way that remember() began
    void remember();                        ///< the view, to come back to
    void back();                            ///< undo of the view
    void stop() { animation_.stop(); }      ///< where it is now
    void finish();                          ///< a view that is moving is there at once

signals:
    void moved();
    void rested(); ///< it moved, and no longer does

private:
    void put(const view::Camera& camera);

    view::Camera camera_, goal_;
    std::deque<view::Camera> before_;
    QVariantAnimation animation_;
    QTimer rest_;
    bool isMoving_ = false;
};

} // namespace wendrix::app
