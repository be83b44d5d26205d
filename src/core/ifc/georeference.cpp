#include "core/ifc/georeference.h"

#include "core/base/text.h"
#include "core/ifc/units.h"

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

/// The length of the CRS's unit; offsets are in it, else in the project's (ISO 16739, IfcProjectedCRS.MapUnit).
double mapUnitToMetres(const Source& source, const Entity& crs, double lengthToMetres)
{
    const auto unit = readUnit(source, source.entity(crs["MapUnit"]));
    return unit && unit->symbol == "m" ? unit->factor : lengthToMetres;
}

void takeMapConversion(Georeference& g, const Source& source, const Entity& map, double lengthToMetres)
{
    const Entity crs = source.entity(map["TargetCRS"]);
    const double toMetres = mapUnitToMetres(source, crs, lengthToMetres);
    g.crs = crs["Name"].text();
    g.eastings = map["Eastings"].numberOr(0) * toMetres;
    g.northings = map["Northings"].numberOr(0) * toMetres;
    g.height = map["OrthogonalHeight"].numberOr(0) * toMetres;
    g.rotation = Radians{std::atan2(map["XAxisOrdinate"].numberOr(0), map["XAxisAbscissa"].numberOr(1))};
    // The file's scale also holds the ratio of the two units; what is left is the true scale.
    const double factor = map["FactorX"].numberOr(1); // IfcMapConversionScaled
    g.scale = map["Scale"].number() ? *map["Scale"].number() * factor * toMetres / lengthToMetres : factor;
}

/// IFC4X3: moved onto the CRS without turning or scaling.
void takeRigidOperation(Georeference& g, const Source& source, const Entity& rigid, double lengthToMetres)
{
    const Entity crs = source.entity(rigid["TargetCRS"]);
    if (rigid["FirstCoordinate"].typeName() == "IFCPLANEANGLEMEASURE")
        return; // in degrees: no easting can be said without projecting
    const double toMetres = mapUnitToMetres(source, crs, lengthToMetres);
    g.crs = crs["Name"].text();
    g.eastings = rigid["FirstCoordinate"].numberOr(0) * toMetres;
    g.northings = rigid["SecondCoordinate"].numberOr(0) * toMetres;
    g.height = rigid["Height"].numberOr(0) * toMetres;
    g.rotation = Radians{0};
    g.scale = 1;
}

/// The values of a property set by name in upper case.
std::optional<Value> valueOf(const Source& source, const Entity& set, std::string_view name, Entity& keep)
{
    for (const Value reference : set["HasProperties"]) {
        Entity property = source.entity(reference);
        if (upperCase(property["Name"].text()) != name)
            continue;
        keep = std::move(property);
        return keep["NominalValue"];
    }
    return {};
}

/// The convention for releases before IFC4: property sets on the site or project that hold the attributes of
/// IfcMapConversion and IfcProjectedCRS (buildingSMART, User Guide for Geo-referencing in IFC, 2020).
void takePropertySets(Georeference& g, const Source& source, double lengthToMetres)
{
    Entity conversion, crs;
    source.forEach("IfcPropertySet", [&](const Entity& set) {
        const std::string name = upperCase(set["Name"].text());
        if (name == "EPSET_MAPCONVERSION" && !conversion)
            conversion = set;
        else if (name == "EPSET_PROJECTEDCRS" && !crs)
            crs = set;
    });
    if (!conversion)
        return;
    Entity keep;
    const auto number = [&](std::string_view name) -> std::optional<double> {
        const auto value = valueOf(source, conversion, name, keep);
        return value ? value->number() : std::nullopt;
    };
    double toMetres = lengthToMetres;
    if (const auto unit = valueOf(source, crs, "MAPUNIT", keep)) {
        const std::string name = upperCase(unit->text());
        if (name == "METRE" || name == "METER" || name == "M")
            toMetres = 1;
        else if (name == "FOOT" || name == "FEET" || name == "FT")
            toMetres = 0.3048;
        else if (name.find("SURVEY") != std::string::npos)
            toMetres = 1200.0 / 3937;
        else if (name == "MILLIMETRE" || name == "MILLIMETER" || name == "MM")
            toMetres = 1e-3;
    }
    const auto text = [&](const Entity& set, std::string_view name) {
        const auto value = valueOf(source, set, name, keep);
        return value ? value->text() : std::string();
    };
    std::string name = text(crs, "NAME");
    if (name.empty())
        name = text(conversion, "TARGETCRS");
    if (!name.empty())
        g.crs = name;
    g.eastings = number("EASTINGS").value_or(0) * toMetres;
    g.northings = number("NORTHINGS").value_or(0) * toMetres;
    g.height = number("ORTHOGONALHEIGHT").value_or(0) * toMetres;
    g.rotation = Radians{std::atan2(number("XAXISORDINATE").value_or(0), number("XAXISABSCISSA").value_or(1))};
    const auto scale = number("SCALE");
    g.scale = scale ? *scale * toMetres / lengthToMetres : 1.0;
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
    source.forEach("IfcCoordinateOperation", [&](const Entity& operation) {
        if (g.eastings)
            return;
        if (operation.isA("IfcMapConversion"))
            takeMapConversion(g, source, operation, lengthToMetres);
        else if (operation.isA("IfcRigidOperation"))
            takeRigidOperation(g, source, operation, lengthToMetres);
    });
    if (!g.eastings && source.schema().name() == "IFC2X3")
        takePropertySets(g, source, lengthToMetres);
    return g;
}

} // namespace wendrix::ifc
