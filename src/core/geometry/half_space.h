#pragma once

#include "core/geometry/boolean.h"
#include "core/geometry/curve_reader.h"

namespace wendrix::geometry {

/// Reads a half space as a solid that is as good as it for a body within `around`: plain, boxed or bounded by an
/// outline over a plane; plain also inside or outside of a cylinder, a sphere or a torus, the surfaces without an end.
/// The material lies on the side the surface's normal points away from, or with a false AgreementFlag on the other
/// (ISO 10303-42, half_space_solid).
/// @return nothing, with the reason in `why`
[[nodiscard]] std::optional<Solid> readHalfSpace(const CurveReader& curves, const ifc::Entity& halfSpace,
                                                 const Box3& around, std::string& why);

/// A closed body without a half space, or only what lies in it, where that is cut off by one plane: of a plain half
/// space, and of one bounded by a convex outline that all of the cut off part lies within; without one also where the
/// part reaches beyond one edge of the outline.
/// @return nothing where it is not so, or clippedBehind() gives nothing
[[nodiscard]] std::optional<Mesh> clippedBy(const CurveReader& curves, const ifc::Entity& halfSpace, const Mesh& body,
                                            BooleanKind kind);

} // namespace wendrix::geometry
