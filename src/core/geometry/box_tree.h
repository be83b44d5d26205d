#pragma once

#include "core/base/box3.h"

#include <algorithm>
#include <cstdint>
#include <limits>
#include <numeric>
#include <optional>
#include <span>
#include <utility>
#include <vector>

namespace wendrix::geometry {

/// A hierarchy of axis-parallel boxes over numbered items: O(n log n) to build, O(log n + hits) to ask.
/// Split at the median of the longest axis; plain arrays, no pointers.
class BoxTree {
public:
    BoxTree() = default;
    explicit BoxTree(std::span<const Box3> boxes) : boxes_(boxes.begin(), boxes.end()), items_(boxes.size())
    {
        std::iota(items_.begin(), items_.end(), 0u);
        if (!boxes_.empty())
            build(0, static_cast<std::uint32_t>(items_.size()));
    }
    [[nodiscard]] bool isEmpty() const { return nodes_.empty(); }
    [[nodiscard]] Box3 bounds() const { return nodes_.empty() ? Box3{} : nodes_[0].box; }

    /// Calls `each(item)` for every item whose box overlaps.
    template <class Each>
    void overlapping(const Box3& box, Each each) const
    {
        walk([&](const Box3& b) { return b.overlaps(box); }, each);
    }

    /// Calls `each(ours, theirs)` for every two items whose boxes overlap, ours grown by `margin` metres.
    template <class Each>
    void overlappingPairs(const BoxTree& other, double margin, Each each) const
    {
        if (isEmpty() || other.isEmpty())
            return;
        std::vector<std::pair<std::uint32_t, std::uint32_t>> stack{{0, 0}};
        while (!stack.empty()) {
            const auto [a, b] = stack.back();
            stack.pop_back();
            const Node &na = nodes_[a], &nb = other.nodes_[b];
            if (!na.box.grownBy(margin).overlaps(nb.box))
                continue;
            if (na.isLeaf() && nb.isLeaf()) {
                for (std::uint32_t i = na.first; i < na.last; ++i)
                    for (std::uint32_t j = nb.first; j < nb.last; ++j)
                        if (boxes_[items_[i]].grownBy(margin).overlaps(other.boxes_[other.items_[j]]))
                            each(items_[i], other.items_[j]);
            } else if (nb.isLeaf() || (!na.isLeaf() && na.last - na.first >= nb.last - nb.first)) {
                stack.emplace_back(na.left, b);
                stack.emplace_back(na.right, b);
            } else {
                stack.emplace_back(a, nb.left);
                stack.emplace_back(a, nb.right);
            }
        }
    }

    /// Items whose boxes a ray meets before `reach(…)` (asked anew each time, so it may shrink), roughly the nearest
    /// first.
    template <class Reach, class Each>
    void alongRay(Point3 origin, Vector3 direction, Reach reach, Each each) const
    {
        if (isEmpty())
            return;
        std::vector<std::pair<double, std::uint32_t>> stack{{entry(nodes_[0].box, origin, direction), 0}};
        while (!stack.empty()) {
            const auto [near, index] = stack.back();
            stack.pop_back();
            if (!(near <= reach()) || near == std::numeric_limits<double>::infinity())
                continue;
            const Node& node = nodes_[index];
            if (node.isLeaf()) {
                for (std::uint32_t i = node.first; i < node.last; ++i)
                    if (const double at = entry(boxes_[items_[i]], origin, direction);
                        at <= reach() && at != std::numeric_limits<double>::infinity())
                        each(items_[i]);
                continue;
            }
            std::pair left{entry(nodes_[node.left].box, origin, direction), node.left};
            std::pair right{entry(nodes_[node.right].box, origin, direction), node.right};
            if (left.first > right.first)
                std::swap(left, right);
            stack.push_back(right);
            stack.push_back(left);
        }
    }

    /// Items whose boxes come nearer to `point` than `reach()` (asked anew each time).
    template <class Reach, class Each>
    void near(Point3 point, Reach reach, Each each) const
    {
        walk([&](const Box3& b) { return squaredDistance(b, point) <= reach() * reach(); }, each);
    }

private:
    static constexpr std::uint32_t kLeafSize = 4;
    struct Node {
        Box3 box;
        std::uint32_t first = 0, last = 0; ///< its items
        std::uint32_t left = 0, right = 0; ///< children; 0 in a leaf
        [[nodiscard]] bool isLeaf() const { return left == 0; }
    };

    static double entry(const Box3& b, Point3 o, Vector3 d)
    {
        double near = 0, far = std::numeric_limits<double>::infinity();
        for (int axis = 0; axis < 3; ++axis) {
            if (d[axis] == 0) {
                if (o[axis] < b.min[axis] || o[axis] > b.max[axis])
                    return std::numeric_limits<double>::infinity();
                continue;
            }
            double a = (b.min[axis] - o[axis]) / d[axis], c = (b.max[axis] - o[axis]) / d[axis];
            if (a > c)
                std::swap(a, c);
            near = std::max(near, a);
            far = std::min(far, c);
        }
        return near <= far ? near : std::numeric_limits<double>::infinity();
    }

    static double squaredDistance(const Box3& b, Point3 p)
    {
        double sum = 0;
        for (int axis = 0; axis < 3; ++axis) {
            const double d = std::max({b.min[axis] - p[axis], 0.0, p[axis] - b.max[axis]});
            sum += d * d;
        }
        return sum;
    }

    template <class Wanted, class Each>
    void walk(Wanted wanted, Each each) const
    {
        if (isEmpty())
            return;
        std::vector<std::uint32_t> stack{0};
        while (!stack.empty()) {
            const Node& node = nodes_[stack.back()];
            stack.pop_back();
            if (!wanted(node.box))
                continue;
            if (node.isLeaf()) {
                for (std::uint32_t i = node.first; i < node.last; ++i)
                    if (wanted(boxes_[items_[i]]))
                        each(items_[i]);
            } else {
                stack.push_back(node.right);
                stack.push_back(node.left);
            }
        }
    }

    std::uint32_t build(std::uint32_t first, std::uint32_t last)
    {
        const auto self = static_cast<std::uint32_t>(nodes_.size());
        nodes_.push_back({{}, first, last, 0, 0});
        Box3 box, centres;
        for (std::uint32_t i = first; i < last; ++i) {
            box.add(boxes_[items_[i]]);
            centres.add(boxes_[items_[i]].centre());
        }
        nodes_[self].box = box;
        if (last - first <= kLeafSize)
            return self;
        const Vector3 size = centres.size();
        const int axis = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
        const std::uint32_t middle = (first + last) / 2;
        std::nth_element(items_.begin() + first, items_.begin() + middle, items_.begin() + last,
                         [&](std::uint32_t a, std::uint32_t b) {
                             const double ca = boxes_[a].min[axis] + boxes_[a].max[axis];
                             const double cb = boxes_[b].min[axis] + boxes_[b].max[axis];
                             return ca < cb || (ca == cb && a < b);
                         });
        const std::uint32_t left = build(first, middle);
        const std::uint32_t right = build(middle, last);
        nodes_[self].left = left;
        nodes_[self].right = right;
        return self;
    }

    std::vector<Box3> boxes_;
    std::vector<std::uint32_t> items_;
    std::vector<Node> nodes_;
};

} // namespace wendrix::geometry
