#pragma once

#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

namespace wendrix::view {

/// Things to draw, largest first: `size` in metres, `triangles` of this and all larger ones.
struct DrawStep {
    float size = 0;
    std::uint64_t triangles = 0;
};

/// The size from which on things are drawn so that no more triangles come than the budget has, over several lists
/// that are each ordered by size. 0 where everything fits; at least the largest of all is always drawn.
[[nodiscard]] float smallestSizeWithin(std::span<const std::vector<DrawStep>> lists, std::uint64_t budget);

/// How many of a list have at least this size.
[[nodiscard]] std::size_t countFrom(const std::vector<DrawStep>& list, float size);

/// Learns what drawing costs on this machine, so that a view that moves keeps its pace.
class DrawPace {
public:
    /// @param milliseconds       of the triangles alone
    /// @param fixedMilliseconds  of all that a frame costs besides, however little is drawn
    void took(std::uint64_t triangles, double milliseconds, double fixedMilliseconds);
    /// How many fit into a frame of this length; some always do, or nothing could be seen on a slow machine.
    [[nodiscard]] std::uint64_t trianglesIn(double milliseconds) const;

private:
    double trianglesPerMillisecond_ = 4000; ///< of a slow software renderer, until something was drawn
    double fixed_ = 0;                      ///< milliseconds
};

} // namespace wendrix::view
