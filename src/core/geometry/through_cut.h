#pragma once

#include "core/geometry/mesh.h"

#include <optional>
#include <span>

namespace wendrix::geometry {

/// A body minus straight extrusions that go all the way through it from one plane face to the opposite one, worked out
/// in the plane of their profiles: outlines are subtracted there, the faces along the way lose what lies over the
/// removed border, and the reveals are put in. Of a wall, also one with mitred ends or a gable, that is its windows and
/// doors, at a hundredth of what a boolean of bodies costs.
///
/// Which side of an outline a place lies on is decided exactly; only where outlines cross is a new corner rounded, as
/// in the boolean of bodies. What comes out is held against what has to come out: closed, every edge with two sides,
/// its volume.
/// @param host, tools  closed, in one frame; they go through along x, y or z of it
/// @return nothing where it is not so: what is left to do then is the boolean of bodies
/// Source: constrained Delaunay triangulation of all outlines (CGAL 2D Triangulations), cells told apart by the
/// outlines they lie in.
[[nodiscard]] std::optional<Mesh> throughCut(const Mesh& host, std::span<const Mesh> tools);

} // namespace wendrix::geometry
