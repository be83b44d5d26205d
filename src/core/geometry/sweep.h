#pragma once

#include "core/geometry/polygon.h"

#include <optional>

namespace wendrix::geometry {

/// The area swept from z = 0 along `path` (metres, not in the area's plane), closed and facing outwards.
/// Nothing where the outline crosses itself or the path lies in its plane.
[[nodiscard]] std::optional<Mesh> extruded(const Area& area, Vector3 path);

/// The area in the plane z = 0 turned about an axis in that plane, closed and facing outwards.
/// @param angle  up to a full turn; more is a full turn
[[nodiscard]] std::optional<Mesh> revolved(const Area& area, Point3 axisOrigin, Vector3 axisDirection, Radians angle);

} // namespace wendrix::geometry
