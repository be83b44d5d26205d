#include "core/view/draw_order.h"

#include <algorithm>

namespace wendrix::view {

std::size_t countFrom(const std::vector<DrawStep>& list, float size)
{
    return static_cast<std::size_t>(
        std::partition_point(list.begin(), list.end(), [&](const DrawStep& s) { return s.size >= size; }) -
        list.begin());
}

float smallestSizeWithin(std::span<const std::vector<DrawStep>> lists, std::uint64_t budget)
{
    const auto trianglesFrom = [&](float size) {
        std::uint64_t sum = 0;
        for (const auto& list : lists)
            if (const std::size_t n = countFrom(list, size); n > 0)
                sum += list[n - 1].triangles;
        return sum;
    };
    float largest = 0;
    for (const auto& list : lists)
        largest = std::max(largest, list.empty() ? 0 : list.front().size);
    if (trianglesFrom(0) <= budget)
        return 0;
    float low = 0, high = largest; // low has too many, high is what is drawn at least
    for (int i = 0; i < 40; ++i) {
        const float middle = 0.5f * (low + high);
        (trianglesFrom(middle) <= budget ? high : low) = middle;
    }
    return high;
}

void DrawPace::took(std::uint64_t triangles, double milliseconds, double fixedMilliseconds)
{
    constexpr double kTrust = 0.3;
    fixed_ += kTrust * (fixedMilliseconds - fixed_);
    if (triangles < 1000 || !(milliseconds > 0.05))
        return;
    const double now = static_cast<double>(triangles) / milliseconds;
    trianglesPerMillisecond_ += kTrust * (now - trianglesPerMillisecond_);
}

std::uint64_t DrawPace::trianglesIn(double milliseconds) const
{
    constexpr double kLeastShare = 0.4;
    const double left = std::max(kLeastShare * milliseconds, milliseconds - fixed_);
    return static_cast<std::uint64_t>(std::max(1.0, trianglesPerMillisecond_ * left));
}

} // namespace wendrix::view
