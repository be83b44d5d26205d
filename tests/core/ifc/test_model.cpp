#include <QTest>

#include <numbers>

#include "support/ifc_text.h"

#include <cmath>

using namespace wendrix;
using test::ifcFile;
using test::proxyOver;

/// What a file says besides shapes: units, structure, properties, grids, place on earth.
class TestModel : public QObject {
    Q_OBJECT
private slots:
    void readsLengthUnits_data();
    void readsLengthUnits();
    void findsTheStoreyThroughAssemblies();
    void readsPropertiesInSi();
    void instanceComesBeforeType();
    void readsGridAxes();
    void readsCircularAxes_data();
    void readsCircularAxes();
    void transformsByTheStandard_data();
    void transformsByTheStandard();
    void readsGeoreference();
    void cutsCircularPlacements();
    void refusesWhatIsNoModel_data();
    void refusesWhatIsNoModel();
};

namespace {

// A 2 x 3 rectangle extruded by 4, in the file's unit, as item #20.
const std::string kBlock = "#20=IFCEXTRUDEDAREASOLID(#21,#8,#22,4.);#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,2.,3.);"
                           "#22=IFCDIRECTION((0.,0.,1.));";

std::shared_ptr<const ifc::Model> modelOf(const std::string& text)
{
    Progress progress;
    static std::vector<std::unique_ptr<std::string>> kept;
    kept.push_back(std::make_unique<std::string>(text));
    return ifc::Model::fromBytes(*kept.back(), "test.ifc", progress).value();
}

} // namespace

void TestModel::readsLengthUnits_data()
{
    QTest::addColumn<QString>("unit");
    QTest::addColumn<double>("toMetres");
    QTest::newRow("metre") << "IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.)" << 1.0;
    QTest::newRow("millimetre") << "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)" << 1e-3;
    QTest::newRow("foot") << "IFCCONVERSIONBASEDUNIT(#70,.LENGTHUNIT.,'FOOT',#71)" << 0.3048;
    QTest::newRow("US survey foot") << "IFCCONVERSIONBASEDUNIT(#70,.LENGTHUNIT.,'US SURVEY FOOT',#73)"
                                    << 1200.0 / 3937.0;
    QTest::newRow("inch by millimetres") << "IFCCONVERSIONBASEDUNIT(#70,.LENGTHUNIT.,'INCH',#74)" << 0.0254;
}

void TestModel::readsLengthUnits()
{
    QFETCH(QString, unit);
    QFETCH(double, toMetres);
    const std::string others =
        "#70=IFCDIMENSIONALEXPONENTS(1,0,0,0,0,0,0);#71=IFCMEASUREWITHUNIT(IFCLENGTHMEASURE(0.3048),#72);"
        "#72=IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.);#73=IFCMEASUREWITHUNIT(IFCLENGTHMEASURE(0.304800609601219),#72);"
        "#74=IFCMEASUREWITHUNIT(IFCLENGTHMEASURE(25.4),#75);#75=IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.);";
    const auto read = test::readText(ifcFile("IFC4", others + kBlock + proxyOver("#20"), unit.toStdString()));
    QVERIFY(std::abs(read->model->units().lengthToMetres - toMetres) < 1e-12);
    const double volume = read->geometry->elements()[0].volume, wanted = 24 * std::pow(toMetres, 3);
    QVERIFY2(std::abs(volume - wanted) <= 1e-9 * wanted, std::to_string(volume).c_str());
}

void TestModel::findsTheStoreyThroughAssemblies()
{
    const auto model = modelOf(ifcFile(
        "IFC4", kBlock +
                    "#90=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#20));#91=IFCPRODUCTDEFINITIONSHAPE($,$,(#90));"
                    "#92=IFCSTAIRFLIGHT('0000000000000000000092',$,'Flight',$,$,#4,#91,$,$,$,$,$,$);"
                    "#94=IFCSTAIR('0000000000000000000094',$,'Stair',$,$,#4,$,$,$);"
                    "#95=IFCRELAGGREGATES('0000000000000000000095',$,$,$,#94,(#92));"
                    "#93=IFCRELCONTAINEDINSPATIALSTRUCTURE('0000000000000000000093',$,$,$,(#94),#5);"));
    QCOMPARE(model->elements().size(), std::size_t{1});
    QCOMPARE(model->elements()[0].storey, 0);
    QCOMPARE(model->storeys()[0].name, std::string("Level 1"));
}

void TestModel::readsPropertiesInSi()
{
    const auto model =
        modelOf(ifcFile("IFC4",
                        kBlock + proxyOver("#20") +
                            "#50=IFCRELDEFINESBYPROPERTIES('0000000000000000000050',$,$,$,(#92),#51);"
                            "#51=IFCPROPERTYSET('0000000000000000000051',$,'Pset_X',$,(#52,#53,#54,#55));"
                            "#52=IFCPROPERTYSINGLEVALUE('Width',$,IFCLENGTHMEASURE(700.),$);"
                            "#53=IFCPROPERTYSINGLEVALUE('LoadBearing',$,IFCBOOLEAN(.F.),$);"
                            "#54=IFCPROPERTYENUMERATEDVALUE('Kind',$,(IFCLABEL('a'),IFCLABEL('b')),$);"
                            "#55=IFCPROPERTYSINGLEVALUE('Name',$,IFCLABEL('T\\X\\FCr'),$);",
                        "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)"));
    const auto sets = model->properties(model->elements()[0]);
    QCOMPARE(sets.size(), std::size_t{1});
    QVERIFY((sets[0].properties ==
             std::vector<ifc::Property>{
                 {"Width", "0.7", "m"}, {"LoadBearing", "false", ""}, {"Kind", "a, b", ""}, {"Name", "Tür", ""}}));
}

void TestModel::instanceComesBeforeType()
{
    const auto model = modelOf(ifcFile(
        "IFC4",
        kBlock + proxyOver("#20") +
            "#50=IFCRELDEFINESBYPROPERTIES('0000000000000000000050',$,$,$,(#92),#51);"
            "#51=IFCPROPERTYSET('0000000000000000000051',$,'Own',$,(#52));#52=IFCPROPERTYSINGLEVALUE('A',$,IFCLABEL('1'"
            "),$);"
            "#60=IFCRELDEFINESBYTYPE('0000000000000000000060',$,$,$,(#92),#61);"
            "#61=IFCBUILDINGELEMENTPROXYTYPE('0000000000000000000061',$,'Box type',$,$,(#62),$,$,$,.NOTDEFINED.);"
            "#62=IFCPROPERTYSET('0000000000000000000062',$,'OfType',$,(#52));"));
    const auto sets = model->properties(model->elements()[0]);
    QCOMPARE(sets.size(), std::size_t{2});
    QCOMPARE(sets[0].name, std::string("Own"));
    QCOMPARE(sets[1].name, std::string("OfType"));
    QCOMPARE(model->text(model->elements()[0].typeName), std::string("Box type"));
}

void TestModel::readsGridAxes()
{
    const auto model = modelOf(ifcFile(
        "IFC2X3",
        "#30=IFCGRID('0000000000000000000030',$,'G',$,$,#40,$,(#31),(#32),$);#31=IFCGRIDAXIS('1',#33,.T.);#32="
        "IFCGRIDAXIS('A',#34,.F.);"
        "#33=IFCPOLYLINE((#9,#35));#35=IFCCARTESIANPOINT((0.,5000.));#34=IFCPOLYLINE((#9,#36));#36=IFCCARTESIANPOINT(("
        "8000.,0.));"
        "#40=IFCLOCALPLACEMENT(#4,#41);#41=IFCAXIS2PLACEMENT3D(#42,$,$);#42=IFCCARTESIANPOINT((1000.,0.,3000.));",
        "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)"));
    QCOMPARE(model->grids().size(), std::size_t{1});
    const auto& axes = model->grids()[0].axes;
    QCOMPARE(axes[0].tag, std::string("1"));
    QVERIFY((axes[0].start == Point3{1, 0, 3} && axes[0].end == Point3{1, 5, 3}));
    QVERIFY((axes[1].start == Point3{9, 0, 3} && axes[1].end == Point3{1, 0, 3})); // drawn against its sense
}

void TestModel::readsCircularAxes_data()
{
    QTest::addColumn<QString>("curve");
    QTest::addColumn<QVector<double>>("start"); // metres
    QTest::addColumn<QVector<double>>("middle");
    QTest::addColumn<double>("sweep"); // degrees
    QTest::addColumn<bool>("isAgainst");
    // About (2, 1) with a radius of 4 m, x of the circle along +y of the file; the grid stands at (1, 0, 3).
    const QString circle = "#50=IFCCIRCLE(#51,4000.);#51=IFCAXIS2PLACEMENT2D(#52,#53);#52=IFCCARTESIANPOINT((2000.,"
                           "1000.));#53=IFCDIRECTION((0.,1.));";
    QTest::newRow("a whole circle") << "#34=IFCCIRCLE(#51,4000.);" + circle << QVector<double>{3, 5, 3}
                                    << QVector<double>{3, -3, 3} << 360.0 << false;
    QTest::newRow("a quarter by angles")
        << "#34=IFCTRIMMEDCURVE(#50,(IFCPARAMETERVALUE(0.)),(IFCPARAMETERVALUE(90.)),.T.,.PARAMETER.);" + circle
        << QVector<double>{3, 5, 3} << QVector<double>{3 - 4 * std::sqrt(0.5), 1 + 4 * std::sqrt(0.5), 3} << 90.0
        << false;
    QTest::newRow("against its sense")
        << "#34=IFCTRIMMEDCURVE(#50,(IFCPARAMETERVALUE(0.)),(IFCPARAMETERVALUE(90.)),.F.,.PARAMETER.);" + circle
        << QVector<double>{3, 5, 3} << QVector<double>{3 + 4 * std::sqrt(0.5), 1 - 4 * std::sqrt(0.5), 3} << -270.0
        << false;
    QTest::newRow("by points") << "#34=IFCTRIMMEDCURVE(#50,(#54),(#55),.T.,.CARTESIAN.);#54=IFCCARTESIANPOINT((2000.,"
                                  "5000.));#55=IFCCARTESIANPOINT((2000.,-3000.));" +
                                      circle
                               << QVector<double>{3, 5, 3} << QVector<double>{-1, 1, 3} << 180.0 << false;
    QTest::newRow("past zero")
        << "#34=IFCTRIMMEDCURVE(#50,(IFCPARAMETERVALUE(350.)),(IFCPARAMETERVALUE(10.)),.T.,.PARAMETER.);" + circle
        << QVector<double>{3 + 4 * std::sin(std::numbers::pi / 18), 1 + 4 * std::cos(std::numbers::pi / 18), 3}
        << QVector<double>{3, 5, 3} << 20.0 << false;
    QTest::newRow("the axis against its curve")
        << "#34=IFCTRIMMEDCURVE(#50,(IFCPARAMETERVALUE(0.)),(IFCPARAMETERVALUE(90.)),.T.,.PARAMETER.);" + circle
        << QVector<double>{-1, 1, 3} << QVector<double>{3 - 4 * std::sqrt(0.5), 1 + 4 * std::sqrt(0.5), 3} << -90.0
        << true;
}

void TestModel::readsCircularAxes()
{
    QFETCH(QString, curve);
    QFETCH(QVector<double>, start);
    QFETCH(QVector<double>, middle);
    QFETCH(double, sweep);
    QFETCH(bool, isAgainst);
    std::string file = ifcFile(
        "IFC4",
        "#30=IFCGRID('0000000000000000000030',$,'G',$,$,#40,$,(#31),(#32),$,$);#31=IFCGRIDAXIS('1',#33,.T.);#33="
        "IFCPOLYLINE((#9,#35));#35=IFCCARTESIANPOINT((0.,5000.));"
        "#32=IFCGRIDAXIS('R',#34," +
            std::string(isAgainst ? ".F." : ".T.") + ");" + curve.toStdString() +
            "#40=IFCLOCALPLACEMENT(#4,#41);#41=IFCAXIS2PLACEMENT3D(#42,$,$);#42=IFCCARTESIANPOINT((1000.,0.,3000.));",
        "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)");
    const std::string radian = "IFCSIUNIT(*,.PLANEANGLEUNIT.,$,.RADIAN.);";
    file.replace(file.find(radian), radian.size(),
                 "IFCCONVERSIONBASEDUNIT(#60,.PLANEANGLEUNIT.,'DEGREE',#61);#60=IFCDIMENSIONALEXPONENTS(0,0,0,0,0,0,0);"
                 "#61=IFCMEASUREWITHUNIT(IFCPLANEANGLEMEASURE(0.017453292519943295),#62);#62=" +
                     radian);
    const auto model = modelOf(file);
    const auto& axes = model->grids()[0].axes;
    QCOMPARE(axes.size(), std::size_t{2});
    QVERIFY(!axes[0].arc && axes[1].arc && axes[1].tag == "R");
    const ifc::GridArc& arc = *axes[1].arc;
    const auto isAt = [](Point3 p, const QVector<double>& wanted) {
        return length(p - Point3{wanted[0], wanted[1], wanted[2]}) < 1e-9;
    };
    QVERIFY(isAt(axes[1].start, start) && isAt(arc.at(arc.from), start));
    QVERIFY(isAt(arc.at(arc.from + arc.sweep / 2), middle) &&
            isAt(arc.at(arc.from + arc.sweep), {axes[1].end.x, axes[1].end.y, axes[1].end.z}));
    QVERIFY(std::abs(arc.radius() - 4) < 1e-12 && std::abs(toDegrees(Radians{arc.sweep}) - sweep) < 1e-9);
    // In pieces it leaves the circle by no more than it may.
    const auto points = axes[1].points(Metres{0.01});
    QVERIFY(points.front() == axes[1].start && length(points.back() - axes[1].end) < 1e-9);
    for (std::size_t i = 0; i + 1 < points.size(); ++i)
        QVERIFY(std::abs(length(0.5 * (points[i] + points[i + 1]) - arc.centre) - 4) <= 0.0101);
}

void TestModel::transformsByTheStandard_data()
{
    QTest::addColumn<QString>("axes"); // 1, 2, 3 as written
    QTest::addColumn<QString>("kind");
    QTest::addColumn<QVector<double>>("wanted"); // x, y, z of the map
    const auto row = [](const char* name, const char* kind, const char* axes, QVector<double> wanted) {
        QTest::newRow(name) << axes << kind << wanted;
    };
    row("nothing given", "3D", "$,$,$", {1, 0, 0, 0, 1, 0, 0, 0, 1});
    row("mirrors y only", "3D", "$,#71,$", {1, 0, 0, 0, -1, 0, 0, 0, 1});
    row("z down alone turns nothing else", "3D", "$,$,#73", {1, 0, 0, 0, 1, 0, 0, 0, -1});
    row("z is x", "3D", "$,$,#70",
        {0, 1, 0, 0, 1, 0, 1, 0, 0}); // second axis falls onto the first: made perpendicular, below
    row("a quarter about z", "3D", "#72,$,$", {0, 1, 0, -1, 0, 0, 0, 0, 1});
    row("all three", "3D", "#72,#74,#75", {0, 1, 0, -1, 0, 0, 0, 0, 1});
    row("in the plane, nothing", "2D", "$,$", {1, 0, 0, 0, 1, 0, 0, 0, 1});
    row("in the plane, the first alone", "2D", "#76,$", {0, 1, 0, -1, 0, 0, 0, 0, 1});
    row("in the plane, the second alone turns both", "2D", "$,#77", {-1, 0, 0, 0, -1, 0, 0, 0, 1});
    row("in the plane, both mirror", "2D", "#78,#77", {1, 0, 0, 0, -1, 0, 0, 0, 1});
}

void TestModel::transformsByTheStandard()
{
    QFETCH(QString, axes);
    QFETCH(QString, kind);
    QFETCH(QVector<double>, wanted);
    const QStringList given = axes.split(',');
    for (const bool isNonUniform : {false, true}) {
        const QString name = "IFCCARTESIANTRANSFORMATIONOPERATOR" + kind + (isNonUniform ? "NONUNIFORM" : "");
        const QString more =
            (kind == "3D" ? "," + given[2] : QString()) + (isNonUniform ? kind == "3D" ? ",3.,5." : ",3." : "");
        const auto model =
            modelOf(ifcFile("IFC4", "#70=IFCDIRECTION((1.,0.,0.));#71=IFCDIRECTION((0.,-1.,0.));#72=IFCDIRECTION((0.,1."
                                    ",0.));#73=IFCDIRECTION((0.,0.,-1.));"
                                    "#74=IFCDIRECTION((-1.,0.,0.));#75=IFCDIRECTION((0.,0.,1.));#76=IFCDIRECTION((0.,1."
                                    "));#77=IFCDIRECTION((0.,-1.));#78=IFCDIRECTION((1.,0.));"
                                    "#80=" +
                                        name.toStdString() + "(" + given[0].toStdString() + "," +
                                        given[1].toStdString() + ",#9,2." + more.toStdString() + ");"));
        const Transform t = ifc::PlacementReader(model->source(), 1).transformationOperator(model->source().entity(80));
        const double second = isNonUniform ? 3 : 2, third = kind == "2D" ? 1 : isNonUniform ? 5 : 2;
        const auto is = [&](Vector3 v, int first, double scale) {
            return length(v - scale * Vector3{wanted[first], wanted[first + 1], wanted[first + 2]}) < 1e-12;
        };
        QVERIFY(is(t.x, 0, 2) && is(t.z, 6, third));
        if (std::abs(wanted[0] * wanted[3] + wanted[1] * wanted[4] + wanted[2] * wanted[5]) < 0.5)
            QVERIFY(is(t.y, 3, second));
        else // the standard leaves no second axis there: any that stands across the others
            QVERIFY(std::abs(dot(t.y, t.x)) < 1e-9 && std::abs(dot(t.y, t.z)) < 1e-9 &&
                    std::abs(length(t.y) - second) < 1e-9);
    }
}

void TestModel::readsGeoreference()
{
    const auto model = modelOf(ifcFile(
        "IFC4",
        "#30=IFCPROJECTEDCRS('EPSG:25832',$,$,$,$,$,$);#31=IFCMAPCONVERSION(#3,#30,431000.5,5410000.25,312.6,0.,1.,1.);"
        "#33=IFCSITE('0000000000000000000033',$,$,$,$,#4,$,$,.ELEMENT.,(48,30,36,500000),(-8,-15,0),312.6,$,$);"));
    const ifc::Georeference& g = model->georeference();
    QCOMPARE(*g.crs, std::string("EPSG:25832"));
    QCOMPARE(*g.eastings, 431000.5);
    QCOMPARE(*g.northings, 5410000.25);
    QVERIFY(std::abs(toDegrees(*g.rotation) - 90) < 1e-12);
    QVERIFY(std::abs(*g.latitudeDegrees - (48 + 30 / 60.0 + 36.5 / 3600)) < 1e-12);
    QVERIFY(std::abs(*g.longitudeDegrees + 8.25) < 1e-12);
    QVERIFY(!g.trueNorth);
}

void TestModel::cutsCircularPlacements()
{
    const auto model = modelOf(ifcFile(
        "IFC4", kBlock +
                    "#90=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#20));#91=IFCPRODUCTDEFINITIONSHAPE($,$,(#90));"
                    "#92=IFCBUILDINGELEMENTPROXY('0000000000000000000092',$,'P',$,$,#95,#91,$,$);#95=IFCLOCALPLACEMENT("
                    "#96,#8);#96=IFCLOCALPLACEMENT(#95,#8);"));
    QCOMPARE(model->elements().size(), std::size_t{1});
    QCOMPARE(model->diagnostics()[0].code, std::string("ifc.circular-placement"));
}

void TestModel::refusesWhatIsNoModel_data()
{
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("code");
    // clang-format off
    QTest::newRow("another schema") << "ISO-10303-21;HEADER;FILE_SCHEMA(('AP214'));ENDSEC;DATA;ENDSEC;END-ISO-10303-21;" << "ifc.unknown-schema";
    QTest::newRow("no project") << "ISO-10303-21;HEADER;FILE_SCHEMA(('IFC4'));ENDSEC;DATA;ENDSEC;END-ISO-10303-21;" << "ifc.no-project";
    // clang-format on
}

void TestModel::refusesWhatIsNoModel()
{
    QFETCH(QString, text);
    const std::string bytes = text.toStdString();
    Progress progress;
    const auto model = ifc::Model::fromBytes(bytes, "x.ifc", progress);
    QVERIFY(!model.has_value());
    QTEST(QString::fromUtf8(model.error().code.name.data()), "code");
    QCOMPARE(model.error().file, std::string("x.ifc"));
}

QTEST_GUILESS_MAIN(TestModel)
#include "test_model.moc"
