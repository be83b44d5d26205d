#pragma once

#include <array>
#include <cstddef>
#include <cstdint>

namespace wendrix::geometry {

/// A cell of a grid in space, for looking up points that are near each other.
using Cell = std::array<std::int64_t, 3>;

/// FNV-1a over a cell's three numbers.
struct CellHash {
    std::size_t operator()(const Cell& cell) const
    {
        std::uint64_t h = 1469598103934665603ull;
        for (const std::int64_t v : cell)
            h = (h ^ static_cast<std::uint64_t>(v)) * 1099511628211ull;
        return h ^ (h >> 29);
    }
};

} // namespace wendrix::geometry
