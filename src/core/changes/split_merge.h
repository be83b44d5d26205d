#pragma once

#include "core/changes/matching.h"

namespace wendrix::changes {

/// One element that goes on as several, or several that go on as one.
struct Split {
    ifc::ElementIndex before = 0;
    std::vector<ifc::ElementIndex> after; ///< two or more, in the file's order
};
struct Merge {
    std::vector<ifc::ElementIndex> before; ///< two or more
    ifc::ElementIndex after = 0;
};
struct SplitsAndMerges {
    std::vector<Split> splits; ///< by `before`
    std::vector<Merge> merges; ///< by `after`
};

/// An element and another one that may be it: of both revisions.
struct Same {
    ifc::ElementIndex before = 0, after = 0;
};

/// Finds elements that were cut into parts, or joined: of one class, where the parts lie within the whole, do not take
/// each other's room and fill it but for joints. One of the parts may have kept the GlobalId of the whole.
/// @param removed,added  elements without a match
/// @param reshaped  matched elements of another shape now
[[nodiscard]] SplitsAndMerges splitsAndMerges(const federation::Member& before,
                                              std::span<const ifc::ElementIndex> removed,
                                              const federation::Member& after, std::span<const ifc::ElementIndex> added,
                                              std::span<const Same> reshaped, double tolerance);

} // namespace wendrix::changes
