#include "core/issues/evidence.h"

#include "core/base/text.h"

#include <fmt/format.h>

namespace wendrix::issues {

Evidence evidenceOf(std::vector<PairEvidence> pairs, std::vector<ElementEvidence> elements)
{
    Evidence evidence{std::move(pairs), std::move(elements), 0};
    for (const PairEvidence& pair : evidence.pairs)
        evidence.gone += !pair.states.empty() && pair.states.back() == clash::PairState::Gone ? 1 : 0;
    return evidence;
}

std::string Evidence::inShort() const
{
    if (pairs.empty())
        return "";
    if (gone == pairs.size())
        return pairs.size() == 1 ? "gone" : fmt::format("all {} gone", pairs.size());
    if (gone == 0)
        return pairs.size() == 1 ? "still there" : fmt::format("none of {} gone", pairs.size());
    return fmt::format("{} of {} gone", gone, pairs.size());
}

std::string Evidence::inWords() const
{
    if (pairs.empty())
        return "No pair belongs to this issue, so the model says nothing about it.";
    std::string words = isSettled() ? fmt::format("All of its {} gone.", counted(pairs.size(), "pair is", "pairs are"))
                                    : fmt::format("Of its {}, {} gone and {} there.",
                                                  counted(pairs.size(), "pair", "pairs"),
                                                  counted(gone, "is", "are"),
                                                  counted(pairs.size() - gone, "is still", "are still"));
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
