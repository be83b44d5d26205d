#include <QTest>

#include "core/view/camera.h"
#include "core/view/picking.h"
#include "support/demo.h"
#include "support/small_scene.h"

#include <cmath>
#include <random>

using namespace wendrix;
using namespace wendrix::view;

/// Looking: where a place shows, what lies under a pixel, what is hidden.
class TestView : public QObject {
    Q_OBJECT
private slots:
    void projectsAndBack();
    void keepsThePlaceUnderTheCursor();
    void turnsAboutThePivot();
    void seesWholeBoxes_data();
    void seesWholeBoxes();
    void picksTheNearestElementThatShows();
    void hidesAndBringsBack();
    void picturesAViewpoint();
};

namespace {

constexpr Viewport kWindow{800, 600};

bool isClose(Vector3 a, Vector3 b) { return length(a - b) < 1e-9; }

} // namespace

void TestView::projectsAndBack()
{
    Camera camera;
    camera.eye = {3, -8, 5};
    camera.target = {1, 2, 0};
    for (const Point3 p : {Point3{1, 2, 0}, Point3{2, 1, 1}, Point3{-1, 3, -2}}) {
        const ScreenPlace s = project(camera, kWindow, p);
        QVERIFY(s.isInFront);
        const Ray ray = rayThrough(camera, kWindow, s.x, s.y);
        QVERIFY(length(cross(ray.direction, normalised(p - camera.eye))) < 1e-9);
    }
    const ScreenPlace middle = project(camera, kWindow, camera.target);
    QVERIFY(std::abs(middle.x - 400) < 1e-9 && std::abs(middle.y - 300) < 1e-9);
    QVERIFY(!project(camera, kWindow, camera.eye - camera.forward()).isInFront);
}

void TestView::keepsThePlaceUnderTheCursor()
{
    Camera camera;
    const Point3 place{4, 3, 2};
    const ScreenPlace before = project(camera, kWindow, place);
    const ScreenPlace after = project(zoomed(camera, place, 0.3), kWindow, place);
    QVERIFY(std::abs(before.x - after.x) < 1e-6 && std::abs(before.y - after.y) < 1e-6);
    QVERIFY(std::abs(after.depth - 0.3 * before.depth) < 1e-9);
    const ScreenPlace moved = project(panned(camera, kWindow, 40, -25, before.depth), kWindow, place);
    QVERIFY(std::abs(moved.x - before.x - 40) < 1e-6 && std::abs(moved.y - before.y + 25) < 1e-6);
}

void TestView::turnsAboutThePivot()
{
    Camera camera;
    const Point3 pivot{10, 0, 3};
    const Camera turned = orbited(camera, pivot, Radians{0.7}, Radians{0.2});
    QVERIFY(std::abs(length(turned.eye - pivot) - length(camera.eye - pivot)) < 1e-9);
    const ScreenPlace a = project(camera, kWindow, pivot), b = project(turned, kWindow, pivot);
    QVERIFY(std::abs(a.depth - b.depth) < 1e-6);
    const Camera over = orbited(camera, pivot, Radians{0}, Radians{5}); // never over the pole
    QVERIFY(over.forward().z < 0 && std::isfinite(over.right().x));
}

void TestView::seesWholeBoxes_data()
{
    QTest::addColumn<QVector<double>>("from");
    QTest::newRow("from the south-west") << QVector<double>{-0.6, -0.8, 0.5};
    QTest::newRow("from above") << QVector<double>{0, -0.01, 1};
    QTest::newRow("level") << QVector<double>{1, 0, 0};
}

void TestView::seesWholeBoxes()
{
    QFETCH(QVector<double>, from);
    Box3 box;
    box.add(Point3{5, -3, 0});
    box.add(Point3{48, 17, 14});
    const Camera camera = lookingAt(box, {from[0], from[1], from[2]}, kWindow.aspect());
    double widest = 0;
    for (int i = 0; i < 8; ++i) {
        const ScreenPlace s = project(camera, kWindow, {i & 1 ? 48.0 : 5.0, i & 2 ? 17.0 : -3.0, i & 4 ? 14.0 : 0.0});
        QVERIFY(s.isInFront && s.x >= 0 && s.x <= 800 && s.y >= 0 && s.y <= 600);
        widest = std::max({widest, std::abs(s.x - 400) / 400, std::abs(s.y - 300) / 300});
    }
    QVERIFY(widest > 0.8); // and it fills the window
}

void TestView::picksTheNearestElementThatShows()
{
    std::vector<federation::Member> members{test::demoMember("Architecture", "P01"),
                                            test::demoMember("Structure", "P01")};
    members[1].fit = test::trueFit("Structure");
    const std::vector<MemberLook> looks(2);
    Display display;
    Picker picker(members);
    // Straight down onto the middle of bay A-B / 1-2, in the reference's frame: first the roof covering.
    const Point3 above = test::trueFit("Ventilation").transform().apply(Point3{3.6, 3.6 - 20.4, 30});
    const Ray down{above, {0, 0, -1}};
    const auto nameAt = [&] {
        const auto picked = picker.pick(down, coloursOf(display, members, looks), {1, {}, {}});
        if (!picked)
            return std::string();
        display.selected = {picked->element};
        const auto& model = *members[picked->element.member].model;
        return model.displayName(model.elements()[picked->element.element]);
    };
    QCOMPARE(nameAt(), std::string("Roof covering"));
    display.hideSelected();
    QCOMPARE(nameAt(), std::string("Slab Roof A-B / 1-2")); // the structure's, through its fit
    display.hideSelected();
    QCOMPARE(nameAt(), std::string("Floor finish Level 3")); // spaces are not in the way
    const auto cut = picker.pick(down, coloursOf(display, members, looks), {1, {{{0, 0, 4}, {0, 0, 1}}}, {}});
    QVERIFY(cut && cut->place.z <= 4.0);
}

void TestView::hidesAndBringsBack()
{
    const std::vector<federation::Member> members{test::demoMember("Ventilation", "P01")};
    const std::vector<MemberLook> looks(1);
    Display display;
    const auto shown = [&] {
        const auto colours = coloursOf(display, members, looks);
        return std::count_if(colours[0].begin(), colours[0].end(), [](const Colour& c) { return c.alpha > 0; });
    };
    const auto all = shown();
    display.selected = {{0, 1}, {0, 2}};
    display.hideSelected();
    QCOMPARE(shown(), all - 2);
    QCOMPARE(display.inWords(), std::string("2 elements hidden"));
    display.selected = {{0, 5}};
    display.showOnlySelected();
    QCOMPARE(shown(), decltype(all){1});
    QCOMPARE(display.inWords(), std::string("only 1 element shown"));
    display.bringAllBack();
    QCOMPARE(shown(), all);
    QVERIFY(display.inWords().empty());
    display.isRestFaded = true;
    display.painted[{0, 3}] = colourOf("#C23B72");
    const auto colours = coloursOf(display, members, looks);
    QCOMPARE(colours[0][3].alpha, 1.0f);
    QCOMPARE(colours[0][4].alpha, kFadedAlpha);
}

void TestView::picturesAViewpoint()
{
    Camera camera;
    camera.eye = {431208, 5410977, 12};
    camera.target = {431218, 5410967, 9};
    camera.fieldOfView = 0.9;
    const Camera back = fromViewpoint(toViewpoint(camera), length(camera.target - camera.eye));
    QVERIFY(isClose(back.eye, camera.eye));
    QVERIFY(length(back.target - camera.target) < 1e-6);
    QVERIFY(std::abs(back.fieldOfView - 0.9) < 1e-12);
}

/// The fast way over members and its incremental one give what the obvious way gives, element by element.
QTEST_GUILESS_MAIN(TestView)
#include "test_view.moc"
