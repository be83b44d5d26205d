#include <QTest>

#include "core/clash/clearance.h"
#include "core/clash/duplicate.h"
#include "core/geometry/primitives.h"
#include "core/geometry/sweep.h"
#include "support/made_body.h"

#include <cmath>
#include <numbers>
#include <random>

using namespace wendrix;
using clash::Direction;
using geometry::Mesh;
using test::box;
using test::moved;
using test::prism;
using test::turned;

/// How much room is between two bodies, and whether they are the same thing twice.
class TestClearance : public QObject {
    Q_OBJECT
private slots:
    void measuresGaps_data();
    void measuresGaps();
    void isBoundedByWhatIsSampled_data();
    void isBoundedByWhatIsSampled();
    void findsDoubles_data();
    void findsDoubles();
};

namespace {

std::vector<Point2> round(double radius, int sides, double degrees = 0)
{
    std::vector<Point2> outline;
    for (int i = 0; i < sides; ++i) {
        const double at = 2 * std::numbers::pi * i / sides + degrees * std::numbers::pi / 180;
        outline.push_back({radius * std::cos(at), radius * std::sin(at)});
    }
    return outline;
}

struct Gap {
    const char* name;
    Mesh left, right;
    Direction direction;
    double reach, distance; ///< -1: none within reach
};

const std::vector<Gap>& gaps()
{
    static const Mesh cube = box({0, 0, 0}, {1, 1, 1});
    static const Mesh slab = box({-5, -5, 3}, {5, 5, 3.3}),
                      channel =
                          prism({{{0, 0}, {2, 0}, {2, 2}, {1.8, 2}, {1.8, 0.2}, {0.2, 0.2}, {0.2, 2}, {0, 2}}, {}},
                                4); // open towards +y
    constexpr auto Any = Direction::Any, Up = Direction::Up, Down = Direction::Down, Side = Direction::Side;
    static const std::vector<Gap> all{
        // Any direction: the shortest distance.
        {"side by side", cube, box({1.3, 0, 0}, {2, 1, 1}), Any, 0.5, 0.3},
        {"beyond reach", cube, box({1.3, 0, 0}, {2, 1, 1}), Any, 0.29, -1},
        {"edge to edge", cube, box({1.3, 1.4, 0}, {2, 2, 1}), Any, 1, 0.5},
        {"corner to corner", cube, box({2, 3, 3}, {4, 4, 4}), Any, 4, 3},
        {"touching", cube, box({1, 0, 0}, {2, 1, 1}), Any, 0.1, 0},
        {"touching at a corner", cube, box({1, 1, 1}, {2, 2, 2}), Any, 0.1, 0},
        {"crossing", cube, box({0.5, -1, 0.5}, {0.6, 2, 0.6}), Any, 0.1, 0},
        {"one inside the other", cube, box({0.4, 0.4, 0.4}, {0.6, 0.6, 0.6}), Any, 0.1, 0},
        {"the same", cube, cube, Any, 0.1, 0},
        {"a hair apart", cube, box({1.00001, 0, 0}, {2, 1, 1}), Any, 0.1, 0.00001},
        {"a turned square's corner", cube,
         moved(turned(box({-0.5, -0.5, 0}, {0.5, 0.5, 1}), 45), {1.2 + std::numbers::sqrt2 / 2, 0.5, 0}), Any, 1, 0.2},
        {"crossing pipes, axes 0.5 m apart", prism({round(0.1, 24), {}}, 4),
         geometry::transformed(prism({round(0.1, 24), {}}, 4), {{0, 1, 0}, {0, 0, 1}, {1, 0, 0}, {-2, 0.5, 2}}), Any, 1,
         0.3},
        {"in the notch of a channel", channel, box({0.8, 0.9, 1}, {1.2, 1.1, 2}), Any, 1, 0.6},
        {"in a ring", prism({round(1, 4, 45), {{{-0.5, -0.5}, {-0.5, 0.5}, {0.5, 0.5}, {0.5, -0.5}}}}, 1),
         box({-0.2, -0.1, 0.2}, {0.2, 0.1, 0.4}), Any, 1, 0.3},
        // Up: from the left one to what is above it, where they overlap in plan.
        {"260 mm under a slab", box({0, 0, 2}, {1, 1, 2.74}), slab, Up, 0.4, 0.26},
        {"410 mm under a slab", box({0, 0, 2}, {1, 1, 2.59}), slab, Up, 0.4, -1},
        {"above it, nothing counts upwards", box({0, 0, 3.5}, {1, 1, 4}), slab, Up, 0.4, -1},
        {"beside it in plan", box({5.1, 0, 2}, {6, 1, 2.9}), slab, Up, 0.4, -1},
        {"flush with its edge in plan", box({5, 0, 2}, {6, 1, 2.9}), slab, Up, 0.4, -1},
        {"a centimetre under its edge", box({4.99, 0, 2}, {6, 1, 2.9}), slab, Up, 0.4, 0.1},
        {"touching the slab", box({0, 0, 2}, {1, 1, 3}), slab, Up, 0.4, 0},
        {"in the slab", box({0, 0, 3.1}, {1, 1, 3.2}), slab, Up, 0.4, 0},
        {"under a sloping slab, at its lowest", box({0, 0, 0}, {1, 1, 1}),
         geometry::transformed(box({0, -1, 0}, {2, 3, 0.2}), {{1, 0, 0.5}, {0, 1, 0}, {0, 0, 1}, {0, 0, 1.3}}), Up, 1,
         0.3},
        {"under a sloping slab that begins half way", box({0, 0, 0}, {1, 1, 1}),
         geometry::transformed(box({0.5, -1, 0}, {2, 3, 0.2}), {{1, 0, 0.5}, {0, 1, 0}, {0, 0, 1}, {0, 0, 1.3}}), Up, 1,
         0.55},
        {"a pipe under a slab, crown to soffit",
         geometry::transformed(prism({round(0.1, 24), {}}, 2), {{0, 1, 0}, {0, 0, 1}, {1, 0, 0}, {0, 0, 2.7}}), slab,
         Up, 1, 0.2},
        {"in the channel, to its upper flange", geometry::transformed(channel, {{0, 0, 1}, {1, 0, 0}, {0, 1, 0}, {}}),
         box({0.5, 1, 0.6}, {0.7, 2, 1}), Up, 2, 0.4},
        // Down: the same below.
        {"500 mm above a floor", box({0, 0, 0.5}, {1, 1, 1}), box({-5, -5, -0.3}, {5, 5, 0}), Down, 0.6, 0.5},
        {"below it, nothing counts downwards", box({0, 0, -2}, {1, 1, -1}), box({-5, -5, -0.3}, {5, 5, 0}), Down, 2,
         -1},
        {"standing on it", box({0, 0, 0}, {1, 1, 1}), box({-5, -5, -0.3}, {5, 5, 0}), Down, 0.6, 0},
        // Side: the horizontal gap where they overlap in height.
        {"beside, as high", cube, box({1.3, 0, 0}, {2, 1, 1}), Side, 1, 0.3},
        {"beside, across the corner", cube, box({1.3, 1.4, 0}, {2, 2, 1}), Side, 1, 0.5},
        {"beside, but all of it higher", cube, box({1.3, 0, 1.2}, {2, 1, 2}), Side, 1, -1},
        {"beside, from the same height on", cube, box({1.3, 0, 1}, {2, 1, 2}), Side, 1, -1},
        {"beside, overlapping a centimetre in height", cube, box({1.3, 0, 0.99}, {2, 1, 2}), Side, 1, 0.3},
        {"straight above", cube, box({0, 0, 1.2}, {1, 1, 2}), Side, 1, -1},
        {"a sloping face, nearest at its foot", cube,
         geometry::transformed(box({0, 0, 0}, {1, 1, 1}), {{1, 0, 0}, {0, 1, 0}, {0.5, 0, 1}, {1.2, 0, 0}}), Side, 1,
         0.2},
        {"a sloping face, only its upper half is as high", cube,
         geometry::transformed(box({0, 0, 0}, {1, 1, 1}), {{1, 0, 0}, {0, 1, 0}, {0.5, 0, 1}, {1.2, 0, -0.5}}), Side, 1,
         0.45},
        {"a rod across above a rod along, as high as it nowhere",
         geometry::transformed(prism({round(0.1, 24), {}}, 4), {{0, 1, 0}, {0, 0, 1}, {1, 0, 0}, {-2, 0, 0}}),
         geometry::transformed(prism({round(0.1, 24), {}}, 4), {{0, 0, 1}, {1, 0, 0}, {0, 1, 0}, {0, -2, 0.3}}), Side,
         1, -1},
    };
    return all;
}

struct Double {
    const char* name;
    Mesh a, b;
    double tolerance, deviation; ///< -1: no double
};

Mesh divided(const Mesh& mesh)
{
    Mesh fine;
    fine.points = mesh.points;
    for (const geometry::Triangle& t : mesh.triangles) {
        const auto c = static_cast<std::uint32_t>(fine.points.size());
        fine.points.push_back((1.0 / 3) * (mesh.points[t[0]] + mesh.points[t[1]] + mesh.points[t[2]]));
        for (std::size_t i = 0; i < 3; ++i)
            fine.triangles.push_back({t[i], t[(i + 1) % 3], c});
    }
    return fine;
}

const std::vector<Double>& doubles()
{
    static const Mesh cube = box({0, 0, 0}, {1, 1, 1});
    static const Mesh angle = prism({{{0, 0}, {3, 0}, {3, 1}, {1, 1}, {1, 3}, {0, 3}}, {}}, 2);
    static const Mesh column = prism({round(0.2, 24), {}}, 3);
    static const Transform mirror{{-1, 0, 0}, {0, 1, 0}, {0, 0, 1}, {}};
    static const Transform swapped{{0, 1, 0}, {1, 0, 0}, {0, 0, 1}, {}}; // mirrors at x = y
    static const std::vector<Double> all{
        {"the same", cube, cube, 0.001, 0},
        {"the same, no tolerance", cube, cube, 0, 0},
        {"0.5 mm beside", cube, moved(cube, {0.0005, 0, 0}), 0.001, 0.0005},
        {"2 mm beside", cube, moved(cube, {0.002, 0, 0}), 0.001, -1},
        {"other triangles", cube, divided(divided(cube)), 0.001, 0},
        {"turned by a quarter about its middle", cube, moved(turned(moved(cube, {-0.5, -0.5, 0}), 90), {0.5, 0.5, 0}),
         0.001, 0},
        {"turned by an eighth", cube, moved(turned(moved(cube, {-0.5, -0.5, 0}), 45), {0.5, 0.5, 0}), 0.001, -1},
        {"a column turned by one of its sides", column, turned(column, 15), 0.001, 0},
        {"a column turned by half a side", column, turned(column, 7.5), 0.0001, -1},
        {"by half a side, within its sagitta", column, turned(column, 7.5), 0.002,
         0.2 * (1 - std::cos(std::numbers::pi / 24))},
        {"mirrored onto itself", angle, geometry::transformed(angle, swapped), 0.001, 0},
        {"mirrored elsewhere", angle, geometry::transformed(angle, mirror), 0.001, -1},
        {"an angle turned", angle, moved(turned(angle, 90), {3, 0, 0}), 0.001, -1},
        {"one a millimetre taller", cube, box({0, 0, 0}, {1, 1, 1.001}), 0.0005, -1},
        {"as large but hollow", cube,
         prism({{{0, 0}, {1, 0}, {1, 1}, {0, 1}}, {{{0.2, 0.2}, {0.2, 0.8}, {0.8, 0.8}, {0.8, 0.2}}}}, 1), 0.001, -1},
        {"with a dent of 10 mm", cube,
         prism({{{0, 0}, {1, 0}, {1, 0.4}, {0.99, 0.4}, {0.99, 0.6}, {1, 0.6}, {1, 1}, {0, 1}}, {}}, 1), 0.005, -1},
        {"elsewhere", cube, moved(cube, {5, 0, 0}), 0.001, -1},
        {"far away", moved(cube, {4'312'000, 5'410'977, 300}), moved(cube, {4'312'000.0005, 5'410'977, 300}), 0.001,
         0.0005},
    };
    return all;
}

} // namespace

void TestClearance::measuresGaps_data()
{
    QTest::addColumn<int>("index");
    for (std::size_t i = 0; i < gaps().size(); ++i)
        QTest::newRow(gaps()[i].name) << static_cast<int>(i);
}

void TestClearance::measuresGaps()
{
    QFETCH(int, index);
    const Gap& g = gaps()[static_cast<std::size_t>(index)];
    test::MadeBodies made;
    for (const Transform& move : {Transform{}, Transform::translation({310.25, -87.5, 4.5}),
                                  Transform::translation({-20, 7, 0}) * Transform::rotationZ(fromDegrees(31))}) {
        const auto found = clash::gapOf(made.body(g.left, move), made.body(g.right, move), g.direction, g.reach);
        QVERIFY2(found.has_value() == (g.distance >= 0), found ? std::to_string(found->distance).c_str() : "none");
        if (!found)
            continue;
        QVERIFY2(std::abs(found->distance - g.distance) < 1e-8, std::to_string(found->distance).c_str());
        if (g.distance > 0) // it is the distance of the two places
            QVERIFY(std::abs(length(found->left - found->right) - found->distance) < 1e-7);
        if (g.direction == Direction::Any || g.direction == Direction::Side) {
            const auto back = clash::gapOf(made.body(g.right, move), made.body(g.left, move), g.direction, g.reach);
            QVERIFY(back && std::abs(back->distance - g.distance) < 1e-8);
        }
    }
}

void TestClearance::isBoundedByWhatIsSampled_data()
{
    QTest::addColumn<unsigned>("seed");
    for (unsigned seed = 1; seed <= 12; ++seed)
        QTest::addRow("seed %u", seed) << seed;
}

void TestClearance::isBoundedByWhatIsSampled()
{
    // No two places of the surfaces are nearer than the answer, and two are as near as that.
    QFETCH(unsigned, seed);
    std::mt19937 random(seed);
    const auto between = [&](double low, double high) { return std::uniform_real_distribution(low, high)(random); };
    test::MadeBodies made;
    const auto body = [&](Point3 at) {
        const Vector3 z = normalised({between(-1, 1), between(-1, 1), between(-1, 1)}), x = anyPerpendicular(z);
        const Mesh mesh = seed % 3 == 0   ? geometry::torusMesh(0.6, between(0.1, 0.3), {})
                          : seed % 3 == 1 ? prism({round(between(0.1, 0.5), 12), {}}, between(0.5, 2))
                                          : box({}, {between(0.1, 2), between(0.1, 2), between(0.1, 2)});
        return made.body(mesh, {x, cross(z, x), z, at});
    };
    const clash::Body a = body({}), b = body({between(2.5, 4), between(-2, 2), between(-2, 2)});
    const auto found = clash::gapOf(a, b, Direction::Any, 10);
    QVERIFY(found.has_value());
    double nearest = 1e9;
    const auto sample = [&](const clash::PlacedPart& part) {
        const clash::Corners t = part.corners(std::uniform_int_distribution<std::uint32_t>(
            0, static_cast<std::uint32_t>(part.shape().mesh().triangles.size() - 1))(random));
        double u = between(0, 1), v = between(0, 1);
        if (u + v > 1) {
            u = 1 - u;
            v = 1 - v;
        }
        return t[0] + u * (t[1] - t[0]) + v * (t[2] - t[0]);
    };
    for (int i = 0; i < 20'000; ++i)
        nearest = std::min(nearest, length(sample(a.parts[0]) - sample(b.parts[0])));
    QVERIFY2(found->distance <= nearest + 1e-12, std::to_string(nearest - found->distance).c_str());
    QVERIFY(std::abs(length(found->left - found->right) - found->distance) < 1e-12);
    for (const auto& [one, at] : {std::pair{&a, found->left}, std::pair{&b, found->right}}) {
        const auto off = one->parts[0].distanceTo(at, 1);
        QVERIFY(off && *off < 1e-9);
    }
}

void TestClearance::findsDoubles_data()
{
    QTest::addColumn<int>("index");
    for (std::size_t i = 0; i < doubles().size(); ++i)
        QTest::newRow(doubles()[i].name) << static_cast<int>(i);
}

void TestClearance::findsDoubles()
{
    QFETCH(int, index);
    const Double& d = doubles()[static_cast<std::size_t>(index)];
    test::MadeBodies made;
    const clash::Body a = made.body(d.a), b = made.body(d.b);
    for (const auto& [one, other] : {std::pair{&a, &b}, std::pair{&b, &a}}) {
        const auto found = clash::deviationOf(*one, *other, d.tolerance);
        QVERIFY2(found.has_value() == (d.deviation >= 0), found ? std::to_string(*found).c_str() : "none");
        if (found)
            QVERIFY2(std::abs(*found - d.deviation) < 1e-8, std::to_string(*found).c_str());
    }
}

QTEST_GUILESS_MAIN(TestClearance)
#include "test_clearance.moc"
