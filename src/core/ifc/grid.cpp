#include "core/ifc/grid.h"

#include <algorithm>
#include <numbers>

namespace wendrix::ifc {

namespace {

constexpr double kFullTurn = 2 * std::numbers::pi;

bool readLine(const Source& source, const PlacementReader& reader, const Entity& curve, GridAxis& axis)
{
    if (curve.isA("IfcPolyline")) {
        const Value points = curve["Points"];
        if (points.size() < 2)
            return false;
        axis.start = reader.point(points[0]);
        axis.end = reader.point(points[points.size() - 1]);
        return true;
    }
    if (curve.isA("IfcIndexedPolyCurve")) {
        const Entity list = source.entity(curve["Points"]);
        const Value points = list["CoordList"];
        if (points.size() < 2 || curve["Segments"].isGiven())
            return false;
        const double scale = reader.lengthToMetres();
        const auto at = [&](Value p) {
            return Point3{scale * p[0].numberOr(0), scale * p[1].numberOr(0), scale * p[2].numberOr(0)};
        };
        axis.start = at(points[0]);
        axis.end = at(points[points.size() - 1]);
        return true;
    }
    if (curve.isA("IfcTrimmedCurve") || curve.isA("IfcLine")) {
        const Entity line = curve.isA("IfcLine") ? curve : source.entity(curve["BasisCurve"]);
        if (!line.isA("IfcLine"))
            return false;
        const Point3 origin = reader.point(line["Pnt"]);
        const Entity vector = source.entity(line["Dir"]);
        const Vector3 step = vector["Magnitude"].numberOr(1) * reader.lengthToMetres() *
                             normalised(reader.direction(vector["Orientation"], {1, 0, 0}));
        const auto trimmed = [&](Value trims, double otherwise) {
            for (const Value trim : trims) {
                if (const Entity point = source.entity(trim))
                    return reader.point(point);
                if (trim.number())
                    return origin + *trim.number() * step;
            }
            return origin + otherwise * step;
        };
        axis.start = trimmed(curve["Trim1"], 0);
        axis.end = trimmed(curve["Trim2"], 1);
        return true;
    }
    return false;
}

/// From 0 up to a full turn, a full one where both ends are the same.
double turnBetween(double from, double to)
{
    const double turn = std::fmod(to - from, kFullTurn);
    return turn > 1e-12 ? turn : turn + kFullTurn;
}

/// IfcCircle, whole or trimmed (ISO 10303-42: trimming goes from Trim1 to Trim2, with the circle's sense or against
/// it).
bool readArc(const Source& source, const PlacementReader& reader, double angleToRadians, const Entity& curve,
             GridAxis& axis)
{
    const bool isTrimmed = curve.isA("IfcTrimmedCurve");
    const Entity circle = isTrimmed ? source.entity(curve["BasisCurve"]) : curve;
    const double radius = circle["Radius"].numberOr(0) * reader.lengthToMetres();
    if (!circle.isA("IfcCircle") || !(radius > 0))
        return false;
    const Transform frame = reader.axisPlacement(circle["Position"]);
    GridArc arc{frame.origin, radius * frame.x, radius * frame.y, 0, kFullTurn};
    if (isTrimmed) {
        const auto angle = [&](Value trims) -> std::optional<double> {
            std::optional<double> byPoint;
            for (const Value trim : trims) {
                if (trim.number())
                    return *trim.number() * angleToRadians;
                if (const Entity point = source.entity(trim)) {
                    const Vector3 d = reader.point(point) - arc.centre;
                    byPoint = std::atan2(dot(d, arc.v), dot(d, arc.u));
                }
            }
            return byPoint;
        };
        const auto first = angle(curve["Trim1"]), second = angle(curve["Trim2"]);
        if (!first || !second || !std::isfinite(*first) || !std::isfinite(*second))
            return false;
        const bool isForward = curve["SenseAgreement"].enumeration() != "F";
        arc.from = *first;
        arc.sweep = isForward ? turnBetween(*first, *second) : -turnBetween(*second, *first);
    }
    axis.arc = arc;
    axis.start = arc.at(arc.from);
    axis.end = arc.at(arc.from + arc.sweep);
    return std::isfinite(length(axis.start));
}

} // namespace

bool GridArc::reaches(double t) const
{
    constexpr double kSlack = 1e-6; // radians: an axis that ends on another still crosses it
    const double low = std::min(from, from + sweep) - kSlack, turns = std::ceil((low - t) / kFullTurn);
    return t + turns * kFullTurn <= std::max(from, from + sweep) + kSlack;
}

std::vector<Point3> GridAxis::points(Metres off) const
{
    if (!arc)
        return {start, end};
    const double share = std::clamp(1 - off.value / std::max(arc->radius(), off.value), -1.0, 1.0);
    const int pieces =
        std::clamp(static_cast<int>(std::ceil(std::abs(arc->sweep) / std::max(2 * std::acos(share), 1e-3))), 1, 10'000);
    std::vector<Point3> places;
    for (int i = 0; i <= pieces; ++i)
        places.push_back(arc->at(arc->from + arc->sweep * i / pieces));
    return places;
}

Grid readGrid(const Source& source, const PlacementReader& reader, double angleToRadians, const Entity& e,
              const Transform& placement, std::vector<Diagnostic>& diagnostics)
{
    Grid grid{e["GlobalId"].text(), e["Name"].text(), {}};
    static constexpr std::pair<Name, char> kFamilies[] = {
        {Name("UAxes"), 'u'}, {Name("VAxes"), 'v'}, {Name("WAxes"), 'w'}};
    for (const auto& [attribute, family] : kFamilies)
        for (const Value reference : e[attribute]) {
            const Entity axisEntity = source.entity(reference);
            GridAxis axis;
            axis.tag = axisEntity["AxisTag"].text();
            axis.family = family;
            const Entity curve = source.entity(axisEntity["AxisCurve"]);
            if (!readLine(source, reader, curve, axis) && !readArc(source, reader, angleToRadians, curve, axis)) {
                diagnostics.push_back(
                    {Severity::Warning, "ifc.grid-axis", entityName(axisEntity.id()),
                     "Grid axis " + axis.tag + " is neither a straight line nor a part of a circle and was left out."});
                continue;
            }
            if (axisEntity["SameSense"].enumeration() == "F") {
                std::swap(axis.start, axis.end);
                if (axis.arc)
                    axis.arc = GridArc{axis.arc->centre, axis.arc->u, axis.arc->v, axis.arc->from + axis.arc->sweep,
                                       -axis.arc->sweep};
            }
            if (axis.arc)
                axis.arc = GridArc{placement.apply(axis.arc->centre), placement.turn(axis.arc->u),
                                   placement.turn(axis.arc->v), axis.arc->from, axis.arc->sweep};
            axis.start = placement.apply(axis.start);
            axis.end = placement.apply(axis.end);
            grid.axes.push_back(axis);
        }
    return grid;
}

} // namespace wendrix::ifc
