#include "core/clash/memory.h"

#include <tbb/parallel_for.h>

#include <map>
#include <tuple>
#include <unordered_map>

namespace wendrix::clash {

namespace {

constexpr std::uint32_t kNone = ~std::uint32_t{0};

std::pair<std::vector<Digest>, std::vector<Digest>> digestsOf(std::span<const federation::Member> members,
                                                              std::span<const Part> parts)
{
    // What is of a file is kept with it; whose it is and where it stands is put to it here.
    std::vector<const MemberIndex::ElementDigests*> files;
    std::vector<Digest> owners, fits;
    for (const federation::Member& m : members) {
        files.push_back(&MemberIndex::of(m.geometry)->digests(*m.model));
        Digest owner, fit;
        owner.add(static_cast<std::uint64_t>(m.disciplineId));
        owner.add(std::string_view(m.disciplineId == 0 ? m.discipline : std::string()));
        owner.add(std::string_view(m.part));
        fit.add(m.fit.transform());
        owners.push_back(owner);
        fits.push_back(fit);
    }
    std::vector<Digest> refs(parts.size()), states(parts.size());
    tbb::parallel_for(std::size_t{0}, parts.size(), [&](std::size_t i) {
        const Part part = parts[i];
        refs[i] = owners[part.member];
        refs[i].add(files[part.member]->refs[part.element]);
        states[i] = fits[part.member];
        states[i].add(files[part.member]->bodies[part.element]);
    });
    return {std::move(refs), std::move(states)};
}

/// Where parts stand in a list, worked out when it is first asked.
class Numbers {
public:
    explicit Numbers(std::span<const Part> parts) : parts_(parts) {}
    [[nodiscard]] std::uint32_t of(Part part)
    {
        if (numbers_.empty())
            for (std::uint32_t i = 0; i < parts_.size(); ++i)
                numbers_.emplace(parts_[i], i);
        const auto at = numbers_.find(part);
        return at != numbers_.end() ? at->second : kNone;
    }

private:
    std::span<const Part> parts_;
    std::map<Part, std::uint32_t> numbers_;
};

bool isSameQuestion(const Question& a, const Question& b)
{
    return a.kind == b.kind && a.tolerance == b.tolerance && a.clearance == b.clearance && a.direction == b.direction;
}

} // namespace

/// Of each element before, its number now; kNone where it is gone or has changed.
/// @param isSame  set for those now that are as they were
std::vector<std::uint32_t> Memory::numbersNow(const Elements& before, const Elements& now, std::vector<bool>& isSame)
{
    std::vector<std::uint32_t> numbers(before.refs.size(), kNone);
    std::unordered_map<Digest, std::uint32_t, DigestHash> known; // made when the order is another one
    std::size_t hint = 0;
    for (std::uint32_t i = 0; i < before.refs.size(); ++i) {
        // Most elements follow the one they followed before; some are new or gone in between.
        constexpr std::size_t kAhead = 4;
        std::uint32_t at = kNone;
        for (std::size_t k = hint; k < std::min(hint + kAhead, now.refs.size()) && at == kNone; ++k)
            at = now.refs[k] == before.refs[i] ? static_cast<std::uint32_t>(k) : kNone;
        if (at == kNone) {
            if (known.empty())
                for (std::uint32_t k = 0; k < now.refs.size(); ++k)
                    known.emplace(now.refs[k], k);
            const auto found = known.find(before.refs[i]);
            if (found == known.end())
                continue;
            at = found->second;
        }
        hint = at + 1;
        if (now.states[at] != before.states[i])
            continue;
        numbers[i] = at;
        isSame[at] = true;
    }
    return numbers;
}

Memory::Unchanged Memory::recall(std::span<const federation::Member> members, std::span<const Part> left,
                                 std::span<const Part> right, const Question& question)
{
    static const Asked kNothing{};
    const bool isKnown = kept_ && isSameQuestion(kept_->question, question);
    const Asked& before = isKnown ? *kept_ : kNothing;
    Elements nowLeft, nowRight;
    std::tie(nowLeft.refs, nowLeft.states) = digestsOf(members, left);
    std::tie(nowRight.refs, nowRight.states) = digestsOf(members, right);

    Unchanged known{std::vector<bool>(left.size(), false), std::vector<bool>(right.size(), false), {}, {}};
    const auto leftNow = numbersNow(before.left, nowLeft, known.isLeft),
               rightNow = numbersNow(before.right, nowRight, known.isRight);
    Numbers lefts(left), rights(right);
    const Once once(left, right);
    known.clashes.reserve(isKnown ? clashes_.size() : 0);
    for (const FoundClash& kept : isKnown ? std::span<const FoundClash>(clashes_) : std::span<const FoundClash>()) {
        std::uint32_t l = leftNow[kept.i], r = rightNow[kept.j];
        bool isSwapped = false;
        // Of what stands on both sides the one that came first may have become the second.
        if (l != kNone && r != kNone && !once.isTheirTurn(left[l], right[r])) {
            const Part first = right[r], second = left[l];
            l = lefts.of(first);
            r = rights.of(second);
            isSwapped = true;
        }
        if (l == kNone || r == kNone)
            continue;
        FoundClash& found = known.clashes.emplace_back(kept);
        found.i = l;
        found.j = r;
        // A gap upwards keeps the side it was seen from; all else is seen from the one that comes first.
        const Part first = left[l], second = right[r];
        const bool isOneWay = question.kind == Kind::Clearance && found.clash.distance > 0 &&
                              (question.direction == Direction::Up || question.direction == Direction::Down);
        const bool isTurned = isOneWay && found.isTurned != isSwapped;
        found.isTurned = isTurned;
        for (Clash* clash : {&found.clash, found.deeper ? &*found.deeper : nullptr})
            if (clash != nullptr) {
                clash->left = isTurned ? second : first;
                clash->right = isTurned ? first : second;
            }
    }
    known.trees = trees_;
    if (!isKnown || before.left != nowLeft)
        known.trees.left = nullptr;
    if (!isKnown || before.right != nowRight)
        known.trees.right = nullptr;
    asked_ = Asked{question, std::move(nowLeft), std::move(nowRight)};
    return known;
}

void Memory::keep(std::vector<FoundClash> found, std::span<const FoundClash> deeper, Trees trees)
{
    kept_ = std::exchange(asked_, std::nullopt);
    trees_ = std::move(trees);
    clashes_ = std::move(found);
    if (deeper.empty())
        return;
    std::map<std::pair<std::uint32_t, std::uint32_t>, const Clash*> thorough;
    for (const FoundClash& f : deeper)
        if (f.deeper)
            thorough.emplace(std::pair(f.i, f.j), &*f.deeper);
    for (FoundClash& kept : clashes_)
        if (const auto at = thorough.find({kept.i, kept.j}); at != thorough.end())
            kept.deeper = *at->second;
}

} // namespace wendrix::clash
