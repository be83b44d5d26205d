#include "core/clash/triangle_pair.h"

#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>

namespace wendrix::clash {

int exactSideOf(const Point3& a, const Point3& b, const Point3& c, const Point3& d)
{
    using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
    const auto point = [](const Point3& p) { return Kernel::Point_3(p.x, p.y, p.z); };
    return -static_cast<int>(CGAL::orientation(point(a), point(b), point(c), point(d)));
}

int leftOf(const Point3& a, const Point3& b, const Point3& p)
{
    const double one = (a.x - p.x) * (b.y - p.y), other = (a.y - p.y) * (b.x - p.x);
    constexpr double kBound = 3.3306690738754716e-16; // (3 + 16 e) e
    const double error = kBound * (std::abs(one) + std::abs(other));
    if (one - other > error)
        return 1;
    if (one - other < -error)
        return -1;
    using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
    return static_cast<int>(
        CGAL::orientation(Kernel::Point_2(a.x, a.y), Kernel::Point_2(b.x, b.y), Kernel::Point_2(p.x, p.y)));
}

} // namespace wendrix::clash
