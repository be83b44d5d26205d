#pragma once

#include "core/geometry/plane_cut.h"

#include <optional>

namespace wendrix::geometry {

/// A closed body without what lies before both of two planes: a roof's slope up to its ridge taken off a gable wall.
/// Faces are cut along the planes and closed there by two caps that meet in a fold, where the planes cross. As with
/// clippedBehind(), only points where edges meet a plane are rounded, points within 1e-8 m of a plane lie in it, and
/// what comes out is held against being closed.
/// @return the body itself where nothing lies before both, an empty mesh where nothing else is left; nothing at all
///         where the planes are parallel, the body is not closed, or the outlines touch each other or themselves in
///         the planes: what is left to do then is the boolean of bodies
[[nodiscard]] std::optional<Mesh> withoutWedge(const Mesh& body, const Plane& one, const Plane& other);

} // namespace wendrix::geometry
