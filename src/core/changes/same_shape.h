#pragma once

#include "core/geometry/mesh.h"

namespace wendrix::changes {

/// Whether two meshes have the same surface, however they were written and triangulated.
///
/// Corners that coincide with equal volume and area settle the usual case. Otherwise the two solids are
/// subtracted from each other exactly: they are the same if nothing thicker than `tolerance` metres is left
/// either way. Open meshes are the same if every corner and face centre of each lies on the other.
[[nodiscard]] bool isSameShape(const geometry::Mesh& a, const geometry::Mesh& b, double tolerance);

} // namespace wendrix::changes
