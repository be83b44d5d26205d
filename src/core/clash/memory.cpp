#include "core/clash/memory.h"

#include <tbb/parallel_for.h>

#include <map>

namespace wendrix::clash {

namespace {

struct Digests {
    std::vector<Digest> refs, states;
};

Digests digestsOf(std::span<const federation::Member> members, std::span<const Part> parts)
{
    std::vector<std::shared_ptr<const MemberIndex>> indices;
    for (const federation::Member& m : members)
        indices.push_back(MemberIndex::of(m.geometry));
    Digests all{std::vector<Digest>(parts.size()), std::vector<Digest>(parts.size())};
    const auto addVector = [](Digest& d, Vector3 v) {
        d.add(v.x);
        d.add(v.y);
        d.add(v.z);
    };
    tbb::parallel_for(std::size_t{0}, parts.size(), [&](std::size_t i) {
        const federation::Member& member = members[parts[i].member];
        const ifc::ElementIndex element = parts[i].element;
        Digest& ref = all.refs[i];
        ref.add(static_cast<std::uint64_t>(member.disciplineId));
        ref.add(std::string_view(member.disciplineId == 0 ? member.discipline : std::string()));
        ref.add(std::string_view(member.part));
        ref.add(std::string_view(member.model->elements()[element].guid));
        ref.add(static_cast<std::uint64_t>(member.model->ordinalOf(element)));
        Digest& state = all.states[i];
        const Transform fit = member.fit.transform();
        for (const geometry::PlacedShape& placed : member.geometry->elements()[element].placed) {
            const Digest& shape = indices[parts[i].member]->shape(placed.shape).digest();
            state.add(shape.a);
            state.add(shape.b);
            const Transform at = fit * placed.placement;
            addVector(state, at.x);
            addVector(state, at.y);
            addVector(state, at.z);
            addVector(state, at.origin);
        }
    });
    return all;
}

bool isSameQuestion(const Question& a, const Question& b)
{
    return a.kind == b.kind && a.tolerance == b.tolerance && a.clearance == b.clearance && a.direction == b.direction;
}

} // namespace

Memory::Unchanged Memory::recall(std::span<const federation::Member> members, std::span<const Part> left,
                                 std::span<const Part> right, const Question& question)
{
    if (!hasAsked_ || !isSameQuestion(question_, question)) {
        left_.clear();
        right_.clear();
        clashes_.clear();
    }
    hasAsked_ = true;
    question_ = question;
    Digests ofLeft = digestsOf(members, left), ofRight = digestsOf(members, right);
    leftRefs_ = std::move(ofLeft.refs);
    leftStates_ = std::move(ofLeft.states);
    rightRefs_ = std::move(ofRight.refs);
    rightStates_ = std::move(ofRight.states);

    Unchanged known{std::vector<bool>(left.size(), false), std::vector<bool>(right.size(), false), {}};
    const auto look = [](const Elements& before, const std::vector<Digest>& refs, const std::vector<Digest>& states,
                         std::vector<bool>& isSame) {
        std::unordered_map<Digest, std::uint32_t, DigestHash> numbers; // of those that are the same
        for (std::uint32_t i = 0; i < refs.size(); ++i)
            if (const auto at = before.find(refs[i]); at != before.end() && at->second == states[i]) {
                isSame[i] = true;
                numbers.emplace(refs[i], i);
            }
        return numbers;
    };
    const auto lefts = look(left_, leftRefs_, leftStates_, known.isLeft),
               rights = look(right_, rightRefs_, rightStates_, known.isRight);
    const Once once(left, right);
    for (const Kept& kept : clashes_) {
        auto l = lefts.find(kept.left), r = rights.find(kept.right);
        bool isSwapped = false;
        // Of what stands on both sides the one that came first may have become the second.
        if (l != lefts.end() && r != rights.end() && !once.isTheirTurn(left[l->second], right[r->second])) {
            l = lefts.find(kept.right);
            r = rights.find(kept.left);
            isSwapped = true;
        }
        if (l == lefts.end() || r == rights.end())
            continue;
        FoundClash found = kept.found;
        found.i = l->second;
        found.j = r->second;
        // A gap upwards keeps the side it was seen from; all else is seen from the one that comes first.
        const Part first = left[l->second], second = right[r->second];
        const bool isOneWay = question.kind == Kind::Clearance && found.clash.distance > 0 &&
                              (question.direction == Direction::Up || question.direction == Direction::Down);
        const bool isTurned = isOneWay && found.isTurned != isSwapped;
        found.isTurned = isTurned;
        for (Clash* clash : {&found.clash, found.deeper ? &*found.deeper : nullptr})
            if (clash != nullptr) {
                clash->left = isTurned ? second : first;
                clash->right = isTurned ? first : second;
            }
        known.clashes.push_back(std::move(found));
    }
    return known;
}

void Memory::keep(const std::vector<FoundClash>& found, const std::vector<FoundClash>& deeper)
{
    std::map<std::pair<std::uint32_t, std::uint32_t>, const Clash*> thorough;
    for (const FoundClash& f : deeper)
        if (f.deeper)
            thorough.emplace(std::pair(f.i, f.j), &*f.deeper);
    clashes_.clear();
    clashes_.reserve(found.size());
    for (const FoundClash& f : found) {
        clashes_.push_back({leftRefs_[f.i], rightRefs_[f.j], f});
        if (const auto at = thorough.find({f.i, f.j}); at != thorough.end())
            clashes_.back().found.deeper = *at->second;
    }
    const auto take = [](Elements& elements, const std::vector<Digest>& refs, const std::vector<Digest>& states) {
        elements.clear();
        for (std::size_t i = 0; i < refs.size(); ++i)
            elements.emplace(refs[i], states[i]);
    };
    take(left_, leftRefs_, leftStates_);
    take(right_, rightRefs_, rightStates_);
}

} // namespace wendrix::clash
