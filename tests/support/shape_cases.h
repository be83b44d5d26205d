#pragma once

#include "support/ifc_text.h"

#include <QTest>

#include <optional>
#include <string>
#include <vector>

/// Bodies with answers known from mathematics, each read in every schema that has its entities and in several units.
namespace wendrix::test {

inline constexpr double kExact = 1e-9;  ///< what bodies with flat faces only must meet
inline constexpr double kRound = 0.012; ///< what curves cut into chords must meet

struct ShapeCase {
    const char* name;
    std::string text;  ///< entities over item #20; lengths stand in braces: "{0.2}"
    double volume = 0; ///< m³
    double relative = kExact;
    const char* since = "IFC2X3";        ///< the first schema it is valid in; "IFC2X3 only" for what was dropped
    std::optional<double> area = {};     ///< m²
    std::optional<Box3> bounds = {};     ///< metres
    std::vector<std::string> notes = {}; ///< codes of the diagnostics it must give, and no others
};

/// The numbers in braces times `factor`, as STEP reals.
[[nodiscard]] std::string inUnits(const std::string& text, double factor);
[[nodiscard]] Box3 box(Point3 min, Point3 max);

/// Text of common pieces. #22 is the direction (0,0,1); #8 and #9 are the origin's placement and point.
[[nodiscard]] std::string extrusion(const std::string& profile, const std::string& depth = "{5}");
/// IfcCartesianPoint from `first` on, lengths in braces.
[[nodiscard]] std::string points(int first, const std::vector<Point3>& list, bool isFlat = false);
/// An IfcClosedShell #30 of faces with one outer poly loop each, given as "#60,#61,#62".
[[nodiscard]] std::string faces(int first, const std::vector<std::string>& loops, int shell = 30,
                                const std::string& kind = "IFCCLOSEDSHELL");

/// QTest rows and the check for a table of cases, in metres, millimetres and feet.
void addRows(const std::vector<ShapeCase>& cases);
void checkRow(const std::vector<ShapeCase>& cases);

} // namespace wendrix::test
