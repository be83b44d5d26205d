#include <QTest>

#include "core/clash/grouping.h"
#include "core/clash/identity.h"
#include "core/clash/overlap.h"
#include "core/clash/words.h"
#include "core/geometry/sweep.h"

#include <cmath>
#include <numbers>

using namespace wendrix;
using geometry::Mesh;
using geometry::TriangleTree;

/// Two bodies: do they share space, and how much.
class TestOverlap : public QObject {
    Q_OBJECT
private slots:
    void measuresBoxes_data();
    void measuresBoxes();
    void aSnugRingOnlyTouches();
    void isTheSameWhereverBothStand();
    void crossedRodsAreAskew();
    void groupsByTheElementThatCausesMost();
    void namesGroups_data();
    void namesGroups();
};

namespace {

Mesh box(Point3 low, Point3 high)
{
    Box3 b;
    b.add(low);
    b.add(high);
    return geometry::boxMesh(b);
}

std::optional<clash::Overlap> overlap(const Mesh& a, const Mesh& b, double tolerance)
{
    return clash::overlapOf(TriangleTree(a), TriangleTree(b), tolerance);
}

} // namespace

void TestOverlap::measuresBoxes_data()
{
    QTest::addColumn<QVector<double>>("other"); // low and high of a box against the unit cube
    QTest::addColumn<double>("depth");          // 0: no clash
    const auto row = [](const char* name, QVector<double> o, double depth) { QTest::newRow(name) << o << depth; };
    row("50 mm into one face", {0.95, 0, 0, 2, 1, 1}, 0.05);
    row("50 mm in, other faces not flush", {0.95, 0.2, -3, 2, 0.8, 0.7}, 0.05);
    row("at a corner", {0.9, 0.8, 0.7, 2, 2, 2}, 0.1);
    row("right through", {-1, 0.3, 0.4, 2, 0.6, 0.6}, 0.2);
    row("wholly inside", {0.2, 0.2, 0.2, 0.5, 0.6, 0.7}, 0.3);
    row("wholly around", {-1, -1, -1, 2, 2, 2}, 1.0);
    row("the same cube", {0, 0, 0, 1, 1, 1}, 1.0);
    row("touching along a face", {1, 0, 0, 2, 1, 1}, 0);
    row("touching along an edge", {1, 1, 0, 2, 2, 1}, 0);
    row("touching at a corner", {1, 1, 1, 2, 2, 2}, 0);
    row("apart", {1.5, 0, 0, 2, 1, 1}, 0);
    row("4 mm in, below the tolerance", {0.996, 0, 0, 2, 1, 1}, 0);
    row("6 mm in, above it", {0.994, 0, 0, 2, 1, 1}, 0.006);
}

void TestOverlap::measuresBoxes()
{
    QFETCH(QVector<double>, other);
    QFETCH(double, depth);
    const Mesh cube = box({0, 0, 0}, {1, 1, 1});
    const Mesh b = box({other[0], other[1], other[2]}, {other[3], other[4], other[5]});
    for (const auto& found : {overlap(cube, b, 0.005), overlap(b, cube, 0.005)}) {
        QCOMPARE(found.has_value(), depth > 0);
        if (!found)
            continue;
        QVERIFY2(std::abs(found->depth - depth) < 1e-9, std::to_string(found->depth).c_str());
        QVERIFY(!found->isApproximate);
        const auto inside = [](double v, double low, double high) { return v > low - 1e-9 && v < high + 1e-9; };
        QVERIFY(inside(found->point.x, 0, 1) && inside(found->point.x, other[0], other[3]));
        QVERIFY(inside(found->point.z, 0, 1) && inside(found->point.z, other[2], other[5]));
    }
}

void TestOverlap::aSnugRingOnlyTouches()
{
    // A column in the hole of a floor, turned so that rounding leaves a skin between the two all around.
    const geometry::Area plate{{{-2, -2}, {2, -2}, {2, 2}, {-2, 2}},
                               {{{-0.2, -0.2}, {-0.2, 0.2}, {0.2, 0.2}, {0.2, -0.2}}}};
    const Mesh floor = *geometry::extruded(plate, {0, 0, 0.08});
    for (const double degrees : {0.0, 17.3, 31.0, 44.9}) {
        const Transform turn = Transform::translation({310.7, -87.3, 4.2}) * Transform::rotationZ(fromDegrees(degrees));
        const Mesh column = geometry::transformed(box({-0.2, -0.2, -1}, {0.2, 0.2, 1}), turn);
        QVERIFY(!overlap(geometry::transformed(floor, turn), column, 0.005));
    }
}

void TestOverlap::isTheSameWhereverBothStand()
{
    const Mesh a = box({0, 0, 0}, {4, 0.3, 0.3}), b = box({1, -1, 0.22}, {1.5, 2, 0.6});
    const double here = overlap(a, b, 0.001)->depth;
    QVERIFY(std::abs(here - 0.08) < 1e-9);
    for (const double degrees : {13.0, 77.7, 160.0}) {
        const Transform move = Transform::translation({2000, -1500, 40}) * Transform::rotationZ(fromDegrees(degrees));
        const auto there = overlap(geometry::transformed(a, move), geometry::transformed(b, move), 0.001);
        QVERIFY(there.has_value());
        QVERIFY2(std::abs(there->depth - here) < 1e-7, std::to_string(there->depth).c_str());
    }
}

void TestOverlap::crossedRodsAreAskew()
{
    // Two rods of square section standing on their edges cross at right angles, 20 mm into each other: what
    // they share is bounded by edges, and its least width lies upright.
    const double r = 0.1 * std::numbers::sqrt2 / 2;
    const geometry::Area square{{{r, 0}, {0, r}, {-r, 0}, {0, -r}}, {}};
    const Mesh rod = *geometry::extruded(square, {0, 0, 2});
    const Transform alongX{{0, 1, 0}, {0, 0, 1}, {1, 0, 0}, {-1, 0, 0}};
    const Transform alongY{{1, 0, 0}, {0, 0, 1}, {0, 1, 0}, {0, -1, 2 * r - 0.02}};
    const auto found = overlap(geometry::transformed(rod, alongX), geometry::transformed(rod, alongY), 0.001);
    QVERIFY(found.has_value());
    QVERIFY2(std::abs(found->depth - 0.02) < 1e-9, std::to_string(found->depth).c_str());
}

void TestOverlap::groupsByTheElementThatCausesMost()
{
    // One duct through three beams, one of which another duct meets too.
    const std::vector<clash::PairEnds> pairs{
        {1, 11}, {2, 11}, {3, 11}, {3, 12}, {4, 21}}; // beams 1 to 3, ducts 11 and 12, wall, pipe
    const auto groups = clash::groupBySharedElement(pairs);
    QCOMPARE(groups.size(), std::size_t{3});
    QCOMPARE(groups[0].shared, std::int64_t{11});
    QVERIFY((groups[0].pairs == std::vector<std::uint32_t>{0, 1, 2}));
    std::size_t all = 0;
    for (const auto& g : groups)
        all += g.pairs.size();
    QCOMPARE(all, pairs.size());
}

void TestOverlap::namesGroups_data()
{
    QTest::addColumn<QStringList>("others");
    QTest::addColumn<QString>("title");
    QTest::newRow("one") << QStringList{"Column B3"} << "Duct × Column B3";
    QTest::newRow("places are no kind") << QStringList{"Beam B-C / 4", "Beam B-C / 5", "Beam B-C / 6"}
                                        << "Duct × 3 beams";
    QTest::newRow("two words") << QStringList{"Core wall S", "Core wall N"} << "Duct × 2 core walls";
    QTest::newRow("nothing in common") << QStringList{"Beam B-C / 4", "Slab A-B / 1"} << "Duct × 2 elements";
    QTest::newRow("sizes are no kind") << QStringList{"Ø160 branch", "Ø160 bend"} << "Duct × 2 elements";
    QTest::newRow("already plural") << QStringList{"Stairs 1", "Stairs 2"} << "Duct × 2 stairs";
    QTest::newRow("other letters") << QStringList{"Tür 1", "Tür 2"} << "Duct × 2 türs";
}

void TestOverlap::namesGroups()
{
    QFETCH(QStringList, others);
    std::vector<std::string> names;
    for (const QString& name : others)
        names.push_back(name.toStdString());
    QTEST(QString::fromStdString(clash::groupTitle("Duct", names)), "title");
}

QTEST_GUILESS_MAIN(TestOverlap)
#include "test_overlap.moc"
