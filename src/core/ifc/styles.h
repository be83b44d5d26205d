#pragma once

#include "core/ifc/source.h"

#include <optional>
#include <unordered_map>

namespace wendrix::ifc {

/// Red, green, blue and transparency, each 0 to 1.
struct SurfaceColour {
    double red = 0, green = 0, blue = 0, transparency = 0;
    friend bool operator==(const SurfaceColour&, const SurfaceColour&) = default;
};

/// The surface colours a file gives to representation items.
class Styles {
public:
    explicit Styles(const Source& source);
    [[nodiscard]] std::optional<SurfaceColour> ofItem(EntityId representationItem) const;

private:
    std::unordered_map<EntityId, SurfaceColour> byItem_;
};

} // namespace wendrix::ifc
