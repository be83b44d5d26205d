#include "core/clash/clearance.h"

#include "core/clash/near_triangles.h"

#include <algorithm>
#include <limits>

namespace wendrix::clash {

using geometry::CompactTree;
using geometry::MiddleBox;

namespace {

/// Nearer than this bodies touch: what placing rounds away. Metres.
constexpr double kTouch = 1e-7;

/// Goes through two trees, the nearer first, as long as `bound` says that something better than `best` may be there.
template <class Bound, class Leaves>
void search(const PlacedPart& a, const PlacedPart& b, const double& best, Bound bound, Leaves leaves)
{
    const CompactTree &ta = a.shape().tree(), &tb = b.shape().tree();
    if (ta.isEmpty() || tb.isEmpty())
        return;
    struct Step {
        double bound;
        std::uint32_t i, j;
    };
    std::array<Step, 192> stack;
    std::size_t depth = 0;
    const auto boundOf = [&](std::uint32_t i, std::uint32_t j) {
        return bound(a.boxOf(ta.node(i)), b.boxOf(tb.node(j)));
    };
    stack[depth++] = {boundOf(0, 0), 0, 0};
    while (depth > 0) {
        const Step at = stack[--depth];
        if (!(at.bound < best))
            continue;
        const CompactTree::Node &na = ta.node(at.i), &nb = tb.node(at.j);
        if (na.isLeaf() && nb.isLeaf()) {
            leaves(na, nb);
            continue;
        }
        const bool isFirst = nb.isLeaf() || (!na.isLeaf() && a.boxOf(na).extent() >= b.boxOf(nb).extent());
        Step one = isFirst ? Step{0, at.i + 1, at.j} : Step{0, at.i, at.j + 1};
        Step other = isFirst ? Step{0, na.first, at.j} : Step{0, at.i, nb.first};
        one.bound = boundOf(one.i, one.j);
        other.bound = boundOf(other.i, other.j);
        if (one.bound > other.bound)
            std::swap(one, other);
        if (other.bound < best)
            stack[depth++] = other;
        if (one.bound < best)
            stack[depth++] = one;
    }
}

template <class Each>
void forCorners(const PlacedPart& a, const PlacedPart& b, const CompactTree::Node& x, const CompactTree::Node& y,
                Each each)
{
    for (const std::uint32_t i : a.shape().tree().items(x)) {
        const Corners mine = a.corners(i);
        for (const std::uint32_t j : b.shape().tree().items(y))
            each(mine, b.corners(j));
    }
}

/// The best gap so far.
struct Best {
    double distance;
    std::optional<Gap> gap;
    void take(double d, const Point3& left, const Point3& right)
    {
        if (d < distance) {
            distance = d;
            gap = Gap{d, left, right};
        }
    }
};

double squaredDistance(const Box3& a, const Box3& b)
{
    double sum = 0;
    for (int axis = 0; axis < 3; ++axis) {
        const double d = std::max({0.0, a.min[axis] - b.max[axis], b.min[axis] - a.max[axis]});
        sum += d * d;
    }
    return sum;
}

/// How far a triangle stays off the plane of another, squared; 0 where it goes through.
double squaredOff(const Neighbours::Placed& plane, const Corners& t)
{
    const Neighbours::Placed::Heights h = plane.heightsOf(t);
    if ((h.a > 0) != (h.b > 0) || (h.a > 0) != (h.c > 0))
        return 0;
    const double least = std::min({std::abs(h.a), std::abs(h.b), std::abs(h.c)}) - h.error,
                 n2 = dot(plane.normal, plane.normal);
    return least > 0 && n2 > 0 ? least * least / n2 : 0;
}

void searchAny(const PlacedPart& a, const PlacedPart& b, Best& best)
{
    if (a.isSmall() && b.isSmall()) {
        const double reach = best.distance;
        const MiddleBox common = commonBox(a.bounds(), b.bounds(), reach);
        if (common.half.x < 0 || common.half.y < 0 || common.half.z < 0 || !a.oriented().mayMeet(b.oriented(), reach))
            return;
        Neighbours& near = Neighbours::ofThread();
        near.place(a, common, b.oriented(), reach, near.mine);
        if (near.mine.empty())
            return;
        near.place(b, common, a.oriented(), reach, near.theirs);
        const Vector3 h = common.half;
        near.sweep(reach,
                   h.x >= h.y && h.x >= h.z ? 0
                   : h.y >= h.z             ? 1
                                            : 2,
                   [&](const Neighbours::Placed& s, const Neighbours::Placed& t) {
                       const double squared = best.distance * best.distance;
                       if (squaredDistance(s.box, t.box) < squared && squaredOff(s, t.corners) < squared &&
                           squaredOff(t, s.corners) < squared)
                           if (const auto nearest = nearestOf(s.corners, t.corners, squared))
                               best.take(std::sqrt(nearest->squared), nearest->a, nearest->b);
                       return best.distance > 0;
                   });
        return;
    }
    const auto bound = [](const MiddleBox& x, const MiddleBox& y) { return std::sqrt(x.squaredDistance(y)); };
    search(a, b, best.distance, bound, [&](const CompactTree::Node& x, const CompactTree::Node& y) {
        forCorners(a, b, x, y, [&](const Corners& s, const Corners& t) {
            if (areNear(s, t, best.distance))
                if (const auto near = nearestOf(s, t, best.distance * best.distance))
                    best.take(std::sqrt(near->squared), near->a, near->b);
        });
    });
}

// Up

Point2 inPlan(const Point3& p) { return {p.x, p.y}; }

/// The part of a triangle's plan within another's, counter-clockwise.
std::vector<Point2> commonPlan(const Corners& a, const Corners& b)
{
    const auto plan = [](const Corners& t) {
        std::vector<Point2> p{inPlan(t[0]), inPlan(t[1]), inPlan(t[2])};
        if (cross(p[1] - p[0], p[2] - p[0]) < 0)
            std::swap(p[1], p[2]);
        return p;
    };
    std::vector<Point2> kept = plan(a);
    const std::vector<Point2> window = plan(b);
    for (std::size_t i = 0; i < 3 && !kept.empty(); ++i) {
        const Point2 from = window[i], edge = window[(i + 1) % 3] - from;
        std::vector<Point2> next;
        for (std::size_t k = 0; k < kept.size(); ++k) {
            const Point2 p = kept[k], q = kept[(k + 1) % kept.size()];
            const double dp = cross(edge, p - from), dq = cross(edge, q - from);
            if (dp >= 0)
                next.push_back(p);
            if ((dp < 0) != (dq < 0))
                next.push_back(p + (dp / (dp - dq)) * (q - p));
        }
        kept.swap(next);
    }
    return kept;
}

double areaOf(const std::vector<Point2>& polygon)
{
    double sum = 0;
    for (std::size_t i = 1; i + 1 < polygon.size(); ++i)
        sum += cross(polygon[i] - polygon[0], polygon[i + 1] - polygon[0]);
    return 0.5 * std::abs(sum);
}

/// The height of a triangle's plane at a place in plan.
double heightAt(const Corners& t, Point2 p)
{
    const Vector3 n = cross(t[1] - t[0], t[2] - t[0]);
    return t[0].z - (n.x * (p.x - t[0].x) + n.y * (p.y - t[0].y)) / n.z;
}

bool isUpright(const Corners& t)
{
    const Vector3 n = cross(t[1] - t[0], t[2] - t[0]);
    return std::abs(n.z) <= 1e-9 * length(n);
}

/// The vertical gap from `a` up to `b`; left and right are those of `a` and `b`.
void searchUp(const PlacedPart& a, const PlacedPart& b, Best& best)
{
    const auto bound = [](const MiddleBox& x, const MiddleBox& y) {
        constexpr double kNever = std::numeric_limits<double>::infinity();
        if (std::abs(x.middle.x - y.middle.x) > x.half.x + y.half.x ||
            std::abs(x.middle.y - y.middle.y) > x.half.y + y.half.y || y.middle.z + y.half.z < x.middle.z - x.half.z)
            return kNever;
        return std::max(0.0, y.middle.z - y.half.z - x.middle.z - x.half.z);
    };
    // What meets in plan by no more than a line does not overlap there: a micrometre by a micrometre.
    constexpr double kLeastArea = 1e-12;
    search(a, b, best.distance, bound, [&](const CompactTree::Node& x, const CompactTree::Node& y) {
        forCorners(a, b, x, y, [&](const Corners& s, const Corners& t) {
            if (isUpright(s) || isUpright(t))
                return;
            const std::vector<Point2> common = commonPlan(s, t);
            if (areaOf(common) < kLeastArea)
                return;
            for (const Point2& p : common)
                if (const double low = heightAt(s, p), high = heightAt(t, p); high >= low - kTouch)
                    best.take(std::max(0.0, high - low), {p.x, p.y, low}, {p.x, p.y, high});
        });
    });
}

// Side

/// The horizontal gap between two triangles, at the heights they share: the distance from the origin to the part of
/// their difference that lies at height 0.
void takeSide(const Corners& a, const Corners& b, Best& best)
{
    struct Difference {
        Point3 d;
        std::size_t i, j;
    };
    std::array<Difference, 9> all;
    std::size_t n = 0;
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t j = 0; j < 3; ++j)
            all[n++] = {b[j] - a[i], i, j};
    struct Place {
        Point2 at;
        Point3 left, right;
    };
    std::vector<Place> level;
    for (std::size_t k = 0; k < 9; ++k)
        for (std::size_t l = k; l < 9; ++l) {
            const Difference &p = all[k], &q = all[l];
            if (k == l ? p.d.z != 0 : (p.d.z < 0) == (q.d.z < 0) || p.d.z == 0 || q.d.z == 0)
                continue;
            const double f = k == l ? 0 : p.d.z / (p.d.z - q.d.z);
            const Point3 left = a[p.i] + f * (a[q.i] - a[p.i]), right = b[p.j] + f * (b[q.j] - b[p.j]);
            level.push_back({inPlan(right - left), left, right});
        }
    // The nearest of a convex set: on a line between two of its places, or nothing if the origin is inside, where the
    // triangles meet, which is looked for before.
    for (std::size_t k = 0; k < level.size(); ++k)
        for (std::size_t l = k; l < level.size(); ++l) {
            const Point2 p = level[k].at, d = level[l].at - p;
            const double square = dot(d, d), f = square > 0 ? std::clamp(-dot(p, d) / square, 0.0, 1.0) : 0;
            const double distance = length(p + f * d);
            if (distance < best.distance)
                best.take(distance, level[k].left + f * (level[l].left - level[k].left),
                          level[k].right + f * (level[l].right - level[k].right));
        }
}

void searchSide(const PlacedPart& a, const PlacedPart& b, Best& best)
{
    constexpr double kNever = std::numeric_limits<double>::infinity();
    const auto bound = [](const MiddleBox& x, const MiddleBox& y) {
        if (std::abs(x.middle.z - y.middle.z) > x.half.z + y.half.z)
            return kNever;
        return std::hypot(std::max(0.0, std::abs(x.middle.x - y.middle.x) - x.half.x - y.half.x),
                          std::max(0.0, std::abs(x.middle.y - y.middle.y) - x.half.y - y.half.y));
    };
    const auto heights = [](const Corners& t) {
        return std::pair{std::min({t[0].z, t[1].z, t[2].z}), std::max({t[0].z, t[1].z, t[2].z})};
    };
    search(a, b, best.distance, bound, [&](const CompactTree::Node& x, const CompactTree::Node& y) {
        forCorners(a, b, x, y, [&](const Corners& s, const Corners& t) {
            const auto [sLow, sHigh] = heights(s);
            const auto [tLow, tHigh] = heights(t);
            if (std::min(sHigh, tHigh) - std::max(sLow, tLow) > kTouch) // else they share a height at most
                takeSide(s, t, best);
        });
    });
}

bool isInside(const Body& one, const Body& other)
{
    for (const PlacedPart& part : one.parts)
        for (const std::uint32_t corner : part.shape().pieces())
            if (other.contains(part.point(corner)))
                return true;
    return false;
}

} // namespace

std::optional<Gap> gapOf(const Body& left, const Body& right, Direction direction, double reach)
{
    const auto eachPart = [&](auto&& searchParts, Best& best) {
        for (const PlacedPart& a : left.parts)
            for (const PlacedPart& b : right.parts)
                searchParts(a, b, best);
    };
    // What crosses is found sooner by looking for that alone.
    for (const PlacedPart& a : left.parts)
        for (const PlacedPart& b : right.parts)
            if (const auto at = crossingBetween(a, b))
                return Gap{0, *at, *at};
    // What touches or overlaps is no distance away, whichever way is asked for.
    Best any{direction == Direction::Any ? reach : std::min(reach, kTouch), {}};
    eachPart(searchAny, any);
    if (any.gap && any.gap->distance < kTouch)
        return Gap{0, any.gap->left, any.gap->right};
    for (const auto& [one, other] : {std::pair{&left, &right}, std::pair{&right, &left}})
        if (isInside(*one, *other)) {
            const Point3 p = one->parts.front().point(one->parts.front().shape().pieces().front());
            return Gap{0, p, p};
        }
    Best best{reach, {}};
    switch (direction) {
    case Direction::Any:
        return any.gap;
    case Direction::Up:
        eachPart(searchUp, best);
        break;
    case Direction::Down:
        for (const PlacedPart& a : left.parts)
            for (const PlacedPart& b : right.parts)
                searchUp(b, a, best);
        if (best.gap)
            std::swap(best.gap->left, best.gap->right);
        break;
    case Direction::Side:
        eachPart(searchSide, best);
        break;
    }
    return best.gap;
}

} // namespace wendrix::clash
