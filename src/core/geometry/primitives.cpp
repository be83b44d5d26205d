#include "core/geometry/primitives.h"

#include "core/geometry/sweep.h"

#include <cmath>
#include <numbers>

namespace wendrix::geometry {

namespace {

Ring circle(double radius, int n)
{
    Ring ring;
    for (int i = 0; i < n; ++i)
        ring.push_back(
            {radius * std::cos(2 * std::numbers::pi * i / n), radius * std::sin(2 * std::numbers::pi * i / n)});
    return ring;
}

/// A ring of points in z = 0 joined to a tip.
Mesh pointed(const Ring& base, Point3 tip)
{
    Mesh mesh;
    const auto n = static_cast<std::uint32_t>(base.size());
    for (const Point2 p : base)
        mesh.points.push_back({p.x, p.y, 0});
    mesh.points.push_back(tip);
    for (std::uint32_t i = 0; i < n; ++i)
        mesh.triangles.push_back({i, (i + 1) % n, n});
    for (std::uint32_t i = 1; i + 1 < n; ++i)
        mesh.triangles.push_back({0, i + 1, i});
    return mesh;
}

} // namespace

Mesh blockMesh(double x, double y, double z)
{
    if (!(x > 0) || !(y > 0) || !(z > 0))
        return {};
    Box3 box;
    box.add(Point3{});
    box.add(Point3{x, y, z});
    return boxMesh(box);
}

Mesh pyramidMesh(double x, double y, double height)
{
    if (!(x > 0) || !(y > 0) || !(height > 0))
        return {};
    return pointed({{0, 0}, {x, 0}, {x, y}, {0, y}}, {x / 2, y / 2, height});
}

Mesh coneMesh(double radius, double height, const Fineness& fineness)
{
    if (!(radius > 0) || !(height > 0))
        return {};
    return pointed(circle(radius, segmentsOfCircle(radius, fineness)), {0, 0, height});
}

Mesh cylinderMesh(double radius, double height, const Fineness& fineness)
{
    if (!(radius > 0) || !(height > 0))
        return {};
    return extruded({circle(radius, segmentsOfCircle(radius, fineness)), {}}, {0, 0, height}).value_or(Mesh{});
}

Mesh sphereMesh(double radius, const Fineness& fineness)
{
    if (!(radius > 0))
        return {};
    Mesh mesh;
    // Half a chord finer than a circle: a sphere loses volume both ways.
    const int around = 2 * segmentsOfCircle(radius, fineness), rings = around / 2;
    mesh.points.push_back({0, 0, -radius});
    for (int k = 1; k < rings; ++k) {
        const double v = std::numbers::pi * k / rings - std::numbers::pi / 2;
        for (const Point2 p : circle(radius * std::cos(v), around))
            mesh.points.push_back({p.x, p.y, radius * std::sin(v)});
    }
    mesh.points.push_back({0, 0, radius});
    const auto n = static_cast<std::uint32_t>(around), last = static_cast<std::uint32_t>(mesh.points.size() - 1);
    for (std::uint32_t i = 0; i < n; ++i) {
        const std::uint32_t j = (i + 1) % n;
        mesh.triangles.push_back({0, 1 + j, 1 + i});
        for (std::uint32_t k = 0; k + 2 < static_cast<std::uint32_t>(rings); ++k) {
            const std::uint32_t a = 1 + k * n, b = a + n;
            mesh.triangles.push_back({a + i, a + j, b + j});
            mesh.triangles.push_back({a + i, b + j, b + i});
        }
        mesh.triangles.push_back({last - n + i, last - n + j, last});
    }
    return mesh;
}

Mesh torusMesh(double majorRadius, double minorRadius, const Fineness& fineness)
{
    if (!(minorRadius > 0) || !(majorRadius > minorRadius))
        return {};
    Area section{circle(minorRadius, segmentsOfCircle(minorRadius, fineness)), {}};
    for (Point2& p : section.outer)
        p.x += majorRadius;
    // Turned about y in the section's plane, then laid down.
    const auto mesh = revolved(section, {0, 0, 0}, {0, 1, 0}, Radians{2 * std::numbers::pi}, fineness);
    return mesh ? transformed(*mesh, {{1, 0, 0}, {0, 0, 1}, {0, -1, 0}, {0, 0, 0}}) : Mesh{};
}

} // namespace wendrix::geometry
