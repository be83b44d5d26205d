#pragma once

#include "core/clash/body.h"

namespace wendrix::clash {

/// How long to look for the depth of a pair.
enum class Effort {
    Brief,   ///< a bound in some microseconds: by how far both reach along the faces that meet
    Thorough ///< by walking all ways that may be shorter
};

/// Two triangles that cross.
struct CrossedPair {
    Corners a, b;
    double shift = 0; ///< the least translation that takes them apart, metres
};

/// The least translation past all that two bodies reach, along directions to try and the axes: a bound from above of
/// the least that separates them.
[[nodiscard]] Shift separationBeyond(const Body& a, const Body& b, std::span<const Vector3> directions);

/// A closer bound from above of the least translation that separates two bodies, over directions to try.
///
/// Along each direction the way is walked until nothing meets: the lengths for which two triangles meet are an
/// interval, and the first length in none of them is free. Where that takes too many triangles, the extents of both
/// along the direction bound it.
/// @param directions  unit vectors; both senses of each are tried, and those of the axes
/// @param crossed     some of the triangles that cross: a way that does not free them faster than the best is not
/// walked
/// @return metres and the way, for moving `b`
[[nodiscard]] Shift separationAlong(const Body& a, const Body& b, std::span<const Vector3> directions,
                                    std::span<const CrossedPair> crossed);

} // namespace wendrix::clash
