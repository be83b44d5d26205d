#include <QTest>

#include "core/view/picking.h"
#include "core/view/scene.h"
#include "support/small_scene.h"

#include <algorithm>
#include <numeric>
#include <random>

using namespace wendrix;
using namespace wendrix::view;
using test::SmallScene;

namespace {

const Colour kPink = colourOf("#C23B72"), kTeal = colourOf("#0E8C86", 0.5f);

Box3 about(Point3 place)
{
    Box3 box;
    box.add(place);
    return box.grownBy(0.1);
}

/// What draws a scene and is told of it by differences alone.
struct Drawer {
    ColourTable whole;
    std::optional<ColourList> inFocus;

    /// Takes what differs, in any order.
    void follow(Scene& scene, std::mt19937& random)
    {
        Scene::Difference difference = scene.takeDifference();
        if (difference.areAllColoursNew)
            whole = scene.wholeColours();
        std::shuffle(difference.colours.begin(), difference.colours.end(), random);
        for (const ElementKey& key : difference.colours)
            whole[key.member][key.element] = scene.wholeColours()[key.member][key.element];
        if (difference.isFocusNew)
            inFocus = scene.coloursInFocus() != nullptr ? std::optional(*scene.coloursInFocus()) : std::nullopt;
    }
    [[nodiscard]] Colour of(const ElementKey& key) const
    {
        return Colours(whole, inFocus ? &*inFocus : nullptr).of(key);
    }
};

/// Three times the small scene; the second is only laid under.
std::vector<federation::Member> threeOf(const SmallScene& scene)
{
    std::vector<federation::Member> members(3, scene.members[0]);
    for (int i = 0; i < 3; ++i) {
        members[static_cast<std::size_t>(i)].discipline = "D" + std::to_string(i);
        members[static_cast<std::size_t>(i)].disciplineId = i + 1;
    }
    std::swap(members[1], members[2]);
    return members;
}

std::vector<MemberLook> looksOfThree()
{
    std::vector<MemberLook> looks(3);
    looks[2].isOnlyPainted = true;
    return looks;
}

} // namespace

/// The document of what a scene shows: its commands, and what it tells of them.
class TestSceneDocument : public QObject {
    Q_OBJECT
private slots:
    void drawsWhatWasAsked();
    void commandsOnDifferentThingsCommute();
    void tellsWhatDiffersAndNothingElse();
    void signsBelongToWhatItIsAbout();
    void anIllustrationGoesWithItsSubject();
    void inFocusNothingElseIsDrawn();
    void surroundingsComeWithThePicker();
    void otherMembersKeepWhatStandsInThem();
};

void TestSceneDocument::drawsWhatWasAsked()
{
    // Random commands. One drawer looks after each, another only now and then: both have what the commands mean.
    const SmallScene small;
    Scene scene, other;
    std::vector<MemberLook> looks = looksOfThree();
    std::optional<Picker> picker;
    for (Scene* one : {&scene, &other}) {
        one->setMembers(threeOf(small), looks);
        if (!picker)
            picker.emplace(one->members());
        one->setPicker(&*picker);
    }
    std::mt19937 random(5);
    Drawer always, seldom;
    always.follow(scene, random);
    seldom.follow(other, random);
    int focused = 0;
    for (int i = 0; i < 1500; ++i) {
        const auto key = [&] {
            return ElementKey{static_cast<std::uint32_t>(random() % 3), static_cast<ifc::ElementIndex>(random() % 5)};
        };
        const ElementKey a = key(), b = key();
        const bool isFaded = random() % 2 == 0;
        const auto command = [&]() -> std::function<void(Scene&)> {
            switch (random() % 9) {
            case 0:
                return [&](Scene& s) { s.choose({a, b}); };
            case 1:
                return [](Scene& s) { s.choose({}); };
            case 2:
                return [](Scene& s) { s.hideSelected(); };
            case 3:
                return [](Scene& s) { s.showOnlySelected(); };
            case 4:
                return [](Scene& s) { s.bringAllBack(); };
            case 5:
                return [](Scene& s) { s.fadeAllButSelected(); };
            case 6:
                looks[random() % 2].isShown = random() % 3 != 0;
                return [&](Scene& s) { s.setLooks(looks); };
            case 7:
                return [&](Scene& s) { s.show({{{a, kPink}, {b, kTeal}}, isFaded, {}}); };
            default:
                return [&](Scene& s) { s.show({{{a, kPink}}, false, about({-3, -2, 0.5}), {SmallScene::kCrate}}); };
            }
        }();
        command(scene);
        command(other);
        always.follow(scene, random);
        if (random() % 4 == 0)
            seldom.follow(other, random);
        const Display& display = scene.display();
        const auto plain = coloursOf({}, scene.members(), looks); // tones and volumes are tested elsewhere
        focused += display.focus ? 1 : 0;
        for (std::uint32_t m = 0; m < 3; ++m)
            for (ifc::ElementIndex e = 0; e < 5; ++e) {
                const ElementKey one{m, e};
                Colour wanted = plain[m][e];
                const bool isAround = display.focus && std::binary_search(display.focus->around.begin(),
                                                                          display.focus->around.end(), one);
                if (!looks[m].isShown || display.hidden.contains(one) || (display.only && !display.only->contains(one)))
                    wanted.alpha = 0;
                else if (display.painted.contains(one))
                    wanted = display.painted.at(one);
                else if (display.focus && !isAround)
                    wanted.alpha = 0;
                else if (wanted.alpha > 0 && display.selected.contains(one))
                    wanted = {0.17f, 0.48f, 0.52f, 1};
                else if (wanted.alpha > 0 && (display.focus || display.isRestFaded))
                    wanted.alpha = kFadedAlpha;
                const Colour is = always.of(one);
                QCOMPARE(is.alpha, wanted.alpha);
                QVERIFY(wanted.alpha == 0 || is == wanted);
                QVERIFY(scene.colours().of(one) == is);
            }
    }
    QVERIFY(focused > 100 && focused < 1400);
    seldom.follow(other, random);
    QVERIFY(seldom.whole == always.whole && seldom.inFocus == always.inFocus);
}

void TestSceneDocument::commandsOnDifferentThingsCommute()
{
    const SmallScene small;
    std::vector<MemberLook> looks = looksOfThree();
    looks[1].alpha = 0.5f;
    Cuts cuts;
    cuts.slice = Cuts::Slice{0, 1, "Ground"};
    const std::vector<std::function<void(Scene&)>> commands{
        [](Scene& s) {
            s.choose({SmallScene::kPipe, SmallScene::kWall});
        },
        [](Scene& s) {
            s.show({{{SmallScene::kCrate, kPink}}, true, {}});
        },
        [&](Scene& s) { s.setLooks(looks); },
        [](Scene& s) {
            s.setRule({ColourBy::Class, {}, {}});
        },
        [&](Scene& s) { s.setCuts(cuts); },
    };
    std::vector<int> order(commands.size());
    std::iota(order.begin(), order.end(), 0);
    std::mt19937 random(7);
    std::optional<ColourTable> first;
    int orders = 0;
    do {
        Scene scene;
        scene.setMembers(threeOf(small), looksOfThree());
        Drawer drawer;
        drawer.follow(scene, random);
        for (const int i : order) {
            commands[static_cast<std::size_t>(i)](scene);
            if (random() % 2 == 0)
                drawer.follow(scene, random);
        }
        drawer.follow(scene, random);
        if (!first)
            first = drawer.whole;
        QVERIFY(drawer.whole == *first && scene.cuts().slice->name == "Ground" && scene.display().selected.size() == 2);
        ++orders;
    } while (std::next_permutation(order.begin(), order.end()));
    QCOMPARE(orders, 120);
}

void TestSceneDocument::tellsWhatDiffersAndNothingElse()
{
    const SmallScene small;
    Scene scene;
    scene.setMembers(threeOf(small), looksOfThree());
    (void)scene.takeDifference();
    QVERIFY(scene.takeDifference().isNothing());
    const auto told = [&] { return scene.takeDifference().colours; };
    scene.choose({SmallScene::kPipe});
    QVERIFY(told() == std::vector<ElementKey>{SmallScene::kPipe});
    scene.choose({SmallScene::kPipe, SmallScene::kWall});
    QVERIFY(told() == std::vector<ElementKey>{SmallScene::kWall});
    scene.choose({});
    scene.choose({SmallScene::kCrate});
    QVERIFY((told() == std::vector<ElementKey>{SmallScene::kWall, SmallScene::kPipe, SmallScene::kCrate}));
    // What is only laid under shows nothing but what is painted.
    scene.choose({{2, 0}});
    QVERIFY(told() == std::vector<ElementKey>{SmallScene::kCrate});
    scene.show({{{{2, 0}, kPink}}, false, {}});
    QVERIFY((told() == std::vector<ElementKey>{{2, 0}}));
    // In focus the whole is left alone; afterwards it differs by what was painted meanwhile.
    for (const ElementKey key : {SmallScene::kPipe, SmallScene::kWall}) {
        scene.show({{{key, kPink}}, false, about({0, 0, 1})});
        const Scene::Difference difference = scene.takeDifference();
        QVERIFY(difference.isFocusNew && difference.colours.empty() && !difference.areAllColoursNew);
    }
    scene.show({{{SmallScene::kWall, kPink}}, false, {}});
    const Scene::Difference difference = scene.takeDifference();
    QVERIFY(difference.isFocusNew && !difference.areAllColoursNew);
    QVERIFY((difference.colours == std::vector<ElementKey>{SmallScene::kWall, {2, 0}}));
    scene.setCuts({});
    QVERIFY(scene.takeDifference().areCutFacesNew);
}

void TestSceneDocument::signsBelongToWhatItIsAbout()
{
    const SmallScene small;
    Scene scene;
    scene.setMembers(threeOf(small), looksOfThree());
    (void)scene.takeDifference();
    const GridLine axis{{0, 0, 0}, {6, 0, 0}, "A", kPink};
    const Marker pair{{1, 2, 3}, "1", kPink, kTeal}, note{{0, 0, 1}, "7", kTeal, kPink};
    const Arrow shift{{0, 0, 0}, {0, 0, 0.2}, "200 mm", kPink};
    Subject subject;
    subject.grid = {axis};
    subject.markers = {pair};
    subject.arrows = {shift};
    scene.show(subject);
    Scene::Difference difference = scene.takeDifference();
    QVERIFY(difference.isGridNew && difference.areSignsNew && difference.colours.empty());
    QVERIFY(scene.grid() == subject.grid && scene.markers() == subject.markers && scene.arrows() == subject.arrows);
    scene.show(subject); // the same again
    QVERIFY(scene.takeDifference().isNothing());
    subject.arrows.clear();
    scene.show(subject);
    difference = scene.takeDifference();
    QVERIFY(difference.areSignsNew && !difference.isGridNew && scene.arrows().empty());
    // Notes stand there whatever it is about, and selecting or hiding leaves all signs alone.
    scene.setNoteSigns({note});
    scene.choose({SmallScene::kPipe});
    scene.hideSelected();
    QVERIFY(scene.takeDifference().areSignsNew && scene.markers() == subject.markers);
    scene.show({});
    difference = scene.takeDifference();
    QVERIFY(difference.areSignsNew && difference.isGridNew && scene.markers().empty() && scene.grid().empty());
    QVERIFY(scene.noteSigns() == std::vector<Marker>{note});
    scene.setNoteSigns({note});
    QVERIFY(scene.takeDifference().isNothing());
}

void TestSceneDocument::anIllustrationGoesWithItsSubject()
{
    SmallScene small;
    Scene scene;
    scene.setMembers(small.members, small.looks);
    const Arrow own{{0, 0, 0}, {1, 0, 0}, "1.00 m", kPink}, more{{0, 0, 0}, {0, 0.26, 0}, "260 mm", kPink};
    Subject subject;
    subject.painted = {{SmallScene::kCrate, kPink}};
    subject.arrows = {own};
    scene.show(subject);
    (void)scene.takeDifference();
    const geometry::Plane open{{-3, -2, 0.5}, {1, 0, 0}};
    const Figure figure{{-3, -2, 0}, std::make_shared<geometry::Mesh>(geometry::boxMesh(about({}))), kTeal};
    const Illustration illustration{{figure}, {more}, open};
    scene.illustrate(illustration);
    Scene::Difference told = scene.takeDifference();
    QVERIFY(told.areFiguresNew && told.areSignsNew && told.areCutFacesNew && !told.areAllColoursNew);
    QCOMPARE(scene.arrows(), (std::vector<Arrow>{own, more}));
    QCOMPARE(scene.figures(), std::vector<Figure>{figure});
    QCOMPARE(scene.cutPlanes(), std::vector<geometry::Plane>{open});
    QVERIFY(scene.cuts().isEmpty()); // nobody cut anything
    QCOMPARE(scene.cutsInWords(), std::string("cut open where they meet"));
    scene.illustrate(illustration);
    QVERIFY(scene.takeDifference().isNothing());
    QCOMPARE(scene.subject().arrows, subject.arrows);
    QCOMPARE(scene.subject().painted, subject.painted);
    // A person's own cuts stand beside it, and stay when it goes.
    Cuts cuts;
    cuts.slice = Cuts::Slice{0, 3, "Level 1"};
    scene.setCuts(cuts);
    QCOMPARE(scene.cutPlanes().size(), std::size_t{3});
    QCOMPARE(scene.cutsInWords(), std::string("cut to Level 1, and open where they meet"));
    (void)scene.takeDifference();
    scene.show({});
    told = scene.takeDifference();
    QVERIFY(told.areFiguresNew && told.areSignsNew && told.areCutFacesNew);
    QVERIFY(scene.figures().empty() && scene.arrows().empty() && !scene.opened());
    QCOMPARE(scene.cutPlanes().size(), std::size_t{2});
}

void TestSceneDocument::inFocusNothingElseIsDrawn()
{
    const SmallScene small;
    Scene scene;
    scene.setMembers(small.members, small.looks);
    const Picker picker(scene.members());
    scene.setPicker(&picker);
    scene.show({{{SmallScene::kCrate, kPink}},
                false,
                about({4.9, 3.9, 0.5}),
                {SmallScene::kCrate}}); // the other crate is too far off
    QCOMPARE(scene.colours().of(SmallScene::kCrate).alpha, 1.0f);
    QCOMPARE(scene.colours().of(SmallScene::kFloor).alpha, kFadedAlpha);
    QCOMPARE(scene.colours().of(SmallScene::kOtherCrate).alpha, 0.0f);
    std::vector<ElementKey> drawn;
    scene.colours().forEachDrawn([&](const ElementKey& key, const Colour&) { drawn.push_back(key); });
    QVERIFY((drawn ==
             std::vector<ElementKey>{SmallScene::kFloor, SmallScene::kWall, SmallScene::kPipe, SmallScene::kCrate}));
    // Nor can anything else be picked, or cut.
    Picker own(scene.members());
    QVERIFY(!own.pick({{-1, -2, 9}, {0, 0, -1}}, scene.colours(), {0.5f, {}, {}}));
    QVERIFY(own.pick({{-3, -2, 9}, {0, 0, -1}}, scene.colours(), {0.5f, {}, {}})->element == SmallScene::kCrate);
    // What is hidden stays hidden, also here; a place without any box is no focus.
    scene.choose({SmallScene::kFloor});
    scene.hideSelected();
    QCOMPARE(scene.colours().of(SmallScene::kFloor).alpha, 0.0f);
    scene.show({{}, false, Box3{}});
    QVERIFY(!scene.display().focus && scene.colours().of(SmallScene::kOtherCrate).alpha == 1.0f);
    // Everything brought back is no focus either.
    scene.show({{{SmallScene::kCrate, kPink}}, false, about({-3, -2, 0.5})});
    scene.bringAllBack();
    QVERIFY(!scene.display().focus && scene.colours().of(SmallScene::kPipe).alpha == 1.0f &&
            scene.colours().of(SmallScene::kFloor).alpha == 1.0f);
}

void TestSceneDocument::surroundingsComeWithThePicker()
{
    const SmallScene small;
    Scene scene;
    scene.setMembers(small.members, small.looks);
    scene.show({{{SmallScene::kCrate, kPink}}, false, about({-3, -2, 0.5}), {SmallScene::kCrate}});
    QVERIFY(scene.display().focus->around.empty());
    QCOMPARE(scene.colours().of(SmallScene::kCrate).alpha, 1.0f);
    (void)scene.takeDifference();
    const Picker picker(scene.members());
    scene.setPicker(&picker);
    QCOMPARE(scene.display().focus->around.size(), std::size_t{4});
    QVERIFY(scene.takeDifference().isFocusNew && scene.colours().of(SmallScene::kWall).alpha == kFadedAlpha);
}

void TestSceneDocument::otherMembersKeepWhatStandsInThem()
{
    const SmallScene small;
    const auto members = threeOf(small);
    Scene scene;
    scene.setMembers(members, looksOfThree());
    scene.choose({SmallScene::kPipe, {1, 3}});
    scene.hideSelected();
    scene.choose({SmallScene::kWall, {1, 1}, {2, 2}});
    // The same models in another order, the first one read anew, and nothing laid under any more.
    const SmallScene again;
    std::vector<federation::Member> others{members[1], members[0]};
    others[1].model = again.members[0].model;
    others[1].geometry = again.members[0].geometry;
    scene.setMembers(others, std::vector<MemberLook>(2));
    QVERIFY((scene.display().hidden == std::set<ElementKey>{{1, 2}, {0, 3}}));
    QVERIFY((scene.display().selected == std::set<ElementKey>{{1, 1}, {0, 1}}));
    QVERIFY(scene.colours().of({1, 2}).alpha == 0 && scene.colours().of({0, 3}).alpha == 0 &&
            scene.colours().of({0, 2}).alpha == 1);
    // A member that is gone takes along what stood in it alone; where only that was shown, all is.
    scene.choose({{1, 0}});
    scene.showOnlySelected();
    scene.setMembers({others[0]}, std::vector<MemberLook>(1));
    QVERIFY(!scene.display().only && scene.display().selected.empty());
    QVERIFY(scene.display().hidden == std::set<ElementKey>{SmallScene::kCrate});
    QVERIFY(scene.colours().of(SmallScene::kPipe).alpha == 1);
}

QTEST_GUILESS_MAIN(TestSceneDocument)
#include "test_scene_document.moc"
