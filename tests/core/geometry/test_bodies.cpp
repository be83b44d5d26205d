#include "support/shape_cases.h"

#include <cmath>
#include <numbers>

using namespace wendrix;
using namespace wendrix::test;

/// Whole elements: shapes shared between them, openings taken out of them, colours, and what can not be built.
class TestBodies : public QObject {
    Q_OBJECT
private slots:
    void mapsShapesOnce();
    void buildsOneProfileOnce();
    void sharesEqualBodies();
    void takesColours();
    void subtractsOpeningsFlushWithTheFaces();
    void subtractsOpenings_data();
    void subtractsOpenings();
    void aCutThatWouldTouchItselfIsLeftOut();
    void saysWhatItCanNotBuild_data();
    void saysWhatItCanNotBuild();
    void staysInBounds_data();
    void staysInBounds();
};

namespace {

const std::string kUp = "#22=IFCDIRECTION((0.,0.,1.));";

/// A product with one body.
std::string product(int id, const std::string& kind, const std::string& item, const std::string& placement = "#4")
{
    const std::string n = std::to_string(id), r = std::to_string(id + 1), s = std::to_string(id + 2);
    return "#" + n + "=" + kind + "('" + std::string(22 - n.size(), '0') + n + "',$,$,$,$," + placement + ",#" + s +
           ",$,$);#" + r + "=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(" + item + "));#" + s +
           "=IFCPRODUCTDEFINITIONSHAPE($,$,(#" + r + "));";
}

} // namespace

void TestBodies::mapsShapesOnce()
{
    std::string body =
        kUp +
        "#50=IFCEXTRUDEDAREASOLID(#21,#8,#22,5.);#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,2.,3.);"
        "#80=IFCREPRESENTATIONMAP(#8,#82);#82=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#50));"
        "#81=IFCCARTESIANTRANSFORMATIONOPERATOR3D($,$,#9,$,$);#85=IFCMAPPEDITEM(#80,#81);"
        "#90=IFCSHAPEREPRESENTATION(#3,'Body','MappedRepresentation',(#85));#91=IFCPRODUCTDEFINITIONSHAPE($,$,(#90));";
    for (int i = 100; i < 103; ++i)
        body += "#" + std::to_string(i) + "=IFCBUILDINGELEMENTPROXY('0000000000000000000" + std::to_string(i) +
                "',$,$,$,$,#4,#91,$,$);";
    const auto read = test::readText(test::ifcFile("IFC4", body));
    QCOMPARE(read->geometry->elements().size(), std::size_t{3});
    QCOMPARE(read->geometry->shapes().size(), std::size_t{1});
    for (const auto& e : read->geometry->elements())
        QVERIFY(std::abs(e.volume - 30) < 1e-9);
}

void TestBodies::buildsOneProfileOnce()
{
    // Three pipes of one profile, written three times, in three lengths and places.
    std::string body = kUp;
    for (int i = 0; i < 3; ++i) {
        const std::string p = std::to_string(200 + i), e = std::to_string(210 + i), at = std::to_string(230 + 2 * i),
                          point = std::to_string(231 + 2 * i);
        body += "#" + p + "=IFCCIRCLEHOLLOWPROFILEDEF(.AREA.,$,$,0.1,0.01);#" + e + "=IFCEXTRUDEDAREASOLID(#" + p +
                ",#" + at + ",#22," + std::to_string(i + 1) + ".);#" + at + "=IFCAXIS2PLACEMENT3D(#" + point +
                ",$,$);#" + point + "=IFCCARTESIANPOINT((" + std::to_string(i) + ".,0.,0.));" +
                product(300 + 10 * i, "IFCBUILDINGELEMENTPROXY", "#" + e);
    }
    const auto read = readText(ifcFile("IFC4", body));
    QCOMPARE(read->geometry->shapes().size(), std::size_t{1});
    for (int i = 0; i < 3; ++i) {
        const geometry::ElementShape& pipe = read->geometry->elements()[static_cast<std::size_t>(i)];
        const double section = 12 * std::sin(std::numbers::pi / 12) * (0.01 - 0.0081); // of the 24-sided ring
        const double around = 48 * std::sin(std::numbers::pi / 24) * (0.1 + 0.09);
        QVERIFY(std::abs(pipe.volume - section * (i + 1)) < 1e-12);
        QVERIFY(std::abs(pipe.area - (2 * section + around * (i + 1))) < 1e-9);
        QVERIFY(std::abs(pipe.bounds.max.z - (i + 1)) < 1e-12);
        QVERIFY(std::abs(geometry::volumeOf(read->geometry->meshOf(static_cast<std::uint32_t>(i))) - pipe.volume) <
                1e-12);
    }
}

void TestBodies::sharesEqualBodies()
{
    const std::string cube = points(60, {{0, 0, 0}, {2, 0, 0}, {2, 2, 0}, {0, 2, 0}, {1, 1, 3}});
    const std::vector<std::string> sides = {"#63,#62,#61,#60", "#60,#61,#64", "#61,#62,#64", "#62,#63,#64",
                                            "#63,#60,#64"};
    const auto read = readText(ifcFile("IFC4", inUnits(cube, 1) + faces(100, sides, 30) + faces(150, sides, 31) +
                                                   "#40=IFCFACETEDBREP(#30);#41=IFCFACETEDBREP(#31);" +
                                                   product(300, "IFCBUILDINGELEMENTPROXY", "#40") +
                                                   product(310, "IFCBUILDINGELEMENTPROXY", "#41")));
    QCOMPARE(read->geometry->elements().size(), std::size_t{2});
    QCOMPARE(read->geometry->shapes().size(), std::size_t{1});
}

void TestBodies::takesColours()
{
    // Red by its own style; green by its material; blue on an item inside a mapped shape.
    const auto style = [](int id, const char* rgb) {
        const std::string a = std::to_string(id), b = std::to_string(id + 1), c = std::to_string(id + 2);
        return "#" + a + "=IFCSURFACESTYLE($,.BOTH.,(#" + b + "));#" + b + "=IFCSURFACESTYLERENDERING(#" + c +
               ",0.25,$,$,$,$,$,$,.FLAT.);#" + c + "=IFCCOLOURRGB($," + rgb + ");";
    };
    const std::string text =
        inUnits(extrusion("IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{2},{3})"), 1) +
        "#40=IFCEXTRUDEDAREASOLID(#21,#8,#22,2.);#41=IFCEXTRUDEDAREASOLID(#21,#8,#22,3.);" + style(500, "1.,0.,0.") +
        style(510, "0.,1.,0.") + style(520, "0.,0.,1.") +
        "#503=IFCSTYLEDITEM(#20,(#500),$);#523=IFCSTYLEDITEM(#41,(#520),$);"
        "#513=IFCSTYLEDITEM($,(#510),$);#514=IFCSTYLEDREPRESENTATION(#3,'Style','Material',(#513));#515="
        "IFCMATERIALDEFINITIONREPRESENTATION($,$,(#514),#516);"
        "#516=IFCMATERIAL('Steel',$,$);#517=IFCMATERIALLAYER(#516,0.1,$,$,$,$,$);#518=IFCMATERIALLAYERSET((#517),$,$);"
        "#519=IFCRELASSOCIATESMATERIAL('0000000000000000000519',$,$,$,(#310),#518);"
        "#80=IFCREPRESENTATIONMAP(#8,#82);#82=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#41));#81="
        "IFCCARTESIANTRANSFORMATIONOPERATOR3D($,$,#9,$,$);#85=IFCMAPPEDITEM(#80,#81);" +
        product(300, "IFCBUILDINGELEMENTPROXY", "#20") + product(310, "IFCBUILDINGELEMENTPROXY", "#40") +
        product(320, "IFCBUILDINGELEMENTPROXY", "#85");
    const auto read = readText(ifcFile("IFC4", text));
    QCOMPARE(read->geometry->elements().size(), std::size_t{3});
    const auto colourOf = [&](std::size_t i) {
        const geometry::PlacedShape& placed = read->geometry->elements()[i].placed.at(0);
        const auto& runs = read->geometry->shapes()[placed.shape].colours;
        return runs[0].colour ? *runs[0].colour : placed.colour.value_or(ifc::SurfaceColour{});
    };
    QCOMPARE(colourOf(0), (ifc::SurfaceColour{1, 0, 0, 0.25}));
    QCOMPARE(colourOf(1), (ifc::SurfaceColour{0, 1, 0, 0.25}));
    QCOMPARE(colourOf(2), (ifc::SurfaceColour{0, 0, 1, 0.25}));
}

void TestBodies::subtractsOpeningsFlushWithTheFaces()
{
    // A wall 4 x 0.3 x 3 turned in plan, with a door flush with both its faces and its foot, and a window.
    const std::string body =
        kUp + "#20=IFCEXTRUDEDAREASOLID(#21,#8,#22,3.);#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,4.,0.3);"
              "#40=IFCLOCALPLACEMENT(#4,#41);#41=IFCAXIS2PLACEMENT3D(#42,#22,#43);#42=IFCCARTESIANPOINT((1234.567,-89."
              "1,2.));#43=IFCDIRECTION((0.83,0.56,0.));"
              "#90=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#20));#91=IFCPRODUCTDEFINITIONSHAPE($,$,(#90));"
              "#92=IFCWALL('0000000000000000000092',$,'Wall',$,$,#40,#91,$,$);"
              "#50=IFCLOCALPLACEMENT(#40,#51);#51=IFCAXIS2PLACEMENT3D(#52,$,$);#52=IFCCARTESIANPOINT((-1.,0.,0.));"
              "#53=IFCEXTRUDEDAREASOLID(#54,#8,#22,2.);#54=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,1.,0.3);"
              "#55=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#53));#56=IFCPRODUCTDEFINITIONSHAPE($,$,(#55));"
              "#57=IFCOPENINGELEMENT('0000000000000000000057',$,'Door',$,$,#50,#56,$,$);#58=IFCRELVOIDSELEMENT('"
              "0000000000000000000058',$,$,$,#92,#57);"
              "#60=IFCLOCALPLACEMENT(#40,#61);#61=IFCAXIS2PLACEMENT3D(#62,$,$);#62=IFCCARTESIANPOINT((1.,0.,1.));"
              "#67=IFCOPENINGELEMENT('0000000000000000000067',$,'Window',$,$,#60,#68,$,$);#68="
              "IFCPRODUCTDEFINITIONSHAPE($,$,(#69));"
              "#69=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#63));#63=IFCEXTRUDEDAREASOLID(#64,#8,#22,1.);#64="
              "IFCRECTANGLEPROFILEDEF(.AREA.,$,$,0.5,1.);"
              "#59=IFCRELVOIDSELEMENT('0000000000000000000059',$,$,$,#92,#67);";
    const auto read = test::readText(test::ifcFile("IFC4", body));
    QCOMPARE(read->geometry->elements().size(), std::size_t{1});
    const geometry::ElementShape& wall = read->geometry->elements()[0];
    QVERIFY(wall.isClosed);
    const double volume = 4 * 0.3 * 3 - 1 * 0.3 * 2 - 0.5 * 0.3 * 1;
    QVERIFY2(std::abs(wall.volume - volume) <= 1e-9 * volume, std::to_string(wall.volume).c_str());
    // No skin is left across the door: both faces lose its area, its reveals come in.
    const double area =
        2 * (4 * 3 - 2 - 0.5) + 2 * (3 * 0.3) + 4 * 0.3 + 3 * 0.3 + (2 * 2 * 0.3 + 1 * 0.3) + 2 * (0.5 + 1) * 0.3;
    QVERIFY2(std::abs(wall.area - area) <= 1e-6,
             (std::to_string(wall.area) + " m², should be " + std::to_string(area)).c_str());
}

void TestBodies::subtractsOpenings_data()
{
    QTest::addColumn<QString>("body");
    QTest::addColumn<int>("host");
    QTest::addColumn<double>("volume");
    QTest::addColumn<double>("relative");
    const auto row = [](const char* name, const std::string& body, int host, double volume, double relative = kExact) {
        QTest::newRow(name) << QString::fromStdString(kUp + body) << host << volume << relative;
    };
    // A wall 4 x 0.3 x 3, the solid #20, and openings 1 x 0.5 x 1 that go through it.
    const std::string wall = "#20=IFCEXTRUDEDAREASOLID(#21,#8,#22,3.);#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,4.,0.3);";
    const std::string hole = "#40=IFCEXTRUDEDAREASOLID(#41,#42,#22,1.);#41=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,1.,0.5);#"
                             "42=IFCAXIS2PLACEMENT3D(#43,$,$);#43=IFCCARTESIANPOINT((0.,0.,1.));";
    const std::string voids = "#500=IFCRELVOIDSELEMENT('0000000000000000000500',$,$,$,#300,#310);";
    row("one", wall + hole + product(300, "IFCWALL", "#20") + product(310, "IFCOPENINGELEMENT", "#40") + voids, 300,
        3.6 - 0.3);
    row("two that overlap",
        wall + hole +
            "#45=IFCEXTRUDEDAREASOLID(#41,#46,#22,1.);#46=IFCAXIS2PLACEMENT3D(#47,$,$);#47=IFCCARTESIANPOINT((0.5,0.,1."
            "5));" +
            product(300, "IFCWALL", "#20") + product(310, "IFCOPENINGELEMENT", "#40") +
            product(320, "IFCOPENINGELEMENT", "#45") + voids +
            "#501=IFCRELVOIDSELEMENT('0000000000000000000501',$,$,$,#300,#320);",
        300, 3.6 - 0.3 * (2 - 0.25));
    row("a round one",
        wall +
            "#40=IFCEXTRUDEDAREASOLID(#41,#42,#44,1.);#41=IFCCIRCLEPROFILEDEF(.AREA.,$,$,0.4);#42=IFCAXIS2PLACEMENT3D(#"
            "43,#45,$);"
            "#43=IFCCARTESIANPOINT((0.,-0.5,1.5));#44=IFCDIRECTION((0.,0.,1.));#45=IFCDIRECTION((0.,1.,0.));" +
            product(300, "IFCWALL", "#20") + product(310, "IFCOPENINGELEMENT", "#40") + voids,
        300, 3.6 - 0.3 * std::numbers::pi * 0.16, 0.005);
    row("a faceted one",
        wall +
            faces(100, {"#60,#63,#62,#61", "#64,#65,#66,#67", "#60,#61,#65,#64", "#61,#62,#66,#65", "#62,#63,#67,#66",
                        "#63,#60,#64,#67"}) +
            inUnits(
                points(60,
                       {{0, -1, 1}, {1, -1, 1}, {1, 1, 1}, {0, 1, 1}, {0, -1, 2}, {1, -1, 2}, {1, 1, 2}, {0, 1, 2}}),
                1) +
            "#40=IFCFACETEDBREP(#30);" + product(300, "IFCWALL", "#20") + product(310, "IFCOPENINGELEMENT", "#40") +
            voids,
        300, 3.6 - 0.3);
    row("a recess that does not go through",
        wall +
            "#40=IFCEXTRUDEDAREASOLID(#41,#42,#22,1.);#41=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,1.,0.2);#42="
            "IFCAXIS2PLACEMENT3D(#43,$,$);"
            "#43=IFCCARTESIANPOINT((0.,0.15,1.));" +
            product(300, "IFCWALL", "#20") + product(310, "IFCOPENINGELEMENT", "#40") + voids,
        300, 3.6 - 0.1);
    row("one that misses",
        wall +
            "#40=IFCEXTRUDEDAREASOLID(#41,#42,#22,1.);#41=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,1.,0.2);#42="
            "IFCAXIS2PLACEMENT3D(#43,$,$);"
            "#43=IFCCARTESIANPOINT((0.,9.,1.));" +
            product(300, "IFCWALL", "#20") + product(310, "IFCOPENINGELEMENT", "#40") + voids,
        300, 3.6);
    row("out of a part of an assembly",
        wall + hole + product(300, "IFCWALL", "#20") + product(310, "IFCOPENINGELEMENT", "#40") + voids +
            product(330, "IFCMEMBER", "#20") + "#502=IFCRELAGGREGATES('0000000000000000000502',$,$,$,#300,(#330));",
        330, 3.6 - 0.3);
    row("out of a mapped shape, which stays whole elsewhere",
        wall + hole +
            "#80=IFCREPRESENTATIONMAP(#8,#82);#82=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#20));#81="
            "IFCCARTESIANTRANSFORMATIONOPERATOR3D($,$,#9,$,$);"
            "#85=IFCMAPPEDITEM(#80,#81);" +
            product(300, "IFCWALL", "#85") + product(310, "IFCOPENINGELEMENT", "#40") + voids +
            product(330, "IFCWALL", "#85"),
        300, 3.6 - 0.3);
    row("out of each of two layers",
        wall + hole +
            "#25=IFCEXTRUDEDAREASOLID(#21,#26,#22,3.);#26=IFCAXIS2PLACEMENT3D(#27,$,$);#27=IFCCARTESIANPOINT((0.,0.05,"
            "0.));" +
            product(300, "IFCWALL", "#20,#25") + product(310, "IFCOPENINGELEMENT", "#40") + voids,
        300, 2 * (3.6 - 0.3));
    row("numbers written as integers",
        "#20=IFCEXTRUDEDAREASOLID(#21,#8,#22,3);#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,4,1);#40=IFCBLOCK(#42,1,9,1);"
        "#42=IFCAXIS2PLACEMENT3D(#43,$,$);#43=IFCCARTESIANPOINT((0,-4,1));" +
            product(300, "IFCWALL", "#20") + product(310, "IFCOPENINGELEMENT", "#40") + voids,
        300, 12 - 1.0);
    row("all of it",
        wall + "#40=IFCEXTRUDEDAREASOLID(#41,#8,#22,2.);#41=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,9.,9.);" +
            product(300, "IFCWALL", "#20") + product(310, "IFCOPENINGELEMENT", "#40") + voids,
        300, 1.2);
}

void TestBodies::subtractsOpenings()
{
    QFETCH(QString, body);
    QFETCH(int, host);
    QFETCH(double, volume);
    QFETCH(double, relative);
    const auto read = readText(ifcFile("IFC4", body.toStdString()));
    for (std::size_t i = 0; i < read->model->elements().size(); ++i) {
        const geometry::ElementShape& shape = read->geometry->elements()[i];
        QVERIFY(shape.isClosed);
        if (read->model->elements()[i].entity == static_cast<ifc::EntityId>(host))
            QVERIFY2(std::abs(shape.volume - volume) <= relative * volume, std::to_string(shape.volume).c_str());
    }
    QVERIFY(read->geometry->diagnostics().empty());
}

void TestBodies::aCutThatWouldTouchItselfIsLeftOut()
{
    // A corner of 0.5 m is cut out of a block; the next cut meets it in one upright edge, where four faces would meet.
    const auto read = test::readText(test::ifcFile(
        "IFC4", "#50=IFCEXTRUDEDAREASOLID(#21,#8,#22,5.);#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,2.,3.);"
                "#22=IFCDIRECTION((0.,0.,1.));#20=IFCBOOLEANRESULT(.DIFFERENCE.,#58,#591);"
                "#58=IFCBOOLEANRESULT(.DIFFERENCE.,#50,#95);#95=IFCBLOCK(#53,0.5,0.5,9.);#591=IFCBLOCK(#8,9.,9.,1.);"
                "#53=IFCAXIS2PLACEMENT3D(#54,$,$);#54=IFCCARTESIANPOINT((-0.5,-0.5,-2.));" +
                    test::proxyOver("#20")));
    QVERIFY(std::abs(read->geometry->elements()[0].volume - (30 - 0.25 * 5)) < 1e-9);
    QVERIFY(!read->geometry->diagnostics().empty());
    QCOMPARE(read->geometry->diagnostics()[0].code, std::string("geometry.not-a-solid"));
    QCOMPARE(read->geometry->diagnostics()[0].entity, std::string("#20"));
}

void TestBodies::saysWhatItCanNotBuild_data()
{
    QTest::addColumn<QString>("body");
    QTest::addColumn<QString>("code");
    QTest::addColumn<QString>("entity");
    // clang-format off
    QTest::newRow("an unknown kind of item") << "#20=IFCBOUNDINGBOX(#9,1.,1.,1.);" << "geometry.not-built" << "#20";
    QTest::newRow("a sphere without radius") << "#20=IFCSPHERE(#8,$);" << "geometry.not-built" << "#20";
    QTest::newRow("a point that is no number") << "#20=IFCFACETEDBREP(#30);#60=IFCCARTESIANPOINT((nan,0.,0.));#61=IFCCARTESIANPOINT((1.,0.,0.));#62=IFCCARTESIANPOINT((0.,1.,0.));#100=IFCFACE((#101));#101=IFCFACEOUTERBOUND(#102,.T.);#102=IFCPOLYLOOP((#60,#61,#62));#30=IFCCLOSEDSHELL((#100));" << "geometry.not-built" << "#20";
    QTest::newRow("a place beyond all places") << "#22=IFCDIRECTION((0.,0.,1.));#20=IFCEXTRUDEDAREASOLID(#21,#40,#22,1.);#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,2.,3.);#40=IFCAXIS2PLACEMENT3D(#41,$,$);#41=IFCCARTESIANPOINT((1.E300,0.,0.));" << "geometry.not-built" << "#20";
    QTest::newRow("a placement beyond all places") << "#22=IFCDIRECTION((0.,0.,1.));#20=IFCMAPPEDITEM(#80,#81);#80=IFCREPRESENTATIONMAP(#8,#82);#82=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#50));#50=IFCBLOCK(#8,1.,1.,1.);#81=IFCCARTESIANTRANSFORMATIONOPERATOR3D($,$,#83,1.,$);#83=IFCCARTESIANPOINT((1.E12,0.,0.));" << "geometry.place" << "#92";
    QTest::newRow("an outline that crosses itself")
        << QString::fromStdString(inUnits(extrusion("IFCARBITRARYCLOSEDPROFILEDEF(.AREA.,$,#50)") + "#50=IFCPOLYLINE((#60,#61,#62,#63,#60));" +
                                  points(60, {{0, 0, 0}, {2, 2, 0}, {2, 0, 0}, {0, 3, 0}}), 1))
        << "geometry.not-built" << "#20";
    QTest::newRow("no height") << QString::fromStdString(extrusion("IFCRECTANGLEPROFILEDEF(.AREA.,$,$,2.,3.)", "0.")) << "geometry.not-built" << "#20";
    QTest::newRow("a missing profile") << "#20=IFCEXTRUDEDAREASOLID(#21,#8,#22,4.);" << "geometry.not-built" << "#20";
    QTest::newRow("a missing item") << "" << "geometry.missing-item" << "#20";
    QTest::newRow("an item that contains itself") << "#20=IFCCSGSOLID(#20);" << "geometry.not-built" << "#20";
    QTest::newRow("indices out of range")
        << "#20=IFCTRIANGULATEDFACESET(#40,$,.T.,((1,3,9),(1,2,-4)),$);#40=IFCCARTESIANPOINTLIST3D(((0.,0.,0.),(1.,0.,0.),(0.,1.,0.)));"
        << "geometry.index" << "#20";
    // clang-format on
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

void TestBodies::staysInBounds_data()
{
    QTest::addColumn<QString>("body");
    std::string doubling = "#40=IFCBLOCK(#8,1.,1.,1.);";
    for (int i = 41; i < 90; ++i)
        doubling += "#" + std::to_string(i) + "=IFCBOOLEANRESULT(.UNION.,#" + std::to_string(i - 1) + ",#" +
                    std::to_string(i - 1) + ");";
    QTest::newRow("booleans that double at every level") << QString::fromStdString(doubling + "#20=IFCCSGSOLID(#89);");
    std::string maps = "#22=IFCDIRECTION((0.,0.,1.));#40=IFCBOUNDINGBOX(#9,1.,1.,1.);#39="
                       "IFCCARTESIANTRANSFORMATIONOPERATOR3D($,$,#9,$,$);";
    for (int i = 0; i < 30; ++i) {
        const std::string from = std::to_string(40 + 3 * i), shape = std::to_string(41 + 3 * i),
                          map = std::to_string(42 + 3 * i);
        maps += "#" + shape + "=IFCSHAPEREPRESENTATION(#3,'Body','MappedRepresentation',(#" + from + ",#" + from +
                "));#" + map + "=IFCREPRESENTATIONMAP(#8,#" + shape + ");#" + std::to_string(43 + 3 * i) +
                "=IFCMAPPEDITEM(#" + map + ",#39);";
    }
    QTest::newRow("maps that double at every level")
        << QString::fromStdString(maps.substr(0, maps.find("#90=")) + "#20=IFCMAPPEDITEM(#87,#39);");
    std::string profiles = "#22=IFCDIRECTION((0.,0.,1.));#20=IFCEXTRUDEDAREASOLID(#48,#8,#22,1.);#40="
                           "IFCRECTANGLEPROFILEDEF(.AREA.,$,$,1.,1.);";
    for (int i = 41; i < 49; ++i) {
        const std::string inner = "#" + std::to_string(i - 1);
        profiles += "#" + std::to_string(i) + "=IFCCOMPOSITEPROFILEDEF(.AREA.,$,(";
        for (int k = 0; k < 50; ++k)
            profiles += (k == 0 ? "" : ",") + inner;
        profiles += "),$);";
    }
    QTest::newRow("profiles of fifty profiles of fifty") << QString::fromStdString(profiles);
    QTest::newRow("a hole of a face that has no point in range")
        << "#20=IFCPOLYGONALFACESET(#40,.T.,(#41),$);#40=IFCCARTESIANPOINTLIST3D(((0.,0.,0.),(3.,0.,0.),(3.,3.,0.),(0.,"
           "3.,0.)));"
           "#41=IFCINDEXEDPOLYGONALFACEWITHVOIDS((1,4,3,2),((13,16,35,14)));";
    QTest::newRow("a curve within itself")
        << "#22=IFCDIRECTION((0.,0.,1.));#20=IFCEXTRUDEDAREASOLID(#21,#8,#22,1.);#21=IFCARBITRARYCLOSEDPROFILEDEF(."
           "AREA.,$,#50);"
           "#50=IFCCOMPOSITECURVE((#51,#51),.F.);#51=IFCCOMPOSITECURVESEGMENT(.CONTINUOUS.,.T.,#50);";
    QTest::newRow("a knot a billion times")
        << "#22=IFCDIRECTION((0.,0.,1.));#20=IFCEXTRUDEDAREASOLID(#21,#8,#22,1.);#21=IFCARBITRARYCLOSEDPROFILEDEF(."
           "AREA.,$,#50);"
           "#50=IFCBSPLINECURVEWITHKNOTS(2,(#9,#9,#9),.UNSPECIFIED.,.F.,.F.,(1000000000,3),(0.,1.),.UNSPECIFIED.);";
    QTest::newRow("a circle of the size of the sky") << "#22=IFCDIRECTION((0.,0.,1.));#20=IFCEXTRUDEDAREASOLID(#21,#8,#"
                                                        "22,1.);#21=IFCCIRCLEPROFILEDEF(.AREA.,$,$,1.E200);";
}

void TestBodies::staysInBounds()
{
    QFETCH(QString, body);
    const auto read = readText(ifcFile("IFC4", body.toStdString() + proxyOver("#20")));
    QCOMPARE(read->geometry->elements().size(), std::size_t{1}); // it comes to an end, and says that it gave up
    QVERIFY(!read->geometry->diagnostics().empty());
}

QTEST_GUILESS_MAIN(TestBodies)
#include "test_bodies.moc"
