#include "core/clash/body.h"

#include "core/geometry/triangle_tree.h"

#include <algorithm>

namespace wendrix::clash {

using geometry::CompactTree;
using geometry::MiddleBox;

namespace {

/// How often a triangle is met going straight up from a point: once, with the sign of how it faces, or not at all. What
/// ends on the line counts for one of its two triangles, so that a closed surface is met as often as it is crossed.
int metUpwards(const Corners& t, const Point3& p)
{
    int winding = 0;
    for (std::size_t i = 0; i < 3; ++i) {
        const Point3 &a = t[i], &b = t[(i + 1) % 3];
        if ((a.y <= p.y) == (b.y <= p.y))
            continue;
        const int side = leftOf(a, b, p);
        if (a.y <= p.y)
            winding += side > 0 ? 1 : 0;
        else
            winding -= side < 0 ? 1 : 0;
    }
    if (winding == 0)
        return 0;
    // Turning left it faces up, and the point is below it where it is on its inner side.
    const int below = sideOf(t[0], t[1], t[2], p);
    return (winding > 0) == (below > 0) ? winding : 0;
}

} // namespace

PlacedPart::PlacedPart(const ShapeIndex& shape, const Transform& at)
    : shape_(&shape), at_(at), isMirrored_(at.determinant() < 0),
      isUpright_(at.x.y == 0 && at.x.z == 0 && at.y.x == 0 && at.y.z == 0 && at.z.x == 0 && at.z.y == 0)
{
    auto points = std::make_shared<std::vector<Point3>>();
    points->reserve(shape.mesh().points.size());
    Box3 box;
    for (const Point3& p : shape.mesh().points) {
        points->push_back(at.apply(p));
        box.add(points->back());
    }
    oriented_ = orientedBoxOf(*points);
    points_ = std::move(points);
    bounds_ = {box.centre(), 0.5 * box.size()};
    if (const Convex* own = shape.convex())
        convex_ = std::make_shared<const Convex>(placed(*own, at));
}

MiddleBox PlacedPart::boxOf(const CompactTree::Node& node) const
{
    const auto middle = [&](std::size_t k) { return 0.5 * (static_cast<double>(node.min[k]) + node.max[k]); };
    const auto half = [&](std::size_t k) { return 0.5 * (static_cast<double>(node.max[k]) - node.min[k]); };
    const Point3 m = Point3{middle(0), middle(1), middle(2)} + shape_->tree().centre();
    const Vector3 h{half(0), half(1), half(2)};
    if (isUpright_)
        return {{at_.x.x * m.x + at_.origin.x, at_.y.y * m.y + at_.origin.y, at_.z.z * m.z + at_.origin.z},
                {std::abs(at_.x.x) * h.x, std::abs(at_.y.y) * h.y, std::abs(at_.z.z) * h.z}};
    const auto reach = [&](double x, double y, double z) {
        return std::abs(x) * h.x + std::abs(y) * h.y + std::abs(z) * h.z;
    };
    return {at_.apply(m),
            {reach(at_.x.x, at_.y.x, at_.z.x), reach(at_.x.y, at_.y.y, at_.z.y), reach(at_.x.z, at_.y.z, at_.z.z)}};
}

bool PlacedPart::contains(const Point3& p) const
{
    if (!shape_->isClosed() || !bounds_.isWithin({p, {}}, 0))
        return false;
    int winding = 0;
    if (isSmall()) {
        for (std::uint32_t i = 0; i < triangles(); ++i)
            winding += metUpwards(corners(i), p);
        return winding != 0;
    }
    // Rounded boxes are wide enough for where the tree was made; placing them rounds once more.
    constexpr double kRounding = 1e-9;
    const CompactTree& tree = shape_->tree();
    std::array<std::uint32_t, 96> stack;
    std::size_t depth = 0;
    stack[depth++] = 0;
    while (depth > 0) {
        const std::uint32_t i = stack[--depth];
        const CompactTree::Node& node = tree.node(i);
        const MiddleBox box = boxOf(node);
        if (std::abs(box.middle.x - p.x) > box.half.x + kRounding ||
            std::abs(box.middle.y - p.y) > box.half.y + kRounding || box.middle.z + box.half.z + kRounding < p.z)
            continue;
        if (!node.isLeaf()) {
            stack[depth++] = node.first;
            stack[depth++] = i + 1;
            continue;
        }
        for (const std::uint32_t t : tree.items(node))
            winding += metUpwards(corners(t), p);
    }
    return winding != 0;
}

std::optional<Point3> PlacedPart::nearestTo(const Point3& p, double reach) const
{
    double squared = reach * reach;
    std::optional<Point3> nearest;
    const auto look = [&](std::uint32_t triangle) {
        const Point3 at = geometry::nearestPoint(p, corners(triangle));
        const Vector3 d = at - p;
        if (dot(d, d) <= squared) {
            squared = dot(d, d);
            nearest = at;
        }
    };
    constexpr std::size_t kFew = 1'000; // a tree of them costs as much as some questions
    if (triangles() <= kFew) {
        for (std::uint32_t i = 0; i < triangles(); ++i)
            look(i);
        return nearest;
    }
    const MiddleBox point{p, {}};
    const CompactTree& tree = shape_->tree();
    std::array<std::uint32_t, 96> stack;
    std::size_t depth = 0;
    if (!tree.isEmpty())
        stack[depth++] = 0;
    while (depth > 0) {
        const std::uint32_t i = stack[--depth];
        const CompactTree::Node& node = tree.node(i);
        if (boxOf(node).squaredDistance(point) > squared)
            continue;
        if (node.isLeaf()) {
            for (const std::uint32_t t : tree.items(node))
                look(t);
            continue;
        }
        // The nearer child is looked at first.
        const double left = boxOf(tree.node(i + 1)).squaredDistance(point),
                     right = boxOf(tree.node(node.first)).squaredDistance(point);
        stack[depth++] = left <= right ? node.first : i + 1;
        stack[depth++] = left <= right ? i + 1 : node.first;
    }
    return nearest;
}

void PlacedPart::trianglesIn(const MiddleBox& box, const OrientedBox& askew, double margin,
                             std::vector<std::uint32_t>& found) const
{
    thread_local std::vector<std::uint16_t> sides; // of each point: which faces of the boxes it is beyond
    const Point3 low = box.middle - box.half - shift_, high = box.middle + box.half - shift_,
                 centre = askew.centre - shift_;
    const std::vector<Point3>& points = *points_;
    sides.resize(points.size());
    constexpr double kRounding = 1e-9;
    const double h0 = askew.half[0] + margin + kRounding, h1 = askew.half[1] + margin + kRounding,
                 h2 = askew.half[2] + margin + kRounding;
    for (std::size_t i = 0; i < points.size(); ++i) {
        const Point3& p = points[i];
        const Vector3 d = p - centre;
        const double a = dot(askew.axes[0], d), b = dot(askew.axes[1], d), c = dot(askew.axes[2], d);
        sides[i] =
            static_cast<std::uint16_t>((p.x < low.x) | (p.x > high.x) << 1 | (p.y < low.y) << 2 | (p.y > high.y) << 3 |
                                       (p.z < low.z) << 4 | (p.z > high.z) << 5 | (a < -h0) << 6 | (a > h0) << 7 |
                                       (b < -h1) << 8 | (b > h1) << 9 | (c < -h2) << 10 | (c > h2) << 11);
    }
    const std::vector<geometry::Triangle>& all = shape_->mesh().triangles;
    for (std::uint32_t i = 0; i < all.size(); ++i)
        if ((sides[all[i][0]] & sides[all[i][1]] & sides[all[i][2]]) == 0)
            found.push_back(i);
}

PlacedPart PlacedPart::movedBy(Vector3 shift) const
{
    PlacedPart moved = *this;
    moved.convex_.reset();
    moved.shift_ = moved.shift_ + shift;
    moved.at_.origin = moved.at_.origin + shift;
    moved.bounds_.middle = moved.bounds_.middle + shift;
    moved.oriented_.centre = moved.oriented_.centre + shift;
    return moved;
}

Body bodyOf(const MemberIndex& member, ifc::ElementIndex element, const Transform& at)
{
    Body body;
    const auto& placed = member.geometry().elements()[element].placed;
    body.parts.reserve(placed.size());
    for (const geometry::PlacedShape& p : placed) {
        const ShapeIndex& shape = member.shape(p.shape);
        if (shape.mesh().isEmpty())
            continue;
        body.parts.emplace_back(shape, at * p.placement);
        body.isClosed = body.isClosed && shape.isClosed();
    }
    return body;
}

} // namespace wendrix::clash
