#include "core/geometry/polygon.h"

#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Constrained_triangulation_face_base_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_face_base_with_info_2.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>

#include <cmath>
#include <limits>
#include <numbers>

namespace wendrix::geometry {

namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
struct FaceLevel {
    int level = -1;
};
using VertexBase = CGAL::Triangulation_vertex_base_with_info_2<std::uint32_t, Kernel>;
using FaceBase =
    CGAL::Constrained_triangulation_face_base_2<Kernel, CGAL::Triangulation_face_base_with_info_2<FaceLevel, Kernel>>;
using Cdt = CGAL::Constrained_Delaunay_triangulation_2<
    Kernel, CGAL::Triangulation_data_structure_2<VertexBase, FaceBase>, CGAL::No_constraint_intersection_requiring_constructions_tag>;

/// Odd levels are inside: an even-odd fill, so the orientation of the loops does not matter.
void markLevels(Cdt& cdt)
{
    std::vector<Cdt::Face_handle> border{cdt.infinite_face()};
    for (int level = 0; !border.empty(); ++level) {
        std::vector<Cdt::Face_handle> queue;
        queue.swap(border);
        while (!queue.empty()) {
            const Cdt::Face_handle face = queue.back();
            queue.pop_back();
            if (face->info().level != -1)
                continue;
            face->info().level = level;
            for (int i = 0; i < 3; ++i) {
                const Cdt::Face_handle next = face->neighbor(i);
                if (next->info().level == -1)
                    (face->is_constrained(i) ? border : queue).push_back(next);
            }
        }
    }
}

bool isConvexQuad(const std::array<Point2, 4>& p)
{
    for (std::size_t i = 0; i < 4; ++i)
        if (cross(p[(i + 1) % 4] - p[i], p[(i + 2) % 4] - p[(i + 1) % 4]) <= 0)
            return false;
    return true;
}

/// Newell's normal: twice the area vector of a loop, sound for non-planar and non-convex ones too.
Vector3 newellNormal(const std::vector<Point3>& points, const std::vector<std::uint32_t>& loop)
{
    Vector3 n;
    const Point3 o = points[loop[0]];
    for (std::size_t i = 0; i < loop.size(); ++i)
        n = n + cross(points[loop[i]] - o, points[loop[(i + 1) % loop.size()]] - o);
    return n;
}

} // namespace

double signedArea(std::span<const Point2> ring)
{
    double twice = 0;
    for (std::size_t i = 1; i + 1 < ring.size(); ++i)
        twice += cross(ring[i] - ring[0], ring[i + 1] - ring[0]);
    return twice / 2;
}

int segmentsOfCircle(double radius)
{
    if (!(radius > 0))
        return 24;
    const double sagitta = std::min(1e-3, radius / 100);
    const double half = std::acos(1 - sagitta / radius);
    // Past 720 the file describes a site-wide curve; finer cuts would only cost.
    return std::clamp(static_cast<int>(std::ceil(std::numbers::pi / half)), 24, 720);
}

std::vector<Point2> arcPoints(Point2 centre, double radius, Radians from, Radians sweep)
{
    const double turn = std::abs(sweep.value) / (2 * std::numbers::pi);
    const int n = std::max(1, static_cast<int>(std::ceil(turn * segmentsOfCircle(radius) - 1e-9)));
    std::vector<Point2> points;
    for (int i = 0; i <= n; ++i) {
        const double angle = from.value + sweep.value * i / n;
        points.push_back({centre.x + radius * std::cos(angle), centre.y + radius * std::sin(angle)});
    }
    return points;
}

void tidy(Ring& ring)
{
    Ring kept;
    for (const Point2 p : ring)
        if (kept.empty() || length(p - kept.back()) > 1e-9)
            kept.push_back(p);
    while (kept.size() > 1 && length(kept.front() - kept.back()) <= 1e-9)
        kept.pop_back();
    ring = std::move(kept);
}

std::optional<std::vector<Triangle>> triangulate(std::span<const Point2> outer, std::span<const Ring> holes)
{
    if (holes.empty() && outer.size() == 4) {
        const std::array<Point2, 4> p{outer[0], outer[1], outer[2], outer[3]};
        if (isConvexQuad(p))
            return std::vector<Triangle>{{0, 1, 2}, {0, 2, 3}};
    }
    Cdt cdt;
    std::uint32_t next = 0;
    const auto insert = [&](std::span<const Point2> ring) {
        std::vector<Cdt::Vertex_handle> handles;
        for (const Point2 p : ring) {
            const std::size_t before = cdt.number_of_vertices();
            const Cdt::Vertex_handle v = cdt.insert(Kernel::Point_2(p.x, p.y));
            if (cdt.number_of_vertices() > before)
                v->info() = next;
            ++next;
            handles.push_back(v);
        }
        for (std::size_t i = 0; i < handles.size(); ++i)
            if (handles[i] != handles[(i + 1) % handles.size()])
                cdt.insert_constraint(handles[i], handles[(i + 1) % handles.size()]);
    };
    try {
        insert(outer);
        for (const Ring& hole : holes)
            insert(hole);
    } catch (const Cdt::Intersection_of_constraints_exception&) {
        return {};
    }
    markLevels(cdt);
    std::vector<Triangle> triangles;
    for (const Cdt::Face_handle face : cdt.finite_face_handles())
        if (face->info().level % 2 == 1)
            triangles.push_back({face->vertex(0)->info(), face->vertex(1)->info(), face->vertex(2)->info()});
    if (triangles.empty())
        return {};
    return triangles;
}

bool addFace(Mesh& mesh, const std::vector<std::vector<std::uint32_t>>& loops)
{
    if (loops.empty() || loops[0].size() < 3)
        return false;
    if (loops.size() == 1 && loops[0].size() == 3) {
        mesh.triangles.push_back({loops[0][0], loops[0][1], loops[0][2]});
        return true;
    }
    const Vector3 normal = newellNormal(mesh.points, loops[0]);
    if (!(length(normal) > 0))
        return false;
    const Vector3 z = normalised(normal), x = anyPerpendicular(z), y = cross(z, x);
    const Point3 o = mesh.points[loops[0][0]];
    std::vector<std::uint32_t> index;
    const auto flat = [&](const std::vector<std::uint32_t>& loop) {
        Ring ring;
        for (const std::uint32_t i : loop) {
            const Vector3 d = mesh.points[i] - o;
            ring.push_back({dot(d, x), dot(d, y)});
            index.push_back(i);
        }
        return ring;
    };
    const Ring outer = flat(loops[0]);
    std::vector<Ring> holes;
    for (std::size_t i = 1; i < loops.size(); ++i)
        if (loops[i].size() >= 3)
            holes.push_back(flat(loops[i]));
    const auto triangles = triangulate(outer, holes);
    if (!triangles)
        return false;
    for (const Triangle& t : *triangles)
        mesh.triangles.push_back({index[t[0]], index[t[1]], index[t[2]]});
    return true;
}

} // namespace wendrix::geometry
