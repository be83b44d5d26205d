#pragma once

#include "core/base/quantity.h"
#include "core/ifc/source.h"

#include <optional>
#include <string>

namespace wendrix::ifc {

/// What a file declares about its place on earth; what it does not give is empty.
struct Georeference {
    std::optional<std::string> crs;                    ///< "EPSG:25832"
    std::optional<double> eastings, northings, height; ///< metres, of the file's origin in the CRS
    std::optional<Radians> rotation;                   ///< of the file's +X axis from grid east, counter-clockwise
    std::optional<double> scale;
    std::optional<double> latitudeDegrees, longitudeDegrees;
    std::optional<Metres> siteElevation;
    std::optional<Radians> trueNorth; ///< from the file's +Y axis to true north, counter-clockwise
};

[[nodiscard]] Georeference readGeoreference(const Source& source, double lengthToMetres);

} // namespace wendrix::ifc
