#include "core/geometry/plane_cells.h"

#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Constrained_triangulation_face_base_2.h>
#include <CGAL/Exact_predicates_exact_constructions_kernel.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_face_base_with_info_2.h>

#include <algorithm>
#include <optional>

namespace wendrix::geometry {

namespace {

using ExactKernel = CGAL::Exact_predicates_exact_constructions_kernel;
using ExactPoint = ExactKernel::Point_2;
using Edges = std::vector<std::array<ExactPoint, 2>>;

const ExactPoint& exact(const ExactPoint& p) { return p; }
ExactPoint exact(const CGAL::Exact_predicates_inexact_constructions_kernel::Point_2& p) { return {p.x(), p.y()}; }

/// Whether a place that lies on none of the edges lies inside; exact.
bool holds(const Edges& outline, const ExactPoint& p)
{
    bool isInside = false;
    for (const auto& [a, b] : outline) {
        const bool isAbove = CGAL::compare_y(a, p) == CGAL::LARGER,
                   isOtherAbove = CGAL::compare_y(b, p) == CGAL::LARGER;
        if (isAbove != isOtherAbove && (CGAL::orientation(a, b, p) == CGAL::LEFT_TURN) == isOtherAbove)
            isInside = !isInside;
    }
    return isInside;
}

/// The triangulation in one kernel. @tparam Crossing  what becomes of outlines that cross
template <class Kernel, class Crossing>
class Plane {
    using FaceBase = CGAL::Constrained_triangulation_face_base_2<
        Kernel, CGAL::Triangulation_face_base_with_info_2<std::optional<CellState>, Kernel>>;
    using Cdt = CGAL::Constrained_Delaunay_triangulation_2<
        Kernel, CGAL::Triangulation_data_structure_2<CGAL::Triangulation_vertex_base_2<Kernel>, FaceBase>, Crossing>;
    using Point = typename Kernel::Point_2;
    using Face = typename Cdt::Face_handle;

public:
    std::vector<Cell> cellsOf(const Outline& area, const std::vector<Outline>& others)
    {
        const Edges whole = insert(area);
        std::vector<Edges> taking;
        for (const Outline& one : others)
            taking.push_back(insert(one));
        for (const Face face : cdt_.finite_face_handles()) {
            if (face->info())
                continue;
            // Also of a sliver, so it must not be rounded.
            const ExactPoint middle = CGAL::centroid(exact(face->vertex(0)->point()), exact(face->vertex(1)->point()),
                                                     exact(face->vertex(2)->point()));
            const bool isTaken =
                std::any_of(taking.begin(), taking.end(), [&](const Edges& one) { return holds(one, middle); });
            spread(face, !holds(whole, middle) ? CellState::Outside : isTaken ? CellState::Taken : CellState::Left);
        }
        std::vector<Cell> cells;
        for (const Face face : cdt_.finite_face_handles()) {
            Cell cell;
            cell.state = *face->info();
            for (int i = 0; i < 3; ++i) {
                const Point& p = face->vertex(i)->point();
                cell.corners[static_cast<std::size_t>(i)] = {CGAL::to_double(p.x()), CGAL::to_double(p.y())};
                // The edge from a corner to the next lies opposite to the one before it.
                cell.beyond[static_cast<std::size_t>(i)] =
                    face->neighbor(Cdt::cw(i))->info().value_or(CellState::Outside);
            }
            cells.push_back(cell);
        }
        return cells;
    }

private:
    Edges insert(const Outline& outline)
    {
        Edges edges;
        for (const auto& [a, b] : outline) {
            edges.push_back({ExactPoint(a.x, a.y), ExactPoint(b.x, b.y)});
            if (a != b)
                cdt_.insert_constraint(Point(a.x, a.y), Point(b.x, b.y));
        }
        return edges;
    }

    /// Gives all cells that hang together with one, without an outline between, its state.
    void spread(const Face& start, CellState state)
    {
        std::vector<Face> queue{start};
        while (!queue.empty()) {
            const Face face = queue.back();
            queue.pop_back();
            if (face->info() || cdt_.is_infinite(face))
                continue;
            face->info() = state;
            for (int i = 0; i < 3; ++i)
                if (!face->is_constrained(i))
                    queue.push_back(face->neighbor(i));
        }
    }

    Cdt cdt_;
};

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
    // Where outlines meet in corners and on edges at most, no number has to be made.
    using Quick = Plane<CGAL::Exact_predicates_inexact_constructions_kernel,
                        CGAL::No_constraint_intersection_requiring_constructions_tag>;
    using Exact = Plane<ExactKernel, CGAL::Exact_intersections_tag>;
    try {
        return Quick().cellsOf(area, others);
    } catch (const std::exception&) { // two of them cross
        return Exact().cellsOf(area, others);
    }
}

} // namespace wendrix::geometry
