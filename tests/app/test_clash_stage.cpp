#include "app/own_project.h"

#include "shell/storey_ladder.h"

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
    QVERIFY2(at_->message().contains("4 pairs found by 3 tests"), qPrintable(at_->message()));
    // By hand: the beams come 100 mm into the pipe; the second pipe has to go 1.2 m along itself to leave the wall.
    for (const project::Pair& p : pairs())
        QVERIFY2(std::abs(p.depth - (p.left.name == "Wall 1" ? 1.2 : 0.1)) < 1e-6, p.left.name.c_str());
    const app::RowModel& rows = at_->rows("Clashes");
    QCOMPARE(rows.rowCount(), 5); // two groups; the one of several opened into its pairs
    QVERIFY(rows.row(0).title.contains("Wall 1") && rows.row(0).title.contains("Pipe 2"));
    QCOMPARE(rows.row(0).right, QString("1 pair"));
    QVERIFY2(rows.row(0).subtitle.contains("Level 2 · A / 1-2 · 1.20 m deep · new"), qPrintable(rows.row(0).subtitle));
    QCOMPARE(rows.row(1).title, QString("Pipe 1 × 3 beams"));
    QCOMPARE(rows.row(1).right, QString("3 pairs"));
    QVERIFY(rows.row(1).subtitle.startsWith("Structure · Level 1"));
    for (int i = 2; i < 5; ++i) {
        QCOMPARE(rows.row(i).level, 1);
        QCOMPARE(rows.row(i).title, QString("Beam %1").arg(i - 1));
        QCOMPARE(rows.row(i).right, QString("100 mm"));
    }
}

void TestClashStage::oneDecisionSettlesAGroup()
{
    at_->clickRow("Clashes", 1);
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
    QVERIFY(at_->rows("Clashes").row(1).subtitle.contains("let stand"));
}

void TestClashStage::decisionsOfAFewPairs_data()
{
    QTest::addColumn<int>("first");
    QTest::addColumn<int>("last");
    QTest::addColumn<int>("decided");
    QTest::newRow("one pair of a group") << 3 << 3 << 1;
    QTest::newRow("two of them") << 2 << 3 << 2;
    QTest::newRow("a group and its own pairs count once") << 1 << 4 << 3;
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
    at_->clickRow("Clashes", 1);
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
    at_->clickRow("Clashes", 1);
    QVERIFY(at_->details().contains("One issue for 3 pairs to Piping"));
    QVERIFY(at_->clickButton("fix"));
    at_->waitIdle();
    const auto issues = must(at_->project().issues().all());
    QCOMPARE(issues.size(), std::size_t{1});
    QCOMPARE(issues[0].title, std::string("Pipe 1 × 3 beams"));
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
    at_->clickRow("Clashes", 0);
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

void TestClashStage::titlesAreCutInTheMiddle_data()
{
    QTest::addColumn<QString>("title");
    QTest::addColumn<QString>("starts");
    QTest::addColumn<QString>("ends");
    // clang-format off
    QTest::newRow("fits") << "Wall × Pipe" << "Wall × Pipe" << "Wall × Pipe";
    QTest::newRow("a long name first") << "Supply duct 700×350 SD-203 of the laboratories × 3 beams" << "Supply" << " × 3 beams";
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
        QCOMPARE(cut.contains(" × "), title.contains(" × "));
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
