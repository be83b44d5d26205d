#include "app/window_fixture.h"

#include "scene/compass_level.h"
#include "shell/fact_list.h"
#include "shell/go_to.h"

#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QListWidget>
#include <QMenu>
#include <QSlider>
#include <QTextBrowser>
#include <QTimer>
#include <QToolButton>

#include <cmath>

using namespace wendrix;

/// Working at the model with mouse and keys: turning, cutting, measuring, finding, telling apart.
class TestScene : public QObject {
    Q_OBJECT
private slots:
    void initTestCase();
    void init();
    void compassTurnsTheView();
    void keysTurnMoveAndZoom();
    void parallelIsSaidAndKeepsTheMiddle();
    void boxPicksWhatIsInIt();
    void allAlikeAreSelected();
    void detailsAreWholeAndLead();
    void detailsAreFilteredAndCopied();
    void cutsAreMadeMovedAndEnded();
    void aCutAlongAFaceGoesThroughIt();
    void boxCutStandsRoundTheSelection();
    void measuresWhatIsClicked();
    void walksAtEyeHeight();
    void membersAreShownAsAsked();
    void coloursFollowARule();
    void spacesAreTintedAndNamed();
    void goToFindsEverything();
    void picturesComeAtAnySize();
    void viewsAreKeptAndOpenedToThePixel();
    void twoMembersAreLaidOverEachOther();
    void helpOpensThePageOfTheToolInHand();
    void aMovingViewDrawsWithinItsTime();
    void cleanupTestCase();

private:
    [[nodiscard]] app::SceneView& scene() { return at_->scene(); }
    [[nodiscard]] QPoint pixelOf(Point3 place);
    [[nodiscard]] view::ElementKey named(const std::string& name, std::uint32_t member);
    void click(QPoint at, Qt::KeyboardModifiers modifiers = {});
    void drag(QPoint from, QPoint to, Qt::KeyboardModifiers modifiers = {});
    std::unique_ptr<test::WindowFixture> at_;
};

void TestScene::initTestCase()
{
    at_ = std::make_unique<test::WindowFixture>();
    at_->openDemo();
    at_->clickStage("Coordinates");
    for (int row = 0; row < 2; ++row) {
        at_->clickRow("Coordinates", row);
        QVERIFY(at_->clickButton("applyFit"));
    }
    at_->clickStage("Clashes"); // its scene is large, and nothing is painted there yet
}

void TestScene::cleanupTestCase() { at_.reset(); }

void TestScene::init()
{
    at_->window().tools().endAll();
    scene().setCuts({});
    scene().setRule({});
    scene().choose({});
    at_->window().tools().measureTool().setResults({});
    QVERIFY(at_->clickButton("lookAll"));
    scene().setParallel(false);
    scene().finishMotion();
    scene().setFocus();
}

QPoint TestScene::pixelOf(Point3 place)
{
    const auto s = view::project(scene().camera(), scene().viewport(), place);
    return {static_cast<int>(std::lround(s.x)), static_cast<int>(std::lround(s.y))};
}

view::ElementKey TestScene::named(const std::string& name, std::uint32_t member)
{
    const auto& model = *scene().members()[member].model;
    for (ifc::ElementIndex e = 0; e < model.elements().size(); ++e)
        if (model.displayName(model.elements()[e]).find(name) != std::string::npos)
            return {member, e};
    return {member, 0};
}

void TestScene::click(QPoint at, Qt::KeyboardModifiers modifiers)
{
    QTest::mouseClick(&scene(), Qt::LeftButton, modifiers, at);
    QApplication::processEvents(); // panels that were written anew show themselves
}

void TestScene::drag(QPoint from, QPoint to, Qt::KeyboardModifiers modifiers)
{
    QTest::mousePress(&scene(), Qt::LeftButton, modifiers, from);
    for (const QPoint at : {(from + to) / 2, to}) {
        QMouseEvent move(QEvent::MouseMove, at, scene().mapToGlobal(at), Qt::NoButton, Qt::LeftButton, modifiers);
        QApplication::sendEvent(&scene(), &move);
    }
    QTest::mouseRelease(&scene(), Qt::LeftButton, modifiers, to);
}

void TestScene::compassTurnsTheView()
{
    auto* compass = at_->window().findChild<app::CompassLevel*>("compass");
    for (const auto& [side, from] : {std::pair{'E', Vector3{1, 0, 0}}, {'N', Vector3{0, 1, 0}}, {'W', Vector3{-1, 0, 0}}, {'S', Vector3{0, -1, 0}}}) {
        QTest::mouseClick(compass, Qt::LeftButton, {}, compass->placeOf(side));
        scene().finishMotion();
        Vector3 back = -scene().camera().forward();
        back.z = 0;
        QVERIFY(dot(normalised(back), from) > 0.999);
    }
    QTest::mouseClick(compass, Qt::LeftButton, {}, compass->placeOf('A'));
    scene().finishMotion();
    QVERIFY(scene().camera().forward().z < -0.998);
    QTest::mouseClick(compass, Qt::LeftButton, {}, compass->placeOf('L'));
    scene().finishMotion();
    QVERIFY(std::abs(scene().camera().forward().z) < 1e-6);
    const view::Camera level = scene().camera();
    at_->press(Qt::Key_Backspace); // the view before
    QVERIFY(!(scene().camera() == level));
}

void TestScene::keysTurnMoveAndZoom()
{
    const view::Camera before = scene().camera();
    at_->press(Qt::Key_Left);
    QVERIFY(std::abs(length(scene().camera().eye - before.target) - length(before.eye - before.target)) < 1e-6);
    QVERIFY(!(scene().camera() == before));
    at_->press(Qt::Key_Backspace);
    QVERIFY(scene().camera() == before);
    at_->press(Qt::Key_Plus);
    QVERIFY(length(scene().camera().eye - scene().camera().target) < length(before.eye - before.target));
    at_->press(Qt::Key_Backspace);
    at_->press(Qt::Key_Up, Qt::ControlModifier);
    QVERIFY(length(scene().camera().forward() - before.forward()) < 1e-9 && length(scene().camera().eye - before.eye) > 0.1);
    at_->press(Qt::Key_Backspace);
    drag(scene().rect().center(), scene().rect().center() + QPoint(40, 0), Qt::ControlModifier); // looking around
    QVERIFY(scene().camera().eye == before.eye && !(scene().camera().target == before.target));
}

void TestScene::parallelIsSaidAndKeepsTheMiddle()
{
    auto* compass = at_->window().findChild<app::CompassLevel*>("compass");
    const Point3 target = scene().camera().target;
    const QPoint before = pixelOf(target);
    QTest::mouseClick(compass, Qt::LeftButton, {}, compass->placeOf('P'));
    QVERIFY(scene().camera().isParallel);
    QCOMPARE(pixelOf(target), before);
    // What is drawn is where the arithmetic says: the roof's far corner is inked, beside it is paper.
    const Box3 box = scene().bounds();
    const auto picked = scene().pickAt(pixelOf({box.centre().x, box.centre().y, box.max.z}));
    QVERIFY(picked.has_value());
    const QColor model = at_->pixel(pixelOf(picked->place)), paper = at_->pixel({3, scene().height() - 4});
    QVERIFY(std::abs(model.lightness() - paper.lightness()) > 10);
}

void TestScene::boxPicksWhatIsInIt()
{
    drag({2, 2}, {scene().width() - 3, scene().height() - 3}, Qt::AltModifier); // to the right: what is wholly inside
    const std::size_t whole = scene().display().selected.size();
    std::size_t shown = 0;
    for (const auto& colours : scene().colours())
        shown += static_cast<std::size_t>(std::count_if(colours.begin(), colours.end(), [](const view::Colour& c) { return c.alpha > 0; }));
    QCOMPARE(whole, shown);
    QVERIFY(at_->selectionWords().contains("elements selected"));
    const QPoint middle = scene().rect().center();
    drag(middle, middle + QPoint(12, 12), Qt::AltModifier);
    QVERIFY(scene().display().selected.size() < 10);
    drag(middle + QPoint(12, 12), middle, Qt::AltModifier); // to the left: what it touches, behind the wall as well
    QVERIFY(scene().display().selected.size() > 1 && scene().display().selected.size() < whole);
}

void TestScene::allAlikeAreSelected()
{
    const auto pick = named("Supply duct 700", 2);
    scene().choose({pick});
    // Through the menu of a right click.
    QTimer::singleShot(0, [] {
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        QVERIFY(menu != nullptr);
        for (QAction* action : menu->actions().first()->menu()->actions())
            if (action->text() == "system")
                action->trigger();
        menu->close();
    });
    QTest::mouseClick(&scene(), Qt::RightButton, {}, scene().rect().center());
    const auto& model = *scene().members()[2].model;
    QVERIFY(scene().display().selected.size() > 10);
    for (const view::ElementKey& key : scene().display().selected)
        QCOMPARE(model.text(model.elements()[key.element].system), std::string("Supply air"));
    at_->press(Qt::Key_O);
    QVERIFY(at_->selectionWords().contains("only"));
    at_->press(Qt::Key_B);
}

void TestScene::detailsAreWholeAndLead()
{
    const auto duct = named("Supply duct 700", 2);
    scene().choose({duct});
    const QString details = at_->details();
    for (const char* wanted : {"At a glance", "Related", "in system", "Attributes", "GlobalId", "Volume"})
        QVERIFY2(details.contains(wanted), wanted);
    // From a door to the wall it is in, by the line that says so.
    const auto door = named("Door", 0);
    scene().choose({door});
    QApplication::processEvents();
    bool isFollowed = false;
    for (QPushButton* link : at_->window().findChildren<QPushButton*>("follow"))
        if (link->isVisible() && link->text().contains("wall", Qt::CaseInsensitive) && !isFollowed) {
            QTest::mouseClick(link, Qt::LeftButton);
            isFollowed = true;
        }
    QVERIFY(isFollowed);
    QTRY_VERIFY(!scene().display().selected.contains(door));
    QCOMPARE(scene().display().selected.size(), std::size_t{1});
    scene().finishMotion();
}

void TestScene::detailsAreFilteredAndCopied()
{
    scene().choose({named("Supply duct 700", 2)});
    QApplication::processEvents();
    auto* field = at_->window().findChild<QLineEdit*>("factFilter");
    field->setFocus();
    QTest::keyClicks(field, "system");
    auto* list = at_->window().findChild<app::FactList*>();
    QVERIFY(list->asText().contains("Supply air") && !list->asText().contains("GlobalId"));
    QVERIFY(at_->clickButton("copyFacts"));
    QCOMPARE(QApplication::clipboard()->text(), list->asText());
    QTest::keyClicks(field, "xyz");
    QVERIFY(list->asText().isEmpty());
}

void TestScene::cutsAreMadeMovedAndEnded()
{
    QVERIFY(at_->clickButton("cut"));
    QVERIFY(at_->clickButton("cutZ"));
    QCOMPARE(scene().cuts().planes.size(), std::size_t{1});
    QVERIFY(at_->selectionWords().contains("cut by 1 plane"));
    const double middle = scene().bounds().centre().z;
    auto* position = at_->window().findChild<QDoubleSpinBox*>("cutPosition");
    QVERIFY(std::abs(position->value() - middle) < 1e-3);
    // Typed.
    position->setFocus();
    position->selectAll();
    QTest::keyClicks(position, QLocale().toString(5.0, 'f', 3));
    QTest::keyClick(position, Qt::Key_Return);
    QVERIFY(std::abs(scene().cuts().planes[0].at.z - 5) < 1e-6);
    // What is above is gone, and the cut is filled: straight under the pixel lies the cut itself.
    view::Camera above = view::turnedTo(scene().camera(), {0, 0, 1});
    scene().setCamera(above, false);
    bool isFilled = false;
    for (int x = 0; x < scene().width(); x += 7)
        if (const auto picked = scene().pickAt(QPointF(x, scene().height() / 2.0))) {
            QVERIFY(picked->place.z <= 5 + 1e-6);
            isFilled = isFilled || std::abs(picked->place.z - 5) < 1e-6;
        }
    QVERIFY(isFilled);
    // Dragged by its knob, from the side: twenty pixels up.
    scene().setCamera(view::turnedTo(scene().camera(), {0, -1, 0}), false);
    app::CutTool& tool = at_->window().tools().cutTool();
    const QPoint knob = tool.knobOf(0);
    drag(knob, knob - QPoint(0, 20));
    const double moved = scene().cuts().planes[0].at.z - 5;
    QVERIFY(moved > 0.05);
    QVERIFY((tool.knobOf(0) - (knob - QPoint(0, 20))).manhattanLength() <= 3);
    const Vector3 normal = scene().cuts().planes[0].normal;
    QVERIFY(at_->clickButton("cutTurn"));
    QVERIFY(length(scene().cuts().planes[0].normal + normal) < 1e-12);
    QVERIFY(at_->clickButton("cutX"));
    QCOMPARE(scene().cuts().planes.size(), std::size_t{2});
    QVERIFY(at_->clickButton("cutEnd"));
    QCOMPARE(scene().cuts().planes.size(), std::size_t{1});
    QVERIFY(at_->clickButton("cutEndAll"));
    QVERIFY(scene().cuts().isEmpty());
}

void TestScene::aCutAlongAFaceGoesThroughIt()
{
    QVERIFY(at_->clickButton("cut"));
    QVERIFY(at_->clickButton("cutFace"));
    const QPoint at = scene().rect().center();
    const auto picked = scene().pickAt(at);
    QVERIFY(picked.has_value());
    click(at);
    QCOMPARE(scene().cuts().planes.size(), std::size_t{1});
    QVERIFY(length(scene().cuts().planes[0].normal - picked->normal) < 1e-9);
    QVERIFY(std::abs(scene().cuts().planes[0].distance(picked->place)) < 1e-9);
    QVERIFY(at_->clickButton("cutPlaces"));
    for (const QPoint d : {QPoint(-30, -10), QPoint(30, -12), QPoint(0, 30)})
        click(scene().rect().center() + d);
    QVERIFY(scene().cuts().planes.size() == 2 || at_->message().contains("on one line"));
}

void TestScene::boxCutStandsRoundTheSelection()
{
    QVERIFY(at_->clickButton("cut"));
    QVERIFY(at_->clickButton("cutBox")); // nothing is selected
    QVERIFY(at_->message().contains("Select"));
    const auto duct = named("Supply duct 700", 2);
    scene().choose({duct});
    QVERIFY(at_->clickButton("cutBox"));
    QVERIFY(scene().cuts().box.has_value());
    const Box3 box = scene().picker().boundsOf(duct);
    QVERIFY(std::abs(scene().cuts().box->min.x - (box.min.x - 0.25)) < 1e-9 && std::abs(scene().cuts().box->max.z - (box.max.z + 0.25)) < 1e-9);
    QCOMPARE(scene().cuts().faces().size(), std::size_t{6});
    QVERIFY(at_->selectionWords().contains("to a box"));
}

void TestScene::measuresWhatIsClicked()
{
    // Straight down onto the roof, near enough for a corner to be held.
    at_->press(Qt::Key_M);
    QCOMPARE(at_->window().tools().tool(), app::ToolStrip::Tool::Measure);
    const Box3 box = scene().bounds();
    scene().setCamera(view::turnedTo(scene().camera(), {0, 0, 1}), false);
    const auto first = scene().snapAt(pixelOf(box.centre()));
    QVERIFY(first.has_value());
    const QPoint a = pixelOf(box.centre()), b = a + QPoint(60, 40);
    const auto held = scene().snapAt(a), other = scene().snapAt(b);
    QVERIFY(held && other);
    click(a);
    QVERIFY(at_->window().findChild<QLabel*>("toolHint")->text().contains("second"));
    click(b);
    const auto& results = at_->window().tools().measureTool().results();
    QCOMPARE(results.size(), std::size_t{1});
    QVERIFY(std::abs(results[0].number - length(other->picked.place - held->picked.place)) < 1e-9);
    QVERIFY(at_->details().contains(QString::fromStdString(results[0].value)));
    QVERIFY(scene().display().selected.empty()); // a measuring click selects nothing
    QVERIFY(at_->clickButton("measure6")); // elevation
    click(a);
    QCOMPARE(results.size(), std::size_t{2});
    QVERIFY(at_->details().contains("above sea level"));
    QVERIFY(at_->clickButton("copyMeasured"));
    QVERIFY(QApplication::clipboard()->text().contains(QString::fromStdString(results[0].value)));
    scene().setFocus();
    at_->press(Qt::Key_Delete);
    QCOMPARE(results.size(), std::size_t{1});
    at_->press(Qt::Key_Escape);
    QCOMPARE(at_->window().tools().tool(), app::ToolStrip::Tool::Look);
}

void TestScene::walksAtEyeHeight()
{
    scene().setCamera(view::turnedTo(scene().camera(), {0, 0, 1}), false); // onto the roof
    QVERIFY(at_->clickButton("walk"));
    scene().finishMotion();
    const double standing = scene().camera().eye.z;
    const auto floor = scene().picker().pick({scene().camera().eye, {0, 0, -1}}, scene().colours(), {0.2f, {}, {}});
    QVERIFY(floor.has_value());
    QVERIFY(std::abs(standing - floor->place.z - view::kEyeHeightMetres) < 1e-6);
    const Point3 before = scene().camera().eye;
    scene().setFocus();
    at_->press(Qt::Key_W);
    at_->press(Qt::Key_Left);
    QVERIFY(length(scene().camera().eye - before) > 0.3);
    const Vector3 forward = scene().camera().forward();
    drag(scene().rect().center(), scene().rect().center() + QPoint(50, 0)); // looks around
    QVERIFY(length(scene().camera().forward() - forward) > 0.05);
}

void TestScene::membersAreShownAsAsked()
{
    QVERIFY(at_->clickButton("show"));
    QVERIFY(at_->details().contains("What makes it heavy"));
    const QImage withGrid = scene().picture();
    auto* grid = at_->window().findChild<QCheckBox*>("showGrid");
    grid->click();
    QVERIFY(scene().picture() != withGrid);
    grid->click();
    QCOMPARE(scene().picture(), withGrid);
    auto* shown = at_->window().findChild<QCheckBox*>("lookShown0");
    QVERIFY(shown->isChecked());
    shown->click();
    QVERIFY(!scene().looks()[0].isShown);
    QVERIFY(at_->selectionWords().contains("1 member switched off"));
    shown->click();
    at_->window().findChild<QCheckBox*>("lookPick0")->click();
    const auto picked = scene().pickAt(scene().rect().center());
    QVERIFY(!picked || picked->element.member != 0);
    at_->window().findChild<QCheckBox*>("lookPick0")->click();
    at_->window().findChild<QCheckBox*>("lookEdges0")->click();
    QVERIFY(at_->selectionWords().contains("as edges"));
    at_->window().findChild<QCheckBox*>("lookEdges0")->click();
    at_->window().findChild<QSlider*>("lookSolid0")->setValue(40);
    QVERIFY(at_->selectionWords().contains("seen through"));
    const QColor through = at_->pixel(scene().rect().center());
    at_->window().findChild<QSlider*>("lookSolid0")->setValue(100);
    QVERIFY(through != at_->pixel(scene().rect().center()));
    QVERIFY(!at_->selectionWords().contains("member"));
}

void TestScene::coloursFollowARule()
{
    QVERIFY(at_->clickButton("show"));
    auto* by = at_->window().findChild<QComboBox*>("colourBy");
    by->setFocus();
    QTest::keyClicks(by, "storey");
    QTRY_VERIFY(scene().rule().by == view::ColourBy::Storey);
    QTRY_VERIFY(at_->window().findChild<QWidget*>("legend") != nullptr);
    QVERIFY(at_->details().contains("Level 2"));
    QVERIFY(at_->selectionWords().contains("coloured by a rule"));
    const auto wall = scene().pickAt(scene().rect().center());
    QVERIFY(wall.has_value());
    const auto& colour = scene().colours()[wall->element.member][wall->element.element];
    const bool isInLegend = std::any_of(scene().legend().begin(), scene().legend().end(), [&](const view::LegendLine& l) { return l.colour.red == colour.red && l.colour.blue == colour.blue; });
    QVERIFY(isInLegend);
}

void TestScene::spacesAreTintedAndNamed()
{
    auto looks = scene().looks();
    const QImage before = scene().picture();
    looks[0].areSpacesShown = true;
    looks[0].alpha = 0.3f;
    scene().setLooks(looks);
    QVERIFY(before != scene().picture());
    looks[0].areSpacesShown = false;
    looks[0].alpha = 1;
    scene().setLooks(looks);
    QCOMPARE(scene().picture(), before); // to the pixel
}

void TestScene::goToFindsEverything()
{
    auto* goTo = at_->window().findChild<app::GoTo*>("goTo");
    auto* hits = at_->window().findChild<QListWidget*>("goToHits");
    const auto type = [&](const QString& words) {
        at_->press(Qt::Key_K, Qt::ControlModifier);
        goTo->clear();
        QTest::keyClicks(goTo, words);
        QStringList list;
        for (int i = 0; i < hits->count(); ++i)
            list << hits->item(i)->text();
        return list.join('\n');
    };
    QTRY_VERIFY(type("SD-203").contains("Supply duct"));
    QTest::keyClick(goTo, Qt::Key_Return);
    scene().finishMotion();
    QCOMPARE(scene().display().selected, std::set<view::ElementKey>{named("SD-203", 2)});
    QVERIFY(type("Galvanised").contains("Ventilation"));
    QVERIFY(type("parallel view").contains("command"));
    QVERIFY(type("frame and core").contains("delivery"));
    QVERIFY(type("qqqq").contains("Nothing is called like that"));
    QTest::keyClick(goTo, Qt::Key_Escape);
}

void TestScene::picturesComeAtAnySize()
{
    const QImage large = scene().picture({2000, 1500}, false);
    QCOMPARE(large.size(), QSize(2000, 1500));
    QCOMPARE(scene().picture({99'000, 40}, false).width(), 7680); // 8K is the most
    const QColor corner = large.pixelColor(3, 1496);
    QVERIFY(corner.lightness() > 200); // paper
    at_->press(Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
    QCOMPARE(QApplication::clipboard()->image().size(), scene().size() * 2);
}

void TestScene::viewsAreKeptAndOpenedToThePixel()
{
    // A view with something of everything.
    const auto duct = named("Supply duct 700", 2);
    view::Cuts cuts;
    (void)cuts.add({scene().bounds().centre(), {0, 0, 1}});
    scene().setCuts(cuts);
    scene().setRule({view::ColourBy::Class, {}, {}});
    scene().choose({named("Outer wall", 0)});
    scene().setFocus();
    at_->press(Qt::Key_H);
    scene().choose({duct});
    at_->window().tools().measureTool().setResults({view::distanceBetween(scene().bounds().min, scene().bounds().max)});
    QVERIFY(at_->clickButton("views"));
    auto* title = at_->window().findChild<QLineEdit*>("viewTitle");
    title->setFocus();
    QTest::keyClicks(title, "Main duct, sawn open");
    QTest::keyClicks(at_->window().findChild<QLineEdit*>("viewFolder"), "Ventilation");
    QVERIFY(at_->clickButton("keepView"));
    QVERIFY(at_->details().contains("Main duct, sawn open") && at_->details().contains("Ventilation"));
    const QImage before = scene().picture();

    scene().setCuts({});
    scene().setRule({});
    scene().choose({});
    scene().display().bringAllBack();
    scene().updateDisplay();
    at_->window().tools().measureTool().setResults({});
    QVERIFY(at_->clickButton("lookAll"));
    scene().finishMotion();
    QVERIFY(scene().picture() != before);
    QVERIFY(at_->clickButton("views"));
    QVERIFY(at_->clickButton("openView"));
    QTRY_COMPARE(at_->window().tools().measureTool().results().size(), std::size_t{1});
    QCOMPARE(scene().picture(), before);
    QVERIFY(at_->message().contains("Opened"));

    QVERIFY(at_->clickButton("views"));
    QVERIFY(at_->clickButton("updateView"));
    QTRY_VERIFY(at_->details().contains("version 2"));
    QVERIFY(at_->clickButton("removeView"));
    QTRY_VERIFY(at_->project().keptViews("Ines Varga").empty());
    at_->press(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(at_->project().keptViews(at_->session().person().toStdString()).size(), std::size_t{1});
    scene().display().bringAllBack();
}

void TestScene::twoMembersAreLaidOverEachOther()
{
    view::Cuts cuts;
    const Box3 duct = scene().picker().boundsOf(named("Supply duct 700", 2));
    (void)cuts.add({duct.centre(), {0, 0, 1}});
    QVERIFY(at_->clickButton("cut"));
    QVERIFY(at_->clickButton("cutFlat"));
    QVERIFY(at_->details().contains("Make a cut first"));
    scene().setCuts(cuts);
    const view::Camera camera = scene().camera();
    const QImage before = scene().picture();
    QVERIFY(at_->clickButton("cutFlat"));
    auto* outlined = at_->window().findChild<QComboBox*>("flatOutlined");
    outlined->setFocus();
    QTest::keyClicks(outlined, "Ventilation");
    QTest::keyClick(outlined, Qt::Key_Return);
    QTRY_COMPARE(scene().overlay()->outlined, 2u);
    QVERIFY(at_->selectionWords().contains("Architecture P01 filled, Ventilation P01 outlined"));
    QVERIFY(scene().camera().isParallel && scene().camera().forward().z < -0.99);
    // The duct's side is an outline: raspberry where the arithmetic puts it.
    scene().finishMotion();
    const QImage picture = scene().picture();
    int raspberry = 0;
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x) {
            const QColor c = picture.pixelColor(x, y);
            raspberry += c.red() > 150 && c.green() < 110 && c.blue() > 70 && c.blue() < 170 ? 1 : 0;
        }
    QVERIFY(raspberry > 40);
    QVERIFY(at_->clickButton("flatEnd"));
    QTRY_VERIFY(!scene().overlay());
    scene().setCamera(camera, false);
    QCOMPARE(scene().picture(), before);
}

void TestScene::helpOpensThePageOfTheToolInHand()
{
    for (const bool isMeasuring : {false, true}) {
        if (isMeasuring)
            at_->press(Qt::Key_M);
        bool isRead = false;
        QTimer::singleShot(0, [&] {
            auto* help = at_->window().findChild<QDialog*>("help");
            QVERIFY(help != nullptr);
            auto* page = help->findChild<QTextBrowser*>(isMeasuring ? "helpModel" : "helpKeys");
            QVERIFY(page->isVisible());
            isRead = page->toPlainText().contains(isMeasuring ? "Take" : "measure", Qt::CaseInsensitive) || page->toPlainText().contains("triangle a midpoint");
            help->reject();
        });
        at_->press(Qt::Key_F1);
        QVERIFY(isRead);
    }
}

void TestScene::aMovingViewDrawsWithinItsTime()
{
    // While it moves it may draw less, and at rest it draws all again.
    (void)scene().picture();
    const auto whole = scene().renderer().drawnTriangles();
    std::size_t triangles = 0;
    for (const federation::Member& member : scene().members())
        triangles += member.geometry->triangleCount();
    QCOMPARE(whole, triangles);
    drag(scene().rect().center(), scene().rect().center() + QPoint(30, 0));
    (void)scene().grabFramebuffer();
    QVERIFY(scene().renderer().drawnTriangles() <= whole);
    (void)scene().picture();
    QCOMPARE(scene().renderer().drawnTriangles(), whole);
    QVERIFY(scene().renderer().bytes() > 0);
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    app::theme::apply();
    TestScene test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_scene.moc"
