#pragma once

#include "core/clash/body.h"

namespace wendrix::clash {

/// The space that two bodies share, as a body, by exact booleans; empty where they share none.
/// @param origin  the result is about this place of their frame, so that it costs no digits
/// @return nothing where one of them is no solid
[[nodiscard]] std::optional<geometry::Mesh> sharedBody(const Body& a, const Body& b, Point3 origin);

/// The volume that two bodies share, m³; nothing where one of them is no solid.
[[nodiscard]] std::optional<double> sharedVolume(const Body& a, const Body& b);

/// Whether two bodies share more than `tolerance` metres outside some others; true where one is no solid.
[[nodiscard]] bool meetWithout(const Body& a, const Body& b, std::span<const Body* const> without, double tolerance);

} // namespace wendrix::clash
