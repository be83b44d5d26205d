#include <QTest>

#include "core/geometry/boolean.h"
#include "core/geometry/sweep.h"
#include "core/geometry/through_cut.h"

#include <cmath>
#include <numbers>
#include <random>

using namespace wendrix;
using namespace wendrix::geometry;

namespace {

Mesh box(Point3 min, Point3 max)
{
    Box3 b;
    b.add(min);
    b.add(max);
    return boxMesh(b);
}

/// A profile in x and z, extruded along y from `low` to `high`.
Mesh upright(const Area& area, double low, double high)
{
    const Mesh flat = extruded(area, {0, 0, high - low}).value();
    // (x, y, z) -> (x, high - z, y): turned about x.
    return transformed(flat, Transform{{1, 0, 0}, {0, 0, 1}, {0, -1, 0}, {0, high, 0}});
}

Ring circle(Point2 centre, double radius, int corners)
{
    Ring ring;
    for (int i = 0; i < corners; ++i)
        ring.push_back({centre.x + radius * std::cos(2 * std::numbers::pi * i / corners),
                        centre.y + radius * std::sin(2 * std::numbers::pi * i / corners)});
    return ring;
}

} // namespace

/// Openings cut in the plane of the profile.
class TestThroughCut : public QObject {
    Q_OBJECT
private slots:
    void holdsWhatIsLeft_data();
    void holdsWhatIsLeft();
    void leavesOthersAlone_data();
    void leavesOthersAlone();
    void isWhatTheBooleanGives_data();
    void isWhatTheBooleanGives();
    void mitredWallsAreCut_data();
    void mitredWallsAreCut();
};

void TestThroughCut::holdsWhatIsLeft_data()
{
    QTest::addColumn<QVector<QVector<double>>>("openings"); // from and to, in metres
    QTest::addColumn<double>("volume");
    // A wall of 6 x 0.2 x 3 m.
    using Boxes = QVector<QVector<double>>;
    QTest::newRow("a window") << Boxes{{1, -0.1, 1, 2, 0.3, 2}} << 0.2 * (18 - 1);
    QTest::newRow("flush with both faces") << Boxes{{1, 0, 1, 2, 0.2, 2}} << 0.2 * (18 - 1);
    QTest::newRow("a door on the floor") << Boxes{{1, 0, 0, 2, 0.2, 2.1}} << 0.2 * (18 - 2.1);
    QTest::newRow("a door that goes deeper") << Boxes{{1, -1, -0.5, 2, 1, 2.1}} << 0.2 * (18 - 2.1);
    QTest::newRow("door and window overlap")
        << Boxes{{1, 0, 0, 2, 0.2, 2}, {1.5, 0, 1, 3, 0.2, 2.5}} << 0.2 * (18 - 2 - 2.25 + 0.5);
    QTest::newRow("side by side, touching") << Boxes{{1, 0, 1, 2, 0.2, 2}, {2, 0, 1, 3, 0.2, 2}} << 0.2 * (18 - 2);

    QTest::newRow("the same twice") << Boxes{{1, 0, 1, 2, 0.2, 2}, {1, 0, 1, 2, 0.2, 2}} << 0.2 * (18 - 1);
    QTest::newRow("one in the other") << Boxes{{1, 0, 1, 4, 0.2, 2}, {2, 0, 1.2, 3, 0.2, 1.4}} << 0.2 * (18 - 3);
    QTest::newRow("beside it") << Boxes{{7, 0, 1, 8, 0.2, 2}} << 3.6;
    QTest::newRow("along its edge") << Boxes{{6, 0, 0, 7, 0.2, 3}} << 3.6;
    QTest::newRow("in two halves") << Boxes{{2, -1, -1, 3, 1, 4}} << 0.2 * 15;
    QTest::newRow("a slit of a tenth of a millimetre") << Boxes{{2, -1, 0.5, 2.0001, 1, 2.5}} << 0.2 * (18 - 0.0002);
    QTest::newRow("all of it") << Boxes{{-1, -1, -1, 7, 1, 4}} << 0.0;
    QTest::newRow("through it lengthwise") << Boxes{{-1, 0.05, 1, 7, 0.15, 2}} << 6 * (0.6 - 0.1);
    QTest::newRow("through it from above") << Boxes{{1, 0.05, -1, 2, 0.15, 4}} << 3 * (1.2 - 0.1);
    QTest::newRow("nothing") << Boxes{} << 3.6;
}

void TestThroughCut::holdsWhatIsLeft()
{
    QFETCH(QVector<QVector<double>>, openings);
    QFETCH(double, volume);
    std::vector<Mesh> tools;
    for (const auto& o : openings)
        tools.push_back(box({o[0], o[1], o[2]}, {o[3], o[4], o[5]}));
    const auto cut = throughCut(box({0, 0, 0}, {6, 0.2, 3}), tools);
    QVERIFY(cut.has_value());
    QVERIFY2(std::abs(volumeOf(*cut) - volume) < 1e-12, qPrintable(QString::number(volumeOf(*cut), 'g', 17)));
    QVERIFY(cut->isEmpty() || isClosed(*cut));
    // No edge has more than two sides, so that it can be cut further.
    QVERIFY(cut->isEmpty() || Solid::from(*cut).has_value());
}

void TestThroughCut::leavesOthersAlone_data()
{
    QTest::addColumn<int>("which");
    QTest::newRow("a niche") << 0;
    QTest::newRow("an opening that stands aslant") << 1;
    QTest::newRow("two that meet in a corner") << 2;
    QTest::newRow("a niche beside a window") << 3;
    QTest::newRow("an open wall") << 4;
    QTest::newRow("a round opening that tapers") << 5;
}

void TestThroughCut::leavesOthersAlone()
{
    QFETCH(int, which);
    Mesh wall = box({0, 0, 0}, {6, 0.2, 3});
    std::vector<Mesh> tools{box({1, -0.1, 1}, {2, 0.3, 2})};
    if (which == 0)
        tools[0] = box({1, -0.1, 1}, {2, 0.1, 2});
    if (which == 1)
        tools[0] = transformed(
            box({1, -0.5, 1}, {2, 0.7, 2}),
            Transform{{std::cos(0.1), std::sin(0.1), 0}, {-std::sin(0.1), std::cos(0.1), 0}, {0, 0, 1}, {}});
    if (which == 2)
        tools.push_back(box({2, -0.1, 2}, {3, 0.3, 2.5})); // four sides would share an edge
    if (which == 3)
        tools.push_back(box({3, 0.1, 1}, {4, 0.3, 2}));
    if (which == 4)
        wall.triangles.pop_back();
    if (which == 5) {
        const std::vector<Area> ends{{circle({1.5, 1.5}, 0.5, 24), {}}, {circle({1.5, 1.5}, 0.3, 24), {}}};
        const std::vector<Transform> frames{Transform{{1, 0, 0}, {0, 0, 1}, {0, -1, 0}, {0, 0.3, 0}},
                                            Transform{{1, 0, 0}, {0, 0, 1}, {0, -1, 0}, {0, -0.1, 0}}};
        tools[0] = lofted(ends, frames).value();
    }
    QVERIFY(!throughCut(wall, tools));
}

void TestThroughCut::isWhatTheBooleanGives_data()
{
    QTest::addColumn<int>("seed");
    for (int seed = 0; seed < 60; ++seed)
        QTest::addRow("%d", seed) << seed;
}

void TestThroughCut::isWhatTheBooleanGives()
{
    // Random walls with gables, round and straight openings that overlap, touch and stick out: the same body.
    QFETCH(int, seed);
    std::mt19937 random(static_cast<unsigned>(seed));
    const auto one = [&](double from, double to) { return std::uniform_real_distribution(from, to)(random); };
    const double far = seed % 3 == 0 ? 40'000 : 0; // such a wall may stand far from its frame's origin
    const double length = one(3, 9), eaves = one(2, 4), gable = one(0, 2);
    Area area{{{far, 0}, {far + length, 0}, {far + length, eaves}, {far + length / 2, eaves + gable}, {far, eaves}},
              {}};
    if (seed % 4 == 0)
        area.holes.push_back(circle({far + length / 2, eaves / 2}, 0.2, 12));
    if (seed % 5 == 0) { // corners that lie on a straight line but for rounding, as exporters leave them where
                         // something was cut before
        Ring finer;
        for (std::size_t i = 0; i < area.outer.size(); ++i) {
            const Point2 p = area.outer[i], q = area.outer[(i + 1) % area.outer.size()];
            for (int k = 0; k < 7; ++k)
                finer.push_back({p.x + (q.x - p.x) * k / 7, p.y + (q.y - p.y) * k / 7});
        }
        area.outer = finer;
    }
    for (Ring& hole : area.holes)
        std::reverse(hole.begin(), hole.end());
    const Mesh wall = upright(area, 0, 0.3);
    std::vector<Mesh> tools;
    for (int n = 1 + static_cast<int>(random() % 6); n > 0; --n) {
        const Point2 at{far + one(-0.5, length), one(-0.5, eaves)};
        const double wide = one(0.1, 2), high = one(0.1, 2);
        const Area opening = random() % 3 == 0
                                 ? Area{circle(at, wide / 2, 6 + static_cast<int>(random() % 30)), {}}
                                 : Area{{at, {at.x + wide, at.y}, {at.x + wide, at.y + high}, {at.x, at.y + high}}, {}};
        const bool isFlush = random() % 2 == 0;
        tools.push_back(upright(opening, isFlush ? 0 : -one(0.01, 1), isFlush ? 0.3 : 0.3 + one(0.01, 1)));
    }
    const auto quick = throughCut(wall, tools);
    QVERIFY(quick.has_value());
    std::vector<std::size_t> leftOut;
    const auto exact = subtractAll(wall, tools, leftOut);
    QVERIFY(exact && leftOut.empty());
    QVERIFY2(std::abs(volumeOf(*quick) - volumeOf(*exact)) < 1e-9,
             qPrintable(QString("%1 %2").arg(volumeOf(*quick), 0, 'g', 17).arg(volumeOf(*exact), 0, 'g', 17)));
    QVERIFY(std::abs(areaOf(*quick) - areaOf(*exact)) < 1e-8);
    QVERIFY(isClosed(*quick));
    QVERIFY(Solid::from(*quick).has_value());
}

void TestThroughCut::mitredWallsAreCut_data()
{
    QTest::addColumn<double>("left"); // how much shorter the far face is at its ends, metres
    QTest::addColumn<double>("right");
    QTest::addColumn<double>("slope"); // of the top, along the wall
    QTest::addColumn<bool>("isDoor");
    for (const double left : {-0.3, 0.0, 0.24})
        for (const double right : {0.0, 0.3})
            for (const double slope : {0.0, 0.2})
                for (const bool isDoor : {false, true})
                    QTest::addRow("%g and %g, slope %g, %s", left, right, slope, isDoor ? "door" : "windows")
                        << left << right << slope << isDoor;
}

void TestThroughCut::mitredWallsAreCut()
{
    QFETCH(double, left);
    QFETCH(double, right);
    QFETCH(double, slope);
    QFETCH(bool, isDoor);
    Mesh wall = box({0, 0, 0}, {8, 0.3, 3});
    for (Point3& p : wall.points) {
        p.z += p.z > 1 ? slope * p.x : 0;
        if (p.y > 0.1)
            p.x += p.x < 1 ? left : -right;
    }
    std::vector<Mesh> tools{box({1, -0.1, 1}, {2, 0.5, 2}), box({4, 0, 0.9}, {5.5, 0.3, 2.2}),
                            upright({circle({6.5, 1.5}, 0.4, 40), {}}, -0.2, 0.4)};
    if (isDoor)
        tools.push_back(box({2.5, 0, -0.5}, {3.5, 0.3, 2.1}));
    const auto cut = throughCut(wall, tools);
    QVERIFY(cut && isClosed(*cut));
    const double circleArea = 0.5 * 40 * 0.4 * 0.4 * std::sin(2 * std::numbers::pi / 40);
    QVERIFY(std::abs(volumeOf(*cut) - (volumeOf(wall) - 0.3 * (1 + 1.5 * 1.3 + circleArea + (isDoor ? 2.1 : 0)))) <
            1e-12);
    std::vector<std::size_t> leftOut;
    const auto exact = subtractAll(wall, tools, leftOut);
    QVERIFY(exact && std::abs(areaOf(*cut) - areaOf(*exact)) < 1e-9);
    QVERIFY(Solid::from(*cut).has_value());
    // An opening that comes into the mitre is not for us.
    if (left != 0)
        QVERIFY(!throughCut(wall, std::vector<Mesh>{box({-0.1, 0, 1}, {0.2, 0.3, 2})}));
}

QTEST_GUILESS_MAIN(TestThroughCut)
#include "test_through_cut.moc"
