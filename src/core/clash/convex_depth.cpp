#include "core/clash/convex_depth.h"

#include "core/geometry/edge_sides.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace wendrix::clash {

namespace {

constexpr double kFlat = 5e-7, kFlatInSize = 1e-9; // as of small convex bodies: files round their coordinates
constexpr double kProven = 1e-7;                   // metres between the two bounds
constexpr int kMostSteps = 2'000;

std::vector<Point3> pointsOf(const PlacedPart& part)
{
    std::vector<Point3> points;
    points.reserve(part.points());
    for (std::uint32_t i = 0; i < part.points(); ++i)
        points.push_back(part.point(i));
    return points;
}

const Point3& farthest(const std::vector<Point3>& points, Vector3 along)
{
    std::size_t best = 0;
    double most = -std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < points.size(); ++i)
        if (const double at = dot(along, points[i]); at > most) {
            most = at;
            best = i;
        }
    return points[best];
}

/// The differences of two convex bodies' points, and a polytope within.
class Expanding {
public:
    Expanding(const std::vector<Point3>& a, const std::vector<Point3>& b) : a_(a), b_(b) {}

    std::optional<Shift> separation()
    {
        if (!begin())
            return {};
        double above = std::numeric_limits<double>::infinity();
        Vector3 along;
        for (int step = 0; step < kMostSteps; ++step) {
            const std::size_t nearest = nearestFace();
            const Face face = faces_[nearest];
            const Vector3 out = support(face.normal);
            const double reach = dot(face.normal, out);
            if (reach < above) { // what both extend along it: moved by so much they are free
                above = reach;
                along = face.normal;
            }
            if (above - face.at <= kProven)
                return face.at > 0 ? std::optional(Shift{above, along}) : std::nullopt;
            if (!grow(out))
                return {};
        }
        return {};
    }

private:
    struct Face {
        std::array<std::uint32_t, 3> corners;
        Vector3 normal; ///< outwards, of length 1
        double at = 0;  ///< its plane, along the normal from the origin
    };

    /// Of the first less the second: moving the second along a vector frees them when it leaves this set.
    [[nodiscard]] Vector3 support(Vector3 along) const { return farthest(a_, along) - farthest(b_, -along); }

    bool begin()
    {
        // The first four that are no corner of the others.
        const auto isApart = [&](Vector3 p) {
            return std::all_of(points_.begin(), points_.end(), [&](Vector3 q) { return length(p - q) > kFlat; });
        };
        for (const Vector3 along : {Vector3{1, 0, 0}, Vector3{-1, 0, 0}, Vector3{0, 1, 0}, Vector3{0, -1, 0},
                                    Vector3{0, 0, 1}, Vector3{0, 0, -1}, Vector3{1, 1, 1}, Vector3{-1, -1, 1}}) {
            const Vector3 p = support(along);
            if (!isApart(p))
                continue;
            if (points_.size() == 2 && length(cross(points_[1] - points_[0], p - points_[0])) < kFlat * kFlat)
                continue;
            if (points_.size() == 3 && std::abs(dot(cross(points_[1] - points_[0], points_[2] - points_[0]),
                                                    p - points_[0])) < kFlat * kFlat * kFlat)
                continue;
            points_.push_back(p);
            if (points_.size() == 4)
                break;
        }
        if (points_.size() < 4)
            return false;
        const bool isTurned = dot(cross(points_[1] - points_[0], points_[2] - points_[0]), points_[3] - points_[0]) > 0;
        if (isTurned)
            std::swap(points_[1], points_[2]);
        return add(0, 1, 2) && add(0, 3, 1) && add(0, 2, 3) && add(1, 3, 2);
    }

    bool add(std::uint32_t i, std::uint32_t j, std::uint32_t k)
    {
        const Vector3 n = cross(points_[j] - points_[i], points_[k] - points_[i]);
        const double l = length(n);
        if (!(l > 0))
            return false;
        const Vector3 unit = (1 / l) * n;
        faces_.push_back({{i, j, k}, unit, dot(unit, points_[i])});
        return true;
    }

    [[nodiscard]] std::size_t nearestFace() const
    {
        return static_cast<std::size_t>(
            std::min_element(faces_.begin(), faces_.end(), [](const Face& x, const Face& y) { return x.at < y.at; }) -
            faces_.begin());
    }

    /// The polytope with one point more: faces that see it give way to those from their rim to it.
    bool grow(Vector3 p)
    {
        std::vector<std::pair<std::uint32_t, std::uint32_t>> rim;
        const auto turn = [&](std::uint32_t from, std::uint32_t to) {
            const auto back = std::find(rim.begin(), rim.end(), std::pair(to, from));
            if (back == rim.end())
                rim.emplace_back(from, to);
            else
                rim.erase(back); // between two that both give way
        };
        const std::size_t before = faces_.size();
        std::erase_if(faces_, [&](const Face& f) {
            if (dot(f.normal, p) - f.at <= 1e-13)
                return false;
            for (std::size_t k = 0; k < 3; ++k)
                turn(f.corners[k], f.corners[(k + 1) % 3]);
            return true;
        });
        if (faces_.size() == before || rim.empty())
            return false;
        const auto number = static_cast<std::uint32_t>(points_.size());
        points_.push_back(p);
        return std::all_of(rim.begin(), rim.end(),
                           [&](const auto& edge) { return add(edge.first, edge.second, number); });
    }

    const std::vector<Point3>&a_, &b_;
    std::vector<Vector3> points_;
    std::vector<Face> faces_;
};

} // namespace

bool isConvexBody(const ShapeIndex& shape)
{
    const geometry::Mesh& mesh = shape.mesh();
    if (!shape.isClosed() || mesh.triangles.size() < 4 || shape.pieces().size() != 1)
        return false;
    const double flat = kFlat + kFlatInSize * length(geometry::boundsOf(mesh).size());
    const auto height = [&](std::uint32_t triangle, std::uint32_t other) {
        const auto t = mesh.corners(triangle);
        const Vector3 n = cross(t[1] - t[0], t[2] - t[0]);
        const double l = length(n);
        if (!(l > 0))
            return 0.0; // a sliver bends nothing
        double most = -std::numeric_limits<double>::infinity();
        for (const Point3& p : mesh.corners(other))
            most = std::max(most, dot((1 / l) * n, p - t[0]));
        return most;
    };
    const auto sides = geometry::sortedSides(mesh);
    std::size_t edges = 0;
    const bool bulges = geometry::allEdges(sides, [&](std::size_t i, std::size_t j) {
        ++edges;
        return j - i == 2 && height(sides[i].triangle, sides[i + 1].triangle) <= flat;
    });
    if (!bulges)
        return false;
    std::vector<char> isUsed(mesh.points.size(), 0);
    for (const geometry::Triangle& t : mesh.triangles)
        for (const std::uint32_t p : t)
            isUsed[p] = 1;
    const auto corners = static_cast<std::size_t>(std::count(isUsed.begin(), isUsed.end(), char{1}));
    return corners + mesh.triangles.size() == edges + 2; // Euler: a ball's surface, not a ring's
}

std::optional<Shift> convexSeparation(const PlacedPart& a, const PlacedPart& b)
{
    const std::vector<Point3> first = pointsOf(a), second = pointsOf(b);
    return Expanding(first, second).separation();
}

} // namespace wendrix::clash
