#pragma once

#include "core/base/digest.h"
#include "core/geometry/mesh.h"
#include "core/ifc/styles.h"

#include <optional>
#include <vector>

namespace wendrix::geometry {

using ShapeIndex = std::uint32_t;

/// One solid or surface of a body, in the representation's own frame, metres.
struct BodyPart {
    Mesh mesh;
    bool isClosed = false;
    std::optional<ifc::SurfaceColour> colour;
};

/// Triangles from `firstTriangle` to the next part's, in one colour.
struct ColourRun {
    std::uint32_t firstTriangle = 0;
    std::optional<ifc::SurfaceColour> colour;
    friend bool operator==(const ColourRun&, const ColourRun&) = default;
};

/// A body built once, placed wherever it is used.
struct Shape {
    Mesh mesh;
    std::vector<ColourRun> colours;
    std::vector<std::array<std::uint32_t, 2>> edges; ///< feature edges, point indices
    bool isClosed = false;
    double volume = 0, area = 0; ///< m³ (signed sum, meaningful where closed), m²
    Digest digest;               ///< of its points and triangles, as digestOf() makes it
};

struct PlacedShape {
    ShapeIndex shape = 0;
    Transform placement;                      ///< to the file's world frame; it may stretch and mirror
    std::optional<ifc::SurfaceColour> colour; ///< where the shape's own triangles have none
};

[[nodiscard]] Digest digestOf(const Mesh& mesh, bool isClosed);

/// Joins the parts of a body, measures them and finds their edges.
[[nodiscard]] Shape shapeOf(std::vector<BodyPart> parts);

} // namespace wendrix::geometry
