#pragma once

#include "core/geometry/mesh.h"

#include <optional>
#include <span>

namespace wendrix::geometry {

/// A straight extrusion minus others along the same axis that go all the way through it, worked out in the plane of the
/// profile: outlines are subtracted there, and what is left is extruded. Of a wall with its windows and doors that is every
/// opening, and a hundredth of what a boolean of bodies costs.
///
/// Which side of an outline a place lies on is decided exactly; only where outlines cross is a new corner rounded, as in the
/// boolean of bodies.
/// @param host, tools  closed, in one frame; along x, y or z of it
/// @return nothing where they are no such extrusions: what is left to do then is the boolean of bodies
/// Source: constrained Delaunay triangulation of all outlines (CGAL 2D Triangulations), faces told apart by the outlines they lie in.
[[nodiscard]] std::optional<Mesh> prismCut(const Mesh& host, std::span<const Mesh> tools);

} // namespace wendrix::geometry
