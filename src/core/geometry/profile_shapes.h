#pragma once

#include "core/geometry/polygon.h"
#include "core/ifc/source.h"

#include <optional>

namespace wendrix::geometry {

/// A parameterised profile (IfcParameterizedProfileDef) about its own origin, with its fillets, edge radii and
/// slopes as the standard defines them; nothing for any other kind.
///
/// With a slope the given thickness is that at a quarter of an I's or T's width, at half of a U's or L's width, and
/// at half of a T's web depth.
[[nodiscard]] std::optional<Area> parameterisedProfile(const ifc::Entity& profile, double lengthToMetres,
                                                       double angleToRadians, const Fineness& fineness);

} // namespace wendrix::geometry
