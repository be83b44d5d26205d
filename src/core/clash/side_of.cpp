#include "core/clash/triangle_pair.h"

#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>

namespace wendrix::clash {

int sideOf(const Point3& a, const Point3& b, const Point3& c, const Point3& d)
{
    const double adx = a.x - d.x, ady = a.y - d.y, adz = a.z - d.z, bdx = b.x - d.x, bdy = b.y - d.y, bdz = b.z - d.z,
                 cdx = c.x - d.x, cdy = c.y - d.y, cdz = c.z - d.z;
    const double bc = bdx * cdy, cb = cdx * bdy, ca = cdx * ady, ac = adx * cdy, ab = adx * bdy, ba = bdx * ady;
    const double determinant = adz * (bc - cb) + bdz * (ca - ac) + cdz * (ab - ba);
    const double permanent = (std::abs(bc) + std::abs(cb)) * std::abs(adz) +
                             (std::abs(ca) + std::abs(ac)) * std::abs(bdz) +
                             (std::abs(ab) + std::abs(ba)) * std::abs(cdz);
    constexpr double kBound = 7.7715611723761027e-16; // (7 + 56 e) e with e = 2^-53
    const double error = kBound * permanent;
    if (determinant > error)
        return 1;
    if (determinant < -error)
        return -1;
    using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
    const auto point = [](const Point3& p) { return Kernel::Point_3(p.x, p.y, p.z); };
    return -static_cast<int>(CGAL::orientation(point(a), point(b), point(c), point(d)));
}

} // namespace wendrix::clash
