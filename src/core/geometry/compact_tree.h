#pragma once

#include "core/base/box3.h"

#include <array>
#include <cmath>
#include <cstdint>
#include <functional>
#include <span>
#include <vector>

namespace wendrix::geometry {

/// A hierarchy of boxes over numbered items, small enough to be kept: some 25 bytes an item. Boxes are of single
/// precision about a centre and rounded outwards, so they hold what they should wherever the items stand.
///
/// Split at the median of the longest axis, in O(n log n), on all cores; the same at any thread count.
class CompactTree {
public:
    struct Node {
        std::array<float, 3> min, max; ///< about centre()
        std::uint32_t first = 0;       ///< of a leaf, its first item; else the right child, the left one being the next
        std::uint32_t count = 0;       ///< of a leaf, how many items; else 0
        [[nodiscard]] bool isLeaf() const { return count > 0; }
    };

    CompactTree() = default;
    /// @param bounds  of all items
    /// @param boxOf   called once for each item, from several threads
    CompactTree(std::size_t items, const Box3& bounds, const std::function<Box3(std::uint32_t)>& boxOf);

    [[nodiscard]] bool isEmpty() const { return nodes_.empty(); }
    [[nodiscard]] const std::vector<Node>& nodes() const { return nodes_; }
    [[nodiscard]] const Node& node(std::uint32_t i) const { return nodes_[i]; }
    [[nodiscard]] std::span<const std::uint32_t> items(const Node& leaf) const
    {
        return std::span(order_).subspan(leaf.first, leaf.count);
    }
    [[nodiscard]] Point3 centre() const { return centre_; }
    [[nodiscard]] std::size_t bytes() const
    {
        return nodes_.size() * sizeof(Node) + order_.size() * sizeof(std::uint32_t);
    }

    static constexpr std::uint32_t kLeafSize = 4;

private:
    std::vector<Node> nodes_;
    std::vector<std::uint32_t> order_;
    Point3 centre_;
};

/// A box by its middle and half its size: what is asked most is whether two are near each other.
struct MiddleBox {
    Point3 middle;
    Vector3 half;

    [[nodiscard]] bool isWithin(const MiddleBox& b, double margin) const
    {
        return std::abs(middle.x - b.middle.x) <= half.x + b.half.x + margin &&
               std::abs(middle.y - b.middle.y) <= half.y + b.half.y + margin &&
               std::abs(middle.z - b.middle.z) <= half.z + b.half.z + margin;
    }
    [[nodiscard]] double squaredDistance(const MiddleBox& b) const
    {
        const double x = std::max(0.0, std::abs(middle.x - b.middle.x) - half.x - b.half.x),
                     y = std::max(0.0, std::abs(middle.y - b.middle.y) - half.y - b.half.y),
                     z = std::max(0.0, std::abs(middle.z - b.middle.z) - half.z - b.half.z);
        return x * x + y * y + z * z;
    }
    [[nodiscard]] double extent() const { return half.x + half.y + half.z; }
};

/// Goes down two trees at once, the larger box first.
/// @param boxA, boxB  a node's box in a frame that both share: MiddleBox(const CompactTree::Node&)
/// @param isNear      whether two boxes are worth going into: bool(MiddleBox, MiddleBox)
/// @param leaves      called for two leaves that are; false ends it all
template <class BoxA, class BoxB, class Near, class Leaves>
void walkTogether(const CompactTree& a, const CompactTree& b, BoxA boxA, BoxB boxB, Near isNear, Leaves leaves,
                  std::pair<std::uint32_t, std::uint32_t> start = {0, 0})
{
    if (a.isEmpty() || b.isEmpty())
        return;
    std::array<std::pair<std::uint32_t, std::uint32_t>, 192> stack; // two entries a level, both at most 40 deep
    std::size_t depth = 0;
    stack[depth++] = start;
    while (depth > 0) {
        const auto [i, j] = stack[--depth];
        const CompactTree::Node &na = a.node(i), &nb = b.node(j);
        const MiddleBox ba = boxA(na), bb = boxB(nb);
        if (!isNear(ba, bb))
            continue;
        if (na.isLeaf() && nb.isLeaf()) {
            if (!leaves(na, nb))
                return;
        } else if (nb.isLeaf() || (!na.isLeaf() && ba.extent() >= bb.extent())) {
            stack[depth++] = {na.first, j};
            stack[depth++] = {i + 1, j};
        } else {
            stack[depth++] = {i, nb.first};
            stack[depth++] = {i, j + 1};
        }
    }
}

} // namespace wendrix::geometry
