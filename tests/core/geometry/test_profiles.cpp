#include "support/shape_cases.h"

#include <cmath>
#include <numbers>

using namespace wendrix;
using namespace wendrix::test;

/// Every profile of the standard and every curve that bounds one, extruded by 5 m.
class TestProfiles : public QObject {
    Q_OBJECT
private slots:
    void parameterised_data() { addRows(kParameterised); }
    void parameterised() { checkRow(kParameterised); }
    void arbitrary_data() { addRows(kArbitrary); }
    void arbitrary() { checkRow(kArbitrary); }
    void finerCutsComeNearer();

private:
    static const std::vector<ShapeCase> kParameterised, kArbitrary;
};

namespace {

constexpr double kPi = std::numbers::pi;

/// What a fillet of radius r takes from (or gives to) a right-angled corner.
double corner(double r) { return (1 - kPi / 4) * r * r; }

/// The area under lines through points: a closed form for outlines with slopes.
double shoelace(std::initializer_list<Point2> ring)
{
    double twice = 0;
    const Point2* p = ring.begin();
    for (std::size_t i = 0; i < ring.size(); ++i)
        twice += cross(p[i], p[(i + 1) % ring.size()]);
    return std::abs(twice) / 2;
}

const double kSlope = std::tan(0.1); // slopes are given as angles

std::string outlined(const std::string& curve)
{
    return extrusion("IFCARBITRARYCLOSEDPROFILEDEF(.AREA.,$,#50)") + curve;
}
const std::string kSquare = points(60, {{0, 0, 0}, {2, 0, 0}, {2, 2, 0}, {0, 2, 0}}, true);
const std::string kFrame2D = "#56=IFCAXIS2PLACEMENT2D(#57,$);#57=IFCCARTESIANPOINT((0.,0.));";

} // namespace

const std::vector<ShapeCase> TestProfiles::kParameterised = {
    {"rectangle", extrusion("IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{2},{3})"), 30, kExact, "IFC2X3", 2 * 6 + 10 * 5.0,
     box({-1, -1.5, 0}, {1, 1.5, 5})},
    {"rectangle moved and turned",
     extrusion("IFCRECTANGLEPROFILEDEF(.AREA.,$,#40,{2},{3})") +
         "#40=IFCAXIS2PLACEMENT2D(#41,#42);#41=IFCCARTESIANPOINT(({7},{-3}));#42=IFCDIRECTION((0.,1.));",
     30,
     kExact,
     "IFC2X3",
     {},
     box({5.5, -4, 0}, {8.5, -2, 5})},
    {"rounded rectangle", extrusion("IFCROUNDEDRECTANGLEPROFILEDEF(.AREA.,$,$,{2},{3},{0.5})"),
     5 * (6 - 4 * corner(0.5)), kRound},
    {"a radius too large for its sides is cut down", extrusion("IFCROUNDEDRECTANGLEPROFILEDEF(.AREA.,$,$,{2},{2},{7})"),
     5 * kPi, kRound},
    {"hollow rectangle", extrusion("IFCRECTANGLEHOLLOWPROFILEDEF(.AREA.,$,$,{2},{3},{0.25},$,$)"), 5 * (6 - 1.5 * 2.5)},
    {"hollow rectangle with fillets", extrusion("IFCRECTANGLEHOLLOWPROFILEDEF(.AREA.,$,$,{2},{3},{0.25},{0.2},{0.4})"),
     5 * (6 - 4 * corner(0.4) - 1.5 * 2.5 + 4 * corner(0.2)), kRound},
    {"circle",
     extrusion("IFCCIRCLEPROFILEDEF(.AREA.,$,$,{0.5})"),
     5 * kPi * 0.25,
     kRound,
     "IFC2X3",
     {},
     box({-0.5, -0.5, 0}, {0.5, 0.5, 5})},
    {"small circle", extrusion("IFCCIRCLEPROFILEDEF(.AREA.,$,$,{0.004})"), 5 * kPi * 1.6e-5, kRound},
    {"large circle", extrusion("IFCCIRCLEPROFILEDEF(.AREA.,$,$,{120})"), 5 * kPi * 14400, kRound},
    {"pipe", extrusion("IFCCIRCLEHOLLOWPROFILEDEF(.AREA.,$,$,{0.5},{0.1})"), 5 * kPi*(0.25 - 0.16), kRound},
    {"pipe with a wall of a hundredth", extrusion("IFCCIRCLEHOLLOWPROFILEDEF(.AREA.,$,$,{0.5},{0.005})"),
     5 * kPi*(0.25 - 0.495 * 0.495), kRound},
    {"ellipse", extrusion("IFCELLIPSEPROFILEDEF(.AREA.,$,$,{2},{1})"), 5 * kPi * 2, kRound},
    {"upright ellipse",
     extrusion("IFCELLIPSEPROFILEDEF(.AREA.,$,$,{0.25},{1})"),
     5 * kPi * 0.25,
     kRound,
     "IFC2X3",
     {},
     box({-0.25, -1, 0}, {0.25, 1, 5})},
    {"I", extrusion("IFCISHAPEPROFILEDEF(.AREA.,$,$,{0.2},{0.4},{0.01},{0.015},$)"),
     5 * (2 * 0.2 * 0.015 + 0.37 * 0.01)},
    {"I with fillets", extrusion("IFCISHAPEPROFILEDEF(.AREA.,$,$,{0.2},{0.4},{0.01},{0.015},{0.02})"),
     5 * (2 * 0.2 * 0.015 + 0.37 * 0.01 + 4 * corner(0.02)), kRound},
    {"I with rounded flange edges", extrusion("IFCISHAPEPROFILEDEF(.AREA.,$,$,{0.2},{0.4},{0.01},{0.015},$,{0.008},$)"),
     5 * (2 * 0.2 * 0.015 + 0.37 * 0.01 - 4 * corner(0.008)), kRound, "IFC4"},
    // With the thickness at a quarter of the width, a flange outside the web has its mean there less half the web.
    {"I with sloping flanges", extrusion("IFCISHAPEPROFILEDEF(.AREA.,$,$,{0.2},{0.4},{0.01},{0.015},$,$,0.1)"),
     5 * (0.4 * 0.01 + 4 * 0.095 * (0.015 - 0.0025 * kSlope)), kExact, "IFC4"},
    {"unequal I", extrusion("IFCASYMMETRICISHAPEPROFILEDEF(.AREA.,$,$,{0.3},{0.4},{0.01},{0.02},$,{0.2},{0.015},$)"),
     5 * (0.3 * 0.02 + 0.2 * 0.015 + 0.365 * 0.01), kExact, "IFC4"},
    {"unequal I with fillets",
     extrusion("IFCASYMMETRICISHAPEPROFILEDEF(.AREA.,$,$,{0.3},{0.4},{0.01},{0.02},{0.02},{0.2},{0.015},{0.01})"),
     5 * (0.3 * 0.02 + 0.2 * 0.015 + 0.365 * 0.01 + 2 * corner(0.02) + 2 * corner(0.01)), kRound, "IFC4"},
    {"unequal I with slopes",
     extrusion("IFCASYMMETRICISHAPEPROFILEDEF(.AREA.,$,$,{0.3},{0.4},{0.01},{0.02},$,{0.2},{0.015},$,$,0.1,$,0.1)"),
     5 * (0.4 * 0.01 + 2 * 0.145 * (0.02 - 0.0025 * kSlope) + 2 * 0.095 * (0.015 - 0.0025 * kSlope)), kExact, "IFC4"},
    {"unequal I as IFC2X3 has it",
     extrusion("IFCASYMMETRICISHAPEPROFILEDEF(.AREA.,$,$,{0.3},{0.4},{0.01},{0.02},{0.02},{0.2},{0.015},$,$)"),
     5 * (0.3 * 0.02 + 0.2 * 0.015 + 0.365 * 0.01 + 2 * corner(0.02)), kRound, "IFC2X3 only"},
    {"L",
     extrusion("IFCLSHAPEPROFILEDEF(.AREA.,$,$,{0.2},{0.1},{0.01},$,$,$)"),
     5 * (0.2 * 0.01 + 0.09 * 0.01),
     kExact,
     "IFC2X3",
     {},
     box({-0.05, -0.1, 0}, {0.05, 0.1, 5})},
    {"L with equal legs", extrusion("IFCLSHAPEPROFILEDEF(.AREA.,$,$,{0.2},$,{0.01},$,$,$)"), 5 * (0.2 + 0.19) * 0.01},
    {"L with fillet and edges", extrusion("IFCLSHAPEPROFILEDEF(.AREA.,$,$,{0.2},{0.1},{0.01},{0.012},{0.005},$)"),
     5 * (0.2 * 0.01 + 0.09 * 0.01 + corner(0.012) - 2 * corner(0.005)), kRound},
    {"L with sloping legs", extrusion("IFCLSHAPEPROFILEDEF(.AREA.,$,$,{0.2},{0.2},{0.02},$,$,0.1)"),
     // Both inner faces meet on the diagonal, where v = u and v = -0.1 + 0.02 - u tan.
     5 * shoelace({{-0.1, -0.1},
                   {0.1, -0.1},
                   {0.1, -0.08 - 0.1 * kSlope},
                   {-0.08 / (1 + kSlope), -0.08 / (1 + kSlope)},
                   {-0.08 - 0.1 * kSlope, 0.1},
                   {-0.1, 0.1}})},
    {"U", extrusion("IFCUSHAPEPROFILEDEF(.AREA.,$,$,{0.3},{0.1},{0.01},{0.015},$,$,$)"),
     5 * (0.3 * 0.01 + 2 * 0.09 * 0.015)},
    {"U with fillets and edges",
     extrusion("IFCUSHAPEPROFILEDEF(.AREA.,$,$,{0.3},{0.1},{0.01},{0.015},{0.012},{0.006},$)"),
     5 * (0.3 * 0.01 + 2 * 0.09 * 0.015 + 2 * corner(0.012) - 2 * corner(0.006)), kRound},
    {"U with sloping flanges", extrusion("IFCUSHAPEPROFILEDEF(.AREA.,$,$,{0.3},{0.1},{0.01},{0.015},$,$,0.1)"),
     5 * (0.3 * 0.01 + 2 * 0.09 * (0.015 - 0.005 * kSlope))},
    {"T", extrusion("IFCTSHAPEPROFILEDEF(.AREA.,$,$,{0.3},{0.2},{0.01},{0.015},$,$,$,$,$)"),
     5 * (0.2 * 0.015 + 0.285 * 0.01)},
    {"T with fillets and edges",
     extrusion("IFCTSHAPEPROFILEDEF(.AREA.,$,$,{0.3},{0.2},{0.01},{0.015},{0.012},{0.006},{0.004},$,$)"),
     5 * (0.2 * 0.015 + 0.285 * 0.01 + 2 * corner(0.012) - 2 * corner(0.006) - 2 * corner(0.004)), kRound},
    {"T with a sloping flange", extrusion("IFCTSHAPEPROFILEDEF(.AREA.,$,$,{0.3},{0.2},{0.01},{0.015},$,$,$,$,0.1)"),
     5 * (0.3 * 0.01 + 2 * 0.095 * (0.015 - 0.0025 * kSlope))},
    {"T with a sloping web", extrusion("IFCTSHAPEPROFILEDEF(.AREA.,$,$,{0.3},{0.2},{0.01},{0.015},$,$,$,0.02,$)"),
     5 * (0.2 * 0.015 + 0.285 * 2 * (0.005 - 0.0075 * std::tan(0.02)))},
    {"Z", extrusion("IFCZSHAPEPROFILEDEF(.AREA.,$,$,{0.3},{0.1},{0.01},{0.015},$,$)"),
     5 * (0.3 * 0.01 + 2 * 0.09 * 0.015)},
    {"Z with fillets and edges",
     extrusion("IFCZSHAPEPROFILEDEF(.AREA.,$,$,{0.3},{0.1},{0.01},{0.015},{0.012},{0.006})"),
     5 * (0.3 * 0.01 + 2 * 0.09 * 0.015 + 2 * corner(0.012) - 2 * corner(0.006)), kRound},
    {"C", extrusion("IFCCSHAPEPROFILEDEF(.AREA.,$,$,{0.2},{0.1},{0.005},{0.03},$)"),
     5 * 0.005 * (0.2 + 2 * 0.095 + 2 * 0.025)},
    {"C with bends", extrusion("IFCCSHAPEPROFILEDEF(.AREA.,$,$,{0.2},{0.1},{0.005},{0.03},{0.01})"),
     5 * (0.005 * (0.2 + 2 * 0.095 + 2 * 0.025) + 4 * corner(0.01) - 4 * corner(0.015)), kRound},
    {"trapezium",
     extrusion("IFCTRAPEZIUMPROFILEDEF(.AREA.,$,$,{4},{2},{3},{0.5})"),
     5 * 9,
     kExact,
     "IFC2X3",
     {},
     box({-2, -1.5, 0}, {2, 1.5, 5})},
    {"trapezium leaning out",
     extrusion("IFCTRAPEZIUMPROFILEDEF(.AREA.,$,$,{2},{2},{3},{-1})"),
     5 * 6,
     kExact,
     "IFC2X3",
     {},
     box({-2, -1.5, 0}, {1, 1.5, 5})},
    {"crane rail A",
     extrusion("IFCCRANERAILASHAPEPROFILEDEF(.AREA.,$,$,{0.1},{0.2},$,{0.06},{0.02},{0.03},{0.02},{0.1},{0.01},{0.015},"
               "{0.02},$)"),
     5 * 2 *
         shoelace({{0, -0.05},
                   {0.1, -0.05},
                   {0.1, -0.04},
                   {0.05, -0.035},
                   {0.01, -0.03},
                   {0.01, 0.02},
                   {0.03, 0.03},
                   {0.03, 0.05},
                   {0, 0.05}}),
     kExact, "IFC2X3 only"},
    {"crane rail F",
     extrusion("IFCCRANERAILFSHAPEPROFILEDEF(.AREA.,$,$,{0.1},{0.08},$,{0.02},{0.03},{0.03},{0.01},{0.015},$)"),
     5 * 2 *
         shoelace({{0, -0.05},
                   {0.04, -0.05},
                   {0.04, -0.04},
                   {0.015, -0.035},
                   {0.015, 0.02},
                   {0.04, 0.03},
                   {0.04, 0.05},
                   {0, 0.05}}),
     kExact, "IFC2X3 only"},
};

const std::vector<ShapeCase> TestProfiles::kArbitrary = {
    {"triangle", outlined("#50=IFCPOLYLINE((#60,#61,#62,#60));") + kSquare, 10},
    {"an outline that is not closed in the file", outlined("#50=IFCPOLYLINE((#60,#61,#62,#63));") + kSquare, 20},
    {"outline and hole, both the wrong way round",
     extrusion("IFCARBITRARYPROFILEDEFWITHVOIDS(.AREA.,$,#50,(#51))") +
         "#50=IFCPOLYLINE((#60,#63,#62,#61,#60));#51=IFCPOLYLINE((#64,#65,#66,#67,#64));" +
         points(60, {{0, 0, 0}, {4, 0, 0}, {4, 4, 0}, {0, 4, 0}, {1, 1, 0}, {2, 1, 0}, {2, 2, 0}, {1, 2, 0}}, true),
     75},
    {"outline and hole, one in place of the other",
     extrusion("IFCARBITRARYPROFILEDEFWITHVOIDS(.AREA.,$,#51,(#50))") +
         "#50=IFCPOLYLINE((#60,#61,#62,#63,#60));#51=IFCPOLYLINE((#64,#65,#66,#67,#64));" +
         points(60, {{0, 0, 0}, {4, 0, 0}, {4, 4, 0}, {0, 4, 0}, {1, 1, 0}, {2, 1, 0}, {2, 2, 0}, {1, 2, 0}}, true),
     75,
     kExact,
     "IFC2X3",
     {},
     {},
     {"geometry.swapped-bounds"}},
    {"two holes",
     extrusion("IFCARBITRARYPROFILEDEFWITHVOIDS(.AREA.,$,#50,(#51,#52))") +
         "#50=IFCPOLYLINE((#60,#61,#62,#63,#60));#51=IFCPOLYLINE((#64,#65,#66,#64));#52=IFCPOLYLINE((#67,#68,#69,#67))"
         ";" +
         points(60,
                {{0, 0, 0},
                 {4, 0, 0},
                 {4, 4, 0},
                 {0, 4, 0},
                 {1, 1, 0},
                 {2, 1, 0},
                 {2, 2, 0},
                 {2.5, 2.5, 0},
                 {3.5, 2.5, 0},
                 {3.5, 3.5, 0}},
                true),
     75},
    {"a hole hung on the outline by a bridge",
     outlined("#50=IFCPOLYLINE((#60,#61,#62,#63,#60,#64,#67,#66,#65,#64,#60));") +
         points(60, {{0, 0, 0}, {4, 0, 0}, {4, 4, 0}, {0, 4, 0}, {1, 1, 0}, {2, 1, 0}, {2, 2, 0}, {1, 2, 0}}, true),
     75,
     kExact,
     "IFC2X3",
     {},
     {},
     {"geometry.touching-outline"}},
    {"doubled points",
     outlined("#50=IFCPOLYLINE((#60,#60,#61,#62,#62,#63,#60));") + kSquare,
     20,
     kExact,
     "IFC2X3",
     {},
     {},
     {"geometry.repeated-point"}},
    {"points in line",
     outlined("#50=IFCPOLYLINE((#60,#64,#61,#62,#63,#60));") +
         points(60, {{0, 0, 0}, {2, 0, 0}, {2, 2, 0}, {0, 2, 0}, {1, 0, 0}}, true),
     20,
     kExact,
     "IFC2X3",
     {},
     {},
     {"geometry.collinear-point"}},
    {"a whole circle", outlined("#50=IFCCIRCLE(#56,{1});") + kFrame2D, 5 * kPi, kRound},
    {"a whole ellipse, its frame turned",
     outlined("#50=IFCELLIPSE(#55,{2},{1});#55=IFCAXIS2PLACEMENT2D(#57,#58);"
              "#57=IFCCARTESIANPOINT((0.,0.));#58=IFCDIRECTION((0.,1.));"),
     5 * kPi * 2,
     kRound,
     "IFC2X3",
     {},
     box({-1, -2, 0}, {1, 2, 5})},
    {"half disc, arc trimmed by parameters",
     outlined(
         "#50=IFCCOMPOSITECURVE((#51,#52),.F.);#51=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#53);"
         "#52=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#54);#53=IFCTRIMMEDCURVE(#55,(IFCPARAMETERVALUE(0.)),"
         "(IFCPARAMETERVALUE(3.14159265358979)),.T.,.PARAMETER.);#54=IFCPOLYLINE((#60,#61));#55=IFCCIRCLE(#56,{1});") +
         kFrame2D + points(60, {{-1, 0, 0}, {1, 0, 0}}, true),
     5 * kPi / 2, kRound},
    {"half disc, arc trimmed by points",
     outlined("#50=IFCCOMPOSITECURVE((#51,#52),.F.);#51=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#53);"
              "#52=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#54);#53=IFCTRIMMEDCURVE(#55,(#61),(#60),.T.,.CARTESIAN.);"
              "#54=IFCPOLYLINE((#60,#61));#55=IFCCIRCLE(#56,{1});") +
         kFrame2D + points(60, {{-1, 0, 0}, {1, 0, 0}}, true),
     5 * kPi / 2,
     kRound,
     "IFC2X3",
     {},
     box({-1, 0, 0}, {1, 1, 5})},
    {"the other half, run against the circle",
     outlined("#50=IFCCOMPOSITECURVE((#51,#52),.F.);#51=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#53);"
              "#52=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#54);#53=IFCTRIMMEDCURVE(#55,(#61),(#60),.F.,.CARTESIAN.);"
              "#54=IFCPOLYLINE((#60,#61));#55=IFCCIRCLE(#56,{1});") +
         kFrame2D + points(60, {{-1, 0, 0}, {1, 0, 0}}, true),
     5 * kPi / 2,
     kRound,
     "IFC2X3",
     {},
     box({-1, -1, 0}, {1, 0, 5})},
    {"segments that run against the curve",
     outlined("#50=IFCCOMPOSITECURVE((#51,#52),.F.);#51=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.F.,#53);"
              "#52=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#54);#53=IFCPOLYLINE((#62,#61,#60));#54=IFCPOLYLINE((#62,#"
              "63,#60));") +
         kSquare,
     20},
    {"quarter of an ellipse",
     outlined("#50=IFCCOMPOSITECURVE((#51,#52),.F.);#51=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#53);"
              "#52=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#54);#53=IFCTRIMMEDCURVE(#55,(IFCPARAMETERVALUE(0.)),"
              "(IFCPARAMETERVALUE(1.5707963267949)),.T.,.PARAMETER.);#54=IFCPOLYLINE((#60,#61,#62));#55=IFCELLIPSE(#56,"
              "{2},{1});") +
         kFrame2D + points(60, {{0, 1, 0}, {0, 0, 0}, {2, 0, 0}}, true),
     5 * kPi / 2, kRound},
    {"trimmed lines",
     outlined("#50=IFCCOMPOSITECURVE((#51,#52),.F.);#51=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#53);"
              "#52=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#54);#53=IFCTRIMMEDCURVE(#55,(IFCPARAMETERVALUE(0.)),"
              "(IFCPARAMETERVALUE(4.)),.T.,.PARAMETER.);#54=IFCPOLYLINE((#61,#62,#60));#55=IFCLINE(#60,#70);"
              "#70=IFCVECTOR(#71,{0.5});#71=IFCDIRECTION((1.,0.));") +
         points(60, {{0, 0, 0}, {2, 0, 0}, {2, 2, 0}}, true),
     10},
    {"list of points without segments",
     outlined("#50=IFCINDEXEDPOLYCURVE(#51,$,$);#51=IFCCARTESIANPOINTLIST2D((({0},{0}),({2},{0}),({2},{2}),({0},{2}),({"
              "0},{0})));"),
     20, kExact, "IFC4"},
    {"list of points with line segments",
     outlined("#50=IFCINDEXEDPOLYCURVE(#51,(IFCLINEINDEX((1,2,3)),IFCLINEINDEX((3,4,1))),.F.);"
              "#51=IFCCARTESIANPOINTLIST2D((({0},{0}),({2},{0}),({2},{2}),({0},{2})));"),
     20, kExact, "IFC4"},
    {"list of points with an arc",
     outlined("#50=IFCINDEXEDPOLYCURVE(#51,(IFCARCINDEX((1,2,3)),IFCLINEINDEX((3,1))),.F.);"
              "#51=IFCCARTESIANPOINTLIST2D((({1},{0}),({0},{1}),({-1},{0})));"),
     5 * kPi / 2, kRound, "IFC4"},
    // x = 2t, y = 4t(1-t): the parabola encloses 4/3 with its chord.
    {"Bezier parabola",
     outlined(
         "#50=IFCCOMPOSITECURVE((#51,#52),.F.);#51=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#53);"
         "#52=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#54);#53=IFCBEZIERCURVE(2,(#60,#61,#62),.UNSPECIFIED.,.F.,.F.);"
         "#54=IFCPOLYLINE((#62,#60));") +
         points(60, {{0, 0, 0}, {1, 2, 0}, {2, 0, 0}}, true),
     5 * 4.0 / 3, kRound, "IFC2X3 only"},
    {"B-spline parabola",
     outlined("#50=IFCCOMPOSITECURVE((#51,#52),.F.);#51=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#53);"
              "#52=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#54);"
              "#53=IFCBSPLINECURVEWITHKNOTS(2,(#60,#61,#62),.UNSPECIFIED.,.F.,.F.,(3,3),(0.,1.),.UNSPECIFIED.);"
              "#54=IFCPOLYLINE((#62,#60));") +
         points(60, {{0, 0, 0}, {1, 2, 0}, {2, 0, 0}}, true),
     5 * 4.0 / 3, kRound, "IFC4"},
    {"a cubic in four spans",
     outlined("#50=IFCCOMPOSITECURVE((#51,#52),.F.);#51=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#53);"
              "#52=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#54);" // degree 1 poles of a straight line, raised: still
                                                                    // a line
              "#53=IFCBSPLINECURVEWITHKNOTS(3,(#60,#61,#62,#63,#64,#65,#66),.UNSPECIFIED.,.F.,.F.,(4,1,1,1,4),(0.,1.,2."
              ",3.,4.),.UNSPECIFIED.);"
              "#54=IFCPOLYLINE((#66,#67,#60));") +
         points(60, {{0, 0, 0}, {1, 0, 0}, {2, 0, 0}, {3, 0, 0}, {4, 0, 0}, {5, 0, 0}, {6, 0, 0}, {6, 1, 0}}, true),
     15, kExact, "IFC4"},
    // A rational spline of degree two with the middle weight cos 45° is a quarter circle.
    {"rational B-spline quarter circle",
     outlined("#50=IFCCOMPOSITECURVE((#51,#52),.F.);#51=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#53);"
              "#52=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#54);"
              "#53=IFCRATIONALBSPLINECURVEWITHKNOTS(2,(#60,#61,#62),.CIRCULAR_ARC.,.F.,.F.,(3,3),(0.,1.),.UNSPECIFIED.,"
              "(1.,0.707106781186548,1.));"
              "#54=IFCPOLYLINE((#62,#63,#60));") +
         points(60, {{1, 0, 0}, {1, 1, 0}, {0, 1, 0}, {0, 0, 0}}, true),
     5 * kPi / 4, kRound, "IFC4"},
    {"a circle moved inwards", outlined("#50=IFCOFFSETCURVE2D(#55,{0.25},.F.);#55=IFCCIRCLE(#56,{1});") + kFrame2D,
     5 * kPi * 0.5625, kRound},
    {"a square moved outwards",
     outlined("#50=IFCOFFSETCURVE2D(#55,{-0.5},.F.);#55=IFCPOLYLINE((#60,#61,#62,#63,#60));") + kSquare, 45},
    {"two areas in one",
     extrusion("IFCCOMPOSITEPROFILEDEF(.AREA.,$,(#51,#52),$)") +
         "#51=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{1},{1});"
         "#52=IFCRECTANGLEPROFILEDEF(.AREA.,$,#53,{1},{2});#53=IFCAXIS2PLACEMENT2D(#54,$);#54=IFCCARTESIANPOINT(({3},{"
         "0}));",
     15,
     kExact,
     "IFC2X3",
     {},
     box({-0.5, -1, 0}, {3.5, 1, 5})},
    {"derived at twice the size",
     extrusion("IFCDERIVEDPROFILEDEF(.AREA.,$,#51,#52,$)") +
         "#51=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{1},{2});"
         "#52=IFCCARTESIANTRANSFORMATIONOPERATOR2D($,$,#57,2.);#57=IFCCARTESIANPOINT((0.,0.));",
     40},
    {"derived with two scales",
     extrusion("IFCDERIVEDPROFILEDEF(.AREA.,$,#51,#52,$)") +
         "#51=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{1},{2});"
         "#52=IFCCARTESIANTRANSFORMATIONOPERATOR2DNONUNIFORM($,$,#57,2.,3.);#57=IFCCARTESIANPOINT((0.,0.));",
     60},
    {"mirrored",
     extrusion("IFCMIRROREDPROFILEDEF(.AREA.,$,#51,*,$)") + "#51=IFCTRAPEZIUMPROFILEDEF(.AREA.,$,$,{2},{2},{3},{1});",
     30,
     kExact,
     "IFC4",
     {},
     box({-2, -1.5, 0}, {1, 1.5, 5})},
    {"centre line", extrusion("IFCCENTERLINEPROFILEDEF(.AREA.,$,#51,{0.1})") + "#51=IFCPOLYLINE((#60,#61));" + kSquare,
     5 * 2 * 0.1},
    {"centre line around a corner",
     extrusion("IFCCENTERLINEPROFILEDEF(.AREA.,$,#51,{0.1})") + "#51=IFCPOLYLINE((#60,#61,#62));" + kSquare,
     5 * 4 * 0.1},
    {"centre line around a square",
     extrusion("IFCCENTERLINEPROFILEDEF(.AREA.,$,#51,{0.1})") + "#51=IFCPOLYLINE((#60,#61,#62,#63,#60));" + kSquare,
     5 * 8 * 0.1},
};

void TestProfiles::finerCutsComeNearer()
{
    const std::string text =
        ifcFile("IFC4", inUnits(extrusion("IFCCIRCLEPROFILEDEF(.AREA.,$,$,{0.5})"), 1) + proxyOver("#20"));
    const auto read = readText(text);
    Progress progress;
    const auto fine = geometry::MemberGeometry::build(*read->model, progress, geometry::Fineness::fine()).value();
    const double exact = 5 * kPi * 0.25;
    const double coarseError = exact - read->geometry->elements()[0].volume,
                 fineError = exact - fine->elements()[0].volume;
    QVERIFY(fineError > 0 && fineError < 0.15 * coarseError); // chords lie inside, ten times as near
}

QTEST_GUILESS_MAIN(TestProfiles)
#include "test_profiles.moc"
