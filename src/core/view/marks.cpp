#include "core/view/marks.h"

#include <cmath>

namespace wendrix::view {

namespace {

constexpr double kBow = 0.045; // half-heights: about what a hand draws
constexpr double kArrowHead = 0.05;
constexpr double kArrowHalfAngle = 0.42; // radians
constexpr int kEllipseSteps = 72, kBowSteps = 8;

double distanceToSegment(Point2 p, Point2 a, Point2 b)
{
    const Vector2 d = b - a;
    const double square = dot(d, d);
    const double t = square > 0 ? std::clamp(dot(p - a, d) / square, 0.0, 1.0) : 0.0;
    return length(p - (a + t * d));
}

std::vector<Point2> rectangle(Point2 a, Point2 b) { return {a, {b.x, a.y}, b, {a.x, b.y}, a}; }

std::vector<Point2> ellipse(Point2 a, Point2 b)
{
    const Point2 middle = 0.5 * (a + b);
    const Vector2 half = 0.5 * (b - a);
    std::vector<Point2> line;
    for (int i = 0; i <= kEllipseSteps; ++i) {
        const double t = 2 * M_PI * (i % kEllipseSteps) / kEllipseSteps;
        line.push_back({middle.x + half.x * std::cos(t), middle.y + half.y * std::sin(t)});
    }
    return line;
}

/// Half circles outward along the sides of a rectangle.
std::vector<Point2> cloud(Point2 a, Point2 b)
{
    const Point2 low{std::min(a.x, b.x), std::min(a.y, b.y)}, high{std::max(a.x, b.x), std::max(a.y, b.y)};
    const Point2 corners[] = {low, {high.x, low.y}, high, {low.x, high.y}, low};
    std::vector<Point2> line{low};
    for (int side = 0; side < 4; ++side) {
        const Vector2 along = corners[side + 1] - corners[side];
        const double whole = length(along);
        if (!(whole > 0))
            continue;
        const Vector2 direction = (1 / whole) * along, outward{direction.y, -direction.x};
        const int bows = std::max(1, static_cast<int>(std::lround(whole / (2 * kBow))));
        const double radius = whole / (2 * bows);
        for (int bow = 0; bow < bows; ++bow) {
            const Point2 middle = corners[side] + (radius * (2 * bow + 1)) * direction;
            for (int i = 1; i <= kBowSteps; ++i) {
                const double t = M_PI * i / kBowSteps;
                line.push_back(middle + (-radius * std::cos(t)) * direction + (radius * std::sin(t)) * outward);
            }
        }
    }
    line.back() = low;
    return line;
}

std::vector<Point2> arrowHead(Point2 from, Point2 to)
{
    const Vector2 along = to - from;
    const double whole = length(along);
    if (!(whole > 0))
        return {to};
    const double size = std::min(kArrowHead, 0.5 * whole);
    const Vector2 back = (-size / whole) * along;
    const double c = std::cos(kArrowHalfAngle), s = std::sin(kArrowHalfAngle);
    return {to + Vector2{c * back.x - s * back.y, s * back.x + c * back.y}, to,
            to + Vector2{c * back.x + s * back.y, -s * back.x + c * back.y}};
}

} // namespace

std::string inWords(MarkKind kind)
{
    switch (kind) {
    case MarkKind::Cloud:
        return "cloud";
    case MarkKind::Ellipse:
        return "ellipse";
    case MarkKind::Rectangle:
        return "rectangle";
    case MarkKind::Line:
        return "line";
    case MarkKind::Arrow:
        return "arrow";
    case MarkKind::FreeLine:
        return "free line";
    case MarkKind::Text:
        return "text";
    }
    return {};
}

Point2 toPicture(Viewport v, double x, double y)
{
    const double half = 0.5 * v.height;
    return {(x - 0.5 * v.width) / half, (half - y) / half};
}

Point2 toPixel(Viewport v, Point2 p)
{
    const double half = 0.5 * v.height;
    return {0.5 * v.width + p.x * half, half - p.y * half};
}

bool isSameView(const Camera& a, const Camera& b)
{
    // A thousandth of what lies between eye and target: less than a pixel.
    const double near = 1e-3 * std::max(1e-3, length(a.target - a.eye));
    return a.isParallel == b.isParallel && std::abs(a.fieldOfView - b.fieldOfView) < 1e-4 &&
           length(a.eye - b.eye) < near && length(a.target - b.target) < near;
}

std::vector<std::vector<Point2>> strokesOf(const Mark& mark)
{
    if (mark.points.empty())
        return {};
    if (mark.kind == MarkKind::FreeLine || mark.kind == MarkKind::Text || mark.points.size() < 2)
        return {mark.points};
    const Point2 a = mark.points[0], b = mark.points[1];
    switch (mark.kind) {
    case MarkKind::Cloud:
        return {cloud(a, b)};
    case MarkKind::Ellipse:
        return {ellipse(a, b)};
    case MarkKind::Rectangle:
        return {rectangle(a, b)};
    case MarkKind::Arrow:
        return {{a, b}, arrowHead(a, b)};
    default:
        return {{a, b}};
    }
}

double distanceTo(const Mark& mark, Point2 p)
{
    double nearest = HUGE_VAL;
    for (const auto& stroke : strokesOf(mark)) {
        nearest = std::min(nearest, length(p - stroke.front()));
        for (std::size_t i = 0; i + 1 < stroke.size(); ++i)
            nearest = std::min(nearest, distanceToSegment(p, stroke[i], stroke[i + 1]));
    }
    return nearest;
}

std::vector<Point2> simplified(const std::vector<Point2>& line, double tolerance)
{
    if (line.size() < 3)
        return line;
    std::vector<bool> isKept(line.size(), false);
    isKept.front() = isKept.back() = true;
    std::vector<std::pair<std::size_t, std::size_t>> open{{0, line.size() - 1}};
    while (!open.empty()) {
        const auto [first, last] = open.back();
        open.pop_back();
        std::size_t farthest = first;
        double most = tolerance;
        for (std::size_t i = first + 1; i < last; ++i)
            if (const double d = distanceToSegment(line[i], line[first], line[last]); d > most) {
                most = d;
                farthest = i;
            }
        if (farthest == first)
            continue;
        isKept[farthest] = true;
        open.push_back({first, farthest});
        open.push_back({farthest, last});
    }
    std::vector<Point2> kept;
    for (std::size_t i = 0; i < line.size(); ++i)
        if (isKept[i])
            kept.push_back(line[i]);
    return kept;
}

} // namespace wendrix::view
