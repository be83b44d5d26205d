#pragma once

#include "core/geometry/plane_cut.h"

#include <optional>
#include <unordered_map>
#include <unordered_set>

namespace wendrix::geometry {

/// A directed edge of a mesh as one number.
[[nodiscard]] constexpr std::uint64_t directedEdge(std::uint32_t from, std::uint32_t to)
{
    return static_cast<std::uint64_t>(from) << 32 | to;
}
[[nodiscard]] constexpr std::uint32_t startOf(std::uint64_t edge) { return static_cast<std::uint32_t>(edge >> 32); }
[[nodiscard]] constexpr std::uint32_t endOf(std::uint64_t edge) { return static_cast<std::uint32_t>(edge); }

/// The directed edges of triangles that no other triangle runs along the other way.
/// @return nothing where two triangles run along one the same way
[[nodiscard]] std::optional<std::unordered_set<std::uint64_t>> openEdges(const std::vector<Triangle>& triangles);

/// Closes a body that was cut open along a plane.
/// @param next  by point of the mesh, the next one of the outlines to fill, which lie in the plane
/// @return false where the outlines do not close, or touch or cross themselves: the mesh is of no use then
[[nodiscard]] bool addCap(Mesh& mesh, std::unordered_map<std::uint32_t, std::uint32_t> next, const Plane& plane);

/// Whether a body that was cut along a plane is closed again: every edge with two sides, and as much area facing along
/// the plane's normal as against it.
[[nodiscard]] bool isClosedAgain(const Mesh& mesh, const Plane& plane);

} // namespace wendrix::geometry
