#pragma once

#include <span>
#include <string>

namespace wendrix::clash {

/// What names have in common, as a kind: "Core wall S" and "Core wall N" are "core wall"s, "Beam B-C / 4" and
/// "Beam B-C / 5" "beam"s. Whole words of letters only; empty where they share none.
[[nodiscard]] std::string commonKind(std::span<const std::string> names);

/// A group by its shared element and the others: "Supply duct SD-203 × 3 beams", "Wall × Column B3".
/// @param count  how many others there are, where only some are named; 0: as many as are named
[[nodiscard]] std::string groupTitle(const std::string& shared, std::span<const std::string> others,
                                     std::size_t count = 0);

/// "120 mm", or "at most 1.20 m" where only a bound is known: how far two elements must move apart.
[[nodiscard]] std::string depthInWords(double metres, bool isBound);

} // namespace wendrix::clash
