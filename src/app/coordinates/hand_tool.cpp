#include "coordinates/hand_tool.h"

#include "scene/snap_sign.h"
#include "shell/long_text.h"
#include "shell/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <cmath>

namespace wendrix::app {

using coordinates::Held;

namespace {

constexpr double kReach = 11, kMarkRadius = 9, kStep = 8; // pixels
const QColor kMovingColour{0xC2, 0x3B, 0x72}, kReferenceColour{0x0E, 0x8C, 0x86};

HandTool::Kind kindOf(const Held& held)
{
    switch (held.kind) {
    case Held::Kind::Place:
        return HandTool::Kind::Places;
    case Held::Kind::Line:
        return held.hasHeight ? HandTool::Kind::Lines : HandTool::Kind::Axes;
    case Held::Kind::Face:
        return HandTool::Kind::Faces;
    }
    return HandTool::Kind::Places;
}

view::SnapKinds snapsFor(HandTool::Kind kind)
{
    using view::SnapKind;
    switch (kind) {
    case HandTool::Kind::Places:
        return view::snapKinds(SnapKind::Corner, SnapKind::Midpoint, SnapKind::CentreLine, SnapKind::Edge);
    case HandTool::Kind::Lines:
        return view::snapKinds(SnapKind::CentreLine, SnapKind::Edge);
    default:
        return view::snapKinds(SnapKind::Face);
    }
}

} // namespace

void HandTool::setSides(const std::string& moving, const std::string& reference)
{
    if (moving == moving_ && reference == reference_)
        return;
    moving_ = moving;
    reference_ = reference;
    putDown();
    if (!pairs_.empty())
        setPairs({});
}

void HandTool::setAxes(std::vector<Axis> axes) { axes_ = std::move(axes); }

void HandTool::setKind(Kind kind)
{
    kind_ = kind;
    putDown();
}

void HandTool::setPairs(std::vector<coordinates::HandPair> pairs)
{
    pairs_ = std::move(pairs);
    scene_.update();
    emit pairsChanged();
}

void HandTool::add(const coordinates::HandPair& pair)
{
    pairs_.push_back(pair);
    scene_.update();
    emit pairsChanged();
}

void HandTool::removeLast()
{
    if (first_) {
        first_.reset();
        emit hintChanged();
    } else if (!pairs_.empty()) {
        pairs_.pop_back();
        emit pairsChanged();
    }
    scene_.update();
}

void HandTool::putDown()
{
    first_.reset();
    under_.reset();
    grabbed_.reset();
    cross_.reset();
    scene_.update();
    emit hintChanged();
}

const federation::Member* HandTool::member(bool isReference) const
{
    const std::string& wanted = isReference ? reference_ : moving_;
    for (const federation::Member& m : scene_.members())
        if (m.discipline == wanted)
            return &m;
    return nullptr;
}

std::optional<HandTool::Under> HandTool::axisUnder(QPointF at, bool isReference) const
{
    const Axis* best = nullptr;
    double nearest = kReach;
    for (const Axis& axis : axes_) {
        const auto a = view::project(scene_.camera(), scene_.viewport(), axis.line.start),
                   b = view::project(scene_.camera(), scene_.viewport(), axis.line.end);
        if (axis.isReference != isReference || axis.line.tag.empty() || !a.isInFront || !b.isInFront)
            continue;
        const QPointF p(a.x, a.y), d(b.x - a.x, b.y - a.y), w = at - p;
        const double length2 = QPointF::dotProduct(d, d);
        const double t = length2 > 0 ? std::clamp(QPointF::dotProduct(w, d) / length2, 0.0, 1.0) : 0;
        const QPointF off = w - t * d;
        if (const double distance = std::hypot(off.x(), off.y()); distance < nearest) {
            nearest = distance;
            best = &axis;
        }
    }
    const federation::Member* of = member(isReference);
    if (best == nullptr || of == nullptr)
        return {};
    // The same axis from the model, so that it is as exact as the file.
    auto held = coordinates::heldByName(*of->model, best->line.tag);
    if (!held || held->kind != Held::Kind::Line)
        return {};
    return Under{std::move(*held), view::SnapKind::CentreLine, {best->line.start, best->line.end}};
}

std::optional<HandTool::Under> HandTool::under(QPointF at, bool isReference, Kind kind)
{
    if (kind == Kind::Axes)
        return axisUnder(at, isReference);
    const federation::Member* side = member(isReference);
    if (side == nullptr)
        return {};
    const auto snap = scene_.snapAt(at, snapsFor(kind), [&](const federation::Member& m) {
        return m.discipline == side->discipline && m.revision == side->revision;
    });
    if (!snap)
        return {};
    const federation::Member& of = scene_.members()[snap->picked.element.member];
    const Transform back = of.fit.transform().inverse();
    Under under;
    under.sign = snap->kind;
    under.line = snap->line;
    Held& held = under.held;
    held.place = back.apply(snap->picked.place);
    held.name =
        view::inWords(snap->kind) + " of " + of.model->displayName(of.model->elements()[snap->picked.element.element]);
    if (kind == Kind::Lines) {
        if (snap->line.size() != 2)
            return {};
        const Point3 a = back.apply(snap->line[0]), b = back.apply(snap->line[1]);
        held.kind = Held::Kind::Line;
        held.place = 0.5 * (a + b);
        held.direction = normalised(b - a);
        held.length = std::hypot(b.x - a.x, b.y - a.y);
    } else if (kind == Kind::Faces) {
        held.kind = Held::Kind::Face;
        held.direction = normalised(back.turn(snap->picked.normal));
        const Box3 box = of.geometry->elements()[snap->picked.element.element].bounds;
        held.length = std::hypot(box.size().x, box.size().y);
    }
    return under;
}

void HandTool::take(QPointF at)
{
    const bool isReference = first_.has_value();
    auto found = under(at, isReference, kind_);
    if (!found)
        return;
    if (!isReference) {
        first_ = std::move(found->held);
        scene_.update();
        emit hintChanged();
        return;
    }
    const coordinates::HandPair pair{*first_, std::move(found->held)};
    first_.reset();
    emit hintChanged();
    add(pair);
}

bool HandTool::click(QMouseEvent& event)
{
    cross_.reset();
    take(event.position());
    return true; // beside the model nothing is taken, and nothing is deselected
}

std::optional<HandTool::Grabbed> HandTool::markAt(QPointF at) const
{
    for (std::size_t i = pairs_.size(); i-- > 0;)
        for (const bool isReference : {false, true}) {
            const Held& held = isReference ? pairs_[i].reference : pairs_[i].moving;
            const QPointF off = pixelOf(held, isReference) - at;
            if (std::hypot(off.x(), off.y()) <= kMarkRadius)
                return Grabbed{i, isReference};
        }
    return {};
}

bool HandTool::grab(QMouseEvent& event)
{
    if (!first_) // the next click may well be beside a mark
        grabbed_ = markAt(event.position());
    return grabbed_.has_value();
}

void HandTool::drag(QMouseEvent& event)
{
    const Held& held = grabbed_->isReference ? pairs_[grabbed_->pair].reference : pairs_[grabbed_->pair].moving;
    under_ = under(event.position(), grabbed_->isReference, kindOf(held));
    scene_.update();
}

void HandTool::drop(QMouseEvent& event)
{
    const Grabbed grabbed = *grabbed_;
    grabbed_.reset();
    coordinates::HandPair& pair = pairs_[grabbed.pair];
    Held& held = grabbed.isReference ? pair.reference : pair.moving;
    // A click on a mark that was not dragged leaves it where it is.
    const QPointF off = pixelOf(held, grabbed.isReference) - event.position();
    auto found = under(event.position(), grabbed.isReference, kindOf(held));
    under_.reset();
    scene_.update();
    if (!found || std::hypot(off.x(), off.y()) <= kMarkRadius)
        return;
    held = std::move(found->held);
    emit pairsChanged();
}

void HandTool::hover(QMouseEvent& event)
{
    cross_.reset();
    under_ = under(event.position(), first_.has_value(), kind_);
    scene_.update();
}

void HandTool::moveCross(QPointF by)
{
    cross_ = QPointF(std::clamp(cross_->x() + by.x(), 0.0, scene_.width() - 1.0),
                     std::clamp(cross_->y() + by.y(), 0.0, scene_.height() - 1.0));
    under_ = under(*cross_, first_.has_value(), kind_);
    scene_.update();
}

bool HandTool::key(QKeyEvent& event)
{
    const double step = (event.modifiers() & Qt::ShiftModifier) != 0 ? 1 : kStep;
    switch (event.key()) {
    case Qt::Key_Space:
        if (cross_)
            cross_.reset();
        else
            cross_ = QPointF(scene_.width() / 2.0, scene_.height() / 2.0);
        if (cross_)
            moveCross({});
        emit hintChanged();
        scene_.update();
        return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (!cross_)
            return false;
        take(*cross_);
        return true;
    case Qt::Key_Left:
    case Qt::Key_Right:
    case Qt::Key_Up:
    case Qt::Key_Down:
        if (!cross_)
            return false;
        moveCross({event.key() == Qt::Key_Left    ? -step
                   : event.key() == Qt::Key_Right ? step
                                                  : 0,
                   event.key() == Qt::Key_Up     ? -step
                   : event.key() == Qt::Key_Down ? step
                                                 : 0});
        return true;
    case Qt::Key_Escape:
        if (!first_ && !cross_)
            return false;
        putDown();
        return true;
    case Qt::Key_Delete:
        removeLast();
        return true;
    default:
        return false;
    }
}

bool HandTool::undo()
{
    if (!first_ && pairs_.empty())
        return false;
    removeLast();
    return true;
}

QPointF HandTool::pixelOf(const Held& held, bool isReference) const
{
    const federation::Member* of = member(isReference);
    if (of == nullptr)
        return {-1e6, -1e6};
    Point3 place = of->fit.transform().apply(held.place);
    if (!held.hasHeight) // at the height where the grid is drawn
        for (const Axis& axis : axes_)
            if (axis.isReference == isReference)
                place.z = axis.line.start.z;
    const auto s = view::project(scene_.camera(), scene_.viewport(), place);
    return s.isInFront ? QPointF(s.x, s.y) : QPointF(-1e6, -1e6);
}

void HandTool::paintMark(QPainter& painter, QPointF at, const QString& words, bool isReference) const
{
    const QColor colour = isReference ? kReferenceColour : kMovingColour;
    painter.setPen(QPen(colour, 2));
    painter.setBrush(isReference ? colour : theme::kPanel);
    const QRectF box(at.x() - kMarkRadius, at.y() - kMarkRadius, 2 * kMarkRadius, 2 * kMarkRadius);
    // The member's round, the reference's square: told apart without the colour.
    isReference ? painter.drawRect(box) : painter.drawEllipse(box);
    painter.setPen(isReference ? QColor(Qt::white) : theme::kInk);
    painter.drawText(box, Qt::AlignCenter, words);
}

void HandTool::paint(QPainter& painter)
{
    painter.setFont(theme::font(11, 700));
    for (std::size_t i = 0; i < pairs_.size(); ++i) {
        const QPointF a = pixelOf(pairs_[i].moving, false), b = pixelOf(pairs_[i].reference, true);
        if (a.x() > -1e5 && b.x() > -1e5) {
            painter.setPen(QPen(theme::kInk, 1.2, Qt::DashLine));
            painter.drawLine(a, b);
        }
        // Where one lies on the other both are seen, side by side.
        const bool isOver = std::hypot(a.x() - b.x(), a.y() - b.y()) < 2 * kMarkRadius;
        paintMark(painter, b + (isOver ? QPointF(kMarkRadius, 0) : QPointF()), QString::number(i + 1), true);
        paintMark(painter, a - (isOver ? QPointF(kMarkRadius, 0) : QPointF()), QString::number(i + 1), false);
    }
    if (first_)
        paintMark(painter, pixelOf(*first_, false), QString::number(pairs_.size() + 1), false);
    if (cross_) {
        painter.setPen(QPen(theme::kInk, 1));
        painter.drawLine(*cross_ - QPointF(16, 0), *cross_ + QPointF(16, 0));
        painter.drawLine(*cross_ - QPointF(0, 16), *cross_ + QPointF(0, 16));
    }
    if (!under_)
        return;
    const auto at = [&](Point3 p) {
        const auto s = view::project(scene_.camera(), scene_.viewport(), p);
        return QPointF(s.x, s.y);
    };
    const bool isReference = grabbed_ ? grabbed_->isReference : first_.has_value();
    if (under_->line.size() == 2) {
        painter.setPen(QPen(isReference ? kReferenceColour : kMovingColour, 2.4));
        painter.drawLine(at(under_->line[0]), at(under_->line[1]));
    }
    const QPointF sign = under_->held.kind == Held::Kind::Line && under_->line.size() == 2
                             ? (at(under_->line[0]) + at(under_->line[1])) / 2
                             : pixelOf(under_->held, isReference);
    paintSnap(painter, sign, under_->sign);
    painter.setFont(theme::font(11, 600));
    const QString words = endsOf(QString::fromStdString(under_->held.name), 60);
    QRectF box(0, 0, QFontMetrics(painter.font()).horizontalAdvance(words) + 10, 18);
    box.moveTopLeft(sign + QPointF(10, 8));
    box.moveLeft(std::max(0.0, std::min(box.left(), scene_.width() - box.width() - 4)));
    painter.setPen(QPen(theme::kLine, 1));
    painter.setBrush(theme::kPanel);
    painter.drawRoundedRect(box, 3, 3);
    painter.setPen(theme::kInk);
    painter.drawText(box, Qt::AlignCenter, words);
}

QString HandTool::hint() const
{
    static const char* const kThings[] = {"corner or edge", "grid axis", "edge or centre line", "face"};
    const QString thing = kThings[static_cast<int>(kind_)];
    const QString where = QString::fromStdString(first_ ? reference_ : moving_);
    return (first_ ? "Now the " + thing + " of " + where + " that it lies on"
                   : "Take hold of a " + thing + " of " + where) +
           (cross_ ? " · arrows move the cross, Enter takes hold" : " · Space: with the keyboard");
}

} // namespace wendrix::app
