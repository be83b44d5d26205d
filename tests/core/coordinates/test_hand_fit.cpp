#include <QTest>

#include "core/coordinates/hand_fit.h"
#include "support/ifc_text.h"
#include "support/made_site.h"
#include "support/must.h"

#include <cmath>

using namespace wendrix;
using namespace wendrix::coordinates;
using federation::Fit;
using test::must;
using Kind = Held::Kind;

namespace {

Held place(Point3 p, bool hasHeight = true) { return {Kind::Place, p, {0, 0, 1}, 0, hasHeight, "corner"}; }
Held line(Point3 a, Point3 b, bool hasHeight = true)
{
    return {Kind::Line, 0.5 * (a + b), normalised(b - a), length(b - a), hasHeight, "edge"};
}
Held face(Point3 p, Vector3 normal) { return {Kind::Face, p, normalised(normal), 5, true, "face"}; }

/// A thing of the building as a file has it whose fit onto the building is known.
Held inFile(Held held, const Fit& fit)
{
    const Transform back = fit.transform().inverse();
    held.place = back.apply(held.place);
    held.direction = normalised(back.turn(held.direction));
    held.length /= fit.scale;
    return held;
}

double turnBetween(const Fit& a, const Fit& b)
{
    return std::abs(toDegrees(Radians{std::remainder(a.rotation.value - b.rotation.value, 2 * std::numbers::pi)}));
}

const Fit kNear{1, fromDegrees(17.3), {34.2, -8.5, 1.25}},
    kFar{1, fromDegrees(-96.5), {431'208.4, 5'410'977.15, 312.6}}, kRound{1, fromDegrees(178), {-12, 40, 0}};

} // namespace

/// Fits by things that are to coincide, against placements that are known.
class TestHandFit : public QObject {
    Q_OBJECT
private slots:
    void whatIsTakenTellsAll_data();
    void whatIsTakenTellsAll();
    void onePlaceMovesAndDoesNotTurn();
    void oneAxisLeavesASlide();
    void oneAfterTheOther();
    void whatDisagreesIsShared();
    void weightsCount();
    void theNearerHalfTurnIsMeant();
    void theScaleIsFoundWhereItMay();
    void whatCanNotCoincide_data();
    void whatCanNotCoincide();
    void namesAreFound_data();
    void namesAreFound();
};

void TestHandFit::whatIsTakenTellsAll_data()
{
    QTest::addColumn<std::vector<Held>>("taken");
    QTest::addColumn<bool>("tellsHeight");
    const Held axis1 = line({0, -2, 0}, {0, 26, 0}, false), axisJ = line({-2, 11.4, 0}, {20, 11.4, 0}, false);
    const Held south = face({4, 0, 1}, {0, -1, 0}), west = face({0, 5, 1}, {-1, 0, 0}),
               top = face({3, 3, 7.9}, {0, 0, 1});
    QTest::newRow("two places") << std::vector{place({0, 0, 0}), place({18, 24.5, 7.9})} << true;
    QTest::newRow("three places") << std::vector{place({0, 0, 0}), place({18, 0, 3.6}), place({6, 24.5, 7.9})} << true;
    QTest::newRow("two crossings") << std::vector{place({0, 0, 0}, false), place({18, 24.5, 0}, false)} << false;
    QTest::newRow("1 on 1, then J on J") << std::vector{axis1, axisJ} << false;
    QTest::newRow("axes that cross aslant") << std::vector{axis1, line({0, 0, 0}, {10, 10, 0}, false)} << false;
    QTest::newRow("axes and a storey") << std::vector{axis1, axisJ, top} << true;
    QTest::newRow("three faces") << std::vector{south, west, top} << true;
    QTest::newRow("a face and an axis") << std::vector{south, axis1} << false;
    QTest::newRow("an edge and a corner") << std::vector{line({0, 0, 3}, {12, 0, 3}), place({18, 24.5, 3})} << true;
    QTest::newRow("an upright edge and an axis") << std::vector{line({6, 5, 0}, {6, 5, 3}), axisJ} << false;
    QTest::newRow("more than is needed") << std::vector{axis1, axisJ, south, west, top, place({18, 24.5, 7.9})} << true;
}

void TestHandFit::whatIsTakenTellsAll()
{
    QFETCH(std::vector<Held>, taken);
    QFETCH(bool, tellsHeight);
    for (const Fit& truth : {kNear, kFar, kRound}) {
        std::vector<HandPair> pairs;
        for (const Held& held : taken)
            pairs.push_back({inFile(held, truth), held});
        // From roughly where it belongs: a line may be laid on a line in two ways.
        Fit present = truth;
        present.rotation = Radians{truth.rotation.value + 0.3};
        present.translation = truth.translation + Vector3{40, -25, 3};
        const HandFit fit = must(fitByHand(pairs, present));
        QVERIFY(fit.tellsTurn && fit.tellsPlace);
        QCOMPARE(fit.tellsHeight, tellsHeight);
        for (const Point3 p : {Point3{0, 0, 0}, Point3{18, 0, 0}, Point3{0, 24.5, 7.9}}) {
            Vector3 off = fit.alignment.fit.transform().apply(truth.transform().inverse().apply(p)) - p;
            if (!tellsHeight) {
                QVERIFY(std::abs(off.z - 3) < 1e-9); // stays as it was
                off.z = 0;
            }
            QVERIFY2(length(off) < 1e-7, qPrintable(QString::number(length(off))));
        }
        QCOMPARE(fit.alignment.left.size(), taken.size());
        for (const Left& left : fit.alignment.left)
            QVERIFY(left.distance.value < 1e-7);
    }
}

void TestHandFit::onePlaceMovesAndDoesNotTurn()
{
    const Fit present{1, fromDegrees(30), {1, 2, 3}};
    const std::vector<HandPair> pairs{{place({4, 0, 0}), place({10, 10, 5})}};
    const HandFit fit = must(fitByHand(pairs, present));
    QVERIFY(fit.tellsPlace && !fit.tellsTurn && fit.tellsHeight);
    QCOMPARE(fit.alignment.fit.rotation, present.rotation);
    QVERIFY(length(fit.alignment.fit.transform().apply(Point3{4, 0, 0}) - Point3{10, 10, 5}) < 1e-12);
    QVERIFY(QString::fromStdString(fit.alignment.warnings.at(0)).contains("does not turn"));
}

void TestHandFit::oneAxisLeavesASlide()
{
    // Along y 3 m off to the east and turned by 10 degrees; it is turned about its middle and moved across.
    const Fit present{1, fromDegrees(10), {3, 7, 1}};
    const Held axis = line({0, 0, 0}, {0, 20, 0}, false);
    const std::vector<HandPair> pairs{{axis, axis}};
    const HandFit fit = must(fitByHand(pairs, present));
    QVERIFY(fit.tellsTurn && !fit.tellsPlace && !fit.tellsHeight);
    const Point3 before = present.transform().apply(Point3{0, 10, 0}),
                 after = fit.alignment.fit.transform().apply(Point3{0, 10, 0});
    QVERIFY(std::abs(after.x) < 1e-12 && std::abs(after.y - before.y) < 1e-12 && std::abs(after.z - 1) < 1e-12);
    QVERIFY(std::abs(fit.alignment.fit.rotation.value) < 1e-12);
}

void TestHandFit::oneAfterTheOther()
{
    // Taking one more thing leaves what was taken before where it lies.
    std::vector<HandPair> pairs{
        {inFile(line({0, 0, 0}, {0, 20, 0}, false), kNear), line({0, 0, 0}, {0, 20, 0}, false)}};
    Fit fit = must(fitByHand(pairs, {})).alignment.fit;
    QVERIFY(turnBetween(fit, kNear) < 1e-9);
    pairs.push_back({inFile(line({0, 5, 0}, {18, 5, 0}, false), kNear), line({0, 5, 0}, {18, 5, 0}, false)});
    fit = must(fitByHand(pairs, fit)).alignment.fit;
    QVERIFY(std::hypot(fit.translation.x - kNear.translation.x, fit.translation.y - kNear.translation.y) < 1e-9);
    pairs.push_back({inFile(face({0, 0, 3.6}, {0, 0, 1}), kNear), face({0, 0, 3.6}, {0, 0, 1})});
    fit = must(fitByHand(pairs, fit)).alignment.fit;
    QVERIFY(length(fit.translation - kNear.translation) < 1e-9);
}

void TestHandFit::whatDisagreesIsShared()
{
    // Two axes 6 m apart in the reference, 6.010 m in the member: each is left 5 mm off.
    const std::vector<HandPair> pairs{{line({0, 0, 0}, {0, 20, 0}, false), line({0, 0, 0}, {0, 20, 0}, false)},
                                      {line({6.010, 0, 0}, {6.010, 20, 0}, false), line({6, 0, 0}, {6, 20, 0}, false)}};
    const HandFit fit = must(fitByHand(pairs, {}));
    QVERIFY(std::abs(fit.alignment.fit.translation.x + 0.005) < 1e-12);
    for (const Left& left : fit.alignment.left)
        QVERIFY(std::abs(left.distance.value - 0.005) < 1e-9);
    QVERIFY(!fit.tellsPlace);
}

void TestHandFit::weightsCount()
{
    // 3.0 m three times as heavy as 3.4 m.
    std::vector<HandPair> pairs{{face({0, 0, 0}, {0, 0, 1}), face({0, 0, 3.0}, {0, 0, 1}), 3},
                                {face({0, 0, 0}, {0, 0, -1}), face({0, 0, 3.4}, {0, 0, 1}), 1}};
    QVERIFY(std::abs(must(fitByHand(pairs, {})).alignment.fit.translation.z - 3.1) < 1e-12);
    // Two parallel axes that disagree by 10 mm, one nine times as heavy: 1 mm and 9 mm.
    pairs = {{line({0, 0, 0}, {0, 20, 0}, false), line({0, 0, 0}, {0, 20, 0}, false), 9},
             {line({6.010, 0, 0}, {6.010, 20, 0}, false), line({6, 0, 0}, {6, 20, 0}, false), 1}};
    const HandFit fit = must(fitByHand(pairs, {}));
    QVERIFY(std::abs(fit.alignment.left[0].distance.value - 0.001) < 1e-9);
    QVERIFY(std::abs(fit.alignment.left[1].distance.value - 0.009) < 1e-9);
}

void TestHandFit::theNearerHalfTurnIsMeant()
{
    const Held axis = line({0, 0, 0}, {0, 20, 0}, false), other = line({0, 20, 0}, {0, 0, 0}, false);
    for (const auto& [degrees, expected] : {std::pair{80.0, 0.0}, {100.0, 180.0}, {-100.0, 180.0}, {10.0, 0.0}})
        for (const Held& reference : {axis, other}) {
            const std::vector<HandPair> pairs{{axis, reference}};
            const Fit present{1, fromDegrees(degrees), {}};
            const Fit fit = must(fitByHand(pairs, present)).alignment.fit;
            QVERIFY2(turnBetween(fit, {1, fromDegrees(expected), {}}) < 1e-9, qPrintable(QString::number(degrees)));
        }
}

void TestHandFit::theScaleIsFoundWhereItMay()
{
    Fit truth = kNear;
    truth.scale = 0.3048;
    std::vector<HandPair> pairs;
    for (const Point3 p : {Point3{0, 0, 0}, Point3{18, 0, 3.6}, Point3{6, 24.5, 7.9}})
        pairs.push_back({inFile(place(p), truth), place(p)});
    const Fit found = must(fitByHand(pairs, {}, federation::Scale::IsFree)).alignment.fit;
    QVERIFY(std::abs(found.scale - 0.3048) < 1e-12 && length(found.translation - truth.translation) < 1e-9);
    const HandFit fixed = must(fitByHand(pairs, {}));
    QCOMPARE(fixed.alignment.fit.scale, 1.0);
    QVERIFY(fixed.alignment.rms.value > 1);
}

void TestHandFit::whatCanNotCoincide_data()
{
    QTest::addColumn<Held>("moving");
    QTest::addColumn<Held>("reference");
    QTest::addColumn<double>("weight");
    QTest::addColumn<QString>("said");
    QTest::newRow("a place on a line") << place({}) << line({}, {1, 0, 0}) << 1.0 << "a place on a place";
    QTest::newRow("an upright on a level face")
        << face({}, {1, 0, 0}) << face({}, {0, 0, 1}) << 1.0 << "a face on a face";
    QTest::newRow("a sloping face") << face({}, {1, 0, 1}) << face({}, {1, 0, 0}) << 1.0 << "slopes";
    QTest::newRow("no weight") << place({}) << place({}) << 0.0 << "over 0";
    QTest::newRow("a weight of no number") << place({}) << place({}) << std::nan("") << "over 0";
}

void TestHandFit::whatCanNotCoincide()
{
    QFETCH(Held, moving);
    QFETCH(Held, reference);
    QFETCH(double, weight);
    QFETCH(QString, said);
    const std::vector<HandPair> pairs{{moving, reference, weight}};
    const auto fit = fitByHand(pairs, {});
    QVERIFY(!fit && fit.error().code == kUnlikePair);
    QVERIFY2(QString::fromStdString(fit.error().message).contains(said), fit.error().message.c_str());
    QVERIFY(fitByHand({}, {}).error().code == kNoPair);
    const std::vector<HandPair> same{{place({1, 1, 0}), place({})}, {place({1, 1, 2}), place({0, 0, 2})}};
    QVERIFY(fitByHand(same, {}).error().code == federation::kPlacesCoincide);
}

void TestHandFit::namesAreFound_data()
{
    QTest::addColumn<QString>("words");
    QTest::addColumn<int>("kind"); // -1: not found
    QTest::addColumn<QVector<double>>("at");
    QTest::addColumn<bool>("hasHeight");
    QTest::newRow("an axis") << "C" << static_cast<int>(Kind::Line) << QVector<double>{13.2, 0, 0} << false;
    QTest::newRow("an axis with blanks") << "  2 " << static_cast<int>(Kind::Line) << QVector<double>{0, 5, 0} << false;
    QTest::newRow("a crossing") << "C/4" << static_cast<int>(Kind::Place) << QVector<double>{13.2, 16, 0} << false;
    QTest::newRow("the other way round") << "4/C" << static_cast<int>(Kind::Place) << QVector<double>{13.2, 16, 0}
                                         << false;
    QTest::newRow("a storey") << "Level 2" << static_cast<int>(Kind::Face) << QVector<double>{0, 0, 7.9} << true;
    QTest::newRow("a place") << "12.5 -3 0.25" << static_cast<int>(Kind::Place) << QVector<double>{12.5, -3, 0.25}
                             << true;
    QTest::newRow("with commas") << "12.5, -3, 0.25" << static_cast<int>(Kind::Place) << QVector<double>{12.5, -3, 0.25}
                                 << true;
    QTest::newRow("in plan") << "12.5 -3" << static_cast<int>(Kind::Place) << QVector<double>{12.5, -3, 0} << false;
    QTest::newRow("nothing") << "" << -1 << QVector<double>{} << false;
    QTest::newRow("no such axis") << "Z" << -1 << QVector<double>{} << false;
    QTest::newRow("four numbers") << "1 2 3 4" << -1 << QVector<double>{} << false;
    QTest::newRow("number and words") << "1.5 metres" << -1 << QVector<double>{} << false;
}

void TestHandFit::namesAreFound()
{
    QFETCH(QString, words);
    QFETCH(int, kind);
    QFETCH(QVector<double>, at);
    QFETCH(bool, hasHeight);
    const auto model = test::readText(test::MadeSite{}.text());
    const auto held = heldByName(*model->model, words.toStdString());
    QCOMPARE(held.has_value(), kind >= 0);
    if (!held) {
        QVERIFY(held.error().code == kNotNamed);
        return;
    }
    QCOMPARE(static_cast<int>(held->kind), kind);
    QCOMPARE(held->hasHeight, hasHeight);
    if (held->kind == Kind::Line) // anywhere on it
        QVERIFY(std::abs(at[0] != 0 ? held->place.x - at[0] : held->place.y - at[1]) < 1e-9);
    else if (held->kind == Kind::Face)
        QVERIFY(std::abs(held->place.z - at[2]) < 1e-9);
    else
        QVERIFY(length(held->place - Point3{at[0], at[1], at[2]}) < 1e-9);
}

QTEST_APPLESS_MAIN(TestHandFit)
#include "test_hand_fit.moc"
