#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace wendrix::clash {

/// The two elements of a pair, for grouping.
struct PairEnds {
    std::int64_t left = 0, right = 0; ///< the same number, the same element
};

/// Pairs that one decision settles, because they share an element.
struct Group {
    std::int64_t shared = 0;          ///< the element that causes most
    std::vector<std::uint32_t> pairs; ///< indices into the pairs given, in their order
};

/// Groups every pair under the element that causes most: the one with the most pairs not yet in a group takes
/// all of those, and so on (greedy cover). Sides play no part; ties go to the smaller number, so that the same pairs
/// always make the same groups. Largest group first. O(n) for n pairs, but for sorting what ties.
/// Source: D. S. Johnson, "Approximation algorithms for combinatorial problems", J. Comput. Syst. Sci. 9, 1974.
[[nodiscard]] std::vector<Group> groupBySharedElement(std::span<const PairEnds> pairs);

} // namespace wendrix::clash
