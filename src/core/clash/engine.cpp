#include "core/clash/engine.h"

#include "core/clash/duplicate.h"
#include "core/clash/hard.h"

#include <tbb/blocked_range.h>
#include <tbb/enumerable_thread_specific.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <iterator>
#include <memory>

namespace wendrix::clash {

using geometry::CompactTree;
using geometry::MiddleBox;

namespace {

/// Pairs of tree nodes that are walked one by one: enough that no core waits long for another.
constexpr std::size_t kTasks = 1'024;

bool isBuilt(const ifc::Model& model, const ifc::Element& element)
{
    const ifc::Schema& schema = model.source().schema();
    return !schema.isA(element.type, "IfcSpatialStructureElement") && !schema.isA(element.type, "IfcSpatialElement") &&
           !schema.isA(element.type, "IfcVirtualElement");
}

/// Where a test computes: about a whole metre in the middle, so that what stands at map coordinates keeps its digits.
Vector3 originOf(std::span<const federation::Member> members)
{
    Box3 box;
    for (const federation::Member& m : members)
        if (!m.geometry->bounds().isEmpty())
            box.add(m.fit.transform().apply(m.geometry->bounds()));
    if (box.isEmpty())
        return {};
    const Point3 c = box.centre();
    return {std::round(c.x), std::round(c.y), std::round(c.z)};
}

/// One side's elements with their bounds in the test's frame; bodies are placed when first needed.
class Side {
public:
    Side(std::span<const federation::Member> members, std::span<const Part> parts, Vector3 origin) : parts_(parts)
    {
        maps_.reserve(members.size());
        for (const federation::Member& m : members) {
            maps_.push_back(Transform::translation(-origin) * m.fit.transform());
            indices_.push_back(MemberIndex::of(m.geometry));
        }
        boxes_.resize(parts.size());
        Box3 all;
        for (std::size_t i = 0; i < parts.size(); ++i) {
            boxes_[i] =
                maps_[parts[i].member].apply(members[parts[i].member].geometry->elements()[parts[i].element].bounds);
            all.add(boxes_[i]);
        }
        tree_ = CompactTree(parts.size(), all, [&](std::uint32_t i) { return boxes_[i]; });
        bodies_ = std::vector<std::atomic<const Body*>>(parts.size());
    }
    ~Side()
    {
        for (auto& body : bodies_)
            delete body.load(std::memory_order_relaxed);
    }
    Side(const Side&) = delete;
    Side& operator=(const Side&) = delete;

    [[nodiscard]] const CompactTree& tree() const { return tree_; }
    [[nodiscard]] const Box3& box(std::uint32_t i) const { return boxes_[i]; }
    [[nodiscard]] Part part(std::uint32_t i) const { return parts_[i]; }
    [[nodiscard]] MiddleBox boxOf(const CompactTree::Node& node) const
    {
        const auto middle = [&](std::size_t k) { return 0.5 * (static_cast<double>(node.min[k]) + node.max[k]); };
        const auto half = [&](std::size_t k) { return 0.5 * (static_cast<double>(node.max[k]) - node.min[k]); };
        return {Point3{middle(0), middle(1), middle(2)} + tree_.centre(), {half(0), half(1), half(2)}};
    }
    [[nodiscard]] const Body& body(std::uint32_t i)
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
    CompactTree tree_;
    std::vector<std::atomic<const Body*>> bodies_;
};

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

struct FoundClash {
    Clash clash;
    bool isBrief = false;       ///< to be looked at thoroughly
    std::uint32_t i = 0, j = 0; ///< on the sides
};

std::optional<FoundClash> answer(const Body& a, const Body& b, const Question& q, Effort effort)
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
        clash.point = 0.5 * (gap->left + gap->right);
        return found;
    }
    if (q.kind == Kind::Duplicate) {
        const auto deviation = deviationOf(a, b, q.tolerance);
        if (!deviation)
            return {};
        clash.distance = *deviation;
        clash.point = a.parts.front().bounds().middle;
    }
    const auto overlap = overlapOf(a, b, q.tolerance, effort);
    if (overlap) {
        clash.depth = overlap->depth;
        clash.point = overlap->point;
        clash.isApproximate = overlap->isApproximate;
        found.isBrief = overlap->isBrief;
    }
    return overlap || q.kind == Kind::Duplicate ? std::optional(found) : std::nullopt;
}

/// Which of two elements that stand on both sides is taken as the left one: each pair is looked at once.
class Once {
public:
    Once(std::span<const Part> left, std::span<const Part> right)
    {
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
        return left != right && (left < right || both_.empty() || !isBoth(left) || !isBoth(right));
    }

private:
    [[nodiscard]] bool isBoth(Part p) const { return std::binary_search(both_.begin(), both_.end(), p); }
    std::vector<Part> both_;
};

/// Bodies of the federation's provided holes.
std::vector<Body> provisionsOf(std::span<const federation::Member> members, Vector3 origin)
{
    std::vector<Body> provisions;
    for (const federation::Member& m : members)
        for (ifc::ElementIndex e = 0; e < m.model->elements().size(); ++e)
            if (!m.geometry->elements()[e].placed.empty() && isProvision(*m.model, m.model->elements()[e]))
                provisions.push_back(
                    bodyOf(*MemberIndex::of(m.geometry), e, Transform::translation(-origin) * m.fit.transform()));
    return provisions;
}

/// Whether all that two bodies share lies in provided holes.
bool isProvided(const Body& a, const Body& b, const std::vector<Body>& provisions, double tolerance)
{
    const auto meets = [](const Body& one, const Body& other) {
        return std::any_of(one.parts.begin(), one.parts.end(), [&](const PlacedPart& p) {
            return std::any_of(other.parts.begin(), other.parts.end(),
                               [&](const PlacedPart& q) { return p.bounds().isWithin(q.bounds(), 0); });
        });
    };
    std::vector<const Body*> there;
    for (const Body& p : provisions)
        if (meets(p, a) && meets(p, b))
            there.push_back(&p);
    return !there.empty() && !meetWithout(a, b, there, tolerance);
}

/// Takes what is expected out of what was found.
void leaveOut(std::span<const federation::Member> members, const Question& question, Side& a, Side& b, Vector3 origin,
              std::vector<FoundClash>& all, std::vector<Expected>& expected)
{
    if (question.ignored == Meetings::none() || all.empty())
        return;
    std::vector<std::unique_ptr<const ExpectedMeetings>> relations(members.size());
    std::optional<std::vector<Body>> provisions;
    const auto ruleOf = [&](const FoundClash& f) -> std::optional<Meeting> {
        const Part p = f.clash.left, q = f.clash.right;
        const auto isHole = [&](Part part) {
            const ifc::Model& model = *members[part.member].model;
            return isProvision(model, model.elements()[part.element]);
        };
        const bool hasOpenings = question.ignored.has(Meeting::Openings);
        if (hasOpenings && (isHole(p) || isHole(q)))
            return Meeting::Openings;
        if (hasOpenings && question.kind == Kind::Hard) {
            if (!provisions)
                provisions = provisionsOf(members, origin);
            if (isProvided(a.body(f.i), b.body(f.j), *provisions, question.tolerance))
                return Meeting::Openings;
        }
        if (p.member != q.member)
            return {};
        auto& known = relations[p.member];
        if (known == nullptr)
            known = std::make_unique<const ExpectedMeetings>(*members[p.member].model);
        return known->between(p.element, q.element, question.ignored);
    };
    std::erase_if(all, [&](const FoundClash& f) {
        const auto rule = ruleOf(f);
        if (rule)
            expected.push_back({*rule, f.clash.left, f.clash.right});
        return rule.has_value();
    });
    std::sort(expected.begin(), expected.end());
}

/// The pairs of nodes to begin with, near the top of both trees.
std::vector<std::pair<std::uint32_t, std::uint32_t>> tasksOf(const Side& a, const Side& b, double margin)
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

bool isTestable(const federation::Member& member, ifc::ElementIndex element)
{
    return !member.geometry->elements()[element].placed.empty() &&
           isBuilt(*member.model, member.model->elements()[element]);
}

std::optional<std::string> whyNotTestable(const federation::Member& member, ifc::ElementIndex element)
{
    const ifc::Element& e = member.model->elements()[element];
    if (!member.geometry->elements()[element].placed.empty() || !isBuilt(*member.model, e))
        return {};
    return e.representations.empty() ? "It has no body in the file." : "Its body could not be built.";
}

std::vector<Part> partsOf(std::span<const federation::Member> members, std::span<const std::uint32_t> which)
{
    std::vector<Part> parts;
    for (const std::uint32_t m : which)
        for (ifc::ElementIndex e = 0; e < members[m].model->elements().size(); ++e)
            if (isTestable(members[m], e))
                parts.push_back({m, e});
    return parts;
}

Findings findClashes(std::span<const federation::Member> members, std::span<const Part> left,
                     std::span<const Part> right, const Question& question, Progress& progress)
{
    const auto start = std::chrono::steady_clock::now();
    const Vector3 origin = originOf(members);
    Side a(members, left, origin), b(members, right, origin);
    const Once once(left, right);
    const Vector3 margin = marginOf(question);
    const double widest = std::max({margin.x, margin.y, margin.z});
    struct Found {
        std::vector<FoundClash> clashes;
        std::size_t tested = 0;
    };
    tbb::enumerable_thread_specific<Found> found;
    std::atomic<std::size_t> done{0};
    const auto tasks = tasksOf(a, b, widest);
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, tasks.size(), 1), [&](const auto& range) {
        Found& own = found.local();
        for (std::size_t k = range.begin(); k < range.end(); ++k) {
            geometry::walkTogether(
                a.tree(), b.tree(), [&](const CompactTree::Node& n) { return a.boxOf(n); },
                [&](const CompactTree::Node& n) { return b.boxOf(n); },
                [&](const MiddleBox& x, const MiddleBox& y) { return x.isWithin(y, widest); },
                [&](const CompactTree::Node& x, const CompactTree::Node& y) {
                    for (const std::uint32_t i : a.tree().items(x))
                        for (const std::uint32_t j : b.tree().items(y)) {
                            if (!areNear(a.box(i), b.box(j), margin))
                                continue;
                            const Part p = a.part(i), q = b.part(j);
                            if (!once.isTheirTurn(p, q))
                                continue;
                            if (progress.isCancelled())
                                return false;
                            ++own.tested;
                            if (auto clash = answer(a.body(i), b.body(j), question, Effort::Brief)) {
                                clash->clash.left = p;
                                clash->clash.right = q;
                                clash->i = i;
                                clash->j = j;
                                own.clashes.push_back(std::move(*clash));
                            }
                        }
                    return true;
                },
                tasks[k]);
            progress.report("Looking for clashes", static_cast<double>(++done) / static_cast<double>(tasks.size()));
        }
    });
    Findings findings;
    std::vector<FoundClash> all;
    for (Found& own : found) {
        findings.pairsTested += own.tested;
        all.insert(all.end(), own.clashes.begin(), own.clashes.end());
    }
    const auto isBrief = [](const FoundClash& f) { return f.isBrief; };
    const bool isThorough =
        static_cast<std::size_t>(std::count_if(all.begin(), all.end(), isBrief)) <= question.mostThorough;
    leaveOut(members, question, a, b, origin, all, findings.expected);
    tbb::parallel_for(std::size_t{0}, all.size(), [&](std::size_t k) {
        auto& [clash, isOnlyBrief, i, j] = all[k];
        if (progress.isCancelled())
            return;
        if (isThorough && isOnlyBrief)
            if (auto deeper = answer(a.body(i), b.body(j), question, Effort::Thorough)) {
                deeper->clash.left = clash.left;
                deeper->clash.right = clash.right;
                clash = std::move(deeper->clash);
            }
        if (question.withVolumes && question.kind == Kind::Hard)
            clash.volume = sharedVolume(a.body(i), b.body(j));
    });
    findings.isPartial = progress.isCancelled();
    findings.clashes.reserve(all.size());
    for (FoundClash& f : all) {
        f.clash.point = f.clash.point + origin;
        findings.clashes.push_back(std::move(f.clash));
    }
    const auto guid = [&](Part part) -> const std::string& {
        return members[part.member].model->elements()[part.element].guid;
    };
    std::sort(findings.clashes.begin(), findings.clashes.end(), [&](const Clash& x, const Clash& y) {
        return std::tie(guid(x.left), guid(x.right), x.left, x.right) <
               std::tie(guid(y.left), guid(y.right), y.left, y.right);
    });
    findings.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return findings;
}

} // namespace wendrix::clash
