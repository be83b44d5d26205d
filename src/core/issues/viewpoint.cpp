#include "core/issues/viewpoint.h"

#include <cmath>

namespace wendrix::issues {

Viewpoint transformed(const Viewpoint& viewpoint, const Transform& t)
{
    Viewpoint v = viewpoint;
    const double scale = std::cbrt(std::abs(t.determinant()));
    const auto along = [&](Vector3 direction) { return normalised(t.turn(direction)); };
    for (std::optional<Camera>* camera : {&v.camera, &v.second})
        if (*camera) {
            (*camera)->eye = t.apply((*camera)->eye);
            (*camera)->direction = along((*camera)->direction);
            (*camera)->up = along((*camera)->up);
            (*camera)->viewHeightMetres *= scale;
            (*camera)->distanceMetres *= scale;
        }
    for (ClippingPlane& p : v.planes)
        p = {t.apply(p.location), along(p.direction)};
    for (Line& line : v.lines)
        line = {t.apply(line.from), t.apply(line.to)};
    for (Bitmap& b : v.bitmaps) {
        b.location = t.apply(b.location);
        b.normal = along(b.normal);
        b.up = along(b.up);
        b.heightMetres *= scale;
    }
    return v;
}

} // namespace wendrix::issues
