#pragma once

#include "core/view/cut_faces.h"
#include "core/view/display.h"
#include "core/view/draw_order.h"

#include <cstdint>
#include <span>
#include <vector>

namespace wendrix::app {

/// What the GPU gets of one member, as plain arrays: made on any thread, sent on the one with the context.
struct MemberVertices {
    struct Face {
        float x, y, z, nx, ny, nz, element;
    };
    struct Edge {
        float x, y, z, element;
    };
    struct Instance {
        float rows[12];
        float element; ///< exact up to 16 million elements
    };
    struct Group { ///< one shape and its instances
        std::int32_t firstFace = 0, firstEdge = 0, faces = 0, edges = 0;
        std::size_t firstInstance = 0;
    };
    Point3 origin; ///< federation frame; positions are about it
    std::vector<Face> faces;
    std::vector<Edge> edges;
    std::vector<Instance> instances{{{1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0}, 0}}; ///< the first: as it is
    std::vector<Group> groups;                      ///< the common list of single shapes first
    std::vector<std::vector<view::DrawStep>> order; ///< of each group, from large to small
    std::vector<std::int32_t> singleEdges;          ///< edge vertices of this single and all larger ones
};

/// Shapes that are used often lie there once with their instances, the others together.
[[nodiscard]] MemberVertices verticesOf(const federation::Member& member);
/// The same of some of its elements, which are numbered by their place among those.
[[nodiscard]] MemberVertices verticesOf(const federation::Member& member, std::span<const ifc::ElementIndex> some);
/// The faces of one cut through all members, which are numbered instead of elements.
[[nodiscard]] MemberVertices verticesOf(const view::CutFaces& cut, Vector3 normal);

} // namespace wendrix::app
