#include "core/issues/evidence.h"

#include "core/base/text.h"

#include <fmt/format.h>

#include <map>

namespace wendrix::issues {

Evidence evidenceOf(std::vector<PairEvidence> pairs, std::vector<ElementEvidence> elements)
{
    Evidence evidence{std::move(pairs), std::move(elements), 0, 0};
    for (const PairEvidence& pair : evidence.pairs) {
        evidence.gone += pair.isGone() ? 1 : 0;
        evidence.notTested += pair.isTested() ? 0 : 1;
    }
    return evidence;
}

std::string evidenceInShort(std::size_t pairs, std::size_t gone, std::size_t notTested)
{
    if (pairs == 0)
        return "";
    if (gone == pairs)
        return pairs == 1 ? "gone" : fmt::format("all {} gone", pairs);
    if (pairs == 1)
        return notTested == 1 ? "not tested" : "still there";
    const std::string words =
        gone == 0 ? fmt::format("none of {} gone", pairs) : fmt::format("{} of {} gone", gone, pairs);
    return notTested == 0 ? words : words + fmt::format(", {} not tested", notTested);
}

std::string Evidence::inShort() const { return evidenceInShort(pairs.size(), gone, notTested); }

std::string Evidence::inWords() const
{
    if (pairs.empty())
        return "No pair belongs to this issue, so the model says nothing about it.";
    std::string words =
        isSettled() ? fmt::format("All of its {} gone.", counted(pairs.size(), "pair is", "pairs are"))
        : notTested == 0
            ? fmt::format("Of its {}, {} gone and {} there.", counted(pairs.size(), "pair", "pairs"),
                          counted(gone, "is", "are"), counted(pairs.size() - gone, "is still", "are still"))
            : fmt::format("Of its {}, {} gone, {} there and {} not tested.", counted(pairs.size(), "pair", "pairs"),
                          counted(gone, "is", "are"), counted(pairs.size() - gone - notTested, "is still", "are still"),
                          counted(notTested, "was", "were"));
    std::map<std::string, std::string> titles; // by why
    for (const PairEvidence& pair : pairs)
        if (!pair.isTested()) {
            std::string& all =
                titles[pair.moments.empty() ? "no run speaks of it"
                                            : std::string(clash::whyNotTested(pair.moments.back().outcome))];
            all += (all.empty() ? "" : ", ") + pair.title;
        }
    for (const auto& [why, which] : titles)
        words += " Not tested, since " + why + ": " + which + ".";
    std::string changed, unchanged;
    for (const ElementEvidence& e : elements) {
        if (e.isChanged)
            changed += (changed.empty() ? "" : "; ") + e.title + " " + e.change;
        else
            unchanged += (unchanged.empty() ? "" : ", ") + e.title;
    }
    if (!changed.empty())
        words += " " + changed + ".";
    if (!unchanged.empty())
        words += " Not changed: " + unchanged + ".";
    return words;
}

} // namespace wendrix::issues
