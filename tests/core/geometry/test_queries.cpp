#include <QTest>

#include "core/geometry/boolean.h"
#include "core/geometry/box_tree.h"
#include "core/geometry/polygon.h"
#include "core/geometry/sweep.h"
#include "core/geometry/thickness.h"
#include "core/geometry/triangle_tree.h"

#include <cmath>
#include <numbers>
#include <random>
#include <set>

using namespace wendrix;
using namespace wendrix::geometry;

/// Fast searches against slow, obvious ones on the same seeded random shapes, and laws every shape obeys.
class TestQueries : public QObject {
    Q_OBJECT
private slots:
    void pointsThatNothingUsesAreNoMatter();
    void findsTheSamePairsAsTryingAll_data();
    void findsTheSamePairsAsTryingAll();
    void raysMeetWhatTryingAllMeets();
    void distancesAreThoseOfTryingAll();
    void knowsInsideFromOutside();
    void triangulatesToTheSameArea_data();
    void triangulatesToTheSameArea();
    void booleansKeepTheBalance();
    void cutsCirclesFinelyEnough_data();
    void cutsCirclesFinelyEnough();
    void knowsThicknessFromWidth();
    void openMeshesAreNoSolids();
};

namespace {

Box3 boxAt(Point3 low, Vector3 size)
{
    Box3 box;
    box.add(low);
    box.add(low + size);
    return box;
}

class Random {
public:
    explicit Random(unsigned seed) : engine_(seed) {}
    double between(double low, double high) { return std::uniform_real_distribution(low, high)(engine_); }
    Point3 point(double reach) { return {between(-reach, reach), between(-reach, reach), between(-reach, reach)}; }

private:
    std::mt19937 engine_;
};

/// An I beam turned and moved at random.
Mesh someBody(Random& random)
{
    const Area section{{{-0.1, -0.2},
                        {0.1, -0.2},
                        {0.1, -0.18},
                        {0.01, -0.18},
                        {0.01, 0.18},
                        {0.1, 0.18},
                        {0.1, 0.2},
                        {-0.1, 0.2},
                        {-0.1, 0.18},
                        {-0.01, 0.18},
                        {-0.01, -0.18},
                        {-0.1, -0.18}},
                       {}};
    Transform place = Transform::rotationZ(Radians{random.between(0, 6)});
    place.origin = random.point(0.5);
    return transformed(*extruded(section, {0, 0, random.between(0.5, 2)}), place);
}

} // namespace

void TestQueries::findsTheSamePairsAsTryingAll_data()
{
    QTest::addColumn<int>("count");
    QTest::addColumn<double>("margin");
    for (const int count : {1, 5, 60, 400})
        for (const double margin : {0.0, 0.3, -0.05})
            QTest::addRow("%d boxes, margin %g", count, margin) << count << margin;
}

void TestQueries::findsTheSamePairsAsTryingAll()
{
    QFETCH(int, count);
    QFETCH(double, margin);
    Random random(static_cast<unsigned>(count));
    const auto some = [&] {
        std::vector<Box3> boxes;
        for (int i = 0; i < count; ++i)
            boxes.push_back(boxAt(random.point(5), {random.between(0, 2), random.between(0, 2), random.between(0, 2)}));
        return boxes;
    };
    const std::vector<Box3> a = some(), b = some();
    std::set<std::pair<std::uint32_t, std::uint32_t>> fast, slow;
    BoxTree(a).overlappingPairs(BoxTree(b), margin, [&](std::uint32_t i, std::uint32_t j) {
        QVERIFY(fast.insert({i, j}).second);
    });
    for (std::uint32_t i = 0; i < a.size(); ++i)
        for (std::uint32_t j = 0; j < b.size(); ++j)
            if (a[i].grownBy(margin).overlaps(b[j]))
                slow.insert({i, j});
    QVERIFY(fast == slow);
}

void TestQueries::raysMeetWhatTryingAllMeets()
{
    Random random(7);
    for (int round = 0; round < 200; ++round) {
        const Mesh mesh = someBody(random);
        const TriangleTree tree(mesh);
        const Point3 from = random.point(3);
        const Vector3 along = random.point(1) - from;
        std::optional<double> nearest;
        for (std::size_t i = 0; i < mesh.triangles.size(); ++i)
            if (const auto hit = meet(from, along, mesh.corners(i)); hit && (!nearest || hit->distance < *nearest))
                nearest = hit->distance;
        const auto found = tree.firstHit(from, along);
        QCOMPARE(found.has_value(), nearest.has_value());
        if (found)
            QCOMPARE(found->distance, *nearest);
    }
}

void TestQueries::distancesAreThoseOfTryingAll()
{
    Random random(8);
    for (int round = 0; round < 100; ++round) {
        const Mesh mesh = someBody(random);
        const TriangleTree tree(mesh);
        const Point3 p = random.point(2);
        double nearest = 1e9;
        for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
            const Point3 q = nearestPoint(p, mesh.corners(i));
            nearest = std::min(nearest, length(q - p));
            // No corner or edge middle of the triangle is nearer than the point said to be nearest.
            const auto t = mesh.corners(i);
            for (const Point3 other : {t[0], t[1], t[2], 0.5 * (t[0] + t[1]), (1.0 / 3) * (t[0] + t[1] + t[2])})
                QVERIFY(length(q - p) <= length(other - p) + 1e-12);
        }
        QCOMPARE(*tree.distanceTo(p, 1e9), nearest);
        QVERIFY(!tree.distanceTo(p, nearest * 0.99).has_value());
    }
}

void TestQueries::knowsInsideFromOutside()
{
    Random random(9);
    const TriangleTree cube(boxMesh(boxAt({-1, -1, -1}, {2, 2, 2})));
    for (int i = 0; i < 500; ++i) {
        const Point3 p = random.point(1.5);
        const double reach = std::max({std::abs(p.x), std::abs(p.y), std::abs(p.z)});
        QCOMPARE(cube.contains(p), reach < 1);
    }
    // A plate with a hole: the middle of the hole is outside.
    const TriangleTree plate(*extruded(
        {{{-1, -1}, {1, -1}, {1, 1}, {-1, 1}}, {{{-0.5, -0.5}, {-0.5, 0.5}, {0.5, 0.5}, {0.5, -0.5}}}}, {0, 0, 1}));
    QVERIFY(!plate.contains({0, 0, 0.5}));
    QVERIFY(plate.contains({0.75, 0, 0.5}));
}

void TestQueries::triangulatesToTheSameArea_data()
{
    QTest::addColumn<int>("corners");
    for (const int corners : {3, 4, 5, 9, 40, 200})
        QTest::addRow("%d corners", corners) << corners;
}

void TestQueries::triangulatesToTheSameArea()
{
    QFETCH(int, corners);
    Random random(static_cast<unsigned>(corners));
    Ring star; // any radius at growing angles: simple, but not convex
    for (int i = 0; i < corners; ++i) {
        const double angle = 2 * std::numbers::pi * i / corners, r = random.between(1, 3);
        star.push_back({r * std::cos(angle), r * std::sin(angle)});
    }
    const std::vector<Ring> holes{{{0.1, 0.1}, {0.1, -0.1}, {-0.1, -0.1}, {-0.1, 0.1}}};
    const auto triangles = triangulate(star, holes);
    QVERIFY(triangles.has_value());
    Ring all = star;
    all.insert(all.end(), holes[0].begin(), holes[0].end());
    double area = 0;
    for (const Triangle& t : *triangles) {
        const double a = cross(all[t[1]] - all[t[0]], all[t[2]] - all[t[0]]) / 2;
        QVERIFY(a >= 0); // each one counter-clockwise
        area += a;
    }
    QVERIFY(std::abs(area - (signedArea(star) - 0.04)) < 1e-12 * corners);
    QVERIFY(std::abs(volumeOf(*extruded({star, holes}, {0, 0, 2})) - 2 * area) < 1e-9);
}

void TestQueries::booleansKeepTheBalance()
{
    // |A| + |B| = |A or B| + |A and B|, and |A| = |A less B| + |A and B|, whatever the bodies.
    Random random(11);
    for (int round = 0; round < 12; ++round) {
        const Mesh a = someBody(random), b = someBody(random);
        const auto both = combine(a, b, BooleanKind::Intersection), either = combine(a, b, BooleanKind::Union);
        const auto less = combine(a, b, BooleanKind::Difference);
        QVERIFY(both && either && less);
        const double common = volumeOf(*both);
        QVERIFY(std::abs(volumeOf(a) + volumeOf(b) - volumeOf(*either) - common) < 1e-12);
        QVERIFY(std::abs(volumeOf(a) - volumeOf(*less) - common) < 1e-12);
        QVERIFY(common > -1e-15);
        QVERIFY(isClosed(*either) && isClosed(*less));
    }
}

void TestQueries::cutsCirclesFinelyEnough_data()
{
    QTest::addColumn<double>("radius");
    for (const double radius : {0.005, 0.08, 0.5, 3.0, 40.0})
        QTest::addRow("%g m", radius) << radius;
}

void TestQueries::cutsCirclesFinelyEnough()
{
    QFETCH(double, radius);
    const int n = segmentsOfCircle(radius);
    const double sagitta = radius * (1 - std::cos(std::numbers::pi / n));
    QVERIFY(n >= 24);
    QVERIFY(sagitta <= 1e-3 + 1e-12 && sagitta <= radius / 100 + 1e-12);
    const auto quarter = arcPoints({1, 2}, radius, Radians{0}, Radians{std::numbers::pi / 2});
    QVERIFY(std::abs(quarter.front().x - 1 - radius) < 1e-12 && std::abs(quarter.back().y - 2 - radius) < 1e-12);
}

void TestQueries::knowsThicknessFromWidth()
{
    const Mesh plate = boxMesh(boxAt({0, 0, 0}, {3, 2, 0.01}));
    QVERIFY(std::abs(innerThickness(plate) - 0.01) < 1e-9);
    QVERIFY(std::abs(pieces(plate)[0].width - 0.01) < 1e-12);
    // A tube is as wide as it is, but its material is thin.
    const Mesh tube = *extruded(
        {{{-1, -1}, {1, -1}, {1, 1}, {-1, 1}}, {{{-0.99, -0.99}, {-0.99, 0.99}, {0.99, 0.99}, {0.99, -0.99}}}},
        {0, 0, 1});
    QVERIFY(std::abs(pieces(tube)[0].width - 1) < 1e-9);
    QVERIFY(innerThickness(tube) < 0.0101);
    Mesh two = plate;
    two.append(transformed(plate, Transform::translation({10, 0, 0})));
    QCOMPARE(pieces(two).size(), std::size_t{2});
}

void TestQueries::openMeshesAreNoSolids()
{
    Mesh open = boxMesh(boxAt({0, 0, 0}, {1, 1, 1}));
    QVERIFY(isClosed(open));
    open.triangles.pop_back();
    QVERIFY(!isClosed(open));
    const auto result = combine(open, boxMesh(boxAt({0.5, 0.5, 0.5}, {1, 1, 1})), BooleanKind::Difference);
    QVERIFY(!result && result.error().code == kNotASolid);
    std::vector<std::size_t> leftOut;
    const Mesh host = boxMesh(boxAt({0, 0, 0}, {1, 1, 1})), tools[] = {open, boxMesh(boxAt({0.5, -1, -1}, {2, 3, 3}))};
    const auto cut = subtractAll(host, tools, leftOut);
    QVERIFY((cut && leftOut == std::vector<std::size_t>{0}));
    QVERIFY(std::abs(volumeOf(*cut) - 0.5) < 1e-12);
}

void TestQueries::pointsThatNothingUsesAreNoMatter()
{
    Box3 box;
    box.add(Point3{0, 0, 0});
    box.add(Point3{1, 1, 1});
    Mesh mesh = boxMesh(box);
    mesh.points.push_back({9, 9, 9});
    auto solid = Solid::from(mesh);
    QVERIFY(solid && solid->combine(*Solid::from(mesh), BooleanKind::Union));
    QVERIFY(std::abs(volumeOf(solid->mesh()) - 1) < 1e-12);
    QVERIFY(!Solid::from(Mesh{{{0, 0, 0}}, {}}));
}

QTEST_GUILESS_MAIN(TestQueries)
#include "test_queries.moc"
