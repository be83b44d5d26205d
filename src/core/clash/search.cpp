#include "core/clash/duplicate.h"
#include "core/clash/hard.h"
#include "core/clash/side.h"

#include <tbb/blocked_range.h>
#include <tbb/enumerable_thread_specific.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>

namespace wendrix::clash {

using geometry::CompactTree;
using geometry::MiddleBox;

namespace {

/// Pairs of tree nodes that are walked one by one: enough that no core waits long for another.
constexpr std::size_t kTasks = 1'024;

/// How far apart two boxes may be for the pair to be of interest, by axis. Negative: how much they overlap.
Vector3 marginOf(const Question& q)
{
    const double least = std::max(q.tolerance, kLeastDepth);
    if (q.kind == Kind::Hard)
        return {-least, -least, -least};
    if (q.kind == Kind::Duplicate)
        return {least, least, least};
    const bool isInPlan = q.direction == Direction::Any || q.direction == Direction::Side,
               isUpright = q.direction != Direction::Side;
    const double plan = isInPlan ? q.clearance : kLeastDepth;
    return {plan, plan, isUpright ? q.clearance : kLeastDepth};
}

bool areNear(const Box3& a, const Box3& b, Vector3 margin)
{
    return a.min.x <= b.max.x + margin.x && b.min.x <= a.max.x + margin.x && a.min.y <= b.max.y + margin.y &&
           b.min.y <= a.max.y + margin.y && a.min.z <= b.max.z + margin.z && b.min.z <= a.max.z + margin.z;
}

/// The pairs of nodes to begin with, near the top of both trees.
std::vector<std::pair<std::uint32_t, std::uint32_t>> tasksOf(const PartTree& a, const PartTree& b, double margin)
{
    std::vector<std::pair<std::uint32_t, std::uint32_t>> tasks, next;
    if (a.tree().isEmpty() || b.tree().isEmpty())
        return tasks;
    tasks.emplace_back(0, 0);
    for (bool isAnySplit = true; isAnySplit && tasks.size() < kTasks; tasks.swap(next)) {
        next.clear();
        isAnySplit = false;
        for (const auto& [i, j] : tasks) {
            const CompactTree::Node &na = a.tree().node(i), &nb = b.tree().node(j);
            const MiddleBox ba = a.boxOf(na), bb = b.boxOf(nb);
            if (!ba.isWithin(bb, margin))
                continue;
            if (na.isLeaf() && nb.isLeaf()) {
                next.emplace_back(i, j);
            } else if (nb.isLeaf() || (!na.isLeaf() && ba.extent() >= bb.extent())) {
                next.emplace_back(i + 1, j);
                next.emplace_back(na.first, j);
                isAnySplit = true;
            } else {
                next.emplace_back(i, j + 1);
                next.emplace_back(i, nb.first);
                isAnySplit = true;
            }
        }
    }
    return tasks;
}

} // namespace

Side::Side(std::span<const federation::Member> members, std::span<const Part> parts, Vector3 origin) : parts_(parts)
{
    maps_.reserve(members.size());
    for (const federation::Member& m : members) {
        maps_.push_back(Transform::translation(-origin) * m.fit.transform());
        indices_.push_back(MemberIndex::of(m.geometry));
    }
    boxes_.resize(parts.size());
    tbb::parallel_for(std::size_t{0}, parts.size(), [&](std::size_t i) {
        boxes_[i] =
            maps_[parts[i].member].apply(members[parts[i].member].geometry->elements()[parts[i].element].bounds);
    });
    bodies_ = std::vector<std::atomic<const Body*>>(parts.size());
}

Side::~Side()
{
    // Bodies hold what was placed; giving a hundred thousand of them back one after the other takes a while.
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, bodies_.size(), 1024), [&](const auto& range) {
        for (std::size_t i = range.begin(); i < range.end(); ++i)
            delete bodies_[i].load(std::memory_order_relaxed);
    });
}

PartTree::PartTree(const Side& side, std::vector<std::uint32_t> which) : which_(std::move(which))
{
    Box3 all;
    for (const std::uint32_t i : which_)
        all.add(side.box(i));
    tree_ = CompactTree(which_.size(), all, [&](std::uint32_t item) { return side.box(which_[item]); });
}

std::optional<FoundClash> answer(const Body& a, const Body& b, const Question& q, Effort effort, Vector3 origin)
{
    FoundClash found;
    Clash& clash = found.clash;
    clash.isOpen = !a.isClosed || !b.isClosed;
    if (q.kind == Kind::Clearance) {
        const auto gap = gapOf(a, b, q.direction, q.clearance);
        // As much as is wanted is enough; what placing rounds away is not too little.
        if (!gap || gap->distance > q.clearance - kLeastDepth)
            return {};
        clash.distance = gap->distance;
        clash.point = 0.5 * (gap->left + gap->right) + origin;
        return found;
    }
    if (q.kind == Kind::Duplicate) {
        const auto deviation = deviationOf(a, b, q.tolerance);
        if (!deviation)
            return {};
        clash.distance = *deviation;
        clash.point = a.parts.front().bounds().middle + origin;
    }
    const auto overlap = overlapOf(a, b, q.tolerance, effort);
    if (overlap) {
        clash.depth = overlap->depth;
        clash.point = overlap->point + origin;
        clash.isApproximate = overlap->isApproximate;
        found.isBrief = overlap->isBrief;
    }
    return overlap || q.kind == Kind::Duplicate ? std::optional(found) : std::nullopt;
}

std::vector<std::uint32_t> nearTo(const Side& ofTree, const PartTree& tree, const Side& side,
                                  const std::vector<std::uint32_t>& which, const Question& question)
{
    const Vector3 margin = marginOf(question);
    const double widest = std::max({margin.x, margin.y, margin.z});
    std::vector<std::uint8_t> isNear(which.size(), 0);
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, which.size()), [&](const auto& range) {
        std::vector<std::uint32_t> open;
        for (std::size_t k = range.begin(); k < range.end(); ++k) {
            const Box3& box = side.box(which[k]);
            if (box.isEmpty() || tree.tree().isEmpty())
                continue;
            const MiddleBox own{box.centre(), 0.5 * box.size()};
            open.assign(1, 0);
            while (!open.empty() && isNear[k] == 0) {
                const std::uint32_t at = open.back();
                open.pop_back();
                const CompactTree::Node& node = tree.tree().node(at);
                if (!tree.boxOf(node).isWithin(own, widest))
                    continue;
                if (!node.isLeaf()) {
                    open.push_back(at + 1);
                    open.push_back(node.first);
                    continue;
                }
                for (const std::uint32_t item : tree.tree().items(node))
                    if (areNear(ofTree.box(tree.partOf(item)), box, margin)) {
                        isNear[k] = 1;
                        break;
                    }
            }
        }
    });
    std::vector<std::uint32_t> near;
    for (std::size_t k = 0; k < which.size(); ++k)
        if (isNear[k] != 0)
            near.push_back(which[k]);
    return near;
}

Search search(const Side& a, const PartTree& some, const Side& b, const PartTree& others, const Once& once,
              const Question& question, Vector3 origin, Progress& progress)
{
    const Vector3 margin = marginOf(question);
    const double widest = std::max({margin.x, margin.y, margin.z});
    const bool isOneWay = question.kind == Kind::Clearance &&
                          (question.direction == Direction::Up || question.direction == Direction::Down);
    tbb::enumerable_thread_specific<Search> found;
    std::atomic<std::size_t> done{0};
    const auto tasks = tasksOf(some, others, widest);
    const auto ask = [&](Search& own, std::uint32_t i, std::uint32_t j) {
        const Part p = a.part(i), q = b.part(j);
        if (!areNear(a.box(i), b.box(j), margin) || !once.isTheirTurn(p, q))
            return;
        ++own.tested;
        auto clash = answer(a.body(i), b.body(j), question, Effort::Brief, origin);
        if (clash) {
            clash->clash.left = p;
            clash->clash.right = q;
        } else if (isOneWay && once.areBoth(p, q)) {
            // Seen from the other one, what is below lies above.
            clash = answer(b.body(j), a.body(i), question, Effort::Brief, origin);
            if (clash) {
                clash->clash.left = q;
                clash->clash.right = p;
                clash->isTurned = true;
            }
        }
        if (!clash)
            return;
        clash->i = i;
        clash->j = j;
        own.clashes.push_back(std::move(*clash));
    };
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, tasks.size(), 1), [&](const auto& range) {
        Search& own = found.local();
        for (std::size_t k = range.begin(); k < range.end(); ++k) {
            geometry::walkTogether(
                some.tree(), others.tree(), [&](const CompactTree::Node& n) { return some.boxOf(n); },
                [&](const CompactTree::Node& n) { return others.boxOf(n); },
                [&](const MiddleBox& x, const MiddleBox& y) { return x.isWithin(y, widest); },
                [&](const CompactTree::Node& x, const CompactTree::Node& y) {
                    for (const std::uint32_t i : some.tree().items(x))
                        for (const std::uint32_t j : others.tree().items(y)) {
                            if (progress.isCancelled())
                                return false;
                            ask(own, some.partOf(i), others.partOf(j));
                        }
                    return true;
                },
                tasks[k]);
            progress.report("Looking for clashes", static_cast<double>(++done) / static_cast<double>(tasks.size()));
        }
    });
    Search all;
    for (Search& own : found) {
        all.tested += own.tested;
        all.clashes.insert(all.clashes.end(), own.clashes.begin(), own.clashes.end());
    }
    return all;
}

} // namespace wendrix::clash
