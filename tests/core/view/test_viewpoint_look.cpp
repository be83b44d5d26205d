#include <QTest>

#include "core/base/transform.h"
#include "core/view/clusters.h"
#include "core/view/viewpoint_look.h"
#include "support/small_scene.h"

#include <cmath>
#include <numbers>

using namespace wendrix;
using namespace wendrix::view;
using test::SmallScene;

/// BCF viewpoints become what a scene shows, and back: camera by what is seen at which pixel, visibility, colours,
/// cuts.
class TestViewpointLook : public QObject {
    Q_OBJECT
private slots:
    void camerasComeBack_data();
    void camerasComeBack();
    void aWiderViewIsSeenWhole_data();
    void aWiderViewIsSeenWhole();
    void whoTurnsTheViewHoldsTheHeadUpright();
    void visibility_data();
    void visibility();
    void coloursAndMissing();
    void whatIsSeenComesBack();
    void theShorterListIsWritten();
    void framesAreChanged_data();
    void framesAreChanged();
    void picturesStand_data();
    void picturesStand();
    void signsLieApart();

private:
    [[nodiscard]] ElementRef ref(ElementKey key) const { return scene_.members[key.member].refOf(key.element); }
    [[nodiscard]] ElementRef bare(ElementKey key) const { return {0, "", ref(key).guid, 0}; }
    SmallScene scene_;
};

namespace {

constexpr Viewport kWindow{1200, 800};

bool isNear(double a, double b, double by) { return std::abs(a - b) <= by; }

} // namespace

void TestViewpointLook::camerasComeBack_data()
{
    QTest::addColumn<QVector<double>>("direction");
    QTest::addColumn<double>("slant");
    QTest::addColumn<bool>("isPerspective");
    for (const bool isPerspective : {true, false})
        for (const double slant : {0.0, 15.0, -40.0, 90.0, 180.0}) {
            const auto row = [&](const char* name, QVector<double> direction) {
                QTest::addRow("%s, %s, slanted by %g", name, isPerspective ? "perspective" : "parallel", slant)
                    << direction << slant << isPerspective;
            };
            row("level", {0, 1, 0});
            row("from aside above", {1, 2, -0.7});
            row("straight down", {0, 0, -1});
            row("straight up", {0, 0, 1});
        }
}

void TestViewpointLook::camerasComeBack()
{
    QFETCH(QVector<double>, direction);
    QFETCH(double, slant);
    QFETCH(bool, isPerspective);
    issues::Camera kept;
    kept.eye = {10, -5, 3};
    kept.direction = normalised(Vector3{direction[0], direction[1], direction[2]});
    const Vector3 side = anyPerpendicular(kept.direction), upright = cross(side, kept.direction);
    const double angle = slant * std::numbers::pi / 180;
    kept.up = std::cos(angle) * upright + std::sin(angle) * side;
    kept.isPerspective = isPerspective;
    kept.fieldOfViewDegrees = 55;
    kept.viewHeightMetres = 6;
    const Camera camera = fromViewpoint(kept, 8, kWindow.aspect());
    QVERIFY(length(camera.eye - kept.eye) < 1e-12 && length(camera.forward() - kept.direction) < 1e-12);
    QVERIFY2(length(camera.up() - kept.up) < 1e-9, "the head is held as it was");
    // In closed form: what is halfway up the picture at 8 m, and halfway to the right.
    const double half = isPerspective ? 8 * std::tan(55.0 / 2 * std::numbers::pi / 180) : 3;
    const Vector3 right = cross(kept.direction, kept.up);
    const ScreenPlace above = project(camera, kWindow, kept.eye + 8 * kept.direction + 0.5 * half * kept.up),
                      aside = project(camera, kWindow,
                                      kept.eye + 8 * kept.direction + 0.5 * half * kWindow.aspect() * right);
    QVERIFY(isNear(above.x, 600, 1e-6) && isNear(above.y, 200, 1e-6));
    QVERIFY(isNear(aside.x, 900, 1e-6) && isNear(aside.y, 400, 1e-6));
    const issues::Camera back = toViewpoint(camera, kWindow.aspect());
    QVERIFY(length(back.up - kept.up) < 1e-9 && length(back.direction - kept.direction) < 1e-12 &&
            length(back.eye - kept.eye) < 1e-12);
    QVERIFY(isPerspective ? isNear(back.fieldOfViewDegrees, 55, 1e-9) : isNear(back.viewHeightMetres, 6, 1e-9));
    QCOMPARE(back.isPerspective, isPerspective);
    QCOMPARE(back.aspect, 1.5);
}

void TestViewpointLook::aWiderViewIsSeenWhole_data()
{
    QTest::addColumn<double>("aspect");
    QTest::addColumn<bool>("isPerspective");
    for (const double aspect : {0.0, 1.0, 1.5, 2.0, 3.2})
        for (const bool isPerspective : {true, false})
            QTest::addRow("%g, %s", aspect, isPerspective ? "perspective" : "parallel") << aspect << isPerspective;
}

void TestViewpointLook::aWiderViewIsSeenWhole()
{
    QFETCH(double, aspect);
    QFETCH(bool, isPerspective);
    issues::Camera kept;
    kept.isPerspective = isPerspective;
    kept.viewHeightMetres = 4;
    kept.aspect = aspect;
    const Camera camera = fromViewpoint(kept, 5, kWindow.aspect());
    // The right edge of what was seen, at 5 m.
    const double half = isPerspective ? 5 * std::tan(25 * std::numbers::pi / 180) : 2,
                 edge = half * (aspect > 0 ? aspect : 1.5);
    const ScreenPlace seen = project(camera, kWindow, Point3{edge, 5, 0}),
                      top = project(camera, kWindow, Point3{0, 5, half});
    QVERIFY(seen.x <= 1200 + 1e-6 && top.y >= -1e-6);              // all of it is in the picture
    QVERIFY(isNear(seen.x, 1200, 1e-6) || isNear(top.y, 0, 1e-6)); // and no more than has to be
}

void TestViewpointLook::whoTurnsTheViewHoldsTheHeadUpright()
{
    Camera camera;
    camera.eye = {0, -5, 0};
    camera.target = {0, 0, 0};
    camera.roll = 0.4;
    for (const Camera& next : {orbited(camera, {}, Radians{0.1}, Radians{0}), turnedTo(camera, {1, 0, 0}),
                               lookedAround(camera, Radians{0.1}, Radians{0.1})})
        QVERIFY(next.roll == 0 && isNear(next.right().z, 0, 1e-12));
    QVERIFY(zoomed(camera, {}, 0.5).roll == 0.4 && panned(camera, kWindow, 5, 5, 5).roll == 0.4);
}

void TestViewpointLook::visibility_data()
{
    QTest::addColumn<bool>("isDefault");
    QTest::addColumn<QVector<int>>("exceptions");
    QTest::addColumn<QVector<int>>("selection");
    QTest::addColumn<QVector<int>>("shown");
    using List = QVector<int>;
    QTest::newRow("all") << true << List{} << List{} << List{0, 1, 2, 3, 4};
    QTest::newRow("all but one") << true << List{1} << List{} << List{0, 2, 3, 4};
    QTest::newRow("only two") << false << List{2, 3} << List{} << List{2, 3};
    QTest::newRow("what is pointed at is seen") << false << List{2} << List{4} << List{2, 4};
    QTest::newRow("also where it was hidden") << true << List{2, 3} << List{3} << List{0, 1, 3, 4};
    QTest::newRow("nothing named") << false << List{} << List{}
                                   << List{0, 1, 2, 3, 4}; // else one would see nothing at all
}

void TestViewpointLook::visibility()
{
    QFETCH(bool, isDefault);
    QFETCH(QVector<int>, exceptions);
    QFETCH(QVector<int>, selection);
    QFETCH(QVector<int>, shown);
    issues::Viewpoint v;
    v.isDefaultVisible = isDefault;
    for (const int e : exceptions)
        v.exceptions.push_back(bare({0, static_cast<ifc::ElementIndex>(e)}));
    for (const int e : selection)
        v.selection.push_back(bare({0, static_cast<ifc::ElementIndex>(e)}));
    const ViewpointLook look = lookOf(v, scene_.members);
    QVector<int> found;
    for (int e = 0; e < 5; ++e) {
        const ElementKey key{0, static_cast<ifc::ElementIndex>(e)};
        if (!look.hidden.contains(key) && (!look.only || look.only->contains(key)))
            found.append(e);
    }
    QCOMPARE(found, shown);
    QCOMPARE(static_cast<qsizetype>(look.selected.size()), selection.size());
    QVERIFY(look.missing.empty());
}

void TestViewpointLook::coloursAndMissing()
{
    issues::Viewpoint v;
    v.selection = {bare(SmallScene::kWall), {0, "", "0000000000000000000001", 0}};
    v.exceptions = {{0, "", "0000000000000000000001", 0}, {0, "", "0000000000000000000002", 0}};
    v.colouring = {{"80FF0000", {bare(SmallScene::kPipe)}}, {"00ff00", {bare(SmallScene::kFloor)}}};
    v.planes = {{{0, 0, 1.5}, {0, 0, 2}}};
    v.lines = {{{0, 0, 0}, {1, 1, 1}}};
    v.hints.spaces = true;
    v.foreign = {{"", "Other", "77"}, {"3rPX_Juz59peXXY6wDJl18", "Other", "78"}};
    const ViewpointLook look = lookOf(v, scene_.members);
    QVERIFY(look.selected == std::set<ElementKey>{SmallScene::kWall});
    QCOMPARE(look.missing.size(), std::size_t{2}); // each once
    QVERIFY(look.notByGuid.size() == 1 && look.notByGuid[0].id == "77");
    const Colour half = look.painted.at(SmallScene::kPipe), green = look.painted.at(SmallScene::kFloor);
    QVERIFY(half.red == 1 && half.green == 0 && isNear(half.alpha, 128 / 255.0, 1e-6));
    QVERIFY(green.green == 1 && green.alpha == 1);
    QCOMPARE(bcfColour(half), std::string("80FF0000"));
    QVERIFY(!look.cuts.shows({0, 0, 2}) && look.cuts.shows({0, 0, 1})); // the direction points to what is cut away
    QVERIFY(look.lines.size() == 1 && look.areSpacesShown);
}

void TestViewpointLook::whatIsSeenComesBack()
{
    Display display;
    display.hidden = {SmallScene::kFloor};
    display.selected = {SmallScene::kCrate};
    display.painted = {{SmallScene::kPipe, {1, 0, 0, 0.5f}}};
    Cuts cuts;
    QVERIFY(cuts.add({{0, 1, 0}, normalised(Vector3{1, 1, 1})}).has_value());
    Camera camera;
    camera.roll = 0.3;
    const issues::Viewpoint v = viewpointOf(display, cuts, camera, 1.5, scene_.members);
    const ViewpointLook look = lookOf(v, scene_.members);
    QVERIFY(look.hidden == display.hidden && look.selected == display.selected && !look.only);
    QVERIFY(look.painted.size() == 1 && isNear(look.painted.at(SmallScene::kPipe).alpha, 0.5, 0.003));
    QCOMPARE(look.cuts.planes.size(), std::size_t{1});
    QVERIFY(length(fromViewpoint(*v.camera, 5, 1.5).up() - camera.up()) < 1e-9);
    display.only = {{SmallScene::kCrate, SmallScene::kPipe, SmallScene::kFloor}};
    const ViewpointLook only = lookOf(viewpointOf(display, {}, camera, 1.5, scene_.members), scene_.members);
    QVERIFY(only.only == std::set<ElementKey>({SmallScene::kCrate, SmallScene::kPipe})); // the floor is hidden besides
}

void TestViewpointLook::theShorterListIsWritten()
{
    Display display;
    for (ifc::ElementIndex e = 0; e < scene_.members[0].model->elements().size(); ++e) {
        const issues::Viewpoint v = viewpointOf(display, {}, {}, 1, scene_.members);
        QVERIFY(2 * v.exceptions.size() <= scene_.members[0].model->elements().size() + 1);
        const ViewpointLook look = lookOf(v, scene_.members);
        for (ifc::ElementIndex other = 0; other < scene_.members[0].model->elements().size(); ++other) {
            const bool isShown = !look.hidden.contains({0, other}) && (!look.only || look.only->contains({0, other}));
            QCOMPARE(isShown, !display.hidden.contains({0, other}));
        }
        display.hidden.insert({0, e});
    }
}

void TestViewpointLook::framesAreChanged_data()
{
    QTest::addColumn<double>("degrees");
    QTest::addColumn<double>("scale");
    QTest::addColumn<QVector<double>>("shift");
    QTest::newRow("nothing") << 0.0 << 1.0 << QVector<double>{0, 0, 0};
    QTest::newRow("shifted") << 0.0 << 1.0 << QVector<double>{100, -20, 3};
    QTest::newRow("turned") << 90.0 << 1.0 << QVector<double>{5, 0, 0};
    QTest::newRow("turned and scaled") << 17.3 << 0.3048 << QVector<double>{431208, 5510400, -12};
    QTest::newRow("onto the map") << -33.0 << 1.0 << QVector<double>{4312080, 5510400, 312};
}

void TestViewpointLook::framesAreChanged()
{
    QFETCH(double, degrees);
    QFETCH(double, scale);
    QFETCH(QVector<double>, shift);
    Transform t = Transform::rotationZ(Radians{degrees * std::numbers::pi / 180}) * Transform::scaling(scale);
    t.origin = {shift[0], shift[1], shift[2]};
    issues::Viewpoint v;
    v.camera =
        issues::Camera{{1, 2, 3}, normalised(Vector3{1, 1, -1}), normalised(Vector3{1, 1, 2}), true, 50, 10, 1.5};
    v.second = issues::Camera{{0, 0, 9}, {0, 0, -1}, {0, 1, 0}, false, 50, 6, 1.5};
    v.planes = {{{0, 0, 3}, {1, 0, 0}}};
    v.lines = {{{0, 0, 0}, {1, 0, 0}}};
    v.bitmaps = {{"png", "a.png", {1, 1, 1}, {0, -1, 0}, {0, 0, 1}, 2}};
    const issues::Viewpoint there = issues::transformed(v, t), back = issues::transformed(there, t.inverse());
    const double exact = 1e-9 * (1 + std::abs(shift[0]) + std::abs(shift[1]));
    // What lies in the middle of the picture 4 m away still does, and as large.
    const Point3 aim = v.camera->eye + 4 * v.camera->direction;
    QVERIFY(length(there.camera->eye + (4 * scale) * there.camera->direction - t.apply(aim)) < exact);
    QVERIFY(isNear(dot(there.camera->direction, there.camera->up), 0, 1e-12) &&
            isNear(length(there.camera->up), 1, 1e-12));
    QVERIFY(isNear(there.second->viewHeightMetres, 6 * scale, 1e-9) &&
            isNear(there.bitmaps[0].heightMetres, 2 * scale, 1e-9));
    QVERIFY(isNear(length(there.lines[0].to - there.lines[0].from), scale, exact));
    // A place in the plane is in it there, and what was cut away is.
    QVERIFY(isNear(dot(t.apply(Point3{0, 5, 5}) - there.planes[0].location, there.planes[0].direction), 0, exact));
    QVERIFY(dot(t.apply(Point3{1, 0, 0}) - there.planes[0].location, there.planes[0].direction) > 0);
    QVERIFY(length(back.camera->eye - v.camera->eye) < exact && length(back.camera->up - v.camera->up) < 1e-9);
    QVERIFY(length(back.planes[0].location - v.planes[0].location) < exact &&
            length(back.bitmaps[0].normal - v.bitmaps[0].normal) < 1e-9);
}

void TestViewpointLook::picturesStand_data()
{
    QTest::addColumn<QVector<double>>("normal");
    QTest::addColumn<QVector<double>>("up");
    QTest::addColumn<QVector<double>>("along");   // of 4 m
    QTest::addColumn<QVector<double>>("upwards"); // of 2 m
    const auto row = [](const char* name, QVector<double> normal, QVector<double> up, QVector<double> along,
                        QVector<double> upwards) { QTest::newRow(name) << normal << up << along << upwards; };
    row("on a wall, seen from the south", {0, -1, 0}, {0, 0, 1}, {4, 0, 0}, {0, 0, 2});
    row("on a wall, seen from the north", {0, 1, 0}, {0, 0, 1}, {-4, 0, 0}, {0, 0, 2});
    row("on the floor, north up", {0, 0, 1}, {0, 1, 0}, {4, 0, 0}, {0, 2, 0});
    row("on the floor, east up", {0, 0, 1}, {1, 0, 0}, {0, -4, 0}, {2, 0, 0});
    row("lengths do not matter", {0, -7, 0}, {0, 0, 0.1}, {4, 0, 0}, {0, 0, 2});
    row("up leans to the normal", {0, -1, 0}, {0, -1, 1}, {4, 0, 0}, {0, 0, 2});
    row("no up", {0, -1, 0}, {0, 0, 0}, {4, 0, 0}, {0, 0, 2});
    row("up along the normal", {0, -1, 0}, {0, -1, 0}, {4, 0, 0}, {0, 0, 2});
    row("no normal", {0, 0, 0}, {0, 1, 0}, {4, 0, 0}, {0, 2, 0});
}

void TestViewpointLook::picturesStand()
{
    QFETCH(QVector<double>, normal);
    QFETCH(QVector<double>, up);
    QFETCH(QVector<double>, along);
    QFETCH(QVector<double>, upwards);
    const auto vector = [](const QVector<double>& v) { return Vector3{v[0], v[1], v[2]}; };
    const issues::Bitmap bitmap{"png", "plan.png", {10, 20, 30}, vector(normal), vector(up), 2};
    const StandingPicture stands = standing(bitmap, nullptr, 2);
    QVERIFY(length(stands.along - vector(along)) < 1e-12 && length(stands.up - vector(upwards)) < 1e-12);
    QVERIFY(length(stands.lowerLeft + 0.5 * stands.along + 0.5 * stands.up - bitmap.location) < 1e-12);
}

void TestViewpointLook::signsLieApart()
{
    Camera camera;
    camera.eye = {0, -20, 0};
    camera.target = {0, 0, 0};
    // A hundred places in a plane, and one behind the eye.
    std::vector<Point3> places;
    for (int x = 0; x < 10; ++x)
        for (int z = 0; z < 10; ++z)
            places.push_back({x - 4.5, 0, z - 4.5});
    places.push_back({0, -40, 0});
    for (const double distance : {20.0, 60.0, 400.0, 4000.0}) {
        camera.eye.y = -distance;
        places.back().y = -2 * distance;
        const auto clusters = clustersOf(places, camera, kWindow, 30);
        std::set<std::uint32_t> all;
        for (const Cluster& c : clusters) {
            all.insert(c.of.begin(), c.of.end());
            Vector3 sum{};
            for (const std::uint32_t i : c.of)
                sum = sum + places[i];
            QVERIFY(length(c.place - (1.0 / static_cast<double>(c.of.size())) * sum) < 1e-9);
        }
        QVERIFY(all.size() == 100 && !all.contains(100)); // each once, but the one that is not seen
        QVERIFY(distance < 30 ? clusters.size() == 100 : clusters.size() < 100);
        if (distance > 3000)
            QCOMPARE(clusters.size(), std::size_t{1});
    }
}

QTEST_GUILESS_MAIN(TestViewpointLook)
#include "test_viewpoint_look.moc"
