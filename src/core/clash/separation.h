#pragma once

#include "core/clash/body.h"

namespace wendrix::clash {

/// A bound from above of the least translation that separates two bodies, over directions to try.
///
/// Along each direction the way is walked until nothing meets: the lengths for which two triangles meet are an
/// interval, and the first length in none of them is free. Where that takes too many triangles, the extents of both
/// along the direction bound it.
/// @param directions  unit vectors; both senses of each are tried, and those of the axes
/// @return metres and the way, for moving `b`
[[nodiscard]] Shift separationAlong(const Body& a, const Body& b, std::span<const Vector3> directions);

} // namespace wendrix::clash
