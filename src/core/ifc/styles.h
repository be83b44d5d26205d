#pragma once

#include "core/base/progress.h"
#include "core/ifc/source.h"

#include <optional>
#include <unordered_map>

namespace wendrix::ifc {

/// Red, green, blue and transparency, each 0 to 1.
struct SurfaceColour {
    double red = 0, green = 0, blue = 0, transparency = 0;
    friend bool operator==(const SurfaceColour&, const SurfaceColour&) = default;
};

/// The surface colours a file gives to representation items and to materials.
class Styles {
public:
    Styles(const Source& source, const Progress& progress);
    [[nodiscard]] std::optional<SurfaceColour> ofItem(EntityId representationItem) const;
    /// Of a material, or of the first coloured part of a layer, profile or constituent set or a list.
    [[nodiscard]] std::optional<SurfaceColour> ofMaterial(EntityId material) const;

private:
    [[nodiscard]] std::optional<SurfaceColour> ofMaterial(EntityId material, int depth, bool mayBeMany) const;
    std::optional<SurfaceColour> colourOf(EntityId style, int depth = 0);

    const Source& source_;
    std::unordered_map<EntityId, SurfaceColour> byItem_, byMaterial_;
    std::unordered_map<EntityId, std::optional<SurfaceColour>> byStyle_; ///< files give few styles to many items
};

} // namespace wendrix::ifc
