#pragma once

#include "core/clash/body.h"

namespace wendrix::clash {

/// Which way a free distance is wanted, seen from the left element.
enum class Direction {
    Any,  ///< the shortest distance
    Up,   ///< the vertical gap from it to what lies above it, where the two overlap in plan
    Down, ///< the same below it
    Side, ///< the horizontal gap, where the two overlap in height
};

/// Where two bodies are nearest to each other.
struct Gap {
    double distance = 0; ///< metres; 0 where they touch or share space
    Point3 left, right;
};

/// The least gap between two bodies if it is less than `reach` metres. Exact on their triangles, but for rounding. A
/// body inside the other is no distance away.
[[nodiscard]] std::optional<Gap> gapOf(const Body& left, const Body& right, Direction direction, double reach);

} // namespace wendrix::clash
