#include "core/geometry/shortest_distance.h"

#include <algorithm>

namespace wendrix::geometry {

namespace {

using Corners = std::array<Point3, 3>;

void take(Nearest& best, Point3 a, Point3 b)
{
    const double d = length(b - a);
    if (d < best.distance)
        best = {a, b, d};
}

void betweenTriangles(const Corners& a, const Corners& b, Nearest& best)
{
    for (std::size_t i = 0; i < 3; ++i) {
        take(best, a[i], nearestPoint(a[i], b));
        take(best, nearestPoint(b[i], a), b[i]);
        for (std::size_t k = 0; k < 3; ++k) {
            const Nearest edges = betweenSegments(a[i], a[(i + 1) % 3], b[k], b[(k + 1) % 3]);
            take(best, edges.a, edges.b);
        }
    }
    const auto pierces = [&](const Corners& lines, const Corners& face) {
        for (std::size_t i = 0; i < 3; ++i) {
            const Vector3 d = lines[(i + 1) % 3] - lines[i];
            const auto hit = meet(lines[i], d, face);
            if (hit && hit->distance <= 1) {
                const Point3 p = lines[i] + hit->distance * d;
                take(best, p, p);
            }
        }
    };
    if (best.distance > 0) {
        pierces(a, b);
        pierces(b, a);
    }
}

/// The corner of `mesh` nearest to the other surface, as a first bound.
void takeCorners(const Mesh& mesh, const TriangleTree& other, bool isSwapped, Nearest& best)
{
    for (const Point3 p : mesh.points)
        other.tree().near(
            p, [&] { return best.distance; },
            [&](std::uint32_t t) {
                const Point3 q = nearestPoint(p, other.mesh().corners(t));
                isSwapped ? take(best, q, p) : take(best, p, q);
            });
}

} // namespace

Nearest betweenSegments(Point3 a0, Point3 a1, Point3 b0, Point3 b1)
{
    const Vector3 d1 = a1 - a0, d2 = b1 - b0, r = a0 - b0;
    const double a = dot(d1, d1), e = dot(d2, d2), f = dot(d2, r), c = dot(d1, r), b = dot(d1, d2);
    const double least = 1e-18;
    double s = 0, t = 0;
    if (a > least && e > least) {
        const double denominator = a * e - b * b;
        s = denominator > least * a * e ? std::clamp((b * f - c * e) / denominator, 0.0, 1.0) : 0.0;
        t = (b * s + f) / e;
        if (t < 0) {
            t = 0;
            s = std::clamp(-c / a, 0.0, 1.0);
        } else if (t > 1) {
            t = 1;
            s = std::clamp((b - c) / a, 0.0, 1.0);
        }
    } else if (a > least) {
        s = std::clamp(-c / a, 0.0, 1.0);
    } else if (e > least) {
        t = std::clamp(f / e, 0.0, 1.0);
    }
    const Point3 p = a0 + s * d1, q = b0 + t * d2;
    return {p, q, length(q - p)};
}

std::optional<Nearest> shortestDistance(const TriangleTree& a, const TriangleTree& b)
{
    if (a.mesh().isEmpty() || b.mesh().isEmpty())
        return {};
    const Point3 p = a.mesh().corners(0)[0], q = b.mesh().corners(0)[0];
    Nearest best{p, q, length(q - p)};
    takeCorners(a.mesh(), b, false, best);
    takeCorners(b.mesh(), a, true, best);
    a.tree().overlappingPairs(b.tree(), best.distance, [&](std::uint32_t i, std::uint32_t k) {
        if (best.distance > 0)
            betweenTriangles(a.mesh().corners(i), b.mesh().corners(k), best);
    });
    return best;
}

} // namespace wendrix::geometry
