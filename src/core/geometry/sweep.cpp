#include "core/geometry/sweep.h"

#include <cmath>
#include <numbers>

namespace wendrix::geometry {

namespace {

std::uint32_t pointCount(const Area& area)
{
    std::size_t n = area.outer.size();
    for (const Ring& hole : area.holes)
        n += hole.size();
    return static_cast<std::uint32_t>(n);
}

template <class Each>
void eachPoint(const Area& area, Each each)
{
    for (const Point2 p : area.outer)
        each(p);
    for (const Ring& hole : area.holes)
        for (const Point2 p : hole)
            each(p);
}

/// Side faces between the copy of the area's points at `low` and the one at `high`.
void addSides(Mesh& mesh, const Area& area, std::uint32_t low, std::uint32_t high)
{
    std::uint32_t first = 0;
    const auto strip = [&](const Ring& ring) {
        const auto n = static_cast<std::uint32_t>(ring.size());
        for (std::uint32_t i = 0; i < n; ++i) {
            const std::uint32_t a = first + i, b = first + (i + 1) % n;
            mesh.triangles.push_back({low + a, low + b, high + b});
            mesh.triangles.push_back({low + a, high + b, high + a});
        }
        first += n;
    };
    strip(area.outer);
    for (const Ring& hole : area.holes)
        strip(hole);
}

void faceOutwards(Mesh& mesh)
{
    if (volumeOf(mesh) < 0)
        turnOver(mesh);
}

} // namespace

std::optional<Mesh> extruded(const Area& area, Vector3 path)
{
    const auto cap = triangulate(area.outer, area.holes);
    if (!cap || !(std::abs(path.z) > 1e-12) || !std::isfinite(length(path)))
        return {};
    Mesh mesh;
    const std::uint32_t n = pointCount(area);
    eachPoint(area, [&](Point2 p) { mesh.points.push_back({p.x, p.y, 0}); });
    eachPoint(area, [&](Point2 p) { mesh.points.push_back(Point3{p.x, p.y, 0} + path); });
    for (const Triangle& t : *cap) {
        mesh.triangles.push_back({t[0], t[2], t[1]});
        mesh.triangles.push_back({n + t[0], n + t[1], n + t[2]});
    }
    addSides(mesh, area, 0, n);
    faceOutwards(mesh);
    return mesh;
}

std::optional<Mesh> revolved(const Area& area, Point3 axisOrigin, Vector3 axisDirection, Radians angle)
{
    constexpr double kFullTurn = 2 * std::numbers::pi;
    const auto cap = triangulate(area.outer, area.holes);
    const Vector3 axis = normalised(axisDirection);
    if (!cap || length(axis) == 0 || !(std::abs(angle.value) > 1e-9) || !std::isfinite(angle.value))
        return {};
    const bool isFull = std::abs(angle.value) >= kFullTurn - 1e-9;
    const double sweep = isFull ? std::copysign(kFullTurn, angle.value) : angle.value;
    double reach = 0;
    eachPoint(area, [&](Point2 p) {
        const Vector3 d = Point3{p.x, p.y, 0} - axisOrigin;
        reach = std::max(reach, length(d - dot(d, axis) * axis));
    });
    const auto steps = static_cast<std::uint32_t>(
        std::max(2.0, std::ceil(std::abs(sweep) / kFullTurn * segmentsOfCircle(reach) - 1e-9)));
    const std::uint32_t n = pointCount(area), copies = isFull ? steps : steps + 1;
    Mesh mesh;
    for (std::uint32_t k = 0; k < copies; ++k) {
        const double a = sweep * k / steps, c = std::cos(a), s = std::sin(a);
        eachPoint(area, [&](Point2 p) { // Rodrigues' rotation about the axis
            const Vector3 d = Point3{p.x, p.y, 0} - axisOrigin;
            mesh.points.push_back(axisOrigin + c * d + s * cross(axis, d) + ((1 - c) * dot(axis, d)) * axis);
        });
    }
    for (std::uint32_t k = 0; k < steps; ++k)
        addSides(mesh, area, k * n, (k + 1) % copies * n);
    if (!isFull)
        for (const Triangle& t : *cap) {
            mesh.triangles.push_back({t[0], t[2], t[1]});
            mesh.triangles.push_back({steps * n + t[0], steps * n + t[1], steps * n + t[2]});
        }
    mesh = welded(mesh, Metres{1e-9}); // points on the axis are one point
    faceOutwards(mesh);
    return mesh;
}

} // namespace wendrix::geometry
