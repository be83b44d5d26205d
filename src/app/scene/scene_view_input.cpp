#include "scene/scene_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QNativeGestureEvent>

#include <cmath>

/// Mouse, touchpad and keyboard in the scene.
namespace wendrix::app {

namespace {

constexpr double kTurnPerPixel = 0.008; // radians
constexpr double kReachPixels = 11;
constexpr double kTurnPerKey = 0.12, kPixelsPerKey = 60, kZoomPerKey = 0.85;

} // namespace

view::Picker::Filter SceneView::filter(float leastAlpha) const
{
    view::Picker::Filter f;
    f.leastAlpha = leastAlpha;
    f.cuts = scene_.cutPlanes();
    for (const view::MemberLook& look : looks())
        f.isMemberPickable.push_back(look.isPickable);
    return f;
}

std::optional<view::Picked> SceneView::pickAt(QPointF at)
{
    return isPickerReady() ? pickFrom(camera(), at) : std::nullopt;
}

std::optional<view::Picked> SceneView::pickFrom(const view::Camera& camera, QPointF at)
{
    const view::Ray ray = view::rayThrough(camera, viewport(), at.x(), at.y());
    // What is solid comes before what is seen through, wherever it lies.
    if (auto solid = picker().pick(ray, colours(), filter(0.999f)))
        return solid;
    return picker().pick(ray, colours(), filter(0.01f));
}

std::optional<view::Snap> SceneView::snapAt(QPointF at)
{
    return snapAt(at, view::kAllSnapKinds, [](const federation::Member&) { return true; });
}

std::optional<view::Snap> SceneView::snapAt(QPointF at, view::SnapKinds kinds,
                                            const std::function<bool(const federation::Member&)>& isWanted)
{
    if (!isPickerReady())
        return {};
    for (const float leastAlpha : {0.999f, 0.01f}) {
        view::Picker::Filter wanted = filter(leastAlpha);
        for (std::size_t i = 0; i < wanted.isMemberPickable.size(); ++i)
            wanted.isMemberPickable[i] = wanted.isMemberPickable[i] && isWanted(members()[i]);
        if (auto snap = snapper().at(camera(), viewport(), at.x(), at.y(), kReachPixels, colours(), wanted, kinds))
            return snap;
    }
    return {};
}

std::set<view::ElementKey> SceneView::elementsIn(QRectF r, bool isWhole)
{
    r = r.normalized();
    return picker().within(camera(), viewport(), {r.left(), r.top(), r.right(), r.bottom()}, isWhole, colours(),
                           filter(0.01f));
}

bool SceneView::event(QEvent* event)
{
    if (event->type() == QEvent::NativeGesture) {
        const auto* gesture = static_cast<QNativeGestureEvent*>(event);
        if (gesture->gestureType() == Qt::ZoomNativeGesture) {
            const auto picked = pickAt(gesture->position());
            steer(view::zoomed(camera(), picked ? picked->place : camera().target,
                               1 / (1 + std::clamp(gesture->value(), -0.5, 1.0))));
            return true;
        }
    }
    return QOpenGLWidget::event(event);
}

void SceneView::mousePressEvent(QMouseEvent* event)
{
    motion_.stop();
    setFocus(Qt::MouseFocusReason);
    pressed_ = last_ = event->position();
    isDragging_ = false;
    isGrabbed_ = tool_ != nullptr && event->button() == Qt::LeftButton && tool_->grab(*event);
    if (isGrabbed_)
        return;
    if (event->button() == Qt::LeftButton && (event->modifiers() & Qt::AltModifier) != 0) {
        box_ = QRectF(pressed_, pressed_);
        return;
    }
    const auto picked = pickAt(event->position());
    pivot_ = picked ? picked->place : camera().target;
}

void SceneView::mouseMoveEvent(QMouseEvent* event)
{
    const QPointF now = event->position();
    if (event->buttons() == Qt::NoButton) {
        const auto picked = pickAt(now);
        emit cursorMoved(picked.has_value(), picked ? picked->place.x : 0, picked ? picked->place.y : 0,
                         picked ? picked->place.z : 0);
        if (tool_ != nullptr)
            tool_->hover(*event);
        return;
    }
    if (isGrabbed_) {
        tool_->drag(*event);
        return;
    }
    if (box_) {
        box_ = QRectF(pressed_, QSizeF(now.x() - pressed_.x(), now.y() - pressed_.y()));
        update();
        return;
    }
    if (!isDragging_ && (now - pressed_).manhattanLength() < 4)
        return;
    if (!isDragging_)
        remember();
    isDragging_ = true;
    const QPointF d = now - last_;
    last_ = now;
    const bool isLeft = (event->buttons() & Qt::LeftButton) != 0;
    if (isLeft && (event->modifiers() & Qt::ControlModifier) != 0) {
        steer(
            view::lookedAround(camera(), Radians{d.x() * 0.5 * kTurnPerPixel}, Radians{-d.y() * 0.5 * kTurnPerPixel}));
    } else if (isLeft && (event->modifiers() & Qt::ShiftModifier) == 0) {
        steer(view::orbited(camera(), pivot_, Radians{-d.x() * kTurnPerPixel}, Radians{d.y() * kTurnPerPixel}));
    } else {
        const double depth = std::max(0.5, dot(pivot_ - camera().eye, camera().forward()));
        steer(view::panned(camera(), viewport(), d.x(), d.y(), depth));
    }
}

void SceneView::mouseReleaseEvent(QMouseEvent* event)
{
    if (isGrabbed_) {
        isGrabbed_ = false;
        tool_->drop(*event);
        return;
    }
    if (box_) {
        // Drawn to the right: what is wholly in it; to the left: what it touches.
        const QRectF drawn = *box_;
        box_.reset();
        auto found = elementsIn(drawn, drawn.width() >= 0);
        if ((event->modifiers() & Qt::ControlModifier) != 0)
            found.insert(display().selected.begin(), display().selected.end());
        choose(std::move(found));
        return;
    }
    if (!isDragging_ && event->button() == Qt::LeftButton && (tool_ == nullptr || !tool_->click(*event))) {
        const Click click{event->position(), camera(),
                          (event->modifiers() & (Qt::ControlModifier | Qt::ShiftModifier)) != 0};
        if (isPickerReady())
            select(click);
        else
            click_ = click;
    } else if (!isDragging_ && event->button() == Qt::RightButton)
        emit menuWanted(event->globalPosition().toPoint());
    isDragging_ = false;
}

void SceneView::select(const Click& click)
{
    const auto picked = pickFrom(click.camera, click.at);
    std::set<view::ElementKey> selected;
    if (click.isAdding)
        selected = display().selected;
    if (picked && !selected.insert(picked->element).second)
        selected.erase(picked->element);
    choose(std::move(selected));
}

void SceneView::wheelEvent(QWheelEvent* event)
{
    const auto picked = pickAt(event->position());
    const view::Ray ray = view::rayThrough(camera(), viewport(), event->position().x(), event->position().y());
    const double distance = length(camera().target - camera().eye);
    const Point3 place =
        picked ? picked->place : ray.origin + (dot(camera().target - ray.origin, ray.direction)) * ray.direction;
    remember();
    if (event->device() != nullptr && event->device()->type() == QInputDevice::DeviceType::TouchPad &&
        !event->pixelDelta().isNull() && (event->modifiers() & Qt::ControlModifier) == 0)
        steer(view::panned(camera(), viewport(), event->pixelDelta().x(), event->pixelDelta().y(), distance));
    else
        steer(view::zoomed(camera(), place, std::pow(0.85, event->angleDelta().y() / 120.0)));
}

void SceneView::keyPressEvent(QKeyEvent* event)
{
    if (tool_ != nullptr && tool_->key(*event))
        return;
    const bool isMove = (event->modifiers() & Qt::ControlModifier) != 0;
    const double distance = length(camera().target - camera().eye);
    const auto arrow = [&](double x, double y) {
        remember();
        steer(isMove ? view::panned(camera(), viewport(), -x * kPixelsPerKey, y * kPixelsPerKey, distance)
                     : view::orbited(camera(), camera().target, Radians{x * kTurnPerKey}, Radians{y * kTurnPerKey}));
    };
    switch (event->key()) {
    case Qt::Key_Left:
        arrow(-1, 0);
        break;
    case Qt::Key_Right:
        arrow(1, 0);
        break;
    case Qt::Key_Up:
        arrow(0, 1);
        break;
    case Qt::Key_Down:
        arrow(0, -1);
        break;
    case Qt::Key_Plus:
    case Qt::Key_Equal:
    case Qt::Key_Minus:
        remember();
        steer(view::zoomed(camera(), camera().target, event->key() == Qt::Key_Minus ? 1 / kZoomPerKey : kZoomPerKey));
        break;
    default:
        QOpenGLWidget::keyPressEvent(event);
    }
}

} // namespace wendrix::app
