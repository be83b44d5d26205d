#include <QTest>

#include "core/clash/hard.h"
#include "core/geometry/primitives.h"
#include "core/geometry/sweep.h"
#include "support/made_body.h"
#include "support/random_solids.h"

#include <CGAL/Exact_predicates_exact_constructions_kernel.h>
#include <CGAL/intersections.h>

#include <cmath>
#include <numbers>
#include <random>

using namespace wendrix;
using geometry::Mesh;
using test::Random;

/// Solids at random against brute force: every triangle against every other in exact arithmetic.
class TestRandomSolids : public QObject {
    Q_OBJECT
private slots:
    void crossingsAreExact_data();
    void crossingsAreExact();
    void meetAsBruteForceSays_data();
    void meetAsBruteForceSays();
    void depthsSeparate_data();
    void depthsSeparate();
    void effortMissesNothing_data();
    void effortMissesNothing();
};

namespace {

using Exact = CGAL::Exact_predicates_exact_constructions_kernel;

Exact::Triangle_3 exact(const clash::Corners& t)
{
    const auto p = [](const Point3& q) { return Exact::Point_3(q.x, q.y, q.z); };
    return {p(t[0]), p(t[1]), p(t[2])};
}

Mesh solid(Random& random, int kind)
{
    switch (kind) {
    case 0:
        return geometry::blockMesh(random.between(0.2, 2), random.between(0.2, 2), random.between(0.2, 2));
    case 1: { // a prism of some corners
        std::vector<Point2> outline;
        const int n = random.number(3, 9);
        for (int i = 0; i < n; ++i) {
            const double at = 2 * std::numbers::pi * i / n;
            outline.push_back({std::cos(at), 0.7 * std::sin(at)});
        }
        return *geometry::extruded({outline, {}}, {random.between(-0.5, 0.5), 0, random.between(0.3, 2)});
    }
    case 2: { // an L
        const double t = random.between(0.2, 0.7);
        return *geometry::extruded({{{0, 0}, {2, 0}, {2, t}, {t, t}, {t, 2}, {0, 2}}, {}},
                                   {0, 0, random.between(0.3, 1.5)});
    }
    case 3: { // a square ring
        const double o = random.between(0.8, 1.2), i = random.between(0.3, 0.7);
        return *geometry::extruded({{{-o, -o}, {o, -o}, {o, o}, {-o, o}}, {{{-i, -i}, {-i, i}, {i, i}, {i, -i}}}},
                                   {0, 0, random.between(0.3, 1.5)});
    }
    default:
        return geometry::torusMesh(random.between(0.6, 0.9), random.between(0.1, 0.3), {});
    }
}

/// A ray in exact arithmetic from a corner of one: how often it crosses the other's surface.
bool isInside(const Point3& p, const clash::PlacedPart& other)
{
    const Exact::Point_3 from(p.x, p.y, p.z);
    const Exact::Ray_3 ray(from, Exact::Vector_3(0.31, 0.77, 0.53));
    int count = 0;
    for (std::uint32_t i = 0; i < other.shape().mesh().triangles.size(); ++i)
        if (const Exact::Triangle_3 t = exact(other.corners(i)); !t.is_degenerate())
            count += CGAL::do_intersect(ray, t) ? 1 : 0;
    return count % 2 == 1;
}

bool meets(const clash::PlacedPart& a, const clash::PlacedPart& b)
{
    for (std::uint32_t i = 0; i < a.shape().mesh().triangles.size(); ++i)
        for (std::uint32_t j = 0; j < b.shape().mesh().triangles.size(); ++j) {
            const clash::Corners s = a.corners(i), t = b.corners(j);
            if (clash::areNear(s, t, 0) && CGAL::do_intersect(exact(s), exact(t)))
                return true;
        }
    return isInside(a.point(0), b) || isInside(b.point(0), a);
}

struct Two {
    clash::Body a, b;
    int kindA, kindB;
};
Two twoAtRandom(test::MadeBodies& made, Random& random, const Transform& all)
{
    const int ka = random.number(0, 4), kb = random.number(0, 4);
    Transform at = random.turn();
    if (random.number(0, 1) == 1) // mirrored
        at = at * Transform{{-1, 0, 0}, {0, 1, 0}, {0, 0, 1}, {}};
    at.origin = {random.between(-2.2, 2.2), random.between(-2.2, 2.2), random.between(-2.2, 2.2)};
    return {made.body(solid(random, ka), all * random.turn()), made.body(solid(random, kb), all * at), ka, kb};
}

} // namespace

void TestRandomSolids::crossingsAreExact_data()
{
    QTest::addColumn<unsigned>("seed");
    QTest::addColumn<double>("away");
    for (const double away : {0.0, 1e3, 5e6})
        for (const unsigned seed : {1u, 2u, 3u})
            QTest::addRow("seed %u, %g m away", seed, away) << seed << away;
}

void TestRandomSolids::crossingsAreExact()
{
    QFETCH(unsigned, seed);
    QFETCH(double, away);
    Random random(seed);
    int met = 0;
    for (int i = 0; i < 4'000; ++i) {
        clash::Corners s, t;
        // Some nearly touch, some are slivers.
        const double size = random.number(0, 3) == 0 ? 1e-6 : 1;
        for (std::size_t k = 0; k < 3; ++k) {
            s[k] = {away + random.between(-1, 1), random.between(-1, 1), random.between(-1, 1)};
            t[k] = {away + random.between(-1, 1), random.between(-1, 1), size * random.between(-1, 1)};
        }
        if (random.number(0, 3) == 0 && away < 1e6) // farther off it may be on it exactly, and only touch
            t[0] = 0.3 * s[0] + 0.7 * s[1];         // on an edge, but for rounding
        const bool truth = CGAL::do_intersect(exact(s), exact(t));
        met += truth ? 1 : 0;
        QCOMPARE(clash::crossingOf(s, t).has_value(), truth);
        QCOMPARE(clash::crossingOf(t, s).has_value(), truth);
        if (!truth)
            QVERIFY(clash::leastShift(s, t).length < 1e-9 * std::max(1.0, away));
        else
            QVERIFY(clash::leastShift(s, t).length > -1e-9 * std::max(1.0, away));
    }
    QVERIFY(met > 400 && met < 3'600);
}

void TestRandomSolids::meetAsBruteForceSays_data()
{
    QTest::addColumn<unsigned>("seed");
    QTest::addColumn<double>("away");
    for (const double away : {0.0, 5e6})
        for (unsigned seed = 1; seed <= 6; ++seed)
            QTest::addRow("seed %u, %g m away", seed, away) << seed << away;
}

void TestRandomSolids::meetAsBruteForceSays()
{
    QFETCH(unsigned, seed);
    QFETCH(double, away);
    Random random(100 + seed);
    test::MadeBodies made;
    int met = 0, count = 0;
    for (int i = 0; i < 25; ++i) {
        const Two two = twoAtRandom(made, random, Transform::translation({away, -away, 0}));
        const bool truth = meets(two.a.parts[0], two.b.parts[0]);
        const auto found = clash::overlapOf(two.a, two.b, 0);
        const auto back = clash::overlapOf(two.b, two.a, 0);
        QVERIFY2(found.has_value() == truth,
                 qPrintable(QString("pair %1, kinds %2 and %3").arg(i).arg(two.kindA).arg(two.kindB)));
        QCOMPARE(back.has_value(), truth);
        met += truth ? 1 : 0;
        ++count;
        if (!found)
            continue;
        // Where it is said to be, both are.
        for (const clash::PlacedPart* part : {&two.a.parts[0], &two.b.parts[0]}) {
            const auto off = part->distanceTo(found->point, 1e3);
            QVERIFY(part->contains(found->point) || (off && *off < 1e-6));
        }
    }
    QVERIFY2(met > 2 && met < count, std::to_string(met).c_str());
}

void TestRandomSolids::depthsSeparate_data()
{
    QTest::addColumn<unsigned>("seed");
    for (unsigned seed = 1; seed <= 10; ++seed)
        QTest::addRow("seed %u", seed) << seed;
}

void TestRandomSolids::depthsSeparate()
{
    // Of two convex bodies the depth is exact: along no direction do their extents overlap by less, and moved by it
    // along one they are free. Of others, no shorter way out is found among many directions than what lies deepest
    // allows, and an exact one is never undercut.
    QFETCH(unsigned, seed);
    Random random(200 + seed);
    test::MadeBodies made;
    int met = 0;
    for (int i = 0; met < 8; ++i) {
        QVERIFY2(i < 200, "hardly any two meet");
        const Two two = twoAtRandom(made, random, {});
        const auto found = clash::overlapOf(two.a, two.b, 0);
        QCOMPARE(found.has_value(), meets(two.a.parts[0], two.b.parts[0]));
        if (!found)
            continue;
        ++met;
        const bool isConvex = two.kindA < 2 && two.kindB < 2;
        QVERIFY(!isConvex || !found->isApproximate);
        for (int k = 0; k < 300; ++k) {
            const Vector3 axis = random.turn().z;
            const double least = test::overlapAlong(two.a, two.b, axis);
            // Past their extents all bodies are free.
            if (isConvex || !found->isApproximate)
                QVERIFY2(found->depth <= least + 1e-9, std::to_string(found->depth - least).c_str());
            if (k < 40 && !found->isApproximate) {
                clash::Body moved;
                moved.parts.push_back(
                    clash::PlacedPart(two.b.parts[0].shape(),
                                      Transform::translation((found->depth - 2e-6) * axis) * two.b.parts[0].at()));
                QVERIFY(clash::overlapOf(two.a, moved, 0).has_value());
            }
        }
    }
}

namespace {

/// A block whose upper or lower side is a field of heights over a net of whole metres, given in 1/1024 m: exact in
/// binary, and so are all differences. Triangles in a random order.
Mesh field(Random& random, int n, const std::vector<int>& heights, double flat)
{
    Mesh mesh;
    const auto side = static_cast<std::uint32_t>(n + 1), count = side * side;
    for (const bool isFlat : {false, true})
        for (std::uint32_t k = 0; k < count; ++k)
            mesh.points.push_back({double(k % side), double(k / side), isFlat ? flat : heights[k] / 1024.0});
    const bool isUnder = flat < 0;
    const auto add = [&](std::uint32_t a, std::uint32_t b, std::uint32_t c) {
        if (isUnder)
            mesh.triangles.push_back({a, b, c});
        else
            mesh.triangles.push_back({a, c, b});
    };
    for (std::uint32_t y = 0; y + 1 < side; ++y)
        for (std::uint32_t x = 0; x + 1 < side; ++x) {
            const std::uint32_t a = y * side + x, b = a + 1, c = a + side, d = c + 1;
            add(a, b, d);
            add(a, d, c);
            add(count + a, count + d, count + b);
            add(count + a, count + c, count + d);
        }
    for (std::uint32_t k = 0; k + 1 < side; ++k) {
        const auto wall = [&](std::uint32_t p, std::uint32_t q) {
            add(p, count + p, count + q);
            add(p, count + q, q);
        };
        wall(k, k + 1);
        wall((k + 1) * side - 1, (k + 2) * side - 1);
        wall(count - 1 - k, count - 2 - k);
        wall((side - 1 - k) * side, (side - 2 - k) * side);
    }
    std::shuffle(mesh.triangles.begin(), mesh.triangles.end(), random.engine);
    return mesh;
}

} // namespace

void TestRandomSolids::effortMissesNothing_data()
{
    QTest::addColumn<unsigned>("seed");
    QTest::addColumn<int>("cells"); ///< a side
    for (const int cells : {12, 24})
        for (unsigned seed = 1; seed <= 4; ++seed)
            QTest::addRow("seed %u, %d cells a side", seed, cells) << seed << cells;
}

void TestRandomSolids::effortMissesNothing()
{
    // Two fields of hills graze each other in thousands of places, nowhere deeper than half of the tolerance; in some
    // one hill more reaches three times as deep. How deep is known in whole numbers: over one net the two surfaces are
    // farthest apart over a corner. Slopes stay under 1 in 60, so any way out is as long but for 1/3000 of it.
    QFETCH(unsigned, seed);
    QFETCH(int, cells);
    constexpr int kTolerance = 10; // 1/1024 m
    Random random(900 + seed);
    test::MadeBodies made;
    int clashes = 0, free = 0;
    for (int i = 0; i < 4; ++i) {
        const std::size_t corners = static_cast<std::size_t>((cells + 1) * (cells + 1));
        std::vector<int> lower(corners), upper(corners);
        for (std::size_t k = 0; k < corners; ++k) {
            lower[k] = random.number(-5, 5);
            upper[k] = lower[k] + random.number(-kTolerance / 2, kTolerance / 2); // over it, or as deep in it
        }
        if (i % 2 == 1) {
            const int x = random.number(1, cells - 1), y = random.number(1, cells - 1);
            const auto at = static_cast<std::size_t>(y * (cells + 1) + x);
            upper[at] = lower[at] - 3 * kTolerance;
        }
        int deepest = 0;
        for (std::size_t k = 0; k < corners; ++k)
            deepest = std::max(deepest, lower[k] - upper[k]);
        const bool truth = deepest > kTolerance;
        ++(truth ? clashes : free);
        const Transform at = random.turn();
        const clash::Body a = made.body(field(random, cells, lower, -3), at),
                          b = made.body(field(random, cells, upper, 3), at);
        QVERIFY(a.isClosed && b.isClosed);
        for (const auto effort : {clash::Effort::Brief, clash::Effort::Thorough})
            for (const bool isTurnedRound : {false, true}) {
                const auto found =
                    clash::overlapOf(isTurnedRound ? b : a, isTurnedRound ? a : b, kTolerance / 1024.0, effort);
                QVERIFY2(found.has_value() == truth, qPrintable(QString("pair %1, %2 of 1/1024 m deep, effort %3")
                                                                    .arg(i)
                                                                    .arg(deepest)
                                                                    .arg(static_cast<int>(effort))));
            }
    }
    QVERIFY(clashes == 2 && free == 2);
}

QTEST_GUILESS_MAIN(TestRandomSolids)
#include "test_random_solids.moc"
