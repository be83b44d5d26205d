#pragma once

#include "core/geometry/mesh.h"

#include <optional>
#include <span>
#include <vector>

namespace wendrix::geometry {

/// Unit normals without repeats; opposite ones count as the same.
class DirectionSet {
public:
    void add(Vector3 direction);
    [[nodiscard]] const std::vector<Vector3>& all() const { return directions_; }

private:
    std::vector<Vector3> directions_;
};

/// The least width of a point set: the distance between two parallel planes that hold it, over the normals
/// of `directions`. With the face normals and the cross products of edge pairs of a convex body it is exact.
/// Source: M. Houle, G. Toussaint, IEEE TPAMI 10(5), 1988 (the width is attained at such a direction).
[[nodiscard]] double leastWidth(std::span<const Point3> points, std::span<const Vector3> directions);

/// A connected part of a closed mesh.
struct Piece {
    Mesh mesh;
    double width = 0; ///< the least distance between two parallel planes that hold it, metres
    Point3 middle;    ///< of its bounds
};

/// A mesh's connected parts with their widths.
[[nodiscard]] std::vector<Piece> pieces(const Mesh& mesh);

/// How thick the material of a closed mesh is at its thickest: the diameter of the largest of the balls that
/// are centred half way from a triangle to what lies opposite. Exact for plates, a lower bound otherwise.
/// Unlike the width it sees that a thin shell around a hollow is thin.
[[nodiscard]] double innerThickness(const Mesh& closed);

} // namespace wendrix::geometry
