#pragma once

#include "core/project/project.h"

namespace wendrix::project {

/// What a run was made with, as far as causes need it.
struct RunSetting {
    std::span<const RunMember> members;
    const RunTest* test = nullptr; ///< the one that found the pair
};

/// "moved 205 mm", "was lowered by 205 mm", "was raised by 60 mm".
[[nodiscard]] std::string shiftInWords(Vector3 shift);
/// "was lowered by 205 mm in P02": what the delivery in use did to an element's body; empty where nothing.
[[nodiscard]] Result<std::string> changeInWords(const Project& project, const ElementRef& element);

/// What made a pair that is new or back: which of its elements is new or changed in which revision and by how much;
/// else what of the run that found it is not as in the run before it. Empty for other pairs.
[[nodiscard]] Result<std::string> causeOf(const Project& project, const Pair& pair);
/// The same for a run that is not kept yet.
/// @param before  null: there was none
[[nodiscard]] Result<std::string> causeOf(const Project& project, const Pair& pair, const RunSetting& now,
                                          const Run* before);

} // namespace wendrix::project
