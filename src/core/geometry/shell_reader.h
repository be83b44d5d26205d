#pragma once

#include "core/geometry/curve_reader.h"
#include "core/geometry/repair.h"

namespace wendrix::geometry {

/// Reads IfcClosedShell, IfcOpenShell or any connected face set whose faces are flat and bounded by straight edges
/// (poly loops, edge loops between vertices); shared points are joined.
/// What had to be repaired is counted in `repairs`; the shell is not put in order yet.
/// @return nothing where a face or an edge is curved, so that only readCurvedShell can read it
[[nodiscard]] std::optional<Mesh> readShell(const CurveReader& curves, const ifc::Entity& shell, Repairs& repairs);

/// Reads IfcTriangulatedFaceSet or IfcPolygonalFaceSet, with or without PnIndex. Indices out of range cost
/// their face, with a diagnostic.
[[nodiscard]] Mesh readTessellation(const ifc::Source& source, double lengthToMetres, const ifc::Entity& faceSet,
                                    Repairs& repairs, std::vector<Diagnostic>& diagnostics);

} // namespace wendrix::geometry
