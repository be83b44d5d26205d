#pragma once

#include "core/geometry/plane_cut.h"
#include "core/view/colours.h"

namespace wendrix::view {

/// What one plane shows of the bodies it goes through. Federation frame.
struct CutFaces {
    struct Face {
        ElementKey element;
        std::uint32_t firstTriangle = 0, firstLine = 0; ///< up to the next face's
    };
    std::vector<Face> faces;
    geometry::Mesh fill;                         ///< facing along the plane's normal
    std::vector<std::array<Point3, 2>> outlines; ///< pieces
};

/// Cuts every element that is drawn (alpha more than nothing). Closed bodies are filled, of open ones only the
/// outline is there: nothing says where their inside is. All cores are used.
[[nodiscard]] CutFaces cutFaces(std::span<const federation::Member> members, const Colours& colours,
                                const geometry::Plane& plane);

} // namespace wendrix::view
