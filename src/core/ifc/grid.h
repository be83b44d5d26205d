#pragma once

#include "core/base/quantity.h"
#include "core/base/transform.h"
#include "core/ifc/placement.h"

#include <cmath>
#include <optional>
#include <string>
#include <vector>

namespace wendrix::ifc {

/// A part of a circle, or all of it: the places centre + cos t · u + sin t · v. Metres and radians.
struct GridArc {
    Point3 centre;
    Vector3 u, v;               ///< as long as the radius
    double from = 0, sweep = 0; ///< t of the start, and how far it goes on; negative: clockwise in the frame of u and v
    [[nodiscard]] double radius() const { return length(u); }
    [[nodiscard]] Point3 at(double t) const { return centre + std::cos(t) * u + std::sin(t) * v; }
    /// Whether it reaches the direction t.
    [[nodiscard]] bool reaches(double t) const;
};

/// An axis in the file's world frame, metres: straight, or along a circle.
struct GridAxis {
    std::string tag;
    char family = 'u'; ///< u, v or w
    Point3 start, end;
    std::optional<GridArc> arc; ///< of one along a circle, on which start and end lie
    /// The axis in straight pieces that leave a circle by no more than `off`.
    [[nodiscard]] std::vector<Point3> points(Metres off) const;
};

struct Grid {
    std::string guid, name;
    std::vector<GridAxis> axes;
};

/// IfcGrid with its axes; one along a curve that is neither a line nor a circle is a diagnostic and left out.
[[nodiscard]] Grid readGrid(const Source& source, const PlacementReader& reader, double angleToRadians,
                            const Entity& grid, const Transform& placement, std::vector<Diagnostic>& diagnostics);

} // namespace wendrix::ifc
