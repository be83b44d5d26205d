#pragma once

#include "core/view/camera.h"

#include <vector>

namespace wendrix::view {

/// Signs that would lie over each other, put together.
struct Cluster {
    Point3 place;                  ///< the middle of what is in it
    std::vector<std::uint32_t> of; ///< numbers of the places, in order
};
/// Of what is in front of the eye and within the picture, those nearer to each other than `pixels` become one; each
/// place is in one cluster. From near to far of how they were given, so that it is the same each time.
[[nodiscard]] std::vector<Cluster> clustersOf(std::span<const Point3> places, const Camera& camera, Viewport viewport,
                                              double pixels);

} // namespace wendrix::view
