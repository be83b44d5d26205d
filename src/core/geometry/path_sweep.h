#pragma once

#include "core/geometry/path.h"
#include "core/geometry/polygon.h"

#include <functional>
#include <optional>
#include <vector>

namespace wendrix::geometry {

/// The local x of a profile at a place on its path; any direction not along the path.
using ReferenceAt = std::function<Vector3(Point3 place, Vector3 along)>;

/// An area carried along a path, its own z along it, its x turned towards what `reference` says. It stands square to
/// the curve at every point, so at both ends; where the path has a corner, pieces meet in a mitre. Closed and facing
/// outwards.
/// @param reference  without one the area keeps from turning about the path (W. Wang et al., Computation of
///                   Rotation Minimizing Frames, ACM TOG 27(1), 2008)
/// Nothing where the path has no length, turns back on itself, or the outline crosses itself.
[[nodiscard]] std::optional<Mesh> sweptAlong(const Area& area, const Path& path, const ReferenceAt& reference = {});

/// A disc, or a ring where `innerRadius` is more than nothing, carried along a path. Metres.
[[nodiscard]] std::optional<Mesh> sweptDisk(const Path& path, double radius, double innerRadius,
                                            const Fineness& fineness = {});

/// The solid through areas that stand at places along a path, each in the plane z = 0 of its own frame: between two
/// of them it follows the path, and its area changes evenly with the way.
/// @param sections  two or more areas of as many holes
/// Nothing where an end's outline crosses itself or the areas do not match.
[[nodiscard]] std::optional<Mesh> loftedAlong(std::vector<Area> sections, const std::vector<Transform>& frames,
                                              const Path& path);

/// The path with each corner rounded by a tangent arc of this radius, cut down where the pieces are too short.
[[nodiscard]] Path withRoundedCorners(const Path& path, double radius, const Fineness& fineness = {});

} // namespace wendrix::geometry
