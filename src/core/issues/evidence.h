#pragma once

#include "core/clash/identity.h"

#include <string>
#include <vector>

namespace wendrix::issues {

/// What one run said of a pair.
struct PairMoment {
    std::int64_t run = 0;
    clash::Outcome outcome = clash::Outcome::Found;
};

/// What the model says of one pair of an issue.
struct PairEvidence {
    std::string title;               ///< "Beam B-C / 4"
    std::vector<PairMoment> moments; ///< oldest first; only of runs that speak of it
    std::string extent;              ///< "120 mm deep", at the last run that found it

    /// The last word; a pair that no run speaks of was not tested.
    [[nodiscard]] bool isGone() const { return !moments.empty() && clash::isGone(moments.back().outcome); }
    [[nodiscard]] bool isTested() const { return !moments.empty() && clash::isTested(moments.back().outcome); }
};

/// What the model says of an element an issue is about.
struct ElementEvidence {
    std::string title;
    bool isChanged = false;
    std::string change; ///< "moved 205 mm in P02"; empty where it did not change
};

/// What the model itself says about an issue.
struct Evidence {
    std::vector<PairEvidence> pairs;
    std::vector<ElementEvidence> elements;
    std::size_t gone = 0, notTested = 0;

    /// All pairs are gone, and there were some: what was not tested settles nothing.
    [[nodiscard]] bool isSettled() const { return !pairs.empty() && gone == pairs.size(); }
    [[nodiscard]] std::string inShort() const;
    /// Whole sentences: what is gone, what remains, what was not tested and why, and what did not change at all.
    [[nodiscard]] std::string inWords() const;
};

/// Counts what is gone and what was not tested.
[[nodiscard]] Evidence evidenceOf(std::vector<PairEvidence> pairs, std::vector<ElementEvidence> elements);
/// "2 of 3 gone", "all 3 gone", "1 of 3 gone, 2 not tested".
[[nodiscard]] std::string evidenceInShort(std::size_t pairs, std::size_t gone, std::size_t notTested);

} // namespace wendrix::issues
