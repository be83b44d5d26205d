#include <QTest>

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
    QTest::newRow("US survey foot") << "IFCCONVERSIONBASEDUNIT(#70,.LENGTHUNIT.,'US SURVEY FOOT',#73)" << 1200.0 / 3937.0;
    QTest::newRow("inch by millimetres") << "IFCCONVERSIONBASEDUNIT(#70,.LENGTHUNIT.,'INCH',#74)" << 0.0254;
}

void TestModel::readsLengthUnits()
{
    QFETCH(QString, unit);
    QFETCH(double, toMetres);
    const std::string others = "#70=IFCDIMENSIONALEXPONENTS(1,0,0,0,0,0,0);#71=IFCMEASUREWITHUNIT(IFCLENGTHMEASURE(0.3048),#72);"
                               "#72=IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.);#73=IFCMEASUREWITHUNIT(IFCLENGTHMEASURE(0.304800609601219),#72);"
                               "#74=IFCMEASUREWITHUNIT(IFCLENGTHMEASURE(25.4),#75);#75=IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.);";
    const auto read = test::readText(ifcFile("IFC4", others + kBlock + proxyOver("#20"), unit.toStdString()));
    QVERIFY(std::abs(read->model->units().lengthToMetres - toMetres) < 1e-12);
    const double volume = read->geometry->elements()[0].volume, wanted = 24 * std::pow(toMetres, 3);
    QVERIFY2(std::abs(volume - wanted) <= 1e-9 * wanted, std::to_string(volume).c_str());
}

void TestModel::findsTheStoreyThroughAssemblies()
{
    const auto model = modelOf(ifcFile("IFC4", kBlock +
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
    const auto model = modelOf(ifcFile("IFC4", kBlock + proxyOver("#20") +
        "#50=IFCRELDEFINESBYPROPERTIES('0000000000000000000050',$,$,$,(#92),#51);"
        "#51=IFCPROPERTYSET('0000000000000000000051',$,'Pset_X',$,(#52,#53,#54,#55));"
        "#52=IFCPROPERTYSINGLEVALUE('Width',$,IFCLENGTHMEASURE(700.),$);"
        "#53=IFCPROPERTYSINGLEVALUE('LoadBearing',$,IFCBOOLEAN(.F.),$);"
        "#54=IFCPROPERTYENUMERATEDVALUE('Kind',$,(IFCLABEL('a'),IFCLABEL('b')),$);"
        "#55=IFCPROPERTYSINGLEVALUE('Name',$,IFCLABEL('T\\X\\FCr'),$);", "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)"));
    const auto sets = model->properties(model->elements()[0]);
    QCOMPARE(sets.size(), std::size_t{1});
    QVERIFY((sets[0].properties == std::vector<ifc::Property>{{"Width", "0.7", "m"}, {"LoadBearing", "false", ""},
                                                              {"Kind", "a, b", ""}, {"Name", "Tür", ""}}));
}

void TestModel::instanceComesBeforeType()
{
    const auto model = modelOf(ifcFile("IFC4", kBlock + proxyOver("#20") +
        "#50=IFCRELDEFINESBYPROPERTIES('0000000000000000000050',$,$,$,(#92),#51);"
        "#51=IFCPROPERTYSET('0000000000000000000051',$,'Own',$,(#52));#52=IFCPROPERTYSINGLEVALUE('A',$,IFCLABEL('1'),$);"
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
    const auto model = modelOf(ifcFile("IFC2X3",
        "#30=IFCGRID('0000000000000000000030',$,'G',$,$,#40,$,(#31),(#32),$);#31=IFCGRIDAXIS('1',#33,.T.);#32=IFCGRIDAXIS('A',#34,.F.);"
        "#33=IFCPOLYLINE((#9,#35));#35=IFCCARTESIANPOINT((0.,5000.));#34=IFCPOLYLINE((#9,#36));#36=IFCCARTESIANPOINT((8000.,0.));"
        "#40=IFCLOCALPLACEMENT(#4,#41);#41=IFCAXIS2PLACEMENT3D(#42,$,$);#42=IFCCARTESIANPOINT((1000.,0.,3000.));",
        "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)"));
    QCOMPARE(model->grids().size(), std::size_t{1});
    const auto& axes = model->grids()[0].axes;
    QCOMPARE(axes[0].tag, std::string("1"));
    QVERIFY((axes[0].start == Point3{1, 0, 3} && axes[0].end == Point3{1, 5, 3}));
    QVERIFY((axes[1].start == Point3{9, 0, 3} && axes[1].end == Point3{1, 0, 3})); // drawn against its sense
}

void TestModel::readsGeoreference()
{
    const auto model = modelOf(ifcFile("IFC4",
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
    const auto model = modelOf(ifcFile("IFC4", kBlock +
        "#90=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#20));#91=IFCPRODUCTDEFINITIONSHAPE($,$,(#90));"
        "#92=IFCBUILDINGELEMENTPROXY('0000000000000000000092',$,'P',$,$,#95,#91,$,$);#95=IFCLOCALPLACEMENT(#96,#8);#96=IFCLOCALPLACEMENT(#95,#8);"));
    QCOMPARE(model->elements().size(), std::size_t{1});
    QCOMPARE(model->diagnostics()[0].code, std::string("ifc.circular-placement"));
}

void TestModel::refusesWhatIsNoModel_data()
{
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("code");
    QTest::newRow("another schema") << "ISO-10303-21;HEADER;FILE_SCHEMA(('AP214'));ENDSEC;DATA;ENDSEC;END-ISO-10303-21;" << "ifc.unknown-schema";
    QTest::newRow("no project") << "ISO-10303-21;HEADER;FILE_SCHEMA(('IFC4'));ENDSEC;DATA;ENDSEC;END-ISO-10303-21;" << "ifc.no-project";
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
