#include "core/geometry/polygon.h"

#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Constrained_triangulation_face_base_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Triangulation_face_base_with_info_2.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
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
using Cdt =
    CGAL::Constrained_Delaunay_triangulation_2<Kernel, CGAL::Triangulation_data_structure_2<VertexBase, FaceBase>,
                                               CGAL::No_constraint_intersection_requiring_constructions_tag>;

constexpr double kFarthest = 1e12; // metres

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

/// Counter-clockwise and convex: triangles from side to side, all with area.
std::optional<std::vector<Triangle>> convexTriangles(std::span<const Point2> ring)
{
    const std::size_t n = ring.size();
    if (n < 3)
        return {};
    for (std::size_t i = 0; i < n; ++i) {
        const Point2 a = ring[i], b = ring[(i + 1) % n], c = ring[(i + 2) % n];
        if (!(cross(b - a, c - b) > 0))
            return {};
        // A star turns left everywhere too, but not about its first corner.
        if (i > 0 && i + 1 < n && !(cross(ring[i] - ring[0], ring[i + 1] - ring[0]) > 0))
            return {};
    }
    std::vector<Triangle> triangles;
    triangles.reserve(n - 2);
    std::uint32_t low = 0, high = static_cast<std::uint32_t>(n - 1);
    for (bool fromLow = true; high - low > 1; fromLow = !fromLow)
        if (fromLow) {
            triangles.push_back({low, low + 1, high});
            ++low;
        } else {
            triangles.push_back({low, high - 1, high});
            --high;
        }
    return triangles;
}

/// The ring between a counter-clockwise outline and a clockwise hole of as many corners, where each corner faces
/// its own: a strip of quads. Nothing where the strip would fold over.
std::optional<std::vector<Triangle>> stripTriangles(std::span<const Point2> outer, const Ring& hole)
{
    const std::size_t n = outer.size();
    if (n < 3 || hole.size() != n)
        return {};
    std::size_t facing = 0;
    for (std::size_t i = 1; i < n; ++i)
        if (length(hole[i] - outer[0]) < length(hole[facing] - outer[0]))
            facing = i;
    const auto holeIndex = [&](std::size_t i) { return (facing + n - i % n) % n; };
    std::vector<Triangle> triangles;
    triangles.reserve(2 * n);
    double area = 0;
    for (std::size_t i = 0; i < n; ++i) {
        const std::size_t j = (i + 1) % n, hi = holeIndex(i), hj = holeIndex(j);
        const double first = cross(outer[j] - outer[i], hole[hj] - outer[i]);
        const double second = cross(hole[hj] - outer[i], hole[hi] - outer[i]);
        if (!(first > 0) || !(second > 0))
            return {};
        area += 0.5 * (first + second);
        const auto at = [&](std::size_t k) { return static_cast<std::uint32_t>(n + k); };
        triangles.push_back({static_cast<std::uint32_t>(i), static_cast<std::uint32_t>(j), at(hj)});
        triangles.push_back({static_cast<std::uint32_t>(i), at(hj), at(hi)});
    }
    const double whole = signedArea(outer) + signedArea(hole);
    return std::abs(area - whole) <= 1e-9 * whole ? std::optional(std::move(triangles)) : std::nullopt;
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

int segmentsOfCircle(double radius, const Fineness& fineness)
{
    const auto rounded = [&](double n) { // to quarters, so that a circle reaches its bounds
        return 4 * static_cast<int>(std::ceil(std::max(n, static_cast<double>(fineness.leastSegments)) / 4 - 1e-9));
    };
    if (!(radius > 0) || !std::isfinite(radius))
        return rounded(0);
    const double sagitta = std::min(fineness.chordMetres, radius * fineness.chordOfRadius);
    const double half = 2 * std::asin(std::sqrt(sagitta / (2 * radius))); // acos(1 - s/r) without losing digits
    // A bound for files that hold circles as large as the earth.
    return rounded(std::min(std::numbers::pi / half, 200'000.0));
}

int segmentsOfEllipse(double a, double b, const Fineness& fineness)
{
    a = std::abs(a);
    b = std::abs(b);
    const double larger = std::max(a, b), smaller = std::min(a, b);
    const int round = segmentsOfCircle(larger, fineness);
    // At the sharp end the radius is b²/a, and a step dt leaves it by (a/b)² dt²/8 of that.
    const double slender = smaller > 0 ? std::min(larger / smaller, 50.0) : 1;
    const int sharp =
        static_cast<int>(std::ceil(2 * std::numbers::pi * slender / std::sqrt(8 * fineness.chordOfRadius) / 4)) * 4;
    return slender > 1.0001 ? std::max(round, sharp) : round;
}

std::vector<Point2> arcPoints(Point2 centre, double radius, Radians from, Radians sweep, const Fineness& fineness)
{
    const double turn = std::abs(sweep.value) / (2 * std::numbers::pi);
    const int n = std::max(1, static_cast<int>(std::ceil(turn * segmentsOfCircle(radius, fineness) - 1e-9)));
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

namespace {

constexpr double kStraightMetres = 1e-10;

bool isCollinear(Point2 a, Point2 b, Point2 c)
{
    const Point2 d = c - a;
    const double l = length(d);
    // Only in between: a spike that runs out and back is no straight line.
    return l > kStraightMetres && std::abs(cross(b - a, d)) <= kStraightMetres * l && dot(b - a, d) > 0 &&
           dot(c - b, d) > 0;
}

std::size_t collinearCorners(const Ring& ring)
{
    std::size_t count = 0;
    const std::size_t n = ring.size();
    for (std::size_t i = 0; i < n; ++i)
        count += isCollinear(ring[(i + n - 1) % n], ring[i], ring[(i + 1) % n]) ? 1 : 0;
    return count;
}

} // namespace

std::size_t dropCollinear(Ring& ring)
{
    if (collinearCorners(ring) == 0)
        return 0;
    Ring kept;
    for (std::size_t i = 0; i < ring.size(); ++i) {
        const Point2 before = kept.empty() ? ring.back() : kept.back();
        if (!isCollinear(before, ring[i], i + 1 < ring.size() ? ring[i + 1] : kept.empty() ? ring[0] : kept[0]))
            kept.push_back(ring[i]);
    }
    if (kept.size() < 3)
        return 0;
    const std::size_t dropped = ring.size() - kept.size();
    ring = std::move(kept);
    return dropped;
}

std::optional<std::vector<Triangle>> triangulate(std::span<const Point2> outer, std::span<const Ring> holes)
{
    if (holes.empty())
        if (auto triangles = convexTriangles(outer))
            return triangles;
    if (holes.size() == 1)
        if (auto triangles = stripTriangles(outer, holes[0]))
            return triangles;
    // Exact predicates do not know infinity, and lose their exponents far before it.
    const auto isFar = [](Point2 p) { return !(std::abs(p.x) < kFarthest) || !(std::abs(p.y) < kFarthest); };
    if (std::any_of(outer.begin(), outer.end(), isFar) ||
        std::any_of(holes.begin(), holes.end(), [&](const Ring& h) { return std::any_of(h.begin(), h.end(), isFar); }))
        return {};
    Cdt cdt;
    std::uint32_t next = 0;
    // An edge that is run along twice is a bridge to a hole: it bounds nothing.
    std::vector<Cdt::Vertex_handle> vertexOf; // by point, as numbered
    std::map<std::pair<std::uint32_t, std::uint32_t>, bool> isBoundary;
    const auto insert = [&](std::span<const Point2> ring) {
        const std::uint32_t first = next;
        for (const Point2 p : ring) {
            const std::size_t before = cdt.number_of_vertices();
            const Cdt::Vertex_handle v = cdt.insert(Kernel::Point_2(p.x, p.y));
            if (cdt.number_of_vertices() > before)
                v->info() = next;
            ++next;
            vertexOf.push_back(v);
        }
        for (std::uint32_t i = first; i < next; ++i) {
            const std::uint32_t a = vertexOf[i]->info(), b = vertexOf[i + 1 < next ? i + 1 : first]->info();
            if (a != b) {
                bool& boundary = isBoundary[std::minmax(a, b)];
                boundary = !boundary;
            }
        }
    };
    insert(outer);
    for (const Ring& hole : holes)
        insert(hole);
    try {
        for (const auto& [edge, boundary] : isBoundary)
            if (boundary)
                cdt.insert_constraint(vertexOf[edge.first], vertexOf[edge.second]);
    } catch (const Cdt::Intersection_of_constraints_exception&) {
        return {};
    }
    if (cdt.dimension() < 2)
        return {};
    markLevels(cdt);
    std::vector<Triangle> triangles;
    for (const Cdt::Face_handle face : cdt.finite_face_handles())
        if (face->info().level % 2 == 1)
            triangles.push_back({face->vertex(0)->info(), face->vertex(1)->info(), face->vertex(2)->info()});
    if (triangles.empty())
        return {};
    return triangles;
}

std::optional<FaceRepairs> addFace(Mesh& mesh, std::vector<std::vector<std::uint32_t>> loops)
{
    FaceRepairs repairs;
    if (loops.empty() || loops[0].size() < 3)
        return {};
    if (loops.size() == 1 && loops[0].size() == 3) {
        mesh.triangles.push_back({loops[0][0], loops[0][1], loops[0][2]});
        const Vector3 n = newellNormal(mesh.points, loops[0]);
        repairs.isFlat = !(length(n) > 0);
        return repairs;
    }
    std::erase_if(loops, [](const auto& loop) { return loop.size() < 3; });
    if (loops.size() > 1) {
        const auto largest = std::max_element(loops.begin(), loops.end(), [&](const auto& a, const auto& b) {
            return length(newellNormal(mesh.points, a)) < (1 - 1e-9) * length(newellNormal(mesh.points, b));
        });
        repairs.isSwapped = largest != loops.begin();
        std::iter_swap(loops.begin(), largest);
    }
    const Vector3 normal = newellNormal(mesh.points, loops[0]);
    const double size = std::sqrt(length(normal));
    if (!(length(normal) > 1e-18)) {
        repairs.isFlat = true;
        for (std::size_t i = 1; i + 1 < loops[0].size(); ++i)
            mesh.triangles.push_back({loops[0][0], loops[0][i], loops[0][i + 1]});
        return repairs;
    }
    const Vector3 z = normalised(normal), x = anyPerpendicular(z), y = cross(z, x);
    const Point3 o = mesh.points[loops[0][0]];
    std::vector<std::uint32_t> index;
    double leaves = 0;
    const auto flat = [&](const std::vector<std::uint32_t>& loop) {
        Ring ring;
        ring.reserve(loop.size());
        for (const std::uint32_t i : loop) {
            const Vector3 d = mesh.points[i] - o;
            leaves = std::max(leaves, std::abs(dot(d, z)));
            ring.push_back({dot(d, x), dot(d, y)});
            index.push_back(i);
        }
        return ring;
    };
    const Ring outer = flat(loops[0]);
    std::vector<Ring> holes;
    for (std::size_t i = 1; i < loops.size(); ++i)
        holes.push_back(flat(loops[i]));
    repairs.collinear = collinearCorners(outer);
    for (const Ring& hole : holes)
        repairs.collinear += collinearCorners(hole);
    const auto triangles = triangulate(outer, holes);
    if (!triangles)
        return {};
    for (const Triangle& t : *triangles)
        mesh.triangles.push_back({index[t[0]], index[t[1]], index[t[2]]});
    repairs.isNonPlanar = leaves > std::max(1e-3, 1e-3 * size);
    return repairs;
}

} // namespace wendrix::geometry
