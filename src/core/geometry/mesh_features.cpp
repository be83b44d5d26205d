#include "core/geometry/mesh_features.h"

#include "core/geometry/plane_cut.h"

#include <algorithm>
#include <map>
#include <set>

namespace wendrix::geometry {

namespace {

/// The direction in which points are spread most. Source: power iteration, squared.
std::optional<Vector3> longestDirection(const std::vector<Point3>& points)
{
    Point3 mean;
    for (const Point3 p : points)
        mean = mean + p;
    mean = (1.0 / static_cast<double>(points.size())) * mean;
    double m[3][3] = {};
    for (const Point3 p : points) {
        const Vector3 d = p - mean;
        for (int i = 0; i < 3; ++i)
            for (int k = 0; k < 3; ++k)
                m[i][k] += d[i] * d[k];
    }
    for (int round = 0; round < 40; ++round) {
        const double trace = m[0][0] + m[1][1] + m[2][2];
        if (!(trace > 0))
            return {};
        double squared[3][3] = {};
        for (int i = 0; i < 3; ++i)
            for (int k = 0; k < 3; ++k)
                for (int j = 0; j < 3; ++j)
                    squared[i][k] += m[i][j] / trace * (m[j][k] / trace);
        std::copy(&squared[0][0], &squared[0][0] + 9, &m[0][0]);
    }
    Vector3 best;
    for (const auto& row : m)
        if (const Vector3 v{row[0], row[1], row[2]}; length(v) > length(best))
            best = v;
    return length(best) > 0 ? std::optional(normalised(best)) : std::nullopt;
}

/// The middle of the area that a plane cuts out of a mesh.
std::optional<Point3> middleOfSection(const Mesh& mesh, const Plane& plane)
{
    const Mesh fill = filled(cutOutline(mesh, plane), plane);
    Point3 sum;
    double area = 0;
    for (std::size_t i = 0; i < fill.triangles.size(); ++i) {
        const auto c = fill.corners(i);
        const double a = length(cross(c[1] - c[0], c[2] - c[0]));
        sum = sum + (a / 3) * ((c[0] - plane.at) + (c[1] - plane.at) + (c[2] - plane.at));
        area += a;
    }
    return area > 0 ? std::optional(plane.at + (1 / area) * sum) : std::nullopt;
}

} // namespace

std::optional<std::array<Point3, 2>> centreLine(const Mesh& mesh)
{
    constexpr double kLongerThanWide = 1.5, kStraightMetres = 1e-4;
    if (mesh.points.size() < 4)
        return {};
    const auto along = longestDirection(mesh.points);
    if (!along)
        return {};
    const Vector3 x = anyPerpendicular(*along), y = cross(*along, x);
    double low[3] = {1e300, 1e300, 1e300}, high[3] = {-1e300, -1e300, -1e300};
    for (const Point3 p : mesh.points)
        for (int i = 0; i < 3; ++i) {
            const double d = dot(p - mesh.points[0], i == 0 ? x : i == 1 ? y : *along);
            low[i] = std::min(low[i], d);
            high[i] = std::max(high[i], d);
        }
    const double whole = high[2] - low[2];
    if (whole < kLongerThanWide * std::max(high[0] - low[0], high[1] - low[1]))
        return {};
    Point3 middles[3];
    const double shares[3] = {0.12, 0.51, 0.89}; // off the places where pieces tend to meet
    for (int i = 0; i < 3; ++i) {
        const auto middle = middleOfSection(mesh, {mesh.points[0] + (low[2] + shares[i] * whole) * *along, *along});
        if (!middle)
            return {};
        middles[i] = *middle;
    }
    const Vector3 line = normalised(middles[2] - middles[0]);
    const Vector3 off = middles[1] - middles[0];
    if (length(off - dot(off, line) * line) > kStraightMetres)
        return {};
    // On to the ends.
    double first = 1e300, last = -1e300;
    for (const Point3 p : mesh.points) {
        const double d = dot(p - middles[0], line);
        first = std::min(first, d);
        last = std::max(last, d);
    }
    return std::array<Point3, 2>{middles[0] + first * line, middles[0] + last * line};
}

FlatFace flatFace(const Mesh& mesh, std::uint32_t triangle)
{
    constexpr double kFlatMetres = 1e-6, kSameDirection = 1 - 1e-9;
    const auto normalOf = [&](std::uint32_t t) {
        const auto c = mesh.corners(t);
        return cross(c[1] - c[0], c[2] - c[0]);
    };
    FlatFace face;
    face.normal = normalised(normalOf(triangle));
    const Plane plane{mesh.corners(triangle)[0], face.normal};
    // Neighbours by place: bodies put together of parts do not share their points.
    std::map<std::array<std::int64_t, 3>, std::uint32_t> ids;
    const auto idOf = [&](Point3 p) {
        const auto cell = [](double v) { return static_cast<std::int64_t>(std::llround(v * 1e6)); };
        return ids.try_emplace({cell(p.x), cell(p.y), cell(p.z)}, static_cast<std::uint32_t>(ids.size())).first->second;
    };
    struct InPlane {
        std::uint32_t triangle;
        std::array<std::uint32_t, 3> ids;
    };
    std::vector<InPlane> candidates;
    std::map<std::pair<std::uint32_t, std::uint32_t>, std::vector<std::size_t>> byEdge;
    std::size_t start = 0;
    for (std::uint32_t t = 0; t < mesh.triangles.size(); ++t) {
        const Vector3 n = normalOf(t);
        const auto c = mesh.corners(t);
        if (t != triangle &&
            (dot(n, face.normal) < kSameDirection * length(n) || !(length(n) > 0) ||
             std::any_of(c.begin(), c.end(), [&](Point3 p) { return std::abs(plane.distance(p)) > kFlatMetres; })))
            continue;
        if (t == triangle)
            start = candidates.size();
        candidates.push_back({t, {idOf(c[0]), idOf(c[1]), idOf(c[2])}});
        for (std::size_t i = 0; i < 3; ++i) {
            const auto [a, b] = std::minmax(candidates.back().ids[i], candidates.back().ids[(i + 1) % 3]);
            byEdge[{a, b}].push_back(candidates.size() - 1);
        }
    }
    std::set<std::size_t> joined{start};
    std::vector<std::size_t> stack{start};
    while (!stack.empty()) {
        const InPlane one = candidates[stack.back()];
        stack.pop_back();
        for (std::size_t i = 0; i < 3; ++i) {
            const auto [a, b] = std::minmax(one.ids[i], one.ids[(i + 1) % 3]);
            for (const std::size_t other : byEdge[{a, b}])
                if (joined.insert(other).second)
                    stack.push_back(other);
        }
    }
    // Its bounds: edges that only one of the joined triangles has, chained.
    std::map<std::pair<std::uint32_t, std::uint32_t>, int> sides;
    std::map<std::uint32_t, Point3> places;
    for (const std::size_t k : joined) {
        const auto c = mesh.corners(candidates[k].triangle);
        face.area += length(cross(c[1] - c[0], c[2] - c[0])) / 2;
        for (std::size_t i = 0; i < 3; ++i) {
            places[candidates[k].ids[i]] = c[i];
            ++sides[{candidates[k].ids[i], candidates[k].ids[(i + 1) % 3]}];
        }
    }
    std::multimap<std::uint32_t, std::uint32_t> next;
    for (const auto& [side, count] : sides)
        if (!sides.contains({side.second, side.first}))
            next.emplace(side.first, side.second);
    while (!next.empty()) {
        std::vector<Point3> ring;
        const std::uint32_t first = next.begin()->first;
        for (auto at = next.begin(); at != next.end();) {
            ring.push_back(places.at(at->first));
            const std::uint32_t to = at->second;
            next.erase(at);
            at = to == first ? next.end() : next.find(to);
        }
        face.bounds.push_back(std::move(ring));
    }
    const auto extent = [](const std::vector<Point3>& ring) {
        Box3 box;
        for (const Point3 p : ring)
            box.add(p);
        return length(box.size());
    };
    std::stable_sort(face.bounds.begin(), face.bounds.end(),
                     [&](const auto& a, const auto& b) { return extent(a) > extent(b); });
    return face;
}

} // namespace wendrix::geometry
