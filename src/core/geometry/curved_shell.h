#pragma once

#include "core/geometry/curve_reader.h"
#include "core/geometry/mesh.h"

namespace wendrix::geometry {

/// Reads a shell of curved faces (IfcAdvancedFace, IfcFaceSurface): planes, cylinders, spheres, tori, surfaces of
/// extrusion and revolution and B-spline surfaces, bounded by lines, conics, polylines and B-splines. Cut into
/// triangles as the fineness says; neighbouring faces share their points.
/// @return nothing, with the reason in `why`, where a surface or edge can not be built
/// Source of the trimming and meshing: Open CASCADE, which nothing else of ours sees.
[[nodiscard]] std::optional<Mesh> readCurvedShell(const CurveReader& curves, const ifc::Entity& shell,
                                                  std::string& why);

} // namespace wendrix::geometry
