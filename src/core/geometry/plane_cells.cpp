#include "core/geometry/plane_cells.h"

#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Constrained_triangulation_face_base_2.h>
#include <CGAL/Exact_predicates_exact_constructions_kernel.h>
#include <CGAL/Triangulation_face_base_with_info_2.h>

#include <algorithm>
#include <optional>

namespace wendrix::geometry {

namespace {

using Kernel = CGAL::Exact_predicates_exact_constructions_kernel;
using FaceBase = CGAL::Constrained_triangulation_face_base_2<Kernel, CGAL::Triangulation_face_base_with_info_2<std::optional<CellState>, Kernel>>;
using Cdt = CGAL::Constrained_Delaunay_triangulation_2<Kernel, CGAL::Triangulation_data_structure_2<CGAL::Triangulation_vertex_base_2<Kernel>, FaceBase>, CGAL::Exact_intersections_tag>;
using ExactOutline = std::vector<std::array<Kernel::Point_2, 2>>;

/// Whether a place that lies on none of the edges lies inside; exact.
bool holds(const ExactOutline& outline, const Kernel::Point_2& p)
{
    bool isInside = false;
    for (const auto& [a, b] : outline) {
        const bool isAbove = CGAL::compare_y(a, p) == CGAL::LARGER, isOtherAbove = CGAL::compare_y(b, p) == CGAL::LARGER;
        if (isAbove != isOtherAbove && (CGAL::orientation(a, b, p) == CGAL::LEFT_TURN) == isOtherAbove)
            isInside = !isInside;
    }
    return isInside;
}

ExactOutline insert(Cdt& cdt, const Outline& outline)
{
    ExactOutline exact;
    for (const auto& [a, b] : outline) {
        exact.push_back({Kernel::Point_2(a.x, a.y), Kernel::Point_2(b.x, b.y)});
        if (exact.back()[0] != exact.back()[1])
            cdt.insert_constraint(exact.back()[0], exact.back()[1]);
    }
    return exact;
}

/// Gives all cells that hang together with one, without an outline between, its state.
void spread(Cdt& cdt, const Cdt::Face_handle& start, CellState state)
{
    std::vector<Cdt::Face_handle> queue{start};
    while (!queue.empty()) {
        const Cdt::Face_handle face = queue.back();
        queue.pop_back();
        if (face->info() || cdt.is_infinite(face))
            continue;
        face->info() = state;
        for (int i = 0; i < 3; ++i)
            if (!face->is_constrained(i))
                queue.push_back(face->neighbor(i));
    }
}

} // namespace

double areaOf(const Outline& outline)
{
    double twice = 0;
    for (const auto& [a, b] : outline) {
        const Point2 o = outline[0][0]; // about a point of its own, so that far ones keep their digits
        twice += (a.x - o.x) * (b.y - o.y) - (a.y - o.y) * (b.x - o.x);
    }
    return twice / 2;
}

std::vector<Cell> cellsOf(const Outline& area, const std::vector<Outline>& others)
{
    Cdt cdt;
    const ExactOutline whole = insert(cdt, area);
    std::vector<ExactOutline> taking;
    for (const Outline& one : others)
        taking.push_back(insert(cdt, one));
    std::vector<Cell> cells;
    for (const Cdt::Face_handle face : cdt.finite_face_handles()) {
        if (face->info())
            continue;
        const auto middle = CGAL::centroid(face->vertex(0)->point(), face->vertex(1)->point(), face->vertex(2)->point());
        const bool isTaken = std::any_of(taking.begin(), taking.end(), [&](const ExactOutline& one) { return holds(one, middle); });
        spread(cdt, face, !holds(whole, middle) ? CellState::Outside : isTaken ? CellState::Taken : CellState::Left);
    }
    for (const Cdt::Face_handle face : cdt.finite_face_handles()) {
        Cell cell;
        cell.state = *face->info();
        for (int i = 0; i < 3; ++i) {
            const auto& p = face->vertex(i)->point();
            cell.corners[static_cast<std::size_t>(i)] = {CGAL::to_double(p.x()), CGAL::to_double(p.y())};
            cell.beyond[static_cast<std::size_t>(i)] = face->neighbor(Cdt::cw(i))->info().value_or(CellState::Outside); // the edge from i on lies opposite to the one before it
        }
        cells.push_back(cell);
    }
    return cells;
}

} // namespace wendrix::geometry
