#include <QTest>

#include "core/clash/hard.h"
#include "core/clash/shared_body.h"
#include "core/geometry/primitives.h"
#include "core/geometry/sweep.h"
#include "support/made_body.h"

#include <cmath>
#include <numbers>

using namespace wendrix;
using geometry::Mesh;
using test::box;
using test::moved;
using test::prism;
using test::turned;

/// Two bodies: do they share space, and how far apart would they have to move.
class TestHard : public QObject {
    Q_OBJECT
private slots:
    void measuresPairs_data();
    void measuresPairs();
    void isTheSameWhereverBothStand_data();
    void isTheSameWhereverBothStand();
    void aSnugRingOnlyTouches();
    void touchesWithoutEnd_data();
    void touchesWithoutEnd();
    void sharesVolume_data();
    void sharesVolume();
};

namespace {

/// Legs 1 m thick along x and y, 3 m long, 2 m high.
Mesh angle() { return prism({{{0, 0}, {3, 0}, {3, 1}, {1, 1}, {1, 3}, {0, 3}}, {}}, 2); }
/// A wall 10 m long, 0.2 m thick, 3 m high, with a hole 1 x 1 m whose corner is at x = 4, z = 1.
Mesh wallWithHole()
{
    const Mesh flat =
        prism({{{0, 0}, {10, 0}, {10, 3}, {0, 3}}, {{{4, 1}, {4, 2}, {5, 2}, {5, 1}}}}, 0.2); // in x and y
    return geometry::transformed(flat, {{1, 0, 0}, {0, 0, 1}, {0, -1, 0}, {0, 0.2, 0}});
}
/// Along y through x, z: r is that of its corners.
Mesh pipe(double x, double z, double radius, double from, double to)
{
    std::vector<Point2> outline;
    for (int i = 0; i < 32; ++i)
        outline.push_back({radius * std::cos(i * std::numbers::pi / 16), radius * std::sin(i * std::numbers::pi / 16)});
    return geometry::transformed(prism({outline, {}}, to - from), {{1, 0, 0}, {0, 0, -1}, {0, 1, 0}, {x, from, z}});
}
/// Inside and outside half widths of a square tube along z.
Mesh tube(double inner, double outer, double height)
{
    return prism({{{-outer, -outer}, {outer, -outer}, {outer, outer}, {-outer, outer}},
                  {{{-inner, -inner}, {-inner, inner}, {inner, inner}, {inner, -inner}}}},
                 height);
}

/// Along y through x = 0, 300 mm high from z = 0 on, flanges 12 mm thick.
Mesh beam(double from, double to)
{
    const double w = 0.1, t = 0.012, h = 0.3;
    const std::vector<Point2> profile{{-w, 0}, {w, 0},  {w, t},      {t / 2, t},      {t / 2, h - t}, {w, h - t},
                                      {w, h},  {-w, h}, {-w, h - t}, {-t / 2, h - t}, {-t / 2, t},    {-w, t}};
    return geometry::transformed(prism({profile, {}}, to - from), {{1, 0, 0}, {0, 0, 1}, {0, -1, 0}, {0, to, 0}});
}

struct Case {
    const char* name;
    Mesh a, b;
    double depth;        ///< 0: no clash
    bool isExact = true; ///< else the depth may be said as a bound, no more than `most`
    double most = 0;
    double tolerance = 0.005;
};

const std::vector<Case>& cases()
{
    static const Mesh cube = box({0, 0, 0}, {1, 1, 1});
    static const Mesh twice = [] { // the same surface twice
        Mesh m = cube;
        m.append(cube);
        return m;
    }();
    static const Mesh selfCut = [] { // two boxes that cut each other, as one body
        Mesh m = box({0, 0, 0}, {2, 1, 1});
        m.append(box({1, 0.5, 0.5}, {3, 2, 2}));
        return m;
    }();
    static const Mesh degenerate = [] { // slivers and points among its triangles
        Mesh m = cube;
        m.triangles.push_back({0, 0, 1});
        m.triangles.push_back({0, 1, 0});
        return m;
    }();
    static const Mesh open = [] { // a lid is missing
        Mesh m = cube;
        m.triangles.erase(m.triangles.begin(), m.triangles.begin() + 2);
        return m;
    }();
    static const std::vector<Case> all{
        // Boxes against the unit cube: the way out is along an axis, past the nearer end.
        {"50 mm into one face", cube, box({0.95, 0, 0}, {2, 1, 1}), 0.05},
        {"50 mm in, other faces not flush", cube, box({0.95, 0.2, -3}, {2, 0.8, 0.7}), 0.05},
        {"at a corner", cube, box({0.9, 0.8, 0.7}, {2, 2, 2}), 0.1},
        {"along an edge", cube, box({0.9, 0.8, -1}, {2, 2, 2}), 0.1},
        {"right through", cube, box({-1, 0.3, 0.4}, {2, 0.6, 0.6}), 0.6},
        {"wholly inside", cube, box({0.2, 0.2, 0.2}, {0.5, 0.6, 0.7}), 0.5},
        {"wholly around", cube, box({-1, -1, -1}, {2, 2, 2}), 2},
        {"the same cube", cube, cube, 1},
        {"in one half, flush all around", cube, box({0, 0, 0}, {1, 1, 0.5}), 0.5},
        {"standing on it, larger", cube, box({-1, -1, 1}, {2, 2, 2}), 0},
        {"touching along a face", cube, box({1, 0, 0}, {2, 1, 1}), 0},
        {"touching along part of a face", cube, box({1, 0.3, 0.3}, {2, 0.6, 5}), 0},
        {"touching along an edge", cube, box({1, 1, 0}, {2, 2, 1}), 0},
        {"touching at a corner", cube, box({1, 1, 1}, {2, 2, 2}), 0},
        {"apart", cube, box({1.5, 0, 0}, {2, 1, 1}), 0},
        {"apart across the corner", cube, box({1.001, 1.001, 1.001}, {2, 2, 2}), 0},
        {"4 mm in, below the tolerance", cube, box({0.996, 0, 0}, {2, 1, 1}), 0},
        {"6 mm in, above it", cube, box({0.994, 0, 0}, {2, 1, 1}), 0.006},
        {"0.01 mm in, no tolerance", cube, box({0.99999, 0, 0}, {2, 1, 1}), 0.00001, true, 0, 0},
        {"touching, no tolerance", cube, box({1, 0, 0}, {2, 1, 1}), 0, true, 0, 0},
        {"touching at map coordinates, no tolerance", moved(cube, {4'312'000, 5'410'977, 300}),
         moved(box({1, 0, 0}, {2, 1, 1}), {4'312'000, 5'410'977, 300}), 0, true, 0, 0},
        {"plates of 1 mm that cross", box({-1, -1, 0}, {1, 1, 0.001}), box({0, -1, -1}, {0.001, 1, 1}), 1, true},
        {"a plate of 1 mm in a wall of 0.2 m", box({-1, 0, 0}, {1, 0.2, 3}), box({-0.5, -1, 1}, {0.5, 1, 1.001}), 1},
        {"a foil of 0.01 mm through the cube", cube, box({0.2, -1, 0.5}, {0.4, 2, 0.50001}), 0.4},
        // Turned: the separating direction is a normal of either, or across two edges.
        {"a corner of a turned square into a face", cube,
         moved(turned(box({-0.5, -0.5, 0}, {0.5, 0.5, 1}), 45), {1 + std::numbers::sqrt2 / 2 - 0.03, 0.5, 0}), 0.03},
        {"a turned square that only touches", cube,
         moved(turned(box({-0.5, -0.5, 0}, {0.5, 0.5, 1}), 45), {1 + std::numbers::sqrt2 / 2, 0.5, 0}), 0},
        {"its corner in 4 mm", cube,
         moved(turned(box({-0.5, -0.5, 0}, {0.5, 0.5, 1}), 45), {1 + std::numbers::sqrt2 / 2 - 0.004, 0.5, 0}), 0},
        // Pipes: of 32 sides, corners up, down, left and right.
        {"a pipe through a wall", box({0, 0, 0}, {10, 0.2, 3}), pipe(5, 1.5, 0.05, -1, 1), 1.0},
        {"a short pipe in a wall", box({0, 0, 0}, {10, 0.2, 3}), pipe(5, 1.5, 0.05, 0.15, 0.4), 0.05},
        {"a pipe wholly in a wall", box({0, 0, 0}, {10, 0.2, 3}), pipe(5, 1.5, 0.05, 0.05, 0.15), 0.15},
        {"a pipe that grazes a beam from below", box({0, 0, 1}, {10, 1, 2}), pipe(5, 0.953, 0.05, -1, 2), 0},
        {"and reaches into it", box({0, 0, 1}, {10, 1, 2}), pipe(5, 0.97, 0.05, -1, 2), 0.02},
        {"crossing pipes, 20 mm into each other", pipe(0, 0, 0.05, -1, 1),
         geometry::transformed(pipe(0, 0, 0.05, -1, 1), {{0, 1, 0}, {1, 0, 0}, {0, 0, -1}, {0, 0, 0.08}}), 0.02},
        {"crossing pipes that touch", pipe(0, 0, 0.05, -1, 1),
         geometry::transformed(pipe(0, 0, 0.05, -1, 1), {{0, 1, 0}, {1, 0, 0}, {0, 0, -1}, {0, 0, 0.1}}), 0},
        {"pieces of one run, end to end", pipe(0, 0, 0.05, -1, 0), pipe(0, 0, 0.05, 0, 1), 0},
        {"pieces of one run, 10 mm into each other", pipe(0, 0, 0.05, -1, 0.01), pipe(0, 0, 0.05, 0, 1), 0.01},
        {"one pipe inside another's material", pipe(0, 0, 0.3, -1, 1), pipe(0, 0, 0.1, -0.5, 0.5),
         0.4 * std::cos(std::numbers::pi / 32)},
        // In the notch of an L nothing is shared; a leg may be reached into.
        {"in the notch, clear", angle(), box({1.2, 1.2, 0}, {2, 2, 1}), 0},
        {"in the notch, touching both legs", angle(), box({1, 1, 0}, {2, 2, 1}), 0},
        {"in the notch, as high", angle(), box({1, 1, 0}, {3, 3, 2}), 0},
        {"a pipe in the notch", angle(), moved(pipe(0, 0, 0.2, -1, 1), {1.5, 2, 1}), 0},
        {"50 mm into a leg", angle(), box({0.95, 1.5, 0.5}, {2, 2.5, 1.5}), 0.05},
        {"4 mm into a leg", angle(), box({0.996, 1.5, 0.5}, {2, 2.5, 1.5}), 0},
        {"into the corner of both legs", angle(), box({0.95, 0.9, 0.5}, {2, 2, 1.5}), std::hypot(0.05, 0.1), false,
         std::hypot(0.05, 0.1) + 1e-6},
        {"through a leg", angle(), box({-1, 2, 0.5}, {2, 2.2, 0.7}), 0.7, false, 0.7},
        {"wholly in a leg", angle(), box({0.2, 2, 0.5}, {0.4, 2.2, 0.7}), 0.4, false, 0.4},
        {"standing on it", angle(), box({0.2, 0.2, 2}, {2, 0.5, 3}), 0},
        {"30 mm into its top", angle(), box({0.2, 0.2, 1.97}, {2, 0.5, 3}), 0.03},
        // Profiles.
        {"a duct 120 mm up in a beam", beam(-3, 3), box({-5, -0.3, -0.2}, {7, 0.4, 0.12}), 0.12},
        {"a duct 4 mm up in a beam", beam(-3, 3), box({-5, -0.3, -0.2}, {7, 0.4, 0.004}), 0},
        {"a duct under a beam", beam(-3, 3), box({-5, -0.3, -0.2}, {7, 0.4, 0}), 0},
        {"a cable beside the web", beam(-3, 3), box({0.02, -4, 0.1}, {0.05, 4, 0.13}), 0},
        {"a cable 20 mm in the web", beam(-3, 3), box({-0.014, -4, 0.1}, {0.016, 4, 0.13}), 0.02},
        // A hole lets through what fits.
        {"a pipe through the hole", wallWithHole(), pipe(4.5, 1.5, 0.2, -1, 1), 0},
        {"a duct that fills the hole", wallWithHole(), box({4, -1, 1}, {5, 1, 2}), 0},
        {"a duct 20 mm too far right", wallWithHole(), box({4.5, -1, 1.2}, {5.02, 1, 1.8}), 0.02},
        {"a pipe beside the hole", wallWithHole(), pipe(7, 1.5, 0.1, -1, 1), 1, false, 1},
        {"a duct larger than the hole", wallWithHole(), box({3.9, -1, 0.9}, {5.1, 1, 2.1}), 1, false, 1},
        // Rings.
        {"in a tube, clear", tube(0.4, 0.5, 2), box({-0.3, -0.3, -1}, {0.3, 0.3, 3}), 0},
        {"filling a tube", tube(0.4, 0.5, 2), box({-0.4, -0.4, -1}, {0.4, 0.4, 3}), 0},
        {"a tube in a tube", tube(0.4, 0.5, 2), tube(0.3, 0.4, 2), 0},
        {"30 mm too wide for the tube", tube(0.4, 0.5, 2), box({-0.3, -0.3, -1}, {0.43, 0.3, 3}), 0.03},
        {"wholly in a tube's wall", tube(0.4, 0.5, 2), box({0.42, -0.1, 0.5}, {0.48, 0.1, 1.5}), 0.06, false, 0.08},
        {"the same tube", tube(0.4, 0.5, 2), tube(0.4, 0.5, 2), 0.1, false, 2},
        // What exporters do.
        {"a body written twice", twice, box({0.95, 0.2, 0.2}, {2, 0.8, 0.7}), 0.05},
        {"inside a body written twice", twice, box({0.2, 0.2, 0.2}, {0.5, 0.6, 0.7}), 0.5, false, 0.5},
        {"beside a body written twice", twice, box({1.2, 0.2, 0.2}, {2, 0.8, 0.7}), 0},
        {"slivers in the mesh", degenerate, box({0.95, 0.2, 0.2}, {2, 0.8, 0.7}), 0.05},
        {"inside where a body cuts itself", selfCut, box({1.4, 0.6, 0.6}, {1.6, 0.9, 0.9}), 0.3, false, 1.5},
        {"beside a body that cuts itself", selfCut, box({0, 1.2, 1.2}, {0.9, 2, 2}), 0},
        {"into an open body", open, box({0.95, 0.2, 0.2}, {2, 0.8, 0.7}), 0.05},
        {"beside an open body", open, box({1.05, 0.2, 0.2}, {2, 0.8, 0.7}), 0},
    };
    return all;
}

} // namespace

void TestHard::measuresPairs_data()
{
    QTest::addColumn<int>("index");
    for (std::size_t i = 0; i < cases().size(); ++i)
        QTest::newRow(cases()[i].name) << static_cast<int>(i);
}

void TestHard::measuresPairs()
{
    QFETCH(int, index);
    const Case& c = cases()[static_cast<std::size_t>(index)];
    test::MadeBodies made;
    const clash::Body a = made.body(c.a), b = made.body(c.b);
    for (const auto& [one, other] : {std::pair{&a, &b}, std::pair{&b, &a}}) {
        const auto found = clash::overlapOf(*one, *other, c.tolerance);
        QVERIFY2(found.has_value() == (c.depth > 0),
                 found ? ("found, depth " + std::to_string(found->depth)).c_str() : "not found");
        if (!found)
            continue;
        const std::string said = "depth " + std::to_string(found->depth) + (found->isApproximate ? ", a bound" : "");
        if (c.isExact) {
            QVERIFY2(std::abs(found->depth - c.depth) < 1e-6, said.c_str());
        } else {
            QVERIFY2(found->depth >= c.depth - 1e-6 && found->depth <= c.most + 1e-6, said.c_str());
            QVERIFY2(found->isApproximate || std::abs(found->depth - c.depth) < 1e-6, said.c_str());
        }
        // The point lies in both, or on both surfaces.
        for (const clash::Body* body : {&a, &b}) {
            if (!body->isClosed)
                continue;
            const auto off = body->parts[0].distanceTo(found->point, 1e3);
            QVERIFY2(body->contains(found->point) || (off && *off < 1e-6), "the point is not in both");
        }
    }
}

void TestHard::isTheSameWhereverBothStand_data()
{
    QTest::addColumn<int>("index");
    for (std::size_t i = 0; i < cases().size(); ++i)
        QTest::newRow(cases()[i].name) << static_cast<int>(i);
}

void TestHard::isTheSameWhereverBothStand()
{
    QFETCH(int, index);
    const Case& c = cases()[static_cast<std::size_t>(index)];
    if (c.tolerance == 0)
        return; // turning rounds
    test::MadeBodies made;
    const Transform mirror{{-1, 0, 0}, {0, 1, 0}, {0, 0, 1}, {}};
    const Transform tilt{{0.6, 0.8, 0}, {-0.48, 0.36, 0.8}, {0.64, -0.48, 0.6}, {3, -2, 7}};
    for (const Transform& move :
         {Transform::translation({2000, -1500, 40}) * Transform::rotationZ(fromDegrees(13)),
          Transform::rotationZ(fromDegrees(77.7)), Transform::rotationZ(fromDegrees(160)) * mirror, tilt}) {
        const auto there = clash::overlapOf(made.body(c.a, move), made.body(c.b, move), c.tolerance);
        QVERIFY2(there.has_value() == (c.depth > 0),
                 there ? ("found, depth " + std::to_string(there->depth)).c_str() : "not found");
        if (there && c.isExact)
            QVERIFY2(std::abs(there->depth - c.depth) < 1e-6, std::to_string(there->depth).c_str());
        if (there && !c.isExact)
            QVERIFY2(there->depth >= c.depth - 1e-6, std::to_string(there->depth).c_str());
    }
}

void TestHard::aSnugRingOnlyTouches()
{
    // A column in the hole of a floor, turned so that rounding leaves a skin between the two all around.
    const geometry::Area plate{{{-2, -2}, {2, -2}, {2, 2}, {-2, 2}},
                               {{{-0.2, -0.2}, {-0.2, 0.2}, {0.2, 0.2}, {0.2, -0.2}}}};
    test::MadeBodies made;
    for (const double degrees : {0.0, 17.3, 31.0, 44.9}) {
        const Transform turn = Transform::translation({310.7, -87.3, 4.2}) * Transform::rotationZ(fromDegrees(degrees));
        const clash::Body floor = made.body(geometry::transformed(prism(plate, 0.08), turn)),
                          column = made.body(geometry::transformed(box({-0.2, -0.2, -1}, {0.2, 0.2, 1}), turn));
        QVERIFY(!clash::overlapOf(floor, column, 0.005));
    }
}

void TestHard::touchesWithoutEnd_data()
{
    QTest::addColumn<int>("sides");
    QTest::addColumn<double>("turnDegrees");
    for (const int sides : {12, 24, 48})
        for (const double turn : {0.0, 2.0, 3.75, 7.5})
            QTest::addRow("%d sides, turned by %g", sides, turn) << sides << turn;
}

void TestHard::touchesWithoutEnd()
{
    // A pipe in insulation that is written with the same radius: their corners stand in each other all around, by no
    // more than the sagitta r (1 - cos(pi / n)).
    QFETCH(int, sides);
    QFETCH(double, turnDegrees);
    const double r = 0.05;
    const auto round = [&](double radius, double degrees) {
        std::vector<Point2> outline;
        for (int i = 0; i < sides; ++i) {
            const double at = 2 * std::numbers::pi * i / sides + degrees * std::numbers::pi / 180;
            outline.push_back({radius * std::cos(at), radius * std::sin(at)});
        }
        return outline;
    };
    std::vector<Point2> hole = round(r, 0);
    std::reverse(hole.begin(), hole.end());
    test::MadeBodies made;
    const clash::Body lagging = made.body(prism({round(0.08, 0), {hole}}, 3)),
                      inside = made.body(moved(prism({round(r, turnDegrees), {}}, 3.2), {0, 0, -0.1}));
    const double sagitta = r * (1 - std::cos(std::numbers::pi / sides));
    QVERIFY(!clash::overlapOf(lagging, inside, sagitta + 1e-5));
    QVERIFY(!clash::overlapOf(inside, lagging, sagitta + 1e-5));
}

void TestHard::sharesVolume_data()
{
    QTest::addColumn<int>("index");
    QTest::addColumn<double>("volume"); // m³; -1: no solids
    const auto row = [](const char* name, double volume) {
        for (std::size_t i = 0; i < cases().size(); ++i)
            if (QByteArray(cases()[i].name) == name)
                QTest::newRow(name) << static_cast<int>(i) << volume;
    };
    row("50 mm into one face", 0.05);
    row("right through", 0.3 * 0.2);
    row("wholly inside", 0.3 * 0.4 * 0.5);
    row("touching along a face", 0);
    row("apart", 0);
    row("into the corner of both legs", 1.05 * 1.1 - 1);
    row("through a leg", 1 * 0.2 * 0.2);
    row("a duct larger than the hole", 0.2 * (1.2 * 1.2 - 1));
    row("into an open body", -1);
}

void TestHard::sharesVolume()
{
    QFETCH(int, index);
    QFETCH(double, volume);
    const Case& c = cases()[static_cast<std::size_t>(index)];
    test::MadeBodies made;
    const auto shared = clash::sharedVolume(made.body(c.a), made.body(c.b));
    QCOMPARE(shared.has_value(), volume >= 0);
    if (shared)
        QVERIFY2(std::abs(*shared - volume) < 1e-9, std::to_string(*shared).c_str());
}

QTEST_GUILESS_MAIN(TestHard)
#include "test_hard.moc"
