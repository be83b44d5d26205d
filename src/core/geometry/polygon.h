#pragma once

#include "core/base/quantity.h"
#include "core/base/vector3.h"
#include "core/geometry/fineness.h"
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

/// Segments of a full ellipse: as of a circle with its larger axis, and enough for its sharper ends.
[[nodiscard]] int segmentsOfEllipse(double a, double b, const Fineness& fineness = {});

/// The points of an arc from `from` by `sweep` (signed), both ends included.
[[nodiscard]] std::vector<Point2> arcPoints(Point2 centre, double radiusMetres, Radians from, Radians sweep,
                                            const Fineness& fineness = {});

/// Drops repeated neighbours (closer than 1e-9 m) and a repeated last point.
void tidy(Ring& ring);

/// Drops corners on the straight line between their neighbours, as far as rounding tells.
/// @return how many; none where fewer than three corners would be left
std::size_t dropCollinear(Ring& ring);

/// Triangles of an outline with holes, whatever their orientation. Outlines may touch themselves and each other, and
/// a hole may hang on the outline by a bridge that is run along both ways.
/// @return triangles over all points in the order outer, holes[0], ...; counter-clockwise; nothing where
///         outlines cross themselves or each other, or enclose no area.
/// Source: constrained Delaunay (CGAL 2D Triangulations, nesting levels as in its user manual); convex outlines and
/// rings between two outlines of one form need none.
[[nodiscard]] std::optional<std::vector<Triangle>> triangulate(std::span<const Point2> outer,
                                                               std::span<const Ring> holes);

/// What was unusual about a face that was added.
struct FaceRepairs {
    bool isFlat = false;       ///< it has no area; its triangles only keep the shell together
    bool isSwapped = false;    ///< its outer loop was not the first
    std::size_t collinear = 0; ///< corners on the straight line between their neighbours; kept
    bool isNonPlanar = false;  ///< a point leaves its plane by more than a millimetre and a thousandth of its size
};

/// A planar face in space: loops of indices into `points`, the first one outer.
/// Adds its triangles to `mesh` (which shares the points), facing as the outer loop runs.
/// @return nothing where its loops cross.
[[nodiscard]] std::optional<FaceRepairs> addFace(Mesh& mesh, std::vector<std::vector<std::uint32_t>> loops);

} // namespace wendrix::geometry
