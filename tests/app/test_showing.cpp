#include "app/scene_fixture.h"

#include "shell/go_to.h"
#include "shell/row_list.h"

#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QFileDialog>
#include <QImageReader>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QSlider>
#include <QTextBrowser>
#include <QTimer>

#include <cmath>

using namespace wendrix;
using test::must;

/// Working over the model with mouse and keys: measuring, showing, marking up, keeping, finding.
class TestShowing : public test::AtTheModel {
    Q_OBJECT
private slots:
    void initTestCase() { open(); }
    void init() { reset(); }
    void measuresWhatIsClicked();
    void membersAreShownAsAsked();
    void coloursFollowARule();
    void spacesAreTintedAndNamed();
    void goToFindsEverything();
    void picturesComeAtAnySize();
    void aPictureIsSavedWhereAsked();
    void viewsAreKeptAndOpenedToThePixel();
    void twoMembersAreLaidOverEachOther();
    void helpOpensThePageOfTheToolInHand();
    void aStageBringsAToolOfItsOwn();
    void cleanupTestCase() { close(); }
};

namespace {

/// A tool as a stage may bring one: it picks places.
class Picking final : public app::SceneTool {
public:
    explicit Picking(app::SceneView& scene) : scene_(scene) {}
    void taken() override { ++hands; }
    void putDown() override { --hands; }
    bool click(QMouseEvent& event) override
    {
        if (const auto picked = scene_.pickAt(event.position()))
            places.push_back(picked->place);
        return true;
    }
    bool undo() override { return !places.empty() && (places.pop_back(), true); }
    [[nodiscard]] QString hint() const override { return "Click a place of the reference"; }

    std::vector<Point3> places;
    int hands = 0;

private:
    app::SceneView& scene_;
};

} // namespace

void TestShowing::measuresWhatIsClicked()
{
    // Straight down onto the roof, near enough for a corner to be held.
    at_->press(Qt::Key_M);
    QCOMPARE(at_->window().tools().inHand(), QString("measure"));
    const Box3 box = scene().document().bounds();
    scene().setCamera(view::turnedTo(scene().camera(), {0, 0, 1}), false);
    const auto first = scene().snapAt(pixelOf(box.centre()));
    QVERIFY(first.has_value());
    const QPoint a = pixelOf(box.centre()), b = a + QPoint(60, 40);
    const auto held = scene().snapAt(a), other = scene().snapAt(b);
    QVERIFY(held && other);
    click(a);
    QVERIFY(at_->window().findChild<QLabel*>("toolHint")->text().contains("second"));
    click(b);
    const auto& results = at_->window().sceneTools().measure().results();
    QCOMPARE(results.size(), std::size_t{1});
    QVERIFY(std::abs(results[0].number - length(other->picked.place - held->picked.place)) < 1e-9);
    QVERIFY(at_->details().contains(QString::fromStdString(results[0].value)));
    QVERIFY(scene().display().selected.empty()); // a measuring click selects nothing
    QVERIFY(at_->clickButton("measure6"));       // elevation
    click(a);
    QCOMPARE(results.size(), std::size_t{2});
    QVERIFY(at_->details().contains("above sea level"));
    QVERIFY(at_->clickButton("copyMeasured"));
    QVERIFY(QApplication::clipboard()->text().contains(QString::fromStdString(results[0].value)));
    scene().setFocus();
    at_->press(Qt::Key_Delete);
    QCOMPARE(results.size(), std::size_t{1});
    at_->press(Qt::Key_Escape);
    QVERIFY(at_->window().tools().inHand().isEmpty());
}

void TestShowing::membersAreShownAsAsked()
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

void TestShowing::coloursFollowARule()
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
    const view::Colour colour = scene().colours().of(wall->element);
    const bool isInLegend =
        std::any_of(scene().legend().begin(), scene().legend().end(), [&](const view::LegendLine& l) {
            return l.colour.red == colour.red && l.colour.blue == colour.blue;
        });
    QVERIFY(isInLegend);
}

void TestShowing::spacesAreTintedAndNamed()
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

void TestShowing::goToFindsEverything()
{
    auto* goTo = at_->window().findChild<app::GoTo*>("goTo");
    auto* hits = at_->window().findChild<QListWidget*>("goToHits");
    const auto type = [&](const QString& words) {
        at_->press(Qt::Key_K, Qt::ControlModifier);
        goTo->clear();
        QTest::keyClicks(goTo, words);
        at_->settle(); // the project answers a moment later
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

void TestShowing::picturesComeAtAnySize()
{
    const QImage large = scene().picture({2000, 1500}, false);
    QCOMPARE(large.size(), QSize(2000, 1500));
    QCOMPARE(scene().picture({99'000, 40}, false).width(), 7680); // 8K is the most
    const QColor corner = large.pixelColor(3, 1496);
    QVERIFY(corner.lightness() > 200); // paper
    at_->press(Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
    QCOMPARE(QApplication::clipboard()->image().size(), scene().size() * 2);
}

void TestShowing::aPictureIsSavedWhereAsked()
{
    // With the real dialog: a size is chosen among the file types, the ending is added.
    for (const auto& [filter, side] : {std::pair{"1920 on the longer side (*.png)", 1920},
                                       {"7680 on the longer side, without labels (*.png)", 7680}}) {
        const QString file = at_->folder() + "/picture" + QString::number(side);
        bool isAsked = false;
        QTimer watch; // the dialog comes in its own time
        connect(&watch, &QTimer::timeout, this, [&] {
            auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
            if (dialog == nullptr || isAsked)
                return;
            isAsked = true;
            dialog->selectNameFilter(filter);
            dialog->selectFile(file);
            QMetaObject::invokeMethod(dialog, "accept");
        });
        watch.start(10);
        auto* goTo = at_->window().findChild<app::GoTo*>("goTo");
        at_->press(Qt::Key_K, Qt::ControlModifier);
        goTo->clear();
        QTest::keyClicks(goTo, "save a picture");
        QTest::keyClick(goTo, Qt::Key_Return);
        QTRY_VERIFY(isAsked);
        const QSize size = QImageReader(file + ".png").size();
        QCOMPARE(std::max(size.width(), size.height()), side);
        QVERIFY(std::abs(size.width() * scene().height() - size.height() * scene().width()) <
                2 * side); // as the window is
        QVERIFY(at_->message().contains(QString::number(side)));
    }
}

void TestShowing::viewsAreKeptAndOpenedToThePixel()
{
    // A view with something of everything.
    const auto duct = named("Supply duct 700", 2);
    view::Cuts cuts;
    (void)cuts.add({scene().document().bounds().centre(), {0, 0, 1}});
    scene().setCuts(cuts);
    scene().setRule({view::ColourBy::Class, {}, {}});
    scene().choose({named("Outer wall", 0)});
    scene().setFocus();
    at_->press(Qt::Key_H);
    scene().choose({duct});
    at_->window().sceneTools().measure().setResults(
        {view::distanceBetween(scene().document().bounds().min, scene().document().bounds().max)});
    QVERIFY(at_->clickButton("views"));
    auto* title = at_->window().findChild<QLineEdit*>("viewTitle");
    title->setFocus();
    QTest::keyClicks(title, "Main duct, sawn open");
    QTest::keyClicks(at_->window().findChild<QLineEdit*>("viewFolder"), "Ventilation");
    QVERIFY(at_->clickButton("keepView"));
    QTRY_VERIFY(at_->details().contains("Main duct, sawn open"));
    QCOMPARE(at_->window().findChild<app::RowList*>("views-kept")->rowModel().row(0).title, QString("Ventilation"));
    const QImage before = scene().picture();

    scene().setCuts({});
    scene().setRule({});
    scene().choose({});
    scene().change([](view::Scene& s) { s.bringAllBack(); });
    at_->window().sceneTools().measure().setResults({});
    QVERIFY(at_->clickButton("lookAll"));
    scene().finishMotion();
    QVERIFY(scene().picture() != before);
    QVERIFY(at_->clickButton("views"));
    QVERIFY(at_->clickButton("openView"));
    QTRY_COMPARE(at_->window().sceneTools().measure().results().size(), std::size_t{1});
    QCOMPARE(scene().picture(), before);
    QVERIFY(at_->message().contains("Opened"));

    QVERIFY(at_->clickButton("views"));
    QVERIFY(at_->clickButton("updateView"));
    QTRY_VERIFY(at_->details().contains("version 2"));
    QVERIFY(at_->clickButton("removeView"));
    QTRY_VERIFY(must(at_->project().views().views("Ines Varga")).empty());
    at_->press(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(must(at_->project().views().views(at_->session().person().toStdString())).size(), std::size_t{1});
    scene().change([](view::Scene& s) { s.bringAllBack(); });
}

void TestShowing::twoMembersAreLaidOverEachOther()
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

void TestShowing::helpOpensThePageOfTheToolInHand()
{
    for (const bool isMeasuring : {false, true}) {
        if (isMeasuring)
            at_->press(Qt::Key_M);
        const QString text = at_->help(isMeasuring ? "helpModel" : "helpPage");
        QVERIFY(text.contains(isMeasuring ? "triangle a midpoint" : "what a run says", Qt::CaseInsensitive));
    }
}

void TestShowing::aStageBringsAToolOfItsOwn()
{
    Picking picking(scene());
    auto* row = new QWidget;
    row->setObjectName("pickingRow");
    row->setMinimumSize(60, 20);
    app::ToolStrip& strip = at_->window().tools();
    strip.add({"pickPairs", "Pick pairs", "", "Pick places of two members", &picking, row, {}, "Coordinates"});
    auto* button = strip.findChild<QToolButton*>("pickPairs");
    QVERIFY(!button->isVisible()); // another stage is in front
    at_->clickStage("Coordinates");
    QVERIFY(button->isVisible() && !row->isVisible());
    QTest::mouseClick(button, Qt::LeftButton);
    QCOMPARE(strip.inHand(), QString("pickPairs"));
    QVERIFY(picking.hands == 1 && button->isChecked() && row->isVisible());
    QCOMPARE(at_->window().findChild<QLabel*>("toolHint")->text(), QString("Click a place of the reference"));
    // Clicks and Ctrl+Z are the tool's.
    scene().setCamera(view::turnedTo(scene().camera(), {0, 0, 1}), false);
    const Box3 box = scene().document().bounds();
    click(pixelOf(box.centre()));
    click(pixelOf(box.centre()) + QPoint(40, 10));
    QCOMPARE(picking.places.size(), std::size_t{2});
    QVERIFY(std::abs(picking.places[0].x - box.centre().x) < 0.5 && scene().display().selected.empty());
    at_->press(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(picking.places.size(), std::size_t{1});
    // What is done at once leaves it in the hand; another tool puts it down.
    QVERIFY(at_->clickButton("show"));
    QCOMPARE(strip.inHand(), QString("pickPairs"));
    at_->press(Qt::Key_M);
    QVERIFY(picking.hands == 0 && !row->isVisible() && !button->isChecked());
    // It leaves the hand with its stage.
    QTest::mouseClick(button, Qt::LeftButton);
    QCOMPARE(picking.hands, 1);
    at_->clickStage("Clashes");
    QVERIFY(picking.hands == 0 && strip.inHand().isEmpty() && scene().tool() == nullptr && !button->isVisible());
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    app::theme::apply();
    TestShowing test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_showing.moc"
