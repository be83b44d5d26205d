#include <QTest>

#include "core/federation/grid_fit.h"
#include "core/federation/location.h"
#include "core/federation/standing.h"
#include "support/ifc_text.h"
#include "support/made_model.h"

#include <cmath>

using namespace wendrix;
using namespace wendrix::federation;
using test::MadeModel;

/// Teams that export the same small building from frames and in units of their own: what brings each back is known.
class TestMadeModels : public QObject {
    Q_OBJECT
private slots:
    void isReadAsItWasMade_data();
    void isReadAsItWasMade();
    void theFitIsFound_data() { frames(); }
    void theFitIsFound();
    void howItStandsIsTold_data();
    void howItStandsIsTold();
    void placesAreNamedInTheReference_data();
    void placesAreNamedInTheReference();

private:
    static void frames();
    static MadeModel building();
    static Member memberOf(const MadeModel& made);
};

MadeModel TestMadeModels::building()
{
    MadeModel m;
    m.boxes = {{"Vault wall", {0, -0.2, 0}, {12, 0.2, 3.6}, "IFCWALL"},
               {"Beam B", {0, 5.9, 3.2}, {12, 6.1, 3.6}},
               {"Duct 1", {2, 2, 3.9}, {11, 2.4, 4.2}, "IFCDUCTSEGMENT"}};
    return m;
}

Member TestMadeModels::memberOf(const MadeModel& made)
{
    static std::vector<std::unique_ptr<test::Read>> kept; // members share what was read
    kept.push_back(test::readText(made.text()));
    Member member;
    member.discipline = made.name;
    member.model = kept.back()->model;
    member.geometry = kept.back()->geometry;
    return member;
}

void TestMadeModels::isReadAsItWasMade_data()
{
    QTest::addColumn<double>("metresPerUnit");
    QTest::addColumn<QString>("unit");
    QTest::newRow("metres") << 1.0 << "IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.)";
    QTest::newRow("millimetres") << 0.001 << "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)";
    QTest::newRow("centimetres") << 0.01 << "IFCSIUNIT(*,.LENGTHUNIT.,.CENTI.,.METRE.)";
}

void TestMadeModels::isReadAsItWasMade()
{
    MadeModel made = building();
    QFETCH(QString, unit);
    QFETCH(double, metresPerUnit);
    made.unit = unit.toStdString();
    made.metresPerUnit = metresPerUnit;
    const Member member = memberOf(made);
    QCOMPARE(member.model->elements().size(), made.boxes.size());
    QCOMPARE(member.model->storeys().size(), std::size_t{2});
    QVERIFY(std::abs(member.model->storeys()[1].elevation.value - 3.6) < 1e-9);
    QCOMPARE(gridCrossings(member.model->grids()).size(), std::size_t{9});
    for (std::size_t i = 0; i < made.boxes.size(); ++i) {
        const auto& shape = member.geometry->elements()[i];
        const Vector3 size = made.boxes[i].high - made.boxes[i].low;
        QVERIFY(std::abs(shape.volume - size.x * size.y * size.z) < 1e-9);
        QVERIFY(length(shape.bounds.min - made.boxes[i].low) < 1e-8 &&
                length(shape.bounds.max - made.boxes[i].high) < 1e-8);
    }
    QCOMPARE(member.model->storeys()[static_cast<std::size_t>(member.model->elements()[2].storey)].name,
             std::string("Level 2"));
}

void TestMadeModels::frames()
{
    QTest::addColumn<double>("degrees");
    QTest::addColumn<QVector<double>>("shift");
    QTest::addColumn<double>("metresPerUnit");
    const std::pair<const char*, double> units[] = {{"metres", 1.0}, {"millimetres", 0.001}};
    for (const auto& [unit, metresPerUnit] : units)
        for (const double degrees : {0.0, 0.05, 17.3, 90.0, -135.0, 180.0})
            for (const auto& shift : {QVector<double>{0, 0, 0}, QVector<double>{-34.2, 8.05, 312.6},
                                      QVector<double>{431'208.4, 5'410'977.15, 7}})
                QTest::addRow("%g degrees, %g m away, %s", degrees, std::hypot(shift[0], shift[1]), unit)
                    << degrees << shift << metresPerUnit;
}

void TestMadeModels::theFitIsFound()
{
    QFETCH(double, degrees);
    QFETCH(QVector<double>, shift);
    QFETCH(double, metresPerUnit);
    MadeModel made = building();
    made.turnedDegrees = degrees;
    made.shift = {shift[0], shift[1], shift[2]};
    made.metresPerUnit = metresPerUnit;
    if (metresPerUnit != 1)
        made.unit = "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)";
    const Member reference = memberOf(building());
    Member moving = memberOf(made);
    const auto fit = fitByGrids(*reference.model, *moving.model);
    QVERIFY(fit.has_value());
    QVERIFY(std::abs(std::remainder(toDegrees(fit->fit.rotation) - degrees, 360)) < 1e-7);
    // Doubles resolve a turn to 5e-11 over 12 m there, which is as much more at the far origin as it is farther away.
    QVERIFY2(length(fit->fit.translation - made.shift) < 1e-6 * std::max(1.0, length(made.shift) / 1e4),
             qPrintable(QString::number(length(fit->fit.translation - made.shift))));
    QVERIFY(fit->worst.value < 1e-5 && fit->warnings.empty());
    QCOMPARE(fit->residuals.size(), std::size_t{9});
    // Brought back, every body stands where the building has it, and the member verifies; left alone it does only where
    // it did not move.
    const bool isMoved = degrees != 0 || length(made.shift) > 0;
    QCOMPARE(standingOf(*reference.model, moving).isVerified(), !isMoved);
    moving.fit = fit->fit;
    QVERIFY(standingOf(*reference.model, moving).isVerified());
    for (std::size_t i = 0; i < made.boxes.size(); ++i) {
        const Point3 middle = 0.5 * (made.boxes[i].low + made.boxes[i].high);
        QVERIFY(length(moving.fit.transform().apply(moving.geometry->elements()[i].bounds.centre()) - middle) < 1e-4);
    }
}

void TestMadeModels::howItStandsIsTold_data()
{
    QTest::addColumn<double>("degrees");
    QTest::addColumn<QVector<double>>("shift");
    QTest::addColumn<double>("spacing"); // of the team's grid
    QTest::addColumn<double>("raised");  // its upper storey
    QTest::addColumn<int>("verdict");
    QTest::addColumn<QString>("words");
    using Verdict = Standing::Verdict;
    const auto row = [](const char* name, double degrees, QVector<double> shift, double spacing, double raised,
                        Verdict verdict, const char* words) {
        QTest::newRow(name) << degrees << shift << spacing << raised << static_cast<int>(verdict) << words;
    };
    row("stands right", 0, {0, 0, 0}, 6, 0, Verdict::Right, "");
    row("4 mm off is the drawing's", 0, {0.004, 0, 0}, 6, 0, Verdict::Right, "");
    row("an origin of its own", 0, {40, -7, 0}, 6, 0, Verdict::GridOff, "its grid is off by 40.61 m at ");
    row("turned about the building's origin", 30, {0, 0, 0}, 6, 0, Verdict::GridOff, "at C/3");
    row("too low", 0, {0, 0, 0.4}, 6, 0, Verdict::StoreysOff, "its storeys are off by 400 mm");
    row("one storey too high", 0, {0, 0, 0}, 6, 0.15, Verdict::StoreysOff, "its Level 2 is off by 150 mm");
    row("another grid", 0, {0, 0, 0}, 6.05, 0, Verdict::GridOff, "off by 141 mm at C/3"); // twice 50 mm both ways
    row("no grid", 0, {0, 0, 0}, 0, 0, Verdict::NoGrid, "it has no grid");
}

void TestMadeModels::howItStandsIsTold()
{
    QFETCH(double, degrees);
    QFETCH(QVector<double>, shift);
    QFETCH(double, spacing);
    QFETCH(double, raised);
    QFETCH(int, verdict);
    QFETCH(QString, words);
    const Member reference = memberOf(building());
    MadeModel made = building();
    made.turnedDegrees = degrees;
    made.shift = {shift[0], shift[1], shift[2]};
    made.gridSpacing = spacing;
    made.storeys.back().second += raised;
    const Standing standing = standingOf(*reference.model, memberOf(made));
    QCOMPARE(static_cast<int>(standing.verdict), verdict);
    QVERIFY2(QString::fromStdString(whyNotVerified(standing)).contains(words), whyNotVerified(standing).c_str());
    QCOMPARE(standing.isVerified(), whyNotVerified(standing).empty());
}

void TestMadeModels::placesAreNamedInTheReference_data()
{
    QTest::addColumn<QVector<double>>("at");
    QTest::addColumn<QString>("words");
    QTest::newRow("between axes") << QVector<double>{3, 3, 1} << "Level 1 · A-B / 1-2";
    QTest::newRow("on an axis") << QVector<double>{6, 3, 1} << "Level 1 · A-B / 2";
    QTest::newRow("on a crossing") << QVector<double>{6, 12, 4} << "Level 2 · C / 2";
    QTest::newRow("past the last") << QVector<double>{20, 3, 1} << "Level 1 · A-B / past 3";
    QTest::newRow("below") << QVector<double>{3, 3, -2} << "below Level 1 · A-B / 1-2";
}

void TestMadeModels::placesAreNamedInTheReference()
{
    QFETCH(QVector<double>, at);
    const Member reference = memberOf(building());
    QTEST(QString::fromStdString(Locator(*reference.model).at({at[0], at[1], at[2]}).inWords()), "words");
}

QTEST_GUILESS_MAIN(TestMadeModels)
#include "test_made_models.moc"
