#pragma once

#include "core/geometry/mesh.h"

namespace wendrix::geometry {

/// One triangle's side of an edge: the side runs from the triangle's `corner` to the next.
struct EdgeSide {
    std::uint32_t low, high; ///< the edge's points, the smaller index first
    std::uint32_t triangle;
    std::uint8_t corner;
    bool isForward; ///< whether it runs from `low` to `high`
    [[nodiscard]] bool sameEdge(const EdgeSide& o) const { return low == o.low && high == o.high; }
};

/// All sides of all triangles, in order of edge, then triangle, then corner. Sorted by counting: linear in the
/// triangles where few edges meet in a point, as in all bodies.
[[nodiscard]] std::vector<EdgeSide> sortedSides(const Mesh& mesh);

/// Whether every edge has as many triangles on the one side as on the other.
[[nodiscard]] bool isClosed(const std::vector<EdgeSide>& sides);

/// Calls `each(first, last)` for the sides of one edge at a time, until it returns false.
template <class Each>
bool allEdges(const std::vector<EdgeSide>& sides, Each each)
{
    for (std::size_t i = 0; i < sides.size();) {
        std::size_t j = i + 1;
        while (j < sides.size() && sides[j].sameEdge(sides[i]))
            ++j;
        if (!each(i, j))
            return false;
        i = j;
    }
    return true;
}

template <class Each>
void eachEdge(const std::vector<EdgeSide>& sides, Each each)
{
    allEdges(sides, [&](std::size_t i, std::size_t j) {
        each(i, j);
        return true;
    });
}

} // namespace wendrix::geometry
