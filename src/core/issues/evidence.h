#pragma once

#include "core/clash/identity.h"

#include <string>
#include <vector>

namespace wendrix::issues {

/// What the model says of one pair of an issue.
struct PairEvidence {
    std::string title; ///< "Beam B-C / 4"
    std::vector<clash::PairState> states; ///< one a run, oldest first; only runs since it was first found
    double depth = 0;  ///< metres, at the last run that found it
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
    std::size_t gone = 0;

    /// All pairs are gone, and there were some.
    [[nodiscard]] bool isSettled() const { return !pairs.empty() && gone == pairs.size(); }
    /// "2 of 3 gone", "all 3 gone", "none of 3 gone".
    [[nodiscard]] std::string inShort() const;
    /// Whole sentences: what is gone, what remains, and what did not change at all.
    [[nodiscard]] std::string inWords() const;
};

/// Counts what is gone.
[[nodiscard]] Evidence evidenceOf(std::vector<PairEvidence> pairs, std::vector<ElementEvidence> elements);

} // namespace wendrix::issues
