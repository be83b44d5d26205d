#include <QTest>

#include "core/checks/quality.h"
#include "support/ifc_text.h"

using namespace wendrix;
using namespace wendrix::checks;

/// The quality report: each rule on a small model that has the fault once, and on one that has none.
class TestQuality : public QObject {
    Q_OBJECT
private slots:
    void rules_data();
    void rules();
    void aGoodModelHasNothing();
    void comparesStoreysWithTheReference_data();
    void comparesStoreysWithTheReference();
    void saysItAll();
    void isCancelled();

private:
    static QualityReport reportOn(const std::string& text, const Expectations& expected)
    {
        const auto read = test::readText(text);
        Progress progress;
        return checkQuality(*read->model, read->geometry.get(), expected, {}, progress).value();
    }
    static const Finding* find(const QualityReport& report, const std::string& code)
    {
        for (const Finding& f : report.findings)
            if (f.code == code)
                return &f;
        return nullptr;
    }
};

namespace {

constexpr const char* kBox =
    "#90=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,1.,2.);\n#91=IFCDIRECTION((0.,0.,1.));\n#92=IFCEXTRUDEDAREASOLID(#90,$,#91,"
    "3.);\n"
    "#93=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#92));\n#94=IFCPRODUCTDEFINITIONSHAPE($,$,(#93));\n";

std::string wall(int id, const std::string& guid, const std::string& name, const std::string& shape = "#94",
                 const std::string& placement = "#4")
{
    return "#" + std::to_string(id) + "=IFCWALL('" + guid + "',$,'" + name + "',$,$," + placement + "," + shape +
           ",$,$);\n";
}

std::string contained(const std::string& elements)
{
    return "#95=IFCRELCONTAINEDINSPATIALSTRUCTURE('1Cont00000000000000001',$,$,$,(" + elements + "),#5);\n";
}

std::string rated(int element, const std::string& property = "FireRating")
{
    return "#96=IFCPROPERTYSINGLEVALUE('" + property +
           "',$,IFCLABEL('EI 60'),$);\n#97=IFCPROPERTYSET('1Pset00000000000000001',$,'Pset_WallCommon',$,(#96));\n"
           "#98=IFCRELDEFINESBYPROPERTIES('1RPrp00000000000000001',$,$,$,(#" +
           std::to_string(element) + "),#97);\n";
}

const std::string kGuid = "1Wall00000000000000001", kOther = "1Wall00000000000000002";

} // namespace

void TestQuality::rules_data()
{
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("code");
    QTest::addColumn<int>("count"); // 0: the finding is not there
    const auto row = [](const char* name, const std::string& text, const char* code, int count) {
        QTest::newRow(name) << QString::fromStdString(text) << code << count;
    };
    const std::string one = kBox + wall(20, kGuid, "A") + contained("#20");
    row("a wall on its storey", test::ifcFile("IFC4", one), "storeys.outside", 0);
    row("a wall on no storey", test::ifcFile("IFC4", kBox + wall(20, kGuid, "A")), "storeys.outside", 1);
    row("another schema", test::ifcFile("IFC2X3", "#20=IFCWALL('1Wall00000000000000001',$,'A',$,$,#4,$,$);\n"),
        "schema.other", 1);
    row("the schema agreed", test::ifcFile("IFC4", one), "schema.other", 0);
    row("inches", test::ifcFile("IFC4", one, "IFCSIUNIT(*,.LENGTHUNIT.,.CENTI.,.METRE.)"), "units.other", 1);
    row("a model of a hundred kilometres",
        test::ifcFile("IFC4", kBox + wall(20, kGuid, "A") +
                                  "#21=IFCCARTESIANPOINT((100000.,0.,0.));\n#22=IFCAXIS2PLACEMENT3D(#21,$,$);\n"
                                  "#23=IFCLOCALPLACEMENT($,#22);\n" +
                                  wall(24, kOther, "B", "#94", "#23") + contained("#20,#24")),
        "units.size", 1);
    row("a model of millimetres", test::ifcFile("IFC4", one, "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)"), "units.size",
        1);
    row("a GlobalId twice",
        test::ifcFile("IFC4", kBox + wall(20, kGuid, "A") + wall(21, kGuid, "B") + contained("#20,#21")), "guid.twice",
        1);
    row("a GlobalId too short", test::ifcFile("IFC4", kBox + wall(20, "1Wall", "A") + contained("#20")), "guid.bad", 1);
    row("a GlobalId of too many bits",
        test::ifcFile("IFC4", kBox + wall(20, "4Wall00000000000000001", "A") + contained("#20")), "guid.bad", 1);
    row("a GlobalId with a letter of no alphabet",
        test::ifcFile("IFC4", kBox + wall(20, "1Wall000000000000000-1", "A") + contained("#20")), "guid.bad", 1);
    row("GlobalIds as they should be", test::ifcFile("IFC4", one), "guid.bad", 0);
    row("a proxy",
        test::ifcFile("IFC4", test::proxyOver("IFCEXTRUDEDAREASOLID(#90,$,#91,3.)") +
                                  "#90=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,1.,2.);\n#91=IFCDIRECTION((0.,0.,1.));\n"),
        "class.proxy", 1);
    row("a fire rating missing", test::ifcFile("IFC4", one), "property.missing", 1);
    row("a fire rating there", test::ifcFile("IFC4", one + rated(20)), "property.missing", 0);
    row("another property instead", test::ifcFile("IFC4", one + rated(20, "AcousticRating")), "property.missing", 1);
    row("no place on earth", test::ifcFile("IFC4", one), "place.none", 1);
    row("a body not built",
        test::ifcFile(
            "IFC4",
            "#80=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,0.,2.);\n#81=IFCDIRECTION((0.,0.,1.));\n#82=IFCEXTRUDEDAREASOLID(#"
            "80,$,#81,3.);\n"
            "#83=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#82));\n#84=IFCPRODUCTDEFINITIONSHAPE($,$,(#83));\n" +
                wall(20, kGuid, "A", "#84") + contained("#20")),
        "body.unbuilt", 1);
    row("the same twice",
        test::ifcFile("IFC4", kBox + wall(20, kGuid, "A") + wall(21, kOther, "B") + contained("#20,#21")), "body.twice",
        1);
    row("once", test::ifcFile("IFC4", one), "body.twice", 0);
    const auto duct = [](const std::string& name) {
        return test::ifcFile("IFC4", kBox + std::string("#20=IFCDUCTSEGMENT('1Duct00000000000000001',$,'") + name +
                                         "',$,$,#4,#94,$,$);\n" + contained("#20"));
    };
    row("a duct that says its size", duct("Supply duct 700\\X2\\00D7\\X0\\350"), "name.no-size", 0);
    row("a duct with its diameter", duct("Branch \\X2\\00D8\\X0\\160"), "name.no-size", 0);
    row("a duct with a number that is no size", duct("Supply duct SD-203"), "name.no-size", 1);
    row("a storey that stands elsewhere than it says",
        test::ifcFile(
            "IFC4",
            "#60=IFCCARTESIANPOINT((0.,0.,3.25));\n#61=IFCAXIS2PLACEMENT3D(#60,$,$);\n#62=IFCLOCALPLACEMENT($,#61);\n"
            "#63=IFCBUILDINGSTOREY('1Stor00000000000000009',$,'Up',$,$,#62,$,$,.ELEMENT.,3.);\n"),
        "storeys.placed", 1);
    row("two storeys as high",
        test::ifcFile("IFC4", "#63=IFCBUILDINGSTOREY('1Stor00000000000000009',$,'Again',$,$,#4,$,$,.ELEMENT.,0.);\n"),
        "storeys.twice", 1);
}

void TestQuality::rules()
{
    QFETCH(QString, text);
    QFETCH(QString, code);
    QFETCH(int, count);
    Expectations expected;
    expected.schemas = {"IFC4"};
    expected.lengthUnit = "metre";
    expected.properties = {{"IfcWall", "Pset_WallCommon", "FireRating"}};
    expected.areDimensionsNamed = true;
    expected.isGeoreferenced = true;
    // Another unit is what two of the rows are about.
    const QualityReport report = reportOn(text.toStdString(), expected);
    const Finding* found = find(report, code.toStdString());
    if (count == 0) {
        QVERIFY(found == nullptr);
        return;
    }
    QVERIFY(found != nullptr);
    QCOMPARE(static_cast<int>(found->count), count);
    QVERIFY(!found->title.empty() && found->advice.ends_with('.'));
}

void TestQuality::aGoodModelHasNothing()
{
    const std::string text = test::ifcFile("IFC4", kBox + wall(20, kGuid, "A") + contained("#20"));
    const QualityReport report = reportOn(text, {});
    for (const Finding& f : report.findings)
        QVERIFY2(f.severity == Severity::Note, f.code.c_str()); // the file names no view
    QVERIFY(!report.hasFaults());
    QCOMPARE(report.facts.elements, std::size_t{1});
    QCOMPARE(report.facts.lengthUnit, std::string("metre"));
}

void TestQuality::comparesStoreysWithTheReference_data()
{
    QTest::addColumn<double>("second");
    QTest::addColumn<double>("zero"); // of the reference
    QTest::addColumn<QString>("code");
    QTest::newRow("the same") << 3.5 << 0.0 << "";
    QTest::newRow("another zero is no fault") << 3.5 << 312.6 << "";
    QTest::newRow("one is 150 mm lower") << 3.35 << 0.0 << "storeys.height";
    QTest::newRow("one is 150 mm lower, with another zero") << 3.35 << 312.6 << "storeys.height";
    QTest::newRow("within the tolerance") << 3.504 << 0.0 << "";
}

void TestQuality::comparesStoreysWithTheReference()
{
    QFETCH(double, second);
    QFETCH(double, zero);
    QFETCH(QString, code);
    const auto storey = [](int id, const std::string& name, double z) {
        const std::string n = std::to_string(id),
                          at = exactNumber(z) + (exactNumber(z).find('.') == std::string::npos ? "." : "");
        return "#" + n + "1=IFCCARTESIANPOINT((0.,0.," + at + "));\n#" + n + "2=IFCAXIS2PLACEMENT3D(#" + n +
               "1,$,$);\n#" + n + "3=IFCLOCALPLACEMENT($,#" + n + "2);\n#" + n +
               "4=IFCBUILDINGSTOREY('1Stor0000000000000000" + n.substr(0, 1) + "',$,'" + name + "',$,$,#" + n +
               "3,$,$,.ELEMENT.," + at + ");\n";
    };
    Expectations expected;
    expected.storeys = {{"Level 1", Metres{zero}}, {"Level 2", Metres{zero + 3.5}}, {"Level 3", Metres{zero + 7}}};
    const QualityReport report = reportOn(
        test::ifcFile("IFC4", storey(6, "Level 1", 0.001) + storey(7, "Level 2", second) + storey(8, "Level 3", 7)),
        expected);
    const Finding* found = find(report, "storeys.height");
    QCOMPARE(found != nullptr, !code.isEmpty());
    if (found != nullptr) {
        QCOMPARE(found->concerned.size(), std::size_t{1});
        QCOMPARE(found->concerned[0].name, std::string("Level 2"));
        QVERIFY2(found->concerned[0].why.starts_with("150 mm lower"), found->concerned[0].why.c_str());
    }
}

void TestQuality::saysItAll()
{
    QualityReport report;
    QCOMPARE(report.inWords(), std::string("Nothing to complain of"));
    report.findings = {{Severity::Error, "a", "", "", 1, {}},
                       {Severity::Error, "b", "", "", 1, {}},
                       {Severity::Warning, "c", "", "", 1, {}}};
    SpecificationResult met, unmet, other;
    unmet.verdict = Verdict::Unmet;
    other.verdict = Verdict::NotForThisSchema;
    report.ids = {{"Fire", {met, unmet, other}, {}}};
    QCOMPARE(report.inWords(), std::string("2 faults, 1 warning; 1 of 2 specifications not met"));
    QVERIFY(report.hasFaults());
}

void TestQuality::isCancelled()
{
    const auto read = test::readText(test::ifcFile("IFC4", ""));
    Progress progress;
    progress.cancel();
    QVERIFY(checkQuality(*read->model, nullptr, Expectations::usual(), {}, progress).error().code == step::kCancelled);
}

QTEST_GUILESS_MAIN(TestQuality)
#include "test_quality.moc"
