#pragma once

#include "core/geometry/mesh.h"

#include <cstddef>
#include <vector>

namespace wendrix::bench {

/// What another library finds in the same meshes: every pair of one of `left` and one of `right`.
struct Others {
    std::size_t pairs = 0;
    double milliseconds = 0;
    const char* name = "";
};

/// Boxes of FCL's broad phase, trees of oriented boxes, one contact with its depth a pair; on all cores.
Others hardWithFcl(const std::vector<geometry::Mesh>& left, const std::vector<geometry::Mesh>& right);
/// Its distances, for pairs whose boxes are nearer than `reach`.
Others clearanceWithFcl(const std::vector<geometry::Mesh>& left, const std::vector<geometry::Mesh>& right,
                        double reach);
/// CGAL's box_intersection_d, trees of boxes over triangles built when first needed, exact predicates, and whether one
/// is inside the other; no depth; on all cores.
Others hardWithCgal(const std::vector<geometry::Mesh>& left, const std::vector<geometry::Mesh>& right);

} // namespace wendrix::bench
