#pragma once

#include "core/base/vector3.h"

#include <algorithm>
#include <array>
#include <optional>
#include <span>

/// Two triangles: whether they cross, how far one has to move to come free, how near they are.
namespace wendrix::clash {

using Corners = std::array<Point3, 3>;

/// On which side of the plane through a, b and c the point d lies: +1 below it (seen from where a, b, c turn
/// counter-clockwise), -1 above, 0 on it. Exact for the coordinates given.
/// Source: J. Shewchuk, Discrete & Computational Geometry 18, 1997 (the bound of the filter); CGAL where it does not
/// tell.
[[nodiscard]] inline int sideOf(const Point3& a, const Point3& b, const Point3& c, const Point3& d);

/// The same in plan: +1 if `p` lies left of the line from a to b, -1 right of it, 0 on it. Exact.
[[nodiscard]] int leftOf(const Point3& a, const Point3& b, const Point3& p);

/// Whether their boxes are no farther apart than `margin` metres.
[[nodiscard]] inline bool areNear(const Corners& a, const Corners& b, double margin)
{
    for (int axis = 0; axis < 3; ++axis)
        if (std::max({a[0][axis], a[1][axis], a[2][axis]}) + margin < std::min({b[0][axis], b[1][axis], b[2][axis]}) ||
            std::max({b[0][axis], b[1][axis], b[2][axis]}) + margin < std::min({a[0][axis], a[1][axis], a[2][axis]}))
            return false;
    return true;
}

/// The piece of line that two triangles share.
struct Crossing {
    Point3 from, to;
};
/// Whether two triangles cross, exactly for the coordinates given; where they do is rounded. What lies in one plane
/// does not cross, and a point on a plane counts as above it.
[[nodiscard]] std::optional<Crossing> crossingOf(const Corners& a, const Corners& b);

/// How far one body has to move to be free of another, and which way.
struct Shift {
    double length = 0; ///< metres; 0 or less where it is free
    Vector3 along;     ///< of length 1: for moving the second one
};
/// The least translation that takes two triangles apart. Exact but for rounding: the separating axes of two convex sets
/// are their normals and the cross products of their edges.
[[nodiscard]] Shift leastShift(const Corners& a, const Corners& b);
/// The same of two flat convex faces, their corners in order.
[[nodiscard]] Shift leastShift(std::span<const Point3> a, std::span<const Point3> b);

/// For which lengths t the triangles meet when `b` is moved by t along a direction of length 1.
struct Stretch {
    double from, to;
};
[[nodiscard]] std::optional<Stretch> meetingAlong(const Corners& a, const Corners& b, Vector3 along);

/// Where two triangles come nearest to each other.
struct Near {
    Point3 a, b;
    double squared; ///< square metres
};
/// @param squaredReach  what is farther off than this is no answer
[[nodiscard]] std::optional<Near> nearestOf(const Corners& a, const Corners& b, double squaredReach);

/// The same without the filter.
[[nodiscard]] int exactSideOf(const Point3& a, const Point3& b, const Point3& c, const Point3& d);

inline int sideOf(const Point3& a, const Point3& b, const Point3& c, const Point3& d)
{
    const double adx = a.x - d.x, ady = a.y - d.y, adz = a.z - d.z, bdx = b.x - d.x, bdy = b.y - d.y, bdz = b.z - d.z,
                 cdx = c.x - d.x, cdy = c.y - d.y, cdz = c.z - d.z;
    const double bc = bdx * cdy, cb = cdx * bdy, ca = cdx * ady, ac = adx * cdy, ab = adx * bdy, ba = bdx * ady;
    const double determinant = adz * (bc - cb) + bdz * (ca - ac) + cdz * (ab - ba);
    const double permanent = (std::abs(bc) + std::abs(cb)) * std::abs(adz) +
                             (std::abs(ca) + std::abs(ac)) * std::abs(bdz) +
                             (std::abs(ab) + std::abs(ba)) * std::abs(cdz);
    constexpr double kBound = 7.7715611723761027e-16; // (7 + 56 e) e with e = 2^-53
    const double error = kBound * permanent;
    if (determinant > error)
        return 1;
    if (determinant < -error)
        return -1;
    return exactSideOf(a, b, c, d);
}

} // namespace wendrix::clash
