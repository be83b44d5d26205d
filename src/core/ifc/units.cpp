#include "core/ifc/units.h"

#include <cmath>
#include <numbers>
#include <utility>

namespace wendrix::ifc {

namespace {

std::pair<double, std::string> prefix(std::string_view name)
{
    static constexpr std::pair<std::string_view, int> kPrefixes[] = {
        {"EXA", 18}, {"PETA", 15}, {"TERA", 12}, {"GIGA", 9}, {"MEGA", 6}, {"KILO", 3}, {"HECTO", 2},
        {"DECA", 1}, {"DECI", -1}, {"CENTI", -2}, {"MILLI", -3}, {"MICRO", -6}, {"NANO", -9}, {"PICO", -12},
        {"FEMTO", -15}, {"ATTO", -18}};
    for (const auto& [word, power] : kPrefixes)
        if (word == name) {
            std::string lower(word);
            for (char& c : lower)
                c = static_cast<char>(c + 32);
            return {std::pow(10.0, power), lower};
        }
    return {1.0, ""};
}

struct Scale {
    double toSi = 1;
    std::string name;
};

/// The factor of a named unit to its SI base, prefixes raised to the unit's power.
Scale scaleOf(const Source& source, const Entity& unit, int power, int depth = 0)
{
    if (unit.isA("IfcSIUnit")) {
        const auto [factor, word] = prefix(unit["Prefix"].enumeration());
        return {std::pow(factor, power), word + (power == 1 ? "metre" : "")};
    }
    if (unit.isA("IfcConversionBasedUnit") && depth < 4) {
        const Entity measure = source.entity(unit["ConversionFactor"]);
        if (!measure)
            return {};
        const Scale base = scaleOf(source, source.entity(measure["UnitComponent"]), power, depth + 1);
        return {measure["ValueComponent"].numberOr(1) * base.toSi, unit["Name"].text()};
    }
    return {};
}

bool isUsable(double factor) { return std::isfinite(factor) && factor > 0; }

} // namespace

Units readUnits(const Source& source, const Entity& project, std::vector<Diagnostic>& diagnostics)
{
    Units units;
    bool lengthSeen = false;
    const Entity assignment = source.entity(project["UnitsInContext"]);
    for (const Value reference : assignment["Units"]) {
        const Entity unit = source.entity(reference);
        const std::string_view kind = unit["UnitType"].enumeration();
        const auto take = [&](double& factor, int power, std::string* name) {
            const Scale scale = scaleOf(source, unit, power);
            if (!isUsable(scale.toSi)) {
                diagnostics.push_back({Severity::Error, "ifc.unit", entityName(unit.id()),
                                       "The unit's factor is not a positive number; SI is used instead."});
                return;
            }
            factor = scale.toSi;
            if (name != nullptr && !scale.name.empty())
                *name = scale.name;
        };
        if (kind == "LENGTHUNIT") {
            lengthSeen = true;
            take(units.lengthToMetres, 1, &units.lengthName);
        } else if (kind == "AREAUNIT") {
            take(units.areaToSquareMetres, 2, nullptr);
        } else if (kind == "VOLUMEUNIT") {
            take(units.volumeToCubicMetres, 3, nullptr);
        } else if (kind == "PLANEANGLEUNIT") {
            take(units.angleToRadians, 1, nullptr);
        }
    }
    if (!lengthSeen)
        diagnostics.push_back({Severity::Warning, "ifc.no-length-unit", project ? entityName(project.id()) : "",
                               "The file names no length unit; metres are assumed. Check the size of the model."});
    return units;
}

MeasureUnit unitOfMeasure(std::string_view type, const Units& units)
{
    if (type == "IFCLENGTHMEASURE" || type == "IFCPOSITIVELENGTHMEASURE" || type == "IFCNONNEGATIVELENGTHMEASURE")
        return {"m", units.lengthToMetres};
    if (type == "IFCAREAMEASURE")
        return {"m²", units.areaToSquareMetres};
    if (type == "IFCVOLUMEMEASURE")
        return {"m³", units.volumeToCubicMetres};
    if (type == "IFCPLANEANGLEMEASURE" || type == "IFCPOSITIVEPLANEANGLEMEASURE")
        return {"°", units.angleToRadians * 180.0 / std::numbers::pi};
    if (type == "IFCVOLUMETRICFLOWRATEMEASURE")
        return {"m³/s", 1};
    if (type == "IFCPOWERMEASURE")
        return {"W", 1};
    if (type == "IFCPRESSUREMEASURE")
        return {"Pa", 1};
    if (type == "IFCTHERMALTRANSMITTANCEMEASURE")
        return {"W/m²K", 1};
    if (type == "IFCMASSMEASURE")
        return {"kg", 1};
    return {};
}

} // namespace wendrix::ifc
