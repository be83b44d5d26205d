#include "core/clash/body.h"

#include "core/geometry/triangle_tree.h"

#include <algorithm>
#include <limits>

namespace wendrix::clash {

using geometry::CompactTree;
using geometry::MiddleBox;

namespace {

MiddleBox placedBox(const Transform& at, const Point3& middle, const Vector3& half)
{
    const auto reach = [&](double x, double y, double z) {
        return std::abs(x) * half.x + std::abs(y) * half.y + std::abs(z) * half.z;
    };
    return {at.apply(middle),
            {reach(at.x.x, at.y.x, at.z.x), reach(at.x.y, at.y.y, at.z.y), reach(at.x.z, at.y.z, at.z.z)}};
}

/// How often the surface crosses a ray, from inside out counted up; nothing where it grazes an edge.
std::optional<int> windingAlong(const ShapeIndex& shape, const Point3& origin, const Vector3& direction)
{
    const CompactTree& tree = shape.tree();
    const Point3 about = origin - tree.centre();
    const Vector3 inverse{1 / direction.x, 1 / direction.y, 1 / direction.z};
    int winding = 0;
    std::array<std::uint32_t, 96> stack;
    std::size_t depth = 0;
    stack[depth++] = 0;
    while (depth > 0) {
        const std::uint32_t i = stack[--depth];
        const CompactTree::Node& node = tree.node(i);
        double near = 0, far = std::numeric_limits<double>::infinity();
        for (int axis = 0; axis < 3; ++axis) {
            const auto k = static_cast<std::size_t>(axis);
            const double a = (static_cast<double>(node.min[k]) - about[axis]) * inverse[axis],
                         b = (static_cast<double>(node.max[k]) - about[axis]) * inverse[axis];
            near = std::max(near, std::min(a, b));
            far = std::min(far, std::max(a, b));
        }
        if (near > far)
            continue;
        if (!node.isLeaf()) {
            stack[depth++] = node.first;
            stack[depth++] = i + 1;
            continue;
        }
        for (const std::uint32_t t : tree.items(node)) {
            const auto c = shape.mesh().corners(t);
            const auto hit = geometry::meet(origin, direction, c);
            if (!hit)
                continue;
            constexpr double kEdge = 1e-9;
            const Vector3 n = cross(c[1] - c[0], c[2] - c[0]);
            const double slope = dot(n, direction);
            if (hit->u < kEdge || hit->v < kEdge || hit->u + hit->v > 1 - kEdge ||
                std::abs(slope) < 1e-9 * length(n) * length(direction))
                return {};
            if (hit->distance > 0)
                winding += slope > 0 ? 1 : -1;
        }
    }
    return winding;
}

} // namespace

PlacedPart::PlacedPart(const ShapeIndex& shape, const Transform& at)
    : shape_(&shape), at_(at), back_(at.inverse()), isMirrored_(at.determinant() < 0),
      isUpright_(at.x.y == 0 && at.x.z == 0 && at.y.x == 0 && at.y.z == 0 && at.z.x == 0 && at.z.y == 0)
{
    Box3 box;
    for (const Point3& p : shape.mesh().points)
        box.add(at.apply(p));
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
    return placedBox(at_, m, h);
}

bool PlacedPart::contains(const Point3& p) const
{
    if (!shape_->isClosed() || !bounds_.isWithin({p, {}}, 0))
        return false;
    const Point3 local = back_.apply(p);
    // Directions that no drawn edge or face is along.
    static constexpr std::array<Vector3, 4> kRays{
        {{0.5773, 0.2113, 0.7887}, {-0.3217, 0.8641, 0.3877}, {0.1931, -0.6553, 0.7303}, {-0.7451, -0.1373, -0.6529}}};
    for (const Vector3& ray : kRays)
        if (const auto winding = windingAlong(*shape_, local, ray))
            return *winding != 0;
    return false;
}

std::optional<Point3> PlacedPart::nearestTo(const Point3& p, double reach) const
{
    const CompactTree& tree = shape_->tree();
    double squared = reach * reach;
    std::optional<Point3> nearest;
    std::array<std::uint32_t, 96> stack;
    std::size_t depth = 0;
    if (!tree.isEmpty())
        stack[depth++] = 0;
    const MiddleBox point{p, {}};
    while (depth > 0) {
        const std::uint32_t i = stack[--depth];
        const CompactTree::Node& node = tree.node(i);
        if (boxOf(node).squaredDistance(point) > squared)
            continue;
        if (!node.isLeaf()) {
            // The nearer child is looked at first.
            const double left = boxOf(tree.node(i + 1)).squaredDistance(point),
                         right = boxOf(tree.node(node.first)).squaredDistance(point);
            stack[depth++] = left <= right ? node.first : i + 1;
            stack[depth++] = left <= right ? i + 1 : node.first;
            continue;
        }
        for (const std::uint32_t t : tree.items(node)) {
            const Point3 at = geometry::nearestPoint(p, corners(t));
            const Vector3 d = at - p;
            if (dot(d, d) <= squared) {
                squared = dot(d, d);
                nearest = at;
            }
        }
    }
    return nearest;
}

PlacedPart PlacedPart::movedBy(Vector3 shift) const
{
    PlacedPart moved = *this;
    moved.convex_.reset();
    moved.at_.origin = moved.at_.origin + shift;
    moved.back_ = moved.at_.inverse();
    moved.bounds_.middle = moved.bounds_.middle + shift;
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
