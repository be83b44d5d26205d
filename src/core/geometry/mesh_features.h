#pragma once

#include "core/geometry/mesh.h"

#include <optional>

namespace wendrix::geometry {

/// The line through the middle of a long straight body (a pipe, a duct, a beam), from end to end: where the middles
/// of its cross sections lie on one line. Nothing for a body that is not longer than wide, or bent.
[[nodiscard]] std::optional<std::array<Point3, 2>> centreLine(const Mesh& mesh);

/// A flat part of a surface: the triangles that join the given one in its plane.
struct FlatFace {
    double area = 0;                         ///< m²
    Vector3 normal;                          ///< unit
    std::vector<std::vector<Point3>> bounds; ///< closed, the outer one first, then its holes
};
[[nodiscard]] FlatFace flatFace(const Mesh& mesh, std::uint32_t triangle);

} // namespace wendrix::geometry
