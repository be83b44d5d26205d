#pragma once

#include "core/base/vector3.h"

#include <array>
#include <vector>

namespace wendrix::geometry {

/// Edges of one or several closed outlines, metres; of an area with its inside to the left.
using Outline = std::vector<std::array<Point2, 2>>;

/// m²; negative where the inside is to the right.
[[nodiscard]] double areaOf(const Outline& outline);

/// How a place lies to an area and to others that take from it.
enum class CellState { Outside, Left, Taken };

/// A triangle that no outline crosses, counter-clockwise.
struct Cell {
    std::array<Point2, 3> corners;
    CellState state = CellState::Outside;
    std::array<CellState, 3> beyond{}; ///< across the edge from each corner to the next
};

/// The plane within an area and those that take from it, in cells: inside the area or not (even-odd), and in any of the
/// others. Decided exactly; only the corners where outlines cross are rounded. Source: constrained Delaunay
/// triangulation with exact intersections (CGAL 2D Triangulations).
[[nodiscard]] std::vector<Cell> cellsOf(const Outline& area, const std::vector<Outline>& others);

} // namespace wendrix::geometry
