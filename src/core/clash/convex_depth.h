#pragma once

#include "core/clash/body.h"
#include "core/clash/triangle_pair.h"

namespace wendrix::clash {

/// Whether a closed mesh in one piece bounds a convex body, but for rounding: every edge is one that bulges, or hollow
/// by less than half a micrometre, and the surface is that of a ball. O(n log n).
[[nodiscard]] bool isConvexBody(const ShapeIndex& shape);

/// The least translation that separates two convex bodies of any number of faces; for moving the second one.
///
/// Goes by expanding polytopes: the set of all differences of their points holds the origin as deep as they are in each
/// other. A polytope within it grows at the face that is nearest to the origin, by the point of the set farthest out
/// along that face's normal, until that is no farther than the face. The face's distance then bounds the length from
/// below and what both extend along its normal from above, so the answer proves itself. Each step is O(points). Source:
/// G. van den Bergen, Proximity Queries and Penetration Depth Computation on 3D Game Objects, GDC 2001.
/// @return nothing where the two bounds do not come within a micrometre, as of bodies that are flat or hardly meet
[[nodiscard]] std::optional<Shift> convexSeparation(const PlacedPart& a, const PlacedPart& b);

} // namespace wendrix::clash
