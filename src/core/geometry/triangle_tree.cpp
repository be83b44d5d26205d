#include "core/geometry/triangle_tree.h"

#include <cmath>

namespace wendrix::geometry {

namespace {

std::vector<Box3> triangleBoxes(const Mesh& mesh)
{
    std::vector<Box3> boxes(mesh.triangles.size());
    for (std::size_t i = 0; i < boxes.size(); ++i)
        for (const Point3 p : mesh.corners(i))
            boxes[i].add(p);
    return boxes;
}

} // namespace

std::optional<TriangleHit> meet(Point3 origin, Vector3 direction, const std::array<Point3, 3>& t)
{
    const Vector3 e1 = t[1] - t[0], e2 = t[2] - t[0], h = cross(direction, e2);
    const double a = dot(e1, h);
    if (a == 0)
        return {};
    const Vector3 s = origin - t[0];
    const double u = dot(s, h) / a;
    const Vector3 q = cross(s, e1);
    const double v = dot(direction, q) / a;
    constexpr double kEdge = 1e-12; // a hair wider, so that no ray slips between two triangles
    if (u < -kEdge || v < -kEdge || u + v > 1 + kEdge)
        return {};
    const double distance = dot(e2, q) / a;
    if (!(distance >= 0))
        return {};
    return TriangleHit{distance, u, v};
}

Point3 nearestPoint(Point3 p, const std::array<Point3, 3>& t)
{
    const Point3 &a = t[0], &b = t[1], &c = t[2];
    const Vector3 ab = b - a, ac = c - a, ap = p - a;
    const double d1 = dot(ab, ap), d2 = dot(ac, ap);
    if (d1 <= 0 && d2 <= 0)
        return a;
    const Vector3 bp = p - b;
    const double d3 = dot(ab, bp), d4 = dot(ac, bp);
    if (d3 >= 0 && d4 <= d3)
        return b;
    const double vc = d1 * d4 - d3 * d2;
    if (vc <= 0 && d1 >= 0 && d3 <= 0)
        return a + (d1 / (d1 - d3)) * ab;
    const Vector3 cp = p - c;
    const double d5 = dot(ab, cp), d6 = dot(ac, cp);
    if (d6 >= 0 && d5 <= d6)
        return c;
    const double vb = d5 * d2 - d1 * d6;
    if (vb <= 0 && d2 >= 0 && d6 <= 0)
        return a + (d2 / (d2 - d6)) * ac;
    const double va = d3 * d6 - d5 * d4;
    if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0)
        return b + ((d4 - d3) / ((d4 - d3) + (d5 - d6))) * (c - b);
    const double sum = va + vb + vc;
    if (sum == 0)
        return a;
    return a + (vb / sum) * ab + (vc / sum) * ac;
}

TriangleTree::TriangleTree(Mesh mesh) : mesh_(std::move(mesh)), tree_(triangleBoxes(mesh_)), bounds_(tree_.bounds()) {}

std::optional<RayHit> TriangleTree::firstHit(Point3 origin, Vector3 direction) const
{
    std::optional<RayHit> best;
    tree_.alongRay(
        origin, direction, [&] { return best ? best->distance : std::numeric_limits<double>::max(); },
        [&](std::uint32_t i) {
            const auto hit = meet(origin, direction, mesh_.corners(i));
            if (hit && (!best || hit->distance < best->distance))
                best = RayHit{hit->distance, i};
        });
    return best;
}

bool TriangleTree::contains(Point3 point) const
{
    if (!bounds_.contains(point))
        return false;
    // Directions along no likely edge or face; the next one is tried where a ray grazes an edge.
    static constexpr Vector3 kDirections[] = {{0.5773101, 0.2113907, 0.7887102},
                                              {-0.4371023, 0.8121017, 0.3871099},
                                              {0.3010203, -0.6120311, -0.7310417},
                                              {-0.7913021, -0.1231007, 0.5990413},
                                              {0.1171303, 0.3330217, -0.9357019}};
    bool inside = false;
    for (const Vector3 direction : kDirections) {
        bool grazes = false;
        std::size_t crossings = 0;
        tree_.alongRay(
            point, direction, [] { return std::numeric_limits<double>::max(); },
            [&](std::uint32_t i) {
                const auto hit = meet(point, direction, mesh_.corners(i));
                if (!hit)
                    return;
                ++crossings;
                constexpr double kNearEdge = 1e-9;
                grazes = grazes || hit->u < kNearEdge || hit->v < kNearEdge || hit->u + hit->v > 1 - kNearEdge;
            });
        inside = crossings % 2 == 1;
        if (!grazes)
            break;
    }
    return inside;
}

std::optional<double> TriangleTree::distanceTo(Point3 point, double reach) const
{
    double best = reach;
    bool found = false;
    tree_.near(
        point, [&] { return best; },
        [&](std::uint32_t i) {
            const double d = length(nearestPoint(point, mesh_.corners(i)) - point);
            if (d <= best) {
                best = d;
                found = true;
            }
        });
    return found ? std::optional(best) : std::nullopt;
}

} // namespace wendrix::geometry
