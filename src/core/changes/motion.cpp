#include "core/changes/motion.h"

#include "core/changes/same_shape.h"
#include "core/geometry/triangle_tree.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace wendrix::changes {

using geometry::Mesh;

namespace {

constexpr double kLeastTurn = 1e-9; // radians: what rounding makes of no turn

bool isRigid(const Transform& t)
{
    constexpr double kRounding = 1e-6;
    return std::abs(length(t.x) - 1) < kRounding && std::abs(length(t.y) - 1) < kRounding &&
           std::abs(length(t.z) - 1) < kRounding && std::abs(dot(t.x, t.y)) < kRounding &&
           std::abs(dot(t.y, t.z)) < kRounding && std::abs(dot(t.z, t.x)) < kRounding && t.determinant() > 0;
}

/// Corners with what tells them from each other: how far from the middle, the farthest first.
struct Corner {
    Vector3 from; ///< the middle
    double distance = 0;
};
std::vector<Corner> cornersOf(const Mesh& mesh, Point3 middle)
{
    std::vector<Corner> corners;
    corners.reserve(mesh.points.size());
    for (const Point3& p : mesh.points)
        corners.push_back({p - middle, length(p - middle)});
    std::stable_sort(corners.begin(), corners.end(),
                     [](const Corner& a, const Corner& b) { return a.distance > b.distance; });
    return corners;
}

/// The rotation that takes two directions, not along each other, to two others that stand alike.
Transform rotationOnto(Vector3 a, Vector3 b, Vector3 toA, Vector3 toB)
{
    const auto frame = [](Vector3 u, Vector3 v) {
        const Vector3 x = normalised(u), z = normalised(cross(u, v));
        return Transform{x, cross(z, x), z, {}};
    };
    return frame(toA, toB) * frame(a, b).inverse();
}

/// Rotations that lay the farthest corner and one beside it on corners of the other body that lie as far out.
std::vector<Transform> rotationsByCorners(const Mesh& was, Point3 middleWas, const Mesh& now, Point3 middleNow,
                                          double tolerance)
{
    constexpr std::size_t kMostTried = 4000;
    const std::vector<Corner> from = cornersOf(was, middleWas), to = cornersOf(now, middleNow);
    std::vector<Transform> found;
    if (from.empty() || to.empty() || std::abs(from[0].distance - to[0].distance) > 2 * tolerance)
        return found;
    const Corner& first = from[0];
    const auto second = std::find_if(from.begin(), from.end(), [&](const Corner& c) {
        return length(cross(first.from, c.from)) > 0.1 * first.distance * first.distance;
    });
    if (second == from.end())
        return found;
    const double apart = length(first.from - second->from);
    const auto reachesOut = [&](double distance) {
        const auto begin = std::lower_bound(to.begin(), to.end(), distance + 2 * tolerance,
                                            [](const Corner& c, double d) { return c.distance > d; });
        return std::pair(begin, std::lower_bound(begin, to.end(), distance - 2 * tolerance,
                                                 [](const Corner& c, double d) { return c.distance >= d; }));
    };
    std::size_t tried = 0;
    const auto [a, aEnd] = reachesOut(first.distance);
    const auto [b, bEnd] = reachesOut(second->distance);
    for (auto i = a; i != aEnd; ++i)
        for (auto j = b; j != bEnd; ++j) {
            if (++tried > kMostTried)
                return found;
            if (std::abs(length(i->from - j->from) - apart) <= 4 * tolerance)
                found.push_back(rotationOnto(first.from, second->from, i->from, j->from));
        }
    return found;
}

double angleOf(const Transform& r)
{
    const Vector3 twice{r.y.z - r.z.y, r.z.x - r.x.z, r.x.y - r.y.x};
    return std::atan2(0.5 * length(twice), 0.5 * (r.x.x + r.y.y + r.z.z - 1));
}

} // namespace

Motion motionOf(const Transform& rigid, Point3 middleBefore, Point3 middleAfter)
{
    Motion motion;
    motion.shift = middleAfter - middleBefore;
    const double angle = angleOf(rigid);
    if (angle < kLeastTurn)
        return motion;
    Vector3 axis{rigid.y.z - rigid.z.y, rigid.z.x - rigid.x.z, rigid.x.y - rigid.y.x};
    if (length(axis) < 1e-6) { // half a turn: the axis is what stays
        const Vector3 columns[] = {rigid.x + Vector3{1, 0, 0}, rigid.y + Vector3{0, 1, 0}, rigid.z + Vector3{0, 0, 1}};
        axis = *std::max_element(std::begin(columns), std::end(columns),
                                 [](Vector3 a, Vector3 b) { return length(a) < length(b); });
    }
    axis = normalised(axis);
    constexpr double kRounding = 1e-9;
    const bool isDownwards =
        axis.z < -kRounding ||
        (std::abs(axis.z) <= kRounding && (axis.y < -kRounding || (std::abs(axis.y) <= kRounding && axis.x < 0)));
    motion.axis = isDownwards ? -axis : axis;
    motion.turn = Radians{isDownwards && angle < std::numbers::pi - kLeastTurn ? -angle : angle};
    return motion;
}

std::optional<Motion> motionBetween(const Mesh& was, const Mesh& now, std::span<const Transform> hints,
                                    double tolerance)
{
    const Point3 before = geometry::centroidOf(was), after = geometry::centroidOf(now);
    if (isSameShape(geometry::transformed(was, Transform::translation(after - before)), now, tolerance))
        return Motion{after - before, {}, {0, 0, 1}};
    for (const Transform& hint : hints)
        if (isRigid(hint) && isSameShape(geometry::transformed(was, hint), now, tolerance))
            return motionOf(hint, before, after);

    const double area = geometry::areaOf(was);
    if (std::abs(area - geometry::areaOf(now)) > 0.001 * area + 12 * std::sqrt(area) * tolerance)
        return {};
    std::vector<Transform> rotations = rotationsByCorners(was, before, now, after, tolerance);
    std::stable_sort(rotations.begin(), rotations.end(), [](const Transform& a, const Transform& b) {
        return std::llround(angleOf(a) * 1e6) < std::llround(angleOf(b) * 1e6);
    });
    std::optional<geometry::TriangleTree> tree;
    for (const Transform& r : rotations) {
        Transform map = r;
        map.origin = after - r.turn(before);
        if (!tree)
            tree.emplace(now);
        const std::size_t step = std::max<std::size_t>(was.points.size() / 16, 1);
        bool mayBe = true;
        for (std::size_t i = 0; i < was.points.size() && mayBe; i += step)
            mayBe = tree->distanceTo(map.apply(was.points[i]), 4 * tolerance).has_value();
        if (mayBe && isSameShape(geometry::transformed(was, map), now, tolerance))
            return motionOf(map, before, after);
    }
    return {};
}

} // namespace wendrix::changes
