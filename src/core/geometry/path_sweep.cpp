#include "core/geometry/path_sweep.h"

#include "core/geometry/sweep.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace wendrix::geometry {

namespace {

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

std::optional<Mesh> sweptAlong(const Area& area, const Path& given, const ReferenceAt& reference)
{
    Path path = withoutRepeats(given);
    const bool isRing = path.points.size() > 3 && length(path.points.front() - path.points.back()) < 1e-6;
    const std::size_t pieces = path.points.size() < 2 ? 0 : path.points.size() - 1;
    const std::size_t n = isRing ? pieces : pieces + 1; // a ring ends where it began
    if (pieces == 0)
        return {};
    std::vector<Vector3> chords(pieces);
    for (std::size_t i = 0; i < pieces; ++i)
        chords[i] = normalised(path.points[i + 1] - path.points[i]);

    std::vector<Transform> frames;
    Vector3 carried = anyPerpendicular(chords[0]);
    for (std::size_t i = 0; i < n; ++i) {
        const bool hasBefore = i > 0 || isRing, hasAfter = i < pieces;
        const Vector3 chordAfter = chords[hasAfter ? i : i - 1], chordBefore = chords[i > 0    ? i - 1
                                                                                      : isRing ? pieces - 1
                                                                                               : 0];
        const Vector3 after = hasAfter ? path.leavingAt(i) : path.arrivingAt(i);
        const Vector3 before = hasBefore ? path.arrivingAt(i > 0 ? i : pieces) : after;
        if (dot(before, after) < -1 + 1e-6 || dot(chordBefore, chordAfter) < -1 + 1e-6)
            return {};
        const Vector3 tangent = normalised(before + after);
        if (i > 0)
            carried = turnedAlong(carried, chordBefore, chordAfter);
        Vector3 x = reference ? reference(path.points[i], tangent) : turnedAlong(carried, chordAfter, tangent);
        x = x - dot(x, tangent) * tangent;
        x = length(x) > 1e-9 ? normalised(x) : anyPerpendicular(tangent);
        Transform frame{x, cross(tangent, x), tangent, path.points[i]};
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
        const Vector3 back = turnedAlong(carried, chords[pieces - 1], chords[0]);
        const Vector3 start = anyPerpendicular(chords[0]);
        const double twist = std::atan2(dot(cross(back, start), chords[0]), dot(back, start));
        for (std::size_t i = 0; i < n; ++i) {
            const double a = twist * static_cast<double>(i) / static_cast<double>(n);
            const Vector3 x = frames[i].x, y = frames[i].y;
            frames[i].x = std::cos(a) * x + std::sin(a) * y;
            frames[i].y = std::cos(a) * y - std::sin(a) * x;
        }
    }
    return lofted(std::vector<Area>(n, area), frames, isRing);
}

namespace {

/// A path of straight pieces with a frame at every place, that keeps from turning about it.
class Way {
public:
    explicit Way(const Path& given) : points_(withoutRepeats(given).points), lengths_{0}
    {
        for (std::size_t i = 0; i + 1 < points_.size(); ++i) {
            const Vector3 d = points_[i + 1] - points_[i];
            lengths_.push_back(lengths_.back() + length(d));
            along_.push_back(normalised(d));
            xs_.push_back(i == 0 ? anyPerpendicular(along_[0]) : turnedAlong(xs_[i - 1], along_[i - 1], along_[i]));
        }
    }

    [[nodiscard]] bool isThere() const { return !along_.empty(); }
    [[nodiscard]] const std::vector<double>& lengths() const { return lengths_; } ///< at its corners

    /// The length at which the way is nearest to a point, not before `from`.
    [[nodiscard]] double nearest(Point3 p, double from) const
    {
        double best = from, least = std::numeric_limits<double>::max();
        for (std::size_t i = 0; i < along_.size(); ++i) {
            if (lengths_[i + 1] < from)
                continue;
            const double first = std::max(0.0, from - lengths_[i]);
            const double at = std::clamp(dot(p - points_[i], along_[i]), first, lengths_[i + 1] - lengths_[i]);
            const double away = length(p - (points_[i] + at * along_[i]));
            if (away < least - 1e-9) {
                least = away;
                best = lengths_[i] + at;
            }
        }
        return best;
    }

    [[nodiscard]] Transform frameAt(double at) const
    {
        const auto next = std::upper_bound(lengths_.begin(), lengths_.end(), at);
        const std::size_t k = std::min(static_cast<std::size_t>(next - lengths_.begin()) - 1, along_.size() - 1);
        if (k > 0 && at - lengths_[k] < kAtCorner)
            return corner(k);
        if (k + 1 < along_.size() && lengths_[k + 1] - at < kAtCorner)
            return corner(k + 1);
        return {xs_[k], cross(along_[k], xs_[k]), along_[k], points_[k] + (at - lengths_[k]) * along_[k]};
    }

    /// A vector at a corner, longer across the fold so that the pieces on both sides keep their size.
    [[nodiscard]] Vector3 mitred(Vector3 d, std::size_t k) const
    {
        const double half = std::sqrt(0.5 * (1 + std::clamp(dot(along_[k - 1], along_[k]), -1.0, 1.0)));
        const Vector3 fold = along_[k] - along_[k - 1];
        if (!(length(fold) > 1e-9) || half < 1e-3)
            return d;
        const Vector3 across = normalised(fold);
        return d + ((1 / half - 1) * dot(d, across)) * across;
    }

private:
    static constexpr double kAtCorner = 1e-6; // metres

    [[nodiscard]] Transform corner(std::size_t k) const
    {
        const Vector3 tangent = normalised(along_[k - 1] + along_[k]);
        if (length(tangent) < 0.5)
            return {xs_[k], cross(along_[k], xs_[k]), along_[k], points_[k]};
        const Vector3 x = turnedAlong(xs_[k], along_[k], tangent);
        return {x, cross(tangent, x), tangent, points_[k]};
    }

    std::vector<Point3> points_;
    std::vector<double> lengths_;
    std::vector<Vector3> along_, xs_;
};

/// A turn and a move between two, `f` of the way; the first where they face each other.
Transform blend(const Transform& a, const Transform& b, double f)
{
    const Vector3 z = (1 - f) * a.z + f * b.z;
    Vector3 x = (1 - f) * a.x + f * b.x;
    if (length(z) < 1e-6)
        return a;
    const Vector3 up = normalised(z);
    x = x - dot(x, up) * up;
    if (length(x) < 1e-6)
        return a;
    x = normalised(x);
    return {x, cross(up, x), up, a.origin + f * (b.origin - a.origin)};
}

} // namespace

std::optional<Mesh> loftedAlong(std::vector<Area> sections, const std::vector<Transform>& frames, const Path& path)
{
    const Way way(path);
    if (!way.isThere() || sections.size() != frames.size() || sections.size() < 2)
        return lofted(sections, frames);
    if (!matchCorners(sections))
        return {};
    std::vector<Area> all{sections[0]};
    std::vector<Transform> at{frames[0]};
    double from = way.nearest(frames[0].origin, 0);
    for (std::size_t i = 1; i < sections.size(); ++i) {
        const double to = way.nearest(frames[i].origin, from);
        const Transform first = way.frameAt(from).inverse() * frames[i - 1],
                        last = way.frameAt(to).inverse() * frames[i];
        for (std::size_t k = 1; k + 1 < way.lengths().size(); ++k) {
            const double s = way.lengths()[k];
            if (s < from + 1e-6 || s > to - 1e-6)
                continue;
            const double f = (s - from) / (to - from);
            const Transform corner = way.frameAt(s), placed = corner * blend(first, last, f);
            all.push_back(between(sections[i - 1], sections[i], f));
            at.push_back({way.mitred(placed.x, k), way.mitred(placed.y, k), placed.z,
                          corner.origin + way.mitred(placed.origin - corner.origin, k)});
        }
        all.push_back(sections[i]);
        at.push_back(frames[i]);
        from = to;
    }
    return lofted(all, at);
}

std::optional<Mesh> sweptDisk(const Path& path, double radius, double innerRadius, const Fineness& fineness)
{
    if (!(radius > 0) || innerRadius >= radius)
        return {};
    const bool isBent = std::any_of(path.in.begin(), path.in.end(), [](Vector3 d) { return dot(d, d) > 0; });
    const int n = segmentsOfCircle(radius, isBent ? fineness.ofBends() : fineness);
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

Path withRoundedCorners(const Path& given, double radius, const Fineness& fineness)
{
    const std::vector<Point3> path = withoutRepeats(given).points;
    if (!(radius > 0) || path.size() < 3)
        return path;
    Path rounded;
    rounded.add(path.front());
    for (std::size_t i = 1; i + 1 < path.size(); ++i) {
        const Vector3 in = path[i - 1] - path[i], out = path[i + 1] - path[i];
        const Vector3 a = normalised(in), b = normalised(out);
        const double half = std::acos(std::clamp(dot(a, b), -1.0, 1.0)) / 2;
        if (half > std::numbers::pi / 2 - 1e-6 || half < 1e-6) {
            rounded.add(path[i]);
            continue;
        }
        // A piece between two corners is shared by both.
        const double room = std::min(length(in) * (i > 1 ? 0.5 : 1), length(out) * (i + 2 < path.size() ? 0.5 : 1));
        const double r = std::min(radius, room * std::tan(half)), reach = r / std::tan(half);
        const Vector3 bisector = normalised(a + b);
        const Point3 centre = path[i] + (r / std::sin(half)) * bisector;
        const Vector3 x = normalised(path[i] + reach * a - centre);
        const Vector3 y = normalised(-a - dot(-a, x) * x);
        for (const Point2 p : arcPoints({0, 0}, r, Radians{0}, Radians{std::numbers::pi - 2 * half}, fineness)) {
            const Vector3 direction = (1 / r) * (p.x * y - p.y * x);
            rounded.add(centre + p.x * x + p.y * y, direction, direction);
        }
    }
    rounded.add(path.back());
    return withoutRepeats(rounded);
}

} // namespace wendrix::geometry
