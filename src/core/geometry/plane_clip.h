#pragma once

#include "core/geometry/plane_cut.h"

#include <optional>

namespace wendrix::geometry {

/// The part of a closed body behind a plane: its faces cut along it, and closed there by a cap. Points where edges meet
/// the plane are rounded, and nothing else; what a boolean of bodies gives, at a hundredth of its cost.
///
/// Points within 1e-8 m of the plane lie in it, and faces there belong to the body behind them. What comes out is held
/// against what has to come out: closed, every edge with two sides, the cap as large as the faces it closes say.
/// @return the body itself where nothing lies before the plane, an empty mesh where nothing lies behind it; nothing at
///         all where the body is not closed or its outline in the plane touches or crosses itself: what is left to do
///         then is the boolean of bodies
[[nodiscard]] std::optional<Mesh> clippedBehind(const Mesh& body, const Plane& plane);

} // namespace wendrix::geometry
