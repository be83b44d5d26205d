#include <QTest>

#include "core/view/alike.h"
#include "core/view/colouring.h"
#include "core/view/draw_order.h"
#include "core/view/scene_state.h"
#include "core/view/search.h"
#include "support/demo.h"
#include "support/small_scene.h"

using namespace wendrix;
using namespace wendrix::view;
using test::SmallScene;

/// Finding and telling apart: search, colours by a rule, all alike, what is heavy, what is drawn first.
class TestFinding : public QObject {
    Q_OBJECT
private slots:
    void finds_data();
    void finds();
    void foldsLetters_data();
    void foldsLetters();
    void coloursByRule_data();
    void coloursByRule();
    void gathersWhatThePaletteCanNotShow();
    void showsMembersAsAsked();
    void selectsAllAlike_data();
    void selectsAllAlike();
    void ranksByTriangles();
    void drawsLargeThingsWithinABudget_data();
    void drawsLargeThingsWithinABudget();
    void learnsThePace();
    void keepsAViewExactly();
    void refusesADamagedView_data();
    void refusesADamagedView();

private:
    SmallScene scene_;
};

void TestFinding::finds_data()
{
    QTest::addColumn<QString>("query");
    QTest::addColumn<QString>("first"); // empty: nothing
    QTest::addColumn<int>("hits");
    QTest::addColumn<int>("elements"); // of the first
    // clang-format off
    QTest::newRow("a name") << "crate" << "Crate" << 2 << 1;
    QTest::newRow("its beginning") << "fl" << "Floor" << 1 << 1;
    QTest::newRow("a class") << "pipe segment" << "Pipe" << 1 << 1;
    QTest::newRow("a tag") << "T140" << "Crate" << 1 << 1;
    QTest::newRow("an id") << "0000000000000000000012" << "Wall" << 1 << 1;
    QTest::newRow("a value") << "cold" << "Pset_Store Rating = cold" << 1 << 1;
    QTest::newRow("a value of several") << "rating dry" << "Pset_Store Rating = dry" << 1 << 2;
    QTest::newRow("words in any order") << "level wall" << "Wall" << 1 << 1;
    QTest::newRow("all words must be there") << "wall cold" << "" << 0 << 0;
    QTest::newRow("nothing") << "  " << "" << 0 << 0;
    // clang-format on
}

void TestFinding::finds()
{
    QFETCH(QString, query);
    QFETCH(QString, first);
    QFETCH(int, hits);
    QFETCH(int, elements);
    Progress progress;
    const SearchIndex index = SearchIndex::build(scene_.members, progress);
    const auto found = index.find(query.toStdString(), 10);
    QCOMPARE(static_cast<int>(found.size()), hits);
    if (hits > 0) {
        QCOMPARE(QString::fromStdString(found[0].words), first);
        QCOMPARE(static_cast<int>(found[0].elements.size()), elements);
    }
    QVERIFY(index.find(query.toStdString(), 1).size() <= 1);
}

void TestFinding::foldsLetters_data()
{
    QTest::addColumn<QString>("given");
    QTest::addColumn<QString>("folded");
    // clang-format off
    QTest::newRow("ASCII") << "Duct 40A" << "duct 40a";
    QTest::newRow("Latin-1") << "ÜBERGANG Øst" << "übergang øst";
    QTest::newRow("a sign of multiplication is no letter") << "3×4" << "3×4";
    // clang-format on
}

void TestFinding::foldsLetters()
{
    QFETCH(QString, given);
    QFETCH(QString, folded);
    QCOMPARE(QString::fromStdString(wendrix::folded(given.toStdString())), folded);
}

void TestFinding::coloursByRule_data()
{
    QTest::addColumn<int>("by");
    QTest::addColumn<QStringList>("legend"); // "words count", as it stands
    QTest::newRow("class") << static_cast<int>(ColourBy::Class)
                           << QStringList{"Furniture 2", "Pipe segment 1", "Slab 1", "Wall 1"};
    QTest::newRow("storey") << static_cast<int>(ColourBy::Storey) << QStringList{"Level 1 5"};
    QTest::newRow("a property") << static_cast<int>(ColourBy::Property)
                                << QStringList{"dry 2", "cold 1", "nothing said 2"};
    QTest::newRow("system, which none has") << static_cast<int>(ColourBy::System) << QStringList{"nothing said 5"};
    QTest::newRow("the file's own, of which there are none")
        << static_cast<int>(ColourBy::Own) << QStringList{"no colour in the file 5"};
    QTest::newRow("discipline") << static_cast<int>(ColourBy::Discipline) << QStringList{};
}

void TestFinding::coloursByRule()
{
    QFETCH(int, by);
    QFETCH(QStringList, legend);
    const Colouring made =
        colouringBy({static_cast<ColourBy>(by), "Pset_Store", "Rating"}, scene_.members, scene_.looks);
    QStringList lines;
    for (const LegendLine& line : made.legend)
        lines << QString::fromStdString(line.words) + " " + QString::number(line.count);
    QCOMPARE(lines, legend);
    if (static_cast<ColourBy>(by) == ColourBy::Class) {
        QVERIFY(made.colours[0][3] == made.colours[0][4]); // both crates
        QVERIFY(!(made.colours[0][3] == made.colours[0][0]));
        QVERIFY(made.colours[0][3] == made.legend[0].colour);
    }
}

void TestFinding::gathersWhatThePaletteCanNotShow()
{
    // The demo's ducts have more sizes than there are colours.
    const std::vector<federation::Member> members{test::demoMember("Architecture", "P01"),
                                                  test::demoMember("Ventilation", "P01"),
                                                  test::demoMember("Structure", "P01")};
    const std::vector<MemberLook> looks(3);
    const Colouring made = colouringBy({ColourBy::Material, {}, {}}, members, looks);
    std::size_t sum = 0;
    for (const LegendLine& line : made.legend)
        sum += line.count;
    std::size_t all = 0;
    for (const auto& m : members)
        all += m.model->elements().size();
    QCOMPARE(sum, all); // nobody is left out of a legend
    QVERIFY(made.legend.size() <= paletteSize() + 2);
    std::vector<MemberLook> oneHidden = looks;
    oneHidden[0].isShown = false;
    sum = 0;
    for (const LegendLine& line : colouringBy({ColourBy::Material, {}, {}}, members, oneHidden).legend)
        sum += line.count;
    QCOMPARE(sum, all - members[0].model->elements().size());
}

void TestFinding::showsMembersAsAsked()
{
    const std::vector<federation::Member> members{test::demoMember("Architecture", "P01")};
    std::vector<MemberLook> looks(1);
    looks[0].alpha = 0.5f;
    const auto count = [&](auto wanted) {
        const auto colours = coloursOf({}, members, looks);
        return std::count_if(colours[0].begin(), colours[0].end(), wanted);
    };
    const auto solid = count([](const Colour& c) { return c.alpha == 0.5f; });
    const auto hidden = count([](const Colour& c) { return c.alpha == 0; });
    QVERIFY(solid > 0 && hidden > 0); // the spaces
    looks[0].areSpacesShown = true;
    QCOMPARE(count([](const Colour& c) { return c.alpha == 0; }), decltype(hidden){0});
    QCOMPARE(count([](const Colour& c) { return c.alpha == 0.5f; }), solid);
    const Colouring rule = colouringBy({ColourBy::Class, {}, {}}, members, looks);
    const auto ruled = coloursOf({}, members, looks, rule.colours);
    QCOMPARE(ruled[0][0].red, rule.colours[0][0].red);
}

void TestFinding::selectsAllAlike_data()
{
    QTest::addColumn<int>("what");
    QTest::addColumn<int>("from");
    QTest::addColumn<int>("found");
    QTest::newRow("class") << static_cast<int>(AlikeIn::Class) << 3 << 2;
    QTest::newRow("storey") << static_cast<int>(AlikeIn::Storey) << 3 << 5;
    QTest::newRow("member") << static_cast<int>(AlikeIn::Member) << 0 << 5;
    QTest::newRow("a system nobody has") << static_cast<int>(AlikeIn::System) << 3 << 0;
}

void TestFinding::selectsAllAlike()
{
    QFETCH(int, what);
    QFETCH(int, from);
    QFETCH(int, found);
    const auto list = alike({{0, static_cast<ifc::ElementIndex>(from)}}, static_cast<AlikeIn>(what), scene_.members);
    QCOMPARE(static_cast<int>(list.size()), found);
    QVERIFY(found == 0 || list.contains({0, static_cast<ifc::ElementIndex>(from)}));
}

void TestFinding::ranksByTriangles()
{
    const auto elements = heaviestElements(scene_.members, 3);
    QCOMPARE(elements.size(), std::size_t{3});
    QCOMPARE(elements[0].words, std::string("Pipe")); // 24 chords or more around
    QVERIFY(elements[0].triangles >= 4 * 24 - 4 && elements[0].triangles >= elements[1].triangles);
    const auto types = heaviestTypes(scene_.members, 10);
    double share = 0;
    for (const Weight& w : types)
        share += w.share;
    QVERIFY(std::abs(share - 1) < 1e-12);
    const auto crates = std::find_if(types.begin(), types.end(), [](const Weight& w) { return w.kind == "Furniture"; });
    QVERIFY(crates != types.end() && crates->elements.size() == 2 && crates->triangles == 24);
}

void TestFinding::drawsLargeThingsWithinABudget_data()
{
    QTest::addColumn<int>("budget");
    QTest::addColumn<int>("first"); // how many of each list are drawn
    QTest::addColumn<int>("second");
    QTest::newRow("all") << 1000 << 3 << 2;
    QTest::newRow("exactly all") << 260 << 3 << 2;
    QTest::newRow("without the smallest") << 259 << 2 << 2;
    QTest::newRow("two") << 125 << 1 << 1;
    QTest::newRow("nothing fits, the largest is drawn") << 5 << 1 << 0;
}

void TestFinding::drawsLargeThingsWithinABudget()
{
    QFETCH(int, budget);
    QFETCH(int, first);
    QFETCH(int, second);
    const std::vector<DrawStep> lists[] = {{{9, 100}, {3, 120}, {1, 140}}, {{5, 20}, {4, 120}}};
    const float size = smallestSizeWithin(lists, static_cast<std::uint64_t>(budget));
    QCOMPARE(static_cast<int>(countFrom(lists[0], size)), first);
    QCOMPARE(static_cast<int>(countFrom(lists[1], size)), second);
}

void TestFinding::learnsThePace()
{
    const auto isAbout = [](const DrawPace& pace, double milliseconds, double triangles) {
        return std::abs(static_cast<double>(pace.trianglesIn(milliseconds)) - triangles) < 0.01 * triangles;
    };
    DrawPace pace;
    for (int i = 0; i < 60; ++i)
        pace.took(200'000, 100, 0);
    QVERIFY(isAbout(pace, 50, 100'000));
    pace.took(3, 100, 0); // says nothing about triangles
    QVERIFY(isAbout(pace, 50, 100'000));
    for (int i = 0; i < 60; ++i)
        pace.took(200'000, 100, 20);
    QVERIFY(isAbout(pace, 50, 60'000)); // what a frame costs besides is not counted as triangles
    for (int i = 0; i < 60; ++i)
        pace.took(200'000, 100, 500);
    QVERIFY(isAbout(pace, 50, 40'000)); // and where it is more than all there is, something is drawn still
}

void TestFinding::keepsAViewExactly()
{
    SceneState state;
    state.camera.eye = {431208.4000000001, 5410977.15, 0.1 + 0.2};
    state.camera.isParallel = true;
    state.cuts.slice = Cuts::Slice{-0.5, 3.0000000001, "Level \"1\""};
    (void)state.cuts.add({{1, 2, 3}, {0, 1, 0}});
    state.rule = {ColourBy::Property, "Pset_Store", "Rating"};
    state.looks["Architecture"].alpha = 0.4f;
    state.looks["Architecture"].isEdgesOnly = true;
    state.measurements = {distanceBetween({0, 0, 0}, {1, 2, 3})};
    state.marks = {{MarkKind::Cloud, {{-0.1, 0.1 + 0.2}, {1, 1}}, {}, state.camera},
                   {MarkKind::Text, {{0, 0}}, "205 mm \"off\"", state.camera}};
    Display display;
    display.hidden = {SmallScene::kWall};
    display.only = std::set{SmallScene::kFloor, SmallScene::kPipe};
    display.selected = {SmallScene::kPipe};
    display.painted[SmallScene::kCrate] = colourOf("#C23B72");
    display.isRestFaded = true;
    take(state, display, scene_.members);
    const auto back = fromJson(toJson(state));
    QVERIFY(back.has_value());
    QVERIFY(back->camera == state.camera && back->rule == state.rule && back->measurements == state.measurements);
    QVERIFY(back->cuts.slice == state.cuts.slice && back->cuts.planes == state.cuts.planes);
    QVERIFY(back->looks.at("Architecture").isEdgesOnly && back->looks.at("Architecture").alpha == 0.4f);
    QCOMPARE(back->marks.size(), std::size_t{2});
    QVERIFY(back->marks[0].points == state.marks[0].points && back->marks[1].words == state.marks[1].words &&
            back->marks[1].kind == MarkKind::Text && back->marks[0].from == state.camera);
    std::size_t missing = 0;
    const Display shown = displayOf(*back, scene_.members, missing);
    QCOMPARE(missing, std::size_t{0});
    QVERIFY(shown.hidden == display.hidden && shown.only == display.only && shown.selected == display.selected &&
            shown.painted == display.painted && shown.isRestFaded);
    (void)displayOf(*back, {}, missing); // a composition without any of it
    QCOMPARE(missing, std::size_t{5});
}

void TestFinding::refusesADamagedView_data()
{
    QTest::addColumn<QString>("json");
    QTest::newRow("no JSON") << "{";
    QTest::newRow("no camera") << "{}";
    QTest::newRow("a camera of words") << R"({"camera":{"eye":["a","b","c"],"target":[0,0,0],"angle":1}})";
    QTest::newRow("a place with two numbers") << R"({"camera":{"eye":[1,2],"target":[0,0,0],"angle":1}})";
    QTest::newRow("a list") << "[1,2,3]";
}

void TestFinding::refusesADamagedView()
{
    QFETCH(QString, json);
    const auto state = fromJson(json.toStdString());
    QVERIFY(!state && state.error().code == kNoView);
}

QTEST_GUILESS_MAIN(TestFinding)
#include "test_finding.moc"
