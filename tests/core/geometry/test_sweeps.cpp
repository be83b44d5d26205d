#include "core/geometry/path_sweep.h"
#include "core/geometry/spline.h"
#include "core/geometry/sweep.h"
#include "support/shape_cases.h"

#include <cmath>
#include <numbers>
#include <random>

using namespace wendrix;
using namespace wendrix::test;

/// Extrusions, turned areas, sweeps along paths and bodies between sections.
class TestSweeps : public QObject {
    Q_OBJECT
private slots:
    void extruded_data() { addRows(kExtruded); }
    void extruded() { checkRow(kExtruded); }
    void revolved_data() { addRows(kRevolved); }
    void revolved() { checkRow(kRevolved); }
    void alongPaths_data() { addRows(kAlongPaths); }
    void alongPaths() { checkRow(kAlongPaths); }
    void turnsInDegreesToo();
    void leavesNoFacesOnTheAxis();
    void standsSquareToItsCurve_data();
    void standsSquareToItsCurve();
    void endsSquareToASpline();
    void bendsKeepTheirVolume_data();
    void bendsKeepTheirVolume();

private:
    static const std::vector<ShapeCase> kExtruded, kRevolved, kAlongPaths;
};

namespace {

constexpr double kPi = std::numbers::pi;
const std::string kRectangle = "#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{2},{3});";
const std::string kUp = "#22=IFCDIRECTION((0.,0.,1.));";

/// A rectangle 1 x 2 whose middle is 3 from the axis, which runs upwards through (-3, 0).
const std::string kTurned = "#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{1},{2});#23=IFCAXIS1PLACEMENT(#24,#25);"
                            "#24=IFCCARTESIANPOINT(({-3},{0},{0}));#25=IFCDIRECTION((0.,1.,0.));";
const std::string kYAxis = "#23=IFCAXIS1PLACEMENT(#9,#25);#25=IFCDIRECTION((0.,1.,0.));";

std::string disk(const std::string& radii, const std::string& directrix)
{
    return "#20=IFCSWEPTDISKSOLID(#40," + radii + ");" + directrix;
}
/// A quarter circle of radius 2 about the origin in the plane of X and Y.
const std::string kQuarter =
    "#40=IFCTRIMMEDCURVE(#41,(IFCPARAMETERVALUE(0.)),(IFCPARAMETERVALUE(1.5707963267949)),.T.,.PARAMETER.);"
    "#41=IFCCIRCLE(#8,{2});";
const std::string kCorner = "#40=IFCPOLYLINE((#60,#61,#62));" + points(60, {{0, 0, 0}, {3, 0, 0}, {3, 4, 0}});
const std::string kSmall = "#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{0.2},{0.1});";

} // namespace

const std::vector<ShapeCase> TestSweeps::kExtruded = {
    {"askew keeps base and height",
     "#22=IFCDIRECTION((0.6,0.,0.8));#20=IFCEXTRUDEDAREASOLID(#21,#8,#22,{5});" + kRectangle,
     24,
     kExact,
     "IFC2X3",
     {},
     box({-1, -1.5, 0}, {4, 1.5, 4})},
    {"downwards",
     "#22=IFCDIRECTION((0.,0.,-1.));#20=IFCEXTRUDEDAREASOLID(#21,#8,#22,{5});" + kRectangle,
     30,
     kExact,
     "IFC2X3",
     {},
     box({-1, -1.5, -5}, {1, 1.5, 0})},
    {"a direction that is not of length one",
     "#22=IFCDIRECTION((0.,0.,12.));#20=IFCEXTRUDEDAREASOLID(#21,#8,#22,{5});" + kRectangle,
     30,
     kExact,
     "IFC2X3",
     {},
     box({-1, -1.5, 0}, {1, 1.5, 5})},
    {"placed and turned in space",
     kUp +
         "#20=IFCEXTRUDEDAREASOLID(#21,#30,#22,{5});#30=IFCAXIS2PLACEMENT3D(#31,#32,#33);#31=IFCCARTESIANPOINT(({10},{"
         "20},{30}));"
         "#32=IFCDIRECTION((1.,0.,0.));#33=IFCDIRECTION((0.,1.,0.));" +
         kRectangle,
     30,
     kExact,
     "IFC2X3",
     {},
     box({10, 19, 28.5}, {15, 21, 31.5})},
    {"placed with axes that are not square", // x is made square to z
     kUp +
         "#20=IFCEXTRUDEDAREASOLID(#21,#30,#22,{5});#30=IFCAXIS2PLACEMENT3D(#9,#22,#33);#33=IFCDIRECTION((1.,0.,1.));" +
         kRectangle,
     30,
     kExact,
     "IFC2X3",
     {},
     box({-1, -1.5, 0}, {1, 1.5, 5})},
    {"without a position", kUp + "#20=IFCEXTRUDEDAREASOLID(#21,$,#22,{5});" + kRectangle, 30, kExact, "IFC4"},
    {"tapered frustum",
     kUp + "#20=IFCEXTRUDEDAREASOLIDTAPERED(#21,#8,#22,{6},#23);#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{4},{4});"
           "#23=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{2},{2});",
     6.0 / 3 * (16 + 4 + 8),
     kExact,
     "IFC4",
     {},
     box({-2, -2, 0}, {2, 2, 6})},
    {"tapered and askew",
     "#22=IFCDIRECTION((0.6,0.,0.8));#20=IFCEXTRUDEDAREASOLIDTAPERED(#21,#8,#22,{5},#23);#21=IFCRECTANGLEPROFILEDEF(."
     "AREA.,$,$,{4},{4});"
     "#23=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{2},{2});",
     4.0 / 3 * (16 + 4 + 8),
     kExact,
     "IFC4",
     {},
     box({-2, -2, 0}, {4, 2, 4})},
    {"tapered pipe with other segments at its end",
     kUp + "#20=IFCEXTRUDEDAREASOLIDTAPERED(#21,#8,#22,{2},#23);#21=IFCCIRCLEPROFILEDEF(.AREA.,$,$,{0.5});"
           "#23=IFCCIRCLEPROFILEDEF(.AREA.,$,$,{0.1});",
     kPi * 2 / 3 * (0.25 + 0.01 + 0.05), kRound, "IFC4"},
    {"tapered box with a hollow",
     kUp + "#20=IFCEXTRUDEDAREASOLIDTAPERED(#21,#8,#22,{3},#23);#21=IFCRECTANGLEHOLLOWPROFILEDEF(.AREA.,$,$,{4},{4},{1}"
           ",$,$);"
           "#23=IFCRECTANGLEHOLLOWPROFILEDEF(.AREA.,$,$,{2},{2},{0.5},$,$);",
     28 - 7, kExact, "IFC4"},
    {"mapped, mirrored and doubled",
     kUp + "#50=IFCEXTRUDEDAREASOLID(#21,#8,#22,{5});" + kRectangle +
         "#20=IFCMAPPEDITEM(#80,#81);#80=IFCREPRESENTATIONMAP(#8,#82);#82=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid'"
         ",(#50));"
         "#81=IFCCARTESIANTRANSFORMATIONOPERATOR3D(#83,#84,#9,2.,$);#83=IFCDIRECTION((1.,0.,0.));#84=IFCDIRECTION((0.,-"
         "1.,0.));",
     240},
    {"mapped with three scales",
     kUp + "#50=IFCEXTRUDEDAREASOLID(#21,#8,#22,{5});" + kRectangle +
         "#20=IFCMAPPEDITEM(#80,#81);#80=IFCREPRESENTATIONMAP(#8,#82);#82=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid'"
         ",(#50));"
         "#81=IFCCARTESIANTRANSFORMATIONOPERATOR3DNONUNIFORM($,$,#9,2.,$,3.,0.5);",
     90,
     kExact,
     "IFC2X3",
     {},
     box({-2, -4.5, 0}, {2, 4.5, 2.5})},
    {"mapped from an origin of its own",
     kUp + "#50=IFCEXTRUDEDAREASOLID(#21,#8,#22,{5});" + kRectangle +
         "#20=IFCMAPPEDITEM(#80,#81);#80=IFCREPRESENTATIONMAP(#85,#82);#82=IFCSHAPEREPRESENTATION(#3,'Body','"
         "SweptSolid',(#50));"
         "#85=IFCAXIS2PLACEMENT3D(#86,$,$);#86=IFCCARTESIANPOINT(({1},{0},{0}));"
         "#81=IFCCARTESIANTRANSFORMATIONOPERATOR3D($,$,#9,1.,$);",
     30,
     kExact,
     "IFC2X3",
     {},
     box({-2, -1.5, 0}, {0, 1.5, 5})},
    {"a map within a map",
     kUp + "#50=IFCEXTRUDEDAREASOLID(#21,#8,#22,{5});" + kRectangle +
         "#20=IFCMAPPEDITEM(#80,#81);#80=IFCREPRESENTATIONMAP(#8,#82);#82=IFCSHAPEREPRESENTATION(#3,'Body','"
         "MappedRepresentation',(#70));"
         "#70=IFCMAPPEDITEM(#71,#81);#71=IFCREPRESENTATIONMAP(#8,#72);#72=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid'"
         ",(#50));"
         "#81=IFCCARTESIANTRANSFORMATIONOPERATOR3D($,$,#9,2.,$);",
     30 * 64},
};

// Pappus: the volume of a turned area is its area times the way of its centroid.
const std::vector<ShapeCase> TestSweeps::kRevolved = {
    {"quarter turn", "#20=IFCREVOLVEDAREASOLID(#21,#8,#23,1.5707963267949);" + kTurned, 2 * 3 * kPi / 2, kRound},
    {"turn the other way", "#20=IFCREVOLVEDAREASOLID(#21,#8,#23,-1.5707963267949);" + kTurned, 2 * 3 * kPi / 2, kRound},
    {"three quarters", "#20=IFCREVOLVEDAREASOLID(#21,#8,#23,4.71238898038469);" + kTurned, 2 * 3 * 3 * kPi / 2, kRound},
    {"full turn",
     "#20=IFCREVOLVEDAREASOLID(#21,#8,#23,6.28318530717959);" + kTurned,
     2 * 3 * 2 * kPi,
     kRound,
     "IFC2X3",
     {},
     box({-6.5, -1, -3.5}, {0.5, 1, 3.5})},
    {"more than a full turn is one", "#20=IFCREVOLVEDAREASOLID(#21,#8,#23,8.);" + kTurned, 2 * 3 * 2 * kPi, kRound},
    {"a rectangle on its axis is a cylinder",
     "#20=IFCREVOLVEDAREASOLID(#21,#8,#23,6.28318530717959);#21=IFCARBITRARYCLOSEDPROFILEDEF(.AREA.,$,#50);#50="
     "IFCPOLYLINE((#60,#61,#62,#63,#60));" +
         kYAxis + points(60, {{0, 0, 0}, {1, 0, 0}, {1, 2, 0}, {0, 2, 0}}, true),
     2 * kPi, kRound},
    {"a triangle on its axis is a cone",
     "#20=IFCREVOLVEDAREASOLID(#21,#8,#23,6.28318530717959);#21=IFCARBITRARYCLOSEDPROFILEDEF(.AREA.,$,#50);#50="
     "IFCPOLYLINE((#60,#61,#62,#60));" +
         kYAxis + points(60, {{0, 0, 0}, {1, 0, 0}, {0, 3, 0}}, true),
     kPi, kRound},
    {"half a turn of the triangle",
     "#20=IFCREVOLVEDAREASOLID(#21,#8,#23,3.14159265358979);#21=IFCARBITRARYCLOSEDPROFILEDEF(.AREA.,$,#50);#50="
     "IFCPOLYLINE((#60,#61,#62,#60));" +
         kYAxis + points(60, {{0, 0, 0}, {1, 0, 0}, {0, 3, 0}}, true),
     kPi / 2, kRound},
    {"a pipe bend",
     "#20=IFCREVOLVEDAREASOLID(#21,#8,#23,1.5707963267949);#21=IFCCIRCLEHOLLOWPROFILEDEF(.AREA.,$,$,{0.1},{0.01});"
     "#23=IFCAXIS1PLACEMENT(#24,#25);#24=IFCCARTESIANPOINT(({-0.5},{0},{0}));#25=IFCDIRECTION((0.,1.,0.));",
     kPi*(0.01 - 0.0081) * 0.5 * kPi / 2, kRound},
    {"tapered turn",
     "#20=IFCREVOLVEDAREASOLIDTAPERED(#21,#8,#23,1.5707963267949,#26);#26=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{1},{1});" +
         kTurned,
     3 * 1.5 * kPi / 2, kRound, "IFC4"},
};

const std::vector<ShapeCase> TestSweeps::kAlongPaths = {
    {"straight rod", disk("{0.1},$,$,$", "#40=IFCPOLYLINE((#60,#61));" + points(60, {{0, 0, 0}, {0, 4, 3}})),
     kPi * 0.01 * 5, kRound},
    {"straight tube", disk("{0.1},{0.08},$,$", "#40=IFCPOLYLINE((#60,#61));" + points(60, {{0, 0, 0}, {0, 4, 3}})),
     kPi*(0.01 - 0.0064) * 5, kRound},
    {"mitred around a corner", disk("{0.1},$,$,$", kCorner), kPi * 0.01 * 7, kRound},
    {"quarter circle", disk("{0.1},$,$,$", kQuarter), kPi * 0.01 * kPi, kRound},
    {"only its first piece", disk("{0.1},$,0.,1.", kCorner), kPi * 0.01 * 3, kRound},
    {"from the middle of a piece on", disk("{0.1},$,0.5,2.", kCorner), kPi * 0.01 * 5.5, kRound},
    {"part of a circle by angle", disk("{0.1},$,0.,3.14159265358979", "#40=IFCCIRCLE(#8,{2});"), kPi * 0.01 * 2 * kPi,
     kRound},
    {"a ring",
     disk("{0.1},$,$,$", "#40=IFCCIRCLE(#8,{2});"),
     2 * kPi* kPi * 2 * 0.01,
     kRound,
     "IFC2X3",
     {},
     box({-2.1, -2.1, -0.1}, {2.1, 2.1, 0.1})},
    {"bar with bends of a radius", "#20=IFCSWEPTDISKSOLIDPOLYGONAL(#40,{0.01},$,$,$,{0.1});" + kCorner,
     kPi * 1e-4 * (7 - 0.2 + 0.1 * kPi / 2), kRound, "IFC4"},
    {"bar out of the plane",
     "#20=IFCSWEPTDISKSOLIDPOLYGONAL(#40,{0.01},$,$,$,$);#40=IFCPOLYLINE((#60,#61,#62,#63));" +
         points(60, {{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {1, 1, 1}}),
     kPi * 1e-4 * 3, kRound, "IFC4"},
    {"trimmed and joined pieces",
     disk("{0.1},$,$,$", "#40=IFCCOMPOSITECURVE((#42,#43),.F.);#42=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#44);"
                         "#43=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#45);#44=IFCPOLYLINE((#60,#61));"
                         "#45=IFCTRIMMEDCURVE(#41,(IFCPARAMETERVALUE(0.)),(IFCPARAMETERVALUE(1.5707963267949)),.T.,."
                         "PARAMETER.);#41=IFCCIRCLE(#8,{2});" +
                             points(60, {{2, -3, 0}, {2, 0, 0}})),
     kPi * 0.01 * (3 + kPi), kRound},
    {"along a B-spline that is a line",
     disk("{0.1},$,$,$",
          "#40=IFCBSPLINECURVEWITHKNOTS(2,(#60,#61,#62),.UNSPECIFIED.,.F.,.F.,(3,3),(0.,1.),.UNSPECIFIED.);" +
              points(60, {{0, 0, 0}, {0, 1, 0}, {0, 4, 0}})),
     kPi * 0.01 * 4, kRound, "IFC4"},
    {"along a curve moved in space",
     disk("{0.1},$,$,$",
          "#40=IFCOFFSETCURVE3D(#41,{0.5},.F.,#42);#41=IFCPOLYLINE((#60,#61));#42=IFCDIRECTION((0.,0.,1.));" +
              points(60, {{0, 0, 0}, {4, 0, 0}})),
     kPi * 0.01 * 4,
     kRound,
     "IFC2X3",
     {},
     box({0, 0.4, -0.1}, {4, 0.6, 0.1})},
    {"fixed reference along a line",
     "#20=IFCFIXEDREFERENCESWEPTAREASOLID(#21,$,#40,$,$,#42);#40=IFCPOLYLINE((#60,#61));#42=IFCDIRECTION((0.,0.,1.));" +
         kSmall + points(60, {{0, 0, 0}, {5, 0, 0}}),
     0.1,
     kExact,
     "IFC4",
     {},
     box({0, -0.05, -0.1}, {5, 0.05, 0.1})},
    {"fixed reference around a quarter", // both ends stand square to the circle, in the planes y = 0 and x = 0
     "#20=IFCFIXEDREFERENCESWEPTAREASOLID(#21,$,#40,$,$,#42);#42=IFCDIRECTION((0.,0.,1.));" + kSmall + kQuarter,
     0.02 * kPi,
     kRound,
     "IFC4",
     {},
     box({0, 0, -0.1}, {2.05, 2.05, 0.1})},
    {"along a plane",
     "#20=IFCSURFACECURVESWEPTAREASOLID(#21,#8,#40,0.,1.,#43);#43=IFCPLANE(#8);#40=IFCPOLYLINE((#60,#61));" + kSmall +
         points(60, {{0, 0, 0}, {5, 0, 0}}),
     0.1,
     kExact,
     "IFC2X3",
     {},
     box({0, -0.05, -0.1}, {5, 0.05, 0.1})},
    {"around a cylinder",
     "#20=IFCSURFACECURVESWEPTAREASOLID(#21,#8,#40,$,$,#43);#43=IFCCYLINDRICALSURFACE(#8,{2});" + kSmall + kQuarter,
     0.02 * kPi, kRound, "IFC4"},
    {"around a bent wall",
     "#20=IFCSURFACECURVESWEPTAREASOLID(#21,#8,#40,0.,1.5707963267949,#43);#43=IFCSURFACEOFLINEAREXTRUSION(#44,#8,#22,{"
     "1});"
     "#44=IFCARBITRARYOPENPROFILEDEF(.CURVE.,$,#40);#22=IFCDIRECTION((0.,0.,1.));#40=IFCCIRCLE(#8,{2});" +
         kSmall,
     0.02 * kPi, kRound},
    {"spine of two sections",
     "#20=IFCSECTIONEDSPINE(#40,(#21,#21),(#30,#33));#40=IFCCOMPOSITECURVE((#42),.F.);#42=IFCCOMPOSITECURVESEGMENT(."
     "CONTINUOUS.,.T.,#44);"
     "#44=IFCPOLYLINE((#9,#34));#30=IFCAXIS2PLACEMENT3D(#9,$,$);#33=IFCAXIS2PLACEMENT3D(#34,$,$);#34=IFCCARTESIANPOINT("
     "({0},{0},{5}));" +
         kRectangle,
     30},
    {"spine that narrows and widens",
     "#20=IFCSECTIONEDSPINE(#40,(#21,#23,#21),(#8,#33,#35));#40=IFCCOMPOSITECURVE((#42),.F.);#42="
     "IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#44);"
     "#44=IFCPOLYLINE((#9,#36));#33=IFCAXIS2PLACEMENT3D(#34,$,$);#34=IFCCARTESIANPOINT(({0},{0},{3}));#35="
     "IFCAXIS2PLACEMENT3D(#36,$,$);"
     "#36=IFCCARTESIANPOINT(({0},{0},{6}));#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{4},{4});#23=IFCRECTANGLEPROFILEDEF(."
     "AREA.,$,$,{2},{2});",
     56},
    {"spine around a quarter", // a rectangle of 2 x 3 whose middle is on the way
     "#20=IFCSECTIONEDSPINE(#40,(#21,#21),(#30,#31));#40=IFCCOMPOSITECURVE((#42),.F.);#42=IFCCOMPOSITECURVESEGMENT(."
     "CONTINUOUS.,.T.,#44);"
     "#44=IFCTRIMMEDCURVE(#41,(IFCPARAMETERVALUE(0.)),(IFCPARAMETERVALUE(1.5707963267949)),.T.,.PARAMETER.);#41="
     "IFCCIRCLE(#8,{5});"
     "#30=IFCAXIS2PLACEMENT3D(#60,#50,#51);#31=IFCAXIS2PLACEMENT3D(#61,#52,#50);#50=IFCDIRECTION((0.,1.,0.));#51="
     "IFCDIRECTION((1.,0.,0.));#52=IFCDIRECTION((-1.,0.,0.));" +
         kRectangle + points(60, {{5, 0, 0}, {0, 5, 0}}),
     6 * 5 * kPi / 2,
     kRound,
     "IFC2X3",
     {},
     box({0, 0, -1.5}, {6, 6, 1.5})},
    {"spine with a corner between its sections",
     "#20=IFCSECTIONEDSPINE(#40,(#21,#21),(#30,#31));#40=IFCCOMPOSITECURVE((#42),.F.);#42=IFCCOMPOSITECURVESEGMENT(."
     "CONTINUOUS.,.T.,#44);"
     "#44=IFCPOLYLINE((#60,#62,#61));#30=IFCAXIS2PLACEMENT3D(#60,#50,#51);#31=IFCAXIS2PLACEMENT3D(#61,#52,#50);#50="
     "IFCDIRECTION((0.,1.,0.));#51=IFCDIRECTION((1.,0.,0.));"
     "#52=IFCDIRECTION((-1.,0.,0.));" +
         kRectangle + points(60, {{5, 0, 0}, {0, 5, 0}, {5, 5, 0}}),
     60,
     1e-6,
     "IFC2X3",
     {},
     box({0, 0, -1.5}, {6, 6, 1.5})},
    {"sections that widen around a quarter",
     "#20=IFCSECTIONEDSOLIDHORIZONTAL(#40,(#21,#23),(#30,#31));#40=IFCTRIMMEDCURVE(#41,(IFCPARAMETERVALUE(0.)),("
     "IFCPARAMETERVALUE(1.5707963267949)),.T.,.PARAMETER.);"
     "#41=IFCCIRCLE(#8,{5});#30=IFCAXIS2PLACEMENTLINEAR(#32,$,$);#31=IFCAXIS2PLACEMENTLINEAR(#33,$,$);#32="
     "IFCPOINTBYDISTANCEEXPRESSION(IFCLENGTHMEASURE({0}),$,$,$,#40);"
     "#33=IFCPOINTBYDISTANCEEXPRESSION(IFCLENGTHMEASURE({7.85}),$,$,$,#40);#23=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{4},{"
     "3});" +
         kRectangle,
     9 * 7.85, kRound, "IFC4X3"},
    {"sections along a line",
     "#20=IFCSECTIONEDSOLIDHORIZONTAL(#40,(#21,#21),(#30,#31));#40=IFCPOLYLINE((#60,#61));#30=IFCAXIS2PLACEMENTLINEAR(#"
     "32,$,$);"
     "#31=IFCAXIS2PLACEMENTLINEAR(#33,$,$);#32=IFCPOINTBYDISTANCEEXPRESSION(IFCLENGTHMEASURE({1}),$,$,$,#40);"
     "#33=IFCPOINTBYDISTANCEEXPRESSION(IFCLENGTHMEASURE({4}),{0.5},$,$,#40);" +
         kRectangle + points(60, {{0, 0, 0}, {5, 0, 0}}),
     18,
     kExact,
     "IFC4X3",
     {},
     box({1, -1, -1.5}, {4, 1.5, 1.5})},
};

void TestSweeps::turnsInDegreesToo()
{
    // The file's angles in degrees: 90 is the quarter turn.
    std::string text =
        ifcFile("IFC4", inUnits("#20=IFCREVOLVEDAREASOLID(#21,#8,#23,90.);" + kTurned, 1) + proxyOver("#20"));
    const std::string radian = "#7=IFCSIUNIT(*,.PLANEANGLEUNIT.,$,.RADIAN.);";
    text.replace(text.find(radian), radian.size(),
                 "#7=IFCCONVERSIONBASEDUNIT($,.PLANEANGLEUNIT.,'DEGREE',#700);#700=IFCMEASUREWITHUNIT("
                 "IFCPLANEANGLEMEASURE(0.0174532925199433),#701);"
                 "#701=IFCSIUNIT(*,.PLANEANGLEUNIT.,$,.RADIAN.);");
    const auto read = readText(text);
    const double volume = read->geometry->elements()[0].volume;
    QVERIFY2(std::abs(volume - 3 * kPi) < kRound * 3 * kPi, std::to_string(volume).c_str());
}

void TestSweeps::leavesNoFacesOnTheAxis()
{
    // A square with a side on the axis, turned once around: a cylinder, whose only edges are its two rims.
    const geometry::Area square{{{0, 0}, {1, 0}, {1, 1}, {0, 1}}, {}};
    const auto mesh = geometry::revolved(square, {0, 0, 0}, {0, 1, 0}, Radians{2 * kPi});
    QVERIFY(mesh.has_value());
    for (std::size_t t = 0; t < mesh->triangles.size(); ++t) {
        const auto c = mesh->corners(t);
        QVERIFY(length(cross(c[1] - c[0], c[2] - c[0])) > 1e-6);
    }
    for (const auto& edge : geometry::featureEdges(*mesh, fromDegrees(30)))
        for (const std::uint32_t i : edge)
            QVERIFY(std::abs(std::hypot(mesh->points[i].x, mesh->points[i].z) - 1) < 1e-9);
}

void TestSweeps::standsSquareToItsCurve_data()
{
    QTest::addColumn<double>("turn"); // of the arc between two straight pieces
    QTest::addColumn<double>("radius");
    for (const double turn : {0.1, 0.7, kPi / 2, 2.5, kPi})
        for (const double radius : {0.2, 0.5, 3.0})
            QTest::addRow("%g rad of %g m", turn, radius) << turn << radius;
}

void TestSweeps::standsSquareToItsCurve()
{
    // A tube of radius 0.1 along a line, an arc tangent to it, and a line again, anywhere in space: every point of it
    // lies on the true tube, so also at the joints and at both ends.
    QFETCH(double, turn);
    QFETCH(double, radius);
    const double tube = 0.1, straight = 1.5;
    std::mt19937 random(3);
    std::uniform_real_distribution<double> any(-1, 1);
    for (int i = 0; i < 10; ++i) {
        const Vector3 x = normalised({any(random), any(random), any(random)}),
                      z = normalised(cross(x, {any(random), any(random), 1.5})), y = cross(z, x);
        const Point3 start{20 * any(random), 20 * any(random), 20 * any(random)},
            centre = start + straight * x + radius * y;
        geometry::Path path;
        path.add(start);
        const int steps = 4 + static_cast<int>(8 * turn);
        for (int k = 0; k <= steps; ++k) {
            const double a = turn * k / steps;
            const Vector3 along = std::cos(a) * x + std::sin(a) * y;
            path.add(centre + radius * (std::sin(a) * x - std::cos(a) * y), along, along);
        }
        const Vector3 last = std::cos(turn) * x + std::sin(turn) * y;
        const Point3 bend = path.points.back(), end = bend + straight * last;
        path.add(end);
        const auto mesh = geometry::sweptDisk(path, tube, 0);
        QVERIFY(mesh.has_value());
        std::size_t atStart = 0, atEnd = 0;
        for (const Point3 p : mesh->points) {
            const double before = dot(p - start, x), after = dot(p - bend, last);
            const Vector3 flat = p - centre - dot(p - centre, z) * z;
            const double a = std::atan2(dot(flat, x), -dot(flat, y)); // on the arc, from its start
            const double onFirst = std::abs(length(p - start - before * x) - tube),
                         onLast = std::abs(length(p - bend - after * last) - tube);
            const double onArc = std::abs(length(p - (centre + radius * normalised(flat))) - tube);
            QVERIFY((before <= straight + 1e-9 && before >= -1e-9 && onFirst < 1e-9) ||
                    (after >= -1e-9 && after <= straight + 1e-9 && onLast < 1e-9) ||
                    (onArc < 1e-9 && (a > -1e-9 || turn > 3) && a < turn + 1e-9));
            atStart += onFirst < 1e-9 && std::abs(before) < 1e-9 ? 1 : 0;
            atEnd += onLast < 1e-9 && std::abs(after - straight) < 1e-9 ? 1 : 0;
        }
        QVERIFY(atStart >= 24 && atStart == atEnd);
    }
}

void TestSweeps::endsSquareToASpline()
{
    // Bezier's cubic leaves its first pole towards the second and comes to the last from the third; with and without
    // weights.
    for (const std::vector<double>& weights : {std::vector<double>{}, {1, 3, 0.5, 1}}) {
        const geometry::Spline spline{
            3, {{0, 0, 0}, {1, 2, 0.5}, {3, 2, 1}, {4, 0, 3}}, weights, {0, 0, 0, 0, 1, 1, 1, 1}};
        const auto path = geometry::sampled(spline, 0, 1, {});
        const Vector3 first = normalised({1, 2, 0.5}), last = normalised({1, -2, 2});
        QVERIFY(length(path.out.front() - first) < 1e-12 && length(path.in.back() - last) < 1e-12);
        // In between it is the way to what lies a little further on.
        for (std::size_t i = 1; i + 1 < path.points.size(); ++i) {
            const double t = path.parameters[i];
            QVERIFY(length(path.out[i] - normalised(spline.at(t + 1e-6) - spline.at(t - 1e-6))) < 1e-8);
            QVERIFY(length(path.in[i] - path.out[i]) < 1e-9);
        }
        const auto back = geometry::sampled(spline, 1, 0, {});
        QVERIFY(length(back.out.front() + last) < 1e-12 && length(back.in.back() + first) < 1e-12);
        const auto mesh = geometry::sweptDisk(path, 0.05, 0);
        QVERIFY(mesh.has_value());
        std::size_t atStart = 0, atEnd = 0;
        for (const Point3 p : mesh->points) {
            atStart += std::abs(dot(p, first)) < 1e-9 && std::abs(length(p) - 0.05) < 1e-9 ? 1 : 0;
            atEnd += std::abs(dot(p - spline.at(1), last)) < 1e-9 && std::abs(length(p - spline.at(1)) - 0.05) < 1e-9
                         ? 1
                         : 0;
        }
        QVERIFY(atStart >= 24 && atStart == atEnd);
    }
}

void TestSweeps::bendsKeepTheirVolume_data()
{
    QTest::addColumn<double>("pipe");
    QTest::addColumn<double>("bend"); // radius of its middle line, over the pipe's
    QTest::addColumn<double>("turn");
    for (const double pipe : {0.008, 0.05, 0.1, 0.4})
        for (const double bend : {1.0, 1.5, 3.0, 10.0})
            for (const double turn : {kPi / 6, kPi / 2, kPi})
                QTest::addRow("%g m, %g radii, %g rad", pipe, bend, turn) << pipe << bend << turn;
}

void TestSweeps::bendsKeepTheirVolume()
{
    // Turned about an axis or carried along an arc, the volume is that of Pappus within the limit for straight ones.
    QFETCH(double, pipe);
    QFETCH(double, bend);
    QFETCH(double, turn);
    const double middle = pipe * bend * 1.0001; // not quite on its axis
    const auto number = [](double value) { return QString::number(value, 'g', 15).toStdString(); };
    const auto real = [&](double value) {
        return number(value) + (number(value).find('.') == std::string::npos ? "." : "");
    };
    const std::string turned = "#20=IFCREVOLVEDAREASOLID(#21,#8,#23," + real(turn) +
                               ");#21=IFCCIRCLEPROFILEDEF(.AREA.,$,$,{" + number(pipe) + "});" +
                               "#23=IFCAXIS1PLACEMENT(#24,#25);#24=IFCCARTESIANPOINT(({-" + number(middle) +
                               "},{0},{0}));#25=IFCDIRECTION((0.,1.,0.));";
    const std::string carried =
        disk("{" + number(pipe) + "},$,$,$", "#40=IFCTRIMMEDCURVE(#41,(IFCPARAMETERVALUE(0.)),(IFCPARAMETERVALUE(" +
                                                 real(turn) + ")),.T.,.PARAMETER.);#41=IFCCIRCLE(#8,{" +
                                                 number(middle) + "});");
    const double exact = kPi * pipe * pipe * middle * turn;
    for (const std::string& body : {turned, carried}) {
        const auto read = readText(ifcFile("IFC4", inUnits(body, 1) + proxyOver("#20")));
        const double lost = 1 - read->geometry->elements()[0].volume / exact;
        QVERIFY2(lost > 0 && lost < kRound, qPrintable(QString::number(lost)));
    }
}

QTEST_GUILESS_MAIN(TestSweeps)
#include "test_sweeps.moc"
