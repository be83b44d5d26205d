#include "core/geometry/mesh.h"

#include <cmath>
#include <unordered_map>

namespace wendrix::geometry {

namespace {

std::uint64_t edgeKey(std::uint32_t a, std::uint32_t b) { return (static_cast<std::uint64_t>(a) << 32) | b; }

struct CellHash {
    std::size_t operator()(const std::array<std::int64_t, 3>& c) const
    {
        std::uint64_t h = 1469598103934665603ull;
        for (const std::int64_t v : c)
            h = (h ^ static_cast<std::uint64_t>(v)) * 1099511628211ull;
        return h ^ (h >> 29);
    }
};

} // namespace

void Mesh::append(const Mesh& other)
{
    const auto offset = static_cast<std::uint32_t>(points.size());
    points.insert(points.end(), other.points.begin(), other.points.end());
    for (const Triangle& t : other.triangles)
        triangles.push_back({t[0] + offset, t[1] + offset, t[2] + offset});
}

double volumeOf(const Mesh& mesh)
{
    if (mesh.points.empty())
        return 0;
    const Point3 o = mesh.points[0];
    double six = 0;
    for (const Triangle& t : mesh.triangles)
        six += dot(mesh.points[t[0]] - o, cross(mesh.points[t[1]] - o, mesh.points[t[2]] - o));
    return six / 6;
}

double areaOf(const Mesh& mesh)
{
    double twice = 0;
    for (const Triangle& t : mesh.triangles)
        twice += length(cross(mesh.points[t[1]] - mesh.points[t[0]], mesh.points[t[2]] - mesh.points[t[0]]));
    return twice / 2;
}

Point3 centroidOf(const Mesh& mesh)
{
    if (mesh.points.empty())
        return {};
    const Point3 o = mesh.points[0];
    double volume = 0;
    Vector3 sum;
    for (const Triangle& t : mesh.triangles) {
        const Vector3 a = mesh.points[t[0]] - o, b = mesh.points[t[1]] - o, c = mesh.points[t[2]] - o;
        const double six = dot(a, cross(b, c));
        volume += six;
        sum = sum + six * (a + b + c);
    }
    if (std::abs(volume) < 1e-12)
        return boundsOf(mesh).centre();
    return o + (0.25 / volume) * sum;
}

Box3 boundsOf(const Mesh& mesh)
{
    Box3 box;
    for (const Triangle& t : mesh.triangles)
        for (const std::uint32_t i : t)
            box.add(mesh.points[i]);
    return box;
}

bool isClosed(const Mesh& mesh)
{
    std::unordered_map<std::uint64_t, int> sides;
    sides.reserve(mesh.triangles.size() * 3);
    for (const Triangle& t : mesh.triangles)
        for (int i = 0; i < 3; ++i) {
            const std::uint32_t a = t[static_cast<std::size_t>(i)], b = t[static_cast<std::size_t>((i + 1) % 3)];
            if (a < b)
                ++sides[edgeKey(a, b)];
            else
                --sides[edgeKey(b, a)];
        }
    if (mesh.triangles.empty())
        return false;
    for (const auto& [edge, balance] : sides)
        if (balance != 0)
            return false;
    return true;
}

void turnOver(Mesh& mesh)
{
    for (Triangle& t : mesh.triangles)
        std::swap(t[1], t[2]);
}

Mesh transformed(const Mesh& mesh, const Transform& map)
{
    Mesh result = mesh;
    for (Point3& p : result.points)
        p = map.apply(p);
    if (map.determinant() < 0)
        turnOver(result);
    return result;
}

Mesh welded(const Mesh& mesh, Metres tolerance)
{
    Mesh result;
    std::unordered_map<std::array<std::int64_t, 3>, std::uint32_t, CellHash> cells;
    std::vector<std::uint32_t> to(mesh.points.size());
    for (std::size_t i = 0; i < mesh.points.size(); ++i) {
        const Point3 p = mesh.points[i];
        const auto cell = [&](double v) { return static_cast<std::int64_t>(std::floor(v / tolerance.value + 0.5)); };
        const auto [found, isNew] = cells.try_emplace({cell(p.x), cell(p.y), cell(p.z)},
                                                      static_cast<std::uint32_t>(result.points.size()));
        if (isNew)
            result.points.push_back(p);
        to[i] = found->second;
    }
    for (const Triangle& t : mesh.triangles) {
        const Triangle w{to[t[0]], to[t[1]], to[t[2]]};
        if (w[0] != w[1] && w[1] != w[2] && w[2] != w[0])
            result.triangles.push_back(w);
    }
    return result;
}

std::vector<std::array<std::uint32_t, 2>> featureEdges(const Mesh& mesh, Radians angle)
{
    struct Side {
        Vector3 normal;
        int faces = 0;
        bool isSharp = false;
    };
    std::unordered_map<std::uint64_t, Side> sides;
    sides.reserve(mesh.triangles.size() * 2);
    const double cosine = std::cos(angle.value);
    for (const Triangle& t : mesh.triangles) {
        const Vector3 n = normalised(
            cross(mesh.points[t[1]] - mesh.points[t[0]], mesh.points[t[2]] - mesh.points[t[0]]));
        for (std::size_t i = 0; i < 3; ++i) {
            const std::uint32_t a = t[i], b = t[(i + 1) % 3];
            Side& side = sides[a < b ? edgeKey(a, b) : edgeKey(b, a)];
            if (side.faces++ == 0)
                side.normal = n;
            else if (dot(side.normal, n) < cosine)
                side.isSharp = true;
        }
    }
    std::vector<std::array<std::uint32_t, 2>> edges;
    for (const Triangle& t : mesh.triangles) // in the order of the triangles: the same at every run
        for (std::size_t i = 0; i < 3; ++i) {
            const std::uint32_t a = t[i], b = t[(i + 1) % 3];
            Side& side = sides[a < b ? edgeKey(a, b) : edgeKey(b, a)];
            if (side.isSharp || side.faces == 1) {
                edges.push_back({a, b});
                side.isSharp = false;
                side.faces = 2;
            }
        }
    return edges;
}

Mesh boxMesh(const Box3& b)
{
    Mesh m;
    for (int i = 0; i < 8; ++i)
        m.points.push_back({i & 1 ? b.max.x : b.min.x, i & 2 ? b.max.y : b.min.y, i & 4 ? b.max.z : b.min.z});
    m.triangles = {{0, 2, 3}, {0, 3, 1}, {4, 5, 7}, {4, 7, 6}, {0, 1, 5}, {0, 5, 4},
                   {2, 6, 7}, {2, 7, 3}, {0, 4, 6}, {0, 6, 2}, {1, 3, 7}, {1, 7, 5}};
    return m;
}

} // namespace wendrix::geometry
