#include <QTest>

#include "core/clash/convex_depth.h"
#include "core/clash/hard.h"
#include "core/geometry/primitives.h"
#include "support/made_body.h"
#include "support/random_solids.h"

#include <cmath>
#include <numbers>

using namespace wendrix;
using geometry::Mesh;
using test::Random;

/// Round bodies, convex with more faces than can be looked along one by one.
class TestConvexDepth : public QObject {
    Q_OBJECT
private slots:
    void roundBodiesAreExact_data();
    void roundBodiesAreExact();
};

void TestConvexDepth::roundBodiesAreExact_data()
{
    QTest::addColumn<int>("segments"); ///< of a full circle
    QTest::addColumn<double>("deep");  ///< metres
    QTest::addColumn<bool>("isStretched");
    // Along some way: what is stretched has to be deeper to meet at all, and so have corners that are far apart.
    for (const auto& [segments, deep, isStretched] : {std::tuple{24, 0.05, false},
                                                      {24, 0.4, false},
                                                      {24, 0.5, true},
                                                      {72, 0.03, false},
                                                      {72, 0.4, true},
                                                      {140, 0.002, false},
                                                      {140, 0.03, false},
                                                      {140, 0.4, false},
                                                      {140, 0.8, true}})
        QTest::addRow("%d segments, %g m deep%s", segments, deep, isStretched ? ", stretched" : "")
            << segments << deep << isStretched;
}

void TestConvexDepth::roundBodiesAreExact()
{
    // Two balls of up to 20 000 triangles: what is said is a way out, and along no direction is there a shorter one.
    QFETCH(int, segments);
    QFETCH(double, deep);
    QFETCH(bool, isStretched);
    geometry::Fineness fineness{1, 1, segments};
    Random random(static_cast<unsigned>(segments));
    test::MadeBodies made;
    const Mesh ball = geometry::sphereMesh(1, fineness);
    const Transform form = isStretched ? Transform{{1, 0, 0}, {0, 0.8, 0}, {0, 0, 1.3}, {}} : Transform();
    const Transform turnA = random.turn(), turnB = random.turn();
    const Vector3 way = random.turn().z;
    const clash::Body a = made.body(ball, turnA * form);
    clash::Body b = made.body(ball, turnB * form);
    // As deep in each other along some way.
    const double apart = test::extentOf(a, way).second - test::extentOf(b, way).first - deep;
    b.parts[0] = b.parts[0].movedBy(apart * way);
    const auto found = clash::overlapOf(a, b, 1e-4);
    QVERIFY(found.has_value());
    QVERIFY(!found->isApproximate);
    const auto least = [&](Vector3 axis) { return test::overlapAlong(a, b, axis); };
    QVERIFY(found->depth <= least(way) + 1e-9);
    const auto shift = clash::convexSeparation(a.parts[0], b.parts[0]);
    QVERIFY(shift.has_value());
    QCOMPARE(shift->length, found->depth);
    QVERIFY2(std::abs(least(shift->along) - found->depth) < 1e-9, "it is a way out");
    for (int k = 0; k < 400; ++k) {
        const Vector3 any = random.turn().z;
        QVERIFY(least(any) >= found->depth - 2e-7);
        QVERIFY(least(normalised(shift->along + (0.02 / (1 + k)) * any)) >= found->depth - 2e-7);
    }
    if (!isStretched) // of balls without corners it would be `deep`
        QVERIFY2(std::abs(found->depth - deep) < 2 * (1 - std::cos(std::numbers::pi / segments)),
                 std::to_string(found->depth).c_str());
    QVERIFY(a.contains(found->point) && b.contains(found->point));
    // A ring is not convex, nor is a ball with a dent.
    QVERIFY(clash::isConvexBody(a.parts[0].shape()));
    Mesh dented = ball;
    dented.points[dented.points.size() / 2] = 0.9 * (dented.points[dented.points.size() / 2] - Point3{}) + Point3{};
    QVERIFY(!clash::isConvexBody(made.body(dented).parts[0].shape()));
    QVERIFY(!clash::isConvexBody(made.body(geometry::torusMesh(0.8, 0.2, fineness)).parts[0].shape()));
}

QTEST_GUILESS_MAIN(TestConvexDepth)
#include "test_convex_depth.moc"
