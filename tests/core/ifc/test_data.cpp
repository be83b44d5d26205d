#include <QTest>

#include "core/ifc/details.h"
#include "support/ifc_text.h"

#include <cmath>

using namespace wendrix;
using test::ifcFile;
using test::proxyOver;

/// What a file says about its elements: property kinds and their units, relationships, materials, placements, place
/// on earth; and what is odd about it.
class TestData : public QObject {
    Q_OBJECT
private slots:
    void readsProperties_data();
    void readsProperties();
    void elementCountsOverType();
    void readsDetails();
    void readsDetailsOfIfc2x3();
    void zoneIsNoSystem();
    void placesProducts_data();
    void placesProducts();
    void readsGeoreferences_data();
    void readsGeoreferences();
    void saysWhatIsOdd_data();
    void saysWhatIsOdd();
    void readsInfrastructure();
};

namespace {

const std::string kBlock = "#20=IFCEXTRUDEDAREASOLID(#21,#8,#22,4.);#21=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,2.,3.);#22="
                           "IFCDIRECTION((0.,0.,1.));";
const std::string kMillimetre = "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)";

struct Kept {
    std::string text;
    std::shared_ptr<const ifc::Model> model;
};

std::unique_ptr<Kept> modelOf(std::string text)
{
    auto kept = std::make_unique<Kept>();
    kept->text = std::move(text);
    Progress progress;
    kept->model = ifc::Model::fromBytes(kept->text, "test.ifc", progress).value();
    return kept;
}

std::string head(const std::string& guid) { return "('" + std::string(22 - guid.size(), '0') + guid + "',$,"; }

const ifc::Related* relatedAs(const ifc::ElementDetails& d, const std::string& how, const std::string& name)
{
    for (const ifc::Related& r : d.related)
        if (r.how == how && r.name == name)
            return &r;
    return nullptr;
}

} // namespace

void TestData::readsProperties_data()
{
    QTest::addColumn<QString>("property"); // entity #52 and what it needs
    QTest::addColumn<QString>("value");
    QTest::addColumn<QString>("unit");
    const auto row = [](const char* name, const char* text, const char* value, const char* unit) {
        QTest::newRow(name) << text << value << unit;
    };
    row("length in the project's millimetres", "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCLENGTHMEASURE(700.),$);", "0.7",
        "m");
    row("length in inches of its own",
        "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCLENGTHMEASURE(10.),#60);#60=IFCCONVERSIONBASEDUNIT($,.LENGTHUNIT.,'INCH',#"
        "61);"
        "#61=IFCMEASUREWITHUNIT(IFCLENGTHMEASURE(25.4),#62);#62=IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.);",
        "0.254", "m");
    row("a unit known by its name only",
        "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCLENGTHMEASURE(10.),#60);#60=IFCCONVERSIONBASEDUNIT($,.LENGTHUNIT.,'FOOT',$"
        ");",
        "3.048", "m");
    row("area without a unit of the project", "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCAREAMEASURE(2.5),$);", "2.5", "m²");
    row("square centimetres of its own",
        "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCAREAMEASURE(25000.),#60);#60=IFCSIUNIT(*,.AREAUNIT.,.CENTI.,.SQUARE_METRE."
        ");",
        "2.5", "m²");
    row("volume in cubic decimetres",
        "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCVOLUMEMEASURE(1500.),#60);#60=IFCSIUNIT(*,.VOLUMEUNIT.,.DECI.,.CUBIC_"
        "METRE.);",
        "1.5", "m³");
    row("mass in grams",
        "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCMASSMEASURE(500.),#60);#60=IFCSIUNIT(*,.MASSUNIT.,$,.GRAM.);", "0.5",
        "kg");
    row("power in kilowatts",
        "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCPOWERMEASURE(2.2),#60);#60=IFCSIUNIT(*,.POWERUNIT.,.KILO.,.WATT.);",
        "2200", "W");
    row("angle in radians", "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCPLANEANGLEMEASURE(1.5707963267949),$);", "90", "°");
    row("temperature in degrees Celsius",
        "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCTHERMODYNAMICTEMPERATUREMEASURE(21.),#60);#60=IFCSIUNIT(*,."
        "THERMODYNAMICTEMPERATUREUNIT.,$,.DEGREE_CELSIUS.);",
        "21", "°C");
    row("litres in an hour",
        "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCVOLUMETRICFLOWRATEMEASURE(3600.),#60);#60=IFCDERIVEDUNIT((#61,#62),."
        "VOLUMETRICFLOWRATEUNIT.,$);"
        "#61=IFCDERIVEDUNITELEMENT(#63,1);#62=IFCDERIVEDUNITELEMENT(#64,-1);#63=IFCSIUNIT(*,.VOLUMEUNIT.,.DECI.,.CUBIC_"
        "METRE.);"
        "#64=IFCCONVERSIONBASEDUNIT($,.TIMEUNIT.,'HOUR',#65);#65=IFCMEASUREWITHUNIT(IFCTIMEMEASURE(3600.),#66);#66="
        "IFCSIUNIT(*,.TIMEUNIT.,$,.SECOND.);",
        "0.001", "m³/s");
    row("thermal transmittance", "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCTHERMALTRANSMITTANCEMEASURE(0.18),$);", "0.18",
        "W/(m²·K)");
    row("a unit of two below the line",
        "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCTHERMALTRANSMITTANCEMEASURE(0.18),#60);#60=IFCDERIVEDUNIT((#61,#62,#63),."
        "THERMALTRANSMITTANCEUNIT.,$);"
        "#61=IFCDERIVEDUNITELEMENT(#64,1);#62=IFCDERIVEDUNITELEMENT(#65,-2);#63=IFCDERIVEDUNITELEMENT(#66,-1);#64="
        "IFCSIUNIT(*,.POWERUNIT.,$,.WATT.);"
        "#65=IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.);#66=IFCSIUNIT(*,.THERMODYNAMICTEMPERATUREUNIT.,$,.KELVIN.);",
        "0.18", "W/(m²·K)");
    row("count", "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCINTEGER(7),$);", "7", "");
    row("ratio", "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCRATIOMEASURE(0.25),$);", "0.25", "");
    row("truth", "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCBOOLEAN(.T.),$);", "true", "");
    row("not known", "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCLOGICAL(.U.),$);", "unknown", "");
    row("text with other letters", "#52=IFCPROPERTYSINGLEVALUE('P',$,IFCLABEL('T\\X2\\00FC\\X0\\r'),$);", "Tür", "");
    row("no value", "#52=IFCPROPERTYSINGLEVALUE('P',$,$,$);", "", "");
    row("enumerated", "#52=IFCPROPERTYENUMERATEDVALUE('P',$,(IFCLABEL('a'),IFCLABEL('b')),$);", "a, b", "");
    row("listed, with a unit", "#52=IFCPROPERTYLISTVALUE('P',$,(IFCLENGTHMEASURE(100.),IFCLENGTHMEASURE(200.)),$);",
        "0.1, 0.2", "m");
    row("bounded", "#52=IFCPROPERTYBOUNDEDVALUE('P',$,IFCLENGTHMEASURE(2000.),IFCLENGTHMEASURE(1000.),$,$);", "1 to 2",
        "m");
    row("bounded below only, with a set point",
        "#52=IFCPROPERTYBOUNDEDVALUE('P',$,$,IFCLENGTHMEASURE(1000.),$,IFCLENGTHMEASURE(1500.));",
        "at least 1, set to 1.5", "m");
    row("table",
        "#52=IFCPROPERTYTABLEVALUE('P',$,(IFCLENGTHMEASURE(1000.),IFCLENGTHMEASURE(2000.)),(IFCLABEL('x'),IFCLABEL('y')"
        "),$,$,$,$);",
        "1 m: x; 2 m: y", "");
    row("reference", "#52=IFCPROPERTYREFERENCEVALUE('P',$,$,#60);#60=IFCMATERIAL('Oak',$,$);", "Oak", "");
}

void TestData::readsProperties()
{
    QFETCH(QString, property);
    QFETCH(QString, value);
    QFETCH(QString, unit);
    const auto kept = modelOf(ifcFile("IFC4",
                                      kBlock + proxyOver("#20") + "#50=IFCRELDEFINESBYPROPERTIES" + head("50") +
                                          "$,$,(#92),#51);#51=IFCPROPERTYSET" + head("51") + "'Set',$,(#52));" +
                                          property.toStdString(),
                                      kMillimetre));
    const auto sets = kept->model->properties(kept->model->elements()[0]);
    QCOMPARE(sets.size(), std::size_t{1});
    QCOMPARE(sets[0].properties.size(), std::size_t{1});
    QCOMPARE(QString::fromStdString(sets[0].properties[0].value), value);
    QCOMPARE(QString::fromStdString(sets[0].properties[0].unit), unit);
}

void TestData::elementCountsOverType()
{
    const auto kept = modelOf(ifcFile(
        "IFC4", kBlock + proxyOver("#20") + "#50=IFCRELDEFINESBYPROPERTIES" + head("50") +
                    "$,$,(#92),#51);#51=IFCPROPERTYSET" + head("51") +
                    "'Same',$,(#52));#52=IFCPROPERTYSINGLEVALUE('A',$,IFCLABEL('own'),$);#60=IFCRELDEFINESBYTYPE" +
                    head("60") + "$,$,(#92),#61);#61=IFCBUILDINGELEMENTPROXYTYPE" + head("61") +
                    "'T',$,$,(#62),$,$,$,.NOTDEFINED.);#62=IFCPROPERTYSET" + head("62") +
                    "'Same',$,(#63,#64));#63=IFCPROPERTYSINGLEVALUE('A',$,IFCLABEL('type'),$);#64="
                    "IFCPROPERTYSINGLEVALUE('B',$,IFCLABEL('type'),$);"));
    const auto sets = kept->model->properties(kept->model->elements()[0]);
    QCOMPARE(sets.size(), std::size_t{1});
    QVERIFY((sets[0].properties == std::vector<ifc::Property>{{"A", "own", ""}, {"B", "type", ""}}));
}

void TestData::readsDetails()
{
    const auto kept = modelOf(ifcFile(
        "IFC4",
        kBlock +
            "#90=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#20));#91=IFCPRODUCTDEFINITIONSHAPE($,$,(#90));"
            "#92=IFCDUCTSEGMENT('0000000000000000000092',#95,'Duct',$,$,#4,#91,'D-7',.RIGIDSEGMENT.);"
            "#95=IFCOWNERHISTORY(#96,#99,$,.ADDED.,1700000000,$,$,1690000000);#96=IFCPERSONANDORGANIZATION(#97,#98,$);#"
            "97=IFCPERSON($,'Adair','Tomas',$,$,$,$,$);"
            "#98=IFCORGANIZATION($,'Vellowind',$,$,$);#99=IFCAPPLICATION(#98,'2.1','Duct drawer','DD');"
            "#100=IFCRELCONTAINEDINSPATIALSTRUCTURE" +
            head("100") +
            "$,$,(#92),#5);"
            "#101=IFCRELASSIGNSTOGROUP" +
            head("101") + "$,$,(#92),$,#102);#102=IFCDISTRIBUTIONSYSTEM" + head("102") +
            "'Supply',$,$,$,$);"
            "#103=IFCRELASSIGNSTOGROUP" +
            head("103") + "$,$,(#92),$,#104);#104=IFCZONE" + head("104") +
            "'Fire zone 2',$,$,$);"
            "#105=IFCRELNESTS" +
            head("105") + "$,$,#92,(#106));#106=IFCDISTRIBUTIONPORT" + head("106") +
            "'Out',$,$,$,$,.SOURCE.,$,$);"
            "#107=IFCRELCONNECTSPORTS" +
            head("107") + "$,$,#106,#108,$);#108=IFCDISTRIBUTIONPORT" + head("108") +
            "'In',$,$,$,$,.SINK.,$,$);"
            "#109=IFCRELNESTS" +
            head("109") + "$,$,#110,(#108));#110=IFCDUCTFITTING" + head("110") +
            "'Bend',$,$,$,$,$,$);"
            "#111=IFCRELASSOCIATESCLASSIFICATION" +
            head("111") +
            "$,$,(#92),#112);#112=IFCCLASSIFICATIONREFERENCE($,'65.20','Ducts',#113,$,$);"
            "#113=IFCCLASSIFICATION($,$,$,'Store classes',$,$,$);"
            "#114=IFCRELASSOCIATESMATERIAL" +
            head("114") +
            "$,$,(#92),#115);#115=IFCMATERIALLAYERSET((#116,#117),$,$);#116=IFCMATERIALLAYER(#118,0.001,$,$,$,$,$);"
            "#117=IFCMATERIALLAYER(#119,0.05,$,$,$,$,$);#118=IFCMATERIAL('Steel',$,'metal');#119=IFCMATERIAL('Mineral "
            "wool',$,$);"
            "#120=IFCPRESENTATIONLAYERASSIGNMENT('M-DUCT',$,(#90),$);"
            "#121=IFCMATERIALPROPERTIES('Thermal',$,(#122),#119);#122=IFCPROPERTYSINGLEVALUE('Conductivity',$,"
            "IFCTHERMALCONDUCTIVITYMEASURE(0.035),$);"
            "#123=IFCRELASSIGNSTOPROCESS" +
            head("123") + "$,$,(#92),$,#124,$);#124=IFCTASK" + head("124") +
            "'Phase 2: services',$,$,$,$,$,$,.F.,$,$,$);"
            "#125=IFCRELASSIGNSTOACTOR" +
            head("125") + "$,$,(#92),$,#126,$);#126=IFCACTOR" + head("126") + "$,$,$,#98);"));
    const ifc::Model& model = *kept->model;
    const ifc::ElementDetails d = ifc::readDetails(model, model.elements()[0]);
    QVERIFY((d.attributes == std::vector<ifc::Property>{{"GlobalId", "0000000000000000000092", ""},
                                                        {"Name", "Duct", ""},
                                                        {"Tag", "D-7", ""},
                                                        {"PredefinedType", "RIGIDSEGMENT", ""}}));
    QVERIFY(relatedAs(d, "in", "Level 1") != nullptr);
    QVERIFY(relatedAs(d, "in system", "Supply") != nullptr);
    QVERIFY(relatedAs(d, "in zone", "Fire zone 2") != nullptr);
    QVERIFY(relatedAs(d, "has nested", "Out") != nullptr);
    QVERIFY(relatedAs(d, "connected to", "Bend") != nullptr);
    QVERIFY(relatedAs(d, "in task", "Phase 2: services") != nullptr);
    QVERIFY(relatedAs(d, "assigned to actor", "Vellowind") != nullptr);
    QCOMPARE(relatedAs(d, "connected to", "Bend")->className, std::string("IfcDuctFitting"));
    QCOMPARE(d.materials.size(), std::size_t{2});
    QCOMPARE(d.materials[0].name, std::string("Steel"));
    QCOMPARE(d.materials[0].category, std::string("metal"));
    QCOMPARE(d.materials[1].thickness->value, 0.05);
    QCOMPARE(d.classifications.size(), std::size_t{1});
    QCOMPARE(d.classifications[0].system + " " + d.classifications[0].code, std::string("Store classes 65.20"));
    QCOMPARE(d.layers, std::vector<std::string>{"M-DUCT"});
    QCOMPARE(d.ownership->person, std::string("Tomas Adair"));
    QCOMPARE(d.ownership->application, std::string("Duct drawer 2.1"));
    QCOMPARE(*d.ownership->created, std::int64_t{1690000000});
    QCOMPARE(d.sets.back().properties[0].unit, std::string("W/(m·K)"));
    QCOMPARE(model.text(model.elements()[0].system), std::string("Supply"));
    QCOMPARE(model.text(model.elements()[0].material), std::string("Steel, Mineral wool"));
}

void TestData::readsDetailsOfIfc2x3()
{
    const auto kept = modelOf(
        ifcFile("IFC2X3",
                kBlock + proxyOver("#20") + "#100=IFCRELCONNECTSPORTTOELEMENT" + head("100") +
                    "$,$,#101,#92);#101=IFCDISTRIBUTIONPORT" + head("101") +
                    "'P1',$,$,$,$,$);"
                    "#102=IFCRELCONNECTSPORTS" +
                    head("102") + "$,$,#101,#103,$);#103=IFCDISTRIBUTIONPORT" + head("103") +
                    "'P2',$,$,$,$,$);"
                    "#104=IFCRELCONNECTSPORTTOELEMENT" +
                    head("104") + "$,$,#103,#105);#105=IFCFLOWTERMINAL" + head("105") +
                    "'Valve',$,$,$,$,$);"
                    "#111=IFCRELASSOCIATESCLASSIFICATION" +
                    head("111") +
                    "$,$,(#92),#112);#112=IFCCLASSIFICATIONREFERENCE($,'65.20','Ducts',#113);"
                    "#113=IFCCLASSIFICATION('X','1',$,'Store classes');"
                    "#114=IFCRELASSOCIATESMATERIAL" +
                    head("114") +
                    "$,$,(#92),#115);#115=IFCMATERIALLIST((#116,#117));#116=IFCMATERIAL('A');#117=IFCMATERIAL('B');"));
    const ifc::ElementDetails d = ifc::readDetails(*kept->model, kept->model->elements()[0]);
    QVERIFY(relatedAs(d, "has port", "P1") != nullptr || relatedAs(d, "port of", "P1") != nullptr);
    QVERIFY(relatedAs(d, "connected to", "Valve") != nullptr);
    QCOMPARE(d.classifications[0].code, std::string("65.20"));
    QCOMPARE(d.materials.size(), std::size_t{2});
}

void TestData::zoneIsNoSystem()
{
    const auto kept =
        modelOf(ifcFile("IFC4", kBlock + proxyOver("#20") + "#101=IFCRELASSIGNSTOGROUP" + head("101") +
                                    "$,$,(#92),$,#102);#102=IFCZONE" + head("102") +
                                    "'Fire zone 2',$,$,$);"
                                    "#103=IFCRELASSIGNSTOGROUP" +
                                    head("103") + "$,$,(#92),$,#104);#104=IFCSYSTEM" + head("104") + "'Supply',$,$);"));
    QCOMPARE(kept->model->text(kept->model->elements()[0].system), std::string("Supply"));
}

void TestData::placesProducts_data()
{
    QTest::addColumn<QString>("schema");
    QTest::addColumn<QString>("placement"); // #200
    QTest::addColumn<double>("x");
    QTest::addColumn<double>("y");
    QTest::addColumn<double>("z");
    const QString grid =
        "#201=IFCGRID('0000000000000000000201',$,'G',$,$,#230,$,(#202),(#203),$);#202=IFCGRIDAXIS('1',#204,.T.);#203="
        "IFCGRIDAXIS('A',#205,.T.);"
        "#204=IFCPOLYLINE((#206,#207));#206=IFCCARTESIANPOINT((3.,0.));#207=IFCCARTESIANPOINT((3.,9.));"
        "#205=IFCPOLYLINE((#208,#209));#208=IFCCARTESIANPOINT((0.,5.));#209=IFCCARTESIANPOINT((9.,5.));"
        "#230=IFCLOCALPLACEMENT($,#231);#231=IFCAXIS2PLACEMENT3D(#232,$,$);#232=IFCCARTESIANPOINT((100.,0.,2.));"
        "#210=IFCVIRTUALGRIDINTERSECTION((#202,#203),(0.5,0.25,1.));";
    // clang-format off
    QTest::newRow("five deep, turned on the way")
        << "IFC4" << "#200=IFCLOCALPLACEMENT(#201,#210);#201=IFCLOCALPLACEMENT(#202,#210);#202=IFCLOCALPLACEMENT(#203,#211);#203=IFCLOCALPLACEMENT(#204,#210);#204=IFCLOCALPLACEMENT($,#210);"
                     "#210=IFCAXIS2PLACEMENT3D(#212,$,$);#212=IFCCARTESIANPOINT((1.,0.,0.));#211=IFCAXIS2PLACEMENT3D(#212,#213,#214);#213=IFCDIRECTION((0.,0.,1.));#214=IFCDIRECTION((0.,1.,0.));"
        << 3.0 << 2.0 << 0.0;
    // clang-format on
    // Offsets go to the left of each axis.
    // clang-format off
    QTest::newRow("on a grid, IFC4") << "IFC4" << "#200=IFCGRIDPLACEMENT(#210,$);" + grid << 102.5 << 5.25 << 3.0;
    QTest::newRow("on a grid, IFC4X3") << "IFC4X3" << "#200=IFCGRIDPLACEMENT($,#210,$);" + grid << 102.5 << 5.25 << 3.0;
    QTest::newRow("linear with a Cartesian fallback")
        << "IFC4X3" << "#200=IFCLINEARPLACEMENT($,$,#211);#211=IFCAXIS2PLACEMENT3D(#212,$,$);#212=IFCCARTESIANPOINT((7.,8.,9.));" << 7.0 << 8.0 << 9.0;
    QTest::newRow("linear on a moved parent")
        << "IFC4X3" << "#200=IFCLINEARPLACEMENT(#201,$,#211);#201=IFCLOCALPLACEMENT($,#211);#211=IFCAXIS2PLACEMENT3D(#212,$,$);#212=IFCCARTESIANPOINT((7.,8.,9.));" << 14.0 << 16.0 << 18.0;
    QTest::newRow("none at all") << "IFC4" << "" << 0.0 << 0.0 << 0.0;
    // clang-format on
}

void TestData::placesProducts()
{
    QFETCH(QString, schema);
    QFETCH(QString, placement);
    QFETCH(double, x);
    QFETCH(double, y);
    QFETCH(double, z);
    const auto kept = modelOf(
        ifcFile(schema.toStdString(),
                kBlock + placement.toStdString() +
                    "#90=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#20));#91=IFCPRODUCTDEFINITIONSHAPE($,$,(#90));"
                    "#92=IFCBUILDINGELEMENTPROXY('0000000000000000000092',$,'P',$,$,#200,#91,$,$);"));
    const Point3 at = kept->model->elements()[0].placement.origin;
    QVERIFY2(length(at - Point3{x, y, z}) < 1e-12,
             (std::to_string(at.x) + " " + std::to_string(at.y) + " " + std::to_string(at.z)).c_str());
    QVERIFY(kept->model->diagnostics().empty());
}

void TestData::readsGeoreferences_data()
{
    QTest::addColumn<QString>("schema");
    QTest::addColumn<QString>("body");
    QTest::addColumn<double>("eastings");
    QTest::addColumn<double>("scale");
    QTest::addColumn<double>("degrees");
    // The file is in millimetres throughout.
    // clang-format off
    QTest::newRow("map in metres, scale between the units only")
        << "IFC4" << "#30=IFCPROJECTEDCRS('EPSG:25832',$,$,$,$,$,#32);#32=IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.);#31=IFCMAPCONVERSION(#3,#30,431000.5,5410000.,312.,0.,1.,0.001);" << 431000.5 << 1.0 << 90.0;
    QTest::newRow("map in metres, true scale besides")
        << "IFC4" << "#30=IFCPROJECTEDCRS('EPSG:25832',$,$,$,$,$,#32);#32=IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.);#31=IFCMAPCONVERSION(#3,#30,431000.5,5410000.,312.,1.,0.,0.0009996);" << 431000.5 << 0.9996 << 0.0;
    QTest::newRow("map in the project's unit, no scale")
        << "IFC4" << "#30=IFCPROJECTEDCRS('EPSG:25832',$,$,$,$,$,$);#31=IFCMAPCONVERSION(#3,#30,431000500.,5410000000.,312.,$,$,$);" << 431000.5 << 1.0 << 0.0;
    QTest::newRow("map in US survey feet")
        << "IFC4" << "#30=IFCPROJECTEDCRS('EPSG:2263',$,$,$,$,$,#32);#32=IFCCONVERSIONBASEDUNIT($,.LENGTHUNIT.,'US SURVEY FOOT',#33);#33=IFCMEASUREWITHUNIT(IFCLENGTHMEASURE(0.304800609601219),#34);"
                     "#34=IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.);#31=IFCMAPCONVERSION(#3,#30,1000000.,200000.,10.,1.,1.,$);" << 304800.609601219 << 1.0 << 45.0;
    QTest::newRow("scaled conversion of IFC4X3")
        << "IFC4X3" << "#30=IFCPROJECTEDCRS('EPSG:25832',$,$,$,$,$,#32);#32=IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.);#31=IFCMAPCONVERSIONSCALED(#3,#30,431000.5,5410000.,312.,1.,0.,0.001,0.9996,0.9996,1.);" << 431000.5 << 0.9996 << 0.0;
    QTest::newRow("rigid operation of IFC4X3")
        << "IFC4X3" << "#30=IFCPROJECTEDCRS('EPSG:25832',$,$,$,$,$,#32);#32=IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.);#31=IFCRIGIDOPERATION(#3,#30,IFCLENGTHMEASURE(431000.5),IFCLENGTHMEASURE(5410000.),312.);" << 431000.5 << 1.0 << 0.0;
    QTest::newRow("property sets of IFC2X3")
        << "IFC2X3" << "#30=IFCPROPERTYSET('0000000000000000000030',$,'ePset_ProjectedCRS',$,(#31,#32));#31=IFCPROPERTYSINGLEVALUE('Name',$,IFCLABEL('EPSG:25832'),$);"
                       "#32=IFCPROPERTYSINGLEVALUE('MapUnit',$,IFCIDENTIFIER('METRE'),$);#33=IFCPROPERTYSET('0000000000000000000033',$,'ePSet_MapConversion',$,(#34,#35,#36,#37,#38));"
                       "#34=IFCPROPERTYSINGLEVALUE('Eastings',$,IFCLENGTHMEASURE(431000.5),$);#35=IFCPROPERTYSINGLEVALUE('Northings',$,IFCLENGTHMEASURE(5410000.),$);"
                       "#36=IFCPROPERTYSINGLEVALUE('XAxisAbscissa',$,IFCREAL(0.),$);#37=IFCPROPERTYSINGLEVALUE('XAxisOrdinate',$,IFCREAL(1.),$);#38=IFCPROPERTYSINGLEVALUE('Scale',$,IFCREAL(0.001),$);" << 431000.5 << 1.0 << 90.0;
    // clang-format on
}

void TestData::readsGeoreferences()
{
    QFETCH(QString, schema);
    QFETCH(QString, body);
    const auto kept = modelOf(ifcFile(schema.toStdString(), body.toStdString(), kMillimetre));
    const ifc::Georeference& g = kept->model->georeference();
    QVERIFY(g.crs && g.crs->starts_with("EPSG:"));
    QFETCH(double, eastings);
    QFETCH(double, scale);
    QFETCH(double, degrees);
    QVERIFY(std::abs(*g.eastings - eastings) < 1e-6);
    QVERIFY(std::abs(*g.scale - scale) < 1e-12);
    QVERIFY(std::abs(toDegrees(*g.rotation) - degrees) < 1e-9);
}

void TestData::saysWhatIsOdd_data()
{
    QTest::addColumn<QString>("body");
    QTest::addColumn<QString>("code");
    QTest::addColumn<QString>("entity");
    const QString product =
        "#90=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#20));#91=IFCPRODUCTDEFINITIONSHAPE($,$,(#90));"
        "#92=IFCBUILDINGELEMENTPROXY('0000000000000000000092',$,'P',$,$,#4,#91,$,$);";
    // clang-format off
    QTest::newRow("a misspelt entity") << product + "#30=IFCWAL('x');" << "ifc.unknown-entity" << "#30";
    QTest::newRow("an entity of another schema") << product + "#30=IFCROAD('x');" << "ifc.unknown-entity" << "#30";
    QTest::newRow("a part of itself") << product + "#93=IFCRELAGGREGATES('0000000000000000000093',$,$,$,#94,(#92));#94=IFCELEMENTASSEMBLY('0000000000000000000094',$,$,$,$,$,$,$,$,$);"
                                                   "#95=IFCRELAGGREGATES('0000000000000000000095',$,$,$,#92,(#94));" << "ifc.circular-structure" << "#92";
    QTest::newRow("a placement within itself") << QString(product).replace("#4,#91", "#95,#91") + "#95=IFCLOCALPLACEMENT(#96,#8);#96=IFCLOCALPLACEMENT(#95,#8);" << "ifc.circular-placement" << "#95";
    QTest::newRow("no representation context") << QString(product).replace("(#3,'Body'", "($,'Body'") << "ifc.no-context" << "#92";
    QTest::newRow("a GlobalId twice") << product + "#93=IFCBUILDINGELEMENTPROXY('0000000000000000000092',$,'P',$,$,#4,#91,$,$);" << "ifc.repeated-global-id" << "#93";
    QTest::newRow("a GlobalId that is none") << QString(product).replace("0000000000000000000092", "short") << "ifc.global-id" << "#92";
    QTest::newRow("arguments that can not be read") << product + "#93=IFCBUILDINGELEMENTPROXY('0000000000000000000093',$,'P',$,$,#4,#91,1.2.3,$);" << "step.arguments" << "#93";
    QTest::newRow("a linear placement without a fallback") << QString(product).replace("#4,#91", "#95,#91") + "#95=IFCGRIDPLACEMENT(#96,$);#96=IFCVIRTUALGRIDINTERSECTION((#97,#97),(0.,0.));" << "ifc.placement-kind" << "#95";
    // clang-format on
}

void TestData::saysWhatIsOdd()
{
    QFETCH(QString, body);
    QFETCH(QString, code);
    QFETCH(QString, entity);
    const auto kept = modelOf(ifcFile("IFC4", kBlock + body.toStdString()));
    QVERIFY(!kept->model->elements().empty()); // the rest is read
    QCOMPARE(kept->model->diagnostics().size(), std::size_t{1});
    QCOMPARE(QString::fromStdString(kept->model->diagnostics()[0].code), code);
    QCOMPARE(QString::fromStdString(kept->model->diagnostics()[0].entity), entity);
}

void TestData::readsInfrastructure()
{
    const auto kept = modelOf(ifcFile(
        "IFC4X3_ADD2", kBlock + "#100=IFCROAD" + head("100") +
                           "'Access road',$,$,#4,$,$,.ELEMENT.,.NOTDEFINED.);#101=IFCROADPART" + head("101") +
                           "'Turning bay',$,$,#4,$,$,.PARTIAL.,.LATERAL.,.NOTDEFINED.);"
                           "#102=IFCRELAGGREGATES" +
                           head("102") +
                           "$,$,#100,(#101));#90=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#20));#91="
                           "IFCPRODUCTDEFINITIONSHAPE($,$,(#90));"
                           "#92=IFCPAVEMENT" +
                           head("92") + "'Asphalt',$,$,#4,#91,$,.NOTDEFINED.);#103=IFCRELCONTAINEDINSPATIALSTRUCTURE" +
                           head("103") + "$,$,(#92),#101);"));
    QCOMPARE(kept->model->elements().size(), std::size_t{1});
    QCOMPARE(kept->model->className(kept->model->elements()[0]), std::string_view("IfcPavement"));
    const ifc::ElementDetails d = ifc::readDetails(*kept->model, kept->model->elements()[0]);
    QVERIFY(relatedAs(d, "in", "Turning bay") != nullptr);
    QVERIFY(kept->model->diagnostics().empty());
}

QTEST_GUILESS_MAIN(TestData)
#include "test_data.moc"
