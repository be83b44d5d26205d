#pragma once

#include "core/clash/body.h"

namespace wendrix::clash {

/// Whether two bodies are the same thing twice: the surface of each lies within `tolerance` metres of the other's, and
/// both hold the same volume, however they are written, divided into triangles, mirrored or turned.
///
/// The farthest that one surface is from the other is looked for at corners, middles of edges and of triangles.
/// @return how far apart they are, in metres
[[nodiscard]] std::optional<double> deviationOf(const Body& a, const Body& b, double tolerance);

} // namespace wendrix::clash
