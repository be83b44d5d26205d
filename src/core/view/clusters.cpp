#include "core/view/clusters.h"

#include <cmath>
#include <map>

namespace wendrix::view {

std::vector<Cluster> clustersOf(std::span<const Point3> places, const Camera& camera, Viewport viewport, double pixels)
{
    struct Seen {
        double x, y;
        Vector3 sum;
    };
    std::vector<Cluster> clusters;
    std::vector<Seen> seen;
    // Cells as wide as signs may be apart: one near enough is in the same cell or one beside it.
    std::map<std::pair<int, int>, std::vector<std::uint32_t>> cells;
    for (std::uint32_t i = 0; i < places.size(); ++i) {
        const ScreenPlace at = project(camera, viewport, places[i]);
        if (!at.isInFront || at.x < 0 || at.y < 0 || at.x > viewport.width || at.y > viewport.height)
            continue;
        const int column = static_cast<int>(at.x / pixels), row = static_cast<int>(at.y / pixels);
        std::int64_t home = -1;
        double nearest = pixels;
        for (int c = column - 1; c <= column + 1; ++c)
            for (int r = row - 1; r <= row + 1; ++r)
                if (const auto cell = cells.find({c, r}); cell != cells.end())
                    for (const std::uint32_t other : cell->second)
                        if (const double distance = std::hypot(seen[other].x - at.x, seen[other].y - at.y);
                            distance < nearest) {
                            nearest = distance;
                            home = other;
                        }
        if (home < 0) {
            home = static_cast<std::int64_t>(clusters.size());
            clusters.push_back({});
            seen.push_back({at.x, at.y, {}});
            cells[{column, row}].push_back(static_cast<std::uint32_t>(home));
        }
        clusters[static_cast<std::size_t>(home)].of.push_back(i);
        seen[static_cast<std::size_t>(home)].sum = seen[static_cast<std::size_t>(home)].sum + places[i];
    }
    for (std::size_t k = 0; k < clusters.size(); ++k)
        clusters[k].place = (1.0 / static_cast<double>(clusters[k].of.size())) * seen[k].sum;
    return clusters;
}

} // namespace wendrix::view
