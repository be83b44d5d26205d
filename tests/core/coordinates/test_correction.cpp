#include <QTest>

#include "core/base/file.h"
#include "core/coordinates/correction.h"
#include "core/coordinates/diagnosis.h"
#include "core/step/patch.h"
#include "support/ifc_text.h"
#include "support/made_site.h"
#include "support/must.h"

#include <QTemporaryDir>

#include <cmath>
#include <fstream>
#include <set>
#include <sstream>

using namespace wendrix;
using namespace wendrix::coordinates;
using federation::Fit;
using test::MadeSite;
using test::must;
using test::turnedAndShifted;

/// A corrected file: it stands where the reference stands, says so, and is otherwise the sender's to the last byte.
class TestCorrection : public QObject {
    Q_OBJECT
private slots:
    void itStandsRight_data();
    void itStandsRight();
    void theRestKeepsItsBytes();
    void productsWithoutAPlaceGetOne();
    void theSendersFileIsNeverWritten();
    void aConversionThatTheReferenceLacksGoes_data();
    void aConversionThatTheReferenceLacksGoes();
    void numbersAndTexts_data();
    void numbersAndTexts();
    void argumentsAreFound();
    void fiveMillimetresStay();

private:
    std::shared_ptr<const ifc::Model> opened(const std::filesystem::path& file)
    {
        return must(ifc::Model::open(file, progress_));
    }
    std::filesystem::path written(const std::string& name, const std::string& text)
    {
        const std::filesystem::path file = std::filesystem::path(folder_.path().toStdString()) / name;
        std::ofstream(file, std::ios::binary) << text;
        return file;
    }
    QTemporaryDir folder_;
    Progress progress_;
};

namespace {

std::function<Point3(Point3)> inverseOf(const Fit& fit)
{
    return [back = fit.transform().inverse()](Point3 p) { return back.apply(p); };
}

} // namespace

void TestCorrection::itStandsRight_data()
{
    QTest::addColumn<QString>("schema");
    QTest::addColumn<double>("unit");
    QTest::addColumn<double>("scale");
    QTest::addColumn<double>("degrees");
    QTest::addColumn<double>("north");
    QTest::addColumn<bool>("hasConversion");
    for (const char* schema : {"IFC2X3", "IFC4", "IFC4X3_ADD2"})
        for (const double unit : {1.0, 0.001, 0.3048})
            for (const auto& [name, scale, degrees, north] : {std::tuple{"turned", 1.0, 17.3, -34.2},
                                                              {"a unit wrong", 0.001, 0.0, 0.0},
                                                              {"far away", 1.0, -88.8, 5'410'977.15},
                                                              {"feet for metres", 0.3048, 45.0, 12.0},
                                                              {"as it is", 1.0, 0.0, 0.0}})
                for (const bool hasConversion : {false, true})
                    QTest::addRow("%s, %s in %g m%s", name, schema, unit, hasConversion ? ", with a conversion" : "")
                        << schema << unit << scale << degrees << north << hasConversion;
}

void TestCorrection::itStandsRight()
{
    QFETCH(QString, schema);
    QFETCH(double, unit);
    QFETCH(double, scale);
    QFETCH(double, degrees);
    QFETCH(double, north);
    QFETCH(bool, hasConversion);
    MadeSite reference, moving;
    reference.conversion = MadeSite::Conversion{"EPSG:25832", 431'208.4, 5'410'977.15, 312.6, 12.5};
    reference.latitudeLongitude = std::pair{48.848'123, 8.254'321};
    reference.trueNorthDegrees = -3.25;
    const Fit fit{scale, fromDegrees(degrees), {100, north, 3.5}};
    moving.name = "Structure";
    moving.schema = schema.toStdString();
    moving.place = inverseOf(fit);
    moving.metresPerUnit = unit;
    moving.unit = unit == 1 ? moving.unit : unit == 0.001 ? "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)" : "FOOT";
    if (hasConversion)
        moving.conversion = MadeSite::Conversion{"EPSG:31467", 1, 2, 3, 4};
    const auto file = written("moving.ifc", moving.text()), right = written("reference.ifc", reference.text()),
               target = file.parent_path() / "corrected.ifc";
    const auto first = opened(right), second = opened(file);
    const auto done = writeCorrected(*first, *second, fit, target, progress_);
    QVERIFY2(done.has_value(), done ? "" : done.error().message.c_str());
    QVERIFY2(done->warnings.empty(), done->warnings.empty() ? "" : done->warnings[0].c_str());
    const auto corrected = opened(target);
    QVERIFY(corrected->diagnostics().size() == second->diagnostics().size());
    // Without any fit: crossings, storeys, and the boxes themselves.
    double worst = 0;
    for (const Left& left : leftAt(*first, *corrected, {}))
        worst = std::max(worst, left.distance.value);
    QVERIFY2(worst < 1e-6, std::to_string(worst).c_str());
    QCOMPARE(leftAt(*first, *corrected, {}).size(), std::size_t{23});
    const auto geometry = must(geometry::MemberGeometry::build(*corrected, progress_)),
               whole = must(geometry::MemberGeometry::build(*first, progress_));
    for (ifc::ElementIndex i = 0; i < corrected->elements().size(); ++i) {
        const auto other = first->find(corrected->elements()[i].guid);
        QVERIFY(other.has_value());
        QVERIFY(length(corrected->elements()[i].placement.origin - first->elements()[*other].placement.origin) < 1e-6);
    }
    // Declared alike: nothing is left to fit.
    const auto declared = alignByGeoreference(*first, *corrected);
    QVERIFY2(declared.has_value(), declared ? "" : declared.error().message.c_str());
    QVERIFY(length(declared->fit.translation) < 1e-6 && std::abs(toDegrees(declared->fit.rotation)) < 1e-9 &&
            std::abs(declared->fit.scale - 1) < 1e-12);
    QCOMPARE(corrected->georeference().crs.value_or(""), std::string("EPSG:25832"));
    QVERIFY(std::abs(*corrected->georeference().latitudeDegrees - 48.848'123) < 1e-9);
    QVERIFY(std::abs(toDegrees(*corrected->georeference().trueNorth) + 3.25) < 1e-9);
    QVERIFY(diagnose({*first, {}}, {*corrected, {}}).isAligned);
    QCOMPARE(corrected->projectGuid(), second->projectGuid());
}

void TestCorrection::theRestKeepsItsBytes()
{
    // Comments, line ends, bytes of another encoding and odd spacing are the sender's.
    MadeSite moving, reference;
    moving.place = turnedAndShifted(30, {5, 6, 7});
    std::string text = moving.text(), odd;
    for (std::size_t i = 0; i < text.size(); ++i)
        odd += text[i] == '\n' ? (i % 3 == 0 ? " /* Vault; 'x' #12=( */\r\n" : "\r\n") : std::string(1, text[i]);
    odd.replace(odd.find("'Box Level 1'"), 13, "'K\xE4lte ''4'' \\S\\d'");
    const auto file = written("odd.ifc", odd), right = written("right.ifc", reference.text()),
               target = file.parent_path() / "odd-corrected.ifc";
    const auto model = opened(file);
    const auto done = writeCorrected(*opened(right), *model, {1, fromDegrees(-30), {1, 2, 3}}, target, progress_);
    QVERIFY(done.has_value());
    const std::string after = must(readFileWhole(target));
    // Line by line: each of the sender's is there in its order, but for those that say where it is.
    std::istringstream before(odd);
    std::size_t at = 0, changed = 0;
    for (std::string line; std::getline(before, line);) {
        line += '\n';
        const std::size_t found = after.find(line, at);
        if (found == std::string::npos) {
            ++changed;
            QVERIFY2(line.find("IFCLOCALPLACEMENT($") != std::string::npos ||
                         line.find("IFCSITE") != std::string::npos ||
                         line.find("IFCGEOMETRICREPRESENTATIONCONTEXT") != std::string::npos,
                     line.c_str());
            continue;
        }
        at = found + line.size();
    }
    QVERIFY(changed >= 4 && changed <= 6);
    // What was added ends its lines like the rest, and the file ends as it did.
    QVERIFY(after.find(";\n#") == std::string::npos);
    QVERIFY(after.ends_with(odd.substr(odd.find("ENDSEC;", odd.find("DATA;")))));
    QCOMPARE(opened(target)->elements().size(), model->elements().size());
}

void TestCorrection::productsWithoutAPlaceGetOne()
{
    const auto read = test::readText(test::ifcFile(
        "IFC4", "#10=IFCBLOCK(#4,1.,2.,3.);#11=IFCCSGSOLID(#10);#12=IFCSHAPEREPRESENTATION(#3,'Body','CSG',(#11));"
                "#13=IFCPRODUCTDEFINITIONSHAPE($,$,(#12));\n"
                "#14=IFCBUILDINGELEMENTPROXY('0000000000000000000014',$,'Nowhere',$,$,$,#13,$,$);\n"));
    const auto target = std::filesystem::path(folder_.path().toStdString()) / "placed.ifc";
    const auto done = writeCorrected(*read->model, *read->model, {1, fromDegrees(90), {10, 0, 0}}, target, progress_);
    QVERIFY2(done.has_value(), done ? "" : done.error().message.c_str());
    const auto placed = opened(target);
    QCOMPARE(placed->elements().size(), std::size_t{1});
    const Transform& at = placed->elements()[0].placement;
    QVERIFY(length(at.origin - Point3{10, 0, 0}) < 1e-12 && length(at.x - Vector3{0, 1, 0}) < 1e-12);
}

void TestCorrection::theSendersFileIsNeverWritten()
{
    const std::string text = MadeSite().text();
    const auto file = written("own.ifc", text);
    const auto model = opened(file);
    std::filesystem::create_symlink(file, file.parent_path() / "link.ifc");
    for (const char* name : {"own.ifc", "link.ifc", "not there/x.ifc", "."}) {
        const auto refused = writeCorrected(*model, *model, {}, file.parent_path() / name, progress_);
        QVERIFY2(!refused.has_value(), name);
        QCOMPARE(must(readFileWhole(file)), text);
    }
    Progress cancelled;
    cancelled.cancel();
    QVERIFY(!writeCorrected(*model, *model, {}, file.parent_path() / "cancelled.ifc", cancelled));
    QVERIFY(!std::filesystem::exists(file.parent_path() / "cancelled.ifc"));
    for (const auto& entry : std::filesystem::directory_iterator(file.parent_path()))
        QVERIFY2(!entry.path().string().ends_with(".part"), entry.path().c_str());
}

void TestCorrection::aConversionThatTheReferenceLacksGoes_data()
{
    QTest::addColumn<QString>("schema");
    for (const char* schema : {"IFC2X3", "IFC4"})
        QTest::newRow(schema) << schema;
}

void TestCorrection::aConversionThatTheReferenceLacksGoes()
{
    QFETCH(QString, schema);
    MadeSite reference, moving;
    moving.schema = schema.toStdString();
    moving.conversion = MadeSite::Conversion{"EPSG:25832", 1, 2, 3, 4};
    moving.trueNorthDegrees = 5;
    const auto first = opened(written("bare.ifc", reference.text())),
               second = opened(written("told.ifc", moving.text()));
    const auto target = std::filesystem::path(folder_.path().toStdString()) / "bare-corrected.ifc";
    QVERIFY(writeCorrected(*first, *second, {}, target, progress_).has_value());
    const auto corrected = opened(target);
    QVERIFY(!corrected->georeference().eastings && !corrected->georeference().trueNorth);
    QVERIFY(corrected->source().malformed().empty());
}

void TestCorrection::numbersAndTexts_data()
{
    QTest::addColumn<QString>("made");
    QTest::addColumn<QString>("expected");
    const auto real = [](double v, const char* expected) {
        QTest::newRow(expected) << QString::fromStdString(step::realText(v)) << expected;
    };
    real(0, "0.");
    real(1, "1.");
    real(-2.5, "-2.5");
    real(5410977.15, "5410977.15");
    real(1e-5, "1.E-05");
    real(1e23, "1.E+23");
    real(1.0 / 3, "0.3333333333333333");
    const auto text = [](const char* utf8, const char* expected) {
        QTest::newRow(expected) << QString::fromStdString(step::stringText(utf8)) << expected;
    };
    text("Vault", "'Vault'");
    text("it's a \\", "'it''s a \\\\'");
    text("K\xC3\xA4lte", "'K\\X2\\00E4\\X0\\lte'");
    text("\xF0\x9F\x8C\xB1", "'\\X4\\0001F331\\X0\\'");
    text("", "''");
}

void TestCorrection::numbersAndTexts()
{
    QFETCH(QString, made);
    QFETCH(QString, expected);
    QCOMPARE(made, expected);
    if (made.startsWith('\''))
        return;
    QCOMPARE(made.toDouble(), expected.toDouble());
}

void TestCorrection::argumentsAreFound()
{
    const std::string body =
        "#10=IFCWALL('a,(''b',$,/* , ( */ (1.,(2.,3.)) ,.T., #4 ,*);\n#11 = IFCWALL();\n"
        "#12=IFCX(IFCLABEL('x;y'),$);\n#0014 /* #14=( */ = /* a */ IFCDIRECTION /* b */ ((1.,0.));";
    const std::string text =
        "ISO-10303-21;HEADER;FILE_SCHEMA(('IFC4'));ENDSEC;DATA;\n" + body + "\nENDSEC;END-ISO-10303-21;";
    const auto file = must(step::File::index(text, "x", progress_));
    step::Patch patch(file);
    QCOMPARE(patch.argument(10, 0), std::string("'a,(''b'"));
    QCOMPARE(patch.argument(10, 1), std::string("$"));
    QVERIFY(patch.argument(10, 2).ends_with("(1.,(2.,3.))"));
    QCOMPARE(patch.argument(10, 4), std::string("#4"));
    QCOMPARE(patch.argument(10, 5), std::string("*"));
    QCOMPARE(patch.argument(12, 0), std::string("IFCLABEL('x;y')"));
    QVERIFY(patch.argument(10, 6).empty() && patch.argument(11, 0).empty() && patch.argument(99, 0).empty());
    QVERIFY(!patch.setArgument(10, 6, "1") && !patch.setArgument(11, 0, "1") && !patch.remove(99));
    QVERIFY(patch.setArgument(10, 1, "#15") && patch.remove(11) && patch.setEntity(12, "IFCY($)"));
    QVERIFY(patch.setEntity(14, "IFCDIRECTION((0.,1.))")); // its number written with zeros, comments all around
    QCOMPARE(patch.add("IFCZ()"), step::EntityId{15});
    QString expected = QString::fromStdString(text);
    expected.replace("'a,(''b',$", "'a,(''b',#15")
        .replace("#11 = IFCWALL();\n", "")
        .replace("#12=IFCX(IFCLABEL('x;y'),$);", "#12=IFCY($);")
        .replace("#0014 /* #14=( */ = /* a */ IFCDIRECTION /* b */ ((1.,0.));",
                 "#14=IFCDIRECTION((0.,1.));\n#15=IFCZ();");
    QCOMPARE(QString::fromStdString(patch.text()), expected);
}

void TestCorrection::fiveMillimetresStay()
{
    // Two places 5 mm from each other, 5 000 km from the origin: through fit and corrected file they stay 5 mm.
    const Fit fit{1, fromDegrees(-37.7), {5'000'000, 5'000'000, 0}};
    MadeSite reference, moving;
    reference.place = turnedAndShifted(0, {5'000'000, 5'000'000, 0});
    moving.letters[1].second += 0.005;
    moving.place = turnedAndShifted(37.7, {});
    const auto first = opened(written("far.ifc", reference.text())),
               second = opened(written("near.ifc", moving.text()));
    const auto target = std::filesystem::path(folder_.path().toStdString()) / "near-corrected.ifc";
    QVERIFY(writeCorrected(*first, *second, fit, target, progress_).has_value());
    const auto corrected = opened(target);
    for (const auto& left : leftAt(*first, *corrected, {})) {
        const double expected = left.at.starts_with("B/") ? 0.005 : 0;
        QVERIFY2(std::abs(left.distance.value - expected) < 1e-6, left.at.c_str());
    }
    const auto pattern = alignByPattern(*first, *second);
    QVERIFY(pattern.has_value());
    for (const auto& left : leftAt(*first, *second, fit))
        QVERIFY(std::abs(left.distance.value - (left.at.starts_with("B/") ? 0.005 : 0)) < 1e-6);
}

QTEST_APPLESS_MAIN(TestCorrection)
#include "test_correction.moc"
