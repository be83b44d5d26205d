#pragma once

#include "core/base/box3.h"
#include "core/base/transform.h"

#include <array>
#include <cstdint>
#include <vector>

namespace wendrix::geometry {

using Triangle = std::array<std::uint32_t, 3>;

/// Triangles over shared points, metres, counter-clockwise seen from outside.
struct Mesh {
    std::vector<Point3> points;
    std::vector<Triangle> triangles;

    [[nodiscard]] bool isEmpty() const { return triangles.empty(); }
    [[nodiscard]] std::array<Point3, 3> corners(std::size_t triangle) const
    {
        const Triangle& t = triangles[triangle];
        return {points[t[0]], points[t[1]], points[t[2]]};
    }
    void append(const Mesh& other);
};

/// Signed sum over the triangles, taken about the first point so that far origins cost no digits;
/// the enclosed volume if the mesh is closed. m³.
[[nodiscard]] double volumeOf(const Mesh& mesh);
/// m².
[[nodiscard]] double areaOf(const Mesh& mesh);
/// The centre of the enclosed volume; of the bounds where the volume is nothing.
[[nodiscard]] Point3 centroidOf(const Mesh& mesh);
[[nodiscard]] Box3 boundsOf(const Mesh& mesh);
/// Every edge has as many triangles on the one side as on the other.
[[nodiscard]] bool isClosed(const Mesh& mesh);
/// Moved; a mirroring map also turns the triangles over, so that outside stays outside.
[[nodiscard]] Mesh transformed(const Mesh& mesh, const Transform& map);
void turnOver(Mesh& mesh);

/// Farther out nothing is built on this earth, and a double no longer tells tenths of a millimetre apart.
inline constexpr double kFarthestMetres = 1e9;
/// Every point is a number and nearer than that.
[[nodiscard]] bool isSomewhere(const Mesh& mesh);

/// Joins each point to the first one within `tolerance` of it and drops what becomes degenerate.
[[nodiscard]] Mesh welded(const Mesh& mesh, Metres tolerance);

/// Edges one would draw in ink: where faces meet at more than `angle`, and free edges. Point indices.
[[nodiscard]] std::vector<std::array<std::uint32_t, 2>> featureEdges(const Mesh& mesh, Radians angle);

/// An axis-parallel box as 12 triangles.
[[nodiscard]] Mesh boxMesh(const Box3& box);

} // namespace wendrix::geometry
