#pragma once

#include "core/ifc/source.h"

#include <string>

namespace wendrix::ifc {

/// What a file's numbers mean. Lengths become metres, angles radians, by multiplying.
struct Units {
    std::string lengthName = "metre"; ///< "millimetre", "foot"
    double lengthToMetres = 1;
    double areaToSquareMetres = 1;
    double volumeToCubicMetres = 1;
    double angleToRadians = 1;
};

/// Reads the project's unit assignment: SI with prefixes and conversion-based units.
/// What is absent or not understood stays SI, with a diagnostic.
[[nodiscard]] Units readUnits(const Source& source, const Entity& project, std::vector<Diagnostic>& diagnostics);

/// A measure's unit symbol for display: "m", "m²", "°"; empty for plain numbers and text. Values of the
/// types it names are to be multiplied by `factor` first.
struct MeasureUnit {
    std::string symbol;
    double factor = 1;
};
[[nodiscard]] MeasureUnit unitOfMeasure(std::string_view measureType, const Units& units);

} // namespace wendrix::ifc
