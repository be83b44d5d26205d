#include "core/base/transform.h"

namespace wendrix {

Transform Transform::inverse() const
{
    const double d = determinant();
    if (d == 0 || !std::isfinite(d))
        return {};
    const double f = 1.0 / d;
    // Rows of the inverse are the cofactor cross products; stored here as columns.
    const Vector3 r0 = f * cross(y, z), r1 = f * cross(z, x), r2 = f * cross(x, y);
    Transform t;
    t.x = {r0.x, r1.x, r2.x};
    t.y = {r0.y, r1.y, r2.y};
    t.z = {r0.z, r1.z, r2.z};
    t.origin = -t.turn(origin);
    return t;
}

Box3 Transform::apply(const Box3& box) const
{
    Box3 result;
    if (box.isEmpty())
        return result;
    for (int corner = 0; corner < 8; ++corner)
        result.add(apply(Point3{corner & 1 ? box.max.x : box.min.x, corner & 2 ? box.max.y : box.min.y,
                                corner & 4 ? box.max.z : box.min.z}));
    return result;
}

Transform Transform::rotationZ(Radians angle)
{
    const double c = std::cos(angle.value), s = std::sin(angle.value);
    return {{c, s, 0}, {-s, c, 0}, {0, 0, 1}, {}};
}

} // namespace wendrix
