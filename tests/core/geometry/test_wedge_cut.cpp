#include "core/geometry/boolean.h"
#include "core/geometry/primitives.h"
#include "core/geometry/sweep.h"
#include "core/geometry/wedge_cut.h"

#include <QTest>

#include <cmath>
#include <random>

using namespace wendrix;
using namespace wendrix::geometry;

/// Wedges between two planes taken off bodies: closed forms, and random ones against the boolean of bodies.
class TestWedgeCut : public QObject {
    Q_OBJECT
private slots:
    void aCube_data();
    void aCube();
    void aGable();
    void likeTheBooleanOfBodies_data();
    void likeTheBooleanOfBodies();
    void facesInThePlanes_data();
    void facesInThePlanes();
    void leavesToOthersWhatItCanNot();
};

namespace {

const Mesh kCube = boxMesh({{0, 0, 0}, {1, 1, 1}});

Plane planeOf(Vector3 normal, double at)
{
    return {Point3{} + (at / dot(normal, normal)) * normal, normalised(normal)};
}

bool isWhole(const Mesh& mesh)
{
    std::vector<char> isUsed(mesh.points.size(), 0);
    for (const Triangle& t : mesh.triangles)
        for (const std::uint32_t i : t)
            isUsed[i] = 1;
    return isClosed(mesh) && volumeOf(mesh) > 0 && std::count(isUsed.begin(), isUsed.end(), 0) == 0;
}

} // namespace

void TestWedgeCut::aCube_data()
{
    QTest::addColumn<QVector<double>>("one");
    QTest::addColumn<QVector<double>>("other"); // normal and its dot with a point of the plane
    QTest::addColumn<double>("volume");
    QTest::addColumn<double>("area");
    using V = QVector<double>;
    // clang-format off
    QTest::newRow("a quarter off") << V{1, 0, 0, 0.5} << V{0, 0, 1, 0.5} << 0.75 << 5.5;
    QTest::newRow("a sixteenth off") << V{1, 0, 0, 0.75} << V{0, 0, 1, 0.75} << 15.0 / 16 << 6 - 2.0 / 16;
    QTest::newRow("a slope up to the middle") << V{1, 0, 1, 1} << V{-1, 0, 0, -0.5} << 0.875 << 6 - 2 * 0.125 + 0.5 * std::sqrt(2.0);
    QTest::newRow("one plane beside it") << V{1, 0, 0, 2} << V{0, 0, 1, 0.5} << 1.0 << 6.0;
    QTest::newRow("one plane below it") << V{1, 0, 0, -1} << V{0, 0, 1, 0.5} << 0.5 << 4.0;
    QTest::newRow("all of it") << V{1, 0, 0, -1} << V{0, 0, 1, -1} << 0.0 << 0.0;
    QTest::newRow("the fold along an edge") << V{1, 0, 0, 1} << V{0, 0, 1, 1} << 1.0 << 6.0;
    QTest::newRow("the fold along an edge, from within") << V{1, 0, -1, 0} << V{1, 0, 0, 0} << 0.5 << 3 + std::sqrt(2.0);
    // clang-format on
}

void TestWedgeCut::aCube()
{
    QFETCH(QVector<double>, one);
    QFETCH(QVector<double>, other);
    QFETCH(double, volume);
    QFETCH(double, area);
    for (const bool isTurned : {false, true}) {
        const Plane a = planeOf({one[0], one[1], one[2]}, one[3]),
                    b = planeOf({other[0], other[1], other[2]}, other[3]);
        const auto mesh = isTurned ? withoutWedge(kCube, b, a) : withoutWedge(kCube, a, b);
        QVERIFY(mesh.has_value());
        QVERIFY2(std::abs(volumeOf(*mesh) - volume) < 1e-12, qPrintable(QString::number(volumeOf(*mesh), 'g', 15)));
        QVERIFY2(std::abs(areaOf(*mesh) - area) < 1e-12, qPrintable(QString::number(areaOf(*mesh), 'g', 15)));
        QVERIFY(volume == 0 || isWhole(*mesh));
    }
}

void TestWedgeCut::aGable()
{
    // A wall 8 m long under two slopes that rise 1 in 2 to its middle: each takes its half, up to the ridge.
    Mesh wall = boxMesh({{0, 0, 0}, {8, 0.3, 5}});
    const Plane left = planeOf({-1, 0, 2}, 4), right = planeOf({1, 0, 2}, 12);
    for (const auto& [slope, half] : {std::pair{left, planeOf({-1, 0, 0}, -4)}, {right, planeOf({1, 0, 0}, 4)}}) {
        auto cut = withoutWedge(wall, slope, half);
        QVERIFY(cut.has_value());
        QVERIFY(isWhole(*cut));
        wall = std::move(*cut);
    }
    QVERIFY(std::abs(volumeOf(wall) - (8 * 2 + 8) * 0.3) < 1e-12);
    QVERIFY(std::abs(areaOf(wall) - (2 * 24 + 0.3 * (8 + 2 + 2 + 2 * std::sqrt(20)))) < 1e-12);
}

void TestWedgeCut::likeTheBooleanOfBodies_data()
{
    QTest::addColumn<int>("kind");
    for (const auto& [name, kind] :
         {std::pair{"box", 0}, {"plate with openings", 1}, {"U", 2}, {"ring", 3}, {"ball", 4}})
        QTest::newRow(name) << kind;
}

void TestWedgeCut::likeTheBooleanOfBodies()
{
    QFETCH(int, kind);
    const Area plate{{{0, 0}, {6, 0}, {6, 4}, {0, 4}},
                     {{{1, 1}, {1, 2}, {2, 2}, {2, 1}}, {{4, 1}, {4, 3}, {5, 3}, {5, 1}}}};
    const Area u{{{0, 0}, {5, 0}, {5, 4}, {4, 4}, {4, 1}, {1, 1}, {1, 3}, {0, 3}}, {}};
    const Mesh body = kind == 0   ? boxMesh({{-2, -1, 0}, {2, 3, 1}})
                      : kind == 1 ? extruded(plate, {0, 0, 0.3}).value()
                      : kind == 2 ? extruded(u, {0, 0, 1.5}).value()
                      : kind == 3 ? torusMesh(2, 0.5, {})
                                  : sphereMesh(1.5, {});
    std::mt19937 random(11);
    std::uniform_real_distribution<double> any(-1, 1);
    const Box3 bounds = boundsOf(body);
    const Vector3 half = 0.5 * bounds.size();
    const double whole = volumeOf(body);
    int done = 0;
    for (int i = 0; i < (kind < 3 ? 60 : 12); ++i) {
        const auto anyPlane = [&] {
            return Plane{bounds.centre() +
                             0.7 * Vector3{any(random) * half.x, any(random) * half.y, any(random) * half.z},
                         normalised({any(random), any(random), any(random)})};
        };
        const Plane one = anyPlane(), other = anyPlane();
        const auto left = withoutWedge(body, one, other);
        QVERIFY(left.has_value());
        QVERIFY(isWhole(*left));
        const Box3 before{{-30, -30, 0}, {30, 30, 30}};
        auto wedge = combine(transformed(boxMesh(before), one.frame()), transformed(boxMesh(before), other.frame()),
                             BooleanKind::Intersection);
        QVERIFY(wedge.has_value());
        const auto exact = combine(body, *wedge, BooleanKind::Difference);
        QVERIFY(exact.has_value());
        QVERIFY(std::abs(volumeOf(*left) - volumeOf(*exact)) < 1e-9 * whole);
        QVERIFY(std::abs(areaOf(*left) - areaOf(*exact)) < 1e-9 * areaOf(body));
        done += volumeOf(*left) < whole * (1 - 1e-6) ? 1 : 0;
    }
    QVERIFY(done > 8);
}

void TestWedgeCut::facesInThePlanes_data()
{
    QTest::addColumn<QVector<double>>("one");
    QTest::addColumn<QVector<double>>("other");
    QTest::addColumn<double>("section"); // of what is left of the step below
    using V = QVector<double>;
    QTest::newRow("in the tread and the riser") << V{0, 1, 0, 1} << V{1, 0, 0, 1} << 3.0;
    QTest::newRow("in the tread, before the riser") << V{0, 1, 0, 1} << V{-1, 0, 0, -1} << 2.0;
    QTest::newRow("below the tread, in the riser") << V{0, -1, 0, -1} << V{1, 0, 0, 1} << 2.0;
    QTest::newRow("in the tread, through its middle") << V{0, -1, 0, -1} << V{1, 0, 0, 1.5} << 2.5;
    QTest::newRow("in the riser, through its middle") << V{0, 1, 0, 1.5} << V{-1, 0, 0, -1} << 2.5;
}

void TestWedgeCut::facesInThePlanes()
{
    QFETCH(QVector<double>, one);
    QFETCH(QVector<double>, other);
    QFETCH(double, section);
    const Area step{{{0, 0}, {2, 0}, {2, 1}, {1, 1}, {1, 2}, {0, 2}}, {}};
    const Mesh body = extruded(step, {0, 0, 3}).value();
    const auto left = withoutWedge(body, planeOf({one[0], one[1], one[2]}, one[3]),
                                   planeOf({other[0], other[1], other[2]}, other[3]));
    QVERIFY(left.has_value());
    QVERIFY(isWhole(*left));
    QVERIFY2(std::abs(volumeOf(*left) - 3 * section) < 1e-12, qPrintable(QString::number(volumeOf(*left))));
}

void TestWedgeCut::leavesToOthersWhatItCanNot()
{
    Mesh open = kCube;
    open.triangles.pop_back();
    const Plane across = planeOf({1, 0, 0}, 0.5), up = planeOf({0, 0, 1}, 0.5);
    QVERIFY(!withoutWedge(open, across, up));
    QVERIFY(!withoutWedge(kCube, across, planeOf({1, 0, 0}, 0.7)));
    Mesh doubled = kCube;
    doubled.append(kCube);
    QVERIFY(!withoutWedge(doubled, across, up));
    // What is left of this step would touch itself along the fold.
    const Mesh step = extruded({{{0, 0}, {2, 0}, {2, 1}, {1, 1}, {1, 2}, {0, 2}}, {}}, {0, 0, 3}).value();
    QVERIFY(!withoutWedge(step, planeOf({0, -1, 0}, -1), planeOf({-1, 0, 0}, -1)));
}

QTEST_GUILESS_MAIN(TestWedgeCut)
#include "test_wedge_cut.moc"
