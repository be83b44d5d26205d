#pragma once

#include "core/project/clash_question.h"

namespace wendrix::project {

/// Every discipline against every other: how many pairs, how many of them nobody decided yet, what the last run
/// changed, and what of it was not tested.
class ClashMatrix {
public:
    struct Cell {
        std::vector<std::string> askedBy; ///< names of the tests that asked about these two
        std::size_t there = 0, undecided = 0, isNew = 0, back = 0, goneNow = 0, notTested = 0;
        bool isTested = false; ///< the last run tested these two against each other, with members of both
        std::string whyNot;    ///< one reason why not; empty where it was, or where no test asks it
    };

    ClashMatrix() = default;
    /// @param disciplines  in their order; those without a member in the last run are left out
    ClashMatrix(const PairBriefs& briefs, const Run* lastRun, std::span<const std::string> disciplines);

    [[nodiscard]] const std::vector<std::string>& disciplines() const { return disciplines_; }
    [[nodiscard]] const Cell& at(std::size_t a, std::size_t b) const
    {
        return cells_[std::min(a, b) * disciplines_.size() + std::max(a, b)];
    }
    [[nodiscard]] Cell sum() const; ///< of all cells

private:
    std::vector<std::string> disciplines_;
    std::vector<Cell> cells_; ///< those with a <= b are used
};

} // namespace wendrix::project
