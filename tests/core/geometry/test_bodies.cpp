#include <QTest>

#include "support/ifc_text.h"

#include <cmath>
#include <numbers>

using namespace wendrix;

/// Bodies whose volume is known in closed form. Planar ones are exact; round ones stay within the chord error.
class TestBodies : public QObject {
    Q_OBJECT
private slots:
    void hasTheRightVolume_data();
    void hasTheRightVolume();
    void mapsShapesOnce();
    void subtractsOpeningsFlushWithTheFaces();
    void saysWhatItCanNotBuild_data();
    void saysWhatItCanNotBuild();
};

namespace {

constexpr double kPi = std::numbers::pi;
const std::string kUp = "#22=IFCDIRECTION((0.,0.,1.));";

std::string extrusion(const std::string& profile, const std::string& depth = "5.")
{
    return kUp + "#20=IFCEXTRUDEDAREASOLID(#21,#8,#22," + depth + ");#21=" + profile + ";";
}

std::string points(int first, std::initializer_list<std::array<double, 3>> list)
{
    std::string text;
    for (const auto& p : list) {
        char line[120];
        std::snprintf(line, sizeof line, "#%d=IFCCARTESIANPOINT((%f,%f,%f));", first++, p[0], p[1], p[2]);
        text += line;
    }
    return text;
}

std::string faces(int first, std::initializer_list<const char*> loops)
{
    std::string text, list;
    for (const char* loop : loops) {
        const std::string face = std::to_string(first), bound = std::to_string(first + 1), poly = std::to_string(first + 2);
        text += "#" + face + "=IFCFACE((#" + bound + "));#" + bound + "=IFCFACEOUTERBOUND(#" + poly + ",.T.);#" + poly +
                "=IFCPOLYLOOP((" + loop + "));";
        list += (list.empty() ? "#" : ",#") + face;
        first += 3;
    }
    return text + "#30=IFCCLOSEDSHELL((" + list + "));";
}

} // namespace

void TestBodies::hasTheRightVolume_data()
{
    QTest::addColumn<QString>("body");
    QTest::addColumn<QString>("item");
    QTest::addColumn<double>("volume");
    QTest::addColumn<double>("relative"); // how far off it may be
    const auto planar = [](const char* name, const std::string& body, double volume) {
        QTest::newRow(name) << QString::fromStdString(body) << "#20" << volume << 1e-9;
    };
    const auto round = [](const char* name, const std::string& body, double volume) {
        QTest::newRow(name) << QString::fromStdString(body) << "#20" << volume << 0.012;
    };
    planar("rectangle", extrusion("IFCRECTANGLEPROFILEDEF(.AREA.,$,$,2.,3.)"), 30);
    planar("rectangle, placed and turned",
           extrusion("IFCRECTANGLEPROFILEDEF(.AREA.,$,#40,2.,3.)") +
               "#40=IFCAXIS2PLACEMENT2D(#41,#42);#41=IFCCARTESIANPOINT((7.,-3.));#42=IFCDIRECTION((1.,1.));", 30);
    planar("hollow rectangle", extrusion("IFCRECTANGLEHOLLOWPROFILEDEF(.AREA.,$,$,2.,3.,0.25,$,$)"), 5 * (6 - 1.5 * 2.5));
    planar("I section without fillets", extrusion("IFCISHAPEPROFILEDEF(.AREA.,$,$,0.2,0.4,0.01,0.015,$)"),
           5 * (2 * 0.2 * 0.015 + 0.37 * 0.01));
    round("I section with fillets", extrusion("IFCISHAPEPROFILEDEF(.AREA.,$,$,0.2,0.4,0.01,0.015,0.02)"),
          5 * (2 * 0.2 * 0.015 + 0.37 * 0.01 + (4 - kPi) * 0.02 * 0.02));
    planar("L section", extrusion("IFCLSHAPEPROFILEDEF(.AREA.,$,$,0.2,0.1,0.01,$,$,$)"), 5 * (0.2 * 0.01 + 0.09 * 0.01));
    planar("U section", extrusion("IFCUSHAPEPROFILEDEF(.AREA.,$,$,0.3,0.1,0.01,0.015,$,$,$)"),
           5 * (0.3 * 0.01 + 2 * 0.09 * 0.015));
    planar("T section", extrusion("IFCTSHAPEPROFILEDEF(.AREA.,$,$,0.3,0.2,0.01,0.015,$,$,$,$,$)"),
           5 * (0.2 * 0.015 + 0.285 * 0.01));
    planar("Z section", extrusion("IFCZSHAPEPROFILEDEF(.AREA.,$,$,0.3,0.1,0.01,0.015,$,$)"),
           5 * (0.3 * 0.01 + 2 * 0.09 * 0.015));
    planar("C section", extrusion("IFCCSHAPEPROFILEDEF(.AREA.,$,$,0.2,0.1,0.005,0.03,$)"),
           5 * 0.005 * (0.2 + 2 * (0.1 - 0.005) + 2 * (0.03 - 0.005)));
    planar("trapezium", extrusion("IFCTRAPEZIUMPROFILEDEF(.AREA.,$,$,4.,2.,3.,0.5)"), 5 * 9);
    round("circle", extrusion("IFCCIRCLEPROFILEDEF(.AREA.,$,$,0.5)"), 5 * kPi * 0.25);
    round("pipe", extrusion("IFCCIRCLEHOLLOWPROFILEDEF(.AREA.,$,$,0.5,0.1)"), 5 * kPi * (0.25 - 0.16));
    round("ellipse", extrusion("IFCELLIPSEPROFILEDEF(.AREA.,$,$,2.,1.)"), 5 * kPi * 2);
    round("rounded rectangle", extrusion("IFCROUNDEDRECTANGLEPROFILEDEF(.AREA.,$,$,2.,3.,0.5)"),
          5 * (6 - (4 - kPi) * 0.25));
    planar("outline with a hole, both the wrong way round",
           extrusion("IFCARBITRARYPROFILEDEFWITHVOIDS(.AREA.,$,#50,(#51))") +
               "#50=IFCPOLYLINE((#60,#63,#62,#61,#60));#51=IFCPOLYLINE((#64,#65,#66,#67,#64));" +
               points(60, {{0, 0, 0}, {4, 0, 0}, {4, 4, 0}, {0, 4, 0}, {1, 1, 0}, {2, 1, 0}, {2, 2, 0}, {1, 2, 0}}), 75);
    round("half disc from a trimmed circle and a line",
          extrusion("IFCARBITRARYCLOSEDPROFILEDEF(.AREA.,$,#50)") +
              "#50=IFCCOMPOSITECURVE((#51,#52),.F.);#51=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#53);"
              "#52=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#54);#53=IFCTRIMMEDCURVE(#55,(IFCPARAMETERVALUE(0.)),"
              "(IFCPARAMETERVALUE(3.14159265358979)),.T.,.PARAMETER.);#54=IFCPOLYLINE((#60,#61));#55=IFCCIRCLE(#56,1.);"
              "#56=IFCAXIS2PLACEMENT2D(#9,$);" + points(60, {{-1, 0, 0}, {1, 0, 0}}), 5 * kPi / 2);
    planar("extruded askew keeps its base and height",
           "#22=IFCDIRECTION((0.6,0.,0.8));#20=IFCEXTRUDEDAREASOLID(#21,#8,#22,5.);#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,2.,3.);", 24);
    // Pappus: the volume of a turned area is its area times the way of its centroid.
    const std::string turned = "#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,1.,2.);#23=IFCAXIS1PLACEMENT(#24,#25);"
                               "#24=IFCCARTESIANPOINT((-3.,0.,0.));#25=IFCDIRECTION((0.,1.,0.));";
    round("quarter turn", "#20=IFCREVOLVEDAREASOLID(#21,#8,#23,1.5707963267949);" + turned, 2 * 3 * kPi / 2);
    round("full turn", "#20=IFCREVOLVEDAREASOLID(#21,#8,#23,6.28318530717959);" + turned, 2 * 3 * 2 * kPi);
    const std::string corners = points(60, {{0, 0, 0}, {2, 0, 0}, {2, 2, 0}, {0, 2, 0}, {1, 1, 3}});
    planar("pyramid as faceted body",
           corners + "#20=IFCFACETEDBREP(#30);" +
               faces(100, {"#63,#62,#61,#60", "#60,#61,#64", "#61,#62,#64", "#62,#63,#64", "#63,#60,#64"}), 4);
    planar("the same inside out",
           corners + "#20=IFCFACETEDBREP(#30);" +
               faces(100, {"#60,#61,#62,#63", "#64,#61,#60", "#64,#62,#61", "#64,#63,#62", "#64,#60,#63"}), 4);
    planar("triangulated tetrahedron",
           "#20=IFCTRIANGULATEDFACESET(#40,$,.T.,((1,3,2),(1,2,4),(2,3,4),(3,1,4)),$);"
           "#40=IFCCARTESIANPOINTLIST3D(((0.,0.,0.),(1.,0.,0.),(0.,1.,0.),(0.,0.,1.)));", 1.0 / 6);
    planar("polygonal wedge with PnIndex",
           "#20=IFCPOLYGONALFACESET(#40,.T.,(#41,#42,#43,#44,#45),(6,5,4,3,2,1));"
           "#40=IFCCARTESIANPOINTLIST3D(((0.,1.,1.),(0.,0.,1.),(1.,1.,0.),(1.,0.,0.),(0.,1.,0.),(0.,0.,0.)));"
           "#41=IFCINDEXEDPOLYGONALFACE((1,2,4,3));#42=IFCINDEXEDPOLYGONALFACE((1,5,6,2));"
           "#43=IFCINDEXEDPOLYGONALFACE((3,4,6,5));#44=IFCINDEXEDPOLYGONALFACE((1,3,5));#45=IFCINDEXEDPOLYGONALFACE((2,6,4));", 0.5);
    const std::string block = "#50=IFCEXTRUDEDAREASOLID(#21,#8,#22,5.);#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,2.,3.);" + kUp;
    planar("cut by a level half space",
           block + "#20=IFCBOOLEANCLIPPINGRESULT(.DIFFERENCE.,#50,#51);#51=IFCHALFSPACESOLID(#52,.F.);#52=IFCPLANE(#53);"
                   "#53=IFCAXIS2PLACEMENT3D(#54,$,$);#54=IFCCARTESIANPOINT((0.,0.,3.));", 18);
    planar("the other side of the same plane",
           block + "#20=IFCBOOLEANCLIPPINGRESULT(.DIFFERENCE.,#50,#51);#51=IFCHALFSPACESOLID(#52,.T.);#52=IFCPLANE(#53);"
                   "#53=IFCAXIS2PLACEMENT3D(#54,$,$);#54=IFCCARTESIANPOINT((0.,0.,3.));", 12);
    planar("cut by a slope through its middle",
           block + "#20=IFCBOOLEANCLIPPINGRESULT(.DIFFERENCE.,#50,#51);#51=IFCHALFSPACESOLID(#52,.F.);#52=IFCPLANE(#53);"
                   "#53=IFCAXIS2PLACEMENT3D(#54,#55,#56);#54=IFCCARTESIANPOINT((0.,0.,3.));#55=IFCDIRECTION((1.,0.,1.));"
                   "#56=IFCDIRECTION((0.,1.,0.));", 18);
    planar("cut by a bounded half space",
           block + "#20=IFCBOOLEANCLIPPINGRESULT(.DIFFERENCE.,#50,#51);#51=IFCPOLYGONALBOUNDEDHALFSPACE(#52,.F.,#8,#57);"
                   "#52=IFCPLANE(#53);#53=IFCAXIS2PLACEMENT3D(#54,$,$);#54=IFCCARTESIANPOINT((0.,0.,3.));"
                   "#57=IFCPOLYLINE((#60,#61,#62,#63,#60));" +
               points(60, {{0, 0, 0}, {9, 0, 0}, {9, 9, 0}, {0, 9, 0}}), 30 - 1 * 1.5 * 2);
    planar("two blocks joined",
           block + "#20=IFCBOOLEANRESULT(.UNION.,#50,#58);#58=IFCEXTRUDEDAREASOLID(#21,#59,#22,5.);"
                   "#59=IFCAXIS2PLACEMENT3D(#54,$,$);#54=IFCCARTESIANPOINT((1.,0.,0.));", 45);
    planar("two blocks in common",
           block + "#20=IFCBOOLEANRESULT(.INTERSECTION.,#50,#58);#58=IFCEXTRUDEDAREASOLID(#21,#59,#22,5.);"
                   "#59=IFCAXIS2PLACEMENT3D(#54,$,$);#54=IFCCARTESIANPOINT((0.5,0.,0.));", 22.5);
    planar("a mapped block, mirrored and doubled",
           block + "#20=IFCMAPPEDITEM(#80,#81);#80=IFCREPRESENTATIONMAP(#8,#82);#82=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#50));"
                   "#81=IFCCARTESIANTRANSFORMATIONOPERATOR3D(#83,#84,#9,2.,$);#83=IFCDIRECTION((1.,0.,0.));#84=IFCDIRECTION((0.,-1.,0.));", 240);
}

void TestBodies::hasTheRightVolume()
{
    QFETCH(QString, body);
    QFETCH(QString, item);
    QFETCH(double, volume);
    QFETCH(double, relative);
    const auto read = test::readText(test::ifcFile("IFC4", body.toStdString() + test::proxyOver(item.toStdString())));
    const geometry::ElementShape& shape = read->geometry->elements()[0];
    for (const Diagnostic& d : read->geometry->diagnostics())
        qInfo("%s %s", d.entity.c_str(), d.message.c_str());
    QVERIFY(shape.isClosed);
    QVERIFY2(std::abs(shape.volume - volume) <= relative * volume,
             (std::to_string(shape.volume) + " m³, should be " + std::to_string(volume)).c_str());
    QVERIFY(read->geometry->diagnostics().empty());
    // The triangles as placed say the same as the measure that was kept.
    QVERIFY(std::abs(geometry::volumeOf(read->geometry->meshOf(0)) - shape.volume) <= 1e-9 * volume);
}

void TestBodies::mapsShapesOnce()
{
    std::string body = kUp + "#50=IFCEXTRUDEDAREASOLID(#21,#8,#22,5.);#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,2.,3.);"
                             "#80=IFCREPRESENTATIONMAP(#8,#82);#82=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#50));"
                             "#81=IFCCARTESIANTRANSFORMATIONOPERATOR3D($,$,#9,$,$);#85=IFCMAPPEDITEM(#80,#81);"
                             "#90=IFCSHAPEREPRESENTATION(#3,'Body','MappedRepresentation',(#85));#91=IFCPRODUCTDEFINITIONSHAPE($,$,(#90));";
    for (int i = 100; i < 103; ++i)
        body += "#" + std::to_string(i) + "=IFCBUILDINGELEMENTPROXY('0000000000000000000" + std::to_string(i) + "',$,$,$,$,#4,#91,$,$);";
    const auto read = test::readText(test::ifcFile("IFC4", body));
    QCOMPARE(read->geometry->elements().size(), std::size_t{3});
    QCOMPARE(read->geometry->shapes().size(), std::size_t{1});
    for (const auto& e : read->geometry->elements())
        QVERIFY(std::abs(e.volume - 30) < 1e-9);
}

void TestBodies::subtractsOpeningsFlushWithTheFaces()
{
    // A wall 4 x 0.3 x 3 turned in plan, with a door flush with both its faces and its foot, and a window.
    const std::string body = kUp +
        "#20=IFCEXTRUDEDAREASOLID(#21,#8,#22,3.);#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,4.,0.3);"
        "#40=IFCLOCALPLACEMENT(#4,#41);#41=IFCAXIS2PLACEMENT3D(#42,#22,#43);#42=IFCCARTESIANPOINT((1234.567,-89.1,2.));#43=IFCDIRECTION((0.83,0.56,0.));"
        "#90=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#20));#91=IFCPRODUCTDEFINITIONSHAPE($,$,(#90));"
        "#92=IFCWALL('0000000000000000000092',$,'Wall',$,$,#40,#91,$,$);"
        "#50=IFCLOCALPLACEMENT(#40,#51);#51=IFCAXIS2PLACEMENT3D(#52,$,$);#52=IFCCARTESIANPOINT((-1.,0.,0.));"
        "#53=IFCEXTRUDEDAREASOLID(#54,#8,#22,2.);#54=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,1.,0.3);"
        "#55=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#53));#56=IFCPRODUCTDEFINITIONSHAPE($,$,(#55));"
        "#57=IFCOPENINGELEMENT('0000000000000000000057',$,'Door',$,$,#50,#56,$,$);#58=IFCRELVOIDSELEMENT('0000000000000000000058',$,$,$,#92,#57);"
        "#60=IFCLOCALPLACEMENT(#40,#61);#61=IFCAXIS2PLACEMENT3D(#62,$,$);#62=IFCCARTESIANPOINT((1.,0.,1.));"
        "#67=IFCOPENINGELEMENT('0000000000000000000067',$,'Window',$,$,#60,#68,$,$);#68=IFCPRODUCTDEFINITIONSHAPE($,$,(#69));"
        "#69=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#63));#63=IFCEXTRUDEDAREASOLID(#64,#8,#22,1.);#64=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,0.5,1.);"
        "#59=IFCRELVOIDSELEMENT('0000000000000000000059',$,$,$,#92,#67);";
    const auto read = test::readText(test::ifcFile("IFC4", body));
    QCOMPARE(read->geometry->elements().size(), std::size_t{1});
    const geometry::ElementShape& wall = read->geometry->elements()[0];
    QVERIFY(wall.isClosed);
    const double volume = 4 * 0.3 * 3 - 1 * 0.3 * 2 - 0.5 * 0.3 * 1;
    QVERIFY2(std::abs(wall.volume - volume) <= 1e-9 * volume, std::to_string(wall.volume).c_str());
    // No skin is left across the door: both faces lose its area, its reveals come in.
    const double area = 2 * (4 * 3 - 2 - 0.5) + 2 * (3 * 0.3) + 4 * 0.3 + 3 * 0.3 + (2 * 2 * 0.3 + 1 * 0.3) + 2 * (0.5 + 1) * 0.3;
    QVERIFY2(std::abs(wall.area - area) <= 1e-6, (std::to_string(wall.area) + " m², should be " + std::to_string(area)).c_str());
}

void TestBodies::saysWhatItCanNotBuild_data()
{
    QTest::addColumn<QString>("body");
    QTest::addColumn<QString>("code");
    QTest::addColumn<QString>("entity");
    QTest::newRow("an unknown kind of item") << "#20=IFCSPHERE(#8,1.);" << "geometry.not-built" << "#20";
    QTest::newRow("an outline that crosses itself")
        << QString::fromStdString(extrusion("IFCARBITRARYCLOSEDPROFILEDEF(.AREA.,$,#50)") + "#50=IFCPOLYLINE((#60,#61,#62,#63,#60));" +
                                  points(60, {{0, 0, 0}, {2, 2, 0}, {2, 0, 0}, {0, 3, 0}}))
        << "geometry.not-built" << "#20";
    QTest::newRow("no height") << QString::fromStdString(extrusion("IFCRECTANGLEPROFILEDEF(.AREA.,$,$,2.,3.)", "0.")) << "geometry.not-built" << "#20";
    QTest::newRow("a missing profile") << "#20=IFCEXTRUDEDAREASOLID(#21,#8,#22,4.);" << "geometry.not-built" << "#20";
    QTest::newRow("a missing item") << "" << "geometry.missing-item" << "#20";
    QTest::newRow("an item that contains itself") << "#20=IFCCSGSOLID(#20);" << "geometry.not-built" << "#20";
    QTest::newRow("indices out of range")
        << "#20=IFCTRIANGULATEDFACESET(#40,$,.T.,((1,3,9),(1,2,-4)),$);#40=IFCCARTESIANPOINTLIST3D(((0.,0.,0.),(1.,0.,0.),(0.,1.,0.)));"
        << "geometry.index" << "#20";
}

void TestBodies::saysWhatItCanNotBuild()
{
    QFETCH(QString, body);
    QFETCH(QString, code);
    QFETCH(QString, entity);
    const auto read = test::readText(test::ifcFile("IFC4", body.toStdString() + test::proxyOver("#20")));
    QCOMPARE(read->geometry->elements().size(), std::size_t{1}); // it stays in the list
    QVERIFY(read->geometry->elements()[0].placed.empty());
    bool isSaid = false, isElementSaid = false;
    for (const Diagnostic& d : read->geometry->diagnostics()) {
        isSaid = isSaid || (d.code == code.toStdString() && d.entity == entity.toStdString() && !d.message.empty());
        isElementSaid = isElementSaid || (d.code == "geometry.element" && d.entity == "#92");
    }
    QVERIFY(isSaid);
    QVERIFY(isElementSaid);
}

QTEST_GUILESS_MAIN(TestBodies)
#include "test_bodies.moc"
