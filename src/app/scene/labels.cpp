#include "scene/labels.h"

#include "shell/theme.h"

#include <QPainter>

#include <algorithm>
#include <cmath>
#include <map>

namespace wendrix::app {

namespace {

constexpr double kSignRadius = 10, kRaised = 34; // pixels

void paintArrow(QPainter& painter, const view::Camera& camera, view::Viewport viewport, const view::Arrow& arrow)
{
    const auto a = view::project(camera, viewport, arrow.from), b = view::project(camera, viewport, arrow.to);
    if (!a.isInFront || !b.isInFront)
        return;
    const QPointF from(a.x, a.y), to(b.x, b.y);
    const double l = std::hypot(to.x() - from.x(), to.y() - from.y());
    const QColor colour = toQColor(arrow.colour);
    const QString words = QString::fromStdString(arrow.words);
    painter.setPen(QPen(colour, 2.4, Qt::SolidLine, Qt::RoundCap));
    painter.drawLine(from, to);
    if (l > 6) {
        const QPointF u = (to - from) / l, n(-u.y(), u.x());
        painter.drawLine(to, to - 9 * u + 5 * n);
        painter.drawLine(to, to - 9 * u - 5 * n);
    }
    if (words.isEmpty())
        return;
    painter.setFont(theme::font(12, 700));
    const QRectF box = QRectF(QFontMetrics(painter.font()).boundingRect(words)).adjusted(-6, -3, 6, 3);
    QRectF at(QPointF(to.x() + 12, to.y() - box.height() / 2), box.size());
    if (to.x() < from.x() - 4) // beyond the tip, not on what it comes from
        at.moveRight(to.x() - 12);
    if (at.right() > viewport.width - 4) // on the other side of the tip, and never out of sight
        at.moveRight(std::max(to.x() - 12, box.width() + 4));
    painter.setPen(QPen(colour, 1));
    painter.setBrush(theme::kPanel);
    painter.drawRoundedRect(at, 4, 4);
    painter.setPen(colour.darker(120));
    painter.drawText(at, Qt::AlignCenter, words);
}

} // namespace

std::vector<Sign> signsOf(const view::Camera& camera, view::Viewport viewport, const std::vector<view::Marker>& markers)
{
    std::vector<Sign> signs;
    // By the square it stands in, as wide as a disc: what could hide it stands in one of the nine around.
    std::map<std::pair<int, int>, std::vector<std::size_t>> squares;
    for (const view::Marker& m : markers) {
        const auto s = view::project(camera, viewport, m.place);
        if (!s.isInFront || s.x < -kSignRadius || s.y < -kSignRadius || s.x > viewport.width + kSignRadius ||
            s.y > viewport.height + kSignRadius)
            continue;
        if (m.isSmall) {
            signs.push_back({&m, {s.x, s.y}, 0});
            continue;
        }
        const int column = static_cast<int>(std::floor(s.x / (2 * kSignRadius))),
                  row = static_cast<int>(std::floor(s.y / (2 * kSignRadius)));
        Sign* first = nullptr;
        for (int i = -1; i <= 1; ++i)
            for (int j = -1; j <= 1; ++j)
                if (const auto square = squares.find({column + i, row + j}); square != squares.end())
                    for (const std::size_t other : square->second)
                        if (std::hypot(signs[other].at.x() - s.x, signs[other].at.y() - s.y) < 1.5 * kSignRadius &&
                            (first == nullptr || &signs[other] < first))
                            first = &signs[other];
        if (first != nullptr) {
            ++first->more;
            continue;
        }
        squares[{column, row}].push_back(signs.size());
        signs.push_back({&m, {s.x, s.y}, 0});
    }
    return signs;
}

void paintLabels(QPainter& painter, const view::Camera& camera, view::Viewport viewport,
                 const std::vector<view::GridLine>& grid, const std::vector<view::Arrow>& arrows,
                 const std::vector<view::Marker>& markers)
{
    painter.setFont(theme::font(11, 600));
    std::vector<QPointF> taken;
    for (const view::GridLine& line : grid) {
        if (line.tag.empty())
            continue;
        // At the nearer end: the other one usually lies behind the building.
        const auto a = view::project(camera, viewport, line.start), b = view::project(camera, viewport, line.end);
        const auto& s = a.isInFront && (!b.isInFront || a.depth < b.depth) ? a : b;
        // From far off bubbles would pile up: one that has no room is left out.
        const auto isInTheWay = [&](QPointF at) { return std::hypot(at.x() - s.x, at.y() - s.y) < 21; };
        if (!s.isInFront || std::any_of(taken.begin(), taken.end(), isInTheWay))
            continue;
        taken.emplace_back(s.x, s.y);
        painter.setPen(QPen(theme::kSoftInk, 1.2));
        painter.setBrush(QColor(255, 255, 255, 235));
        painter.drawEllipse(QPointF(s.x, s.y), 10, 10);
        painter.setPen(theme::kInk);
        painter.drawText(QRectF(s.x - 12, s.y - 10, 24, 20), Qt::AlignCenter, QString::fromStdString(line.tag));
    }
    for (const view::Arrow& arrow : arrows)
        paintArrow(painter, camera, viewport, arrow);
    for (const Sign& sign : signsOf(camera, viewport, markers)) {
        const view::Marker& m = *sign.marker;
        painter.setPen(QPen(toQColor(m.ink), m.isSmall ? 2 : 1.4));
        painter.setBrush(toQColor(m.fill));
        if (m.isSmall) {
            painter.drawEllipse(sign.at, 4, 4);
            continue;
        }
        painter.setFont(theme::font(11, 700));
        const QString words = sign.more > 0 ? QString::fromStdString(m.text) + " +" + QString::number(sign.more)
                                            : QString::fromStdString(m.text);
        const double half =
            words.size() < 3 ? kSignRadius
                             : std::max(kSignRadius, 0.5 * QFontMetrics(painter.font()).horizontalAdvance(words) + 6);
        const double raised = m.isRaised ? kRaised : 0;
        if (m.isRaised)
            painter.drawLine(sign.at, sign.at - QPointF(0, raised - kSignRadius));
        const QRectF box(sign.at.x() - half, sign.at.y() - kSignRadius - raised, 2 * half, 2 * kSignRadius);
        painter.drawRoundedRect(box, kSignRadius, kSignRadius);
        painter.setPen(toQColor(m.ink));
        painter.drawText(box, Qt::AlignCenter, words);
    }
}

void paintNames(QPainter& painter, const view::Camera& camera, view::Viewport viewport,
                const std::vector<view::Marker>& names)
{
    std::vector<std::pair<double, const view::Marker*>> order;
    for (const view::Marker& name : names)
        if (const auto s = view::project(camera, viewport, name.place); s.isInFront)
            order.emplace_back(s.depth, &name);
    std::sort(order.begin(), order.end());
    painter.setFont(theme::font(11, 600));
    std::vector<QRectF> taken;
    for (const auto& [depth, name] : order) {
        const auto s = view::project(camera, viewport, name->place);
        const QRectF box = QRectF(QFontMetrics(painter.font()).boundingRect(QString::fromStdString(name->text)))
                               .adjusted(-4, -2, 4, 2);
        const QRectF at(QPointF(s.x - box.width() / 2, s.y - box.height() / 2), box.size());
        if (std::any_of(taken.begin(), taken.end(), [&](const QRectF& r) { return r.intersects(at); }))
            continue;
        taken.push_back(at);
        painter.setPen(Qt::NoPen);
        painter.setBrush(QColor(255, 255, 255, 170));
        painter.drawRoundedRect(at, 3, 3);
        painter.setPen(theme::kSoftInk);
        painter.drawText(at, Qt::AlignCenter, QString::fromStdString(name->text));
    }
}

QRectF textBoxOf(view::Viewport viewport, const view::Mark& mark)
{
    const Point2 at = view::toPixel(viewport, mark.points.front());
    const QFontMetrics metrics(theme::font(14, 700));
    return {at.x, at.y - 0.5 * metrics.height() - 3,
            metrics.horizontalAdvance(QString::fromStdString(mark.words)) + 14.0, metrics.height() + 6.0};
}

void paintMarks(QPainter& painter, view::Viewport viewport, const std::vector<view::Mark>& marks)
{
    for (const view::Mark& mark : marks) {
        if (mark.points.empty())
            continue;
        if (mark.kind == view::MarkKind::Text) {
            const QRectF box = textBoxOf(viewport, mark);
            painter.setPen(Qt::NoPen);
            painter.setBrush(QColor(255, 255, 255, 225));
            painter.drawRoundedRect(box, 3, 3);
            painter.setPen(theme::kAction);
            painter.setFont(theme::font(14, 700));
            painter.drawText(box, Qt::AlignCenter, QString::fromStdString(mark.words));
            continue;
        }
        painter.setBrush(Qt::NoBrush);
        std::vector<QPolygonF> lines;
        for (const auto& stroke : view::strokesOf(mark)) {
            QPolygonF line;
            for (const Point2 p : stroke) {
                const Point2 at = view::toPixel(viewport, p);
                line << QPointF(at.x, at.y);
            }
            lines.push_back(std::move(line));
        }
        for (const QPen& pen : {QPen(QColor(255, 255, 255, 190), 5.5, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin),
                                QPen(theme::kAction, 2.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin)}) {
            painter.setPen(pen);
            for (const QPolygonF& line : lines)
                painter.drawPolyline(line);
        }
    }
}

} // namespace wendrix::app
