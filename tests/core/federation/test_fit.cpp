#include <QTest>

#include "core/federation/grid_fit.h"
#include "core/federation/location.h"
#include "core/federation/plan_fit.h"
#include "core/federation/standing.h"
#include "support/demo.h"

#include <cmath>

using namespace wendrix;
using namespace wendrix::federation;

/// Fits against placements that are known, and places in words.
class TestFit : public QObject {
    Q_OBJECT
private slots:
    void recoversAKnownPlacement_data();
    void recoversAKnownPlacement();
    void refusesTooLittle_data();
    void refusesTooLittle();
    void bringsTheDemoTeamsOntoTheArchitecture_data();
    void bringsTheDemoTeamsOntoTheArchitecture();
    void saysHowAMemberStands();
    void crossesCircularAxes_data();
    void crossesCircularAxes();
    void namesPlaces_data();
    void namesPlaces();
};

void TestFit::recoversAKnownPlacement_data()
{
    QTest::addColumn<double>("degrees");
    QTest::addColumn<double>("northing"); // metres
    QTest::newRow("stays put") << 0.0 << 0.0;
    QTest::newRow("a quarter turn") << 90.0 << 12.5;
    QTest::newRow("upside down in plan") << 180.0 << -3.0;
    QTest::newRow("survey coordinates") << -31.7 << 5'934'000.0;
    QTest::newRow("a hair's turn") << 0.0005 << 5'410'977.15;
}

void TestFit::recoversAKnownPlacement()
{
    QFETCH(double, degrees);
    QFETCH(double, northing);
    const Transform placement =
        Transform::translation({431'208.4, northing, 7}) * Transform::rotationZ(fromDegrees(degrees));
    std::vector<PlacePair> places;
    for (const Point3 p : {Point3{0, 0, 0}, Point3{43.2, 0, 0}, Point3{0, 20.4, 0}, Point3{43.2, 20.4, 3}})
        places.push_back({p, placement.apply(p)});
    const auto fit = fitInPlan(places);
    QVERIFY(fit.has_value());
    QVERIFY(std::abs(std::remainder(toDegrees(fit->rotation) - degrees, 360)) < 1e-6);
    Transform found = Transform::rotationZ(fit->rotation);
    found.origin = fit->translation;
    for (const PlacePair& p : places)
        QVERIFY(length(found.apply(p.moving) - p.reference) < 1e-6);
    QVERIFY(fit->rms.value < 1e-6);
}

void TestFit::refusesTooLittle_data()
{
    QTest::addColumn<int>("places");
    QTest::addColumn<QString>("code");
    QTest::newRow("none") << 0 << "fit.too-few-places";
    QTest::newRow("one") << 1 << "fit.too-few-places";
    QTest::newRow("the same one three times") << 3 << "fit.places-coincide";
}

void TestFit::refusesTooLittle()
{
    QFETCH(int, places);
    const std::vector<PlacePair> same(static_cast<std::size_t>(places), PlacePair{{1, 2, 3}, {4, 5, 6}});
    const auto fit = fitInPlan(same);
    QVERIFY(!fit.has_value());
    QTEST(QString::fromUtf8(fit.error().code.name.data()), "code");
}

void TestFit::bringsTheDemoTeamsOntoTheArchitecture_data()
{
    QTest::addColumn<QString>("discipline");
    QTest::addColumn<QString>("revision");
    for (const char* revision : {"P01", "P02"})
        for (const char* discipline : {"Structure", "Ventilation"})
            QTest::addRow("%s %s", discipline, revision) << discipline << revision;
}

void TestFit::bringsTheDemoTeamsOntoTheArchitecture()
{
    QFETCH(QString, discipline);
    QFETCH(QString, revision);
    const Member reference = test::demoMember("Architecture", "P01");
    const Member moving = test::demoMember(discipline.toStdString(), revision.toStdString());
    const auto fit = fitByGrids(*reference.model, *moving.model);
    QVERIFY(fit.has_value());
    const Fit truth = test::trueFit(discipline.toStdString());
    QVERIFY(length(fit->fit.translation - truth.translation) < 1e-4);
    QVERIFY(std::abs(toDegrees(fit->fit.rotation - truth.rotation)) < 1e-3);
    QCOMPARE(fit->residuals.size(), std::size_t{28});
    QCOMPARE(fit->residuals[0].name(), std::string("A/1"));
    QVERIFY(fit->worst.value < 1e-4);
    QCOMPARE(fit->storeys.size(), std::size_t{5});
    QVERIFY(fit->warnings.empty());
}

void TestFit::saysHowAMemberStands()
{
    const Member reference = test::demoMember("Architecture", "P01");
    Member moving = test::demoMember("Structure", "P01");
    const Standing off = standingOf(*reference.model, moving);
    QVERIFY(off.worst.value > 1);
    QVERIFY(!off.isVerified() && off.verdict == Standing::Verdict::GridOff);
    QVERIFY(std::abs(off.height.value - 312.6) < 1e-6 && off.storey.empty());
    QVERIFY(whyNotVerified(off).starts_with("its grid is off by "));
    moving.fit = test::trueFit("Structure");
    const Standing right = standingOf(*reference.model, moving);
    QVERIFY(right.worst.value < 1e-4);
    QVERIFY(right.isVerified() && whyNotVerified(right).empty());
    // In plan alone is not enough.
    moving.fit.translation.z += 0.4;
    const Standing high = standingOf(*reference.model, moving);
    QVERIFY(high.verdict == Standing::Verdict::StoreysOff && std::abs(high.height.value - 0.4) < 1e-6);
    QCOMPARE(whyNotVerified(high), std::string("its storeys are off by 400 mm"));
}

void TestFit::crossesCircularAxes_data()
{
    QTest::addColumn<QVector<double>>("line");   // from and to
    QTest::addColumn<QVector<double>>("arc");    // degrees: from, sweep; about the origin, 10 m
    QTest::addColumn<QVector<double>>("wanted"); // nothing where there is no one place
    const auto row = [](const char* name, QVector<double> line, QVector<double> arc, QVector<double> wanted) {
        QTest::newRow(name) << line << arc << wanted;
    };
    row("a ray from the middle", {0, 0, 20, 0}, {-45, 90}, {10, 0});
    row("a ray that ends before it", {0, 0, 8, 0}, {-45, 90}, {10, 0});
    row("a ray the other way", {0, 0, -20, 0}, {-45, 90}, {10, 0});
    row("a whole circle, by where the line is", {1, 0, 20, 0}, {0, 360}, {10, 0});
    row("clockwise", {0, 0, 0, 20}, {120, -60}, {0, 10});
    row("past the end of the arc", {0, 0, 0, 20}, {-45, 90}, {});
    row("right at its end", {0, 0, 0, 20}, {0, 90}, {0, 10});
    row("through the whole circle: two as good", {-20, 0, 20, 0}, {0, 360}, {});
    row("beside it", {-20, 11, 20, 11}, {0, 360}, {});
    row("a chord of a half", {6, -20, 6, 20}, {0, 180}, {6, 8});
}

void TestFit::crossesCircularAxes()
{
    QFETCH(QVector<double>, line);
    QFETCH(QVector<double>, arc);
    QFETCH(QVector<double>, wanted);
    // Where the file stands does not matter.
    const Transform placement =
        Transform::translation({431'208.4, 5'410'977.15, 7}) * Transform::rotationZ(fromDegrees(31));
    ifc::Grid grid;
    grid.axes.push_back(
        {"1", 'u', placement.apply(Point3{line[0], line[1], 0}), placement.apply(Point3{line[2], line[3], 0}), {}});
    ifc::GridArc circle{placement.apply(Point3{0, 0, 0}), placement.turn(Vector3{10, 0, 0}),
                        placement.turn(Vector3{0, 10, 0}), fromDegrees(arc[0]).value, fromDegrees(arc[1]).value};
    grid.axes.push_back({"R", 'v', circle.at(circle.from), circle.at(circle.from + circle.sweep), circle});
    const auto crossings = gridCrossings({grid});
    QCOMPARE(crossings.empty(), wanted.isEmpty());
    if (!wanted.isEmpty()) {
        QVERIFY(length(crossings[0].place - placement.apply(Point3{wanted[0], wanted[1], 0})) < 1e-8);
        QVERIFY(crossings[0].first == "R" && crossings[0].second == "1");
    }
}

void TestFit::namesPlaces_data()
{
    // In the building's own frame; the truth's fit of an unturned team with origin A/1 takes it over.
    QTest::addColumn<double>("x");
    QTest::addColumn<double>("y");
    QTest::addColumn<double>("z");
    QTest::addColumn<QString>("words");
    QTest::newRow("between axes") << 25.0 << 10.0 << 5.0 << "Level 2 · B-C / 4-5";
    QTest::newRow("on both axes") << 7.3 << 13.0 << 0.0 << "Level 1 · C / 2";
    QTest::newRow("on one axis") << 28.8 << 16.0 << 8.4 << "Level 3 · C-D / 5";
    QTest::newRow("in the cellar") << 3.0 << 3.0 << -1.0 << "Cellar · A-B / 1-2";
    QTest::newRow("below everything") << 3.0 << 3.0 << -5.0 << "below Cellar · A-B / 1-2";
    QTest::newRow("outside") << -4.0 << 3.0 << 13.0 << "Roof · A-B / before 1";
    QTest::newRow("past the last axis") << 50.0 << 30.0 << 13.0 << "Roof · past D / past 7";
}

void TestFit::namesPlaces()
{
    QFETCH(double, x);
    QFETCH(double, y);
    QFETCH(double, z);
    const Member reference = test::demoMember("Architecture", "P01");
    // Ventilation has its origin at D/1 on the cellar floor, unturned.
    const Point3 place = test::trueFit("Ventilation").transform().apply(Point3{x, y - 20.4, z + 3.6});
    QTEST(QString::fromStdString(Locator(*reference.model).at(place).inWords()), "words");
}

QTEST_GUILESS_MAIN(TestFit)
#include "test_fit.moc"
