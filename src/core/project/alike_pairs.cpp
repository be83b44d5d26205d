#include "core/project/alike_pairs.h"

#include "core/base/text.h"

#include <algorithm>
#include <map>
#include <tuple>

namespace wendrix::project {

namespace {

std::string typeOf(const PairSide& side) { return side.type.empty() ? classInWords(side.className) : side.type; }

/// Test, and both types in no order: sides may be the other way round.
using Likeness = std::tuple<std::string, std::string, std::string>;
Likeness likenessOf(const Pair& p)
{
    const std::string left = typeOf(p.left), right = typeOf(p.right);
    return {p.test, std::min(left, right), std::max(left, right)};
}

} // namespace

Result<std::optional<AlikeOffer>> alikeTo(const ClashesBook& clashes, std::span<const PairId> justDecided)
{
    const auto all = clashes.all();
    if (!all)
        return fail(all.error());
    std::map<PairId, const Pair*> byId;
    std::map<std::pair<Likeness, std::string>, std::size_t> said; // how many were let stand for one reason
    for (const Pair& p : *all) {
        byId[p.id] = &p;
        if (p.decision == "let stand" && !p.reason.empty())
            ++said[{likenessOf(p), p.reason}];
    }
    // The likeness of those just decided that leaves most.
    std::optional<AlikeOffer> best;
    std::map<std::pair<Likeness, std::string>, const Pair*> asked;
    for (const PairId id : justDecided)
        if (const auto at = byId.find(id); at != byId.end() && at->second->decision == "let stand")
            asked.emplace(std::pair(likenessOf(*at->second), at->second->reason), at->second);
    for (const auto& [key, example] : asked) {
        constexpr std::size_t kTwice = 2;
        if (const auto at = said.find(key); at == said.end() || at->second < kTwice)
            continue;
        AlikeOffer offer;
        for (const Pair& p : *all)
            if (p.decision.empty() && !p.isGone() && likenessOf(p) == key.first)
                offer.pairs.push_back(p.id);
        if (offer.pairs.empty() || (best && best->pairs.size() >= offer.pairs.size()))
            continue;
        offer.reason = key.second;
        offer.until = example->until;
        offer.words = counted(offer.pairs.size(), "more pair", "more pairs") + " of " + typeOf(example->left) +
                      " and " + typeOf(example->right) + " in " + example->test;
        best = std::move(offer);
    }
    return best;
}

} // namespace wendrix::project
