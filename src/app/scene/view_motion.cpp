#include "scene/view_motion.h"

namespace wendrix::app {

namespace {

constexpr std::size_t kMostViews = 50;
constexpr int kMoveMilliseconds = 200;
constexpr int kRestMilliseconds = 180;

} // namespace

ViewMotion::ViewMotion(QObject* parent) : QObject(parent)
{
    animation_.setDuration(kMoveMilliseconds);
    animation_.setStartValue(0.0);
    animation_.setEndValue(1.0);
    rest_.setSingleShot(true);
    rest_.setInterval(kRestMilliseconds);
    connect(&rest_, &QTimer::timeout, this, [this] {
        isMoving_ = false;
        emit rested();
    });
}

void ViewMotion::put(const view::Camera& camera)
{
    camera_ = camera;
    isMoving_ = true;
    rest_.start();
    emit moved();
}

view::Camera ViewMotion::whereItGoes() const
{
    return animation_.state() == QAbstractAnimation::Running ? goal_ : camera_;
}

void ViewMotion::go(const view::Camera& camera, bool isSmooth)
{
    animation_.stop();
    animation_.disconnect(this);
    remember();
    goal_ = camera;
    if (!isSmooth) {
        put(camera);
        return;
    }
    connect(&animation_, &QVariantAnimation::valueChanged, this,
            [this, from = camera_](const QVariant& t) { put(view::between(from, goal_, t.toDouble())); });
    put(camera_); // it is on its way from now on: the first picture of it need not be whole
    animation_.start();
}

void ViewMotion::steer(const view::Camera& camera)
{
    animation_.stop();
    put(camera);
}

void ViewMotion::remember()
{
    before_.push_back(camera_);
    if (before_.size() > kMostViews)
        before_.pop_front();
}

void ViewMotion::back()
{
    if (before_.empty())
        return;
    const view::Camera camera = before_.back();
    before_.pop_back();
    steer(camera);
}

void ViewMotion::finish()
{
    if (animation_.state() == QAbstractAnimation::Running) {
        animation_.stop();
        camera_ = goal_;
    }
    rest_.stop();
    isMoving_ = false;
    emit moved();
    emit rested();
}

} // namespace wendrix::app
