#pragma once

#include "core/clash/triangle_pair.h"
#include "core/geometry/mesh.h"

#include <optional>
#include <vector>

/// Convex bodies, which most of a building is made of: where two of them stand is answered exactly.
namespace wendrix::clash {

/// A convex polyhedron.
struct Convex {
    struct Face {
        Vector3 normal;      ///< outwards, of length 1
        double at = 0;       ///< along the normal, metres
        bool isFirst = true; ///< none before it looks the opposite way: those are one direction to move along
    };
    std::vector<Point3> points;                      ///< its corners
    std::vector<Face> faces;                         ///< its planes, each once
    std::vector<Vector3> edges;                      ///< directions of its edges, each once, of length 1
    std::vector<std::array<std::uint32_t, 2>> lines; ///< its edges, by corner

    [[nodiscard]] bool contains(const Point3& p, double margin = 0) const
    {
        for (const Face& f : faces)
            if (dot(f.normal, p) > f.at + margin)
                return false;
        return true;
    }
};

/// A closed mesh as a convex body; nothing where it is none, or has so many faces that trees are faster. What bulges by
/// less than a micrometre, as rounded faces of four corners do, is flat.
[[nodiscard]] std::optional<Convex> convexOf(const geometry::Mesh& closed);
/// Through an affine map.
[[nodiscard]] Convex placed(const Convex& shape, const Transform& at);

/// How far one of two convex bodies has to be moved, and which way, to share no space with the other.
/// Exact but for rounding: over the normals of both and the cross products of their edges, where the least translation
/// lies. Source: S. Cameron, R. Culley, IEEE Int. Conf. on Robotics and Automation, 1986 (minimum translational
/// distance); the directions are those of the faces of the Minkowski difference.
/// @param enough  stops at the first direction that takes no more than this
[[nodiscard]] Shift separationOf(const Convex& a, const Convex& b, double enough);

/// The corners of the space two convex bodies share, some of them more than once.
[[nodiscard]] std::vector<Point3> sharedPoints(const Convex& a, const Convex& b);

} // namespace wendrix::clash
