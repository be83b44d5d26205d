#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace wendrix::clash {

/// The two elements of a pair, for grouping.
struct PairEnds {
    std::string leftGuid, rightGuid;
};

/// Pairs that one decision settles, because they share an element.
struct Group {
    std::string sharedGuid;           ///< the element that causes most
    bool isLeft = true;               ///< which side it is on
    std::vector<std::uint32_t> pairs; ///< indices into the pairs given, in their order
};

/// Groups every pair under the element that causes most: the one with the most pairs not yet in a group takes
/// all of those, and so on. Ties go to the left side, then to the smaller GlobalId, so that the same pairs
/// always make the same groups. Largest group first. O(n²) in the worst case, O(n log n) in practice.
[[nodiscard]] std::vector<Group> groupBySharedElement(std::span<const PairEnds> pairs);

} // namespace wendrix::clash
