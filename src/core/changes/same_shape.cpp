#include "core/changes/same_shape.h"

#include "core/base/result.h"
#include "core/geometry/boolean.h"
#include "core/geometry/thickness.h"
#include "core/geometry/triangle_tree.h"

#include <cmath>

namespace wendrix::changes {

using geometry::Mesh;

namespace {

bool isNear(Point3 a, Point3 b, double tolerance)
{
    return std::abs(a.x - b.x) <= tolerance && std::abs(a.y - b.y) <= tolerance && std::abs(a.z - b.z) <= tolerance;
}

/// Every corner and face centre of `a` lies on `b`.
bool liesOn(const Mesh& a, const geometry::TriangleTree& b, double tolerance)
{
    for (std::size_t i = 0; i < a.triangles.size(); ++i) {
        const auto corners = a.corners(i);
        for (const Point3 p : {corners[0], corners[1], corners[2], (1.0 / 3) * (corners[0] + corners[1] + corners[2])})
            if (!b.distanceTo(p, tolerance))
                return false;
    }
    return true;
}

/// Every corner of `a` is one of `b`.
bool sharesCorners(const Mesh& a, const Mesh& b, double tolerance)
{
    std::vector<Box3> boxes(b.points.size());
    for (std::size_t i = 0; i < boxes.size(); ++i)
        boxes[i].add(b.points[i]);
    const geometry::BoxTree tree(boxes);
    for (const geometry::Triangle& t : a.triangles)
        for (const std::uint32_t i : t) {
            bool found = false;
            Box3 around;
            around.add(a.points[i]);
            tree.overlapping(around.grownBy(tolerance), [&](std::uint32_t) { found = true; });
            if (!found)
                return false;
        }
    return true;
}

bool isNearlyNothing(const Result<Mesh>& rest, double tolerance)
{
    if (!rest)
        return false;
    for (const geometry::Piece& piece : geometry::pieces(*rest))
        if (piece.width > tolerance && geometry::innerThickness(piece.mesh) > tolerance)
            return false;
    return true;
}

} // namespace

bool isSameShape(const Mesh& a, const Mesh& b, double tolerance)
{
    if (a.isEmpty() || b.isEmpty())
        return a.isEmpty() == b.isEmpty();
    const Box3 boxA = geometry::boundsOf(a), boxB = geometry::boundsOf(b);
    if (!isNear(boxA.min, boxB.min, tolerance) || !isNear(boxA.max, boxB.max, tolerance))
        return false;
    constexpr double kRounding = 1e-5; // metres: what exporters cut numbers to
    const double area = geometry::areaOf(a), edge = std::sqrt(area);
    const bool measuresAgree = std::abs(geometry::volumeOf(a) - geometry::volumeOf(b)) <= area * kRounding &&
                               std::abs(area - geometry::areaOf(b)) <= 12 * edge * kRounding;
    const bool isOnEachOther =
        liesOn(a, geometry::TriangleTree(b), tolerance) && liesOn(b, geometry::TriangleTree(a), tolerance);
    if (measuresAgree && isOnEachOther && sharesCorners(a, b, tolerance) && sharesCorners(b, a, tolerance))
        return true;
    if (!geometry::isClosed(a) || !geometry::isClosed(b))
        return isOnEachOther;
    // Rounding far from the origin would leave slivers, so subtract near it.
    const Transform home = Transform::translation(-boxA.centre());
    const Mesh x = geometry::transformed(a, home), y = geometry::transformed(b, home);
    return isNearlyNothing(geometry::combine(x, y, geometry::BooleanKind::Difference), tolerance) &&
           isNearlyNothing(geometry::combine(y, x, geometry::BooleanKind::Difference), tolerance);
}

} // namespace wendrix::changes
