#include "core/changes/matching.h"

#include "core/changes/assignment.h"
#include "core/changes/frames.h"
#include "core/changes/same_shape.h"
#include "core/geometry/box_tree.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <unordered_map>

namespace wendrix::changes {

using federation::Member;
using geometry::Mesh;
using ifc::ElementIndex;

namespace {

constexpr std::size_t kMostAlike = 8; // candidates by one trait: more say nothing
constexpr double kNear = 3;           // metres: within a room

/// What an element without a match is known by.
struct Trait {
    std::string_view className, name, tag, type;
    bool hasBody = false;
    Box3 bounds; ///< file frame of the later revision
    double volume = 0, area = 0;
};

std::vector<Trait> traitsOf(const Member& member, std::span<const ElementIndex> elements, const Transform& frame)
{
    std::vector<Trait> traits;
    traits.reserve(elements.size());
    for (const ElementIndex i : elements) {
        const ifc::Element& e = member.model->elements()[i];
        const geometry::ElementShape& shape = member.geometry->elements()[i];
        Trait t{plainClass(member.model->className(e)),
                member.model->text(e.name),
                member.model->text(e.tag),
                member.model->text(e.typeName),
                !shape.placed.empty(),
                {},
                shape.volume,
                shape.area};
        if (t.hasBody)
            t.bounds = frame.apply(shape.bounds);
        traits.push_back(t);
    }
    return traits;
}

/// Elements by a text of theirs, within their class.
class ByText {
public:
    ByText(const std::vector<Trait>& traits, std::string_view Trait::*text) : text_(text)
    {
        for (std::uint32_t i = 0; i < traits.size(); ++i)
            if (!(traits[i].*text).empty())
                byText_[keyOf(traits[i])].push_back(i);
    }
    [[nodiscard]] std::span<const std::uint32_t> like(const Trait& trait) const
    {
        const auto found = (trait.*text_).empty() ? byText_.end() : byText_.find(keyOf(trait));
        return found == byText_.end() ? std::span<const std::uint32_t>{} : found->second;
    }

private:
    [[nodiscard]] Digest keyOf(const Trait& trait) const
    {
        Digest key;
        key.add(trait.className);
        key.add(trait.*text_);
        return key;
    }
    std::string_view Trait::*text_;
    std::unordered_map<Digest, std::vector<std::uint32_t>, DigestHash> byText_;
};

class Matcher {
public:
    Matcher(const Member& before, std::span<const ElementIndex> removed, const Member& after,
            std::span<const ElementIndex> added, double tolerance, Looking looking)
        : before_(before), after_(after), removed_(removed), added_(added), tolerance_(tolerance), looking_(looking),
          was_(traitsOf(before, removed, frameBetween(before, after))), now_(traitsOf(after, added, {})),
          wasByName_(was_, &Trait::name), nowByName_(now_, &Trait::name), wasByTag_(was_, &Trait::tag),
          nowByTag_(now_, &Trait::tag)
    {
    }

    std::vector<Rekeyed> matched()
    {
        std::vector<Rekeyed> pairs;
        isWasTaken_.assign(was_.size(), false);
        isNowTaken_.assign(now_.size(), false);
        std::vector<Candidate> candidates;
        takeWrittenTheSame(pairs, candidates);
        const std::vector<std::vector<Candidate>> more = candidatesOfTheRest();
        for (const auto& some : more)
            candidates.insert(candidates.end(), some.begin(), some.end());
        // Cubed, one that is sure outweighs two that are doubtful; of equals, those of one order in their files.
        const double step = 1e-7 / static_cast<double>(std::max<std::size_t>(was_.size() + now_.size(), 1));
        for (Candidate& c : candidates)
            c.weight =
                std::pow(c.weight, 3) - step * std::abs(static_cast<double>(c.before) - static_cast<double>(c.after));
        for (const auto& [was, now] : assigned(std::move(candidates)))
            pairs.push_back({removed_[was], added_[now], confidenceOf(was, now)});
        std::sort(pairs.begin(), pairs.end(), [](const Rekeyed& a, const Rekeyed& b) { return a.after < b.after; });
        return pairs;
    }

private:
    /// Bodies that are written the same at one place, by their digests: at once where there is one on each side.
    void takeWrittenTheSame(std::vector<Rekeyed>& pairs, std::vector<Candidate>& candidates)
    {
        if (before_.fit != after_.fit)
            return;
        struct Both {
            std::vector<std::uint32_t> was, now;
        };
        std::unordered_map<Digest, Both, DigestHash> byBody;
        const auto keyOf = [](const Trait& trait, Digest body) {
            body.add(trait.className);
            return body;
        };
        for (std::uint32_t i = 0; i < was_.size(); ++i)
            if (was_[i].hasBody)
                byBody[keyOf(was_[i], before_.geometry->digestOf(removed_[i]))].was.push_back(i);
        for (std::uint32_t i = 0; i < now_.size(); ++i)
            if (now_[i].hasBody)
                if (const auto found = byBody.find(keyOf(now_[i], after_.geometry->digestOf(added_[i])));
                    found != byBody.end())
                    found->second.now.push_back(i);
        for (const auto& [digest, both] : byBody) {
            if (both.now.empty())
                continue;
            if (both.was.size() == 1 && both.now.size() == 1)
                pairs.push_back({removed_[both.was[0]], added_[both.now[0]],
                                 confidence(Relation::Same, 0, 1, was_[both.was[0]], now_[both.now[0]])});
            else
                for (const std::uint32_t w : both.was)
                    for (const std::uint32_t n : both.now)
                        candidates.push_back({w, n, confidence(Relation::Same, 0, 1, was_[w], now_[n])});
            for (const std::uint32_t w : both.was)
                isWasTaken_[w] = true;
            for (const std::uint32_t n : both.now)
                isNowTaken_[n] = true;
        }
    }

    std::vector<std::vector<Candidate>> candidatesOfTheRest()
    {
        std::vector<Box3> boxes(was_.size());
        for (std::uint32_t i = 0; i < was_.size(); ++i)
            if (!isWasTaken_[i])
                boxes[i] = was_[i].bounds;
        const geometry::BoxTree tree(boxes);
        std::vector<std::vector<Candidate>> candidates(now_.size());
        tbb::parallel_for(std::size_t{0}, now_.size(), [&](std::size_t i) {
            const auto now = static_cast<std::uint32_t>(i);
            if (isNowTaken_[now])
                return;
            const Trait& trait = now_[now];
            std::vector<std::pair<double, std::uint32_t>> found;
            if (trait.hasBody)
                tree.overlapping(trait.bounds.grownBy(tolerance_), [&](std::uint32_t was) {
                    if (was_[was].className == trait.className)
                        if (const double shared = sharedPart(was_[was].bounds, trait.bounds); shared > 0.2)
                            found.emplace_back(-shared, was);
                });
            keepBest(found);
            std::vector<std::uint32_t> likely;
            for (const auto& [order, was] : found)
                likely.push_back(was);
            for (const ByText* by : {&wasByTag_, &wasByName_}) {
                if (looking_ == Looking::ForTheSameBody)
                    break;
                found.clear();
                for (const std::uint32_t was : by->like(trait))
                    if (!isWasTaken_[was])
                        found.emplace_back(trait.hasBody && was_[was].hasBody
                                               ? length(was_[was].bounds.centre() - trait.bounds.centre())
                                               : 0.0,
                                           was);
                if (found.size() > kMostAlike) // a name of many says something only of who is near
                    std::erase_if(found, [](const auto& f) { return f.first > kNear; });
                keepBest(found);
                for (const auto& [order, was] : found)
                    likely.push_back(was);
            }
            std::sort(likely.begin(), likely.end());
            likely.erase(std::unique(likely.begin(), likely.end()), likely.end());
            for (const std::uint32_t was : likely)
                if (const double c = confidenceOf(was, now); c >= kLeastConfidence)
                    candidates[i].push_back({was, now, c});
        });
        return candidates;
    }

    static void keepBest(std::vector<std::pair<double, std::uint32_t>>& found)
    {
        std::sort(found.begin(), found.end());
        if (found.size() > kMostAlike)
            found.resize(kMostAlike);
    }

    enum class Relation { Same, Congruent, Other, NoBodies };

    [[nodiscard]] double confidenceOf(std::uint32_t was, std::uint32_t now) const
    {
        const Trait &a = was_[was], &b = now_[now];
        if (!a.hasBody || !b.hasBody)
            return a.hasBody == b.hasBody && looking_ == Looking::ForAnyLikeness
                       ? confidence(Relation::NoBodies, 0, 0, a, b)
                       : 0;
        const double shared = sharedPart(a.bounds, b.bounds), off = length(b.bounds.centre() - a.bounds.centre());
        if (isWrittenTheSame(before_, removed_[was], after_, added_[now]))
            return confidence(Relation::Same, off, shared, a, b);
        constexpr double kAlike = 1e-4;
        const bool isCongruent = std::abs(a.volume - b.volume) <= kAlike * std::abs(a.volume) + 1e-9 &&
                                 std::abs(a.area - b.area) <= kAlike * a.area + 1e-9;
        const double farthest = length(b.bounds.min - a.bounds.min) + length(b.bounds.max - a.bounds.max);
        if (farthest <= 4 * tolerance_ &&
            isSameShape(bodyBefore(before_, removed_[was], after_), after_.geometry->meshOf(added_[now]), tolerance_))
            return confidence(Relation::Same, off, shared, a, b);
        if (looking_ == Looking::ForTheSameBody)
            return 0;
        return confidence(isCongruent ? Relation::Congruent : Relation::Other, off, shared, a, b);
    }

    [[nodiscard]] double confidence(Relation relation, double off, double shared, const Trait& a, const Trait& b) const
    {
        double sum = 0;
        switch (relation) {
        case Relation::Same:
            sum = 0.9;
            break;
        case Relation::Congruent:
            sum = 0.35 + 0.25 * std::exp(-off / 2);
            break;
        case Relation::Other:
            sum = std::max(0.6 * shared, 0.2 * std::exp(-off));
            break;
        case Relation::NoBodies:
            sum = 0.3;
            break;
        }
        const auto isAlone = [](const ByText& was, const ByText& now, const Trait& t) {
            return was.like(t).size() == 1 && now.like(t).size() == 1;
        };
        double named = 0;
        if (!a.tag.empty() && a.tag == b.tag)
            named = isAlone(wasByTag_, nowByTag_, b) ? 0.45 : 0.12;
        else if (!a.tag.empty() && !b.tag.empty())
            sum -= 0.1;
        if (!a.name.empty() && a.name == b.name) {
            const double byName = isAlone(wasByName_, nowByName_, b) ? 0.4 : 0.12;
            named = named > 0 ? std::max(named, byName) + 0.05 : byName;
        } else if (!a.name.empty() && !b.name.empty()) {
            sum -= 0.1;
        }
        if (a.type == b.type)
            named += 0.1;
        else if (!a.type.empty() && !b.type.empty())
            sum -= 0.05;
        return std::clamp(sum + named, 0.0, 1.0);
    }

    const Member &before_, &after_;
    std::span<const ElementIndex> removed_, added_;
    double tolerance_;
    Looking looking_;
    std::vector<Trait> was_, now_;
    ByText wasByName_, nowByName_, wasByTag_, nowByTag_;
    std::vector<bool> isWasTaken_, isNowTaken_;
};

} // namespace

std::string_view plainClass(std::string_view className)
{
    for (const std::string_view ending : {"StandardCase", "ElementedCase"})
        if (className.ends_with(ending))
            className.remove_suffix(ending.size());
    return className;
}

std::vector<Rekeyed> renewedIds(const Member& before, std::span<const ElementIndex> removed, const Member& after,
                                std::span<const ElementIndex> added, double tolerance, Looking looking)
{
    if (removed.empty() || added.empty())
        return {};
    return Matcher(before, removed, after, added, tolerance, looking).matched();
}

} // namespace wendrix::changes
