#include "app/window_fixture.h"

#include <QComboBox>
#include <QLabel>

#include "core/base/file.h"
#include "core/bcf/bcf.h"
#include "deliveries/deliveries_stage.h"
#include "support/demo.h"

#include <QFileDialog>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QTimer>
#include <QToolButton>

#include <fstream>

using namespace wendrix;
using test::must;

/// The whole job in the window, with real clicks and keys: what a person sees, and what the project then holds.
class TestWalk : public QObject {
    Q_OBJECT
private slots:
    void initTestCase();
    void theModelStandsInTheScene();
    void selectHideOnlyAndBringBack();
    void unalignedIsSaidAndFitted();
    void clashesAreFoundShownAndFixed();
    void issuesAreCommentedExportedAndTakenBack();
    void theSecondRevisionIsTakenIn();
    void changesAreListedAndShown();
    void theIssueIsClosedOnItsEvidence();
    void nothingIsLostOverARestart();
    void aBrokenFileLeavesEverythingAsItWas();
    void cleanupTestCase();

private:
    /// Answers the file dialog that the next click opens.
    void answerFileDialog(const QString& file);
    std::unique_ptr<test::WindowFixture> at_;
    QString bcfFile_;
};

void TestWalk::initTestCase()
{
    at_ = std::make_unique<test::WindowFixture>();
    at_->openDemo();
    bcfFile_ = at_->folder() + "/out.bcf";
}

void TestWalk::cleanupTestCase() { at_.reset(); }

void TestWalk::theModelStandsInTheScene()
{
    QVERIFY(QFileInfo::exists(at_->folder() + "/project/project.sqlite"));
    QCOMPARE(at_->scene().members().size(), std::size_t{6}); // five teams, one of them with two models
    QVERIFY(at_->window().findChild<QToolButton*>("projectName")->text() == "Marrowfield Seed Store");
    at_->clickStage("Clashes"); // nothing painted there yet, and the scene is large
    QVERIFY(at_->clickButton("lookAll"));
    at_->scene().finishMotion();
    // Paper in the corner, a model where the architecture's middle is.
    const auto middle = at_->scene().members()[0].geometry->bounds().centre();
    const auto place = view::project(at_->scene().camera(), at_->scene().viewport(), middle);
    const QColor paper = at_->pixel({2, at_->scene().height() - 3});
    const QColor model = at_->pixel({static_cast<int>(place.x), static_cast<int>(place.y)});
    QVERIFY(std::abs(paper.lightness() - 235) < 20);
    QVERIFY(std::abs(model.lightness() - paper.lightness()) > 15);

    const view::Camera before = at_->scene().camera();
    const QPoint centre = at_->scene().rect().center();
    QTest::mousePress(&at_->scene(), Qt::LeftButton, {}, centre);
    QTest::mouseMove(&at_->scene(), centre + QPoint(10, 2));
    QMouseEvent drag(QEvent::MouseMove, centre + QPoint(80, 20), at_->scene().mapToGlobal(centre + QPoint(80, 20)),
                     Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&at_->scene(), &drag);
    QTest::mouseRelease(&at_->scene(), Qt::LeftButton, {}, centre + QPoint(80, 20));
    const view::Camera turned = at_->scene().camera();
    QVERIFY(!(turned == before));
    QWheelEvent wheel(centre, at_->scene().mapToGlobal(centre), {}, {0, 240}, Qt::NoButton, Qt::NoModifier,
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(&at_->scene(), &wheel);
    QVERIFY(length(at_->scene().camera().eye - at_->scene().camera().target) < length(turned.eye - turned.target));
    at_->press(Qt::Key_Backspace);
    at_->press(Qt::Key_Backspace);
    QVERIFY(at_->scene().camera() == before);
}

void TestWalk::selectHideOnlyAndBringBack()
{
    const auto middle = at_->scene().members()[0].geometry->bounds().centre();
    const auto place = view::project(at_->scene().camera(), at_->scene().viewport(), middle);
    const QPoint at(static_cast<int>(place.x), static_cast<int>(place.y));
    QTest::mouseClick(&at_->scene(), Qt::LeftButton, {}, at);
    QCOMPARE(at_->scene().display().selected.size(), std::size_t{1});
    QVERIFY(at_->selectionWords().contains("Architecture P01"));
    QVERIFY(at_->details().contains("GlobalId"));
    at_->press(Qt::Key_H);
    QVERIFY(at_->selectionWords().contains("1 element hidden"));
    QTest::mouseClick(&at_->scene(), Qt::LeftButton, {}, at);
    at_->press(Qt::Key_O);
    QVERIFY(at_->selectionWords().contains("only 1 element shown"));
    at_->press(Qt::Key_B);
    QVERIFY(!at_->selectionWords().contains("hidden") && !at_->selectionWords().contains("only"));
}

void TestWalk::unalignedIsSaidAndFitted()
{
    at_->clickStage("Coordinates");
    QCOMPARE(at_->rows("Coordinates").rowCount(), 5); // each model of the piping team is judged for itself
    QVERIFY(at_->rows("Coordinates").row(0).right.startsWith("off by"));
    QVERIFY(at_->rows("Coordinates").row(0).loud == "so not tested");
    for (int row = 0; row < 2; ++row) {
        at_->clickRow("Coordinates", row);
        QVERIFY(at_->details().contains("exported from an origin of its own"));
        QVERIFY(at_->details().contains("28 crossings"));
        QVERIFY(at_->clickButton("applyFit"));
        QVERIFY(at_->rows("Coordinates").row(row).right.contains("locked"));
    }
    const project::StoredFit stored = must(at_->project().coordinates().fitInUse("Structure"));
    QVERIFY(stored.isLocked);
    QVERIFY(length(stored.fit.translation - test::trueFit("Structure").translation) < 1e-4);
    at_->press(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(!must(at_->project().coordinates().fitInUse("Ventilation")).isLocked);
    QVERIFY(at_->rows("Coordinates").row(1).loud == "so not tested");
    at_->press(Qt::Key_A); // the same by its key
    QVERIFY(must(at_->project().coordinates().fitInUse("Ventilation")).isLocked);
    QVERIFY(at_->details().contains("Locked by Ines Varga"));
}

void TestWalk::clashesAreFoundShownAndFixed()
{
    at_->clickStage("Clashes");
    QVERIFY(at_->clickButton("runTests"));
    at_->waitIdle();
    QCOMPARE(must(at_->project().clashes().all()).size(), test::designedWithoutPiping("P01"));
    // The main that crosses three beams: one group, three pairs, both counts.
    int row = -1;
    for (int i = 0; i < at_->rows("Clashes").rowCount(); ++i)
        if (at_->rows("Clashes").row(i).title.contains("crosses 3 beams"))
            row = i;
    QVERIFY(row >= 0);
    QCOMPARE(at_->rows("Clashes").row(row).right, QString("3 pairs"));
    const view::Camera before = at_->scene().camera();
    at_->clickRow("Clashes", row);
    QVERIFY(!(at_->scene().camera() == before));
    QVERIFY(at_->details().contains("Level 2, bays B-C / 4; B-C / 5; B-C / 6"));
    QVERIFY(at_->details().contains("120 mm"));
    QVERIFY2(at_->details().contains("Structure P01 · IfcBeam · IPE 400") &&
                 at_->details().contains("Ventilation P01 · IfcDuctSegment · Rectangular duct 700×350 · Supply air"),
             qPrintable(at_->details()));
    QCOMPARE(at_->scene().display().painted.size(), std::size_t{4});
    QVERIFY(at_->selectionWords().contains("4 elements in focus, with what stands around"));
    // Of the building nothing is drawn but what stands within a few metres, and that pale.
    const view::Display& display = at_->scene().display();
    QVERIFY(display.focus && !display.focus->around.empty());
    std::size_t drawn = 0, all = 0;
    at_->scene().colours().forEachDrawn([&](const view::ElementKey&, const view::Colour&) { ++drawn; });
    for (const federation::Member& member : at_->scene().members())
        all += member.model->elements().size();
    QCOMPARE(drawn, display.focus->around.size() + 4);
    QVERIFY(drawn < all / 4);
    // A small plan of the storey says where in the building that is.
    const app::StoreyPlan& plan = at_->scene().plan();
    QTRY_VERIFY(plan.isVisible() && plan.isDrawn());
    QCOMPARE(plan.storeyName(), QString("Level 2"));
    QVERIFY(plan.rect().contains(plan.pixelOf(display.focus->box.centre()).toPoint()));
    const auto* words = at_->window().findChild<QLabel*>("selectionWords");
    QVERIFY(words->isVisible() && !plan.geometry().translated(at_->scene().pos()).intersects(words->geometry()));
    // Both sides are to be seen in their two colours.
    const QImage picture = at_->scene().picture();
    int left = 0, right = 0;
    for (int y = 0; y < picture.height(); y += 3)
        for (int x = 0; x < picture.width(); x += 3) {
            const QColor c = picture.pixelColor(x, y);
            left += c.green() > c.red() + 60 && c.blue() > c.red() + 50 ? 1 : 0;
            right += c.red() > c.green() + 70 && c.blue() > c.green() + 20 ? 1 : 0;
        }
    QVERIFY2(left > 20 && right > 20, qPrintable(QString("%1 %2").arg(left).arg(right)));
    at_->press(Qt::Key_F);
    const auto issues = must(at_->project().issues().all());
    QCOMPARE(issues.size(), std::size_t{1});
    QCOMPARE(issues[0].number, std::string("MSS-001"));
    QCOMPARE(must(at_->project().clashes().ofIssue(issues[0].uuid)).size(), std::size_t{3});
    const auto whole = must(at_->project().issues().find(issues[0].uuid, true));
    QVERIFY(QImage::fromData(QByteArray::fromStdString(whole->viewpoints[0].snapshot)).width() > 300);
    QCOMPARE(whole->viewpoints[0].selection.size(), std::size_t{4});
    QVERIFY(at_->message().contains("MSS-001"));
    // What is decided left the list, and the next group took its place; that one stands.
    QVERIFY(!at_->list("Clashes").chosen().isEmpty());
    QVERIFY(
        !at_->rows("Clashes").row(at_->list("Clashes").view().currentIndex().row()).title.contains("crosses 3 beams"));
    at_->press(Qt::Key_S);
    const auto pairs = must(at_->project().clashes().all());
    QVERIFY(std::any_of(pairs.begin(), pairs.end(), [](const auto& p) { return p.decision == "let stand"; }));
}

void TestWalk::answerFileDialog(const QString& file)
{
    QTimer::singleShot(0, this, [this, file] {
        auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
        if (dialog == nullptr) {
            answerFileDialog(file); // not up yet
            return;
        }
        auto* name = dialog->findChild<QLineEdit*>("fileNameEdit");
        name->setText(file);
        QTest::keyClick(name, Qt::Key_Return);
    });
}

void TestWalk::issuesAreCommentedExportedAndTakenBack()
{
    QApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
    at_->clickStage("Issues");
    QCOMPARE(at_->rows("Issues").rowCount(), 1);
    at_->clickRow("Issues", 0);
    QVERIFY(at_->details().contains("Ventilation"));
    auto* comment = at_->window().findChild<QPlainTextEdit*>("comment");
    comment->setFocus();
    QTest::keyClicks(comment, "Please lower the main by 205 mm.");
    QVERIFY(at_->clickButton("sendComment"));
    QVERIFY(at_->details().contains("Please lower the main by 205 mm."));
    QVERIFY(at_->clickButton("inProgress"));
    QCOMPARE(must(at_->project().issues().all())[0].status, std::string("In progress"));

    answerFileDialog(bcfFile_);
    QVERIFY(at_->clickButton("exportBcf"));
    at_->waitIdle();
    QVERIFY(QFileInfo::exists(bcfFile_));
    auto document = bcf::readFile(bcfFile_.toStdString());
    QVERIFY(document && document->diagnostics.empty() && document->issues.size() == 1);
    QCOMPARE(document->issues[0].comments[0].text, std::string("Please lower the main by 205 mm."));

    // What the designer sends back.
    issues::Issue back = document->issues[0];
    back.status = issues::status::kDone;
    back.modifiedAt = "2099-01-01T00:00:00Z";
    back.comments.push_back(
        {"12345678-1234-1234-1234-123456789012", "2099-01-01T00:00:00Z", "T. Okafor", "Lowered in P02.", ""});
    const auto bytes = bcf::write(std::span(&back, 1), bcf::Version::V21, "p", "Marrowfield Seed Store");
    QVERIFY(writeFileWhole(bcfFile_.toStdString(), *bytes).has_value());
    answerFileDialog(bcfFile_);
    QVERIFY(at_->clickButton("importBcf"));
    at_->waitIdle();
    QVERIFY2(at_->details().contains("Lowered in P02."), qPrintable(at_->details())); // before it is taken over
    QVERIFY(at_->clickButton("takeOver"));
    QVERIFY2(at_->message().contains("1 changed, 1 new comment"), qPrintable(at_->message()));
    QVERIFY(at_->details().contains("Lowered in P02."));
    QCOMPARE(must(at_->project().issues().all())[0].status, std::string("Done by assignee"));
}

void TestWalk::theSecondRevisionIsTakenIn()
{
    at_->clickStage("Deliveries");
    for (int i = 0; i < 2; ++i) {
        project::DeliveryId waiting = 0;
        for (const project::Delivery& d : must(at_->project().deliveries().all()))
            if (d.state == project::DeliveryState::Waiting && waiting == 0)
                waiting = d.id;
        QVERIFY(waiting != 0);
        at_->clickCard(waiting);
        QVERIFY(at_->details().contains("The federation is on P01"));
        if (i == 0) {
            QVERIFY(at_->clickButton("takeIn"));
        } else {
            at_->press(Qt::Key_T);
        }
        at_->waitIdle();
        QVERIFY(at_->message().contains("Alignment verified"));
        QVERIFY(must(at_->project().deliveries().find(waiting))->state == project::DeliveryState::InUse);
    }
    QCOMPARE(must(at_->project().clashes().runs()).size(), std::size_t{3});
    QVERIFY(at_->window().findChild<QAbstractButton*>("member-Structure")->text() == "Structure P02");
}

void TestWalk::changesAreListedAndShown()
{
    at_->clickStage("Changes");
    const auto truth = test::truth()["changes"];
    QVERIFY(at_->clickButton("chip-8"));          // moved
    QVERIFY(at_->rows("Changes").rowCount() < 8); // alike ones are one row
    at_->press(Qt::Key_T);
    at_->waitIdle();
    QCOMPARE(static_cast<std::size_t>(at_->rows("Changes").rowCount()),
             truth["Structure"]["moved"].size() + truth["Ventilation"]["moved"].size());
    for (int i = 0; i < at_->rows("Changes").rowCount(); ++i)
        if (at_->rows("Changes").row(i).right == "Z −205 mm") {
            at_->clickRow("Changes", i);
            QVERIFY(at_->details().contains("Z −205 mm"));
        }
    QCOMPARE(at_->scene().display().painted.size(), std::size_t{2}); // after, and before laid under
    QVERIFY(at_->clickButton("agreed"));
    const auto changes = must(at_->project().changes().current());
    QCOMPARE(std::count_if(changes.begin(), changes.end(), [](const auto& c) { return c.review == "agreed"; }), 1);
    QVERIFY(at_->clickButton("chip-0"));
}

void TestWalk::theIssueIsClosedOnItsEvidence()
{
    at_->clickStage("Clashes");
    QVERIFY(at_->clickButton("chip-gone"));
    QVERIFY(at_->rows("Clashes").rowCount() > 0);
    QVERIFY(at_->clickButton("chip-undecided"));
    at_->clickStage("Issues");
    QCOMPARE(at_->rows("Issues").row(0).right, QString("all 3 gone"));
    QCOMPARE(at_->rows("Issues").row(0).loud, QString("can be closed"));
    at_->clickRow("Issues", 0);
    QVERIFY(at_->details().contains("All of its 3 pairs are gone."));
    QVERIFY(at_->details().contains("was lowered by 205 mm in P02"));
    QVERIFY(at_->clickButton("close"));
    const issues::Issue closed = must(at_->project().issues().all())[0];
    QCOMPARE(closed.status, std::string("Closed"));
    // Its own time is later than the designer's, so the comment with the evidence is found by its words.
    QVERIFY(std::any_of(closed.comments.begin(), closed.comments.end(),
                        [](const auto& c) { return c.text.starts_with("Closed. All of its 3 pairs are gone."); }));
}

void TestWalk::nothingIsLostOverARestart()
{
    const auto history = must(at_->project().log().last(1))[0].what;
    at_->openAgain();
    QCOMPARE(must(at_->project().log().last(1))[0].what, history);
    at_->clickStage("Issues");
    QVERIFY(at_->clickButton("chip-closed"));
    QCOMPARE(at_->rows("Issues").rowCount(), 1);
    at_->clickStage("Changes"); // loads the revisions before by itself
    QCOMPARE(at_->scene().members().size(),
             std::size_t{8}); // five teams, one of them with two models, and two laid under
    at_->press(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(must(at_->project().issues().all())[0].status, std::string("Done by assignee"));
}

void TestWalk::aBrokenFileLeavesEverythingAsItWas()
{
    const auto before = must(at_->project().deliveries().all()).size();
    const QString file = at_->folder() + "/broken.ifc";
    std::ofstream(file.toStdString()) << "ISO-10303-21;HEADER;FILE_SCHEMA(('IFC4'));ENDSEC;DATA;#1=IFCPROJECT('a'";
    at_->clickStage("Deliveries");
    static_cast<app::DeliveriesStage&>(at_->window().stage(at_->window().indexOf("Deliveries"))).receive({file});
    at_->waitIdle();
    auto* discipline = at_->window().findChild<QComboBox*>("addDiscipline"); // the name says nothing, so a person does
    QVERIFY(discipline != nullptr);
    discipline->setCurrentText("Structure");
    QVERIFY(at_->clickButton("addDelivery"));
    at_->waitIdle();
    QVERIFY2(at_->message().contains("broken.ifc") && at_->message().contains("ends in the middle"),
             qPrintable(at_->message()));
    QCOMPARE(must(at_->project().deliveries().all()).size(), before);
    QCOMPARE(at_->scene().members().size(),
             std::size_t{8}); // five teams, one of them with two models, and two laid under
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestWalk test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_walk.moc"
