#pragma once

#include "core/clash/body.h"

#include <algorithm>
#include <cmath>
#include <type_traits>

namespace wendrix::clash {

/// What two parts have in each other's neighbourhood, in memory that a thread uses again.
struct Neighbours {
    struct Placed {
        Corners corners;
        std::uint32_t triangle = 0;
        Box3 box;
        Vector3 normal;  ///< rounded, as long as the triangle is large
        double size = 0; ///< what rounding the normal is measured by

        struct Heights {
            double a, b, c, error; ///< over the plane, times the normal's length; how far rounding may be off
            [[nodiscard]] bool isOneSide() const
            {
                return (a > error && b > error && c > error) || (a < -error && b < -error && c < -error);
            }
            [[nodiscard]] bool isSure() const
            {
                return std::abs(a) > error && std::abs(b) > error && std::abs(c) > error;
            }
        };
        /// Of another triangle over this one's plane.
        [[nodiscard]] Heights heightsOf(const Corners& other) const
        {
            // Differences, products and sums with a rounded normal: a dozen roundings, and to spare.
            constexpr double kBound = 1e-14;
            const Vector3 d0 = other[0] - corners[0], d1 = other[1] - corners[0], d2 = other[2] - corners[0];
            return {dot(normal, d0), dot(normal, d1), dot(normal, d2),
                    kBound * size *
                        (std::abs(d0.x) + std::abs(d0.y) + std::abs(d0.z) + std::abs(d1.x) + std::abs(d1.y) +
                         std::abs(d1.z) + std::abs(d2.x) + std::abs(d2.y) + std::abs(d2.z))};
        }
        /// From where to where the triangle reaches along the line in which the two planes meet.
        [[nodiscard]] std::pair<double, double> reachAlong(int axis, const Point3& origin, const Heights& h) const
        {
            double pa = corners[0][axis] - origin[axis], pb = corners[1][axis] - origin[axis],
                   pc = corners[2][axis] - origin[axis], a = h.a, b = h.b, c = h.c;
            // `a` is to be alone on its side.
            if ((a > 0) == (b > 0)) {
                std::swap(a, c);
                std::swap(pa, pc);
            } else if ((a > 0) == (c > 0)) {
                std::swap(a, b);
                std::swap(pa, pb);
            }
            const double u = pa + (pb - pa) * (a / (a - b)), v = pa + (pc - pa) * (a / (a - c));
            return std::minmax(u, v);
        }
    };
    static Placed placed(const Corners& corners, std::uint32_t triangle)
    {
        Placed p{corners, triangle, {}, {}, 0};
        for (const Point3& corner : corners)
            p.box.add(corner);
        const Vector3 u = corners[1] - corners[0], v = corners[2] - corners[0];
        p.normal = cross(u, v);
        p.size = (std::abs(u.x) + std::abs(u.y) + std::abs(u.z)) * (std::abs(v.x) + std::abs(v.y) + std::abs(v.z));
        return p;
    }
    /// False where two triangles are apart by more than a hair, beyond doubt.
    /// Source: T. Möller, Journal of Graphics Tools 2(2), 1997 (the intervals along the line of both planes).
    [[nodiscard]] static bool mayCross(const Placed& s, const Placed& t)
    {
        const Placed::Heights ofT = s.heightsOf(t.corners);
        if (ofT.isOneSide())
            return false;
        const Placed::Heights ofS = t.heightsOf(s.corners);
        if (ofS.isOneSide())
            return false;
        const Vector3 line = cross(s.normal, t.normal);
        const double x = std::abs(line.x), y = std::abs(line.y), z = std::abs(line.z), largest = std::max({x, y, z});
        constexpr double kParallel = 1e-6, kApart = 1e-7;
        if (!ofT.isSure() || !ofS.isSure() || !(largest > kParallel * s.size * t.size))
            return true;
        const int axis = x == largest ? 0 : y == largest ? 1 : 2;
        const auto mine = s.reachAlong(axis, s.corners[0], ofS), theirs = t.reachAlong(axis, s.corners[0], ofT);
        return mine.first <= theirs.second + kApart && theirs.first <= mine.second + kApart;
    }
    std::vector<std::uint32_t> found;
    std::vector<Placed> mine, theirs;
    std::vector<std::pair<double, std::uint32_t>> order, theirOrder; ///< by where they begin along an axis
    [[nodiscard]] static Neighbours& ofThread()
    {
        thread_local Neighbours own;
        return own;
    }
    /// The triangles of a part in a box.
    /// @return the box they have, as far as they are in it
    Box3 place(const PlacedPart& part, const geometry::MiddleBox& box, const OrientedBox& askew, double margin,
               std::vector<Placed>& list)
    {
        found.clear();
        list.clear();
        part.trianglesIn(box, askew, margin, found);
        Box3 all;
        for (const std::uint32_t t : found) {
            const Placed& p = list.emplace_back(placed(part.corners(t), t));
            all.add(p.box);
        }
        return all;
    }
    /// Calls `each(mine, theirs)` for all whose boxes are within `margin`; false ends it.
    template <class Each>
    void sweep(double margin, int axis, Each each)
    {
        const auto sort = [axis](const std::vector<Placed>& list, std::vector<std::pair<double, std::uint32_t>>& by) {
            by.clear();
            for (std::uint32_t i = 0; i < list.size(); ++i)
                by.emplace_back(list[i].box.min[axis], i);
            std::sort(by.begin(), by.end());
        };
        sort(mine, order);
        sort(theirs, theirOrder);
        std::size_t i = 0, j = 0;
        // Whichever begins first is held against all of the other side that begin before it ends.
        while (i < order.size() && j < theirOrder.size()) {
            const bool isMine = order[i].first <= theirOrder[j].first;
            const Placed& first = isMine ? mine[order[i].second] : theirs[theirOrder[j].second];
            const auto& other = isMine ? theirOrder : order;
            const Box3 wide = first.box.grownBy(margin);
            for (std::size_t k = isMine ? j : i; k < other.size() && other[k].first <= wide.max[axis]; ++k) {
                const Placed& second = isMine ? theirs[other[k].second] : mine[other[k].second];
                if (wide.overlaps(second.box) && !(isMine ? each(first, second) : each(second, first)))
                    return;
            }
            ++(isMine ? i : j);
        }
    }
};

/// The box that two have in common, grown by `margin` metres and by what is rounded.
[[nodiscard]] inline geometry::MiddleBox commonBox(const geometry::MiddleBox& a, const geometry::MiddleBox& b,
                                                   double margin)
{
    constexpr double kRounding = 1e-9;
    geometry::MiddleBox common;
    const auto axis = [&](double ma, double ha, double mb, double hb, double& middle, double& half) {
        const double low = std::max(ma - ha, mb - hb), high = std::min(ma + ha, mb + hb);
        middle = 0.5 * (low + high);
        half = 0.5 * (high - low) + margin + kRounding;
    };
    axis(a.middle.x, a.half.x, b.middle.x, b.half.x, common.middle.x, common.half.x);
    axis(a.middle.y, a.half.y, b.middle.y, b.half.y, common.middle.y, common.half.y);
    axis(a.middle.z, a.half.z, b.middle.z, b.half.z, common.middle.z, common.half.z);
    return common;
}

/// Triangles of two parts whose boxes are no farther apart than `margin` metres. Small parts are gone through, large
/// ones by their trees.
/// @param isCrossing  only what may cross
/// @param each        bool(Corners of a, Corners of b), also with the numbers of both triangles; false ends it. It must
/// not come here again.
template <bool isCrossing, class Each>
void forNearTriangles(const PlacedPart& a, const PlacedPart& b, double margin, Each each)
{
    using geometry::CompactTree;
    using geometry::MiddleBox;
    MiddleBox common = commonBox(a.bounds(), b.bounds(), margin);
    const auto isEmpty = [&] { return common.half.x < 0 || common.half.y < 0 || common.half.z < 0; };
    if (isEmpty() || !a.oriented().mayMeet(b.oriented(), margin))
        return;
    const auto look = [&](const Neighbours::Placed& s, const Neighbours::Placed& t) {
        if constexpr (isCrossing)
            if (!Neighbours::mayCross(s, t))
                return true;
        if constexpr (std::is_invocable_v<Each, const Corners&, const Corners&, std::uint32_t, std::uint32_t>)
            return each(s.corners, t.corners, s.triangle, t.triangle);
        else
            return each(s.corners, t.corners);
    };
    if (a.isSmall() && b.isSmall()) {
        Neighbours& near = Neighbours::ofThread();
        // What one has there bounds what of the other is worth looking at.
        const Box3 mine = near.place(a, common, b.oriented(), margin, near.mine);
        if (near.mine.empty())
            return;
        common = commonBox({mine.centre(), 0.5 * mine.size()}, common, margin);
        if (isEmpty())
            return;
        near.place(b, common, a.oriented(), margin, near.theirs);
        const Vector3 h = common.half;
        near.sweep(margin, h.x >= h.y && h.x >= h.z ? 0 : h.y >= h.z ? 1 : 2, look);
        return;
    }
    const CompactTree &ta = a.shape().tree(), &tb = b.shape().tree();
    geometry::walkTogether(
        ta, tb, [&](const CompactTree::Node& n) { return a.boxOf(n); },
        [&](const CompactTree::Node& n) { return b.boxOf(n); },
        [&](const MiddleBox& x, const MiddleBox& y) { return x.isWithin(y, margin); },
        [&](const CompactTree::Node& x, const CompactTree::Node& y) {
            std::array<Neighbours::Placed, CompactTree::kLeafSize> theirs;
            std::size_t count = 0;
            for (const std::uint32_t j : tb.items(y))
                theirs[count++] = Neighbours::placed(b.corners(j), j);
            for (const std::uint32_t i : ta.items(x)) {
                const Neighbours::Placed mine = Neighbours::placed(a.corners(i), i);
                const Box3 wide = mine.box.grownBy(margin);
                for (std::size_t k = 0; k < count; ++k)
                    if (wide.overlaps(theirs[k].box) && !look(mine, theirs[k]))
                        return false;
            }
            return true;
        });
}

/// A place where the surfaces of two parts cross.
[[nodiscard]] inline std::optional<Point3> crossingBetween(const PlacedPart& a, const PlacedPart& b)
{
    std::optional<Point3> place;
    forNearTriangles<true>(a, b, 0, [&](const Corners& s, const Corners& t) {
        if (const auto crossing = crossingOf(s, t))
            place = 0.5 * (crossing->from + crossing->to);
        return !place.has_value();
    });
    return place;
}

} // namespace wendrix::clash
