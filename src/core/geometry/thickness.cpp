#include "core/geometry/thickness.h"

#include "core/geometry/triangle_tree.h"

#include <cmath>
#include <limits>
#include <numeric>

namespace wendrix::geometry {

namespace {

Vector3 normalOf(const std::array<Point3, 3>& t) { return cross(t[1] - t[0], t[2] - t[0]); }

struct Part {
    Mesh mesh;
    std::vector<Point3> points;
    DirectionSet normals;
    std::vector<Vector3> edges;
};

/// The connected parts of a mesh.
std::vector<Part> parts(const Mesh& mesh)
{
    std::vector<std::uint32_t> root(mesh.points.size());
    std::iota(root.begin(), root.end(), 0u);
    const auto find = [&](std::uint32_t i) {
        while (root[i] != i)
            i = root[i] = root[root[i]];
        return i;
    };
    for (const Triangle& t : mesh.triangles) {
        root[find(t[0])] = find(t[1]);
        root[find(t[1])] = find(t[2]);
    }
    std::vector<Part> result;
    std::vector<std::int64_t> partOf(mesh.points.size(), -1);
    for (const Triangle& t : mesh.triangles) {
        std::int64_t& at = partOf[find(t[0])];
        if (at < 0) {
            at = static_cast<std::int64_t>(result.size());
            result.emplace_back();
        }
        Part& part = result[static_cast<std::size_t>(at)];
        const std::array<Point3, 3> corners{mesh.points[t[0]], mesh.points[t[1]], mesh.points[t[2]]};
        part.points.insert(part.points.end(), corners.begin(), corners.end());
        part.mesh.triangles.push_back(t);
        part.normals.add(normalOf(corners));
        for (std::size_t i = 0; i < 3; ++i)
            part.edges.push_back(corners[(i + 1) % 3] - corners[i]);
    }
    return result;
}

double widthOf(Part& part)
{
    // Edge pairs matter for bodies that cross askew; past this many edge directions the body is round and
    // its face normals are close enough together.
    constexpr std::size_t kFewEdges = 40;
    DirectionSet edges;
    for (const Vector3 e : part.edges)
        if (edges.all().size() <= kFewEdges)
            edges.add(e);
    if (edges.all().size() <= kFewEdges)
        for (std::size_t i = 0; i < edges.all().size(); ++i)
            for (std::size_t j = i + 1; j < edges.all().size(); ++j)
                part.normals.add(cross(edges.all()[i], edges.all()[j]));
    return leastWidth(part.points, part.normals.all());
}

} // namespace

void DirectionSet::add(Vector3 direction)
{
    const double l = length(direction);
    if (!(l > 1e-14))
        return;
    const Vector3 n = (1 / l) * direction;
    for (const Vector3 known : directions_)
        if (std::abs(dot(known, n)) > 1 - 1e-12)
            return;
    directions_.push_back(n);
}

double leastWidth(std::span<const Point3> points, std::span<const Vector3> directions)
{
    double least = std::numeric_limits<double>::infinity();
    for (const Vector3 d : directions) {
        double low = std::numeric_limits<double>::infinity(), high = -low;
        for (const Point3 p : points) {
            const double along = dot(d, p);
            low = std::min(low, along);
            high = std::max(high, along);
        }
        least = std::min(least, high - low);
    }
    return points.empty() || directions.empty() ? 0 : least;
}

std::vector<Piece> pieces(const Mesh& mesh)
{
    std::vector<Piece> result;
    for (Part& part : parts(mesh)) {
        part.mesh.points = mesh.points;
        Piece piece{welded(part.mesh, Metres{1e-12}), widthOf(part), {}};
        piece.middle = boundsOf(part.mesh).centre();
        result.push_back(std::move(piece));
    }
    return result;
}

double innerThickness(const Mesh& closed)
{
    const TriangleTree tree(closed);
    double thickest = 0;
    // Off the surface by a hair, so that the ray does not meet the triangle it starts from.
    constexpr double kHair = 1e-9;
    for (std::size_t i = 0; i < closed.triangles.size(); ++i) {
        const auto t = closed.corners(i);
        const Vector3 inward = -normalised(normalOf(t));
        // The middle of a rectangle is the middle of an edge between its two triangles.
        for (const Point3 start :
             {(1.0 / 3) * (t[0] + t[1] + t[2]), 0.5 * (t[0] + t[1]), 0.5 * (t[1] + t[2]), 0.5 * (t[2] + t[0])}) {
            const auto opposite = tree.firstHit(start + kHair * inward, inward);
            if (!opposite || opposite->distance <= thickest)
                continue;
            const Point3 middle = start + (0.5 * (opposite->distance + kHair)) * inward;
            const auto radius = tree.distanceTo(middle, opposite->distance);
            // Skins thinner than the hair let the ray start behind them: such a ball lies outside.
            if (radius && 2 * *radius > thickest && tree.contains(middle))
                thickest = 2 * *radius;
        }
    }
    return thickest;
}

} // namespace wendrix::geometry
