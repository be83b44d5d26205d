#include "changes/side_by_side.h"

#include <QEvent>
#include <QLabel>

#include <algorithm>

namespace wendrix::app {

SideBySide::SideBySide(SceneView& scene, QWidget* parent)
    : scene_(scene), view_(new SceneView(parent)), before_(new QLabel(view_)), after_(new QLabel(&scene)),
      leader_(&scene)
{
    view_->setObjectName("sceneBefore");
    view_->setAccessibleName("What was");
    for (QLabel* label : {before_, after_}) {
        label->setObjectName(label == before_ ? "captionBefore" : "captionAfter");
        label->setStyleSheet("background:#FFFFFF; border:1px solid #DAD4C6; border-radius:4px; padding:3px 8px");
        label->move(10, 52); // below the strip of tools
    }
    for (QWidget* level : view_->findChildren<QWidget*>("compass"))
        level->hide(); // one is enough for both
    for (SceneView* one : {&scene_, view_})
        one->installEventFilter(this);
    // A frame is shown only after the camera was turned, so this follows motion without asking for more frames.
    connect(&scene_, &QOpenGLWidget::frameSwapped, this, [this] { follow(scene_, *view_); });
    connect(view_, &QOpenGLWidget::frameSwapped, this, [this] { follow(*view_, scene_); });
}

void SideBySide::end() { after_->hide(); }

void SideBySide::show(view::Subject subject, const QString& before, const QString& after)
{
    for (const auto& [label, words] : {std::pair(before_, before), std::pair(after_, after)}) {
        label->setText(words);
        label->adjustSize();
        label->show();
    }
    if (view_->members().size() != scene_.members().size() ||
        !std::equal(scene_.members().begin(), scene_.members().end(), view_->members().begin(),
                    [](const auto& a, const auto& b) { return a.geometry == b.geometry && a.fit == b.fit; }))
        view_->setMembers(scene_.members(), scene_.looks());
    leader_ = &scene_;
    view_->setCuts(scene_.cuts());
    view_->change([&](view::Scene& scene) { scene.show(std::move(subject)); });
    view_->steer(scene_.camera());
}

void SideBySide::follow(SceneView& leader, SceneView& follower)
{
    if (leader_ == &leader && view_->isVisible() && !(leader.camera() == follower.camera()))
        follower.steer(leader.camera());
}

bool SideBySide::eventFilter(QObject* watched, QEvent* event)
{
    switch (event->type()) {
    case QEvent::MouseButtonPress:
    case QEvent::Wheel:
    case QEvent::NativeGesture:
    case QEvent::KeyPress:
        leader_ = static_cast<SceneView*>(watched);
        break;
    default:
        break;
    }
    return QObject::eventFilter(watched, event);
}

} // namespace wendrix::app
