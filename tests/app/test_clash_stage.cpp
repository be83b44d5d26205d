#include "app/own_project.h"

#include "clashes/plan_page.h"
#include "shell/storey_ladder.h"

#include <QClipboard>
#include <QComboBox>
#include <QFileInfo>
#include <QGuiApplication>
#include <QLineEdit>
#include <QMenu>
#include <QTableView>

#include <algorithm>

using namespace wendrix;
using test::MadeModel;
using test::must;

/// Clashes of a building whose every clash is known: three beams on one pipe, a wall with another pipe in it.
class TestClashStage : public QObject {
    Q_OBJECT
private slots:
    void init();
    void cleanup();
    void cleanupTestCase() { at_.reset(); }
    void everyPairIsListed();
    void oneDecisionSettlesAGroup();
    void decisionsOfAFewPairs_data();
    void decisionsOfAFewPairs();
    void whatIsGoneAndBackIsTold();
    void anIssueHoldsItsPairs();
    void aStoreyNarrowsTheList();
    void nothingChosenNothingHappens();
    void theDetailsSayBothSides();
    void theMatrixFillsByItself();
    void whatIsNotTestedIsSeenInTheMatrix();
    void pairsArePutTogetherAndNarrowed();
    void thePlanShowsWhereTheLoadIs();
    void saidTwiceIsOffered();
    void aDayThatIsNoneIsRefused();
    void rowsAreCopiedAndWritten();
    void twelveGroupsAreDecidedByKeyboard();
    void titlesAreCutInTheMiddle_data();
    void titlesAreCutInTheMiddle();

private:
    [[nodiscard]] std::vector<project::Pair> pairs() const { return must(at_->project().clashes().all()); }
    [[nodiscard]] long count(const std::function<bool(const project::Pair&)>& is) const
    {
        const auto all = pairs();
        return std::count_if(all.begin(), all.end(), is);
    }
    [[nodiscard]] static MadeModel piping(double raised = 0);
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = {})
    {
        at_->press(key, modifiers);
        at_->waitIdle();
    }
    std::unique_ptr<test::OwnProject> at_; ///< kept from one to the next while nothing stays written
    std::size_t events_ = 0;
};

MadeModel TestClashStage::piping(double raised)
{
    MadeModel m;
    m.name = "Piping";
    m.boxes = {{"Pipe 1", {0, 3, 3.0 + raised}, {12, 3.2, 3.2 + raised}, "IFCPIPESEGMENT"},
               {"Pipe 2", {3, -1, 4.6}, {3.2, 1, 4.8}, "IFCPIPESEGMENT"}};
    return m;
}

void TestClashStage::init()
{
    if (at_ != nullptr) {
        at_->clickStage("Clashes");
        QVERIFY(at_->clickButton("chip-undecided"));
        return;
    }
    at_ = std::make_unique<test::OwnProject>();
    at_->openEmpty();
    MadeModel architecture, structure;
    architecture.name = "Architecture";
    architecture.boxes = {{"Wall 1", {0, -0.2, 3.6}, {12, 0.2, 6.6}, "IFCWALL"}};
    structure.name = "Structure";
    for (int i = 0; i < 3; ++i)
        structure.boxes.push_back({"Beam " + std::to_string(i + 1), {2.0 + 4 * i, 0.5, 3.1}, {2.2 + 4 * i, 6, 3.5}});
    QVERIFY(at_->takeIn(architecture, "P01"));
    QVERIFY(at_->takeIn(structure, "P01"));
    QVERIFY(at_->takeIn(piping(), "P01"));
    at_->clickStage("Clashes");
    press(Qt::Key_R);
    events_ = must(at_->project().log().last(100)).size();
}

void TestClashStage::cleanup()
{
    if (must(at_->project().log().last(100)).size() != events_ || at_->rows("Clashes").rowCount() != 5)
        at_.reset();
}

void TestClashStage::everyPairIsListed()
{
    QVERIFY2(at_->message().contains("4 pairs found by 6 tests"), qPrintable(at_->message()));
    // By hand: the beams come 100 mm into the pipe; the second pipe has to go 1.2 m along itself to leave the wall.
    for (const project::Pair& p : pairs())
        QVERIFY2(std::abs(p.depth - (p.left.name == "Wall 1" ? 1.2 : 0.1)) < 1e-6, p.left.name.c_str());
    const app::RowModel& rows = at_->rows("Clashes");
    QCOMPARE(rows.rowCount(), 5); // two groups; the one of several opened into its pairs
    // What settles most stands first.
    QCOMPARE(rows.row(0).title, QString("Pipe 1 crosses 3 beams"));
    QCOMPARE(rows.row(0).right, QString("3 pairs"));
    QVERIFY(rows.row(0).subtitle.startsWith("Structure · Level 1"));
    for (int i = 1; i < 4; ++i) {
        QCOMPARE(rows.row(i).level, 1);
        QCOMPARE(rows.row(i).title, QString("Beam %1").arg(i));
        QCOMPARE(rows.row(i).right, QString("100 mm"));
    }
    QVERIFY(rows.row(4).title.contains("Wall 1 crosses Pipe 2") || rows.row(4).title.contains("Pipe 2 crosses Wall 1"));
    QCOMPARE(rows.row(4).right, QString("1 pair"));
    QVERIFY2(rows.row(4).subtitle.contains("Level 2 · A / 1-2 · 1.20 m deep · new"), qPrintable(rows.row(4).subtitle));
}

void TestClashStage::oneDecisionSettlesAGroup()
{
    at_->clickRow("Clashes", 0);
    press(Qt::Key_S);
    QCOMPARE(count([](const auto& p) { return p.decision == "let stand" && p.decidedBy.person == "Ines Varga"; }), 3);
    QVERIFY(at_->message().contains("3 pairs: let stand"));
    QCOMPARE(at_->rows("Clashes").rowCount(), 1); // undecided ones
    QVERIFY(at_->rows("Clashes").row(0).title.contains("Wall 1"));
    QVERIFY(at_->details().contains("Wall 1")); // the next is shown at once
    press(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(count([](const auto& p) { return !p.decision.empty(); }), 0);
    QCOMPARE(at_->rows("Clashes").rowCount(), 5);
    press(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QCOMPARE(count([](const auto& p) { return p.decision == "let stand"; }), 3);
    QVERIFY(at_->clickButton("chip-all"));
    QCOMPARE(at_->rows("Clashes").rowCount(), 5);
    QVERIFY(at_->rows("Clashes").row(0).subtitle.contains("let stand"));
}

void TestClashStage::decisionsOfAFewPairs_data()
{
    QTest::addColumn<int>("first");
    QTest::addColumn<int>("last");
    QTest::addColumn<int>("decided");
    QTest::newRow("one pair of a group") << 2 << 2 << 1;
    QTest::newRow("two of them") << 1 << 2 << 2;
    QTest::newRow("a group and its own pairs count once") << 0 << 3 << 3;
    QTest::newRow("all rows") << 0 << 4 << 4;
}

void TestClashStage::decisionsOfAFewPairs()
{
    QFETCH(int, first);
    QFETCH(int, last);
    QFETCH(int, decided);
    at_->clickRow("Clashes", first);
    QListView& view = at_->list("Clashes").view();
    QTest::mouseClick(view.viewport(), Qt::LeftButton, Qt::ShiftModifier,
                      view.visualRect(at_->rows("Clashes").index(last)).center());
    at_->settle();
    press(Qt::Key_L);
    QCOMPARE(count([](const auto& p) { return p.decision == "later"; }), decided);
    QVERIFY(at_->clickButton("chip-undecided"));
    std::size_t left = 0;
    for (int i = 0; i < at_->rows("Clashes").rowCount(); ++i)
        left +=
            at_->rows("Clashes").row(i).level == 0 ? at_->rows("Clashes").row(i).right.section(' ', 0, 0).toULong() : 0;
    QCOMPARE(left, static_cast<std::size_t>(4 - decided));
    press(Qt::Key_Z, Qt::ControlModifier); // one step, however many
    QCOMPARE(count([](const auto& p) { return !p.decision.empty(); }), 0);
}

void TestClashStage::whatIsGoneAndBackIsTold()
{
    at_->clickRow("Clashes", 0);
    press(Qt::Key_L);
    QVERIFY(at_->takeIn(piping(1.0), "P02")); // above the beams
    at_->clickStage("Clashes");
    QCOMPARE(count([](const auto& p) { return p.isGone(); }), 3);
    QVERIFY(at_->clickButton("chip-gone"));
    QCOMPARE(at_->rows("Clashes").rowCount(), 4);
    QVERIFY(at_->rows("Clashes").row(0).isStruck);
    at_->clickRow("Clashes", 0);
    QVERIFY(at_->details().contains("gone"));
    for (const char* button : {"fix", "letStand", "later"})
        QVERIFY(!at_->window().findChild<QAbstractButton*>(button)->isEnabled()); // nothing is left to decide
    QVERIFY(at_->takeIn(piping(0.02), "P03"));
    at_->clickStage("Clashes");
    QCOMPARE(count([](const auto& p) { return p.state == clash::PairState::Back; }), 3);
    QVERIFY(at_->clickButton("chip-back"));
    const int row = at_->rowWith("Clashes", "3 beams");
    QVERIFY(row >= 0);
    QVERIFY2(at_->rows("Clashes").row(row).subtitle.contains("120 mm deep"),
             qPrintable(at_->rows("Clashes").row(row).subtitle));
    at_->clickRow("Clashes", row + 1);
    const auto history = must(at_->project().clashes().historyOf(pairs()[1].id));
    QVERIFY(history.size() >= 3);
    QVERIFY(at_->details().contains("back"));
}

void TestClashStage::anIssueHoldsItsPairs()
{
    at_->clickRow("Clashes", 0);
    QVERIFY(at_->details().contains("one issue for all, to Piping"));
    QVERIFY(at_->clickButton("fix"));
    at_->waitIdle();
    const auto issues = must(at_->project().issues().all());
    QCOMPARE(issues.size(), std::size_t{1});
    QCOMPARE(issues[0].title, std::string("Pipe 1 crosses 3 beams"));
    QCOMPARE(issues[0].assignee, std::string("Piping"));
    QCOMPARE(issues[0].number, std::string("SVA-001"));
    QCOMPARE(must(at_->project().clashes().ofIssue(issues[0].uuid)).size(), std::size_t{3});
    // The same pairs again make no second issue.
    QVERIFY(at_->clickButton("chip-all"));
    at_->clickRow("Clashes", at_->rowWith("Clashes", "3 beams"));
    press(Qt::Key_F);
    QCOMPARE(must(at_->project().issues().all()).size(), std::size_t{1});
    press(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(must(at_->project().issues().all()).empty());
    QCOMPARE(count([](const auto& p) { return p.decision.empty() && p.issue.empty(); }), 4);
}

void TestClashStage::aStoreyNarrowsTheList()
{
    auto* ladder = at_->window().findChild<app::StoreyLadder*>("ladder");
    QTest::mouseClick(ladder, Qt::LeftButton, {}, ladder->areaOf("Level 2").center());
    at_->waitIdle();
    QCOMPARE(at_->rows("Clashes").rowCount(), 1);
    QVERIFY(at_->words("Clashes").contains("Level 2 only"));
    QTest::mouseClick(ladder, Qt::LeftButton, {}, ladder->areaOf("Level 1").center());
    at_->waitIdle();
    QCOMPARE(at_->rows("Clashes").rowCount(), 4);
}

void TestClashStage::nothingChosenNothingHappens()
{
    QVERIFY(at_->clickButton("chip-gone")); // empty
    QVERIFY(at_->words("Clashes").contains("No pair answers to this filter"));
    for (const Qt::Key key : {Qt::Key_F, Qt::Key_S, Qt::Key_L, Qt::Key_J, Qt::Key_K})
        press(key);
    QCOMPARE(count([](const auto& p) { return !p.decision.empty(); }), 0);
    QVERIFY(must(at_->project().issues().all()).empty());
    QVERIFY(at_->details().contains("Choose a group or a pair on the left"));
}

void TestClashStage::theDetailsSayBothSides()
{
    at_->clickRow("Clashes", 4);
    const QString words = at_->details();
    for (const char* said : {"Wall 1", "Pipe 2", "Architecture P01", "Piping P01", "IfcWall", "IfcPipeSegment",
                             "1.20 m", "Level 2, bay A / 1-2", "Run 1", "found by the first run"})
        QVERIFY2(words.contains(said), qPrintable(words + "\n\nlacks " + said));
    QCOMPARE(at_->scene().display().painted.size(), std::size_t{2});
    // Where one looks at fewer members the other side is still named, and that it is not there is said.
    project::Federation federation{"Without walls", {{"Structure", true}, {"Piping", false}}, false};
    QVERIFY(
        at_->change([&](project::Project& p) { return p.setup().setFederation(federation, at_->session().now()); }));
    at_->session().setFederation("Without walls");
    at_->waitIdle();
    at_->clickRow("Clashes", at_->rowWith("Clashes", "Wall 1"));
    QVERIFY2(at_->details().contains("not in the federation that is looked at"), qPrintable(at_->details()));
    QCOMPARE(at_->scene().display().painted.size(), std::size_t{1});
    QVERIFY(!at_->scene().picture().isNull());
    // More members come while something is in focus: all of them are drawn then.
    at_->session().setFederation(project::kWholeBuilding);
    at_->waitIdle();
    QVERIFY(!at_->scene().picture().isNull());
    at_->clickRow("Clashes", at_->rowWith("Clashes", "Wall 1"));
    QCOMPARE(at_->scene().display().painted.size(), std::size_t{2});
    // Cut through, the pipe and the wall are still in their own colours, and nothing else is.
    press(Qt::Key_C);
    QVERIFY(!at_->scene().cuts().isEmpty());
    const QImage cut = at_->scene().picture();
    int left = 0, right = 0;
    for (int y = 0; y < cut.height(); y += 2)
        for (int x = 0; x < cut.width(); x += 2) {
            const QColor c = cut.pixelColor(x, y);
            left += c.green() > c.red() + 60 && c.blue() > c.red() + 50 ? 1 : 0;
            right += c.red() > c.green() + 70 && c.blue() > c.green() + 20 ? 1 : 0;
        }
    QVERIFY2(left > 20 && right > 20, qPrintable(QString("%1 %2").arg(left).arg(right)));
    press(Qt::Key_C);
}

void TestClashStage::theMatrixFillsByItself()
{
    press(Qt::Key_V);
    auto* table = at_->window().findChild<QTableView*>("clashMatrix");
    QVERIFY(table->isVisible() && !at_->list("Clashes").isVisible());
    QVERIFY(table->width() > 1000); // it takes the whole width
    const auto* model = table->model();
    QCOMPARE(model->rowCount(), 3);
    QCOMPARE(model->headerData(1, Qt::Horizontal, Qt::DisplayRole).toString(), QString("Structure"));
    const auto words = [&](int row, int column) {
        return model->data(model->index(row, column), Qt::AccessibleTextRole).toString();
    };
    QCOMPARE(words(1, 2), QString("Structure × Piping: 3 pairs, 3 undecided, 3 new, asked by Structure × Piping"));
    QCOMPARE(words(2, 1), QString("Piping × Structure: 3 pairs, 3 undecided, 3 new, asked by Structure × Piping"));
    QCOMPARE(words(0, 1), QString("Architecture × Structure: 0 pairs, asked by Architecture × Structure"));
    QVERIFY(words(1, 1).startsWith("within Structure: 0 pairs, asked by ")); // tested for what it has twice
    // By the keyboard: the cell of structure and piping, and its list.
    for (int i = 0; i < 4; ++i)
        press(Qt::Key_J);
    QCOMPARE(table->currentIndex(), model->index(1, 1));
    QTest::keyClick(table, Qt::Key_Right);
    QTest::keyClick(table, Qt::Key_Return);
    at_->waitIdle();
    QVERIFY(at_->list("Clashes").isVisible());
    QCOMPARE(at_->rows("Clashes").rowCount(), 4);
    QVERIFY(at_->clickButton("narrowedDiscipline")); // all again
    at_->waitIdle();
    QCOMPARE(at_->rows("Clashes").rowCount(), 5);
}

void TestClashStage::whatIsNotTestedIsSeenInTheMatrix()
{
    project::StoredFit off;
    off.fit.translation = {3, 0, 0};
    QVERIFY(
        at_->change([&](project::Project& p) { return p.coordinates().setFit("Piping", off, at_->session().now()); }));
    at_->waitIdle();
    press(Qt::Key_R);
    press(Qt::Key_V);
    const auto* model = at_->window().findChild<QTableView*>("clashMatrix")->model();
    const QString words = model->data(model->index(1, 2), Qt::AccessibleTextRole).toString();
    QVERIFY2(words.contains("not tested: Piping P01, "), qPrintable(words));
    press(Qt::Key_V);
    // One line says it all, and each number opens its list.
    const QString cycle = at_->words("Clashes");
    QVERIFY2(cycle.contains("0 new") && cycle.contains("0 gone") && cycle.contains(">4 not tested</a>: Piping P01"),
             qPrintable(cycle));
    emit at_->list("Clashes").linkChosen("notTested");
    at_->waitIdle();
    QCOMPARE(at_->rows("Clashes").rowCount(), 5);
    QVERIFY(at_->rows("Clashes").row(0).subtitle.contains("not tested"));
}

void TestClashStage::pairsArePutTogetherAndNarrowed()
{
    auto& order = at_->field<QComboBox>("clashOrder");
    QCOMPARE(order.currentText(), QString("by fewest elements"));
    press(Qt::Key_G); // left element
    QCOMPARE(order.currentText(), QString("by left element"));
    QCOMPARE(at_->rows("Clashes").rowCount(), 4); // four left elements with one pair each
    press(Qt::Key_G);
    press(Qt::Key_G); // storey and bay
    QCOMPARE(order.currentText(), QString("by storey and bay"));
    QCOMPARE(at_->rows("Clashes").row(0).subtitle, QString("1 group"));
    QVERIFY(at_->rows("Clashes").row(0).title.startsWith("Level"));
    // A whole section is chosen and decided like a group.
    at_->clickRow("Clashes", 0);
    press(Qt::Key_L);
    QVERIFY(count([](const auto& p) { return p.decision == "later"; }) >= 1);
    press(Qt::Key_Z, Qt::ControlModifier);
    press(Qt::Key_X);
    auto* classes = at_->window().findChild<QMenu*>("narrowMenuClass");
    QVERIFY(classes != nullptr);
    for (QAction* action : classes->actions())
        if (action->text() == "IfcWall")
            action->trigger();
    at_->window().findChild<QMenu*>("narrowMenu")->close();
    at_->waitIdle();
    QCOMPARE(at_->list("Clashes").model().rowCount(), 2); // a place, and the wall's pair
    QVERIFY(at_->field<QPushButton>("narrowedClass").text().startsWith("IfcWall"));
    QVERIFY(at_->clickButton("narrowedClass"));
    at_->waitIdle();
    order.setCurrentIndex(0);
    emit order.activated(0);
    at_->waitIdle();
    QCOMPARE(at_->rows("Clashes").rowCount(), 5);
}

void TestClashStage::thePlanShowsWhereTheLoadIs()
{
    press(Qt::Key_P);
    auto* plan = at_->window().findChild<app::PlanView*>("clashPlan");
    QVERIFY(plan->isVisible() && plan->width() > 1000);
    QVERIFY2(at_->details().contains("how many pairs lie in a bay"), qPrintable(at_->details()));
    // Three pairs on level 1, each in a bay of its own; level 2 has one.
    QCOMPARE(plan->bays().size(), std::size_t{3});
    for (int k = 0; k < 3; ++k)
        QVERIFY(QRectF(plan->rect()).contains(plan->areaOf(k)));
    press(Qt::Key_J);
    press(Qt::Key_J);
    QCOMPARE(plan->chosen(), 1);
    const std::string bay = plan->bays()[1].name;
    QTest::keyClick(plan, Qt::Key_Return);
    at_->waitIdle();
    QVERIFY(at_->list("Clashes").isVisible());
    QCOMPARE(at_->rows("Clashes").rowCount(), 1);
    QVERIFY(at_->field<QPushButton>("narrowedBay").text().contains(QString::fromStdString(bay)));
    QVERIFY(at_->clickButton("narrowedBay"));
    at_->waitIdle();
    // By the mouse, on the storey of the ladder.
    auto* ladder = at_->window().findChild<app::StoreyLadder*>("ladder");
    press(Qt::Key_P);
    QTest::mouseClick(ladder, Qt::LeftButton, {}, ladder->areaOf("Level 2").center());
    at_->waitIdle();
    QCOMPARE(plan->bays().size(), std::size_t{1});
    QTest::mouseClick(plan, Qt::LeftButton, {}, plan->areaOf(0).center().toPoint());
    at_->waitIdle();
    QCOMPARE(at_->rows("Clashes").rowCount(), 1);
    QVERIFY(at_->rows("Clashes").row(0).title.contains("Wall 1"));
    QTest::mouseClick(ladder, Qt::LeftButton, {}, ladder->areaOf("Level 2").center()); // all storeys again
    QVERIFY(at_->clickButton("narrowedBay"));
    at_->waitIdle();
}

void TestClashStage::saidTwiceIsOffered()
{
    const auto stand = [&](const QString& beam) {
        at_->clickRow("Clashes", at_->rowWith("Clashes", beam));
        press(Qt::Key_E);
        auto& reason = at_->field<QLineEdit>("standReason");
        QVERIFY(reason.hasFocus());
        reason.selectAll();
        QTest::keyClicks(&reason, "sleeve agreed with the carpenter");
        QTest::keyClick(&reason, Qt::Key_Return);
        at_->waitIdle();
    };
    stand("Beam 1");
    auto* offer = at_->window().findChild<QWidget*>("offer");
    QVERIFY(!offer->isVisible()); // said once
    stand("Beam 2");
    QTRY_VERIFY(offer->isVisible());
    QVERIFY2(at_->field<QLabel>("offerWords").text().contains("1 more pair of Beam and Pipe segment"),
             qPrintable(at_->field<QLabel>("offerWords").text()));
    QCOMPARE(count([](const auto& p) { return p.decision == "let stand"; }), 2); // nothing is decided unseen
    press(Qt::Key_Y);
    QCOMPARE(count([](const auto& p) { return p.reason == "sleeve agreed with the carpenter"; }), 3);
    QVERIFY(!offer->isVisible());
    press(Qt::Key_Z, Qt::ControlModifier); // one step
    QCOMPARE(count([](const auto& p) { return p.decision == "let stand"; }), 2);
}

void TestClashStage::aDayThatIsNoneIsRefused()
{
    at_->clickRow("Clashes", 0);
    auto& until = at_->field<QLineEdit>("standUntil");
    until.setFocus();
    QTest::keyClicks(&until, "next week");
    at_->window().setFocus();
    press(Qt::Key_S);
    QVERIFY2(at_->message().contains("\"next week\" is no day"), qPrintable(at_->message()));
    QCOMPARE(count([](const auto& p) { return !p.decision.empty(); }), 0);
    auto& again = at_->field<QLineEdit>("standUntil");
    again.setFocus();
    again.selectAll();
    QTest::keyClicks(&again, "2099-12-24");
    at_->window().setFocus();
    press(Qt::Key_S);
    QCOMPARE(count([](const auto& p) { return p.until == "2099-12-24"; }), 3);
}

void TestClashStage::rowsAreCopiedAndWritten()
{
    at_->clickRow("Clashes", 0);
    press(Qt::Key_D);
    const QString copied = QGuiApplication::clipboard()->text();
    QCOMPARE(copied.count('\n'), 4); // the head and three pairs
    QVERIFY(copied.startsWith("Group\tTest") && copied.contains("Pipe 1 crosses 3 beams\tStructure × Piping"));
    for (const QString& name : {QString("pairs.csv"), QString("pairs.xlsx")}) {
        const QString file = at_->folder() + "/" + name;
        const auto asked = at_->answerFileDialog({file});
        QVERIFY(at_->clickButton("exportClashes"));
        QTRY_VERIFY(*asked);
        at_->waitIdle();
        QVERIFY2(at_->message().contains("4 pairs written"), qPrintable(at_->message()));
        QVERIFY(QFileInfo(file).size() > 300);
    }
}

void TestClashStage::twelveGroupsAreDecidedByKeyboard()
{
    at_.reset();
    at_ = std::make_unique<test::OwnProject>();
    at_->openEmpty();
    MadeModel architecture, structure, services;
    architecture.name = "Architecture";
    architecture.boxes = {{"Wall 1", {0, -5, 3.6}, {12, -4.8, 6.6}, "IFCWALL"}};
    structure.name = "Structure";
    services.name = "Piping";
    for (int i = 0; i < 12; ++i) { // a beam each with two pipes of its own
        structure.boxes.push_back({"Beam " + std::to_string(i + 1), {1.0 * i, 0, 3}, {1.0 * i + 0.3, 2, 3.4}});
        for (int k = 0; k < 2; ++k)
            services.boxes.push_back({"Pipe " + std::to_string(2 * i + k + 1),
                                      {1.0 * i - 0.1, 0.5 + k, 3.1},
                                      {1.0 * i + 0.4, 0.6 + k, 3.2},
                                      "IFCPIPESEGMENT"});
    }
    for (const MadeModel& model : {architecture, structure, services})
        QVERIFY(at_->takeIn(model, "P01"));
    press(Qt::Key_4, Qt::AltModifier);
    press(Qt::Key_R);
    QVERIFY(at_->words("Clashes").contains("24"));
    press(Qt::Key_J); // the first group; from then on the next one comes by itself
    int groups = 0;
    const Qt::Key decisions[] = {Qt::Key_F, Qt::Key_S, Qt::Key_L};
    while (at_->rows("Clashes").rowCount() > 0 && groups < 20) {
        const Qt::Key key = decisions[groups % 3];
        if (key == Qt::Key_S) {
            press(Qt::Key_E);
            auto& reason = at_->field<QLineEdit>("standReason");
            QVERIFY(reason.hasFocus());
            reason.selectAll();
            QTest::keyClicks(&reason, "reason " + QString::number(groups)); // nothing is said twice
            QTest::keyClick(&reason, Qt::Key_Return);
            at_->waitIdle();
        } else {
            press(key);
        }
        ++groups;
    }
    QCOMPARE(groups, 12);
    QCOMPARE(count([](const auto& p) { return p.decision.empty(); }), 0);
    QCOMPARE(count([](const auto& p) { return p.decision == "fix" && !p.issue.empty(); }), 8);
    QCOMPARE(count([](const auto& p) { return p.decision == "let stand" && p.reason.starts_with("reason "); }), 8);
    QCOMPARE(count([](const auto& p) { return p.decision == "later"; }), 8);
    QCOMPARE(must(at_->project().issues().all()).size(), std::size_t{4});
    QVERIFY(at_->words("Clashes").contains("No pair answers to this filter"));
}

void TestClashStage::titlesAreCutInTheMiddle_data()
{
    QTest::addColumn<QString>("title");
    QTest::addColumn<QString>("starts");
    QTest::addColumn<QString>("ends");
    // clang-format off
    QTest::newRow("fits") << "Wall × Pipe" << "Wall × Pipe" << "Wall × Pipe";
    QTest::newRow("a long name first") << "Supply duct 700×350 SD-203 of the laboratories × 3 beams" << "Supply" << " × 3 beams";
    QTest::newRow("a sentence") << "Supply duct 700×350 SD-203 of the laboratories crosses 3 beams" << "Supp" << " crosses 3 beams";
    QTest::newRow("too near") << "Supply duct 700×350 SD-203 is too near Ceiling of the northern laboratories 3" << "Su" << "3";
    QTest::newRow("a long name last") << "Column B3 × Supply duct 700×350 SD-203 of the laboratories 3S3" << "Column B3 × Supply" << "3S3";
    QTest::newRow("two long names") << "Corridor wall of the northern laboratories N-5 × Supply duct 700×350 of the laboratories 3S3" << "Corr" << "3S3";
    QTest::newRow("one name alone") << "Supply duct 700×350 SD-203 of the northern laboratories 3S3" << "Supply" << "3S3";
    // clang-format on
    QTest::newRow("of hundreds of kilobytes") << "Duct 12" + QString(300'000, 'x') + "end"
                                              << "Duct"
                                              << "end";
}

void TestClashStage::titlesAreCutInTheMiddle()
{
    QFETCH(QString, title);
    QFETCH(QString, starts);
    QFETCH(QString, ends);
    const QFontMetrics metrics(app::theme::font(13, 600));
    for (const int width : {240, 200, 180}) {
        const QString cut = app::cutTitle(metrics, title, width);
        QVERIFY2(metrics.horizontalAdvance(cut) <= width, qPrintable(cut));
        QVERIFY2(cut.startsWith(starts) && cut.endsWith(ends), qPrintable(cut));
        for (const char* between : {" × ", " crosses ", " is too near "})
            QCOMPARE(cut.contains(between), title.contains(between));
    }
    (void)app::cutTitle(metrics, title, 0); // a list that is dragged to nothing
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestClashStage test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_clash_stage.moc"
