#pragma once

#include "core/coordinates/diagnosis.h"

#include <span>

namespace wendrix::coordinates {

/// What two map conversions say against each other of members that stand in the same coordinates: one cause, the
/// plainest that explains it, or none where they put the building in one place to 50 mm.
/// @param reference, moving  both with a map conversion
/// @param places             of the building, metres, in the coordinates both have; a turn about a far origin shows at
/// the
///                           farthest. None: nothing is said
[[nodiscard]] std::vector<Cause> contradictionsOf(const ifc::Georeference& reference, const ifc::Georeference& moving,
                                                  std::span<const Point3> places);

} // namespace wendrix::coordinates
