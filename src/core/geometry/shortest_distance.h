#pragma once

#include "core/geometry/triangle_tree.h"

namespace wendrix::geometry {

/// The two places where bodies come nearest to each other.
struct Nearest {
    Point3 a, b;
    double distance = 0; ///< metres; 0 where the surfaces meet
};

/// Between two surfaces in one frame. Exact on their triangles; a body wholly inside another is as far off as their
/// surfaces are. Nothing where one is empty.
[[nodiscard]] std::optional<Nearest> shortestDistance(const TriangleTree& a, const TriangleTree& b);

/// Between two pieces of line. Source: C. Ericson, Real-Time Collision Detection, 5.1.9.
[[nodiscard]] Nearest betweenSegments(Point3 a0, Point3 a1, Point3 b0, Point3 b1);

} // namespace wendrix::geometry
