#pragma once

#include "core/clash/body.h"
#include "core/clash/engine.h"
#include "core/clash/separation.h"

#include <algorithm>
#include <atomic>
#include <iterator>
#include <memory>
#include <vector>

/// Inside of the engine: who takes part, and what is found among them.
namespace wendrix::clash {

/// One side's elements with their bounds in the test's frame; bodies are placed when first needed. From any thread.
class Side {
public:
    Side(std::span<const federation::Member> members, std::span<const Part> parts, Vector3 origin);
    ~Side();
    Side(const Side&) = delete;
    Side& operator=(const Side&) = delete;

    [[nodiscard]] const Box3& box(std::uint32_t i) const { return boxes_[i]; }
    [[nodiscard]] Part part(std::uint32_t i) const { return parts_[i]; }
    [[nodiscard]] std::size_t size() const { return parts_.size(); }
    [[nodiscard]] const Body& body(std::uint32_t i) const
    {
        if (const Body* known = bodies_[i].load(std::memory_order_acquire))
            return *known;
        const Part part = parts_[i];
        auto made = std::make_unique<const Body>(bodyOf(*indices_[part.member], part.element, maps_[part.member]));
        const Body* expected = nullptr;
        if (bodies_[i].compare_exchange_strong(expected, made.get(), std::memory_order_acq_rel))
            return *made.release();
        return *expected;
    }

private:
    std::span<const Part> parts_;
    std::vector<Transform> maps_;                             // by member, to the test's frame
    std::vector<std::shared_ptr<const MemberIndex>> indices_; // by member
    std::vector<Box3> boxes_;
    mutable std::vector<std::atomic<const Body*>> bodies_;
};

/// Some of a side's elements in a tree.
class PartTree {
public:
    /// @param which  numbers on the side
    PartTree(const Side& side, std::vector<std::uint32_t> which);

    [[nodiscard]] const geometry::CompactTree& tree() const { return tree_; }
    [[nodiscard]] std::uint32_t partOf(std::uint32_t item) const { return which_[item]; }
    [[nodiscard]] geometry::MiddleBox boxOf(const geometry::CompactTree::Node& node) const
    {
        const auto middle = [&](std::size_t k) { return 0.5 * (static_cast<double>(node.min[k]) + node.max[k]); };
        const auto half = [&](std::size_t k) { return 0.5 * (static_cast<double>(node.max[k]) - node.min[k]); };
        return {Point3{middle(0), middle(1), middle(2)} + tree_.centre(), {half(0), half(1), half(2)}};
    }

private:
    std::vector<std::uint32_t> which_;
    geometry::CompactTree tree_;
};

/// Which of two elements that stand on both sides is taken as the left one: each pair is looked at once.
class Once {
public:
    Once(std::span<const Part> left, std::span<const Part> right)
    {
        // Most sides are different members.
        std::vector<bool> isLeft;
        for (const Part& p : left) {
            if (p.member >= isLeft.size())
                isLeft.resize(p.member + 1, false);
            isLeft[p.member] = true;
        }
        if (std::none_of(right.begin(), right.end(),
                         [&](const Part& p) { return p.member < isLeft.size() && isLeft[p.member]; }))
            return;
        const auto sorted = [](std::span<const Part> parts) {
            std::vector<Part> s(parts.begin(), parts.end());
            std::sort(s.begin(), s.end());
            return s;
        };
        const std::vector<Part> l = sorted(left), r = sorted(right);
        std::set_intersection(l.begin(), l.end(), r.begin(), r.end(), std::back_inserter(both_));
    }
    [[nodiscard]] bool isTheirTurn(Part left, Part right) const
    {
        return left != right && (left < right || !areBoth(left, right));
    }
    /// Whether the pair would come the other way round, too.
    [[nodiscard]] bool areBoth(Part left, Part right) const { return !both_.empty() && isBoth(left) && isBoth(right); }

private:
    [[nodiscard]] bool isBoth(Part p) const { return std::binary_search(both_.begin(), both_.end(), p); }
    std::vector<Part> both_;
};

/// A clash while it is worked on.
struct FoundClash {
    Clash clash;
    bool isBrief = false;        ///< to be looked at thoroughly
    bool isTurned = false;       ///< the clash is seen from the right side's element
    std::optional<Clash> deeper; ///< what that gave
    std::uint32_t i = 0, j = 0;  ///< on the sides
};

/// What two bodies say to a question; `left`, `right` and the numbers are the caller's to set.
/// @param origin  of the bodies' frame, in the federation's
[[nodiscard]] std::optional<FoundClash> answer(const Body& a, const Body& b, const Question& question, Effort effort,
                                               Vector3 origin);

/// Of some elements of a side those near enough to one of a tree to be looked at, in their order.
/// @param ofTree  the side of the tree's elements
[[nodiscard]] std::vector<std::uint32_t> nearTo(const Side& ofTree, const PartTree& tree, const Side& side,
                                                const std::vector<std::uint32_t>& which, const Question& question);

struct Search {
    std::vector<FoundClash> clashes; ///< in no order
    std::size_t tested = 0;
};
/// Asks of some elements of one side against some of the other, on all cores.
[[nodiscard]] Search search(const Side& a, const PartTree& some, const Side& b, const PartTree& others,
                            const Once& once, const Question& question, Vector3 origin, Progress& progress);

/// Takes what is expected out of what was found.
void leaveOut(std::span<const federation::Member> members, const Question& question, const Side& a, const Side& b,
              Vector3 origin, std::vector<FoundClash>& all, std::vector<Expected>& expected);

} // namespace wendrix::clash
