#include "core/clash/triangle_pair.h"

#include "core/geometry/triangle_tree.h"

#include <algorithm>
#include <limits>

namespace wendrix::clash {

namespace {

/// What lies on a plane counts as above it.
int above(const Point3& a, const Point3& b, const Point3& c, const Point3& d)
{
    return sideOf(a, b, c, d) > 0 ? 1 : -1;
}

using Sides = std::array<int, 3>;
Sides sidesOf(const Corners& plane, const Corners& t)
{
    return {above(plane[0], plane[1], plane[2], t[0]), above(plane[0], plane[1], plane[2], t[1]),
            above(plane[0], plane[1], plane[2], t[2])};
}
bool isOnOneSide(const Sides& s) { return s[0] == s[1] && s[1] == s[2]; }

/// Whether the line from p to q, whose ends lie on both sides of the triangle's plane, goes through it.
bool goesThrough(const Point3& p, const Point3& q, const Corners& t)
{
    const int first = above(p, q, t[0], t[1]);
    return first == above(p, q, t[1], t[2]) && first == above(p, q, t[2], t[0]);
}

Vector3 normalOf(const Corners& t) { return cross(t[1] - t[0], t[2] - t[0]); }

/// Where the line from p to q meets the triangle's plane.
Point3 placeOn(const Point3& p, const Point3& q, const Corners& t)
{
    const Vector3 n = normalOf(t);
    const double dp = dot(n, p - t[0]), dq = dot(n, q - t[0]);
    const double f = dp != dq ? std::clamp(dp / (dp - dq), 0.0, 1.0) : 0.5;
    return p + f * (q - p);
}

struct Range {
    double low = std::numeric_limits<double>::infinity(), high = -std::numeric_limits<double>::infinity();
    void add(double v)
    {
        low = std::min(low, v);
        high = std::max(high, v);
    }
};

Range rangeOf(const Corners& t, Vector3 axis)
{
    const double a = dot(axis, t[0]), b = dot(axis, t[1]), c = dot(axis, t[2]);
    return {std::min({a, b, c}), std::max({a, b, c})};
}

} // namespace

std::optional<Crossing> crossingOf(const Corners& a, const Corners& b)
{
    const Sides ofB = sidesOf(a, b);
    if (isOnOneSide(ofB))
        return {};
    const Sides ofA = sidesOf(b, a);
    if (isOnOneSide(ofA))
        return {};
    std::array<Point3, 4> places;
    std::size_t count = 0;
    const auto look = [&](const Corners& edges, const Sides& sides, const Corners& plane) {
        for (std::size_t i = 0; i < 3; ++i) {
            const std::size_t j = (i + 1) % 3;
            if (sides[i] != sides[j] && count < places.size() && goesThrough(edges[i], edges[j], plane))
                places[count++] = placeOn(edges[i], edges[j], plane);
        }
    };
    look(b, ofB, a);
    look(a, ofA, b);
    if (count == 0)
        return {};
    Crossing crossing{places[0], places[0]};
    for (std::size_t i = 1; i < count; ++i)
        if (length(places[i] - places[0]) > length(crossing.to - crossing.from))
            crossing.to = places[i];
    return crossing;
}

Shift leastShift(std::span<const Point3> a, std::span<const Point3> b)
{
    Shift least{std::numeric_limits<double>::infinity(), {}};
    // About a corner: far from the origin the products would lose what is looked for.
    const Point3 o = a[0];
    const auto rangeAlong = [&](std::span<const Point3> face, Vector3 axis) {
        Range range;
        for (const Point3& p : face)
            range.add(dot(axis, p - o));
        return range;
    };
    const auto look = [&](Vector3 axis) {
        const double l = length(axis);
        if (!(l > 1e-14))
            return true;
        const Range ra = rangeAlong(a, axis), rb = rangeAlong(b, axis);
        const double forth = (ra.high - rb.low) / l, back = (rb.high - ra.low) / l;
        if (std::min(forth, back) < least.length)
            least = forth <= back ? Shift{forth, (1 / l) * axis} : Shift{back, (-1 / l) * axis};
        return least.length > 0;
    };
    for (const std::span<const Point3> face : {a, b})
        if (!look(cross(face[1] - face[0], face[2] - face[0])))
            return least;
    for (std::size_t i = 0; i < a.size(); ++i)
        for (std::size_t j = 0; j < b.size(); ++j)
            if (!look(cross(normalised(a[(i + 1) % a.size()] - a[i]), normalised(b[(j + 1) % b.size()] - b[j]))))
                return least;
    return least;
}

Shift leastShift(const Corners& a, const Corners& b)
{
    return leastShift(std::span<const Point3>(a), std::span<const Point3>(b));
}

std::optional<Stretch> meetingAlong(const Corners& a, const Corners& b, Vector3 along)
{
    // Seen along the way, most do not even overlap.
    const Vector3 side = anyPerpendicular(along), up = cross(along, side);
    for (const Vector3& axis : {side, up}) {
        const Range ra = rangeOf(a, axis), rb = rangeOf(b, axis);
        if (ra.low > rb.high || rb.low > ra.high)
            return {};
    }
    Range range;
    // A corner of one against the other's face.
    const auto corners = [&](const Corners& moved, const Corners& face, double sign) {
        const Vector3 n = normalOf(face);
        const double rate = sign * dot(n, along), size = length(n);
        if (!(std::abs(rate) > 1e-12 * size))
            return;
        for (const Point3& p : moved) {
            const double t = dot(n, face[0] - p) / rate;
            const Point3 at = p + (sign * t) * along;
            bool isInside = true;
            for (std::size_t i = 0; i < 3 && isInside; ++i)
                isInside = dot(cross(face[(i + 1) % 3] - face[i], at - face[i]), n) >= -1e-12 * size * size;
            if (isInside)
                range.add(t);
        }
    };
    corners(b, a, 1);
    corners(a, b, -1);
    // An edge against an edge: p + s u = q + r v + t along.
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t j = 0; j < 3; ++j) {
            const Vector3 u = a[(i + 1) % 3] - a[i], v = b[(j + 1) % 3] - b[j], w = b[j] - a[i];
            const Vector3 n = cross(u, v);
            const double rate = dot(n, along);
            if (!(std::abs(rate) > 1e-12 * length(n)))
                continue;
            const double t = -dot(n, w) / rate;
            const Vector3 d = w + t * along; // s u - r v = d
            const double square = dot(n, n);
            const double s = dot(cross(d, v), n) / square, r = dot(cross(d, u), n) / square;
            constexpr double kEnd = 1e-12;
            if (s >= -kEnd && s <= 1 + kEnd && r >= -kEnd && r <= 1 + kEnd)
                range.add(t);
        }
    if (range.low > range.high)
        return {};
    return Stretch{range.low, range.high};
}

std::optional<Near> nearestOf(const Corners& a, const Corners& b, double squaredReach)
{
    // Where one goes through the other's middle, neither corners nor edges are near.
    if (areNear(a, b, 0))
        if (const auto crossing = crossingOf(a, b))
            return Near{crossing->from, crossing->from, 0};
    std::optional<Near> best;
    double least = squaredReach;
    const auto take = [&](const Point3& p, const Point3& q) {
        const double squared = dot(p - q, p - q);
        if (squared <= least) {
            least = squared;
            best = Near{p, q, squared};
        }
    };
    // A corner and a face, an edge or a corner; farther from the plane than the best it is not nearer to the face.
    const Vector3 na = normalOf(a), nb = normalOf(b);
    const double na2 = dot(na, na), nb2 = dot(nb, nb);
    for (const Point3& p : a)
        if (const double h = dot(nb, p - b[0]); h * h <= least * nb2)
            take(p, geometry::nearestPoint(p, b));
    for (const Point3& p : b)
        if (const double h = dot(na, p - a[0]); h * h <= least * na2)
            take(geometry::nearestPoint(p, a), p);
    // The middles of two edges, which are as far apart as their lines.
    for (std::size_t i = 0; i < 3; ++i) {
        const Vector3 u = a[(i + 1) % 3] - a[i];
        for (std::size_t j = 0; j < 3; ++j) {
            const Vector3 v = b[(j + 1) % 3] - b[j], n = cross(u, v), w = b[j] - a[i];
            const double h = dot(n, w), n2 = dot(n, n);
            if (!(n2 > 0) || h * h > least * n2)
                continue;
            const double s = dot(cross(w, v), n) / n2, r = dot(cross(w, u), n) / n2;
            if (s > 0 && s < 1 && r > 0 && r < 1)
                take(a[i] + s * u, b[j] + r * v);
        }
    }
    return best;
}

} // namespace wendrix::clash
