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

std::vector<Cycle> Evidence::cycles() const
{
    std::map<std::int64_t, Cycle> byRun;
    for (const PairEvidence& pair : pairs)
        for (const PairMoment& m : pair.moments)
            byRun[m.run].run = m.run;
    for (auto& [run, cycle] : byRun)
        for (const PairEvidence& pair : pairs) {
            const PairMoment* last = nullptr;
            for (const PairMoment& m : pair.moments)
                if (m.run <= run)
                    last = &m;
            const bool isOfThisRun = last != nullptr && last->run == run;
            if (last != nullptr && clash::isGone(last->outcome))
                ++cycle.gone;
            else if (isOfThisRun && clash::isTested(last->outcome))
                ++cycle.there;
            else
                ++cycle.notTested;
        }
    std::vector<Cycle> all;
    for (const auto& [run, cycle] : byRun)
        all.push_back(cycle);
    return all;
}

std::string evidenceInShort(std::size_t pairs, std::size_t gone, std::size_t notTested, std::optional<bool> isMet)
{
    if (isMet && pairs == 0)
        return *isMet ? "met" : "not met";
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

std::string Evidence::inShort() const
{
    return evidenceInShort(pairs.size(), gone, notTested,
                           requirement && !requirement->moments.empty() ? std::optional(requirement->isMet())
                                                                        : std::nullopt);
}

namespace {

/// "GlobalIds given twice: met in P03." or "... not met in P03: 4 fail it, 2 of the 5 it was made of."
std::string inWords(const Requirement& requirement)
{
    if (requirement.moments.empty())
        return requirement.title + ": not checked since.";
    const RequirementMoment& m = requirement.moments.back();
    if (m.isMet())
        return requirement.title + ": met in " + m.revision + ".";
    if (m.isOfItsOwn)
        return requirement.title + ": not met in " + m.revision + " by " +
               (m.its == 1 ? std::string("the element it is about.")
                           : std::to_string(m.failingOfIts) + " of the " + std::to_string(m.its) + " it is about.");
    std::string words = requirement.title + ": not met in " + m.revision + ", " + std::to_string(m.failing) +
                        (m.failing == 1 ? " fails it" : " fail it");
    if (m.its > 0)
        words += ", " + (m.failingOfIts == 0 ? std::string("none") : std::to_string(m.failingOfIts)) + " of the " +
                 std::to_string(m.its) + " it was made of";
    return words + ".";
}

} // namespace

std::string Evidence::inWords() const
{
    if (pairs.empty() && requirement)
        return issues::inWords(*requirement);
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
