#pragma once

#include "core/ifc/source.h"

#include <map>
#include <string>

namespace wendrix::ifc {

/// What a number in some unit means in SI: value * factor + offset, in `symbol`.
struct Unit {
    double factor = 1;
    double offset = 0;  ///< of temperatures only
    std::string symbol; ///< of the SI unit: "m", "m³/s", "°C"; empty for plain numbers
    bool operator==(const Unit&) const = default;

    [[nodiscard]] double toSi(double value) const { return value * factor + offset; }
};

/// What a file's numbers mean. Lengths become metres, angles radians, by multiplying.
struct Units {
    std::string lengthName = "metre"; ///< "millimetre", "foot"
    double lengthToMetres = 1;
    double areaToSquareMetres = 1;
    double volumeToCubicMetres = 1;
    double angleToRadians = 1;
    std::map<std::string, Unit, std::less<>> byKind; ///< all assigned ones, by UnitType: "POWERUNIT"
};

/// Reads the project's unit assignment: SI with prefixes, conversion-based (with offset), derived,
/// context-dependent and monetary units. What is absent or not understood stays SI, with a diagnostic.
[[nodiscard]] Units readUnits(const Source& source, const Entity& project, std::vector<Diagnostic>& diagnostics);

/// One IfcUnit in itself, as a property may carry it. Nothing where it can not be understood.
[[nodiscard]] std::optional<Unit> readUnit(const Source& source, const Entity& unit);

/// The unit that a value of this measure type has in this file: "IFCPOWERMEASURE" in kW gives 1000 and "W".
/// Angles come out in degrees, as people read them. Plain numbers and text have no symbol and factor 1.
[[nodiscard]] Unit unitOfMeasure(std::string_view measureType, const Units& units);

} // namespace wendrix::ifc
