#include "core/ifc/units.h"

#include "core/base/text.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <utility>

namespace wendrix::ifc {

namespace {

constexpr int kDeepestUnit = 8;

std::optional<int> powerOfPrefix(std::string_view name)
{
    static constexpr std::pair<std::string_view, int> kPrefixes[] = {
        {"EXA", 18},  {"PETA", 15},  {"TERA", 12},   {"GIGA", 9},   {"MEGA", 6},   {"KILO", 3},
        {"HECTO", 2}, {"DECA", 1},   {"DECI", -1},   {"CENTI", -2}, {"MILLI", -3}, {"MICRO", -6},
        {"NANO", -9}, {"PICO", -12}, {"FEMTO", -15}, {"ATTO", -18}};
    for (const auto& [word, power] : kPrefixes)
        if (word == name)
            return power;
    return {};
}

struct SiUnit {
    std::string_view name, symbol;
    double factor;
    int power; ///< of the length a prefix belongs to
};

const SiUnit* siUnit(std::string_view name)
{
    static constexpr SiUnit kUnits[] = {{"METRE", "m", 1, 1},
                                        {"SQUARE_METRE", "m²", 1, 2},
                                        {"CUBIC_METRE", "m³", 1, 3},
                                        {"GRAM", "kg", 1e-3, 1},
                                        {"SECOND", "s", 1, 1},
                                        {"AMPERE", "A", 1, 1},
                                        {"KELVIN", "K", 1, 1},
                                        {"MOLE", "mol", 1, 1},
                                        {"CANDELA", "cd", 1, 1},
                                        {"RADIAN", "rad", 1, 1},
                                        {"STERADIAN", "sr", 1, 1},
                                        {"HERTZ", "Hz", 1, 1},
                                        {"NEWTON", "N", 1, 1},
                                        {"PASCAL", "Pa", 1, 1},
                                        {"JOULE", "J", 1, 1},
                                        {"WATT", "W", 1, 1},
                                        {"COULOMB", "C", 1, 1},
                                        {"VOLT", "V", 1, 1},
                                        {"FARAD", "F", 1, 1},
                                        {"OHM", "Ω", 1, 1},
                                        {"SIEMENS", "S", 1, 1},
                                        {"WEBER", "Wb", 1, 1},
                                        {"TESLA", "T", 1, 1},
                                        {"HENRY", "H", 1, 1},
                                        {"DEGREE_CELSIUS", "°C", 1, 1},
                                        {"LUMEN", "lm", 1, 1},
                                        {"LUX", "lx", 1, 1},
                                        {"BECQUEREL", "Bq", 1, 1},
                                        {"GRAY", "Gy", 1, 1},
                                        {"SIEVERT", "Sv", 1, 1}};
    for (const SiUnit& unit : kUnits)
        if (unit.name == name)
            return &unit;
    return nullptr;
}

/// Conversion-based units that are known by name, for files that leave out the factor.
std::optional<Unit> unitByName(std::string_view name)
{
    static constexpr std::pair<std::string_view, double> kLengths[] = {{"INCH", 0.0254},
                                                                       {"FOOT", 0.3048},
                                                                       {"FEET", 0.3048},
                                                                       {"YARD", 0.9144},
                                                                       {"MILE", 1609.344},
                                                                       {"US SURVEY FOOT", 1200.0 / 3937},
                                                                       {"US_SURVEY_FOOT", 1200.0 / 3937}};
    const std::string upper = upperCase(name);
    for (const auto& [word, factor] : kLengths)
        if (word == upper)
            return Unit{factor, 0, "m"};
    if (upper == "DEGREE")
        return Unit{std::numbers::pi / 180, 0, "rad"};
    return {};
}

std::string raised(const std::string& symbol, int power)
{
    static constexpr std::string_view kDigits[] = {"⁰", "¹", "²", "³", "⁴", "⁵", "⁶", "⁷", "⁸", "⁹"};
    if (power == 1)
        return symbol;
    return symbol + (power < 10 ? std::string(kDigits[power]) : "^" + std::to_string(power));
}

std::optional<Unit> read(const Source& source, const Entity& e, int depth);

std::optional<Unit> derived(const Source& source, const Entity& e, int depth)
{
    Unit unit;
    std::string above, below;
    std::size_t belowCount = 0;
    for (const Value reference : e["Elements"]) {
        const Entity element = source.entity(reference);
        const Entity named = source.entity(element["Unit"]);
        const auto base = named.isA("IfcDerivedUnit") ? std::nullopt : read(source, named, depth + 1);
        const auto exponent = element["Exponent"].integer();
        if (!base || !exponent || *exponent == 0 || std::abs(*exponent) > 20)
            return {};
        const int power = static_cast<int>(*exponent);
        unit.factor *= std::pow(base->factor, power);
        // The temperature in a derived unit is a difference, for which both scales agree.
        const std::string symbol = raised(base->symbol == "°C" ? "K" : base->symbol, std::abs(power));
        std::string& side = power > 0 ? above : below;
        side += (side.empty() ? "" : "·") + symbol;
        belowCount += power < 0 ? 1 : 0;
    }
    if (above.empty() && below.empty())
        return {};
    unit.symbol = above.empty() ? "1" : above;
    if (!below.empty())
        unit.symbol += belowCount > 1 ? "/(" + below + ")" : "/" + below;
    return unit;
}

std::optional<Unit> read(const Source& source, const Entity& e, int depth)
{
    if (!e || depth > kDeepestUnit)
        return {};
    if (e.isA("IfcSIUnit")) {
        const SiUnit* si = siUnit(e["Name"].enumeration());
        if (si == nullptr)
            return {};
        const auto power = e["Prefix"].isGiven() ? powerOfPrefix(e["Prefix"].enumeration()) : 0;
        if (!power)
            return {};
        return Unit{si->factor * std::pow(10.0, *power * si->power), 0, std::string(si->symbol)};
    }
    if (e.isA("IfcConversionBasedUnit")) {
        const Entity measure = source.entity(e["ConversionFactor"]);
        auto base = measure ? read(source, source.entity(measure["UnitComponent"]), depth + 1) : std::nullopt;
        const auto value = measure ? measure["ValueComponent"].number() : std::nullopt;
        if (!base || !value)
            return unitByName(e["Name"].text());
        return Unit{*value * base->factor, base->offset + e["ConversionOffset"].numberOr(0), base->symbol};
    }
    if (e.isA("IfcDerivedUnit"))
        return derived(source, e, depth);
    if (e.isA("IfcContextDependentUnit"))
        return Unit{1, 0, e["Name"].text()};
    if (e.isA("IfcMonetaryUnit")) {
        const auto code = e["Currency"].enumeration(); // IFC2X3; a label since
        return Unit{1, 0, code.empty() ? e["Currency"].text() : std::string(code)};
    }
    return {};
}

bool isUsable(const Unit& unit) { return std::isfinite(unit.factor) && unit.factor > 0 && std::isfinite(unit.offset); }

/// "millimetre", "foot".
std::string nameOf(const Entity& unit)
{
    if (unit.isA("IfcSIUnit"))
        return lowerCase(unit["Prefix"].enumeration()) + "metre";
    return unit["Name"].text();
}

/// The kind of unit a measure is given in: "IFCPOSITIVELENGTHMEASURE" is a LENGTHUNIT.
std::string kindOfMeasure(std::string_view type)
{
    static constexpr std::pair<std::string_view, std::string_view> kOdd[] = {{"POSITIVELENGTH", "LENGTH"},
                                                                             {"NONNEGATIVELENGTH", "LENGTH"},
                                                                             {"POSITIVEPLANEANGLE", "PLANEANGLE"},
                                                                             {"MONETARY", "MONETARY"}};
    if (!type.starts_with("IFC") || !type.ends_with("MEASURE"))
        return {};
    std::string_view word = type.substr(3, type.size() - 10);
    for (const auto& [odd, plain] : kOdd)
        if (word == odd)
            word = plain;
    return std::string(word) + "UNIT";
}

/// The SI unit of a kind that the file assigns none to; empty for kinds without one.
std::string_view siSymbol(std::string_view kind)
{
    static constexpr std::pair<std::string_view, std::string_view> kSymbols[] = {
        {"LENGTHUNIT", "m"},
        {"AREAUNIT", "m²"},
        {"VOLUMEUNIT", "m³"},
        {"MASSUNIT", "kg"},
        {"TIMEUNIT", "s"},
        {"ELECTRICCURRENTUNIT", "A"},
        {"THERMODYNAMICTEMPERATUREUNIT", "K"},
        {"LUMINOUSINTENSITYUNIT", "cd"},
        {"FREQUENCYUNIT", "Hz"},
        {"FORCEUNIT", "N"},
        {"PRESSUREUNIT", "Pa"},
        {"ENERGYUNIT", "J"},
        {"POWERUNIT", "W"},
        {"ELECTRICVOLTAGEUNIT", "V"},
        {"ELECTRICRESISTANCEUNIT", "Ω"},
        {"LUMINOUSFLUXUNIT", "lm"},
        {"ILLUMINANCEUNIT", "lx"},
        {"VOLUMETRICFLOWRATEUNIT", "m³/s"},
        {"MASSFLOWRATEUNIT", "kg/s"},
        {"THERMALTRANSMITTANCEUNIT", "W/(m²·K)"},
        {"THERMALCONDUCTIVITYUNIT", "W/(m·K)"},
        {"THERMALRESISTANCEUNIT", "m²·K/W"},
        {"LINEARVELOCITYUNIT", "m/s"},
        {"ACCELERATIONUNIT", "m/s²"},
        {"MASSDENSITYUNIT", "kg/m³"},
        {"MASSPERLENGTHUNIT", "kg/m"},
        {"AREADENSITYUNIT", "kg/m²"},
        {"HEATFLUXDENSITYUNIT", "W/m²"},
        {"MODULUSOFELASTICITYUNIT", "Pa"},
        {"LINEARFORCEUNIT", "N/m"},
        {"PLANARFORCEUNIT", "N/m²"},
        {"TORQUEUNIT", "N·m"},
        {"LINEARMOMENTUNIT", "N·m/m"},
        {"MOMENTOFINERTIAUNIT", "m⁴"},
        {"SECTIONMODULUSUNIT", "m³"},
        {"SPECIFICHEATCAPACITYUNIT", "J/(kg·K)"},
        {"ROTATIONALFREQUENCYUNIT", "Hz"},
        {"SOUNDPOWERLEVELUNIT", "dB"},
        {"SOUNDPRESSURELEVELUNIT", "dB"}};
    for (const auto& [word, symbol] : kSymbols)
        if (word == kind)
            return symbol;
    return {};
}

} // namespace

std::optional<Unit> readUnit(const Source& source, const Entity& unit)
{
    auto found = read(source, unit, 0);
    if (!found || !isUsable(*found))
        return {};
    if (found->symbol == "rad") { // as people read angles
        found->factor *= 180 / std::numbers::pi;
        found->symbol = "°";
    }
    return found;
}

Units readUnits(const Source& source, const Entity& project, std::vector<Diagnostic>& diagnostics)
{
    Units units;
    const Entity assignment = source.entity(project["UnitsInContext"]);
    for (const Value reference : assignment["Units"]) {
        const Entity e = source.entity(reference);
        std::string kind(e["UnitType"].enumeration());
        if (e.isA("IfcMonetaryUnit"))
            kind = "MONETARYUNIT";
        const auto unit = read(source, e, 0);
        if (!unit || !isUsable(*unit)) {
            diagnostics.push_back({Severity::Error, "ifc.unit", entityName(reference.reference()),
                                   "The unit is missing, not well formed or not a positive number of another; SI is "
                                   "used instead. Check the size of the model with the sender."});
            continue;
        }
        if (!units.byKind.try_emplace(kind, *unit).second)
            continue;
        if (kind == "LENGTHUNIT") {
            units.lengthToMetres = unit->factor;
            units.lengthName = nameOf(e);
        } else if (kind == "AREAUNIT") {
            units.areaToSquareMetres = unit->factor;
        } else if (kind == "VOLUMEUNIT") {
            units.volumeToCubicMetres = unit->factor;
        } else if (kind == "PLANEANGLEUNIT") {
            units.angleToRadians = unit->factor;
        }
    }
    if (!units.byKind.contains("LENGTHUNIT"))
        diagnostics.push_back({Severity::Warning, "ifc.no-length-unit", project ? entityName(project.id()) : "",
                               "The file names no length unit that can be used; metres are assumed. Check the size of "
                               "the model."});
    return units;
}

Unit unitOfMeasure(std::string_view type, const Units& units)
{
    const std::string kind = kindOfMeasure(type);
    if (kind.empty())
        return {};
    if (kind == "PLANEANGLEUNIT")
        return {units.angleToRadians * 180 / std::numbers::pi, 0, "°"};
    if (const auto found = units.byKind.find(kind); found != units.byKind.end())
        return found->second;
    return {1, 0, std::string(siSymbol(kind))};
}

} // namespace wendrix::ifc
