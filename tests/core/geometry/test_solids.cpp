#include "support/shape_cases.h"

#include <cmath>
#include <numbers>

using namespace wendrix;
using namespace wendrix::test;

/// Primitives, booleans, shells, tessellations, curved shells and what has to be repaired.
class TestSolids : public QObject {
    Q_OBJECT
private slots:
    void constructed_data() { addRows(kConstructed); }
    void constructed() { checkRow(kConstructed); }
    void faceted_data() { addRows(kFaceted); }
    void faceted() { checkRow(kFaceted); }
    void curved_data() { addRows(kCurved); }
    void curved() { checkRow(kCurved); }
    void repaired_data() { addRows(kRepaired); }
    void repaired() { checkRow(kRepaired); }
    void saysWhyABodyIsOpen();

private:
    static const std::vector<ShapeCase> kConstructed, kFaceted, kCurved, kRepaired;
};

namespace {

constexpr double kPi = std::numbers::pi;
const std::string kUp = "#22=IFCDIRECTION((0.,0.,1.));";
const std::string kBlock =
    "#50=IFCEXTRUDEDAREASOLID(#21,#8,#22,{5});#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{2},{3});" + kUp;

std::string at(int placement, const Point3& p)
{
    const std::string point = std::to_string(placement + 1);
    char text[200];
    std::snprintf(text, sizeof text,
                  "#%d=IFCAXIS2PLACEMENT3D(#%s,$,$);#%s=IFCCARTESIANPOINT(({%.12g},{%.12g},{%.12g}));", placement,
                  point.c_str(), point.c_str(), p.x, p.y, p.z);
    return text;
}

/// The block #50 less the half space #51 under z = 3 in various forms.
std::string clipped(const std::string& halfSpace)
{
    return kBlock + "#20=IFCBOOLEANCLIPPINGRESULT(.DIFFERENCE.,#50,#51);#51=" + halfSpace;
}

const std::string kPyramid = points(60, {{0, 0, 0}, {2, 0, 0}, {2, 2, 0}, {0, 2, 0}, {1, 1, 3}});
const std::string kCube =
    points(60, {{0, 0, 0}, {3, 0, 0}, {3, 3, 0}, {0, 3, 0}, {0, 0, 3}, {3, 0, 3}, {3, 3, 3}, {0, 3, 3}});
const std::vector<std::string> kCubeFaces = {"#60,#63,#62,#61", "#64,#65,#66,#67", "#60,#61,#65,#64",
                                             "#61,#62,#66,#65", "#62,#63,#67,#66", "#63,#60,#64,#67"};

/// A box 2 x 3 x 4 as advanced B-rep: planes, lines, shared vertices and edges.
std::string advancedBox()
{
    const std::vector<Point3> corner = {{0, 0, 0}, {2, 0, 0}, {2, 3, 0}, {0, 3, 0},
                                        {0, 0, 4}, {2, 0, 4}, {2, 3, 4}, {0, 3, 4}};
    std::string text = points(60, corner);
    for (int i = 0; i < 8; ++i)
        text += "#" + std::to_string(70 + i) + "=IFCVERTEXPOINT(#" + std::to_string(60 + i) + ");";
    std::map<std::pair<int, int>, int> edges;
    int next = 1000;
    const auto id = [&] { return std::to_string(next++); };
    const auto edge = [&](int a, int b) {
        const auto key = std::minmax(a, b);
        const auto [known, isNew] = edges.try_emplace({key.first, key.second}, 0);
        if (isNew) {
            const Vector3 d =
                corner[static_cast<std::size_t>(key.second)] - corner[static_cast<std::size_t>(key.first)];
            const std::string direction = id(), vector = id(), line = id();
            known->second = next++;
            text += "#" + direction + "=IFCDIRECTION((" + std::to_string(d.x) + "," + std::to_string(d.y) + "," +
                    std::to_string(d.z) + "));#" + vector + "=IFCVECTOR(#" + direction + ",1.);#" + line +
                    "=IFCLINE(#" + std::to_string(60 + key.first) + ",#" + vector + ");#" +
                    std::to_string(known->second) + "=IFCEDGECURVE(#" + std::to_string(70 + key.first) + ",#" +
                    std::to_string(70 + key.second) + ",#" + line + ",.T.);";
        }
        const std::string oriented = id();
        text +=
            "#" + oriented + "=IFCORIENTEDEDGE(*,*,#" + std::to_string(known->second) + (a < b ? ",.T.);" : ",.F.);");
        return oriented;
    };
    struct Side {
        std::vector<int> loop;
        Vector3 normal, x;
    };
    const std::vector<Side> sides = {{{0, 3, 2, 1}, {0, 0, -1}, {1, 0, 0}}, {{4, 5, 6, 7}, {0, 0, 1}, {1, 0, 0}},
                                     {{0, 1, 5, 4}, {0, -1, 0}, {1, 0, 0}}, {{1, 2, 6, 5}, {1, 0, 0}, {0, 1, 0}},
                                     {{2, 3, 7, 6}, {0, 1, 0}, {1, 0, 0}},  {{3, 0, 4, 7}, {-1, 0, 0}, {0, 1, 0}}};
    std::string faceList;
    for (const Side& s : sides) {
        std::string list;
        for (std::size_t i = 0; i < 4; ++i)
            list += (i == 0 ? "#" : ",#") + edge(s.loop[i], s.loop[(i + 1) % 4]);
        const std::string z = id(), x = id(), frame = id(), plane = id(), loop = id(), bound = id(), face = id();
        const auto direction = [](const Vector3& v) {
            return std::to_string(v.x) + "," + std::to_string(v.y) + "," + std::to_string(v.z);
        };
        text += "#" + z + "=IFCDIRECTION((" + direction(s.normal) + "));#" + x + "=IFCDIRECTION((" + direction(s.x) +
                "));#" + frame + "=IFCAXIS2PLACEMENT3D(#" + std::to_string(60 + s.loop[0]) + ",#" + z + ",#" + x +
                ");#" + plane + "=IFCPLANE(#" + frame + ");#" + loop + "=IFCEDGELOOP((" + list + "));#" + bound +
                "=IFCFACEOUTERBOUND(#" + loop + ",.T.);#" + face + "=IFCADVANCEDFACE((#" + bound + "),#" + plane +
                ",.T.);";
        faceList += (faceList.empty() ? "#" : ",#") + face;
    }
    return text + "#30=IFCCLOSEDSHELL((" + faceList + "));#20=IFCADVANCEDBREP(#30);";
}

/// A cylinder of radius 1 and height 2: one surface with a seam, two discs.
/// @param side  the surface of its side as #101
std::string advancedCylinder(const std::string& side)
{
    return points(60, {{1, 0, 0}, {1, 0, 2}}) + at(590, {0, 0, 0}) + at(592, {0, 0, 2}) +
           "#70=IFCVERTEXPOINT(#60);#71=IFCVERTEXPOINT(#61);#80=IFCCIRCLE(#590,{1});#81=IFCCIRCLE(#592,{1});"
           "#82=IFCLINE(#60,#83);#83=IFCVECTOR(#84,{1});#84=IFCDIRECTION((0.,0.,1.));"
           "#110=IFCEDGECURVE(#70,#70,#80,.T.);#111=IFCEDGECURVE(#71,#71,#81,.T.);#112=IFCEDGECURVE(#70,#71,#82,.T.);"
           "#120=IFCORIENTEDEDGE(*,*,#110,.T.);#121=IFCORIENTEDEDGE(*,*,#112,.T.);#122=IFCORIENTEDEDGE(*,*,#111,.F.);"
           "#123=IFCORIENTEDEDGE(*,*,#112,.F.);#124=IFCORIENTEDEDGE(*,*,#110,.F.);#125=IFCORIENTEDEDGE(*,*,#111,.T.);"
           "#130=IFCEDGELOOP((#120,#121,#122,#123));#131=IFCEDGELOOP((#124));#132=IFCEDGELOOP((#125));"
           "#140=IFCFACEOUTERBOUND(#130,.T.);#141=IFCFACEOUTERBOUND(#131,.T.);#142=IFCFACEOUTERBOUND(#132,.T.);" +
           side +
           "#102=IFCPLANE(#96);#103=IFCPLANE(#592);#96=IFCAXIS2PLACEMENT3D(#591,#97,$);#97=IFCDIRECTION((0.,0.,-1.));"
           "#150=IFCADVANCEDFACE((#140),#101,.T.);#151=IFCADVANCEDFACE((#141),#102,.T.);#152=IFCADVANCEDFACE((#142),#"
           "103,.T.);"
           "#30=IFCCLOSEDSHELL((#150,#151,#152));#20=IFCADVANCEDBREP(#30);";
}

} // namespace

const std::vector<ShapeCase> TestSolids::kConstructed = {
    {"block", "#20=IFCCSGSOLID(#50);#50=IFCBLOCK(#8,{2},{3},{5});", 30, kExact, "IFC2X3", 62.0,
     box({0, 0, 0}, {2, 3, 5})},
    {"pyramid",
     "#20=IFCCSGSOLID(#50);#50=IFCRECTANGULARPYRAMID(#8,{2},{3},{4});",
     8,
     kExact,
     "IFC2X3",
     {},
     box({0, 0, 0}, {2, 3, 4})},
    {"cone", "#20=IFCCSGSOLID(#50);#50=IFCRIGHTCIRCULARCONE(#8,{3},{2});", kPi * 4, kRound},
    {"cylinder",
     "#20=IFCCSGSOLID(#50);#50=IFCRIGHTCIRCULARCYLINDER(#8,{3},{2});",
     kPi * 12,
     kRound,
     "IFC2X3",
     {},
     box({-2, -2, 0}, {2, 2, 3})},
    {"sphere",
     "#20=IFCCSGSOLID(#50);#50=IFCSPHERE(#8,{2});",
     4.0 / 3 * kPi * 8,
     kRound,
     "IFC2X3",
     {},
     box({-2, -2, -2}, {2, 2, 2})},
    {"a small sphere", "#20=IFCCSGSOLID(#50);#50=IFCSPHERE(#8,{0.01});", 4.0 / 3 * kPi * 1e-6, kRound},
    {"a primitive without the solid around it",
     "#20=IFCBLOCK(#30,{2},{3},{5});" + at(30, {7, 0, 0}),
     30,
     kExact,
     "IFC2X3",
     {},
     box({7, 0, 0}, {9, 3, 5})},
    {"level half space",
     clipped("IFCHALFSPACESOLID(#52,.F.);#52=IFCPLANE(#53);") + at(53, {0, 0, 3}),
     18,
     kExact,
     "IFC2X3",
     {},
     box({-1, -1.5, 0}, {1, 1.5, 3})},
    {"the other side of the plane",
     clipped("IFCHALFSPACESOLID(#52,.T.);#52=IFCPLANE(#53);") + at(53, {0, 0, 3}),
     12,
     kExact,
     "IFC2X3",
     {},
     box({-1, -1.5, 3}, {1, 1.5, 5})},
    {"sloping half space",
     clipped("IFCHALFSPACESOLID(#52,.F.);#52=IFCPLANE(#53);#53=IFCAXIS2PLACEMENT3D(#54,#55,#56);#54=IFCCARTESIANPOINT(("
             "{0},{0},{3}));"
             "#55=IFCDIRECTION((1.,0.,1.));#56=IFCDIRECTION((0.,1.,0.));"),
     18},
    {"half space beside the body", clipped("IFCHALFSPACESOLID(#52,.F.);#52=IFCPLANE(#53);") + at(53, {0, 0, 9}), 30},
    {"inside of a cylinder",
     clipped("IFCHALFSPACESOLID(#52,.T.);#52=IFCCYLINDRICALSURFACE(#53,{0.5});") + at(53, {0, 0, 3}),
     30 - 0.25 * kPi * 5, kRound, "IFC4"},
    {"outside of a cylinder",
     clipped("IFCHALFSPACESOLID(#52,.F.);#52=IFCCYLINDRICALSURFACE(#53,{0.5});") + at(53, {0, 0, 3}),
     0.25 * kPi * 5,
     kRound,
     "IFC4",
     {},
     box({-0.5, -0.5, 0}, {0.5, 0.5, 5})},
    {"inside of a sphere", clipped("IFCHALFSPACESOLID(#52,.T.);#52=IFCSPHERICALSURFACE(#53,{1});") + at(53, {0, 0, 5}),
     30 - kPi * 2 / 3, kRound, "IFC4"},
    {"outside of a sphere", clipped("IFCHALFSPACESOLID(#52,.F.);#52=IFCSPHERICALSURFACE(#53,{1});") + at(53, {0, 0, 5}),
     kPi * 2 / 3, kRound, "IFC4"},
    {"inside of a torus",
     clipped("IFCHALFSPACESOLID(#52,.F.);#52=IFCTOROIDALSURFACE(#53,{0.7},{0.2});") + at(53, {0, 0, 2}),
     2 * kPi* kPi * 0.7 * 0.04,
     kRound,
     "IFC4",
     {},
     box({-0.9, -0.9, 1.8}, {0.9, 0.9, 2.2})},
    {"boxed half space",
     clipped("IFCBOXEDHALFSPACE(#52,.F.,#58);#58=IFCBOUNDINGBOX(#9,{9},{9},{9});#52=IFCPLANE(#53);") +
         at(53, {0, 0, 3}),
     18},
    {"bounded half space",
     clipped("IFCPOLYGONALBOUNDEDHALFSPACE(#52,.F.,#8,#57);#57=IFCPOLYLINE((#60,#61,#62,#63,#60));#52=IFCPLANE(#53);") +
         at(53, {0, 0, 3}) + points(60, {{0, 0, 0}, {9, 0, 0}, {9, 9, 0}, {0, 9, 0}}, true),
     30 - 1 * 1.5 * 2},
    {"half space bounded in a frame of its own",
     clipped("IFCPOLYGONALBOUNDEDHALFSPACE(#52,.F.,#58,#57);#57=IFCPOLYLINE((#60,#61,#62,#63));#52=IFCPLANE(#53);") +
         at(53, {0, 0, 3}) + at(58, {1, 1.5, -2}) +
         points(60, {{-0.5, -0.5, 0}, {-0.5, 9, 0}, {9, 9, 0}, {9, -0.5, 0}}, true),
     30 - 0.5 * 0.5 * 2},
    {"union",
     kBlock + "#20=IFCBOOLEANRESULT(.UNION.,#50,#58);#58=IFCEXTRUDEDAREASOLID(#21,#53,#22,{5});" + at(53, {1, 0, 0}),
     45},
    {"union of what does not meet",
     kBlock + "#20=IFCBOOLEANRESULT(.UNION.,#50,#58);#58=IFCEXTRUDEDAREASOLID(#21,#53,#22,{5});" + at(53, {9, 0, 0}),
     60},
    {"intersection",
     kBlock + "#20=IFCBOOLEANRESULT(.INTERSECTION.,#50,#58);#58=IFCEXTRUDEDAREASOLID(#21,#53,#22,{5});" +
         at(53, {0.5, 0, 0}),
     22.5},
    {"difference with shared faces",
     kBlock + "#20=IFCBOOLEANRESULT(.DIFFERENCE.,#50,#58);#58=IFCEXTRUDEDAREASOLID(#21,#53,#22,{5});" +
         at(53, {1, 0, 0}),
     15},
    {"a hollow inside",
     kBlock + "#20=IFCBOOLEANRESULT(.DIFFERENCE.,#50,#58);#58=IFCBLOCK(#53,{1},{1},{1});" + at(53, {-0.5, -0.5, 2}), 29,
     kExact, "IFC2X3", 62.0 + 6},
    {"drilled through",
     kBlock + "#20=IFCBOOLEANRESULT(.DIFFERENCE.,#50,#58);#58=IFCRIGHTCIRCULARCYLINDER(#53,{9},{0.5});" +
         at(53, {0, 0, -2}),
     30 - kPi * 0.25 * 5, kRound},
    {"three cuts in each other",
     kBlock +
         "#20=IFCBOOLEANRESULT(.DIFFERENCE.,#58,#590);#58=IFCBOOLEANRESULT(.DIFFERENCE.,#59,#591);#59=IFCBOOLEANRESULT("
         ".DIFFERENCE.,#50,#95);"
         "#95=IFCBLOCK(#53,{0.5},{0.5},{9});#591=IFCBLOCK(#55,{9},{9},{1});#590=IFCBLOCK(#157,{9},{0.5},{9});" +
         at(53, {-1, -1.5, -1}) + at(55, {-2, -2, 4}) + at(157, {-2, 1, -1}),
     24 - 0.25 * 4 - 2 * 0.5 * 4},
    {"a tree of unions and differences as a solid",
     kBlock +
         "#20=IFCCSGSOLID(#57);#57=IFCBOOLEANRESULT(.UNION.,#58,#59);#58=IFCBOOLEANRESULT(.DIFFERENCE.,#50,#95);"
         "#59=IFCBOOLEANRESULT(.INTERSECTION.,#50,#95);#95=IFCBLOCK(#53,{1},{1},{9});" +
         at(53, {-0.5, -0.5, -2}),
     30},
};

const std::vector<ShapeCase> TestSolids::kFaceted = {
    {"pyramid of faces",
     kPyramid + "#20=IFCFACETEDBREP(#30);" +
         faces(100, {"#63,#62,#61,#60", "#60,#61,#64", "#61,#62,#64", "#62,#63,#64", "#63,#60,#64"}),
     4},
    {"cube of faces", kCube + "#20=IFCFACETEDBREP(#30);" + faces(100, kCubeFaces), 27, kExact, "IFC2X3", 54.0},
    {"a cube with a hollow",
     kCube + "#20=IFCFACETEDBREPWITHVOIDS(#30,(#31));" + faces(100, kCubeFaces) +
         points(200, {{1, 1, 1}, {2, 1, 1}, {2, 2, 1}, {1, 2, 1}, {1, 1, 2}, {2, 1, 2}, {2, 2, 2}, {1, 2, 2}}) +
         faces(300,
               {"#200,#201,#202,#203", "#204,#207,#206,#205", "#200,#204,#205,#201", "#201,#205,#206,#202",
                "#202,#206,#207,#203", "#203,#207,#204,#200"},
               31),
     26, kExact, "IFC2X3", 60.0},
    {"bounds that run against their face",
     kPyramid +
         "#20=IFCFACETEDBREP(#30);#30=IFCCLOSEDSHELL((#100,#103,#106,#109,#112));#100=IFCFACE((#101));#101="
         "IFCFACEOUTERBOUND(#102,.F.);"
         "#102=IFCPOLYLOOP((#60,#61,#62,#63));#103=IFCFACE((#104));#104=IFCFACEOUTERBOUND(#105,.F.);#105=IFCPOLYLOOP((#"
         "64,#61,#60));"
         "#106=IFCFACE((#107));#107=IFCFACEOUTERBOUND(#108,.T.);#108=IFCPOLYLOOP((#61,#62,#64));#109=IFCFACE((#110));"
         "#110=IFCFACEOUTERBOUND(#111,.T.);#111=IFCPOLYLOOP((#62,#63,#64));#112=IFCFACE((#113));#113=IFCFACEOUTERBOUND("
         "#114,.T.);"
         "#114=IFCPOLYLOOP((#63,#60,#64));",
     4},
    {"a frame: faces with holes",
     kCube + points(200, {{1, 1, 0}, {2, 1, 0}, {2, 2, 0}, {1, 2, 0}, {1, 1, 3}, {2, 1, 3}, {2, 2, 3}, {1, 2, 3}}) +
         "#20=IFCFACETEDBREP(#30);#30=IFCCLOSEDSHELL((#300,#305,#106,#109,#112,#115,#400,#403,#406,#409));"
         "#300=IFCFACE((#301,#303));#301=IFCFACEOUTERBOUND(#302,.T.);#302=IFCPOLYLOOP((#60,#63,#62,#61));#303="
         "IFCFACEBOUND(#304,.T.);#304=IFCPOLYLOOP((#200,#201,#202,#203));"
         "#305=IFCFACE((#306,#308));#306=IFCFACEBOUND(#307,.T.);#307=IFCPOLYLOOP((#204,#207,#206,#205));#308="
         "IFCFACEOUTERBOUND(#309,.T.);#309=IFCPOLYLOOP((#64,#65,#66,#67));" +
         faces(100, kCubeFaces, 31) +
         faces(400, {"#200,#204,#205,#201", "#201,#205,#206,#202", "#202,#206,#207,#203", "#203,#207,#204,#200"}, 32),
     24},
    {"surface model that encloses",
     kPyramid + "#20=IFCSHELLBASEDSURFACEMODEL((#30));" +
         faces(100, {"#63,#62,#61,#60", "#60,#61,#64", "#61,#62,#64", "#62,#63,#64", "#63,#60,#64"}, 30,
               "IFCOPENSHELL"),
     4},
    {"face based surface model",
     kPyramid + "#20=IFCFACEBASEDSURFACEMODEL((#30));" +
         faces(100, {"#63,#62,#61,#60", "#60,#61,#64", "#61,#62,#64", "#62,#63,#64", "#63,#60,#64"}, 30,
               "IFCCONNECTEDFACESET"),
     4},
    {"two open shells that close together",
     kPyramid + "#20=IFCSHELLBASEDSURFACEMODEL((#30,#31));" +
         faces(100, {"#63,#62,#61,#60", "#60,#61,#64"}, 30, "IFCOPENSHELL") +
         faces(200, {"#61,#62,#64", "#62,#63,#64", "#63,#60,#64"}, 31, "IFCOPENSHELL"),
     4},
    {"triangles",
     "#20=IFCTRIANGULATEDFACESET(#40,$,.T.,((1,3,2),(1,2,4),(2,3,4),(3,1,4)),$);"
     "#40=IFCCARTESIANPOINTLIST3D((({0},{0},{0}),({1},{0},{0}),({0},{1},{0}),({0},{0},{1})));",
     1.0 / 6, kExact, "IFC4"},
    {"triangles through PnIndex",
     "#20=IFCTRIANGULATEDFACESET(#40,$,.T.,((4,2,3),(4,3,1),(3,2,1),(2,4,1)),(4,3,2,1));"
     "#40=IFCCARTESIANPOINTLIST3D((({0},{0},{0}),({1},{0},{0}),({0},{1},{0}),({0},{0},{1})));",
     1.0 / 6, kExact, "IFC4"},
    {"triangles that do not say whether they close",
     "#20=IFCTRIANGULATEDFACESET(#40,$,$,((1,3,2),(1,2,4),(2,3,4),(3,1,4)));"
     "#40=IFCCARTESIANPOINTLIST3D((({0},{0},{0}),({1},{0},{0}),({0},{1},{0}),({0},{0},{1})));",
     1.0 / 6, kExact, "IFC4"},
    {"polygons through PnIndex",
     "#20=IFCPOLYGONALFACESET(#40,.T.,(#41,#42,#43,#44,#45),(6,5,4,3,2,1));"
     "#40=IFCCARTESIANPOINTLIST3D((({0},{1},{1}),({0},{0},{1}),({1},{1},{0}),({1},{0},{0}),({0},{1},{0}),({0},{0},{0}))"
     ");"
     "#41=IFCINDEXEDPOLYGONALFACE((1,2,4,3));#42=IFCINDEXEDPOLYGONALFACE((1,5,6,2));"
     "#43=IFCINDEXEDPOLYGONALFACE((3,4,6,5));#44=IFCINDEXEDPOLYGONALFACE((1,3,5));#45=IFCINDEXEDPOLYGONALFACE((2,6,4))"
     ";",
     0.5, kExact, "IFC4"},
    {"polygons with inner loops",
     "#20=IFCPOLYGONALFACESET(#40,.T.,(#41,#42,#43,#44,#45,#46,#47,#48,#49,#50),$);"
     "#40=IFCCARTESIANPOINTLIST3D((({0},{0},{0}),({3},{0},{0}),({3},{3},{0}),({0},{3},{0}),({0},{0},{3}),({3},{0},{3}),"
     "({3},{3},{3}),({0},{3},{3}),"
     "({1},{1},{0}),({2},{1},{0}),({2},{2},{0}),({1},{2},{0}),({1},{1},{3}),({2},{1},{3}),({2},{2},{3}),({1},{2},{3})))"
     ";"
     "#41=IFCINDEXEDPOLYGONALFACEWITHVOIDS((1,4,3,2),((9,10,11,12)));#42=IFCINDEXEDPOLYGONALFACEWITHVOIDS((5,6,7,8),(("
     "13,16,15,14)));"
     "#43=IFCINDEXEDPOLYGONALFACE((1,2,6,5));#44=IFCINDEXEDPOLYGONALFACE((2,3,7,6));#45=IFCINDEXEDPOLYGONALFACE((3,4,8,"
     "7));#46=IFCINDEXEDPOLYGONALFACE((4,1,5,8));"
     "#47=IFCINDEXEDPOLYGONALFACE((9,13,14,10));#48=IFCINDEXEDPOLYGONALFACE((10,14,15,11));#49=IFCINDEXEDPOLYGONALFACE("
     "(11,15,16,12));#50=IFCINDEXEDPOLYGONALFACE((12,16,13,9));",
     24, kExact, "IFC4"},
};

const std::vector<ShapeCase> TestSolids::kCurved = {
    {"box of planes and lines", advancedBox(), 24, kExact, "IFC4", 52.0, box({0, 0, 0}, {2, 3, 4})},
    {"cylinder with a seam",
     advancedCylinder("#101=IFCCYLINDRICALSURFACE(#590,{1});"),
     2 * kPi,
     kRound,
     "IFC4",
     {},
     box({-1, -1, 0}, {1, 1, 2})},
    {"cylinder as a swept circle",
     advancedCylinder(
         "#101=IFCSURFACEOFLINEAREXTRUSION(#98,#590,#84,{2});#98=IFCARBITRARYCLOSEDPROFILEDEF(.CURVE.,$,#99);"
         "#99=IFCCIRCLE(#95,{1});#95=IFCAXIS2PLACEMENT2D(#94,$);#94=IFCCARTESIANPOINT((0.,0.));"),
     2 * kPi, kRound, "IFC4"},
    {"cylinder as a turned line",
     advancedCylinder("#101=IFCSURFACEOFREVOLUTION(#98,#590,#99);#98=IFCARBITRARYOPENPROFILEDEF(.CURVE.,$,#95);"
                      "#95=IFCLINE(#60,#83);#99=IFCAXIS1PLACEMENT(#591,#84);"),
     2 * kPi, kRound, "IFC4"},
    {"sphere of one face",
     "#20=IFCADVANCEDBREP(#30);#30=IFCCLOSEDSHELL((#100));#100=IFCADVANCEDFACE((#102),#101,.T.);#101="
     "IFCSPHERICALSURFACE(#590,{2});"
     "#102=IFCFACEOUTERBOUND(#103,.T.);#103=IFCEDGELOOP((#104,#105));#104=IFCORIENTEDEDGE(*,*,#106,.T.);#105="
     "IFCORIENTEDEDGE(*,*,#106,.F.);"
     "#106=IFCEDGECURVE(#70,#71,#107,.T.);#70=IFCVERTEXPOINT(#60);#71=IFCVERTEXPOINT(#61);#107=IFCCIRCLE(#595,{2});"
     "#595=IFCAXIS2PLACEMENT3D(#9,#596,#597);#596=IFCDIRECTION((0.,-1.,0.));#597=IFCDIRECTION((1.,0.,0.));" +
         at(590, {0, 0, 0}) + points(60, {{0, 0, -2}, {0, 0, 2}}),
     32 * kPi / 3,
     kRound,
     "IFC4",
     {},
     box({-2, -2, -2}, {2, 2, 2})},
    {"torus of one face",
     "#20=IFCADVANCEDBREP(#30);#30=IFCCLOSEDSHELL((#100));#100=IFCADVANCEDFACE((#102),#101,.T.);#101="
     "IFCTOROIDALSURFACE(#590,{2},{0.5});"
     "#102=IFCFACEOUTERBOUND(#103,.T.);#103=IFCEDGELOOP((#104,#105,#106,#107));"
     "#104=IFCORIENTEDEDGE(*,*,#110,.T.);#105=IFCORIENTEDEDGE(*,*,#111,.T.);#106=IFCORIENTEDEDGE(*,*,#110,.F.);#107="
     "IFCORIENTEDEDGE(*,*,#111,.F.);"
     "#110=IFCEDGECURVE(#70,#70,#112,.T.);#111=IFCEDGECURVE(#70,#70,#113,.T.);#70=IFCVERTEXPOINT(#60);"
     "#112=IFCCIRCLE(#590,{2.5});#113=IFCCIRCLE(#595,{0.5});#595=IFCAXIS2PLACEMENT3D(#61,#596,#597);#596=IFCDIRECTION(("
     "0.,-1.,0.));#597=IFCDIRECTION((1.,0.,0.));" +
         at(590, {0, 0, 0}) + points(60, {{2.5, 0, 0}, {2, 0, 0}}),
     2 * kPi* kPi * 2 * 0.25,
     kRound,
     "IFC4",
     {},
     box({-2.5, -2.5, -0.5}, {2.5, 2.5, 0.5})},
    {"quarter of a cylinder on a rational B-spline surface",
     points(60, {{1, 0, 0}, {1, 1, 0}, {0, 1, 0}, {1, 0, 2}, {1, 1, 2}, {0, 1, 2}, {0, 0, 0}, {0, 0, 2}}) +
         at(590, {0, 0, 0}) + at(592, {0, 0, 2}) +
         "#70=IFCVERTEXPOINT(#60);#71=IFCVERTEXPOINT(#62);#72=IFCVERTEXPOINT(#63);#73=IFCVERTEXPOINT(#65);#74="
         "IFCVERTEXPOINT(#66);#75=IFCVERTEXPOINT(#67);"
         "#80=IFCCIRCLE(#590,{1});#81=IFCCIRCLE(#592,{1});#84=IFCDIRECTION((0.,0.,1.));#83=IFCVECTOR(#84,{1});#85="
         "IFCDIRECTION((1.,0.,0.));#86=IFCVECTOR(#85,{1});"
         "#87=IFCDIRECTION((0.,1.,0.));#88=IFCVECTOR(#87,{1});"
         "#110=IFCEDGECURVE(#70,#71,#80,.T.);#111=IFCEDGECURVE(#72,#73,#81,.T.);"
         "#112=IFCEDGECURVE(#70,#72,#200,.T.);#200=IFCLINE(#60,#83);#113=IFCEDGECURVE(#71,#73,#201,.T.);#201=IFCLINE(#"
         "62,#83);"
         "#114=IFCEDGECURVE(#74,#70,#202,.T.);#202=IFCLINE(#66,#86);#115=IFCEDGECURVE(#74,#71,#203,.T.);#203=IFCLINE(#"
         "66,#88);"
         "#116=IFCEDGECURVE(#75,#72,#204,.T.);#204=IFCLINE(#67,#86);#117=IFCEDGECURVE(#75,#73,#205,.T.);#205=IFCLINE(#"
         "67,#88);"
         "#118=IFCEDGECURVE(#74,#75,#206,.T.);#206=IFCLINE(#66,#83);"
         "#300=IFCORIENTEDEDGE(*,*,#110,.T.);#301=IFCORIENTEDEDGE(*,*,#113,.T.);#302=IFCORIENTEDEDGE(*,*,#111,.F.);#"
         "303=IFCORIENTEDEDGE(*,*,#112,.F.);"
         "#304=IFCORIENTEDEDGE(*,*,#110,.F.);#305=IFCORIENTEDEDGE(*,*,#114,.F.);#306=IFCORIENTEDEDGE(*,*,#115,.T.);"
         "#307=IFCORIENTEDEDGE(*,*,#111,.T.);#308=IFCORIENTEDEDGE(*,*,#117,.F.);#309=IFCORIENTEDEDGE(*,*,#116,.T.);"
         "#310=IFCORIENTEDEDGE(*,*,#114,.T.);#311=IFCORIENTEDEDGE(*,*,#112,.T.);#312=IFCORIENTEDEDGE(*,*,#116,.F.);#"
         "313=IFCORIENTEDEDGE(*,*,#118,.F.);"
         "#314=IFCORIENTEDEDGE(*,*,#118,.T.);#315=IFCORIENTEDEDGE(*,*,#117,.T.);#316=IFCORIENTEDEDGE(*,*,#113,.F.);#"
         "317=IFCORIENTEDEDGE(*,*,#115,.F.);"
         "#320=IFCEDGELOOP((#300,#301,#302,#303));#321=IFCEDGELOOP((#306,#304,#305));#322=IFCEDGELOOP((#307,#308,#309))"
         ";"
         "#323=IFCEDGELOOP((#310,#311,#312,#313));#324=IFCEDGELOOP((#314,#315,#316,#317));"
         "#330=IFCFACEOUTERBOUND(#320,.T.);#331=IFCFACEOUTERBOUND(#321,.T.);#332=IFCFACEOUTERBOUND(#322,.T.);#333="
         "IFCFACEOUTERBOUND(#323,.T.);#334=IFCFACEOUTERBOUND(#324,.T.);"
         "#340=IFCRATIONALBSPLINESURFACEWITHKNOTS(2,1,((#60,#63),(#61,#64),(#62,#65)),.UNSPECIFIED.,.F.,.F.,.F.,(3,3),("
         "2,2),(0.,1.),(0.,1.),.UNSPECIFIED.,((1.,1.),(0.707106781186548,0.707106781186548),(1.,1.)));"
         "#341=IFCPLANE(#350);#350=IFCAXIS2PLACEMENT3D(#66,#351,$);#351=IFCDIRECTION((0.,0.,-1.));#342=IFCPLANE(#592);"
         "#343=IFCPLANE(#352);#352=IFCAXIS2PLACEMENT3D(#66,#353,#85);#353=IFCDIRECTION((0.,-1.,0.));#344=IFCPLANE(#354)"
         ";#354=IFCAXIS2PLACEMENT3D(#66,#355,#87);#355=IFCDIRECTION((-1.,0.,0.));"
         "#360=IFCADVANCEDFACE((#330),#340,.T.);#361=IFCADVANCEDFACE((#331),#341,.T.);#362=IFCADVANCEDFACE((#332),#342,"
         ".T.);#363=IFCADVANCEDFACE((#333),#343,.T.);#364=IFCADVANCEDFACE((#334),#344,.T.);"
         "#30=IFCCLOSEDSHELL((#360,#361,#362,#363,#364));#20=IFCADVANCEDBREP(#30);",
     2 * kPi / 4, kRound, "IFC4"},
};

const std::vector<ShapeCase> TestSolids::kRepaired = {
    {"a shell inside out",
     kPyramid + "#20=IFCFACETEDBREP(#30);" +
         faces(100, {"#60,#61,#62,#63", "#64,#61,#60", "#64,#62,#61", "#64,#63,#62", "#64,#60,#63"}),
     4,
     kExact,
     "IFC2X3",
     {},
     {},
     {"geometry.inside-out"}},
    {"one face against the others",
     kPyramid + "#20=IFCFACETEDBREP(#30);" +
         faces(100, {"#63,#62,#61,#60", "#60,#64,#61", "#61,#62,#64", "#62,#63,#64", "#63,#60,#64"}),
     4,
     kExact,
     "IFC2X3",
     {},
     {},
     {"geometry.turned-faces"}},
    {"a point written twice in a loop",
     kPyramid + "#20=IFCFACETEDBREP(#30);" +
         faces(100, {"#63,#62,#62,#61,#60", "#60,#61,#64", "#61,#62,#64", "#62,#63,#64", "#63,#60,#64"}),
     4,
     kExact,
     "IFC2X3",
     {},
     {},
     {"geometry.repeated-point"}},
    {"a corner that misses by a tenth of a millimetre",
     kPyramid + points(65, {{1.0001, 1, 3}}) + "#20=IFCFACETEDBREP(#30);" +
         faces(100, {"#63,#62,#61,#60", "#60,#61,#64", "#61,#62,#65", "#62,#63,#64", "#63,#60,#64"}),
     4,
     1e-3,
     "IFC2X3",
     {},
     {},
     {"geometry.gap-closed"}},
    {"an edge that one neighbour splits",
     kPyramid + points(65, {{1, 0, 0}}) + "#20=IFCFACETEDBREP(#30);" +
         faces(100, {"#63,#62,#61,#65,#60", "#60,#61,#64", "#61,#62,#64", "#62,#63,#64", "#63,#60,#64"}),
     4,
     kExact,
     "IFC2X3",
     {},
     {},
     {"geometry.gap-closed", "geometry.collinear-point"}},
    {"a face without area",
     kPyramid + "#20=IFCFACETEDBREP(#30);" + points(65, {{1, 0, 0}}) +
         faces(100, {"#63,#62,#61,#65,#60", "#60,#65,#61", "#60,#61,#64", "#61,#62,#64", "#62,#63,#64", "#63,#60,#64"}),
     4,
     kExact,
     "IFC2X3",
     {},
     {},
     {"geometry.flat-face", "geometry.collinear-point"}},
    {"a hole named as the outer bound",
     kCube + points(200, {{1, 1, 0}, {2, 1, 0}, {2, 2, 0}, {1, 2, 0}, {1, 1, 3}, {2, 1, 3}, {2, 2, 3}, {1, 2, 3}}) +
         "#20=IFCFACETEDBREP(#30);#30=IFCCLOSEDSHELL((#300,#305,#106,#109,#112,#115,#400,#403,#406,#409));"
         "#300=IFCFACE((#301,#303));#301=IFCFACEBOUND(#302,.T.);#302=IFCPOLYLOOP((#60,#63,#62,#61));#303="
         "IFCFACEOUTERBOUND(#304,.T.);#304=IFCPOLYLOOP((#200,#201,#202,#203));"
         "#305=IFCFACE((#306,#308));#306=IFCFACEBOUND(#307,.T.);#307=IFCPOLYLOOP((#204,#207,#206,#205));#308="
         "IFCFACEOUTERBOUND(#309,.T.);#309=IFCPOLYLOOP((#64,#65,#66,#67));" +
         faces(100, kCubeFaces, 31) +
         faces(400, {"#200,#204,#205,#201", "#201,#205,#206,#202", "#202,#206,#207,#203", "#203,#207,#204,#200"}, 32),
     24,
     kExact,
     "IFC2X3",
     {},
     {},
     {"geometry.swapped-bounds"}},
    {"a face that is not flat", // one corner lifted by 30 mm: the prism gains a third of the base times it
     points(60, {{0, 0, 0}, {3, 0, 0}, {3, 3, 0}, {0, 3, 0}, {0, 0, 3}, {3, 0, 3}, {3, 3, 3.03}, {0, 3, 3}}) +
         "#20=IFCFACETEDBREP(#30);" + faces(100, kCubeFaces),
     27,
     0.01,
     "IFC2X3",
     {},
     {},
     {"geometry.non-planar"}},
};

void TestSolids::saysWhyABodyIsOpen()
{
    const auto read =
        readText(ifcFile("IFC4", inUnits(kPyramid + "#20=IFCFACETEDBREP(#30);" +
                                             faces(100, {"#60,#61,#64", "#61,#62,#64", "#62,#63,#64", "#63,#60,#64"}),
                                         1) +
                                     proxyOver("#20")));
    QVERIFY(!read->geometry->elements()[0].isClosed);
    bool isSaid = false;
    for (const Diagnostic& d : read->geometry->diagnostics())
        isSaid = isSaid || (d.code == "geometry.open" && d.entity == "#20" &&
                            d.message.find("4 edges have a face on one side only") != std::string::npos);
    QVERIFY(isSaid);
}

QTEST_GUILESS_MAIN(TestSolids)
#include "test_solids.moc"
