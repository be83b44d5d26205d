#include "core/geometry/boolean.h"
#include "core/geometry/plane_clip.h"
#include "core/geometry/primitives.h"
#include "core/geometry/sweep.h"

#include <QTest>

#include <cmath>
#include <numbers>
#include <random>

using namespace wendrix;
using namespace wendrix::geometry;

/// Bodies cut off at a plane: closed forms, and random bodies and planes against the boolean of bodies.
class TestPlaneClip : public QObject {
    Q_OBJECT
private slots:
    void aCube_data();
    void aCube();
    void likeTheBooleanOfBodies_data();
    void likeTheBooleanOfBodies();
    void facesInThePlane();
    void leavesToOthersWhatItCanNot();
    void farFromTheOrigin();
};

namespace {

const Mesh kCube = boxMesh({{0, 0, 0}, {1, 1, 1}});

void isWhole(const Mesh& mesh)
{
    QVERIFY(isClosed(mesh));
    QVERIFY(volumeOf(mesh) > 0);
}

/// A plate with two openings through it.
Mesh plate()
{
    const Area area{{{0, 0}, {6, 0}, {6, 4}, {0, 4}},
                    {{{1, 1}, {1, 2}, {2, 2}, {2, 1}}, {{4, 1}, {4, 3}, {5, 3}, {5, 1}}}};
    return extruded(area, {0, 0, 0.3}).value();
}

Mesh comb()
{
    Ring ring{{0, 0}, {9, 0}};
    for (double x = 9; x > 0; x -= 2) {
        ring.insert(ring.end(), {{x, 3}, {x - 1, 3}});
        if (x > 1)
            ring.insert(ring.end(), {{x - 1, 1}, {x - 2, 1}});
    }
    return extruded({ring, {}}, {0, 0, 2}).value();
}

} // namespace

void TestPlaneClip::aCube_data()
{
    QTest::addColumn<QVector<double>>("normal");
    QTest::addColumn<double>("at"); // dot(normal, p) of the plane
    QTest::addColumn<double>("volume");
    QTest::addColumn<double>("area");
    const double third = 1.0 / 6;
    // clang-format off
    QTest::newRow("half") << QVector<double>{1, 0, 0} << 0.5 << 0.5 << 4.0;
    QTest::newRow("a quarter, turned over") << QVector<double>{-1, 0, 0} << -0.75 << 0.25 << 3.0;
    QTest::newRow("through two edges") << QVector<double>{1, -1, 0} << 0.0 << 0.5 << 3 + std::sqrt(2);
    QTest::newRow("a corner off") << QVector<double>{1, 1, 1} << 2.0 << 1 - third << 6 - 1.5 + std::sqrt(3) / 2;
    QTest::newRow("a corner alone") << QVector<double>{1, 1, 1} << 1.0 << third << 1.5 + std::sqrt(3) / 2;
    QTest::newRow("a hexagon in the middle") << QVector<double>{1, 1, 1} << 1.5 << 0.5 << 3 + 3 * std::sqrt(3) / 4;
    QTest::newRow("through a corner, an edge") << QVector<double>{2, 1, 0} << 2.0 << 0.75 << 1.5 + 1.0 + 1 + 0.5 + std::sqrt(1.25);
    QTest::newRow("in its upper face") << QVector<double>{0, 0, 1} << 1.0 << 1.0 << 6.0;
    QTest::newRow("in its lower face") << QVector<double>{0, 0, 1} << 0.0 << 0.0 << 0.0;
    QTest::newRow("beside it") << QVector<double>{0, 0, 1} << 4.0 << 1.0 << 6.0;
    QTest::newRow("wholly before it") << QVector<double>{0, 0, 1} << -4.0 << 0.0 << 0.0;
    QTest::newRow("at one corner only") << QVector<double>{1, 1, 1} << 3.0 << 1.0 << 6.0;
    QTest::newRow("less than rounding above the face") << QVector<double>{0, 0, 1} << 1 - 1e-12 << 1.0 << 6.0;
    // clang-format on
}

void TestPlaneClip::aCube()
{
    QFETCH(QVector<double>, normal);
    QFETCH(double, at);
    QFETCH(double, volume);
    QFETCH(double, area);
    const Vector3 n{normal[0], normal[1], normal[2]};
    const Plane plane{Point3{} + (at / dot(n, n)) * n, normalised(n)};
    const auto mesh = clippedBehind(kCube, plane);
    QVERIFY(mesh.has_value());
    QVERIFY2(std::abs(volumeOf(*mesh) - volume) < 1e-12, qPrintable(QString::number(volumeOf(*mesh))));
    QVERIFY2(std::abs(areaOf(*mesh) - area) < 1e-12, qPrintable(QString::number(areaOf(*mesh))));
    if (volume > 0)
        isWhole(*mesh);
}

void TestPlaneClip::likeTheBooleanOfBodies_data()
{
    QTest::addColumn<int>("kind");
    for (const auto& [name, kind] :
         {std::pair{"box", 0}, {"plate with openings", 1}, {"comb", 2}, {"ring", 3}, {"ball", 4}})
        QTest::newRow(name) << kind;
}

void TestPlaneClip::likeTheBooleanOfBodies()
{
    QFETCH(int, kind);
    const Mesh body = kind == 0   ? boxMesh({{-2, -1, 0}, {2, 3, 1}})
                      : kind == 1 ? plate()
                      : kind == 2 ? comb()
                      : kind == 3 ? torusMesh(2, 0.5, {})
                                  : sphereMesh(1.5, {});
    std::mt19937 random(5);
    std::uniform_real_distribution<double> any(-1, 1);
    const Box3 bounds = boundsOf(body);
    const double whole = volumeOf(body);
    int done = 0;
    for (int i = 0; i < (kind < 3 ? 40 : 12); ++i) {
        const Vector3 n = normalised({any(random), any(random), any(random)});
        const Vector3 half = 0.5 * bounds.size();
        const Plane plane{bounds.centre() + Vector3{any(random) * half.x, any(random) * half.y, any(random) * half.z},
                          n};
        const auto behind = clippedBehind(body, plane), before = clippedBehind(body, {plane.at, -n});
        QVERIFY(behind && before);
        if (behind->isEmpty() || before->isEmpty())
            continue;
        ++done;
        isWhole(*behind);
        isWhole(*before);
        QVERIFY(std::abs(volumeOf(*behind) + volumeOf(*before) - whole) < 1e-9 * whole);
        const Transform frame = plane.frame();
        const Mesh block = transformed(boxMesh({{-30, -30, -30}, {30, 30, 0}}), frame);
        const auto exact = combine(body, block, BooleanKind::Intersection);
        QVERIFY(exact.has_value());
        QVERIFY(std::abs(volumeOf(*behind) - volumeOf(*exact)) < 1e-9 * whole);
        QVERIFY(std::abs(areaOf(*behind) - areaOf(*exact)) < 1e-9 * areaOf(body));
        for (const Point3 p : behind->points)
            QVERIFY(plane.distance(p) < 1e-9);
    }
    QVERIFY(done > 8);
}

void TestPlaneClip::facesInThePlane()
{
    // A step: the plane lies in its lower tread, and the riser stands on it.
    const Area step{{{0, 0}, {2, 0}, {2, 1}, {1, 1}, {1, 2}, {0, 2}}, {}};
    const Mesh body = extruded(step, {0, 0, 3}).value();
    const auto below = clippedBehind(body, {{0, 1, 0}, {0, 1, 0}}),
               above = clippedBehind(body, {{0, 1, 0}, {0, -1, 0}});
    QVERIFY(below && above);
    isWhole(*below);
    isWhole(*above);
    QCOMPARE(volumeOf(*below), 6.0);
    QCOMPARE(volumeOf(*above), 3.0);
    QCOMPARE(areaOf(*below), 22.0);
    QCOMPARE(areaOf(*above), 14.0);
}

void TestPlaneClip::leavesToOthersWhatItCanNot()
{
    Mesh open = kCube;
    open.triangles.pop_back();
    QVERIFY(!clippedBehind(open, {{0.5, 0, 0}, {1, 0, 0}}));
    Mesh doubled = kCube;
    doubled.append(kCube); // apart in its points, but its outlines lie in one another
    const auto cut = clippedBehind(doubled, {{0.5, 0, 0}, {1, 0, 0}});
    QVERIFY(!cut);
    // Two bodies that touch along the line in which the plane cuts them.
    Mesh touching = kCube;
    touching.append(transformed(kCube, Transform::translation({1, 1, 0})));
    const auto touched = clippedBehind(touching, {{0, 0, 0.5}, {0, 0, 1}});
    QVERIFY(!touched || std::abs(volumeOf(*touched) - 1) < 1e-12);
}

void TestPlaneClip::farFromTheOrigin()
{
    // At map coordinates the cut stays where a micrometre would show.
    const Vector3 far{431'208.4, 5'410'977.15, 12};
    const Mesh body = transformed(plate(), Transform::translation(far));
    const Vector3 n = normalised({1, 0.3, 0.2});
    const auto mesh = clippedBehind(body, {Point3{3, 2, 0.1} + far, n});
    const auto near = clippedBehind(plate(), {{3, 2, 0.1}, n});
    QVERIFY(mesh && near);
    isWhole(*mesh);
    QVERIFY(std::abs(volumeOf(transformed(*mesh, Transform::translation(-far))) - volumeOf(*near)) < 1e-6);
}

QTEST_GUILESS_MAIN(TestPlaneClip)
#include "test_plane_clip.moc"
