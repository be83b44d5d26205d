#include "scene/walk_tool.h"

#include <QKeyEvent>
#include <QMouseEvent>

namespace wendrix::app {

namespace {

constexpr double kStepMetres = 0.4, kFastMetres = 1.6, kTurnPerPixel = 0.004, kOffWallMetres = 0.6;

} // namespace

void WalkTool::taken()
{
    scene_.setFocus();
    const auto picked = scene_.pickAt(QPointF(scene_.width() / 2.0, scene_.height() / 2.0));
    if (!picked)
        return;
    view::Camera camera = scene_.camera();
    const Vector3 ahead = cross(Vector3{0, 0, 1}, camera.right());
    camera.isParallel = false;
    camera.fieldOfView = 1.1;
    // Before a wall, not in it.
    const Vector3 off = picked->normal.z < 0.7 ? normalised(Vector3{picked->normal.x, picked->normal.y, 0}) : Vector3{};
    camera.eye = picked->place + kOffWallMetres * off + Vector3{0, 0, 0.1 + view::kEyeHeightMetres};
    camera.target = camera.eye + 5.0 * ahead;
    scene_.setCamera(walker().onFloor(camera), true);
}

bool WalkTool::grab(QMouseEvent& event)
{
    last_ = event.position();
    scene_.remember();
    return true;
}

void WalkTool::drag(QMouseEvent& event)
{
    const QPointF d = event.position() - last_;
    last_ = event.position();
    scene_.steer(view::lookedAround(scene_.camera(), Radians{d.x() * kTurnPerPixel}, Radians{-d.y() * kTurnPerPixel}));
}

bool WalkTool::key(QKeyEvent& event)
{
    const double step = (event.modifiers() & Qt::ShiftModifier) != 0 ? kFastMetres : kStepMetres;
    double ahead = 0, aside = 0, up = 0;
    switch (event.key()) {
    case Qt::Key_Up:
    case Qt::Key_W:
        ahead = step;
        break;
    case Qt::Key_Down:
    case Qt::Key_S:
        ahead = -step;
        break;
    case Qt::Key_Left:
    case Qt::Key_A:
        aside = -step;
        break;
    case Qt::Key_Right:
    case Qt::Key_D:
        aside = step;
        break;
    case Qt::Key_PageUp:
        up = step;
        break;
    case Qt::Key_PageDown:
        up = -step;
        break;
    default:
        return false;
    }
    if (up != 0)
        scene_.steer(view::walked(scene_.camera(), 0, 0, up));
    else
        scene_.steer(walker().step(scene_.camera(), ahead, aside, hasGravity_));
    return true;
}

} // namespace wendrix::app
