#pragma once

#include "core/base/result.h"
#include "core/geometry/polygon.h"
#include "core/ifc/placement.h"
#include "core/ifc/units.h"

#include <optional>

namespace wendrix::geometry {

/// Reads IFC curves as points in metres, arcs cut as segmentsOfCircle says.
class CurveReader {
public:
    CurveReader(const ifc::Source& source, const ifc::Units& units)
        : source_(source), units_(units), placements_(source, units.lengthToMetres)
    {
    }
    /// An open or closed curve in its own plane or in space.
    /// Polyline, indexed poly curve, circle, ellipse, trimmed conics and lines, composite curve.
    /// @return nothing for another kind, which `unsupported` then names.
    [[nodiscard]] std::optional<std::vector<Point3>> points(const ifc::Entity& curve, std::string& unsupported,
                                                            int depth = 0) const;
    /// The same as a closed outline in the plane.
    [[nodiscard]] std::optional<Ring> ring(const ifc::Entity& curve, std::string& unsupported) const;

    [[nodiscard]] const ifc::PlacementReader& placements() const { return placements_; }
    [[nodiscard]] const ifc::Source& source() const { return source_; }
    [[nodiscard]] const ifc::Units& units() const { return units_; }

private:
    [[nodiscard]] std::vector<Point3> conic(const ifc::Entity& conic, double from, double to) const;
    [[nodiscard]] std::optional<std::vector<Point3>> trimmed(const ifc::Entity& curve, std::string& unsupported) const;
    [[nodiscard]] std::optional<std::vector<Point3>> indexed(const ifc::Entity& curve) const;

    const ifc::Source& source_;
    const ifc::Units& units_;
    ifc::PlacementReader placements_;
};

} // namespace wendrix::geometry
