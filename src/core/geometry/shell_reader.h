#pragma once

#include "core/geometry/mesh.h"
#include "core/ifc/placement.h"

namespace wendrix::geometry {

/// Reads IfcClosedShell, IfcOpenShell or any connected face set of polygonal faces; shared points are joined.
/// Faces that have no area or cross themselves are left out, with a diagnostic.
[[nodiscard]] Mesh readShell(const ifc::Source& source, const ifc::PlacementReader& reader, const ifc::Entity& shell,
                             std::vector<Diagnostic>& diagnostics);

/// Reads IfcTriangulatedFaceSet or IfcPolygonalFaceSet, with or without PnIndex. Indices out of range cost
/// their face, with a diagnostic.
[[nodiscard]] Mesh readTessellation(const ifc::Source& source, double lengthToMetres, const ifc::Entity& faceSet,
                                    std::vector<Diagnostic>& diagnostics);

} // namespace wendrix::geometry
