#pragma once

#include "core/coordinates/diagnosis.h"

#include <string>
#include <vector>

namespace wendrix::coordinates {

/// One thing that files say about where they are, of both members side by side.
struct Declared {
    std::string what;              ///< "Map easting"
    std::string reference, moving; ///< as a person reads it; "none" where a file does not say
    std::string difference;        ///< a sentence; empty where both say the same
};

/// Everything that two members say about where they are: unit, site, map conversion with its projected system by its
/// name in the EPSG register, true north, placements of site and building, grids, storeys, and where the geometry lies.
[[nodiscard]] std::vector<Declared> compareDeclared(const Facts& reference, const Facts& moving);

} // namespace wendrix::coordinates
