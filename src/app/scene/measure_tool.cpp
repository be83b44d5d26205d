#include "scene/measure_tool.h"

#include "scene/snap_sign.h"
#include "shell/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <cmath>

namespace wendrix::app {

using view::MeasureKind;

namespace {

std::size_t placesFor(MeasureKind kind)
{
    switch (kind) {
    case MeasureKind::Distance:
    case MeasureKind::Perpendicular:
    case MeasureKind::Shortest:
        return 2;
    case MeasureKind::Angle:
        return 3;
    default:
        return 1;
    }
}

} // namespace

void MeasureTool::setKind(MeasureKind kind)
{
    kind_ = kind;
    held_.clear();
    scene_.update();
}

void MeasureTool::setResults(std::vector<view::Measurement> results)
{
    results_ = std::move(results);
    held_.clear();
    scene_.update();
    emit resultsChanged();
}

void MeasureTool::removeLast()
{
    if (!held_.empty())
        held_.pop_back();
    else if (!results_.empty())
        results_.pop_back();
    scene_.update();
    emit resultsChanged();
}

bool MeasureTool::click(QMouseEvent& event)
{
    if (const auto snap = scene_.snapAt(event.position()))
        take(*snap);
    return true; // beside the model nothing is measured, and nothing is deselected
}

void MeasureTool::take(const view::Snap& snap)
{
    held_.push_back(snap);
    scene_.update();
    if (held_.size() < placesFor(kind_)) {
        emit resultsChanged();
        return;
    }
    const std::vector<view::Snap> held = std::move(held_);
    held_.clear();
    const view::Picked& first = held.front().picked;
    Result<view::Measurement> made = view::Measurement{};
    switch (kind_) {
    case MeasureKind::Distance:
        made = view::distanceBetween(first.place, held[1].picked.place);
        break;
    case MeasureKind::Perpendicular:
        made = view::perpendicular(first.place, held[1].picked.place, held[1].picked.normal);
        break;
    case MeasureKind::Shortest:
        made = view::shortestBetween(scene_.members(), first.element, held[1].picked.element);
        break;
    case MeasureKind::Opening:
        made = view::openingAt(scene_.members(), first);
        break;
    case MeasureKind::Angle:
        made = view::angleAt(first.place, held[1].picked.place, held[2].picked.place);
        break;
    case MeasureKind::Area:
        made = view::areaOf(scene_.members(), first);
        break;
    case MeasureKind::Elevation:
        made = view::elevationOf(first.place, scene_.georeference());
        break;
    }
    if (!made) {
        emit said(QString::fromStdString(made.error().message));
        return;
    }
    results_.push_back(*made);
    emit resultsChanged();
}

void MeasureTool::hover(QMouseEvent& event)
{
    under_ = scene_.snapAt(event.position());
    scene_.update();
}

bool MeasureTool::key(QKeyEvent& event)
{
    if ((event.key() != Qt::Key_Escape || held_.empty()) && event.key() != Qt::Key_Delete)
        return false;
    removeLast();
    return true;
}

QString MeasureTool::hint() const
{
    const bool isFirst = held_.empty();
    switch (kind_) {
    case MeasureKind::Distance:
        return isFirst ? "Take hold of the first place" : "Take hold of the second place";
    case MeasureKind::Perpendicular:
        return isFirst ? "Take hold of a place" : "Click the face to measure onto";
    case MeasureKind::Shortest:
        return isFirst ? "Click the first element" : "Click the second element";
    case MeasureKind::Opening:
        return "Click the wall's or slab's face beside its opening";
    case MeasureKind::Angle:
        return isFirst             ? "Take hold of a place on the first side"
               : held_.size() == 1 ? "Take hold of the corner"
                                   : "Take hold of a place on the second side";
    case MeasureKind::Area:
        return "Click a flat face";
    case MeasureKind::Elevation:
        return "Take hold of a place";
    }
    return {};
}

void MeasureTool::paintMeasurement(QPainter& painter, const view::Measurement& m, std::vector<QRectF>& taken) const
{
    QPolygonF points;
    for (const Point3 p : m.places) {
        const auto s = view::project(scene_.camera(), scene_.viewport(), p);
        if (!s.isInFront)
            return;
        points << QPointF(s.x, s.y);
    }
    if (points.isEmpty())
        return;
    painter.setPen(QPen(theme::kAction, 2));
    painter.setBrush(QColor(0xC8, 0x50, 0x1E, 26));
    const bool isClosed = m.kind == MeasureKind::Area || m.kind == MeasureKind::Opening;
    if (isClosed)
        painter.drawPolygon(points);
    else
        painter.drawPolyline(points);
    painter.setBrush(theme::kPanel);
    for (const QPointF& p : points)
        painter.drawEllipse(p, 3, 3);
    QPointF middle;
    for (const QPointF& p : points)
        middle += p / points.size();
    if (m.kind == MeasureKind::Angle)
        middle = points[1];
    painter.setFont(theme::font(13, 700));
    const QString words = QString::fromStdString(m.value);
    QRectF box(0, 0, QFontMetrics(painter.font()).horizontalAdvance(words) + 12, 22);
    box.moveCenter(middle + QPointF(0, -16));
    // Labels make room for each other and stay in the window.
    for (int tries = 0; tries < 12; ++tries) {
        box.moveLeft(std::clamp(box.left(), 4.0, std::max(4.0, scene_.width() - box.width() - 4)));
        const auto other = std::find_if(taken.begin(), taken.end(), [&](const QRectF& r) { return r.intersects(box); });
        if (other == taken.end())
            break;
        box.moveTop(other->bottom() + 2);
    }
    box.moveTop(std::clamp(box.top(), 4.0, std::max(4.0, scene_.height() - box.height() - 4)));
    taken.push_back(box);
    painter.setPen(QPen(theme::kAction, 1));
    painter.setBrush(theme::kPanel);
    painter.drawRoundedRect(box, 4, 4);
    painter.setPen(theme::kInk);
    painter.drawText(box, Qt::AlignCenter, words);
}

void MeasureTool::paint(QPainter& painter)
{
    std::vector<QRectF> taken;
    for (const view::Measurement& m : results_)
        paintMeasurement(painter, m, taken);
    const auto at = [&](Point3 p) {
        const auto s = view::project(scene_.camera(), scene_.viewport(), p);
        return QPointF(s.x, s.y);
    };
    for (const view::Snap& snap : held_)
        paintSnap(painter, at(snap.picked.place), snap.kind);
    if (!under_)
        return;
    if (under_->line.size() == 2) {
        painter.setPen(QPen(theme::kAction, 1.2, Qt::DashLine));
        painter.drawLine(at(under_->line[0]), at(under_->line[1]));
    }
    const QPointF p = at(under_->picked.place);
    if (!held_.empty() && placesFor(kind_) > held_.size()) {
        painter.setPen(QPen(theme::kAction, 1.2, Qt::DotLine));
        painter.drawLine(at(held_.back().picked.place), p);
    }
    paintSnap(painter, p, under_->kind);
    painter.setFont(theme::font(11, 600));
    painter.setPen(theme::kInk);
    painter.drawText(p + QPointF(10, 16), QString::fromStdString(view::inWords(under_->kind)));
}

} // namespace wendrix::app
