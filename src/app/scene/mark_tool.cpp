#include "scene/mark_tool.h"

#include "shell/theme.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QMouseEvent>

namespace wendrix::app {

using view::MarkKind;

namespace {

constexpr double kLeastDrag = 5;       // pixels: less is a click that trembled
constexpr double kEraseReach = 12;     // pixels
constexpr double kHandTremble = 0.002; // half-heights of the picture

} // namespace

void MarkTool::draw(MarkKind kind)
{
    putDown();
    doing_ = Doing::Drawing;
    kind_ = kind;
    emit changed();
}

void MarkTool::note()
{
    putDown();
    doing_ = Doing::Noting;
    emit changed();
}

void MarkTool::erase()
{
    putDown();
    doing_ = Doing::Erasing;
    emit changed();
}

void MarkTool::putDown()
{
    begun_.reset();
    if (field_ != nullptr)
        field_->deleteLater();
    field_ = nullptr;
    scene_.update();
}

std::size_t MarkTool::marksHere() const
{
    return static_cast<std::size_t>(
        std::count_if(scene_.marks().begin(), scene_.marks().end(),
                      [&](const view::Mark& m) { return view::isSameView(m.from, scene_.camera()); }));
}

void MarkTool::add(view::Mark mark)
{
    auto marks = scene_.marks();
    marks.push_back(std::move(mark));
    scene_.setMarks(std::move(marks));
    emit changed();
}

void MarkTool::takeBack()
{
    auto marks = scene_.marks();
    for (auto mark = marks.rbegin(); mark != marks.rend(); ++mark)
        if (view::isSameView(mark->from, scene_.camera())) {
            marks.erase(std::next(mark).base());
            scene_.setMarks(std::move(marks));
            emit changed();
            return;
        }
}

bool MarkTool::undo()
{
    if (marksHere() == 0)
        return false;
    takeBack();
    return true;
}

void MarkTool::clear()
{
    auto marks = scene_.marks();
    std::erase_if(marks, [&](const view::Mark& m) { return view::isSameView(m.from, scene_.camera()); });
    scene_.setMarks(std::move(marks));
    emit changed();
}

void MarkTool::toOtherMarks()
{
    // The first after those of this view, round and round.
    const auto& marks = scene_.marks();
    const auto isHere = [&](const view::Mark& m) { return view::isSameView(m.from, scene_.camera()); };
    const auto here = std::find_if(marks.rbegin(), marks.rend(), isHere).base();
    auto next = std::find_if_not(here, marks.end(), isHere);
    if (next == marks.end())
        next = std::find_if_not(marks.begin(), marks.end(), isHere);
    if (next == marks.end())
        return;
    scene_.setCamera(next->from, false);
    scene_.finishMotion();
    emit changed();
}

bool MarkTool::grab(QMouseEvent& event)
{
    if (doing_ != Doing::Drawing || kind_ == MarkKind::Text || event.modifiers() != Qt::NoModifier)
        return false;
    scene_.finishMotion();
    begun_ = view::Mark{kind_, {pictureAt(event.position()), pictureAt(event.position())}, {}, scene_.camera()};
    return true;
}

void MarkTool::drag(QMouseEvent& event)
{
    if (!begun_)
        return;
    if (begun_->kind == MarkKind::FreeLine)
        begun_->points.push_back(pictureAt(event.position()));
    else
        begun_->points[1] = pictureAt(event.position());
    scene_.update();
}

void MarkTool::drop(QMouseEvent& event)
{
    if (!begun_)
        return;
    drag(event);
    view::Mark mark = std::move(*begun_);
    begun_.reset();
    double reach = 0;
    for (const Point2 p : mark.points)
        reach = std::max(reach, length(p - mark.points.front()) * scene_.height() / 2);
    scene_.update();
    if (reach < kLeastDrag)
        return;
    if (mark.kind == MarkKind::FreeLine)
        mark.points = view::simplified(mark.points, kHandTremble);
    add(std::move(mark));
}

void MarkTool::beginText(QPointF at)
{
    putDown();
    scene_.finishMotion();
    auto* field = new QLineEdit(&scene_);
    field_ = field;
    field->setObjectName("markText");
    field->setPlaceholderText("Text; Enter sets it");
    field->setMaxLength(200);
    field->resize(220, 28);
    field->move(static_cast<int>(std::clamp(at.x(), 0.0, std::max(0.0, scene_.width() - 224.0))),
                static_cast<int>(std::clamp(at.y() - 14, 0.0, std::max(0.0, scene_.height() - 30.0))));
    const view::Mark begun{MarkKind::Text, {pictureAt(at)}, {}, scene_.camera()};
    connect(field, &QLineEdit::returnPressed, this, [this, field, begun] {
        view::Mark mark = begun;
        mark.words = field->text().trimmed().toStdString();
        putDown();
        scene_.setFocus();
        if (!mark.words.empty())
            add(std::move(mark));
    });
    field->show();
    field->setFocus();
}

bool MarkTool::click(QMouseEvent& event)
{
    switch (doing_) {
    case Doing::Drawing:
        if (kind_ == MarkKind::Text)
            beginText(event.position());
        return true;
    case Doing::Noting: {
        // Beside the model a note hangs in the air, as far off as what one turns about.
        const auto picked = scene_.pickAt(event.position());
        const view::Camera& camera = scene_.camera();
        const view::Ray ray = view::rayThrough(camera, scene_.viewport(), event.position().x(), event.position().y());
        emit notePlaced(picked ? picked->place
                               : ray.origin + dot(camera.target - ray.origin, camera.forward()) /
                                                  dot(ray.direction, camera.forward()) * ray.direction);
        return true;
    }
    case Doing::Erasing: {
        auto marks = scene_.marks();
        const Point2 at = pictureAt(event.position());
        auto nearest = marks.end();
        double least = kEraseReach * 2 / std::max(1, scene_.height());
        for (auto mark = marks.begin(); mark != marks.end(); ++mark)
            if (view::isSameView(mark->from, scene_.camera()))
                if (const double d = scene_.distanceToMark(*mark, at); d < least) {
                    least = d;
                    nearest = mark;
                }
        if (nearest == marks.end()) {
            emit said("There is no mark here; click on one of its lines.");
            return true;
        }
        marks.erase(nearest);
        scene_.setMarks(std::move(marks));
        emit changed();
        return true;
    }
    }
    return false;
}

bool MarkTool::key(QKeyEvent& event)
{
    if (event.key() == Qt::Key_Escape && (begun_ || field_ != nullptr)) {
        putDown();
        return true;
    }
    if (event.key() != Qt::Key_Delete)
        return false;
    takeBack();
    return true;
}

void MarkTool::paint(QPainter& painter)
{
    if (begun_)
        paintMarks(painter, scene_.viewport(), {*begun_});
}

QString MarkTool::hint() const
{
    switch (doing_) {
    case Doing::Noting:
        return "Click where the note stands, then write it on the right";
    case Doing::Erasing:
        return "Click a mark to take it away";
    case Doing::Drawing:
        break;
    }
    const QString how = kind_ == MarkKind::Text ? "Click where the text begins"
                                                : "Drag to draw; the right button moves the view, the wheel zooms";
    const std::size_t elsewhere = marksElsewhere();
    return elsewhere == 0 ? how + ". Views keeps it" : how + QString(". %1 drawn over another view").arg(elsewhere);
}

} // namespace wendrix::app
