#pragma once

#include "core/clash/identity.h"

#include <span>
#include <string>

namespace wendrix::clash {

/// What names have in common, as a kind: "Core wall S" and "Core wall N" are "core wall"s, "Beam B-C / 4" and
/// "Beam B-C / 5" "beam"s. Whole words of letters only; empty where they share none.
[[nodiscard]] std::string commonKind(std::span<const std::string> names);

/// A group by its shared element and the others: "Supply duct SD-203 crosses 3 beams", "Duct is too near Ceiling 4",
/// "Column B3 doubles Column 12".
/// @param count  how many others there are, where only some are named; 0: as many as are named
[[nodiscard]] std::string groupTitle(const std::string& shared, std::span<const std::string> others,
                                     std::size_t count = 0, Kind kind = Kind::Hard);

/// "120 mm", or "at most 1.20 m" where only a bound is known: how far two elements must move apart.
[[nodiscard]] std::string depthInWords(double metres, bool isBound);

/// What a pair was found to be, all in metres.
struct Extent {
    Kind kind = Kind::Hard;
    double depth = 0;     ///< of hard pairs
    bool isBound = false; ///< of the depth
    double distance = 0;  ///< of clearances: what there is
    double wanted = 0;    ///< and what there should be

    /// What is missing until it would be none: the depth, or how much too little there is. To sort by.
    [[nodiscard]] double missing() const { return kind == Kind::Clearance ? wanted - distance : depth; }
};
/// "120 mm deep", "260 mm of 400 mm", "doubled".
[[nodiscard]] std::string inWords(const Extent& extent);

} // namespace wendrix::clash
