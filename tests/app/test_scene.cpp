#include "app/scene_fixture.h"

#include "scene/compass_level.h"
#include "shell/fact_list.h"

#include <QApplication>
#include <QClipboard>
#include <QDoubleSpinBox>
#include <QMenu>
#include <QNativeGestureEvent>
#include <QPointingDevice>
#include <QTimer>
#include <QToolButton>

#include <cmath>

using namespace wendrix;

/// Looking at the model with mouse and keys: turning, walking, picking, cutting, and the details of what is picked.
class TestScene : public test::AtTheModel {
    Q_OBJECT
private slots:
    void initTestCase() { open(); }
    void init() { reset(); }
    void compassTurnsTheView();
    void keysTurnMoveAndZoom();
    void parallelIsSaidAndKeepsTheMiddle();
    void aTouchpadMovesAndZooms();
    void aLongPictureComesInPieces();
    void boxPicksWhatIsInIt();
    void allAlikeAreSelected();
    void detailsAreWholeAndLead();
    void detailsAreFilteredAndCopied();
    void cutsAreMadeMovedAndEnded();
    void aCutAlongAFaceGoesThroughIt();
    void boxCutStandsRoundTheSelection();
    void walksAtEyeHeight();
    void aMovingViewDrawsWithinItsTime();
    void cleanupTestCase() { close(); }
};

void TestScene::compassTurnsTheView()
{
    auto* compass = at_->window().findChild<app::CompassLevel*>("compass");
    for (const auto& [side, from] : {std::pair{'E', Vector3{1, 0, 0}},
                                     {'N', Vector3{0, 1, 0}},
                                     {'W', Vector3{-1, 0, 0}},
                                     {'S', Vector3{0, -1, 0}}}) {
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
    QVERIFY(length(scene().camera().forward() - before.forward()) < 1e-9 &&
            length(scene().camera().eye - before.eye) > 0.1);
    at_->press(Qt::Key_Backspace);
    drag(scene().rect().center(), scene().rect().center() + QPoint(40, 0), Qt::ControlModifier); // looking around
    QVERIFY(scene().camera().eye == before.eye && !(scene().camera().target == before.target));
}

void TestScene::aTouchpadMovesAndZooms()
{
    const QPointingDevice touchpad("touchpad", 77, QInputDevice::DeviceType::TouchPad,
                                   QPointingDevice::PointerType::Finger,
                                   QInputDevice::Capability::Position | QInputDevice::Capability::PixelScroll, 2, 3);
    const QPointF at = scene().rect().center(), global = scene().mapToGlobal(at);
    const view::Camera before = scene().camera();
    QWheelEvent fingers(at, global, {40, -25}, {0, 0}, Qt::NoButton, Qt::NoModifier, Qt::ScrollUpdate, false,
                        Qt::MouseEventNotSynthesized, &touchpad);
    QApplication::sendEvent(&scene(), &fingers);
    const view::Camera moved = scene().camera();
    QVERIFY(length(moved.forward() - before.forward()) < 1e-12 &&
            length(moved.eye - before.eye) > 0.01); // neither turned nor zoomed
    const auto middle = scene().pickAt(at);
    QVERIFY(middle.has_value());
    const QPoint pixel = pixelOf(middle->place);
    const double distance = length(middle->place - scene().camera().eye);
    QNativeGestureEvent pinch(Qt::ZoomNativeGesture, &touchpad, 2, at, at, global, 0.5, {});
    QApplication::sendEvent(&scene(), &pinch);
    QVERIFY(length(middle->place - scene().camera().eye) < 0.8 * distance);
    QVERIFY((pixelOf(middle->place) - pixel).manhattanLength() <= 1); // stays under the fingers
    at_->press(Qt::Key_Backspace);
    at_->press(Qt::Key_Backspace);
}

void TestScene::aLongPictureComesInPieces()
{
    // What is on the screen meanwhile is the picture before; at the end it is the same as one drawn at once.
    const QImage whole = scene().picture();
    scene().setGridShown(false);
    scene().setGridShown(true); // the same again, to be drawn anew
    QTRY_VERIFY((scene().grabFramebuffer(), scene().renderer().isWhole()));
    QCOMPARE(scene().grabFramebuffer(), whole);
    QCOMPARE(scene().grabFramebuffer(), whole); // shown again as it was kept
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
    const Box3 box = scene().document().bounds();
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
    scene().colours().forEachDrawn([&](const view::ElementKey&, const view::Colour&) { ++shown; });
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
    const double middle = scene().document().bounds().centre().z;
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
    app::CutTool& tool = at_->window().sceneTools().cut();
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
    QVERIFY(std::abs(scene().cuts().box->min.x - (box.min.x - 0.25)) < 1e-9 &&
            std::abs(scene().cuts().box->max.z - (box.max.z + 0.25)) < 1e-9);
    QCOMPARE(scene().cuts().faces().size(), std::size_t{6});
    QVERIFY(at_->selectionWords().contains("to a box"));
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
