#include "core/changes/same_shape.h"

#include "core/base/result.h"
#include "core/geometry/boolean.h"
#include "core/geometry/thickness.h"
#include "core/geometry/triangle_tree.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace wendrix::changes {

using geometry::Mesh;

namespace {

bool isNear(Point3 a, Point3 b, double tolerance)
{
    return std::abs(a.x - b.x) <= tolerance && std::abs(a.y - b.y) <= tolerance && std::abs(a.z - b.z) <= tolerance;
}

/// Places of every face of `a` lie on `b`: corners and centre, and those of the parts it is cut into `finer` times.
bool liesOn(const std::array<Point3, 3>& face, const geometry::TriangleTree& b, double tolerance, int finer)
{
    for (const Point3 p : {face[0], face[1], face[2], (1.0 / 3) * (face[0] + face[1] + face[2])})
        if (!b.distanceTo(p, tolerance))
            return false;
    if (finer == 0)
        return true;
    const Point3 x = 0.5 * (face[0] + face[1]), y = 0.5 * (face[1] + face[2]), z = 0.5 * (face[2] + face[0]);
    return liesOn({face[0], x, z}, b, tolerance, finer - 1) && liesOn({x, face[1], y}, b, tolerance, finer - 1) &&
           liesOn({z, y, face[2]}, b, tolerance, finer - 1) && liesOn({x, y, z}, b, tolerance, finer - 1);
}
bool liesOn(const Mesh& a, const geometry::TriangleTree& b, double tolerance, int finer = 0)
{
    for (std::size_t i = 0; i < a.triangles.size(); ++i)
        if (!liesOn(a.corners(i), b, tolerance, finer))
            return false;
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

/// Corner by corner at the same places: another unit, or rounded otherwise, and then no tree has to be built.
bool isWrittenAlike(const Mesh& a, const Mesh& b, double tolerance)
{
    if (a.points.size() != b.points.size() || a.triangles != b.triangles)
        return false;
    for (std::size_t i = 0; i < a.points.size(); ++i)
        if (!isNear(a.points[i], b.points[i], tolerance))
            return false;
    return true;
}

bool isNearlyNothing(const Mesh& rest, double tolerance)
{
    const auto parts = geometry::pieces(rest);
    return std::none_of(parts.begin(), parts.end(), [&](const geometry::Piece& piece) {
        return piece.width > tolerance && geometry::innerThickness(piece.mesh) > tolerance;
    });
}

} // namespace

bool isSameShape(const Mesh& a, const Mesh& b, double tolerance)
{
    if (a.isEmpty() || b.isEmpty())
        return a.isEmpty() == b.isEmpty();
    if (isWrittenAlike(a, b, tolerance))
        return true;
    const Box3 boxA = geometry::boundsOf(a), boxB = geometry::boundsOf(b);
    if (!isNear(boxA.min, boxB.min, tolerance) || !isNear(boxA.max, boxB.max, tolerance))
        return false;
    constexpr double kRounding = 1e-5; // metres: what exporters cut numbers to
    const double area = geometry::areaOf(a), edge = std::sqrt(area);
    const bool measuresAgree = std::abs(geometry::volumeOf(a) - geometry::volumeOf(b)) <= area * kRounding &&
                               std::abs(area - geometry::areaOf(b)) <= 12 * edge * kRounding;
    const geometry::TriangleTree treeA(a), treeB(b);
    const bool isOnEachOther = liesOn(a, treeB, tolerance) && liesOn(b, treeA, tolerance);
    if (measuresAgree && isOnEachOther && sharesCorners(a, b, tolerance) && sharesCorners(b, a, tolerance))
        return true;
    if (!geometry::isClosed(a) || !geometry::isClosed(b))
        return isOnEachOther;
    // Rounding far from the origin would leave slivers, so subtract near it.
    const Transform home = Transform::translation(-boxA.centre());
    const Mesh x = geometry::transformed(a, home), y = geometry::transformed(b, home);
    const auto less = geometry::combine(x, y, geometry::BooleanKind::Difference),
               more = geometry::combine(y, x, geometry::BooleanKind::Difference);
    if (less && more)
        return isNearlyNothing(*less, tolerance) && isNearlyNothing(*more, tolerance);
    // One of them cuts itself, which is not for booleans: looked at from nearer by.
    constexpr int kFiner = 3;
    return isOnEachOther && liesOn(a, treeB, tolerance, kFiner) && liesOn(b, treeA, tolerance, kFiner);
}

} // namespace wendrix::changes
