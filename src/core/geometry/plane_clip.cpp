#include "core/geometry/plane_clip.h"

#include "core/geometry/cap.h"

#include <algorithm>

namespace wendrix::geometry {

namespace {

constexpr double kInPlaneMetres = 1e-8;

/// The body's faces behind the plane, cut along it; open there. Points of the plane are told.
class Cutter {
public:
    Cutter(const Mesh& body, const Plane& plane) : body_(body), away_(body.points.size()), side_(body.points.size())
    {
        for (std::size_t i = 0; i < away_.size(); ++i) {
            away_[i] = plane.distance(body.points[i]);
            side_[i] = std::abs(away_[i]) <= kInPlaneMetres ? 0 : away_[i] < 0 ? -1 : 1;
        }
        isAnyBehind = std::find(side_.begin(), side_.end(), -1) != side_.end();
        isAnyBefore = std::find(side_.begin(), side_.end(), 1) != side_.end();
        if (!isAnyBehind || !isAnyBefore)
            return;
        for (std::size_t i = 0; i < body.triangles.size(); ++i)
            add(body.triangles[i], i, plane.normal);
    }

    Mesh mesh;
    std::vector<bool> isInPlane; ///< by point of the mesh
    bool isAnyBehind = false, isAnyBefore = false;

private:
    void add(const Triangle& t, std::size_t index, Vector3 normal)
    {
        const int least = std::min({side_[t[0]], side_[t[1]], side_[t[2]]}),
                  most = std::max({side_[t[0]], side_[t[1]], side_[t[2]]});
        if (least == 0 && most == 0) {
            const auto c = body_.corners(index);
            if (dot(cross(c[1] - c[0], c[2] - c[0]), normal) > 0) // it bounds what is behind
                mesh.triangles.push_back({kept(t[0]), kept(t[1]), kept(t[2])});
            return;
        }
        if (least >= 0)
            return;
        std::vector<std::uint32_t> corners;
        for (std::size_t i = 0; i < 3; ++i) {
            const std::uint32_t a = t[i], b = t[(i + 1) % 3];
            if (side_[a] <= 0)
                corners.push_back(kept(a));
            if (side_[a] * side_[b] < 0)
                corners.push_back(crossing(a, b));
        }
        for (std::size_t i = 2; i < corners.size(); ++i)
            mesh.triangles.push_back({corners[0], corners[i - 1], corners[i]});
    }
    std::uint32_t point(Point3 p, bool isOn)
    {
        mesh.points.push_back(p);
        isInPlane.push_back(isOn);
        return static_cast<std::uint32_t>(mesh.points.size() - 1);
    }
    std::uint32_t kept(std::uint32_t i)
    {
        const auto [at, isNew] = kept_.try_emplace(i, 0);
        if (isNew)
            at->second = point(body_.points[i], side_[i] == 0);
        return at->second;
    }
    std::uint32_t crossing(std::uint32_t a, std::uint32_t b)
    {
        const auto [at, isNew] = crossings_.try_emplace(directedEdge(std::min(a, b), std::max(a, b)), 0);
        if (isNew) {
            const std::uint32_t low = std::min(a, b), high = std::max(a, b);
            const double share = away_[low] / (away_[low] - away_[high]);
            at->second = point(body_.points[low] + share * (body_.points[high] - body_.points[low]), true);
        }
        return at->second;
    }

    const Mesh& body_;
    std::vector<double> away_;
    std::vector<int> side_;
    std::unordered_map<std::uint32_t, std::uint32_t> kept_;
    std::unordered_map<std::uint64_t, std::uint32_t> crossings_;
};

} // namespace

std::optional<Mesh> clippedBehind(const Mesh& body, const Plane& plane)
{
    if (const auto open = openEdges(body.triangles); !open || !open->empty())
        return {};
    Cutter cutter(body, plane);
    if (!cutter.isAnyBefore)
        return body;
    if (!cutter.isAnyBehind)
        return Mesh{};
    Mesh& mesh = cutter.mesh;
    const auto open = openEdges(mesh.triangles);
    if (!open)
        return {};
    // The cap runs along them the other way.
    std::unordered_map<std::uint32_t, std::uint32_t> next;
    for (const std::uint64_t e : *open)
        if (!cutter.isInPlane[startOf(e)] || !cutter.isInPlane[endOf(e)] || !next.emplace(endOf(e), startOf(e)).second)
            return {};
    if (!addCap(mesh, std::move(next), plane) || !isClosedAgain(mesh, plane))
        return {};
    return std::move(mesh);
}

} // namespace wendrix::geometry
