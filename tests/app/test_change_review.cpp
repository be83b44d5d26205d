#include "app/own_project.h"

#include "changes/between_bar.h"
#include "changes/change_bar.h"
#include "changes/changes_stage.h"
#include "core/base/file.h"
#include "core/bcf/bcf.h"
#include "shell/composition_bar.h"
#include "shell/theme.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QSlider>

using namespace wendrix;
using test::MadeModel;
using test::must;

/// The Changes stage on a small building of two members and three revisions: putting together, narrowing, looking,
/// reviewing, comparing what one likes, what counts, and what leaves the list.
class TestChangeReview : public QObject {
    Q_OBJECT
private slots:
    void init();
    void cleanup();
    void cleanupTestCase() { at_.reset(); }
    void countsAddUp();
    void aMovedStoreyIsOneRow();
    void aTypeThatWasChangedOnceIsOneRow();
    void itIsNarrowed_data();
    void itIsNarrowed();
    void itIsNarrowedByNearness();
    void itIsNarrowedByASet();
    void whatWasAndWhatIs_data();
    void whatWasAndWhatIs();
    void theSliderGoesBetween();
    void twoViewsAreSeenFromOnePlace();
    void addedAndRemovedVolumesAreShownAndSaid();
    void volumesAreCutOpenWithTheModel();
    void aGhostIsCutWithTheModel();
    void wholeMembersAreComparedAsBodies();
    void aQuestionIsAnIssueWithBothStates();
    void aRowIsReviewedWholeAndTakenBack();
    void whatItHasToDoWithIsSaid();
    void aCuredClashIsSaid();
    void anyTwoRevisionsAreCompared();
    void comparingIsReachedFromElsewhere_data();
    void comparingIsReachedFromElsewhere();
    void aCycleAgainstItselfIsNothingToCompare();
    void whatCountsIsARule();
    void aRuleThatIsWrongIsRefused();
    void theListIsWritten_data();
    void theListIsWritten();
    void theDigestSaysWhatConcernsADiscipline();
    void rowsAreCopied();
    void helpIsThere();

private:
    [[nodiscard]] static MadeModel architecture(int revision);
    [[nodiscard]] static MadeModel ventilation();
    [[nodiscard]] int row(const QString& words)
    {
        const app::RowModel& rows = at_->rows("Changes");
        for (int i = 0; i < rows.rowCount(); ++i)
            if (rows.row(i).title.contains(words))
                return i;
        return -1;
    }
    void chooseRow(const QString& words)
    {
        const int at = row(words);
        QVERIFY2(at >= 0, qPrintable(words));
        at_->clickRow("Changes", at);
        at_->waitIdle();
    }
    void pickFromMenu(const char* menu, const QString& action);
    void pickFromCompare(const QString& begun);
    std::unique_ptr<test::OwnProject> at_; ///< kept from one to the next while nothing was written
    std::size_t events_ = 0;
};

MadeModel TestChangeReview::architecture(int revision)
{
    MadeModel m;
    m.name = "Architecture";
    m.boxes = {{"Wall still", {0, 0, 0}, {6, 0.3, 3}, "IFCWALL"},
               {"Wall taller", {0, 4, 0}, {6, 4.3, 3}, "IFCWALL"},
               {"Wall cut", {0, 20, 0}, {6, 20.3, 3}, "IFCWALL"}};
    for (int i = 0; i < 4; ++i) // a type that is given another value
        m.boxes.push_back({"Door " + std::to_string(i),
                           {10.0 + 2 * i, 0, 0},
                           {11.0 + 2 * i, 0.3, 2},
                           "IFCDOOR",
                           {},
                           {{"Fire rating", revision > 1 ? "EI 60" : "EI 30"}},
                           {},
                           {},
                           "Door EI"});
    for (int i = 0; i < 6; ++i) { // a storey that is raised
        const double up = revision > 1 ? 0.05 : 0;
        m.boxes.push_back({"Shelf " + std::to_string(i),
                           {2.0 * i, 10, 3.6 + up},
                           {2.0 * i + 1, 10.4, 5 + up},
                           i % 2 == 0 ? "IFCFURNITURE" : "IFCCOLUMN"});
    }
    if (revision > 1) {
        m.boxes[1].high.z += 0.5;
        MadeModel::Box second = m.boxes[2];
        m.boxes[2].name = "Wall cut a";
        m.boxes[2].guid = MadeModel::guidOf("cut a");
        second.guid = MadeModel::guidOf("cut b");
        second.name = "Wall cut b";
        m.boxes[2].high.x = second.low.x = 2.5;
        m.boxes.push_back(second);
    }
    if (revision > 2)
        m.boxes[0].high.x += 1;
    return m;
}

MadeModel TestChangeReview::ventilation()
{
    MadeModel m;
    m.name = "Ventilation";
    m.boxes = {{"Duct over the wall", {2, 4.1, 3.2}, {3, 4.2, 3.4}, "IFCDUCTSEGMENT"},
               {"Duct far off", {40, 40, 3}, {41, 40.4, 3.4}, "IFCDUCTSEGMENT"}};
    return m;
}

void TestChangeReview::init()
{
    if (at_ == nullptr) {
        at_ = std::make_unique<test::OwnProject>();
        at_->openEmpty({"Architecture", "Ventilation"});
        QVERIFY(at_->takeIn(architecture(1), "P01"));
        QVERIFY(at_->takeIn(ventilation(), "P01"));
        at_->clickStage("Clashes");
        QVERIFY(at_->clickButton("runTests"));
        at_->waitIdle();
        QVERIFY(at_->takeIn(architecture(2), "P02"));
        events_ = must(at_->project().log().last(200)).size();
    }
    at_->clickStage("Changes");
    at_->waitIdle();
}

void TestChangeReview::cleanup()
{
    if (at_ == nullptr)
        return;
    // What was only looked at is put back by hand; what was written makes a new project.
    if (must(at_->project().log().last(200)).size() != events_) {
        at_.reset();
        return;
    }
    at_->window().findChild<app::ChangeBar*>()->clear();
    at_->window().findChild<app::ChangeBar*>()->setGrouped(true);
    at_->window().findChild<app::BetweenBar*>()->setAt(0.5);
    at_->waitIdle();
    (void)at_->clickButton("chip-0");
    at_->list("Changes").view().clearSelection();
    at_->waitIdle();
}

void TestChangeReview::pickFromMenu(const char* menu, const QString& action)
{
    at_->list("Changes").view().setFocus();
    at_->press(Qt::Key_X);
    auto* sub = at_->window().findChild<QMenu*>(menu);
    QVERIFY(sub != nullptr);
    for (QAction* one : sub->actions())
        if (one->text() == action) {
            one->trigger();
            at_->window().findChild<QMenu*>("narrowMenu")->close();
            at_->waitIdle();
            return;
        }
    at_->window().findChild<QMenu*>("narrowMenu")->close();
    QFAIL(qPrintable(action));
}

void TestChangeReview::pickFromCompare(const QString& begun)
{
    QVERIFY(at_->clickButton("compareChanges"));
    auto* menu = at_->window().findChild<QMenu*>("compareMenu");
    QVERIFY(menu != nullptr);
    for (QAction* one : menu->actions())
        if (one->text().startsWith(begun))
            one->trigger();
    menu->close();
    at_->settle();
}

void TestChangeReview::countsAddUp()
{
    int sum = 0, all = 0;
    for (const auto* chip : at_->list("Changes").findChildren<QPushButton*>()) {
        if (!chip->objectName().startsWith("chip-") || chip->isHidden())
            continue;
        const int n = chip->text().section(' ', -1).toInt();
        (chip->objectName() == "chip-0" ? all : sum) += n;
    }
    QCOMPARE(all, 12); // a wall taller, one cut up, four doors, six on the storey
    QCOMPARE(sum, all);
    QCOMPARE(at_->rows("Changes").rowCount(), 4);
    QVERIFY(at_->words("Changes").contains("unchanged"));
}

void TestChangeReview::aMovedStoreyIsOneRow()
{
    const int at = row("6 elements on Level 2 moved");
    QVERIFY(at >= 0);
    QCOMPARE(at_->rows("Changes").row(at).right, QString("Z +50 mm"));
    chooseRow("6 elements on Level 2 moved");
    QCOMPARE(at_->scene().display().painted.size(), std::size_t{12}); // where they are and where they were
    QVERIFY(at_->details().contains("6 moved") && at_->details().contains("Z +50 mm"));
    QCOMPARE(at_->scene().document().arrows().size(), std::size_t{6});
    // Opened, its elements follow it; closed again they do not.
    at_->press(Qt::Key_Return);
    at_->waitIdle();
    QCOMPARE(at_->rows("Changes").rowCount(), 10);
    QVERIFY(at_->rows("Changes").row(at + 1).title.contains("Shelf 0"));
    at_->clickRow("Changes", at + 1);
    at_->waitIdle();
    QCOMPARE(at_->scene().display().painted.size(), std::size_t{2});
    at_->clickRow("Changes", at);
    at_->press(Qt::Key_Return);
    at_->waitIdle();
    QCOMPARE(at_->rows("Changes").rowCount(), 4);
    // One by one.
    at_->press(Qt::Key_T);
    at_->waitIdle();
    QCOMPARE(at_->rows("Changes").rowCount(), 12);
}

void TestChangeReview::aTypeThatWasChangedOnceIsOneRow()
{
    const int at = row("4 of Door EI on Level 1 redescribed");
    QVERIFY(at >= 0);
    QCOMPARE(at_->rows("Changes").row(at).right, QString("EI 30, now EI 60"));
    at_->clickRow("Changes", at);
    at_->waitIdle();
    QVERIFY(at_->details().contains("Fire rating") && at_->details().contains("was EI 30"));
}

void TestChangeReview::itIsNarrowed_data()
{
    QTest::addColumn<QString>("menu");
    QTest::addColumn<QString>("action");
    QTest::addColumn<int>("changes");
    QTest::newRow("by class") << "narrowMenuClass"
                              << "IfcDoor" << 4;
    QTest::newRow("by type") << "narrowMenuType"
                             << "Door EI" << 4;
    QTest::newRow("by member") << "narrowMenuMember"
                               << "Architecture" << 12;
    QTest::newRow("by another kind") << "narrowMenuAlso"
                                     << "redescribed" << 4;
    QTest::newRow("by review: none") << "narrowMenuReview"
                                     << "agreed" << 0;
    QTest::newRow("by review: all") << "narrowMenuReview"
                                    << "not looked at" << 12;
}

void TestChangeReview::itIsNarrowed()
{
    QFETCH(QString, menu);
    QFETCH(QString, action);
    QFETCH(int, changes);
    pickFromMenu(menu.toUtf8().constData(), action);
    QVERIFY(at_->words("Changes").contains(QString::number(changes)));
    at_->press(Qt::Key_T);
    at_->waitIdle();
    QCOMPARE(at_->rows("Changes").rowCount(), changes);
    QVERIFY(at_->list("Changes").findChild<QPushButton*>(QString("narrowed") + menu.mid(10)) != nullptr);
}

void TestChangeReview::itIsNarrowedByNearness()
{
    pickFromMenu("narrowMenuNear", "Ventilation, within 500 mm");
    QCOMPARE(at_->rows("Changes").rowCount(), 1);
    QVERIFY(at_->rows("Changes").row(0).title.contains("Wall taller"));
}

void TestChangeReview::itIsNarrowedByASet()
{
    at_->press(Qt::Key_X);
    for (QAction* one : at_->window().findChild<QMenu*>("narrowMenu")->actions())
        if (one->text().startsWith("A set"))
            one->trigger();
    at_->window().findChild<QMenu*>("narrowMenu")->close();
    at_->settle();
    at_->field<QPlainTextEdit>("changeSet").setPlainText("class is Wall or name is \"Shelf 1\"");
    QVERIFY(at_->clickButton("changeSetUse"));
    at_->waitIdle();
    QCOMPARE(at_->rows("Changes").rowCount(), 3); // taller, cut, and one shelf
    QVERIFY(row("Shelf 1") >= 0 && row("Wall cut") >= 0);
}

void TestChangeReview::whatWasAndWhatIs_data()
{
    QTest::addColumn<int>("key");
    QTest::addColumn<double>("before");
    QTest::addColumn<double>("after");
    QTest::newRow("what was") << static_cast<int>(Qt::Key_1) << 1.0 << 0.0;
    QTest::newRow("both") << static_cast<int>(Qt::Key_2) << 0.35 << 1.0;
    QTest::newRow("what is") << static_cast<int>(Qt::Key_3) << 0.0 << 1.0;
}

void TestChangeReview::whatWasAndWhatIs()
{
    QFETCH(int, key);
    QFETCH(double, before);
    QFETCH(double, after);
    chooseRow("Wall taller");
    at_->press(static_cast<Qt::Key>(key));
    at_->waitIdle();
    const auto& painted = at_->scene().display().painted;
    QCOMPARE(painted.size(), std::size_t{2});
    for (const auto& [element, colour] : painted) {
        const bool isBefore = at_->scene().looks()[element.member].isOnlyPainted;
        QVERIFY(std::abs(colour.alpha - (isBefore ? before : after)) < 0.01);
    }
}

void TestChangeReview::theSliderGoesBetween()
{
    chooseRow("Wall taller");
    auto& slider = at_->field<QSlider>("betweenSlider");
    std::vector<float> seen;
    for (const int at : {0, 25, 50, 75, 100}) {
        slider.setValue(at);
        at_->settle();
        for (const auto& [element, colour] : at_->scene().display().painted)
            if (at_->scene().looks()[element.member].isOnlyPainted)
                seen.push_back(colour.alpha);
    }
    QCOMPARE(seen.size(), std::size_t{5});
    QVERIFY(std::is_sorted(seen.rbegin(), seen.rend()));
    QVERIFY(seen.front() == 1 && seen.back() == 0);
}

void TestChangeReview::twoViewsAreSeenFromOnePlace()
{
    chooseRow("Wall taller");
    at_->press(Qt::Key_4);
    at_->waitIdle();
    auto* other = at_->window().findChild<app::SceneView*>("sceneBefore");
    QVERIFY(other != nullptr && other->isVisible());
    QVERIFY(other->geometry().right() < at_->scene().geometry().left());
    for (const auto& [element, colour] : other->display().painted)
        QCOMPARE(colour.alpha, at_->scene().looks()[element.member].isOnlyPainted ? 1.0f : 0.0f);
    view::Camera camera = at_->scene().camera();
    camera.eye = camera.eye + Vector3{1, 2, 3};
    at_->scene().setCamera(camera, false);
    QTRY_VERIFY(other->camera() == camera);
    // And the other way round, once a person takes hold of it.
    QTest::mousePress(other, Qt::LeftButton, {}, other->rect().center());
    QTest::mouseMove(other, other->rect().center() + QPoint(40, 10));
    QTest::mouseRelease(other, Qt::LeftButton, {}, other->rect().center() + QPoint(40, 10));
    QTRY_VERIFY(!(other->camera() == camera) && other->camera() == at_->scene().camera());
    at_->press(Qt::Key_4);
    at_->waitIdle();
    QVERIFY(!other->isVisible());
}

void TestChangeReview::addedAndRemovedVolumesAreShownAndSaid()
{
    chooseRow("Wall taller");
    QVERIFY2(at_->details().contains("0.900 m³ added, 0.0 l taken away; surface 47.70 m², was 41.40 m²"),
             qPrintable(at_->details()));
    QVERIFY(at_->details().contains("500 mm higher"));
    const auto& figures = at_->scene().document().figures();
    QCOMPARE(figures.size(), std::size_t{1});
    QVERIFY(std::abs(geometry::volumeOf(*figures[0].mesh) - 6 * 0.3 * 0.5) < 1e-9);
    QVERIFY(figures[0].colour == app::toColour(app::theme::kAdded));
}

void TestChangeReview::volumesAreCutOpenWithTheModel()
{
    chooseRow("Wall taller");
    view::Cuts cuts;
    QVERIFY(cuts.add({{3, 0, 0}, {1, 0, 0}}));
    at_->scene().setCuts(cuts);
    chooseRow("Wall cut");
    chooseRow("Wall taller");
    const auto& figures = at_->scene().document().figures();
    QCOMPARE(figures.size(), std::size_t{1});
    QVERIFY(std::abs(geometry::volumeOf(*figures[0].mesh) - 3 * 0.3 * 0.5) < 1e-6); // half of it is cut away
    // Another cut while one looks at it, and none.
    cuts = {};
    QVERIFY(cuts.add({{0, 4.1, 0}, {0, 1, 0}}));
    at_->scene().setCuts(cuts);
    at_->settle();
    QVERIFY(std::abs(geometry::volumeOf(*at_->scene().document().figures()[0].mesh) - 6 * 0.1 * 0.5) < 1e-6);
    at_->scene().setCuts({});
    at_->settle();
    QVERIFY(std::abs(geometry::volumeOf(*at_->scene().document().figures()[0].mesh) - 6 * 0.3 * 0.5) < 1e-6);
}

void TestChangeReview::aGhostIsCutWithTheModel()
{
    chooseRow("Wall taller");
    view::Cuts cuts;
    QVERIFY(cuts.add({{0, 0, 1.5}, {0, 0, 1}}));
    at_->scene().setCuts(cuts);
    view::Camera camera;
    camera.eye = {3, -8, 1.6};
    camera.target = {3, 4, 1.6};
    at_->scene().setCamera(camera, false);
    // Above the cut stands nothing, whichever way its faces are halved; below it the wall does.
    const auto at = [&](double x, double z) {
        const view::ScreenPlace place = view::project(at_->scene().camera(), at_->scene().viewport(), {x, 4, z});
        return at_->pixel(QPoint(static_cast<int>(place.x), static_cast<int>(place.y)));
    };
    std::vector<QColor> seen[2];
    for (const Qt::Key key : {Qt::Key_2, Qt::Key_3}) { // with its ghost, and without
        at_->press(key);
        at_->waitIdle();
        at_->scene().setCamera(camera, false);
        at_->settle();
        for (const double x : {0.3, 1.0, 3.0, 5.0, 5.7})
            seen[key == Qt::Key_2 ? 0 : 1].push_back(at(x, 2.4));
    }
    QCOMPARE(seen[0], seen[1]);
    QVERIFY(at(3, 0.7) != at(3, 2.4));
    at_->scene().setCuts({});
}

void TestChangeReview::wholeMembersAreComparedAsBodies()
{
    pickFromCompare("Volumes of whole members");
    at_->waitIdle();
    // The taller wall, and what six shelves left and took by being raised; the wall that was cut up fills the same.
    const double shelves = 6 * 1 * 0.4 * 0.05;
    QVERIFY2(at_->details().contains(QString("%1 m³").arg(0.9 + shelves, 0, 'f', 3)), qPrintable(at_->details()));
    QVERIFY(at_->details().contains(QString("%1 m³").arg(shelves, 0, 'f', 3)));
    QVERIFY(at_->details().contains("7 elements") && at_->details().contains("6 elements"));
    QCOMPARE(at_->scene().document().figures().size(), std::size_t{3}); // added, taken away, and its dashed edges
}

void TestChangeReview::aQuestionIsAnIssueWithBothStates()
{
    chooseRow("Wall taller");
    at_->press(Qt::Key_Q);
    at_->waitIdle();
    QVERIFY2(at_->message().contains("questioned: "), qPrintable(at_->message()));
    auto issues = must(at_->project().issues().all());
    QCOMPARE(issues.size(), std::size_t{1});
    const issues::Issue issue = *must(at_->project().issues().find(issues[0].uuid, true));
    QVERIFY(issue.title.find("Wall taller") != std::string::npos);
    QVERIFY(issue.description.find("500 mm higher") != std::string::npos);
    QCOMPARE(issue.assignee, std::string("Architecture"));
    QCOMPARE(issue.viewpoints.size(), std::size_t{2});
    QCOMPARE(issue.comments.size(), std::size_t{2});
    for (std::size_t k = 0; k < 2; ++k) {
        QVERIFY(!issue.viewpoints[k].snapshot.empty() && issue.viewpoints[k].camera);
        QCOMPARE(issue.comments[k].viewpoint, issue.viewpoints[k].uuid);
        QCOMPARE(issue.viewpoints[k].selection.size(), std::size_t{1});
    }
    QVERIFY(issue.comments[0].text.find("P01") != std::string::npos);
    QVERIFY(issue.comments[1].text.find("P02") != std::string::npos);
    QVERIFY(issue.viewpoints[0].snapshot != issue.viewpoints[1].snapshot);
    const auto questioned = [&] {
        const auto all = must(at_->project().changes().current());
        return std::count_if(all.begin(), all.end(), [](const auto& c) { return c.review == "questioned"; });
    };
    QCOMPARE(questioned(), 1);
    at_->press(Qt::Key_Z, Qt::ControlModifier); // both in one step
    at_->waitIdle();
    QCOMPARE(questioned(), 0);
    QVERIFY(must(at_->project().issues().all()).empty());
}

void TestChangeReview::aRowIsReviewedWholeAndTakenBack()
{
    chooseRow("6 elements on Level 2 moved");
    at_->press(Qt::Key_G);
    at_->waitIdle();
    QCOMPARE(must(at_->project().changes().toReview()), std::size_t{6});
    QVERIFY(at_->rows("Changes").row(row("6 elements")).subtitle.contains("all looked at"));
    at_->press(Qt::Key_Z, Qt::ControlModifier);
    at_->waitIdle();
    QCOMPARE(must(at_->project().changes().toReview()), std::size_t{12});
}

void TestChangeReview::whatItHasToDoWithIsSaid()
{
    chooseRow("Wall taller");
    // It grew into the duct above it.
    QVERIFY2(at_->details().contains("Clashes caused"), qPrintable(at_->details()));
    QVERIFY(at_->details().contains("Duct over the wall, Ventilation: meets it"));
    chooseRow("Wall cut");
    QVERIFY(at_->details().contains("No clash came or went with it"));
    QVERIFY(at_->details().contains("No element of another discipline within 500 mm."));
}

void TestChangeReview::aCuredClashIsSaid()
{
    MadeModel third = architecture(2);
    third.boxes[1].high.z -= 0.5; // out of the duct again
    QVERIFY(at_->takeIn(third, "P03"));
    at_->clickStage("Changes");
    at_->waitIdle();
    chooseRow("Wall taller");
    QVERIFY2(at_->details().contains("Clashes cured: 1"), qPrintable(at_->details()));
    QVERIFY(at_->details().contains("Duct over the wall") && !at_->details().contains("Clashes caused"));
    QVERIFY(at_->details().contains("500 mm lower"));
}

void TestChangeReview::anyTwoRevisionsAreCompared()
{
    QVERIFY(at_->takeIn(architecture(3), "P03"));
    at_->clickStage("Changes");
    at_->waitIdle();
    QCOMPARE(at_->rows("Changes").rowCount(), 1);
    pickFromCompare("Two revisions");
    auto& from = at_->field<QComboBox>("compareFrom");
    auto& to = at_->field<QComboBox>("compareTo");
    for (const auto& [before, after, refused] :
         {std::tuple("Architecture P01", "Architecture P01", "Choose two different revisions."),
          std::tuple("Ventilation P01 (in use)", "Architecture P03 (in use)", "are of two disciplines")}) {
        from.setCurrentIndex(from.findText(before));
        to.setCurrentIndex(to.findText(after));
        QVERIFY(at_->clickButton("compareNow"));
        at_->waitIdle();
        QVERIFY2(at_->message().contains(refused), qPrintable(at_->message()));
    }
    from.setCurrentIndex(from.findText("Architecture P01"));
    to.setCurrentIndex(to.findText("Architecture P03 (in use)"));
    QVERIFY(at_->clickButton("compareNow"));
    at_->waitIdle();
    QCOMPARE(at_->rows("Changes").rowCount(), 5); // all of P02, and the longer wall
    QVERIFY(at_->words("Changes").contains("Architecture P01 with P03"));
    chooseRow("Wall still");
    QVERIFY(at_->details().contains("1.00 m longer"));
    QCOMPARE(at_->scene().display().painted.size(), std::size_t{2});
    // It counts for nothing else, and is taken back in one step.
    QCOMPARE(must(at_->project().changes().current()).size(), std::size_t{1});
    at_->press(Qt::Key_Z, Qt::ControlModifier);
    at_->waitIdle();
    QCOMPARE(at_->rows("Changes").rowCount(), 1);
}

void TestChangeReview::comparingIsReachedFromElsewhere_data()
{
    QTest::addColumn<QString>("from");
    for (const char* from : {"the register", "the composition bar", "going to anything"})
        QTest::newRow(from) << from;
}

void TestChangeReview::comparingIsReachedFromElsewhere()
{
    QFETCH(QString, from);
    at_->clickStage("Deliveries");
    at_->waitIdle();
    if (from == "the register") {
        at_->clickCard(at_->delivery("Architecture P02").id);
        QVERIFY(at_->clickButton("compareDelivery"));
    } else if (from == "the composition bar") {
        emit at_->window().findChild<app::CompositionBar*>()->chipMenuWanted("Architecture", {});
        auto* menu = at_->window().findChild<QMenu*>("memberMenu");
        QVERIFY(menu != nullptr);
        QCOMPARE(menu->actions().size(), 1);
        menu->actions()[0]->trigger();
        menu->close();
    } else {
        at_->press(Qt::Key_K, Qt::ControlModifier);
        QTest::keyClicks(QApplication::focusWidget(), "compare architecture p01");
        at_->waitIdle();
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
    }
    at_->waitIdle();
    QVERIFY2(at_->words("Changes").contains("asked for: Architecture P01 with P02"), qPrintable(at_->words("Changes")));
    QCOMPARE(at_->rows("Changes").rowCount(), 4);
    QCOMPARE(must(at_->project().changes().asked()).size(), std::size_t{1});
}

void TestChangeReview::aCycleAgainstItselfIsNothingToCompare()
{
    QVERIFY(at_->takeIn(architecture(3), "P03"));
    at_->clickStage("Changes");
    at_->waitIdle();
    QCOMPARE(at_->delivery("Architecture P03").cycle, 1);
    dynamic_cast<app::ChangesStage&>(at_->window().stage(at_->window().indexOf("Changes"))).compareCycles(1, 1);
    at_->waitIdle();
    QVERIFY2(at_->message().contains("nothing to compare"), qPrintable(at_->message()));
}

void TestChangeReview::whatCountsIsARule()
{
    chooseRow("4 of Door EI");
    at_->press(Qt::Key_G);
    at_->waitIdle();
    pickFromCompare("What counts");
    at_->type("ruleName", "Coarse");
    at_->field<QDoubleSpinBox>("ruleDistance").setValue(60); // mm: the storey did not move
    at_->field<QPlainTextEdit>("ruleElements").setPlainText("name has cut");
    QVERIFY(at_->clickButton("ruleUse"));
    at_->waitIdle();
    QCOMPARE(at_->rows("Changes").rowCount(), 2);
    QVERIFY(row("Wall taller") >= 0 && row("4 of Door EI") >= 0);
    QVERIFY(at_->words("Changes").contains("rule Coarse"));
    // What was looked at stays so.
    QCOMPARE(must(at_->project().changes().toReview()), std::size_t{1});
    at_->openAgain();
    QCOMPARE(must(at_->project().changes().rules()).front().name, std::string("Coarse"));
}

void TestChangeReview::aRuleThatIsWrongIsRefused()
{
    pickFromCompare("What counts");
    at_->type("ruleFields", "Pset_WallCommon.Status is");
    QVERIFY(at_->clickButton("ruleUse"));
    at_->waitIdle();
    QVERIFY2(at_->message().contains("Fields that do not count"), qPrintable(at_->message()));
    QCOMPARE(at_->rows("Changes").rowCount(), 4);
}

void TestChangeReview::theListIsWritten_data()
{
    QTest::addColumn<QString>("ending");
    QTest::addColumn<QStringList>("held");
    QTest::newRow("table") << "csv" << QStringList{"Wall taller", "500 mm higher", "EI 30", "cut up", "IfcDoor"};
    QTest::newRow("workbook") << "xlsx" << QStringList{};
    QTest::newRow("report") << "html"
                            << QStringList{"Wall taller", "data:image/png;base64,", "6 elements on Level 2 moved"};
    QTest::newRow("report for print") << "pdf" << QStringList{"%PDF"};
    QTest::newRow("topics") << "bcf" << QStringList{};
}

void TestChangeReview::theListIsWritten()
{
    QFETCH(QString, ending);
    QFETCH(QStringList, held);
    const QString file = at_->folder() + "/changes." + ending;
    const auto asked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("exportChanges"));
    at_->waitIdle();
    QVERIFY(*asked);
    const auto read = MappedFile::open(file.toStdString());
    QVERIFY(read.has_value());
    const std::string bytes((*read)->bytes());
    QVERIFY(bytes.size() > 500);
    for (const QString& words : held)
        QVERIFY2(bytes.find(words.toStdString()) != std::string::npos, qPrintable(words));
    if (ending != "bcf")
        return;
    const auto topics = bcf::readFile(file.toStdString());
    QVERIFY(topics.has_value() && topics->diagnostics.empty());
    QCOMPARE(topics->issues.size(), std::size_t{4}); // one a row
    for (const issues::Issue& issue : topics->issues)
        QVERIFY(issue.viewpoints.size() == 2 && !issue.viewpoints[0].snapshot.empty());
}

void TestChangeReview::theDigestSaysWhatConcernsADiscipline()
{
    at_->list("Changes").view().clearSelection();
    at_->list("Changes").view().setCurrentIndex({});
    at_->settle();
    QVERIFY(at_->clickButton("digest"));
    auto& discipline = at_->field<QComboBox>("digestFor");
    discipline.setCurrentIndex(discipline.findText("Ventilation"));
    const QString file = at_->folder() + "/digest.html";
    const auto asked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("digestWrite"));
    at_->waitIdle();
    QVERIFY(*asked);
    const auto read = MappedFile::open(file.toStdString());
    QVERIFY(read.has_value());
    const std::string page((*read)->bytes());
    QVERIFY(page.find("1 of 12 changes concern Ventilation") != std::string::npos);
    QVERIFY(page.find("1 new clash with its elements") != std::string::npos);
    QVERIFY(page.find("meets Duct over the wall") != std::string::npos);
    QVERIFY(page.find("Wall cut") == std::string::npos);
    QVERIFY(at_->message().contains("1 change concerns"));
}

void TestChangeReview::rowsAreCopied()
{
    chooseRow("4 of Door EI");
    at_->press(Qt::Key_D);
    at_->settle();
    QVERIFY(at_->message().contains("4 changes copied"));
}

void TestChangeReview::helpIsThere() { QVERIFY(at_->help("helpPage").contains("What a delivery changed")); }

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestChangeReview test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_change_review.moc"
