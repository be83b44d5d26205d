#pragma once

#include "core/geometry/curve_reader.h"
#include "core/geometry/repair.h"

namespace wendrix::geometry {

/// Reads IfcProfileDef as areas in the profile's plane, metres: outer rings counter-clockwise, holes clockwise.
///
/// Dimensions are those of ISO 16739; fillets and roundings are cut as arcs. Nothing, with the reason in
/// `why`, where the kind is not read or the dimensions make no area. What outlines had to be repaired is counted.
[[nodiscard]] std::optional<std::vector<Area>> readProfile(const CurveReader& curves, const ifc::Entity& profile,
                                                           std::string& why, Repairs& repairs);

} // namespace wendrix::geometry
