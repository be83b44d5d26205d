#include "core/geometry/path_sweep.h"

#include "core/geometry/sweep.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace wendrix::geometry {

namespace {

std::vector<Point3> withoutRepeats(const std::vector<Point3>& path)
{
    std::vector<Point3> kept;
    for (const Point3 p : path)
        if (kept.empty() || length(p - kept.back()) > 1e-7)
            kept.push_back(p);
    return kept;
}

/// `d` after the turn that takes the unit vector `from` to the unit vector `to`.
Vector3 turnedAlong(Vector3 d, Vector3 from, Vector3 to)
{
    const Vector3 axis = cross(from, to);
    const double cosine = dot(from, to);
    if (cosine < -1 + 1e-9)
        return d;
    return d + cross(axis, d) + (1 / (1 + cosine)) * cross(axis, cross(axis, d));
}

} // namespace

std::optional<Mesh> sweptAlong(const Area& area, const std::vector<Point3>& given, const ReferenceAt& reference)
{
    std::vector<Point3> path = withoutRepeats(given);
    const bool isRing = path.size() > 3 && length(path.front() - path.back()) < 1e-6;
    if (isRing)
        path.pop_back();
    const std::size_t n = path.size();
    if (n < 2)
        return {};
    const std::size_t pieces = isRing ? n : n - 1;
    std::vector<Vector3> along(pieces);
    for (std::size_t i = 0; i < pieces; ++i)
        along[i] = normalised(path[(i + 1) % n] - path[i]);

    std::vector<Transform> frames;
    Vector3 carried = anyPerpendicular(along[0]);
    for (std::size_t i = 0; i < n; ++i) {
        const Vector3 before = i > 0 ? along[i - 1] : isRing ? along[pieces - 1] : along[0];
        const Vector3 after = i < pieces ? along[i] : before;
        if (dot(before, after) < -1 + 1e-6)
            return {};
        const Vector3 tangent = normalised(before + after);
        if (i > 0)
            carried = turnedAlong(carried, before, after);
        Vector3 x = reference ? reference(path[i], tangent) : turnedAlong(carried, after, tangent);
        x = x - dot(x, tangent) * tangent;
        x = length(x) > 1e-9 ? normalised(x) : anyPerpendicular(tangent);
        Transform frame{x, cross(tangent, x), tangent, path[i]};
        // In the mitre plane the section is longer across the fold, by the cosine of half the turn.
        const Vector3 fold = after - before;
        const double half = std::sqrt(0.5 * (1 + std::clamp(dot(before, after), -1.0, 1.0)));
        if (length(fold) > 1e-9 && half > 1e-3) {
            const Vector3 across = normalised(fold - dot(fold, tangent) * tangent);
            const auto stretched = [&](Vector3 d) { return d + ((1 / half - 1) * dot(d, across)) * across; };
            frame.x = stretched(frame.x);
            frame.y = stretched(frame.y);
        }
        frames.push_back(frame);
    }
    if (isRing && !reference) {
        // What carrying the axis once around has turned it by is given back bit by bit.
        const Vector3 back = turnedAlong(carried, along[pieces - 1], along[0]);
        const Vector3 start = anyPerpendicular(along[0]);
        const double twist = std::atan2(dot(cross(back, start), along[0]), dot(back, start));
        for (std::size_t i = 0; i < n; ++i) {
            const double a = twist * static_cast<double>(i) / static_cast<double>(n);
            const Vector3 x = frames[i].x, y = frames[i].y;
            frames[i].x = std::cos(a) * x + std::sin(a) * y;
            frames[i].y = std::cos(a) * y - std::sin(a) * x;
        }
    }
    return lofted(std::vector<Area>(n, area), frames, isRing);
}

std::optional<Mesh> sweptDisk(const std::vector<Point3>& path, double radius, double innerRadius, const Fineness& fineness)
{
    if (!(radius > 0) || innerRadius >= radius)
        return {};
    const int n = segmentsOfCircle(radius, fineness);
    const auto circle = [&](double r) {
        Ring ring;
        for (int i = 0; i < n; ++i)
            ring.push_back({r * std::cos(2 * std::numbers::pi * i / n), r * std::sin(2 * std::numbers::pi * i / n)});
        return ring;
    };
    Area area{circle(radius), {}};
    if (innerRadius > 0) {
        area.holes.push_back(circle(innerRadius));
        std::reverse(area.holes[0].begin(), area.holes[0].end());
    }
    return sweptAlong(area, path);
}

std::vector<Point3> withRoundedCorners(const std::vector<Point3>& given, double radius, const Fineness& fineness)
{
    const std::vector<Point3> path = withoutRepeats(given);
    if (!(radius > 0) || path.size() < 3)
        return path;
    std::vector<Point3> rounded{path.front()};
    for (std::size_t i = 1; i + 1 < path.size(); ++i) {
        const Vector3 in = path[i - 1] - path[i], out = path[i + 1] - path[i];
        const Vector3 a = normalised(in), b = normalised(out);
        const double half = std::acos(std::clamp(dot(a, b), -1.0, 1.0)) / 2;
        if (half > std::numbers::pi / 2 - 1e-6 || half < 1e-6) {
            rounded.push_back(path[i]);
            continue;
        }
        // A piece between two corners is shared by both.
        const double room = std::min(length(in) * (i > 1 ? 0.5 : 1), length(out) * (i + 2 < path.size() ? 0.5 : 1));
        const double r = std::min(radius, room * std::tan(half)), reach = r / std::tan(half);
        const Vector3 bisector = normalised(a + b);
        const Point3 centre = path[i] + (r / std::sin(half)) * bisector;
        const Vector3 x = normalised(path[i] + reach * a - centre);
        const Vector3 y = normalised(-a - dot(-a, x) * x);
        for (const Point2 p : arcPoints({0, 0}, r, Radians{0}, Radians{std::numbers::pi - 2 * half}, fineness))
            rounded.push_back(centre + p.x * x + p.y * y);
    }
    rounded.push_back(path.back());
    return withoutRepeats(rounded);
}

} // namespace wendrix::geometry
