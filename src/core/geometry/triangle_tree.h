#pragma once

#include "core/geometry/box_tree.h"
#include "core/geometry/mesh.h"

#include <optional>

namespace wendrix::geometry {

struct RayHit {
    double distance = 0; ///< in lengths of the ray's direction
    std::uint32_t triangle = 0;
};

/// A mesh with a tree over its triangles, for questions about place. Immutable, safe to share.
class TriangleTree {
public:
    explicit TriangleTree(Mesh mesh);

    [[nodiscard]] const Mesh& mesh() const { return mesh_; }
    [[nodiscard]] const BoxTree& tree() const { return tree_; }
    [[nodiscard]] const Box3& bounds() const { return bounds_; }

    /// The nearest triangle that a ray meets, from either side.
    [[nodiscard]] std::optional<RayHit> firstHit(Point3 origin, Vector3 direction) const;
    /// Whether a point lies inside a closed mesh: crossings of a ray are counted, with another ray where one
    /// grazes an edge. Points on the surface may answer either way.
    [[nodiscard]] bool contains(Point3 point) const;
    /// The distance to the surface if it is at most `reach` metres.
    [[nodiscard]] std::optional<double> distanceTo(Point3 point, double reach) const;

private:
    Mesh mesh_;
    BoxTree tree_;
    Box3 bounds_;
};

/// Where a ray meets a triangle. Source: T. Möller, B. Trumbore, Journal of Graphics Tools 2(1), 1997.
struct TriangleHit {
    double distance, u, v;
};
[[nodiscard]] std::optional<TriangleHit> meet(Point3 origin, Vector3 direction, const std::array<Point3, 3>& triangle);

/// The point of a triangle nearest to `p`. Source: C. Ericson, Real-Time Collision Detection, 5.1.5.
[[nodiscard]] Point3 nearestPoint(Point3 p, const std::array<Point3, 3>& triangle);

} // namespace wendrix::geometry
