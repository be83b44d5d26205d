#pragma once

#include "core/project/clashes_book.h"

namespace wendrix::project {

/// Pairs that nobody decided yet and that are alike to some that were let stand for one reason.
struct AlikeOffer {
    std::vector<PairId> pairs; ///< deepest first
    std::string reason, until; ///< of those that were decided
    std::string words;         ///< "14 more pairs of Supply duct and Ceiling tile in Architecture × Ventilation"
};

/// What could be let stand as well, after it was said twice: two decisions of one reason over pairs of the same test
/// and the same types (where there are none: classes) on both sides.
/// @param justDecided  one of them has to be among these
/// @return nothing where no pair is left, or no reason was given
[[nodiscard]] Result<std::optional<AlikeOffer>> alikeTo(const ClashesBook& clashes,
                                                        std::span<const PairId> justDecided);

} // namespace wendrix::project
