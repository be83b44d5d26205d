#pragma once

#include "core/geometry/fineness.h"
#include "core/geometry/mesh.h"

namespace wendrix::geometry {

/// Solids of ISO 10303-42 in their own frame, metres, closed and facing outwards; empty where a size is not positive.
[[nodiscard]] Mesh blockMesh(double x, double y, double z);
/// A rectangle from the origin with its tip over the middle.
[[nodiscard]] Mesh pyramidMesh(double x, double y, double height);
/// Its base about the origin, its tip above.
[[nodiscard]] Mesh coneMesh(double radius, double height, const Fineness& fineness);
/// Its base about the origin.
[[nodiscard]] Mesh cylinderMesh(double radius, double height, const Fineness& fineness);
/// About the origin.
[[nodiscard]] Mesh sphereMesh(double radius, const Fineness& fineness);

/// Around the z axis of its frame; empty where it would meet itself.
[[nodiscard]] Mesh torusMesh(double majorRadius, double minorRadius, const Fineness& fineness);

} // namespace wendrix::geometry
