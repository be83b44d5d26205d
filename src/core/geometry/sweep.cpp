#include "core/geometry/sweep.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace wendrix::geometry {

namespace {

std::uint32_t pointCount(const Area& area)
{
    std::size_t n = area.outer.size();
    for (const Ring& hole : area.holes)
        n += hole.size();
    return static_cast<std::uint32_t>(n);
}

template <class Each>
void eachPoint(const Area& area, Each each)
{
    for (const Point2 p : area.outer)
        each(p);
    for (const Ring& hole : area.holes)
        for (const Point2 p : hole)
            each(p);
}

/// Side faces between the copy of the area's points at `low` and the one at `high`.
void addSides(Mesh& mesh, const Area& area, std::uint32_t low, std::uint32_t high)
{
    std::uint32_t first = 0;
    const auto strip = [&](const Ring& ring) {
        const auto n = static_cast<std::uint32_t>(ring.size());
        for (std::uint32_t i = 0; i < n; ++i) {
            const std::uint32_t a = first + i, b = first + (i + 1) % n;
            mesh.triangles.push_back({low + a, low + b, high + b});
            mesh.triangles.push_back({low + a, high + b, high + a});
        }
        first += n;
    };
    strip(area.outer);
    for (const Ring& hole : area.holes)
        strip(hole);
}

/// Outlines that touch themselves have corners that are one point: joined, the solid is closed.
void faceOutwards(Mesh& mesh)
{
    if (!isClosed(mesh))
        mesh = welded(mesh, Metres{1e-9});
    if (volumeOf(mesh) < 0)
        turnOver(mesh);
}

} // namespace

std::optional<Mesh> extruded(const Area& area, Vector3 path)
{
    const auto cap = triangulate(area.outer, area.holes);
    if (!cap || !(std::abs(path.z) > 1e-12) || !std::isfinite(length(path)))
        return {};
    Mesh mesh;
    const std::uint32_t n = pointCount(area);
    eachPoint(area, [&](Point2 p) { mesh.points.push_back({p.x, p.y, 0}); });
    eachPoint(area, [&](Point2 p) { mesh.points.push_back(Point3{p.x, p.y, 0} + path); });
    for (const Triangle& t : *cap) {
        mesh.triangles.push_back({t[0], t[2], t[1]});
        mesh.triangles.push_back({n + t[0], n + t[1], n + t[2]});
    }
    addSides(mesh, area, 0, n);
    faceOutwards(mesh);
    return mesh;
}

std::optional<Mesh> revolved(const Area& area, Point3 axisOrigin, Vector3 axisDirection, Radians angle,
                             const Fineness& fineness)
{
    constexpr double kFullTurn = 2 * std::numbers::pi;
    const auto cap = triangulate(area.outer, area.holes);
    const Vector3 axis = normalised(axisDirection);
    if (!cap || length(axis) == 0 || !(std::abs(angle.value) > 1e-9) || !std::isfinite(angle.value))
        return {};
    const bool isFull = std::abs(angle.value) >= kFullTurn - 1e-9;
    const double sweep = isFull ? std::copysign(kFullTurn, angle.value) : angle.value;
    double reach = 0, nearest = std::numeric_limits<double>::max();
    eachPoint(area, [&](Point2 p) {
        const Vector3 d = Point3{p.x, p.y, 0} - axisOrigin;
        const double away = length(d - dot(d, axis) * axis);
        reach = std::max(reach, away);
        nearest = std::min(nearest, away);
    });
    const auto steps = static_cast<std::uint32_t>(
        std::max(2.0, std::ceil(std::abs(sweep) / kFullTurn * segmentsOfCircle(reach, fineness) - 1e-9)));
    const std::uint32_t n = pointCount(area), copies = isFull ? steps : steps + 1;
    Mesh mesh;
    for (std::uint32_t k = 0; k < copies; ++k) {
        const double a = sweep * k / steps, c = std::cos(a), s = std::sin(a);
        eachPoint(area, [&](Point2 p) { // Rodrigues' rotation about the axis
            const Vector3 d = Point3{p.x, p.y, 0} - axisOrigin;
            mesh.points.push_back(axisOrigin + c * d + s * cross(axis, d) + ((1 - c) * dot(axis, d)) * axis);
        });
    }
    for (std::uint32_t k = 0; k < steps; ++k)
        addSides(mesh, area, k * n, (k + 1) % copies * n);
    if (!isFull)
        for (const Triangle& t : *cap) {
            mesh.triangles.push_back({t[0], t[2], t[1]});
            mesh.triangles.push_back({steps * n + t[0], steps * n + t[1], steps * n + t[2]});
        }
    if (nearest < 1e-9) // what turns on the axis is one point, not a ring of faces without area
        mesh = welded(mesh, Metres{1e-9});
    faceOutwards(mesh);
    return mesh;
}

namespace {

/// Where each corner stands on the way around, 0 to 1.
std::vector<double> shares(const Ring& ring)
{
    std::vector<double> at{0};
    for (std::size_t i = 0; i < ring.size(); ++i)
        at.push_back(at.back() + length(ring[(i + 1) % ring.size()] - ring[i]));
    const double whole = at.back();
    at.pop_back();
    for (double& s : at)
        s = whole > 0 ? s / whole : 0;
    return at;
}

/// The ring with corners added so that it has one at each of `stops`.
Ring withCornersAt(const Ring& ring, const std::vector<double>& own, const std::vector<double>& stops)
{
    Ring result;
    for (const double stop : stops) {
        const auto i =
            static_cast<std::size_t>(std::upper_bound(own.begin(), own.end(), stop + 1e-12) - own.begin()) - 1;
        const double next = i + 1 < own.size() ? own[i + 1] : 1;
        const double f = next > own[i] ? (stop - own[i]) / (next - own[i]) : 0;
        result.push_back(ring[i] + std::clamp(f, 0.0, 1.0) * (ring[(i + 1) % ring.size()] - ring[i]));
    }
    return result;
}

/// Gives two outlines as many corners; corners that stand at the same share of the way are one pair.
void match(Ring& a, Ring& b)
{
    if (a.size() == b.size())
        return;
    const std::vector<double> ofA = shares(a), ofB = shares(b);
    std::vector<double> stops = ofA;
    stops.insert(stops.end(), ofB.begin(), ofB.end());
    std::sort(stops.begin(), stops.end());
    stops.erase(std::unique(stops.begin(), stops.end(), [](double x, double y) { return y - x < 1e-9; }), stops.end());
    a = withCornersAt(a, ofA, stops);
    b = withCornersAt(b, ofB, stops);
}

} // namespace

bool matchCorners(std::vector<Area>& sections)
{
    for (int round = 0; round < 2; ++round) // the second round carries what the last ones added back to the first
        for (std::size_t i = 1; i < sections.size(); ++i) {
            if (sections[i].holes.size() != sections[0].holes.size())
                return false;
            match(sections[i - 1].outer, sections[i].outer);
            for (std::size_t h = 0; h < sections[i].holes.size(); ++h)
                match(sections[i - 1].holes[h], sections[i].holes[h]);
        }
    for (std::size_t i = 1; i < sections.size(); ++i)
        if (pointCount(sections[i]) != pointCount(sections[0]))
            return false;
    return true;
}

Area between(const Area& a, const Area& b, double f)
{
    const auto mixed = [&](const Ring& p, const Ring& q) {
        Ring ring;
        for (std::size_t i = 0; i < p.size(); ++i)
            ring.push_back((1 - f) * p[i] + f * q[i]);
        return ring;
    };
    Area area{mixed(a.outer, b.outer), {}};
    for (std::size_t h = 0; h < a.holes.size(); ++h)
        area.holes.push_back(mixed(a.holes[h], b.holes[h]));
    return area;
}

std::optional<Mesh> lofted(std::span<const Area> given, std::span<const Transform> frames, bool isRing)
{
    std::vector<Area> sections(given.begin(), given.end());
    if (sections.size() < 2 || sections.size() != frames.size() || !matchCorners(sections))
        return {};
    Mesh mesh;
    const std::uint32_t n = pointCount(sections[0]);
    for (std::size_t k = 0; k < sections.size(); ++k)
        eachPoint(sections[k], [&](Point2 p) { mesh.points.push_back(frames[k].apply(Point3{p.x, p.y, 0})); });
    const auto count = static_cast<std::uint32_t>(sections.size());
    for (std::uint32_t k = 0; k + 1 < count; ++k)
        addSides(mesh, sections[0], k * n, (k + 1) * n);
    if (isRing) {
        addSides(mesh, sections[0], (count - 1) * n, 0);
    } else {
        const auto first = triangulate(sections.front().outer, sections.front().holes);
        const auto last = triangulate(sections.back().outer, sections.back().holes);
        if (!first || !last)
            return {};
        for (const Triangle& t : *first)
            mesh.triangles.push_back({t[0], t[2], t[1]});
        for (const Triangle& t : *last)
            mesh.triangles.push_back({(count - 1) * n + t[0], (count - 1) * n + t[1], (count - 1) * n + t[2]});
    }
    faceOutwards(mesh);
    return mesh;
}

std::optional<Mesh> revolvedTapered(const Area& area, const Area& end, Point3 axisOrigin, Vector3 axisDirection,
                                    Radians angle, const Fineness& fineness)
{
    constexpr double kFullTurn = 2 * std::numbers::pi;
    const Vector3 axis = normalised(axisDirection);
    if (length(axis) == 0 || !(std::abs(angle.value) > 1e-9) || !std::isfinite(angle.value))
        return {};
    const double sweep = std::clamp(angle.value, -kFullTurn, kFullTurn);
    std::vector<Area> ends{area, end};
    if (!matchCorners(ends))
        return {};
    double reach = 0;
    for (const Area& a : ends)
        eachPoint(a, [&](Point2 p) {
            const Vector3 d = Point3{p.x, p.y, 0} - axisOrigin;
            reach = std::max(reach, length(d - dot(d, axis) * axis));
        });
    const auto steps = static_cast<std::size_t>(
        std::max(2.0, std::ceil(std::abs(sweep) / kFullTurn * segmentsOfCircle(reach, fineness) - 1e-9)));
    std::vector<Area> sections;
    std::vector<Transform> frames;
    for (std::size_t k = 0; k <= steps; ++k) {
        const double f = static_cast<double>(k) / static_cast<double>(steps), a = sweep * f;
        const auto turned = [&](Vector3 d) {
            return std::cos(a) * d + std::sin(a) * cross(axis, d) + ((1 - std::cos(a)) * dot(axis, d)) * axis;
        };
        sections.push_back(between(ends[0], ends[1], f));
        frames.push_back({turned({1, 0, 0}), turned({0, 1, 0}), turned({0, 0, 1}), axisOrigin - turned(axisOrigin)});
    }
    return lofted(sections, frames);
}

} // namespace wendrix::geometry
