#include "core/ifc/georeference.h"

#include <cmath>

namespace wendrix::ifc {

namespace {

/// IfcCompoundPlaneAngleMeasure: degrees, minutes, seconds, millionths; all of one sign.
std::optional<double> compoundAngle(Value v)
{
    if (v.size() < 3)
        return {};
    return v[0].numberOr(0) + v[1].numberOr(0) / 60 + v[2].numberOr(0) / 3600 + v[3].numberOr(0) / 3.6e9;
}

} // namespace

Georeference readGeoreference(const Source& source, double lengthToMetres)
{
    Georeference g;
    source.forEach("IfcSite", [&](const Entity& site) {
        if (!g.latitudeDegrees)
            g.latitudeDegrees = compoundAngle(site["RefLatitude"]);
        if (!g.longitudeDegrees)
            g.longitudeDegrees = compoundAngle(site["RefLongitude"]);
        if (const auto elevation = site["RefElevation"].number(); elevation && !g.siteElevation)
            g.siteElevation = Metres{*elevation * lengthToMetres};
    });
    source.forEach("IfcGeometricRepresentationContext", [&](const Entity& context) {
        const Entity north = source.entity(context["TrueNorth"]);
        if (!north || g.trueNorth)
            return;
        const Value ratios = north["DirectionRatios"];
        const double x = ratios[0].numberOr(0), y = ratios[1].numberOr(1);
        if (x != 0 || y != 0)
            g.trueNorth = Radians{std::atan2(-x, y)};
    });
    source.forEach("IfcMapConversion", [&](const Entity& map) {
        if (g.eastings)
            return;
        // The CRS may have its own unit: offsets are in it, else in the project's.
        const Entity crs = source.entity(map["TargetCRS"]);
        double toMetres = lengthToMetres;
        if (const Entity unit = source.entity(crs["MapUnit"]); unit.isA("IfcSIUnit"))
            toMetres = unit["Prefix"].enumeration() == "MILLI" ? 1e-3 : 1.0;
        g.crs = crs["Name"].text();
        g.eastings = map["Eastings"].numberOr(0) * toMetres;
        g.northings = map["Northings"].numberOr(0) * toMetres;
        g.height = map["OrthogonalHeight"].numberOr(0) * toMetres;
        g.rotation = Radians{std::atan2(map["XAxisOrdinate"].numberOr(0), map["XAxisAbscissa"].numberOr(1))};
        // The file's scale also holds the ratio of the two units; what is left is the true scale.
        g.scale = map["Scale"].number() ? *map["Scale"].number() * toMetres / lengthToMetres : 1.0;
    });
    return g;
}

} // namespace wendrix::ifc
