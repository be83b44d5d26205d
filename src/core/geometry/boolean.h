#pragma once

#include "core/base/result.h"
#include "core/geometry/mesh.h"

#include <span>

namespace wendrix::geometry {

inline constexpr ErrorCode kNotASolid{"geometry.not-a-solid"};

enum class BooleanKind { Union, Intersection, Difference };

/// Exact boolean of two closed meshes: predicates and constructions are exact, only the result is rounded.
/// An empty result is an empty mesh.
/// @return kNotASolid where an operand is open or cuts itself.
/// Source: CGAL Polygon Mesh Processing, corefinement and Boolean operations.
[[nodiscard]] Result<Mesh> combine(const Mesh& a, const Mesh& b, BooleanKind kind);

/// `host` minus all `tools`, one after the other without rounding in between.
/// Tools that are no solids are passed over; `leftOut` gets their indices.
[[nodiscard]] Result<Mesh> subtractAll(const Mesh& host, std::span<const Mesh> tools,
                                       std::vector<std::size_t>& leftOut);

} // namespace wendrix::geometry
