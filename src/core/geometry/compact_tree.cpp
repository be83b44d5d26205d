#include "core/geometry/compact_tree.h"

#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>
#include <tbb/task_arena.h>

#include <algorithm>
#include <limits>

namespace wendrix::geometry {

namespace {

/// Below so many items one thread is faster than two.
constexpr std::size_t kParallel = 1u << 14;

struct Item {
    std::array<float, 3> min, max;
    std::uint32_t number;
};

float down(double v)
{
    const auto f = static_cast<float>(v);
    return static_cast<double>(f) > v ? std::nextafter(f, -std::numeric_limits<float>::infinity()) : f;
}
float up(double v)
{
    const auto f = static_cast<float>(v);
    return static_cast<double>(f) < v ? std::nextafter(f, std::numeric_limits<float>::infinity()) : f;
}

std::size_t nodesOver(std::size_t items)
{
    return items <= CompactTree::kLeafSize ? 1 : 1 + nodesOver(items / 2) + nodesOver(items - items / 2);
}

class Build {
public:
    Build(std::vector<Item>& items, std::vector<CompactTree::Node>& nodes) : items_(items), nodes_(nodes) {}

    void range(std::size_t self, std::size_t first, std::size_t last)
    {
        constexpr float kFar = std::numeric_limits<float>::infinity();
        std::array<float, 3> low{kFar, kFar, kFar}, high{-kFar, -kFar, -kFar}, lowest = low, highest = high;
        for (std::size_t i = first; i < last; ++i)
            for (std::size_t k = 0; k < 3; ++k) {
                const float twice = items_[i].min[k] + items_[i].max[k];
                low[k] = std::min(low[k], items_[i].min[k]);
                high[k] = std::max(high[k], items_[i].max[k]);
                lowest[k] = std::min(lowest[k], twice);
                highest[k] = std::max(highest[k], twice);
            }
        const std::size_t count = last - first;
        CompactTree::Node& node = nodes_[self];
        node.min = low;
        node.max = high;
        if (count <= CompactTree::kLeafSize) {
            node.first = static_cast<std::uint32_t>(first);
            node.count = static_cast<std::uint32_t>(count);
            return;
        }
        std::size_t axis = 0;
        for (std::size_t k = 1; k < 3; ++k)
            if (highest[k] - lowest[k] > highest[axis] - lowest[axis])
                axis = k;
        const std::size_t half = count / 2, right = self + 1 + nodesOver(half);
        const auto from = items_.begin() + static_cast<std::ptrdiff_t>(first);
        std::nth_element(from, from + static_cast<std::ptrdiff_t>(half), from + static_cast<std::ptrdiff_t>(count),
                         [axis](const Item& a, const Item& b) {
                             const float ca = a.min[axis] + a.max[axis], cb = b.min[axis] + b.max[axis];
                             return ca < cb || (ca == cb && a.number < b.number);
                         });
        node.first = static_cast<std::uint32_t>(right);
        const auto goLeft = [&, this] { range(self + 1, first, first + half); };
        const auto goRight = [&, this] { range(right, first + half, last); };
        if (count >= kParallel) {
            tbb::parallel_invoke(goLeft, goRight);
        } else {
            goLeft();
            goRight();
        }
    }

private:
    std::vector<Item>& items_;
    std::vector<CompactTree::Node>& nodes_;
};

} // namespace

CompactTree::CompactTree(std::size_t items, const Box3& bounds, const std::function<Box3(std::uint32_t)>& boxOf)
{
    if (items == 0)
        return;
    centre_ = bounds.isEmpty() ? Point3{} : bounds.centre();
    std::vector<Item> all(items);
    const auto take = [&](std::size_t i) {
        const auto number = static_cast<std::uint32_t>(i);
        const Box3 box = boxOf(number);
        const Vector3 low = box.min - centre_, high = box.max - centre_;
        all[i] = {{down(low.x), down(low.y), down(low.z)}, {up(high.x), up(high.y), up(high.z)}, number};
    };
    const auto build = [&] {
        if (items >= kParallel)
            tbb::parallel_for(std::size_t{0}, items, take);
        else
            for (std::size_t i = 0; i < items; ++i)
                take(i);
        nodes_.resize(nodesOver(items));
        Build(all, nodes_).range(0, 0, items);
    };
    // A thread that waits here must not begin something else meanwhile that waits for this tree.
    if (items >= kParallel)
        tbb::this_task_arena::isolate(build);
    else
        build();
    order_.reserve(items);
    for (const Item& item : all)
        order_.push_back(item.number);
}

} // namespace wendrix::geometry
