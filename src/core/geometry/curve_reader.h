#pragma once

#include "core/base/result.h"
#include "core/geometry/polygon.h"
#include "core/geometry/spline.h"
#include "core/ifc/placement.h"
#include "core/ifc/units.h"

#include <optional>

namespace wendrix::geometry {

/// Reads IFC curves as points in metres, cut as the fineness says.
///
/// Polyline, indexed poly curve, line, circle, ellipse, trimmed curve, composite curve, B-spline and Bezier curve
/// (rational or not), offset curve in plane and space, curve on a surface (by its curve in space).
class CurveReader {
public:
    CurveReader(const ifc::Source& source, const ifc::Units& units, Fineness fineness = {})
        : source_(source), units_(units), placements_(source, units.lengthToMetres), fineness_(fineness)
    {
    }
    /// An open or closed curve in its own plane or in space.
    /// @return nothing for another kind, which `unsupported` then names.
    [[nodiscard]] std::optional<std::vector<Point3>> points(const ifc::Entity& curve, std::string& unsupported) const;
    /// The part of a curve between two of its own parameters, as a directrix is trimmed; a whole end where absent.
    [[nodiscard]] std::optional<Path> part(const ifc::Entity& curve, std::optional<double> from,
                                           std::optional<double> to, std::string& unsupported) const;
    /// The same as a closed outline in the plane.
    [[nodiscard]] std::optional<Ring> ring(const ifc::Entity& curve, std::string& unsupported) const;

    [[nodiscard]] const ifc::PlacementReader& placements() const { return placements_; }
    [[nodiscard]] const ifc::Source& source() const { return source_; }
    [[nodiscard]] const ifc::Units& units() const { return units_; }
    [[nodiscard]] const Fineness& fineness() const { return fineness_; }

private:
    using MaybeSampled = std::optional<Sampled>;
    [[nodiscard]] MaybeSampled sample(const ifc::Entity& curve, std::string& unsupported, int depth) const;
    [[nodiscard]] Sampled conic(const ifc::Entity& conic, double from, double to) const;
    [[nodiscard]] MaybeSampled trimmed(const ifc::Entity& curve, std::string& unsupported, int depth) const;
    [[nodiscard]] MaybeSampled indexed(const ifc::Entity& curve) const;
    [[nodiscard]] MaybeSampled composite(const ifc::Entity& curve, std::string& unsupported, int depth) const;
    [[nodiscard]] MaybeSampled offset(const ifc::Entity& curve, std::string& unsupported, int depth) const;
    [[nodiscard]] std::optional<Spline> spline(const ifc::Entity& curve) const;

    const ifc::Source& source_;
    const ifc::Units& units_;
    ifc::PlacementReader placements_;
    Fineness fineness_;
};

/// A polyline moved sideways by `distance` (positive: to the left of its way, seen against `up`), with mitred
/// corners; closed where its ends meet.
[[nodiscard]] std::vector<Point3> offsetPolyline(const std::vector<Point3>& points, double distance, Vector3 up);

} // namespace wendrix::geometry
