#include "core/geometry/cap.h"

#include <algorithm>
#include <map>

namespace wendrix::geometry {

std::optional<std::unordered_set<std::uint64_t>> openEdges(const std::vector<Triangle>& triangles)
{
    std::unordered_set<std::uint64_t> all;
    all.reserve(3 * triangles.size());
    for (const Triangle& t : triangles)
        for (std::size_t i = 0; i < 3; ++i)
            if (!all.insert(directedEdge(t[i], t[(i + 1) % 3])).second)
                return {};
    std::unordered_set<std::uint64_t> open;
    for (const std::uint64_t e : all)
        if (!all.contains(directedEdge(endOf(e), startOf(e))))
            open.insert(e);
    return open;
}

bool addCap(Mesh& mesh, std::unordered_map<std::uint32_t, std::uint32_t> next, const Plane& plane)
{
    const Transform toPlane = plane.frame().inverse();
    std::map<std::pair<double, double>, std::uint32_t> indices;
    std::vector<Ring> rings;
    while (!next.empty()) {
        Ring ring;
        const std::uint32_t start = next.begin()->first;
        std::uint32_t at = start;
        do {
            const Point3 p = toPlane.apply(mesh.points[at]);
            if (!indices.emplace(std::pair{p.x, p.y}, at).second)
                return false;
            ring.push_back({p.x, p.y});
            const auto found = next.find(at);
            if (found == next.end())
                return false;
            at = found->second;
            next.erase(found);
        } while (at != start);
        rings.push_back(std::move(ring));
    }
    for (const Area& area : areasOf(std::move(rings))) {
        const auto triangles = triangulate(area.outer, area.holes);
        if (!triangles)
            return false;
        std::vector<std::uint32_t> corners;
        for (const Point2 p : area.outer)
            corners.push_back(indices.at({p.x, p.y}));
        for (const Ring& hole : area.holes)
            for (const Point2 p : hole)
                corners.push_back(indices.at({p.x, p.y}));
        for (const Triangle& t : *triangles)
            mesh.triangles.push_back({corners[t[0]], corners[t[1]], corners[t[2]]});
    }
    return true;
}

bool isClosedAgain(const Mesh& mesh, const Plane& plane)
{
    const auto left = openEdges(mesh.triangles);
    if (!left || !left->empty())
        return false;
    double whole = 0, either = 0;
    for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
        const auto c = mesh.corners(i);
        const double area = dot(cross(c[1] - c[0], c[2] - c[0]), plane.normal);
        whole += area;
        either += std::abs(area);
    }
    const double size = length(boundsOf(mesh).size());
    return std::abs(whole) <= 1e-9 * std::max(either, size * size);
}

} // namespace wendrix::geometry
