#pragma once

#include <cstddef>

namespace wendrix::geometry {

/// What building one body may take: items may refer to each other in circles, or so that each level doubles what is
/// to be built, and no file may keep us for hours.
struct Effort {
    static constexpr int kDeepest = 200;
    static constexpr std::size_t kMostItems = 100'000;
    static constexpr std::size_t kBoolean = 50; ///< the cost of combining two solids exactly

    std::size_t* items; ///< met so far in this body
    int depth = 0;

    [[nodiscard]] Effort deeper() const { return {items, depth + 1}; }
    /// Counts one more item; false where it is one too many or too deep.
    /// @param cost  what it takes, in items that are just there
    [[nodiscard]] bool spend(std::size_t cost = 1) const { return depth <= kDeepest && (*items += cost) <= kMostItems; }
};

} // namespace wendrix::geometry
