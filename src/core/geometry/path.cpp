#include "core/geometry/path.h"

#include <algorithm>

namespace wendrix::geometry {

namespace {

constexpr double kSamePlaceMetres = 1e-7;

/// The curve's direction where it goes the chord's way, within 60 degrees.
Vector3 along(Vector3 curve, Vector3 chord)
{
    const Vector3 straight = normalised(chord);
    return dot(curve, straight) > 0.5 ? curve : straight;
}

} // namespace

void Path::reverse()
{
    std::reverse(points.begin(), points.end());
    std::reverse(in.begin(), in.end());
    std::reverse(out.begin(), out.end());
    std::swap(in, out);
    for (std::vector<Vector3>* directions : {&in, &out})
        for (Vector3& d : *directions)
            d = -d;
}

Vector3 Path::arrivingAt(std::size_t i) const { return along(in[i], points[i] - points[i - 1]); }
Vector3 Path::leavingAt(std::size_t i) const { return along(out[i], points[i + 1] - points[i]); }

std::pair<Point3, Vector3> Path::at(double length) const
{
    for (std::size_t i = 0; i + 1 < points.size(); ++i) {
        const Vector3 chord = points[i + 1] - points[i];
        const double l = wendrix::length(chord);
        if ((length <= l || i + 2 == points.size()) && l > 0) {
            const double f = length / l;
            if (std::abs(length - l) < 1e-6 && i + 2 < points.size())
                return {points[i + 1], normalised(arrivingAt(i + 1) + leavingAt(i + 1))};
            const double within = std::clamp(f, 0.0, 1.0);
            return {points[i] + f * chord, normalised((1 - within) * leavingAt(i) + within * arrivingAt(i + 1))};
        }
        length -= l;
    }
    return {points.empty() ? Point3{} : points.front(), {1, 0, 0}};
}

Path withoutRepeats(const Path& path)
{
    Path kept;
    for (std::size_t i = 0; i < path.points.size(); ++i)
        if (kept.points.empty() || length(path.points[i] - kept.points.back()) > kSamePlaceMetres)
            kept.add(path.points[i], path.in[i], path.out[i]);
        else
            kept.out.back() = path.out[i];
    return kept;
}

} // namespace wendrix::geometry
