#pragma once

#include <algorithm>
#include <cmath>

namespace wendrix {

/// A place or a direction in metres; the frame is said where one is stored.
struct Vector3 {
    double x = 0, y = 0, z = 0;

    friend constexpr bool operator==(const Vector3&, const Vector3&) = default;
    friend constexpr Vector3 operator+(Vector3 a, Vector3 b) { return {a.x + b.x, a.y + b.y, a.z + b.z}; }
    friend constexpr Vector3 operator-(Vector3 a, Vector3 b) { return {a.x - b.x, a.y - b.y, a.z - b.z}; }
    friend constexpr Vector3 operator-(Vector3 a) { return {-a.x, -a.y, -a.z}; }
    friend constexpr Vector3 operator*(double f, Vector3 a) { return {f * a.x, f * a.y, f * a.z}; }
    constexpr double operator[](int axis) const { return axis == 0 ? x : axis == 1 ? y : z; }
};
using Point3 = Vector3;

struct Vector2 {
    double x = 0, y = 0;

    friend constexpr bool operator==(const Vector2&, const Vector2&) = default;
    friend constexpr Vector2 operator+(Vector2 a, Vector2 b) { return {a.x + b.x, a.y + b.y}; }
    friend constexpr Vector2 operator-(Vector2 a, Vector2 b) { return {a.x - b.x, a.y - b.y}; }
    friend constexpr Vector2 operator*(double f, Vector2 a) { return {f * a.x, f * a.y}; }
};
using Point2 = Vector2;

[[nodiscard]] constexpr double dot(Vector3 a, Vector3 b) { return a.x * b.x + a.y * b.y + a.z * b.z; }
[[nodiscard]] constexpr Vector3 cross(Vector3 a, Vector3 b)
{
    return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}
[[nodiscard]] constexpr double dot(Vector2 a, Vector2 b) { return a.x * b.x + a.y * b.y; }
[[nodiscard]] constexpr double cross(Vector2 a, Vector2 b) { return a.x * b.y - a.y * b.x; }
[[nodiscard]] inline double length(Vector3 a) { return std::sqrt(dot(a, a)); }
[[nodiscard]] inline double length(Vector2 a) { return std::hypot(a.x, a.y); }

/// The unit vector along `a`; the zero vector stays zero.
[[nodiscard]] inline Vector3 normalised(Vector3 a)
{
    const double l = length(a);
    return l > 0 ? (1.0 / l) * a : a;
}

/// Any unit vector at right angles to the unit vector `a`.
[[nodiscard]] inline Vector3 anyPerpendicular(Vector3 a)
{
    return normalised(cross(a, std::abs(a.z) < 0.9 ? Vector3{0, 0, 1} : Vector3{1, 0, 0}));
}

} // namespace wendrix
