#pragma once

#include "core/project/clash_question.h"

namespace wendrix::project {

/// Where the load is: the pairs of each bay of a storey by what was decided, of those that a question is narrowed to.
class ClashPlan {
public:
    struct Bay {
        std::string name;    ///< "B-C / 4"; empty where the reference has no grid there
        double x = 0, y = 0; ///< metres, reference frame: the middle of its pairs
        std::size_t undecided = 0, fix = 0, letStand = 0, later = 0;
        [[nodiscard]] std::size_t all() const { return undecided + fix + letStand + later; }
    };
    struct Storey {
        std::string name;
        std::vector<Bay> bays; ///< most pairs first
        [[nodiscard]] std::size_t all() const;
    };

    ClashPlan() = default;
    /// Pairs that are there; the question's storey, bay and state count for nothing.
    ClashPlan(const PairBriefs& briefs, ClashQuestion question);
    [[nodiscard]] const std::vector<Storey>& storeys() const { return storeys_; } ///< most pairs first
    /// The storey of this name; with none the one with most pairs. Nothing where it has no pair.
    [[nodiscard]] const Storey* find(const std::string& name) const;

private:
    std::vector<Storey> storeys_;
};

} // namespace wendrix::project
