#include "core/ifc/grid.h"

namespace wendrix::ifc {

namespace {

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

} // namespace

Grid readGrid(const Source& source, const PlacementReader& reader, const Entity& e, const Transform& placement,
              std::vector<Diagnostic>& diagnostics)
{
    Grid grid{e["GlobalId"].text(), e["Name"].text(), {}};
    static constexpr std::pair<Name, char> kFamilies[] = {{Name("UAxes"), 'u'}, {Name("VAxes"), 'v'}, {Name("WAxes"), 'w'}};
    for (const auto& [attribute, family] : kFamilies)
        for (const Value reference : e[attribute]) {
            const Entity axisEntity = source.entity(reference);
            GridAxis axis;
            axis.tag = axisEntity["AxisTag"].text();
            axis.family = family;
            if (!readLine(source, reader, source.entity(axisEntity["AxisCurve"]), axis)) {
                diagnostics.push_back({Severity::Warning, "ifc.grid-axis", entityName(axisEntity.id()),
                                       "Grid axis " + axis.tag + " is not a straight line and was left out."});
                continue;
            }
            if (axisEntity["SameSense"].enumeration() == "F")
                std::swap(axis.start, axis.end);
            axis.start = placement.apply(axis.start);
            axis.end = placement.apply(axis.end);
            grid.axes.push_back(axis);
        }
    return grid;
}

} // namespace wendrix::ifc
