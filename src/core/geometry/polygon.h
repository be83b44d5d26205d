#pragma once

#include "core/base/quantity.h"
#include "core/base/vector3.h"
#include "core/geometry/mesh.h"

#include <optional>
#include <span>
#include <vector>

namespace wendrix::geometry {

/// A closed outline without the repeated first point, metres.
using Ring = std::vector<Point2>;

/// One connected face of a profile: outer ring counter-clockwise, holes clockwise.
struct Area {
    Ring outer;
    std::vector<Ring> holes;
};

/// Positive when counter-clockwise. m².
[[nodiscard]] double signedArea(std::span<const Point2> ring);

/// Segments a full circle of this radius is cut into: the chord error is at most 1 mm and 1/100 of the
/// radius, and there are never fewer than 24.
[[nodiscard]] int segmentsOfCircle(double radiusMetres);

/// The points of an arc from `from` by `sweep` (signed), both ends included.
[[nodiscard]] std::vector<Point2> arcPoints(Point2 centre, double radiusMetres, Radians from, Radians sweep);

/// Drops repeated neighbours (closer than 1e-9 m) and a repeated last point.
void tidy(Ring& ring);

/// Constrained Delaunay triangulation of an outline with holes, whatever their orientation.
/// @return triangles over all points in the order outer, holes[0], ...; counter-clockwise; nothing where
///         outlines cross themselves or each other, or enclose no area.
/// Source: CGAL 2D Triangulations, nesting levels as in its user manual.
[[nodiscard]] std::optional<std::vector<Triangle>> triangulate(std::span<const Point2> outer,
                                                               std::span<const Ring> holes);

/// A planar face in space: loops of indices into `points`, the first one outer.
/// Adds its triangles to `mesh` (which shares the points), facing as the outer loop runs.
/// @return false where the face has no area or its loops cross.
[[nodiscard]] bool addFace(Mesh& mesh, const std::vector<std::vector<std::uint32_t>>& loops);

} // namespace wendrix::geometry
