#pragma once

#include "core/base/transform.h"
#include "core/geometry/polygon.h"

#include <optional>
#include <span>

namespace wendrix::geometry {

/// The area swept from z = 0 along `path` (metres, not in the area's plane), closed and facing outwards.
/// Nothing where the outline crosses itself or the path lies in its plane.
[[nodiscard]] std::optional<Mesh> extruded(const Area& area, Vector3 path);

/// The area in the plane z = 0 turned about an axis in that plane, closed and facing outwards.
/// @param angle  up to a full turn; more is a full turn
[[nodiscard]] std::optional<Mesh> revolved(const Area& area, Point3 axisOrigin, Vector3 axisDirection, Radians angle,
                                           const Fineness& fineness = {});

/// The solid between areas that stand one behind the other, each in the plane z = 0 of its own frame; between two
/// of them every edge runs straight. Outlines with unlike corners are matched by their lengths.
/// @param sections  two or more areas of as many holes
/// @param isRing    the last is followed by the first again
/// Nothing where an end's outline crosses itself or the areas do not match.
[[nodiscard]] std::optional<Mesh> lofted(std::span<const Area> sections, std::span<const Transform> frames,
                                         bool isRing = false);

/// Gives areas one behind the other as many corners as each other, matched by their lengths along the outlines.
/// @return false where their numbers of holes differ
[[nodiscard]] bool matchCorners(std::vector<Area>& sections);
/// What is between two matched areas, `f` of the way.
[[nodiscard]] Area between(const Area& a, const Area& b, double f);

/// The area turned about an axis while it becomes `end`; as `revolved` otherwise.
[[nodiscard]] std::optional<Mesh> revolvedTapered(const Area& area, const Area& end, Point3 axisOrigin,
                                                  Vector3 axisDirection, Radians angle, const Fineness& fineness = {});

} // namespace wendrix::geometry
