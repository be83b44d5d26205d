#pragma once

#include "core/base/transform.h"

#include <functional>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace wendrix::test {

/// A file of a grid, storeys and a few boxes with everything that says where it is, told in the frame of the building
/// and written in whatever frame, unit and release a team exports from; mirrored and swapped ones too.
struct MadeSite {
    using Axes = std::vector<std::pair<std::string, double>>;
    std::string name = "Made";
    std::string schema = "IFC4";                              ///< or IFC2X3, whose map conversion is in property sets
    Axes letters{{"A", 0}, {"B", 6}, {"C", 13.2}, {"D", 18}}; ///< across x, metres
    Axes digits{{"1", 0}, {"2", 5}, {"3", 11.4}, {"4", 16}, {"5", 24.5}}; ///< across y
    Axes storeys{{"Level 0", 0}, {"Level 1", 3.6}, {"Level 2", 7.9}};
    /// From the building's frame to the file's, metres.
    std::function<Point3(Point3)> place = [](Point3 p) { return p; };
    double metresPerUnit = 1; ///< what the file's numbers are divided by
    /// What the file says its unit is; "FOOT" for the conversion-based one.
    std::string unit = "IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.)";

    struct Conversion {
        std::string crs = "EPSG:25832";
        double eastings = 0, northings = 0, height = 0; ///< metres
        double degrees = 0;                             ///< of +X from grid east, counter-clockwise
        /// What the map's unit is said to be: "METRE", "FOOT", "US SURVEY FOOT"; empty: nothing is said, and the
        /// conversion's numbers are in the file's own unit.
        std::string mapUnit = "METRE";
    };
    std::optional<Conversion> conversion;
    std::optional<std::pair<double, double>> latitudeLongitude; ///< degrees
    std::optional<double> trueNorthDegrees;                     ///< from +Y, counter-clockwise

    [[nodiscard]] std::string text() const;
};

/// The turn about +Z, then the shift: what a team's own frame does to the building.
[[nodiscard]] std::function<Point3(Point3)> turnedAndShifted(double degrees, Vector3 shift);

} // namespace wendrix::test
