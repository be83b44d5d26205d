#pragma once

#include "core/view/cut_faces.h"
#include "core/view/scene.h"

namespace wendrix::view {

/// What is seen in the faces of a scene's cuts. In an overlay, one member filled, the other as its outline, and the
/// rest of the building as pale lines, so that one knows where one is.
struct CutPicture {
    std::vector<geometry::Plane> planes;
    std::vector<CutFaces> faces;                              ///< one a plane
    std::vector<std::array<Point3, 2>> outline, surroundings; ///< of an overlay
    /// In an overlay the colours as the file has them: what a stage fades or leaves out counts there too.
    std::optional<ColourTable> asDelivered;
};

[[nodiscard]] CutPicture cutPictureOf(const Scene& scene);

} // namespace wendrix::view
