#include "core/geometry/wedge_cut.h"

#include "core/geometry/cap.h"

#include <algorithm>

namespace wendrix::geometry {

namespace {

constexpr double kInPlaneMetres = 1e-8;
constexpr double kLeastSineBetween = 1e-3;

using Next = std::unordered_map<std::uint32_t, std::uint32_t>;

/// A mesh whose triangles are cut along planes, with the side that each point lies on: before (1), behind (-1), in (0).
class SplitMesh {
public:
    SplitMesh(const Mesh& body, const std::array<Plane, 2>& planes) : mesh_(body), planes_(planes)
    {
        for (std::size_t i = 0; i < planes.size(); ++i)
            cut(i);
    }

    [[nodiscard]] const Mesh& mesh() const { return mesh_; }
    [[nodiscard]] int side(std::size_t plane, std::uint32_t point) const { return side_[plane][point]; }
    [[nodiscard]] bool isInBoth(std::uint32_t point) const { return side(0, point) == 0 && side(1, point) == 0; }

    /// Whether the body beside a triangle lies before a plane; of a triangle in it, what it bounds.
    [[nodiscard]] bool isBefore(std::size_t plane, std::size_t triangle) const
    {
        const Triangle& t = mesh_.triangles[triangle];
        for (const std::uint32_t p : t)
            if (side(plane, p) != 0)
                return side(plane, p) > 0;
        const auto c = mesh_.corners(triangle);
        return dot(cross(c[1] - c[0], c[2] - c[0]), planes_[plane].normal) < 0;
    }

private:
    void cut(std::size_t plane)
    {
        std::vector<double> away;
        for (const Point3 p : mesh_.points) {
            away.push_back(planes_[plane].distance(p));
            side_[plane].push_back(std::abs(away.back()) <= kInPlaneMetres ? 0 : away.back() < 0 ? -1 : 1);
        }
        std::unordered_map<std::uint64_t, std::uint32_t> crossings;
        const auto crossing = [&](std::uint32_t a, std::uint32_t b) {
            const auto [low, high] = std::pair{std::min(a, b), std::max(a, b)};
            const auto [at, isNew] =
                crossings.try_emplace(directedEdge(low, high), static_cast<std::uint32_t>(mesh_.points.size()));
            if (isNew) {
                const double share = away[low] / (away[low] - away[high]);
                const Point3 from = mesh_.points[low];
                mesh_.points.push_back(from + share * (mesh_.points[high] - from));
                side_[plane].push_back(0);
                for (std::size_t earlier = 0; earlier < plane; ++earlier) // an edge never runs through one of those
                    side_[earlier].push_back(side_[earlier][low] != 0 ? side_[earlier][low] : side_[earlier][high]);
            }
            return at->second;
        };
        std::vector<Triangle> cutTriangles;
        for (const Triangle& t : mesh_.triangles) {
            std::vector<std::uint32_t> behind, before;
            for (std::size_t i = 0; i < 3; ++i) {
                const std::uint32_t a = t[i], b = t[(i + 1) % 3];
                if (side(plane, a) <= 0)
                    behind.push_back(a);
                if (side(plane, a) >= 0)
                    before.push_back(a);
                if (side(plane, a) * side(plane, b) < 0) {
                    behind.push_back(crossing(a, b));
                    before.push_back(behind.back());
                }
            }
            if (side(plane, t[0]) == 0 && side(plane, t[1]) == 0 && side(plane, t[2]) == 0)
                before.clear(); // it is one triangle, in the plane
            for (const auto* part : {&behind, &before})
                for (std::size_t i = 2; i < part->size(); ++i)
                    cutTriangles.push_back({(*part)[0], (*part)[i - 1], (*part)[i]});
        }
        mesh_.triangles = std::move(cutTriangles);
    }

    Mesh mesh_;
    const std::array<Plane, 2>& planes_;
    std::array<std::vector<std::int8_t>, 2> side_;
};

/// Closes the outlines of one plane that begin and end in the fold along it: where an odd number of them has begun, the
/// cap reaches it.
/// @param along  where on the fold points lie that are in both planes, in its order
/// @return false where they do not pair up
bool closeAlongFold(Next& next, const std::vector<std::pair<double, std::uint32_t>>& along)
{
    std::unordered_set<std::uint32_t> entered;
    for (const auto& [from, to] : next)
        if (!entered.insert(to).second)
            return false;
    std::vector<std::size_t> loose; // where on the fold an outline begins or ends
    std::size_t expected = 0;
    for (const auto& [from, to] : next)
        expected += (entered.contains(from) ? 0u : 1u) + (next.contains(to) ? 0u : 1u);
    for (std::size_t i = 0; i < along.size(); ++i)
        if (entered.contains(along[i].second) != next.contains(along[i].second))
            loose.push_back(i);
    if (loose.size() != expected || loose.size() % 2 != 0)
        return false;
    for (std::size_t k = 0; k + 1 < loose.size(); k += 2) {
        const bool isUp = !next.contains(along[loose[k]].second); // the first of the two is where an outline ends
        if (isUp == !next.contains(along[loose[k + 1]].second))
            return false;
        for (std::size_t i = loose[k]; i < loose[k + 1]; ++i) {
            const std::uint32_t a = along[i].second, b = along[i + 1].second;
            if (!next.emplace(isUp ? a : b, isUp ? b : a).second)
                return false;
        }
    }
    return true;
}

/// Without points that no triangle uses.
Mesh compacted(const Mesh& mesh)
{
    Mesh result;
    std::vector<std::uint32_t> to(mesh.points.size(), UINT32_MAX);
    for (const Triangle& t : mesh.triangles) {
        for (const std::uint32_t i : t)
            if (to[i] == UINT32_MAX) {
                to[i] = static_cast<std::uint32_t>(result.points.size());
                result.points.push_back(mesh.points[i]);
            }
        result.triangles.push_back({to[t[0]], to[t[1]], to[t[2]]});
    }
    return result;
}

} // namespace

std::optional<Mesh> withoutWedge(const Mesh& body, const Plane& one, const Plane& other)
{
    const Vector3 fold = cross(one.normal, other.normal);
    if (const auto open = openEdges(body.triangles); !open || !open->empty() || length(fold) < kLeastSineBetween)
        return {};
    const std::array<Plane, 2> planes{one, other};
    const SplitMesh split(body, planes);
    Mesh left{split.mesh().points, {}};
    for (std::size_t i = 0; i < split.mesh().triangles.size(); ++i)
        if (!split.isBefore(0, i) || !split.isBefore(1, i))
            left.triangles.push_back(split.mesh().triangles[i]);
    if (left.triangles.size() == split.mesh().triangles.size())
        return body;
    if (left.triangles.empty())
        return Mesh{};
    const auto open = openEdges(left.triangles);
    if (!open)
        return {};
    std::array<Next, 2> next; // the caps run along open edges the other way
    std::vector<std::pair<double, std::uint32_t>> along;
    for (const std::uint64_t e : *open) {
        const std::uint32_t from = endOf(e), to = startOf(e);
        for (const std::uint32_t p : {from, to})
            if (split.isInBoth(p))
                along.emplace_back(dot(left.points[p] - one.at, fold), p);
        if (split.isInBoth(from) && split.isInBoth(to))
            continue; // one of the caps comes along here when it is closed
        const auto isOf = [&](std::size_t plane) { return split.side(plane, from) == 0 && split.side(plane, to) == 0; };
        if (isOf(0) == isOf(1) || !next[isOf(0) ? 0 : 1].emplace(from, to).second)
            return {};
    }
    std::sort(along.begin(), along.end());
    along.erase(std::unique(along.begin(), along.end()), along.end());
    for (std::size_t i = 0; i < planes.size(); ++i)
        if (!closeAlongFold(next[i], along) || !addCap(left, next[i], planes[i]))
            return {};
    if (!isClosedAgain(left, one) || !isClosedAgain(left, other))
        return {};
    return compacted(left);
}

} // namespace wendrix::geometry
