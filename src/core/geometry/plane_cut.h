#pragma once

#include "core/geometry/mesh.h"
#include "core/geometry/polygon.h"

namespace wendrix::geometry {

/// A plane by a point and a unit normal.
struct Plane {
    Point3 at;
    Vector3 normal{0, 0, 1};
    friend bool operator==(const Plane&, const Plane&) = default;

    [[nodiscard]] double distance(Point3 p) const
    {
        return dot(p - at, normal);
    } ///< signed, positive where the normal points
    /// x and y in the plane, z along the normal.
    [[nodiscard]] Transform frame() const
    {
        const Vector3 x = anyPerpendicular(normal);
        return {x, cross(normal, x), normal, at};
    }
};

/// Where a plane goes through a body: closed outlines, and open lines where the body is not closed.
struct CutOutline {
    std::vector<std::vector<Point3>> rings; ///< without the repeated first point
    std::vector<std::vector<Point3>> lines;
    [[nodiscard]] bool isEmpty() const { return rings.empty() && lines.empty(); }
};

/// The outline of the part of a mesh behind the plane. Exact but for rounding; a face that lies in the plane belongs
/// to the body behind it.
[[nodiscard]] CutOutline cutOutline(const Mesh& mesh, const Plane& plane);

/// What the rings enclose, one in another taken as holes, as triangles that face along the normal.
[[nodiscard]] Mesh filled(const CutOutline& outline, const Plane& plane);

/// Rings in a plane as areas: outer ones with the holes in them.
[[nodiscard]] std::vector<Area> areasOf(std::vector<Ring> rings);

} // namespace wendrix::geometry
