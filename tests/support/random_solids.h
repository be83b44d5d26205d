#pragma once

#include "core/base/transform.h"
#include "core/clash/body.h"

#include <cmath>
#include <numbers>
#include <random>

namespace wendrix::test {

struct Random {
    explicit Random(unsigned seed) : engine(seed) {}
    double between(double low, double high) { return std::uniform_real_distribution(low, high)(engine); }
    int number(int low, int high) { return std::uniform_int_distribution(low, high)(engine); }
    Transform turn()
    {
        const Vector3 z = normalised({between(-1, 1), between(-1, 1), between(-1, 1)});
        const Vector3 u = anyPerpendicular(z), v = cross(z, u);
        const double a = between(0, 2 * std::numbers::pi);
        const Vector3 x = std::cos(a) * u + std::sin(a) * v;
        return {x, cross(z, x), z, {}};
    }
    std::mt19937 engine;
};

/// From where to where a body of one part reaches along an axis.
inline std::pair<double, double> extentOf(const clash::Body& body, Vector3 axis)
{
    std::pair<double, double> e{1e9, -1e9};
    for (std::uint32_t k = 0; k < body.parts[0].points(); ++k) {
        const double at = dot(axis, body.parts[0].point(k));
        e = {std::min(e.first, at), std::max(e.second, at)};
    }
    return e;
}
/// How far one has to go along an axis, either way, for their extents to leave each other: past them all bodies are
/// free.
inline double overlapAlong(const clash::Body& a, const clash::Body& b, Vector3 axis)
{
    const auto ea = extentOf(a, axis), eb = extentOf(b, axis);
    return std::min(ea.second - eb.first, eb.second - ea.first);
}

} // namespace wendrix::test
