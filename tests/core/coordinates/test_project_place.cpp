#include <QTest>

#include "core/base/transform.h"
#include "core/coordinates/place_sheet.h"
#include "core/coordinates/project_place.h"

#include <cmath>

using namespace wendrix;
using namespace wendrix::coordinates;
using federation::Fit;
using ifc::Georeference;

namespace {

Georeference onMap(const char* crs, double e, double n, double h, double degrees, double scale = 1)
{
    Georeference g;
    g.crs = crs;
    g.eastings = e;
    g.northings = n;
    g.height = h;
    g.rotation = fromDegrees(degrees);
    if (scale != 1)
        g.scale = scale;
    return g;
}

} // namespace

/// Where the federation lies on the map and on earth, and whether members agree.
class TestProjectPlace : public QObject {
    Q_OBJECT
private slots:
    void isTheSamePlaceSeenFromTheReference_data();
    void isTheSamePlaceSeenFromTheReference();
    void knownPlacesOnEarth_data();
    void knownPlacesOnEarth();
    void bySiteItAgreesWithTheMap();
    void membersAgreeOrNot_data();
    void membersAgreeOrNot();
    void theSheetSaysAll();
};

void TestProjectPlace::isTheSamePlaceSeenFromTheReference_data()
{
    QTest::addColumn<double>("degrees");
    QTest::addColumn<QVector<double>>("shift");
    QTest::addColumn<double>("scale");
    QTest::newRow("as it is") << 0.0 << QVector<double>{0, 0, 0} << 1.0;
    QTest::newRow("moved") << 0.0 << QVector<double>{40, -7, 2.5} << 1.0;
    QTest::newRow("turned and moved") << -31.7 << QVector<double>{40, -7, 2.5} << 1.0;
    QTest::newRow("in feet") << 17.3 << QVector<double>{4, 3, 2} << 0.3048;
}

void TestProjectPlace::isTheSamePlaceSeenFromTheReference()
{
    QFETCH(double, degrees);
    QFETCH(QVector<double>, shift);
    QFETCH(double, scale);
    const Fit fit{scale, fromDegrees(degrees), {shift[0], shift[1], shift[2]}};
    Georeference declared = onMap("EPSG:25832", 431'208.4, 5'410'977.15, 312.6, 12.5, 0.9996);
    declared.trueNorth = fromDegrees(3);
    declared.latitudeDegrees = 48.8;
    const Georeference seen = seenFromReference(declared, fit);
    const ProjectPlace theirs(declared), ours(seen);
    for (const Point3 p : {Point3{0, 0, 0}, Point3{30, -4, 9}, Point3{-100, 250, 3}}) {
        const Point3 a = *theirs.onMap(p), b = *ours.onMap(fit.transform().apply(p));
        QVERIFY2(length(a - b) < 1e-6, qPrintable(QString::number(length(a - b))));
    }
    QVERIFY(std::abs(toDegrees(*seen.trueNorth) - 3 - degrees) < 1e-9);
    QCOMPARE(seen.latitudeDegrees, declared.latitudeDegrees);
    QCOMPARE(seen.crs, declared.crs);
    QVERIFY(!seenFromReference({}, fit).eastings);
}

void TestProjectPlace::knownPlacesOnEarth_data()
{
    QTest::addColumn<QString>("crs");
    QTest::addColumn<QVector<double>>("map");
    QTest::addColumn<QVector<double>>("earth"); // latitude, longitude; from the definition of the systems
    // On the central meridian of a UTM zone the easting is 500 000 m; on the equator the northing is 0.
    QTest::newRow("zone 32 on the equator") << "EPSG:32632" << QVector<double>{500'000, 0} << QVector<double>{0, 9};
    QTest::newRow("zone 31 on the equator") << "EPSG:32631" << QVector<double>{500'000, 0} << QVector<double>{0, 3};
    QTest::newRow("zone 32 south") << "EPSG:32732" << QVector<double>{500'000, 10'000'000} << QVector<double>{0, 9};
    // A quarter of the meridian is 10 001 965.73 m long (GRS 80, WGS 84); times 0.9996 up to the pole.
    QTest::newRow("near the pole") << "EPSG:32632" << QVector<double>{500'000, 0.9996 * 10'001'965.7293}
                                   << QVector<double>{90, 9};
}

void TestProjectPlace::knownPlacesOnEarth()
{
    QFETCH(QString, crs);
    QFETCH(QVector<double>, map);
    QFETCH(QVector<double>, earth);
    const ProjectPlace place(onMap(crs.toUtf8(), map[0], map[1], 0, 0));
    const auto at = place.onEarth({0, 0, 0});
    QVERIFY(at.has_value());
    QVERIFY2(std::abs(at->latitude - earth[0]) < 1e-7, qPrintable(QString::number(at->latitude, 'f', 9)));
    QVERIFY(earth[0] == 90 || std::abs(at->longitude - earth[1]) < 1e-7);
}

void TestProjectPlace::bySiteItAgreesWithTheMap()
{
    // The same site told by the map and by latitude and longitude: within a hundred metres both say the same.
    const Georeference mapped = onMap("EPSG:32632", 500'000, 5'410'977.15, 312.6, 0);
    const ProjectPlace byMap(mapped);
    const auto origin = *byMap.onEarth({0, 0, 0});
    Georeference site;
    site.latitudeDegrees = origin.latitude;
    site.longitudeDegrees = origin.longitude;
    site.siteElevation = Metres{312.6};
    site.trueNorth = fromDegrees(20); // +Y points 20 degrees east of north
    const ProjectPlace bySite(site);
    QVERIFY(!bySite.onMap({}).has_value());
    for (const Point3 p : {Point3{60, 0, 0}, Point3{0, 80, 0}, Point3{-30, 40, 7}}) {
        // In the map's frame, on the central meridian where grid north is true north, a step is 0.9996 of one on earth.
        const Transform turn = Transform::rotationZ(fromDegrees(-20));
        const Point3 q = 0.9996 * turn.turn(p);
        const auto a = *bySite.onEarth(p), b = *byMap.onEarth(q);
        QVERIFY(std::abs(a.latitude - b.latitude) < 1e-8 && std::abs(a.longitude - b.longitude) < 1.5e-8);
        QCOMPARE(bySite.elevation(p)->value, 312.6 + p.z);
    }
}

void TestProjectPlace::membersAgreeOrNot_data()
{
    QTest::addColumn<Georeference>("declared");
    QTest::addColumn<bool>("agrees");
    QTest::addColumn<QString>("words");
    const double e = 431'208.4, n = 5'410'977.15, h = 312.6;
    QTest::newRow("the same") << onMap("EPSG:25832", e, n, h, 12.5) << true << "It declares the same place.";
    QTest::newRow("2 mm off") << onMap("EPSG:25832", e + 0.002, n, h, 12.5) << true << "the same place";
    QTest::newRow("14 m off") << onMap("EPSG:25832", e + 14, n, h, 12.5) << false << "14.00 m off in plan";
    QTest::newRow("too high") << onMap("EPSG:25832", e, n, h + 0.4, 12.5) << false << "400 mm too high";
    QTest::newRow("turned") << onMap("EPSG:25832", e, n, h, 12.7) << false << "turned by 0.2000°";
    QTest::newRow("nothing") << Georeference{} << false << "no map conversion";
    QTest::newRow("of a system nobody knows")
        << onMap("Site grid 7", e, n, h, 12.5) << false << "can not be taken into";
}

void TestProjectPlace::membersAgreeOrNot()
{
    QFETCH(Georeference, declared);
    QFETCH(bool, agrees);
    QFETCH(QString, words);
    const Georeference project = onMap("EPSG:25832", 431'208.4, 5'410'977.15, 312.6, 12.5);
    const Agreement a = agreementOf(project, declared, {}, {0, 0, 0});
    QCOMPARE(a.agrees(), agrees);
    QVERIFY2(QString::fromStdString(a.words).contains(words), a.words.c_str());
    // A member of its own origin that declares where that is agrees as well, through its fit.
    const Fit fit{1, fromDegrees(31), {40, -7, 2.5}};
    const Fit back{1, fromDegrees(-31), fit.transform().inverse().origin};
    const Agreement own = agreementOf(project, seenFromReference(declared, back), fit, {3, 4, 5});
    QCOMPARE(own.agrees(), agrees);
    // And in a neighbouring zone, taken into the project's.
    if (!agrees)
        return;
    const auto between = CrsTransform::between("EPSG:25832", "EPSG:25833").value();
    const Point3 o = between.apply({431'208.4, 5'410'977.15, 0}), x = between.apply({431'209.4, 5'410'977.15, 0});
    const double turn = std::atan2(x.y - o.y, x.x - o.x);
    const Agreement zone =
        agreementOf(project, onMap("EPSG:25833", o.x, o.y, 312.6, 12.5 + toDegrees(Radians{turn})), {}, {0, 0, 0});
    QVERIFY2(zone.agrees() && QString::fromStdString(zone.words).contains("taken from EPSG:25833"), zone.words.c_str());
    QVERIFY(QString::fromStdString(agreementOf({}, declared, {}, {}).words).contains("The project says no"));
}

void TestProjectPlace::theSheetSaysAll()
{
    PlaceSheet sheet;
    sheet.project = "Seed <vault>";
    sheet.from = "Architecture P01";
    const Georeference project = onMap("EPSG:25832", 431'208.4, 5'410'977.15, 312.6, 12.5);
    sheet.place = ProjectPlace(project);
    sheet.members = {{"Structure P01", "EPSG:25832", agreementOf(project, project, {}, {}), "by grids, locked"},
                     {"Piping P01", "none", agreementOf(project, {}, {}, {}), "as delivered"}};
    const QString html = QString::fromStdString(toHtml(sheet));
    for (const char* words : {"Seed &lt;vault&gt;", "431208.400 m", "12.500000°", "EPSG:25832 ETRS89 / UTM zone 32N",
                              "✓", "✗", "It declares no map conversion.", "by grids, locked"})
        QVERIFY2(html.contains(words), words);
    QVERIFY(!html.contains("<vault>"));
}

QTEST_APPLESS_MAIN(TestProjectPlace)
#include "test_project_place.moc"
