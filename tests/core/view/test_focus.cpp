#include <QTest>

#include "core/view/focus.h"
#include "core/view/picking.h"
#include "core/view/scene_state.h"
#include "support/made_model.h"
#include "support/small_scene.h"

#include <algorithm>
#include <random>

using namespace wendrix;
using namespace wendrix::view;
using test::MadeModel;
using test::SmallScene;

/// What is shown of the surroundings of a place.
class TestFocus : public QObject {
    Q_OBJECT
private slots:
    void takesWhatStandsAround_data();
    void takesWhatStandsAround();
    void staysBetweenItsStoreys_data();
    void staysBetweenItsStoreys();
    void aPickerMissesNothing_data();
    void aPickerMissesNothing();
    void keepsWithinWhatCanBeDrawn();
    void aKeptViewHasItsFocus();

private:
    static Box3 about(Point3 place, double half = 0.1)
    {
        Box3 box;
        box.add(place);
        return box.grownBy(half);
    }
    static federation::Member memberOf(const MadeModel& made);
};

federation::Member TestFocus::memberOf(const MadeModel& made)
{
    static std::vector<std::unique_ptr<test::Read>> kept; // members share what was read
    kept.push_back(test::readText(made.text()));
    federation::Member member;
    member.model = kept.back()->model;
    member.geometry = kept.back()->geometry;
    member.fit = {1, fromDegrees(made.turnedDegrees), made.shift};
    return member;
}

void TestFocus::takesWhatStandsAround_data()
{
    QTest::addColumn<QVector<double>>("place");
    QTest::addColumn<QVector<int>>("about");
    QTest::addColumn<QVector<int>>("around");
    const auto row = [](const char* name, QVector<double> place, QVector<int> about, QVector<int> around) {
        QTest::newRow(name) << place << about << around;
    };
    row("beside everything, but for itself", {-3, -2, 0.5}, {3}, {0, 1, 2, 4});
    row("in a far corner the crates are too far off", {4.9, 3.9, 0.5}, {}, {0, 1, 2});
    row("high above everything", {0, 0, 9}, {}, {});
    row("a place without elements of its own", {-20, 0, 1}, {}, {});
    row("two of them", {-2, -2, 0.5}, {3, 4}, {0, 1, 2});
}

void TestFocus::takesWhatStandsAround()
{
    QFETCH(QVector<double>, place);
    QFETCH(QVector<int>, about);
    QFETCH(QVector<int>, around);
    const SmallScene scene;
    const Picker picker(scene.members);
    std::vector<ElementKey> own, wanted;
    for (const int e : about)
        own.push_back({0, static_cast<ifc::ElementIndex>(e)});
    for (const int e : around)
        wanted.push_back({0, static_cast<ifc::ElementIndex>(e)});
    QVERIFY(
        focusOn(TestFocus::about({place[0], place[1], place[2]}), scene.members, scene.looks, own, &picker).around ==
        wanted);
    // A member that is switched off or only laid under has no part in it.
    for (const bool isSwitchedOff : {true, false}) {
        std::vector<MemberLook> looks = scene.looks;
        (isSwitchedOff ? looks[0].isShown : looks[0].isOnlyPainted) = !isSwitchedOff;
        QVERIFY(focusOn(TestFocus::about({place[0], place[1], place[2]}), scene.members, looks, own, &picker)
                    .around.empty());
    }
}

void TestFocus::staysBetweenItsStoreys_data()
{
    QTest::addColumn<double>("height");
    QTest::addColumn<double>("floor"); // storeys at 0, 3.6 and 20
    QTest::addColumn<double>("ceiling");
    QTest::newRow("on the ground floor") << 1.5 << -0.45 << 3.6;
    QTest::newRow("under its ceiling") << 3.2 << -0.45 << 3.6;
    QTest::newRow("on the floor above") << 3.8 << 3.6 - 0.45 << 3.9 + 4.5;
    QTest::newRow("far up in a hall") << 12.0 << 11.9 - 4.5 << 12.1 + 4.5;
    QTest::newRow("below everything") << -2.0 << -2.1 - 4.5 << 0.0;
}

void TestFocus::staysBetweenItsStoreys()
{
    QFETCH(double, height);
    MadeModel made;
    made.boxes = {{"Slab", {0, 0, -0.3}, {12, 12, 0}, "IFCSLAB"}};
    made.storeys = {{"Ground", 0}, {"First", 3.6}, {"Roof", 20}};
    made.shift = {100, 50, 7}; // heights are those of the federation
    const std::vector<federation::Member> members{memberOf(made)};
    const Focus focus = focusOn(about({105, 55, height}), members, std::vector<MemberLook>(1), {}, nullptr);
    QFETCH(double, floor);
    QFETCH(double, ceiling);
    QVERIFY2(std::abs(focus.floor - floor) < 1e-6, std::to_string(focus.floor).c_str());
    QVERIFY2(std::abs(focus.ceiling - ceiling) < 1e-6, std::to_string(focus.ceiling).c_str());
}

void TestFocus::aPickerMissesNothing_data()
{
    QTest::addColumn<double>("degrees");
    for (const double degrees : {0.0, 17.3, 90.0, -135.0})
        QTest::addRow("%g degrees", degrees) << degrees;
}

void TestFocus::aPickerMissesNothing()
{
    QFETCH(double, degrees);
    std::mt19937 random(3);
    const auto one = [&](double from, double to) { return std::uniform_real_distribution(from, to)(random); };
    MadeModel made;
    made.turnedDegrees = degrees;
    made.shift = {431'208.4, 5'410'977.15, 3};
    for (int i = 0; i < 300; ++i) {
        const Point3 low{one(0, 60), one(0, 60), one(0, 8)};
        made.boxes.push_back({"Box " + std::to_string(i), low, low + Vector3{one(0.1, 6), one(0.1, 2), one(0.1, 1)}});
    }
    const std::vector<federation::Member> members{memberOf(made)};
    const std::vector<MemberLook> looks(1);
    const Picker picker(members);
    for (int i = 0; i < 40; ++i) {
        const Box3 box = boundsOf(members, {0, static_cast<ifc::ElementIndex>(random() % 300)});
        const Focus focus = focusOn(box, members, looks, {}, &picker);
        QVERIFY(std::is_sorted(focus.around.begin(), focus.around.end()) && !focus.around.empty());
        for (const ElementKey& key : focus.around)
            QVERIFY(boundsOf(members, key).overlaps(focus.region()));
        // Each is asked by itself: none is left out that is really there.
        for (std::uint32_t e = 0; e < 300; ++e) {
            const geometry::Mesh mesh =
                geometry::transformed(members[0].geometry->meshOf(e), members[0].fit.transform());
            const bool isInside = std::any_of(mesh.points.begin(), mesh.points.end(),
                                              [&](Point3 p) { return focus.region().contains(p); });
            QVERIFY(!isInside || std::binary_search(focus.around.begin(), focus.around.end(), ElementKey{0, e}));
        }
    }
}

void TestFocus::keepsWithinWhatCanBeDrawn()
{
    // Thirty thousand boxes of 12 triangles in one place: the largest are taken, as many as are drawn at once.
    MadeModel made;
    for (int i = 0; i < 30'000; ++i)
        made.boxes.push_back({"Box " + std::to_string(i), {0, 0, 0}, {0.1 + 0.0001 * i, 0.1, 0.1}});
    const std::vector<federation::Member> members{memberOf(made)};
    const Picker picker(members);
    const Focus focus = focusOn(about({0, 0, 0.5}), members, std::vector<MemberLook>(1), {}, &picker);
    QVERIFY(focus.around.size() > 20'000 && focus.around.size() < 21'000);
    QCOMPARE(focus.around.back().element, ifc::ElementIndex{29'999});
    QVERIFY(focus.around.front().element > 9'000); // the smallest are left out
}

void TestFocus::aKeptViewHasItsFocus()
{
    const SmallScene scene;
    Display display;
    display.painted[SmallScene::kCrate] = colourOf("#C23B72");
    display.isRestFaded = true;
    display.focus = Focus{about({431'208.123456789, -2, 0.5}), -1, 4, {SmallScene::kFloor}};
    SceneState kept;
    take(kept, display, scene.members);
    const auto back = fromJson(toJson(kept));
    QVERIFY(back && back->focus && back->focus->min == display.focus->box.min &&
            back->focus->max == display.focus->box.max);
    display.focus.reset();
    take(kept, display, scene.members);
    QVERIFY(!fromJson(toJson(kept))->focus);
    // What is no place is a damaged view, not a crash.
    std::string damaged = toJson(kept);
    damaged.insert(damaged.rfind('}'), ",\"focus\":[1,2]");
    QVERIFY(!fromJson(damaged));
}

QTEST_GUILESS_MAIN(TestFocus)
#include "test_focus.moc"
