#pragma once

#include "core/base/box3.h"
#include "core/base/quantity.h"
#include "core/base/vector3.h"

namespace wendrix {

/// An affine map: the images of the axes, and of the origin. Applying is x*X + y*Y + z*Z + origin.
struct Transform {
    Vector3 x{1, 0, 0}, y{0, 1, 0}, z{0, 0, 1};
    Point3 origin{};

    friend bool operator==(const Transform&, const Transform&) = default;

    [[nodiscard]] Point3 apply(Point3 p) const { return origin + turn(p); }
    /// The linear part only: for directions.
    [[nodiscard]] Vector3 turn(Vector3 d) const { return d.x * x + d.y * y + d.z * z; }
    [[nodiscard]] double determinant() const { return dot(x, cross(y, z)); }
    /// The inverse map; a singular one gives the identity, since files do hold scale 0.
    [[nodiscard]] Transform inverse() const;
    [[nodiscard]] Box3 apply(const Box3& box) const;

    [[nodiscard]] static Transform translation(Vector3 t) { return {{1, 0, 0}, {0, 1, 0}, {0, 0, 1}, t}; }
    /// Counter-clockwise about +Z seen from above.
    [[nodiscard]] static Transform rotationZ(Radians angle);
    [[nodiscard]] static Transform scaling(double f) { return {{f, 0, 0}, {0, f, 0}, {0, 0, f}, {}}; }

    /// First `b`, then `a`.
    friend Transform operator*(const Transform& a, const Transform& b)
    {
        return {a.turn(b.x), a.turn(b.y), a.turn(b.z), a.apply(b.origin)};
    }
};

} // namespace wendrix
