#include "core/clash/convex.h"

#include "core/geometry/edge_sides.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace wendrix::clash {

namespace {

// Beyond so many, two of them have more directions to look at than trees have steps.
constexpr std::size_t kMostFaces = 80, kMostPoints = 320;
// Files round their coordinates, so faces of four corners are flat to about as much.
constexpr double kFlat = 5e-7, kFlatInSize = 1e-9;

bool isAlong(Vector3 a, Vector3 b, double same) { return length(cross(a, b)) < same; }

void addDirection(std::vector<Vector3>& directions, Vector3 d)
{
    const Vector3 unit = normalised(d);
    const auto isSame = [&](Vector3 other) { return isAlong(other, unit, kFlatInSize); };
    if (length(unit) > 0 && std::none_of(directions.begin(), directions.end(), isSame))
        directions.push_back(unit);
}

struct Extent {
    double low = std::numeric_limits<double>::infinity(), high = -std::numeric_limits<double>::infinity();
};
Extent extentOf(const std::vector<Point3>& points, Vector3 axis)
{
    Extent e;
    for (const Point3& p : points) {
        const double at = dot(axis, p);
        e.low = std::min(e.low, at);
        e.high = std::max(e.high, at);
    }
    return e;
}

/// The ends of the piece of a line inside a convex body.
void addPieceInside(const Point3& p, const Point3& q, const Convex& body, std::vector<Point3>& points)
{
    double from = 0, to = 1;
    for (const Convex::Face& f : body.faces) {
        // What lies on a face is in, whichever way it is rounded.
        constexpr double kRounding = 1e-9;
        const double a = dot(f.normal, p) - f.at - kRounding, b = dot(f.normal, q) - f.at - kRounding;
        if (a > 0 && b > 0)
            return;
        if (a > 0)
            from = std::max(from, a / (a - b));
        else if (b > 0)
            to = std::min(to, a / (a - b));
    }
    if (from < to) {
        points.push_back(p + from * (q - p));
        points.push_back(p + to * (q - p));
    }
}

} // namespace

std::optional<Convex> convexOf(const geometry::Mesh& mesh)
{
    if (mesh.triangles.size() < 4 || mesh.points.size() > kMostPoints)
        return {};
    Convex body;
    const Box3 box = geometry::boundsOf(mesh);
    const double size = length(box.size()), flat = kFlat + kFlatInSize * size;
    if (!(size > 0))
        return {};
    const Point3 o = box.centre();
    // What is not convex shows it at almost any of its faces.
    constexpr std::size_t kSome = 12;
    for (std::size_t i = 0; i < mesh.triangles.size(); i += 1 + mesh.triangles.size() / kSome) {
        const auto t = mesh.corners(i);
        const Vector3 unit = normalised(cross(t[1] - t[0], t[2] - t[0]));
        for (const Point3& p : mesh.points)
            if (dot(unit, p - t[0]) > flat)
                return {};
    }
    std::vector<std::uint32_t> faceOf; // of each triangle
    faceOf.reserve(mesh.triangles.size());
    for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
        const auto t = mesh.corners(i);
        const Vector3 n = cross(t[1] - t[0], t[2] - t[0]);
        if (!(length(n) > 1e-12 * size * size))
            return {}; // a sliver's plane is of no use
        const Vector3 unit = normalised(n);
        const double at = dot(unit, t[0] - o);
        std::size_t k = 0;
        while (k < body.faces.size() &&
               !(dot(body.faces[k].normal, unit) > 0 && isAlong(body.faces[k].normal, unit, flat / size)))
            ++k;
        if (k == body.faces.size()) {
            if (k == kMostFaces)
                return {};
            const bool isFirst = std::none_of(body.faces.begin(), body.faces.end(), [&](const Convex::Face& f) {
                return isAlong(f.normal, unit, kFlatInSize);
            });
            body.faces.push_back({unit, at, isFirst});
        } else if (std::abs(body.faces[k].at - at) > flat) {
            return {}; // two faces that look the same way
        }
        faceOf.push_back(static_cast<std::uint32_t>(k));
    }
    std::vector<char> isUsed(mesh.points.size(), 0);
    for (const geometry::Triangle& t : mesh.triangles)
        for (const std::uint32_t p : t)
            isUsed[p] = 1;
    std::vector<std::uint32_t> number(mesh.points.size(), 0);
    for (std::size_t i = 0; i < mesh.points.size(); ++i) {
        if (!isUsed[i])
            continue;
        for (const Convex::Face& f : body.faces)
            if (dot(f.normal, mesh.points[i] - o) > f.at + flat)
                return {};
        number[i] = static_cast<std::uint32_t>(body.points.size());
        body.points.push_back(mesh.points[i]);
    }
    for (Convex::Face& f : body.faces)
        f.at += dot(f.normal, o);
    const auto sides = geometry::sortedSides(mesh);
    for (std::size_t i = 0; i < sides.size();) {
        std::size_t j = i;
        while (j < sides.size() && sides[j].low == sides[i].low && sides[j].high == sides[i].high)
            ++j;
        if (j - i != 2)
            return {}; // doubled, or torn open
        if (faceOf[sides[i].triangle] != faceOf[sides[i + 1].triangle]) {
            body.lines.push_back({number[sides[i].low], number[sides[i].high]});
            addDirection(body.edges, mesh.points[sides[i].high] - mesh.points[sides[i].low]);
        }
        i = j;
    }
    return body;
}

Convex placed(const Convex& shape, const Transform& at)
{
    Convex result = shape;
    for (Point3& p : result.points)
        p = at.apply(p);
    for (Vector3& e : result.edges)
        e = normalised(at.turn(e));
    // Normals go through the cofactors of the map, which also holds where it stretches or mirrors.
    const Vector3 yz = cross(at.y, at.z), zx = cross(at.z, at.x), xy = cross(at.x, at.y);
    const double sign = at.determinant() < 0 ? -1 : 1;
    for (Convex::Face& f : result.faces) {
        const Vector3 n = normalised(sign * (f.normal.x * yz + f.normal.y * zx + f.normal.z * xy));
        f = {n, dot(n, at.apply(f.at * f.normal)), f.isFirst};
    }
    return result;
}

Shift separationOf(const Convex& a, const Convex& b, double enough)
{
    Shift least{std::numeric_limits<double>::infinity(), {}};
    const auto look = [&](Vector3 axis) {
        const Extent ea = extentOf(a.points, axis), eb = extentOf(b.points, axis);
        const double forth = ea.high - eb.low, back = eb.high - ea.low;
        if (std::min(forth, back) < least.length)
            least = forth <= back ? Shift{forth, axis} : Shift{back, -axis};
        return least.length > enough;
    };
    for (const Convex* body : {&a, &b})
        for (const Convex::Face& f : body->faces)
            if (f.isFirst && !look(f.normal))
                return least;
    for (const Vector3& u : a.edges)
        for (const Vector3& v : b.edges) {
            const Vector3 axis = cross(u, v);
            const double l = length(axis);
            if (l > 1e-7 && !look((1 / l) * axis))
                return least;
        }
    return least;
}

std::vector<Point3> sharedPoints(const Convex& a, const Convex& b)
{
    std::vector<Point3> points;
    for (const auto& [one, other] : {std::pair{&a, &b}, std::pair{&b, &a}})
        for (const auto& [i, j] : one->lines)
            addPieceInside(one->points[i], one->points[j], *other, points);
    return points;
}

} // namespace wendrix::clash
