#pragma once

#include "core/issues/issue.h"
#include "core/project/records.h"

#include <span>

namespace wendrix::project {

/// How much a depth matters: three bars and "High" past 100 mm, two and "Normal" past 20 mm, one and "Low".
struct Weight {
    int bars;
    const char* priority;
};
[[nodiscard]] Weight weightOf(double depthMetres);

/// "Level 2, bay B-C / 4", or every bay of several pairs once; past three only how many.
[[nodiscard]] std::string whereInWords(std::span<const Pair> pairs);

/// An issue for pairs that are to be fixed: type, priority, stage, whom it goes to, when it is due, and a
/// description that lists them. The right side's discipline fixes; a week is given.
/// @param pairs  at least one, the deepest first
[[nodiscard]] issues::Issue draftIssue(const std::string& title, std::span<const Pair> pairs, const Timestamp& now);

} // namespace wendrix::project
