#pragma once

#include "core/base/element_ref.h"
#include "core/clash/identity.h"

#include <optional>
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

/// What a delivery made of a requirement: how many fail it, and how many of those the issue was made of.
struct RequirementMoment {
    std::int64_t delivery = 0;
    std::string revision; ///< "P03"
    std::size_t failing = 0;
    std::size_t failingOfIts = 0, its = 0; ///< of the elements the issue is about; none where it is about none
    bool isOfItsOwn = false;               ///< as Requirement has it
    [[nodiscard]] bool isMet() const { return (isOfItsOwn ? failingOfIts : failing) == 0; }
    friend bool operator==(const RequirementMoment&, const RequirementMoment&) = default;
};

/// What a delivery made of what several issues want, by uuid.
using RequirementsMet = std::vector<std::pair<std::string, RequirementMoment>>;

/// What an issue that was made of a finding wants to be met, and by what deliveries it was.
struct Requirement {
    DisciplineId discipline = 0;
    std::string rule;                            ///< "guid.twice", or "title of an IDS/name of its specification"
    std::string title;                           ///< "GlobalIds given twice"
    std::vector<RequirementMoment> moments = {}; ///< oldest first
    /// Only what the issue is about has to meet it: there is an issue for each element that fails.
    bool isOfItsOwn = false;
    [[nodiscard]] bool isMet() const { return !moments.empty() && moments.back().isMet(); }
};

/// What one cycle says of an issue: a run of the tests.
struct Cycle {
    std::int64_t run = 0;
    std::size_t gone = 0, there = 0, notTested = 0;
};

/// What the model itself says about an issue.
struct Evidence {
    std::vector<PairEvidence> pairs;
    std::vector<ElementEvidence> elements;
    std::size_t gone = 0, notTested = 0;
    std::optional<Requirement> requirement = {};

    /// All pairs are gone and the requirement is met, and there was one of it: what was not tested settles nothing.
    [[nodiscard]] bool isSettled() const
    {
        return (!pairs.empty() || requirement) && gone == pairs.size() && (!requirement || requirement->isMet());
    }
    /// Something was tested, or checked, and is as it was.
    [[nodiscard]] bool isStillThere() const
    {
        return gone + notTested < pairs.size() ||
               (requirement && !requirement->moments.empty() && !requirement->isMet());
    }
    /// One for each run that speaks of a pair, oldest first. What was gone in an earlier one and is not spoken of since
    /// counts as gone.
    [[nodiscard]] std::vector<Cycle> cycles() const;
    [[nodiscard]] std::string inShort() const;
    /// Whole sentences: what is gone, what remains, what was not tested and why, and what did not change at all.
    [[nodiscard]] std::string inWords() const;
};

/// Counts what is gone and what was not tested.
[[nodiscard]] Evidence evidenceOf(std::vector<PairEvidence> pairs, std::vector<ElementEvidence> elements);
/// "2 of 3 gone", "all 3 gone", "1 of 3 gone, 2 not tested", "not met".
/// @param isMet  the requirement, where there is one
[[nodiscard]] std::string evidenceInShort(std::size_t pairs, std::size_t gone, std::size_t notTested,
                                          std::optional<bool> isMet = {});

} // namespace wendrix::issues
