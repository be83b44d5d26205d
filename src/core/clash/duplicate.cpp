#include "core/clash/duplicate.h"

#include <algorithm>
#include <cmath>

namespace wendrix::clash {

namespace {

Box3 boundsOf(const Body& body)
{
    Box3 box;
    for (const PlacedPart& part : body.parts) {
        box.add(part.bounds().middle - part.bounds().half);
        box.add(part.bounds().middle + part.bounds().half);
    }
    return box;
}

struct Amount {
    double area = 0, volume = 0;
};
Amount amountOf(const Body& body)
{
    Amount amount;
    for (const PlacedPart& part : body.parts) {
        amount.volume += part.shape().volume() * std::abs(part.at().determinant());
        for (std::uint32_t i = 0; i < part.shape().mesh().triangles.size(); ++i) {
            const Corners t = part.corners(i);
            amount.area += 0.5 * length(cross(t[1] - t[0], t[2] - t[0]));
        }
    }
    return amount;
}

/// The farthest that places of one surface are from the other; nothing where one is farther than `reach`.
std::optional<double> farthest(const Body& one, const Body& other, double reach)
{
    double worst = 0;
    const auto isNear = [&](const Point3& p) {
        std::optional<double> nearest;
        for (const PlacedPart& part : other.parts)
            if (const auto d = part.distanceTo(p, nearest.value_or(reach)))
                nearest = d;
        worst = std::max(worst, nearest.value_or(0));
        return nearest.has_value();
    };
    for (const PlacedPart& part : one.parts) {
        for (std::uint32_t i = 0; i < part.shape().mesh().points.size(); ++i)
            if (!isNear(part.point(i)))
                return {};
        for (std::uint32_t i = 0; i < part.shape().mesh().triangles.size(); ++i) {
            const Corners t = part.corners(i);
            if (!isNear((1.0 / 3) * (t[0] + t[1] + t[2])) || !isNear(0.5 * (t[0] + t[1])) ||
                !isNear(0.5 * (t[1] + t[2])) || !isNear(0.5 * (t[2] + t[0])))
                return {};
        }
    }
    return worst;
}

} // namespace

std::optional<double> deviationOf(const Body& a, const Body& b, double tolerance)
{
    const double reach = std::max(tolerance, 1e-9);
    const Box3 boxA = boundsOf(a), boxB = boundsOf(b);
    for (int axis = 0; axis < 3; ++axis)
        if (std::abs(boxA.min[axis] - boxB.min[axis]) > reach || std::abs(boxA.max[axis] - boxB.max[axis]) > reach)
            return {};
    // Moving a surface by the tolerance changes the volume by no more than its area times that.
    const Amount ofA = amountOf(a), ofB = amountOf(b);
    if (a.isClosed != b.isClosed ||
        (a.isClosed && std::abs(ofA.volume - ofB.volume) > reach * std::max(ofA.area, ofB.area)))
        return {};
    const auto forth = farthest(a, b, reach);
    const auto back = forth ? farthest(b, a, reach) : std::nullopt;
    return back ? std::optional(std::max(*forth, *back)) : std::nullopt;
}

} // namespace wendrix::clash
