#pragma once

#include "core/base/transform.h"
#include "core/ifc/placement.h"

#include <string>
#include <vector>

namespace wendrix::ifc {

/// A straight axis in the file's world frame, metres.
struct GridAxis {
    std::string tag;
    char family = 'u'; ///< u, v or w
    Point3 start, end;
};

struct Grid {
    std::string guid, name;
    std::vector<GridAxis> axes;
};

/// IfcGrid with its axes; a curved axis is a diagnostic and left out.
[[nodiscard]] Grid readGrid(const Source& source, const PlacementReader& reader, const Entity& grid,
                            const Transform& placement, std::vector<Diagnostic>& diagnostics);

} // namespace wendrix::ifc
