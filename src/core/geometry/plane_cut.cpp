#include "core/geometry/plane_cut.h"

#include <algorithm>
#include <unordered_map>

namespace wendrix::geometry {

namespace {

/// An edge of the mesh that crosses the plane; both its triangles meet the plane in the same point of it.
using EdgeKey = std::uint64_t;

EdgeKey keyOf(std::uint32_t a, std::uint32_t b) { return static_cast<EdgeKey>(std::min(a, b)) << 32 | std::max(a, b); }

bool encloses(const Ring& ring, Point2 p)
{
    bool isInside = false;
    for (std::size_t i = 0, j = ring.size() - 1; i < ring.size(); j = i++)
        if ((ring[i].y > p.y) != (ring[j].y > p.y) &&
            p.x < (ring[j].x - ring[i].x) * (p.y - ring[i].y) / (ring[j].y - ring[i].y) + ring[i].x)
            isInside = !isInside;
    return isInside;
}

} // namespace

CutOutline cutOutline(const Mesh& mesh, const Plane& plane)
{
    std::vector<double> away(mesh.points.size());
    for (std::size_t i = 0; i < away.size(); ++i)
        away[i] = plane.distance(mesh.points[i]);
    const auto isBehind = [&](std::uint32_t i) { return away[i] < 0; };

    std::unordered_map<EdgeKey, Point3> places;
    std::unordered_multimap<EdgeKey, EdgeKey> next;
    std::vector<EdgeKey> starts;
    const auto place = [&](std::uint32_t a, std::uint32_t b) {
        const EdgeKey key = keyOf(a, b);
        const auto low = static_cast<std::uint32_t>(key >> 32), high = static_cast<std::uint32_t>(key);
        places.try_emplace(key, mesh.points[low] +
                                    (away[low] / (away[low] - away[high])) * (mesh.points[high] - mesh.points[low]));
        return key;
    };
    for (const Triangle& t : mesh.triangles) {
        const int behind = isBehind(t[0]) + isBehind(t[1]) + isBehind(t[2]);
        if (behind == 0 || behind == 3)
            continue;
        EdgeKey in = 0, out = 0;
        for (int i = 0; i < 3; ++i) {
            const std::uint32_t a = t[static_cast<std::size_t>(i)], b = t[static_cast<std::size_t>((i + 1) % 3)];
            if (isBehind(a) && !isBehind(b))
                out = place(a, b);
            else if (!isBehind(a) && isBehind(b))
                in = place(a, b);
        }
        next.emplace(out, in);
        starts.push_back(out);
    }

    CutOutline outline;
    std::unordered_map<EdgeKey, int> arriving;
    for (const auto& [from, to] : next)
        ++arriving[to];
    // Open lines begin where nothing arrives; what is left then are rings.
    std::stable_partition(starts.begin(), starts.end(), [&](EdgeKey k) { return !arriving.contains(k); });
    for (const EdgeKey start : starts) {
        if (!next.contains(start))
            continue;
        std::vector<Point3> points;
        EdgeKey at = start;
        bool isRing = false;
        for (auto found = next.find(at); found != next.end(); found = next.find(at)) {
            const Point3 p = places.at(at);
            if (points.empty() || length(p - points.back()) > 1e-9)
                points.push_back(p);
            at = found->second;
            next.erase(found);
            if (at == start) {
                isRing = true;
                break;
            }
        }
        if (!isRing)
            points.push_back(places.at(at));
        if (isRing && points.size() > 2)
            outline.rings.push_back(std::move(points));
        else if (!isRing && points.size() > 1)
            outline.lines.push_back(std::move(points));
    }
    return outline;
}

std::vector<Area> areasOf(std::vector<Ring> rings)
{
    for (Ring& ring : rings)
        tidy(ring);
    std::erase_if(rings, [](const Ring& r) { return r.size() < 3 || !(std::abs(signedArea(r)) > 1e-12); });
    std::sort(rings.begin(), rings.end(),
              [](const Ring& a, const Ring& b) { return std::abs(signedArea(a)) > std::abs(signedArea(b)); });
    std::vector<Area> areas;
    std::vector<int> depth(rings.size(), 0), areaOf(rings.size(), -1);
    for (std::size_t i = 0; i < rings.size(); ++i) {
        int host = -1;
        for (std::size_t k = 0; k < i; ++k)
            if (encloses(rings[k], 0.5 * (rings[i][0] + rings[i][1]))) {
                depth[i] = depth[k] + 1;
                host = static_cast<int>(k); // rings go down in size: the last is the innermost
            }
        const bool isHole = depth[i] % 2 == 1;
        if ((signedArea(rings[i]) < 0) != isHole)
            std::reverse(rings[i].begin(), rings[i].end());
        if (isHole) {
            areas[static_cast<std::size_t>(areaOf[static_cast<std::size_t>(host)])].holes.push_back(rings[i]);
        } else {
            areaOf[i] = static_cast<int>(areas.size());
            areas.push_back({rings[i], {}});
        }
    }
    return areas;
}

Mesh filled(const CutOutline& outline, const Plane& plane)
{
    const Transform frame = plane.frame(), toPlane = frame.inverse();
    std::vector<Ring> rings;
    for (const auto& points : outline.rings) {
        Ring ring;
        for (const Point3 p : points) {
            const Point3 flat = toPlane.apply(p);
            ring.push_back({flat.x, flat.y});
        }
        rings.push_back(std::move(ring));
    }
    Mesh mesh;
    for (const Area& area : areasOf(std::move(rings))) {
        const auto triangles = triangulate(area.outer, area.holes);
        if (!triangles)
            continue;
        const auto first = static_cast<std::uint32_t>(mesh.points.size());
        const auto add = [&](const Ring& ring) {
            for (const Point2 p : ring)
                mesh.points.push_back(frame.apply(Point3{p.x, p.y, 0}));
        };
        add(area.outer);
        for (const Ring& hole : area.holes)
            add(hole);
        for (const Triangle& t : *triangles)
            mesh.triangles.push_back({first + t[0], first + t[1], first + t[2]});
    }
    return mesh;
}

} // namespace wendrix::geometry
