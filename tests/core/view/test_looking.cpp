#include <QTest>

#include "core/geometry/mesh_features.h"
#include "core/view/cut_faces.h"
#include "core/view/cuts.h"
#include "core/view/measure.h"
#include "core/view/walking.h"
#include "support/small_scene.h"

#include <cmath>
#include <numbers>

using namespace wendrix;
using namespace wendrix::view;
using test::SmallScene;

/// Looking into a model: views, cuts, what is under the cursor, measures, a walk.
class TestLooking : public QObject {
    Q_OBJECT
private slots:
    void seesAPlaceFromWhereItsOwnHideItLeast_data();
    void seesAPlaceFromWhereItsOwnHideItLeast();
    void opensWhatHidesAPlaceFromEverywhere_data();
    void opensWhatHidesAPlaceFromEverywhere();
    void projectsParallelViewsAndBack();
    void turnsToASide_data();
    void turnsToASide();
    void looksAround();
    void putsCutsTogether();
    void cutsAreClippingPlanes();
    void fillsCutFaces();
    void picksTheCutFace();
    void picksThroughMembersThatAreNotPicked();
    void picksInABox_data();
    void picksInABox();
    void takesHold_data();
    void takesHold();
    void measures();
    void measuresTheShortestWay();
    void measuresOpenings_data();
    void measuresOpenings();
    void findsCentreLines();
    void walksOnTheFloorAndNotThroughWalls();
    void saysLengthsToATenth_data();
    void saysLengthsToATenth();

private:
    SmallScene scene_;
};

namespace {

constexpr Viewport kWindow{800, 600};
constexpr double kPi = std::numbers::pi;

Camera cameraAt(Point3 eye, Point3 target)
{
    Camera c;
    c.eye = eye;
    c.target = target;
    return c;
}

bool isNear(double a, double b, double tolerance = 1e-9) { return std::abs(a - b) <= tolerance; }
bool isNear(Vector3 a, Vector3 b, double tolerance = 1e-9) { return length(a - b) <= tolerance; }

} // namespace

void TestLooking::projectsParallelViewsAndBack()
{
    Camera camera = cameraAt({3, -8, 5}, {1, 2, 0});
    camera.isParallel = true;
    // As much is seen as in perspective at the target, wherever a thing is.
    const double perPixel = 2 * std::tan(0.35) * length(camera.target - camera.eye) / 600;
    const ScreenPlace a = project(camera, kWindow, camera.target),
                      b = project(camera, kWindow, camera.target + 100 * camera.forward() + camera.right());
    QVERIFY(isNear(a.x, 400, 1e-6) && isNear(a.y, 300, 1e-6));
    QVERIFY(isNear(b.x - a.x, 1 / perPixel, 1e-6) && isNear(b.y, a.y, 1e-6));
    for (const Point3 p : {Point3{1, 2, 0}, Point3{30, -70, 4}}) {
        const ScreenPlace s = project(camera, kWindow, p);
        const Ray ray = rayThrough(camera, kWindow, s.x, s.y);
        QVERIFY(length(cross(p - ray.origin, ray.direction)) < 1e-6);
    }
    const issues::Camera kept = toViewpoint(camera);
    QVERIFY(!kept.isPerspective);
    const Camera back = fromViewpoint(kept, 7);
    QVERIFY(back.isParallel && isNear(back.halfHeight(0), camera.halfHeight(0)) && isNear(back.eye, camera.eye));
}

void TestLooking::turnsToASide_data()
{
    QTest::addColumn<QVector<double>>("from");
    QTest::newRow("from the east") << QVector<double>{1, 0, 0};
    QTest::newRow("from the north") << QVector<double>{0, 1, 0};
    QTest::newRow("from above") << QVector<double>{0, 0, 1};
    QTest::newRow("from below") << QVector<double>{0, 0, -1};
}

void TestLooking::turnsToASide()
{
    QFETCH(QVector<double>, from);
    const Camera camera = cameraAt({10, -12, 6}, {1, 2, 3});
    const Camera turned = turnedTo(camera, {from[0], from[1], from[2]});
    QVERIFY(isNear(turned.target, camera.target));
    QVERIFY(isNear(length(turned.eye - turned.target), length(camera.eye - camera.target)));
    // Straight above left and right would be lost: two degrees off are as good.
    QVERIFY(dot(turned.forward(), Vector3{-from[0], -from[1], -from[2]}) > std::cos(0.04));
}

void TestLooking::looksAround()
{
    const Camera camera = cameraAt({0, 0, 2}, {0, 5, 2});
    const Camera turned = lookedAround(camera, Radians{kPi / 2}, Radians{0});
    QVERIFY(isNear(turned.eye, camera.eye) && isNear(turned.target, Point3{-5, 0, 2}));
    const Camera stepped = walked(camera, 2, 1, 0.5);
    QVERIFY(isNear(stepped.eye, Point3{1, 2, 2.5}) && isNear(stepped.forward(), camera.forward()));
}

void TestLooking::putsCutsTogether()
{
    Cuts cuts;
    QVERIFY(cuts.isEmpty() && cuts.shows({0, 0, 99}) && cuts.inWords().empty());
    cuts.slice = Cuts::Slice{0, 3, "Level 1"};
    QVERIFY(cuts.shows({5, 5, 1.5}) && !cuts.shows({5, 5, 3.1}) && !cuts.shows({5, 5, -0.1}));
    QVERIFY(cuts.add(planeAcross(0, 2, {-1, 0, 0})).has_value()); // looked at towards +x: the nearer side goes
    QVERIFY(!cuts.shows({1, 0, 1}) && cuts.shows({3, 0, 1}));
    Box3 box;
    box.add(Point3{0, 0, 1});
    box.add(Point3{9, 9, 9});
    cuts.box = box;
    QCOMPARE(cuts.faces().size(), std::size_t{7}); // the box and the slice share their heights
    QVERIFY(!cuts.shows({3, 3, 0.5}) && cuts.shows({3, 3, 2}) && !cuts.shows({3, 3, 4}));
    QCOMPARE(cuts.inWords(), std::string("cut to Level 1, by 1 plane, to a box"));
    QVERIFY(cuts.add(planeAcross(1, 2, {0, 1, 0})).has_value());
    const auto ninth = cuts.add(planeAcross(1, 3, {0, 1, 0}));
    QVERIFY(!ninth && ninth.error().code == kTooManyCuts);
    QCOMPARE(cuts.planes.size(), std::size_t{2});
    QVERIFY(!planeThrough({0, 0, 0}, {1, 1, 1}, {2, 2, 2}, {0, 0, 1}));
    const auto tilted = planeThrough({1, 0, 0}, {0, 1, 0}, {0, 0, 1}, {-1, -1, -1});
    QVERIFY(tilted && isNear(tilted->normal, normalised(Vector3{-1, -1, -1})));
}

void TestLooking::cutsAreClippingPlanes()
{
    Cuts cuts;
    cuts.slice = Cuts::Slice{1, 4, ""};
    (void)cuts.add({{1, 2, 3}, normalised(Vector3{1, 1, 0})});
    QVERIFY(fromClippingPlanes(toClippingPlanes(cuts)).slice == cuts.slice);
    const auto planes = fromClippingPlanes(toClippingPlanes(cuts)).planes;
    QVERIFY(planes.size() == 1 && isNear(planes[0].at, cuts.planes[0].at) &&
            isNear(planes[0].normal, cuts.planes[0].normal));
    cuts = {};
    Box3 box;
    box.add(Point3{-1, -2, -3});
    box.add(Point3{4, 5, 6});
    cuts.box = box;
    const Cuts back = fromClippingPlanes(toClippingPlanes(cuts));
    QVERIFY(back.box && isNear(back.box->min, box.min) && isNear(back.box->max, box.max) && back.planes.empty() &&
            !back.slice);
}

void TestLooking::fillsCutFaces()
{
    const auto areaOf = [&](const geometry::Plane& plane, ElementKey wanted) {
        const CutFaces cut = cutFaces(scene_.members, scene_.colours(), plane);
        double area = 0;
        for (std::size_t i = 0; i < cut.faces.size(); ++i) {
            if (cut.faces[i].element != wanted)
                continue;
            const std::size_t last =
                i + 1 < cut.faces.size() ? cut.faces[i + 1].firstTriangle : cut.fill.triangles.size();
            for (std::size_t t = cut.faces[i].firstTriangle; t < last; ++t) {
                const auto c = cut.fill.corners(t);
                const Vector3 n = cross(c[1] - c[0], c[2] - c[0]);
                area += length(n) / 2;
                if (dot(n, plane.normal) < 0)
                    return -1.0; // must face along the normal
            }
        }
        return area;
    };
    const geometry::Plane level{{0, 0, 1}, {0, 0, 1}}, middle{{0, 0, -0.1}, {0, 0, 1}}, across{{0, 0, 0}, {1, 0, 0}};
    QVERIFY(isNear(areaOf(level, SmallScene::kWall), (6 - 1.2) * 0.2)); // two pieces beside the doorway
    QVERIFY(isNear(areaOf(middle, SmallScene::kFloor), 80 - 1.2 * 0.8));
    QVERIFY(isNear(areaOf(across, SmallScene::kPipe), kPi * 0.01, 0.012 * kPi * 0.01));
    QVERIFY(isNear(areaOf(across, SmallScene::kFloor), 8 * 0.3));
    // On a face: the body behind it has it, the body before it has not.
    QVERIFY(isNear(areaOf({{0, 0, 1}, {0, 0, 1}}, SmallScene::kCrate), 1));
    QVERIFY(isNear(areaOf({{0, 0, 1}, {0, 0, -1}}, SmallScene::kCrate), 0));
    QVERIFY(isNear(areaOf({{-3, -2, 0.5}, normalised(Vector3{1, 0, 1})}, SmallScene::kCrate), std::sqrt(2)));
}

void TestLooking::picksTheCutFace()
{
    Picker picker(scene_.members);
    const Ray down{{-3, -2, 9}, {0, 0, -1}};
    const auto whole = picker.pick(down, scene_.colours(), {});
    QVERIFY(whole && whole->element == SmallScene::kCrate && isNear(whole->place.z, 1) &&
            isNear(whole->normal, Vector3{0, 0, 1}));
    Picker::Filter filter;
    filter.cuts = {{{0, 0, 0.4}, {0, 0, 1}}};
    const auto sawn = picker.pick(down, scene_.colours(), filter);
    QVERIFY(sawn && sawn->element == SmallScene::kCrate && isNear(sawn->place.z, 0.4) &&
            isNear(sawn->normal, Vector3{0, 0, 1}));
    filter.cuts = {{{0, 0, 0.4}, {0, 0, -1}}}; // now the lower part is gone, and with it the floor
    const auto upper = picker.pick(down, scene_.colours(), filter);
    QVERIFY(upper && isNear(upper->place.z, 1));
    QVERIFY(!picker.pick({{4, -3, 9}, {0, 0, -1}}, scene_.colours(), filter));
}

void TestLooking::picksThroughMembersThatAreNotPicked()
{
    auto members = scene_.members;
    members.push_back(members[0]);
    Picker picker(members);
    std::vector<MemberLook> looks(2);
    auto colours = coloursOf({}, members, looks);
    colours[0][SmallScene::kCrate.element].alpha = kFadedAlpha;
    const Ray down{{-3, -2, 9}, {0, 0, -1}};
    QCOMPARE(picker.pick(down, colours, {0.999f, {}, {}})->element, (ElementKey{1, 3})); // through the faded one
    QCOMPARE(picker.pick(down, colours, {0.01f, {}, {true, false}})->element, SmallScene::kCrate);
    QCOMPARE(picker.pick(down, colours, {0.01f, {}, {false, true}})->element, (ElementKey{1, 3}));
}

void TestLooking::picksInABox_data()
{
    QTest::addColumn<QVector<double>>("corners"); // of the rectangle, on the floor's plane
    QTest::addColumn<bool>("isWhole");
    QTest::addColumn<QVector<int>>("expected");
    QTest::newRow("round one crate") << QVector<double>{-3.8, -2.8, -2.2, -1.2} << true << QVector<int>{3};
    QTest::newRow("round both") << QVector<double>{-3.8, -2.8, -0.2, -1.2} << true << QVector<int>{3, 4};
    QTest::newRow("half of one is not whole") << QVector<double>{-3.0, -2.8, -2.2, -1.2} << true << QVector<int>{};
    QTest::newRow("half of one touches, and the floor")
        << QVector<double>{-3.0, -2.8, -2.2, -1.2} << false << QVector<int>{0, 3};
    QTest::newRow("inside a face") << QVector<double>{-3.1, -2.1, -2.9, -1.9} << false << QVector<int>{0, 3};
    QTest::newRow("in the shaft there is nothing") << QVector<double>{2.6, 1.75, 3.4, 2.2} << false << QVector<int>{};
}

void TestLooking::picksInABox()
{
    QFETCH(QVector<double>, corners);
    QFETCH(bool, isWhole);
    QFETCH(QVector<int>, expected);
    for (const bool isParallel : {true, false}) {
        // From straight above and far, so that the floor's plane maps onto the window evenly.
        Camera camera = turnedTo(cameraAt({0, -1, 4000}, {0, 0, 0}), {0, 0, 1});
        camera = cameraAt(Point3{0, -1e-3, 4000}, {0, 0, 0});
        camera.fieldOfView = 0.003;
        camera.isParallel = isParallel;
        const ScreenPlace a = project(camera, kWindow, {corners[0], corners[3], 0}),
                          b = project(camera, kWindow, {corners[2], corners[1], 0});
        Picker picker(scene_.members);
        auto colours = scene_.colours();
        colours[0][2].alpha = colours[0][1].alpha = 0; // the pipe and the wall hang over it
        std::vector<int> found;
        for (const ElementKey& key : picker.within(camera, kWindow, {a.x, a.y, b.x, b.y}, isWhole, colours, {}))
            found.push_back(static_cast<int>(key.element));
        QCOMPARE(QVector<int>(found.begin(), found.end()), expected);
    }
}

void TestLooking::takesHold_data()
{
    QTest::addColumn<QVector<double>>("at"); // what the cursor is near
    QTest::addColumn<int>("kind");
    QTest::addColumn<QVector<double>>("held");
    QTest::newRow("a corner") << QVector<double>{-3.47, -2.48, 1} << static_cast<int>(SnapKind::Corner)
                              << QVector<double>{-3.5, -2.5, 1};
    QTest::newRow("the middle of an edge")
        << QVector<double>{-3.02, -2.49, 1} << static_cast<int>(SnapKind::Midpoint) << QVector<double>{-3, -2.5, 1};
    QTest::newRow("along an edge") << QVector<double>{-3.25, -2.5, 1} << static_cast<int>(SnapKind::Edge)
                                   << QVector<double>{-3.25, -2.5, 1};
    QTest::newRow("on a face") << QVector<double>{-2.8, -2.1, 1} << static_cast<int>(SnapKind::Face)
                               << QVector<double>{-2.8, -2.1, 1};
    QTest::newRow("the middle of a pipe")
        << QVector<double>{0.31, 0, 2} << static_cast<int>(SnapKind::CentreLine) << QVector<double>{0.31, 0, 2};
}

void TestLooking::takesHold()
{
    QFETCH(QVector<double>, at);
    QFETCH(int, kind);
    QFETCH(QVector<double>, held);
    const Camera camera = cameraAt({-2, -7, 6}, {-2, -1, 1});
    Picker picker(scene_.members);
    Snapper snapper(scene_.members, picker);
    const ScreenPlace s = project(camera, kWindow, {at[0], at[1], at[2]});
    const auto snap = snapper.at(camera, kWindow, s.x, s.y, 11, scene_.colours(), {});
    QVERIFY(snap.has_value());
    QCOMPARE(inWords(snap->kind), inWords(static_cast<SnapKind>(kind)));
    const double off = length(snap->picked.place - Point3{held[0], held[1], held[2]});
    QVERIFY2(off < (snap->kind == SnapKind::Corner || snap->kind == SnapKind::Midpoint ? 1e-9 : 1e-4),
             std::to_string(off).c_str());
    // Beside everything there is nothing to hold.
    const ScreenPlace sky = project(camera, kWindow, {-2, 12, 8});
    QVERIFY(!snapper.at(camera, kWindow, sky.x, sky.y, 11, scene_.colours(), {}));
}

void TestLooking::measures()
{
    const Measurement d = distanceBetween({1, 2, 3}, {4, -2, 15});
    QVERIFY(isNear(d.number, 13));
    QCOMPARE(d.value, std::string("13\u202F000.0 mm"));
    QCOMPARE(d.parts[0].second, std::string("3\u202F000.0 mm"));
    QCOMPARE(d.parts[1].second, std::string("\u22124\u202F000.0 mm"));
    QCOMPARE(d.parts[3].second, std::string("5\u202F000.0 mm"));
    const Measurement p = perpendicular({1, 1, 5}, {9, 9, 2}, {0, 0, 3});
    QVERIFY(isNear(p.number, 3) && isNear(p.places[1], Point3{1, 1, 2}));
    QVERIFY(isNear(angleAt({1, 0, 0}, {0, 0, 0}, {0, 2, 0}).number, kPi / 2));
    QCOMPARE(angleAt({1, 0, 0}, {0, 0, 0}, {std::sqrt(3.0), 1, 0}).value, std::string("30.00°"));
    QVERIFY(isNear(areaOf(scene_.members, {SmallScene::kFloor, {0, 0, 0}, {0, 0, 1}}).number, 80 - 0.96, 1e-9));
    QVERIFY(isNear(areaOf(scene_.members, {SmallScene::kWall, {-2, 2, 1}, {0, -1, 0}}).number, 18 - 1.2 * 2.1, 1e-9));
    ifc::Georeference sea;
    sea.height = 312.6;
    QCOMPARE(elevationOf({0, 0, 7.42}, sea).parts[1].second, std::string("+320.020 m"));
    QCOMPARE(elevationOf({0, 0, 7.42}, {}).parts[1].second, std::string("the reference does not say"));
}

void TestLooking::measuresTheShortestWay()
{
    const auto between = [&](ElementKey a, ElementKey b) { return shortestBetween(scene_.members, a, b).value(); };
    QVERIFY(isNear(between(SmallScene::kCrate, SmallScene::kOtherCrate).number, 1));
    QVERIFY(isNear(between(SmallScene::kPipe, SmallScene::kWall).number, 2 - 0.1,
                   1e-4)); // 24 chords or more, one of them facing
    QVERIFY(isNear(between(SmallScene::kPipe, SmallScene::kFloor).number, 1.9, 1e-4));
    QCOMPARE(between(SmallScene::kCrate, SmallScene::kFloor).number, 0.0); // it stands on it
    // From a corner to a corner, across.
    const Measurement far = between(SmallScene::kOtherCrate, SmallScene::kWall);
    QVERIFY(isNear(far.number, 3.5));
    QVERIFY(isNear(far.places[0].y, -1.5) && isNear(far.places[1].y, 2));
}

void TestLooking::measuresOpenings_data()
{
    QTest::addColumn<int>("element");
    QTest::addColumn<QVector<double>>("at");
    QTest::addColumn<QVector<double>>("normal");
    QTest::addColumn<QVector<double>>("size"); // empty where there is none
    QTest::newRow("a shaft from above") << 0 << QVector<double>{2.3, 2, 0} << QVector<double>{0, 0, 1}
                                        << QVector<double>{1.2, 0.8};
    QTest::newRow("a shaft from below") << 0 << QVector<double>{3.7, 2, -0.3} << QVector<double>{0, 0, -1}
                                        << QVector<double>{1.2, 0.8};
    QTest::newRow("a crate has none") << 3 << QVector<double>{-3, -2, 1} << QVector<double>{0, 0, 1}
                                      << QVector<double>{};
    QTest::newRow("a doorway goes down to the foot")
        << 1 << QVector<double>{-1, 2, 1} << QVector<double>{0, -1, 0} << QVector<double>{};
}

void TestLooking::measuresOpenings()
{
    QFETCH(int, element);
    QFETCH(QVector<double>, at);
    QFETCH(QVector<double>, normal);
    QFETCH(QVector<double>, size);
    const Picked picked{
        {0, static_cast<ifc::ElementIndex>(element)}, {at[0], at[1], at[2]}, {normal[0], normal[1], normal[2]}};
    const auto measured = openingAt(scene_.members, picked);
    QCOMPARE(measured.has_value(), !size.isEmpty());
    if (measured)
        QCOMPARE(measured->value, measuredLength(size[0]) + " × " + measuredLength(size[1]));
    else
        QVERIFY(measured.error().code == kCanNotMeasure);
}

void TestLooking::findsCentreLines()
{
    const auto pipe = geometry::centreLine(scene_.members[0].geometry->meshOf(SmallScene::kPipe.element));
    QVERIFY(pipe.has_value());
    const bool isForward = (*pipe)[0].x < (*pipe)[1].x;
    QVERIFY(isNear((*pipe)[isForward ? 0 : 1], Point3{-2, 0, 2}, 1e-6) &&
            isNear((*pipe)[isForward ? 1 : 0], Point3{3, 0, 2}, 1e-6));
    QVERIFY(!geometry::centreLine(scene_.members[0].geometry->meshOf(SmallScene::kCrate.element))); // as wide as long
}

void TestLooking::walksOnTheFloorAndNotThroughWalls()
{
    Picker picker(scene_.members);
    const Walker walker(picker, scene_.members, scene_.colours());
    const Camera high = cameraAt({0, -3, 5}, {0, 9, 5});
    const Camera standing = walker.onFloor(high);
    QVERIFY(isNear(standing.eye.z, kEyeHeightMetres));
    Camera camera = standing;
    for (int i = 0; i < 20; ++i)
        camera = walker.step(camera, 0.4, 0, true); // through the doorway, which is 2.1 m high, off the floor at y = 4
    QVERIFY(camera.eye.y > 3.5 && camera.eye.y <= 4.0 && isNear(camera.eye.z, kEyeHeightMetres));
    camera = walked(standing, 0, 2, 0); // two metres to the right there is wall
    for (int i = 0; i < 20; ++i)
        camera = walker.step(camera, 0.4, 0, true);
    QVERIFY(camera.eye.y > 1.2 && camera.eye.y < 2 - 0.2);
    camera = walker.onFloor(cameraAt({-3, -4, 3}, {-3, 0, 3}));
    QVERIFY(isNear(walker.step(camera, 1.6, 0, true).eye, camera.eye)); // a crate of a metre is no step
    camera = cameraAt({0, 0, 9}, {0, 1, 9});
    QVERIFY(isNear(walker.step(camera, 1, 0, false).eye, Point3{0, 1, 9})); // floating
}

void TestLooking::saysLengthsToATenth_data()
{
    QTest::addColumn<double>("metres");
    QTest::addColumn<QString>("words");
    QTest::newRow("half a millimetre") << 0.0005 << "0.5 mm";
    QTest::newRow("rounded") << 0.18004 << "180.0 mm";
    QTest::newRow("to the next") << 0.19996 << "200.0 mm";
    QTest::newRow("nothing from below") << -0.00001 << "0.0 mm";
    QTest::newRow("thousands") << 12.3456 << "12\u202F345.6 mm";
}

void TestLooking::saysLengthsToATenth()
{
    QFETCH(double, metres);
    QFETCH(QString, words);
    QCOMPARE(QString::fromStdString(measuredLength(metres)), words);
}

void TestLooking::seesAPlaceFromWhereItsOwnHideItLeast_data()
{
    QTest::addColumn<QVector<double>>("preferred");
    for (const QVector<double>& d : {QVector<double>{1, 0, 0.3}, {-1, 0, 0.3}, {-0.55, -0.75, 0.5}, {0.3, 1, 0}})
        QTest::addRow("(%g, %g, %g)", d[0], d[1], d[2]) << d;
}

void TestLooking::seesAPlaceFromWhereItsOwnHideItLeast()
{
    QFETCH(QVector<double>, preferred);
    SmallScene scene;
    Picker picker(scene.members);
    const Point3 inWall{-1.8, 2.1, 1.5};
    const ElementKey wall[] = {SmallScene::kWall};
    // The wall is 0.2 thick and ends at x = 3, behind its doorway.
    QVERIFY(std::abs(picker.lastOf(wall, inWall, {0, 1, 0}, 6) - 0.1) < 1e-9);
    QVERIFY(std::abs(picker.lastOf(wall, inWall, {1, 0, 0}, 6) - 4.8) < 1e-9);
    QVERIFY(std::abs(picker.lastOf(wall, inWall, {1, 0, 0}, 2) - 1.2) < 1e-9);
    QCOMPARE(picker.lastOf(wall, inWall + Vector3{0, 1, 0}, {0, 1, 0}, 6), 0.0);
    QCOMPARE(picker.lastOf({}, inWall, {0, 1, 0}, 6), 0.0);
    // Never from its end, however much one would like to; not even where others stand across.
    const Vector3 from = freeDirection(picker, inWall, 6, {preferred[0], preferred[1], preferred[2]}, wall);
    QVERIFY(picker.lastOf(wall, inWall, from, 6) < 0.4);
    QVERIFY(picker.isFree(inWall, inWall + 6.0 * from, wall));
}

void TestLooking::opensWhatHidesAPlaceFromEverywhere_data()
{
    QTest::addColumn<QVector<double>>("place");
    QTest::addColumn<QVector<double>>("from");
    QTest::addColumn<double>("size");
    QTest::addColumn<QVector<double>>("normal"); // of the plane; empty: nothing is in the way
    // In the middle of a crate of a metre, half a metre of it on every side.
    const QVector<double> middle{-3, -2, 0.5};
    QTest::newRow("deep in a crate") << middle << QVector<double>{1, 0, 0} << 0.1 << QVector<double>{1, 0, 0};
    QTest::newRow("from above a little") << middle << QVector<double>{0, -0.8, 0.6} << 0.1 << QVector<double>{0, -1, 0};
    QTest::newRow("from straight above") << middle << QVector<double>{0, 0, 1} << 0.1 << QVector<double>{0, 0, 1};
    QTest::newRow("from below") << middle << QVector<double>{0.1, 0, -0.99} << 0.1 << QVector<double>{0, 0, -1};
    QTest::newRow("what is large shows by itself") << middle << QVector<double>{1, 0, 0} << 0.9 << QVector<double>{};
    QTest::newRow("near a face") << QVector<double>{-2.6, -2, 0.5} << QVector<double>{1, 0, 0} << 0.1
                                 << QVector<double>{};
    QTest::newRow("in the open") << QVector<double>{0, 0, 1} << QVector<double>{1, 0, 0} << 0.1 << QVector<double>{};
}

void TestLooking::opensWhatHidesAPlaceFromEverywhere()
{
    QFETCH(QVector<double>, place);
    QFETCH(QVector<double>, from);
    QFETCH(double, size);
    QFETCH(QVector<double>, normal);
    SmallScene scene;
    Picker picker(scene.members);
    const ElementKey crate[] = {SmallScene::kCrate};
    const Point3 at{place[0], place[1], place[2]};
    const auto plane = planeThatOpens(picker, at, size, normalised({from[0], from[1], from[2]}), crate);
    QCOMPARE(plane.has_value(), !normal.isEmpty());
    if (!plane)
        return;
    QVERIFY(isNear(plane->at, at));
    QVERIFY(isNear(plane->normal, Vector3{normal[0], normal[1], normal[2]}));
}

QTEST_GUILESS_MAIN(TestLooking)
#include "test_looking.moc"
