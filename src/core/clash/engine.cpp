#include "core/clash/engine.h"

#include "core/clash/hard.h"
#include "core/clash/memory.h"
#include "core/clash/shared_body.h"
#include "core/clash/side.h"

#include <tbb/parallel_for.h>
#include <tbb/parallel_sort.h>

#include <algorithm>
#include <chrono>
#include <numeric>

namespace wendrix::clash {

namespace {

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

std::vector<std::uint32_t> allOf(const Side& side)
{
    std::vector<std::uint32_t> all(side.size());
    std::iota(all.begin(), all.end(), 0u);
    return all;
}

/// The others that changed elements are held against: all of them in the tree that is kept, or a few in one of their
/// own.
std::shared_ptr<const PartTree> treeOf(std::shared_ptr<const PartTree>* kept, const Side& ofChanged,
                                       const PartTree& changed, std::size_t count, const Side& others,
                                       std::vector<std::uint32_t> which, const Question& question)
{
    const bool isWhole = which.size() == others.size();
    if (isWhole && kept != nullptr && *kept != nullptr)
        return *kept;
    // A few changed elements are near to a few others only; to go through those is faster than to put all in a tree.
    constexpr std::size_t kFew = 4;
    if (!isWhole && count * kFew < which.size())
        which = nearTo(ofChanged, changed, others, which, question);
    auto tree = std::make_shared<const PartTree>(others, std::move(which));
    if (isWhole && kept != nullptr)
        *kept = tree;
    return tree;
}

/// What is not remembered is searched for.
Search searchWhatChanged(const Side& a, const Side& b, Memory::Unchanged& known, bool isKept, const Once& once,
                         const Question& question, Vector3 origin, Progress& progress)
{
    std::vector<std::uint32_t> changedLeft, sameLeft, changedRight;
    for (std::uint32_t i = 0; i < a.size(); ++i)
        (known.isLeft[i] ? sameLeft : changedLeft).push_back(i);
    for (std::uint32_t j = 0; j < b.size(); ++j)
        if (!known.isRight[j])
            changedRight.push_back(j);
    if (known.trees.origin != origin)
        known.trees = {origin, nullptr, nullptr};
    Search all;
    if (!changedLeft.empty()) {
        const PartTree some(a, changedLeft);
        const auto others =
            treeOf(isKept ? &known.trees.right : nullptr, a, some, changedLeft.size(), b, allOf(b), question);
        all = search(a, some, b, *others, once, question, origin, progress);
    }
    if (!changedRight.empty() && !sameLeft.empty()) {
        const PartTree some(b, changedRight);
        const auto others =
            treeOf(isKept ? &known.trees.left : nullptr, b, some, changedRight.size(), a, sameLeft, question);
        Search more = search(a, *others, b, some, once, question, origin, progress);
        all.tested += more.tested;
        all.clashes.insert(all.clashes.end(), more.clashes.begin(), more.clashes.end());
    }
    return all;
}

/// By left, then right GlobalId, then by their places in their files. What is in order at the beginning, as what is
/// remembered is, costs little.
void sortByIds(std::span<const federation::Member> members, std::vector<FoundClash>& clashes)
{
    const auto guid = [&](Part part) -> const std::string& {
        return members[part.member].model->elements()[part.element].guid;
    };
    // The beginning of the left one tells most apart, without a look at where it stands.
    using Entry = std::pair<std::uint64_t, std::uint32_t>;
    std::vector<Entry> order(clashes.size());
    tbb::parallel_for(std::size_t{0}, clashes.size(), [&](std::size_t k) {
        std::uint64_t begun = 0;
        const std::string& id = guid(clashes[k].clash.left);
        for (std::size_t i = 0; i < 8; ++i)
            begun = begun << 8 | (i < id.size() ? static_cast<unsigned char>(id[i]) : 0u);
        order[k] = {begun, static_cast<std::uint32_t>(k)};
    });
    const auto isBefore = [&](const Entry& p, const Entry& q) {
        if (p.first != q.first)
            return p.first < q.first;
        const Clash &x = clashes[p.second].clash, &y = clashes[q.second].clash;
        return std::tie(guid(x.left), guid(x.right), x.left, x.right) <
               std::tie(guid(y.left), guid(y.right), y.left, y.right);
    };
    const auto middle = std::is_sorted_until(order.begin(), order.end(), isBefore);
    tbb::parallel_sort(middle, order.end(), isBefore);
    std::inplace_merge(order.begin(), middle, order.end(), isBefore);
    std::vector<FoundClash> sorted;
    sorted.reserve(clashes.size());
    for (const auto& [begun, k] : order)
        sorted.push_back(std::move(clashes[k]));
    clashes = std::move(sorted);
}

/// Depths and places, where they are to be better than brief; volumes.
void lookDeeper(const Side& a, const Side& b, const Question& question, Vector3 origin, std::vector<FoundClash>& all,
                Progress& progress)
{
    const auto isBrief = [](const FoundClash& f) { return f.isBrief; };
    const bool isThorough =
        static_cast<std::size_t>(std::count_if(all.begin(), all.end(), isBrief)) <= question.mostThorough;
    tbb::parallel_for(std::size_t{0}, all.size(), [&](std::size_t k) {
        FoundClash& f = all[k];
        if (progress.isCancelled())
            return;
        if (isThorough && f.isBrief && !f.deeper)
            if (auto deeper = answer(a.body(f.i), b.body(f.j), question, Effort::Thorough, origin)) {
                f.deeper = deeper->clash;
                f.deeper->left = f.clash.left;
                f.deeper->right = f.clash.right;
            }
        if (question.withVolumes && question.kind == Kind::Hard) {
            f.clash.volume = sharedVolume(a.body(f.i), b.body(f.j));
            if (f.deeper)
                f.deeper->volume = f.clash.volume;
        }
    });
    if (!isThorough)
        for (FoundClash& f : all)
            f.deeper.reset();
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

std::vector<Part> partsOf(std::span<const federation::Member> members, const std::vector<bool>& doTakePart,
                          const std::vector<std::vector<std::uint8_t>>& picked)
{
    std::vector<Part> parts;
    for (std::uint32_t m = 0; m < members.size(); ++m)
        for (ifc::ElementIndex e = 0; doTakePart[m] && e < picked[m].size(); ++e)
            if (picked[m][e] != 0 && isTestable(members[m], e))
                parts.push_back({m, e});
    return parts;
}

Findings findClashes(std::span<const federation::Member> members, std::span<const Part> left,
                     std::span<const Part> right, const Question& question, Progress& progress, Memory* memory)
{
    const auto start = std::chrono::steady_clock::now();
    const Vector3 origin = originOf(members);
    const Side a(members, left, origin), b(members, right, origin);
    const Once once(left, right);
    Memory::Unchanged known{std::vector<bool>(left.size(), false), std::vector<bool>(right.size(), false), {}, {}};
    if (memory != nullptr)
        known = memory->recall(members, left, right, question);
    const Search searched = searchWhatChanged(a, b, known, memory != nullptr, once, question, origin, progress);
    Findings findings;
    findings.pairsTested = searched.tested;
    findings.remembered = known.clashes.size();
    std::vector<FoundClash> all = std::move(known.clashes);
    all.insert(all.end(), searched.clashes.begin(), searched.clashes.end());
    sortByIds(members, all);

    // What is expected to meet is asked anew each time, so it is remembered with all the rest.
    const bool isLessKept = memory != nullptr && (!(question.ignored == Meetings::none()) || question.joint > 0);
    std::vector<FoundClash> found = isLessKept ? all : std::vector<FoundClash>();
    leaveOut(members, question, a, b, origin, all, findings.expected);
    lookDeeper(a, b, question, origin, all, progress);
    findings.isPartial = progress.isCancelled();
    findings.clashes.reserve(all.size());
    for (const FoundClash& f : all)
        findings.clashes.push_back(f.deeper ? *f.deeper : f.clash);
    if (memory != nullptr && !findings.isPartial) {
        if (isLessKept)
            memory->keep(std::move(found), all, std::move(known.trees));
        else
            memory->keep(std::move(all), {}, std::move(known.trees));
    }
    findings.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return findings;
}

} // namespace wendrix::clash
