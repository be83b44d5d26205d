#include "core/clash/overlap.h"

#include "core/geometry/boolean.h"
#include "core/geometry/thickness.h"

#include <algorithm>
#include <cmath>

namespace wendrix::clash {

using geometry::Mesh;
using geometry::TriangleTree;

namespace {

Vector3 normalOf(const std::array<Point3, 3>& t) { return cross(t[1] - t[0], t[2] - t[0]); }

/// Where the edges of `t` meet the triangle `s`, borders and touching included.
void addCrossings(const std::array<Point3, 3>& t, const std::array<Point3, 3>& s, std::vector<Point3>& points)
{
    const Vector3 n = normalised(normalOf(s));
    double d[3];
    for (std::size_t i = 0; i < 3; ++i)
        d[i] = dot(n, t[i] - s[0]);
    constexpr double kBorder = 1e-9; // metres-scale bodies: a nanometre, far below any tolerance
    for (std::size_t i = 0; i < 3; ++i) {
        const std::size_t j = (i + 1) % 3;
        if ((d[i] > kBorder && d[j] > kBorder) || (d[i] < -kBorder && d[j] < -kBorder) || d[i] == d[j])
            continue;
        const double f = std::clamp(d[i] / (d[i] - d[j]), 0.0, 1.0);
        const Point3 p = t[i] + f * (t[j] - t[i]);
        bool inside = true;
        for (std::size_t k = 0; k < 3 && inside; ++k) {
            const Vector3 edge = s[(k + 1) % 3] - s[k];
            inside = dot(cross(edge, p - s[k]), n) >= -kBorder * length(edge);
        }
        if (inside)
            points.push_back(p);
    }
}

/// Corners of `a` inside `b`.
void addCornersInside(const TriangleTree& a, const TriangleTree& b, std::vector<Point3>& points)
{
    for (const Point3 p : a.mesh().points)
        if (b.bounds().contains(p) && b.contains(p))
            points.push_back(p);
}

Point3 middle(const std::vector<Point3>& points)
{
    Box3 box;
    for (const Point3 p : points)
        box.add(p);
    return box.centre();
}

/// How far the one body's surface comes into the other, over the corners, edges and faces of a shared piece
/// (given about `origin`); at least half the piece's inner thickness. A thin skin between two surfaces that
/// merely touch has next to none, however far it reaches around.
double penetration(const geometry::Piece& piece, const TriangleTree& a, const TriangleTree& b, Point3 origin)
{
    const double enough = piece.width / 2;
    double deepest = 0.5 * geometry::innerThickness(piece.mesh);
    for (std::size_t i = 0; i < piece.mesh.triangles.size() && deepest < enough; ++i) {
        const auto t = piece.mesh.corners(i);
        for (const Point3 local :
             {t[0], 0.5 * (t[0] + t[1]), 0.5 * (t[1] + t[2]), 0.5 * (t[2] + t[0]), (1.0 / 3) * (t[0] + t[1] + t[2])}) {
            const Point3 p = origin + local;
            for (const TriangleTree* body : {&a, &b})
                deepest = std::max(deepest, body->distanceTo(p, enough).value_or(enough));
        }
    }
    return deepest;
}

/// Bodies far from the origin lose digits in products; both are measured about a place between them.
Mesh about(const Mesh& mesh, Point3 origin) { return geometry::transformed(mesh, Transform::translation(-origin)); }

} // namespace

std::optional<Overlap> overlapOf(const TriangleTree& a, const TriangleTree& b, double tolerance)
{
    std::vector<Point3> points;
    geometry::DirectionSet normals;
    for (const Vector3 axis : {Vector3{1, 0, 0}, Vector3{0, 1, 0}, Vector3{0, 0, 1}})
        normals.add(axis);
    a.tree().overlappingPairs(b.tree(), 1e-9, [&](std::uint32_t i, std::uint32_t j) {
        const auto s = a.mesh().corners(i), t = b.mesh().corners(j);
        const std::size_t before = points.size();
        addCrossings(s, t, points);
        addCrossings(t, s, points);
        if (points.size() > before && normals.all().size() < 64) {
            normals.add(normalOf(s));
            normals.add(normalOf(t));
        }
    });
    addCornersInside(a, b, points);
    addCornersInside(b, a, points);
    if (points.empty() || geometry::leastWidth(points, normals.all()) <= tolerance)
        return {};

    const Point3 origin = middle(points);
    const auto shared =
        geometry::combine(about(a.mesh(), origin), about(b.mesh(), origin), geometry::BooleanKind::Intersection);
    if (!shared)
        return Overlap{geometry::leastWidth(points, normals.all()), origin, true};
    std::optional<Overlap> deepest;
    for (const geometry::Piece& piece : geometry::pieces(*shared)) {
        if (piece.width <= tolerance || (deepest && piece.width <= deepest->depth))
            continue;
        const double depth = std::min(piece.width, 2 * penetration(piece, a, b, origin));
        if (depth > tolerance && (!deepest || depth > deepest->depth))
            deepest = Overlap{depth, origin + piece.middle, false};
    }
    return deepest;
}

} // namespace wendrix::clash
