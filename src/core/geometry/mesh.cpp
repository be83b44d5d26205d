#include "core/geometry/mesh.h"

#include "core/geometry/cell_hash.h"
#include "core/geometry/edge_sides.h"
#include "core/geometry/flat_index.h"

#include <algorithm>
#include <cmath>

namespace wendrix::geometry {

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

bool isSomewhere(const Mesh& mesh)
{
    return std::all_of(mesh.points.begin(), mesh.points.end(), [](Point3 p) {
        return std::abs(p.x) < kFarthestMetres && std::abs(p.y) < kFarthestMetres && std::abs(p.z) < kFarthestMetres;
    });
}

bool isClosed(const Mesh& mesh) { return isClosed(sortedSides(mesh)); }

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
    // What is near a point lies in its own cell, seldom in those beside it that its sphere reaches into.
    constexpr double kCell = 16;
    constexpr std::uint32_t kNone = UINT32_MAX;
    const double size = kCell * tolerance.value;
    const auto cellOf = [&](double v) {
        return std::isfinite(v) ? static_cast<std::int64_t>(std::floor(std::clamp(v / size, -4e18, 4e18))) : 0;
    };
    Mesh result;
    FlatIndex<Cell, CellHash> cells; // the last point of each
    cells.reserve(mesh.points.size());
    std::vector<std::uint32_t> to(mesh.points.size()), before; // before: the one before it in its cell
    for (std::size_t i = 0; i < mesh.points.size(); ++i) {
        const Point3 p = mesh.points[i];
        std::array<std::array<std::int64_t, 2>, 3> reach;
        for (std::size_t axis = 0; axis < 3; ++axis) {
            const double v = axis == 0 ? p.x : axis == 1 ? p.y : p.z;
            reach[axis] = {cellOf(v - tolerance.value), cellOf(v + tolerance.value)};
        }
        std::uint32_t found = kNone;
        for (std::int64_t x = reach[0][0]; x <= reach[0][1] && found == kNone; ++x)
            for (std::int64_t y = reach[1][0]; y <= reach[1][1] && found == kNone; ++y)
                for (std::int64_t z = reach[2][0]; z <= reach[2][1] && found == kNone; ++z)
                    for (std::uint32_t k = cells.find({x, y, z}).value_or(kNone); k != kNone && found == kNone;
                         k = before[k])
                        found = length(result.points[k] - p) <= tolerance.value ? k : kNone;
        if (found == kNone) {
            found = static_cast<std::uint32_t>(result.points.size());
            result.points.push_back(p);
            before.push_back(cells.exchange({cellOf(p.x), cellOf(p.y), cellOf(p.z)}, found).value_or(kNone));
        }
        to[i] = found;
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
    const std::vector<EdgeSide> sides = sortedSides(mesh);
    std::vector<Vector3> normals;
    normals.reserve(mesh.triangles.size());
    const double cosine = std::cos(angle.value);
    for (const Triangle& t : mesh.triangles)
        normals.push_back(
            normalised(cross(mesh.points[t[1]] - mesh.points[t[0]], mesh.points[t[2]] - mesh.points[t[0]])));
    std::vector<std::pair<std::uint32_t, std::uint32_t>> found; // triangle and corner of the first side
    eachEdge(sides, [&](std::size_t i, std::size_t j) {
        bool isSharp = j == i + 1;
        for (std::size_t k = i + 1; k < j && !isSharp; ++k)
            isSharp = dot(normals[sides[i].triangle], normals[sides[k].triangle]) < cosine;
        if (isSharp)
            found.emplace_back(sides[i].triangle, sides[i].corner);
    });
    std::sort(found.begin(), found.end()); // in the order of the triangles, as neighbours are near each other in it
    std::vector<std::array<std::uint32_t, 2>> edges;
    edges.reserve(found.size());
    for (const auto& [triangle, corner] : found)
        edges.push_back({mesh.triangles[triangle][corner], mesh.triangles[triangle][(corner + 1) % 3]});
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
