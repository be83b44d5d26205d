#include "app/own_project.h"

#include "core/project/test_sheets.h"
#include "shell/go_to.h"
#include "shell/show_panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFile>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QTableView>

using namespace wendrix;
using test::MadeModel;
using test::must;

/// What is tested, set up in the window: sheets, tests and sets, by keyboard and mouse; and the same lines where one
/// searches and colours.
class TestTestsPage : public QObject {
    Q_OBJECT
private slots:
    void init();
    void cleanup() { at_.reset(); }
    void theUsualSheetExplainsItself();
    void aTestIsMadeByKeyboardAlone();
    void aTestIsRunAlone();
    void newTestsBeginWithTheSheetsDefaults();
    void aLineIsCompletedAsItIsWritten();
    void chipsAndLineAreTheSame();
    void wrongLinesAreSaid();
    void aSetIsNamedAndUsed();
    void meetingsAreSwitchedAndLookedAt();
    void sheetsAreSwitchedRenamedAndRemoved();
    void aSheetGoesToAFileAndBack();
    void brokenSheetsChangeNothing();
    void earlierVersionsComeBack();
    void beforeARunNothingIsSaidToBeTested();
    void whatIsNotTestedIsListed();
    void theSearchTakesSets();
    void coloursBySets();

private:
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = {})
    {
        at_->press(key, modifiers);
        at_->waitIdle();
    }
    [[nodiscard]] const app::RowModel& rows() { return at_->list("Tests").model(); }
    [[nodiscard]] int rowWith(const QString& words)
    {
        for (int i = 0; i < rows().rowCount(); ++i)
            if (rows().row(i).title.contains(words))
                return i;
        return -1;
    }
    void clickRow(const QString& words)
    {
        at_->clickRow("Tests", rowWith(words));
        at_->waitIdle();
    }
    /// Writes a line into the field of a set, as a person does.
    void write(const QString& field, const QString& line)
    {
        auto& edit = at_->field<QPlainTextEdit>(field);
        edit.setFocus();
        edit.selectAll();
        QTest::keyClicks(&edit, line);
        QTRY_VERIFY(!at_->field<QLabel>(field + "Count").text().isEmpty());
        at_->waitIdle();
    }
    void commit(const QString& field)
    {
        QTest::keyClick(&at_->field<QPlainTextEdit>(field), Qt::Key_Escape); // what could come next
        QTest::keyClick(&at_->field<QPlainTextEdit>(field), Qt::Key_Return);
        at_->waitIdle();
    }
    [[nodiscard]] QString count(const QString& field) { return at_->field<QLabel>(field + "Count").text(); }
    [[nodiscard]] clash::TestSheet sheet() { return must(project::sheetsInForce(at_->project()))[0].sheet; }

    std::unique_ptr<test::OwnProject> at_;
};

void TestTestsPage::init()
{
    at_ = std::make_unique<test::OwnProject>();
    at_->openEmpty();
    MadeModel architecture, structure, piping;
    architecture.name = "Architecture";
    architecture.boxes = {{"Wall 1", {0, -0.2, 3.6}, {12, 0.2, 6.6}, "IFCWALL"}};
    structure.name = "Structure";
    for (int i = 0; i < 3; ++i)
        structure.boxes.push_back({"Beam " + std::to_string(i + 1), {2.0 + 4 * i, 0.5, 3.1}, {2.2 + 4 * i, 6, 3.5}});
    structure.boxes.push_back({"Column 1", {0.5, 3, 3}, {0.8, 3.3, 3.4}, "IFCCOLUMN"});
    piping.name = "Piping";
    piping.boxes = {{"Pipe 1", {0, 3, 3.0}, {12, 3.2, 3.2}, "IFCPIPESEGMENT"},
                    {"Pipe 2", {3, -1, 4.6}, {3.2, 1, 4.8}, "IFCPIPESEGMENT"}};
    QVERIFY(at_->takeIn(architecture, "P01"));
    QVERIFY(at_->takeIn(structure, "P01"));
    QVERIFY(at_->takeIn(piping, "P01"));
    at_->clickStage("Clashes");
    press(Qt::Key_R);
    press(Qt::Key_T);
}

void TestTestsPage::theUsualSheetExplainsItself()
{
    QVERIFY(at_->list("Tests").isVisible() && !at_->list("Clashes").isVisible());
    QCOMPARE(rows().rowCount(), 1 + 3 + 3); // every pair of disciplines, and each for what it has twice
    QVERIFY(rows().row(0).subtitle.contains("every discipline against every other"));
    QVERIFY2(at_->details().contains("usual sheet") && at_->details().contains("What is expected to meet is left out"),
             qPrintable(at_->details()));
    QVERIFY(must(at_->project().clashes().sheets()).empty()); // nobody changed it
    const int structurePiping = rowWith("Structure × Piping");
    QCOMPARE(rows().row(structurePiping).right, QString("4 pairs"));
    QVERIFY(rows().row(structurePiping).subtitle.contains("hard, deeper than 5 mm"));
    // A test shows whom it asks: both sides in their colours, the rest faded.
    clickRow("Structure × Piping");
    QTRY_COMPARE(count("testLeft"), QString("4 elements"));
    QTRY_COMPARE(count("testRight"), QString("2 elements"));
    QTRY_COMPARE(at_->scene().display().painted.size(), std::size_t{6});
    press(Qt::Key_T); // and back to the pairs
    QVERIFY(!at_->list("Tests").isVisible() && at_->list("Clashes").isVisible());
}

void TestTestsPage::aTestIsMadeByKeyboardAlone()
{
    press(Qt::Key_J); // the sheet
    press(Qt::Key_N);
    QCOMPARE(rows().row(rowWith("Test 7")).right, QString("off"));
    QVERIFY(at_->details().contains("Test 7"));
    at_->type("testName", "Beams keep off pipes");
    auto& kind = at_->field<QComboBox>("testKind");
    kind.setFocus();
    QTest::keyClick(&kind, Qt::Key_Down);
    at_->waitIdle();
    write("testLeft", "class is Beam");
    QTRY_COMPARE(count("testLeft"), QString("3 elements"));
    commit("testLeft");
    write("testRight", "class is PipeSegment and name has 1");
    commit("testRight");
    auto& clearance = at_->field<QDoubleSpinBox>("testClearance");
    QVERIFY(clearance.isVisible() && !at_->field<QDoubleSpinBox>("testTolerance").isVisible());
    clearance.setFocus();
    clearance.selectAll();
    QTest::keyClicks(&clearance, "150");
    QTest::keyClick(&clearance, Qt::Key_Tab);
    at_->waitIdle();
    auto& on = at_->field<QCheckBox>("testOn");
    on.setFocus();
    QTest::keyClick(&on, Qt::Key_Space);
    at_->waitIdle();
    const clash::Test made = sheet().tests.back();
    QVERIFY(made.name == "Beams keep off pipes" && made.kind == clash::Kind::Clearance && made.isOn);
    QCOMPARE(made.left, std::string("class is Beam"));
    QCOMPARE(made.clearance, 0.15);
    // It is not run yet, and that is said; R runs it.
    QVERIFY(rows().row(rowWith("Beams keep")).loud.contains("changed since"));
    at_->window().setFocus();
    press(Qt::Key_R);
    QCOMPARE(rows().row(rowWith("Beams keep")).right, QString("3 pairs"));
    press(Qt::Key_T);
    const auto pairs = must(at_->project().clashes().all());
    QCOMPARE(std::count_if(pairs.begin(), pairs.end(),
                           [](const auto& p) { return p.kind == clash::Kind::Clearance && p.clearance == 0.15; }),
             3);
    QVERIFY2(at_->rowWith("Clashes", "0.0 mm of 150 mm") >= 0, "how close of how much");
    // All of it comes back step by step.
    press(Qt::Key_Z, Qt::ControlModifier);
    press(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(!sheet().tests.back().isOn);
}

void TestTestsPage::aTestIsRunAlone()
{
    const auto runs = must(at_->project().clashes().runs()).size();
    const auto before = must(at_->project().clashes().all());
    clickRow("Architecture × Piping");
    press(Qt::Key_A);
    QCOMPARE(must(at_->project().clashes().runs()).size(), runs + 1);
    QVERIFY2(at_->message().contains("1 pair found by 1 test; 5 other tests stay as run before"),
             qPrintable(at_->message()));
    const auto after = must(at_->project().clashes().all());
    QCOMPARE(after.size(), before.size());
    std::size_t stillThere = 0;
    for (const project::Pair& p : after) {
        QVERIFY(p.isTested());
        stillThere += p.state == clash::PairState::StillThere ? 1 : 0;
    }
    QCOMPARE(stillThere, std::size_t{1}); // the others are as they were found
    // None of the tests says that it was changed, or not run.
    for (int i = 0; i < rows().rowCount(); ++i)
        QVERIFY2(rows().row(i).loud.isEmpty(), qPrintable(rows().row(i).title + rows().row(i).loud));
    // What is switched off is not run.
    press(Qt::Key_N);
    press(Qt::Key_A);
    QVERIFY(at_->message().contains("Choose a test that is switched on"));
    QCOMPARE(must(at_->project().clashes().runs()).size(), runs + 1);
}

void TestTestsPage::newTestsBeginWithTheSheetsDefaults()
{
    at_->clickRow("Tests", 0); // the sheet
    at_->waitIdle();
    QVERIFY(at_->details().contains("New tests begin with"));
    auto& tolerance = at_->field<QDoubleSpinBox>("testTolerance");
    tolerance.setFocus();
    tolerance.selectAll();
    QTest::keyClicks(&tolerance, "12");
    QTest::keyClick(&tolerance, Qt::Key_Return);
    at_->waitIdle();
    at_->field<QCheckBox>("ignoreConnected").click();
    at_->waitIdle();
    QVERIFY(std::abs(sheet().defaults.tolerance - 0.012) < 1e-9);
    QVERIFY(!sheet().defaults.ignored.has(clash::Meeting::Connected));
    QVERIFY(std::abs(sheet().tests[0].tolerance - 0.005) < 1e-9); // those that are there stay
    at_->list("Tests").view().setFocus();
    press(Qt::Key_N);
    QVERIFY(std::abs(sheet().tests.back().tolerance - 0.012) < 1e-9);
    QVERIFY(!sheet().tests.back().ignored.has(clash::Meeting::Connected));
}

void TestTestsPage::aLineIsCompletedAsItIsWritten()
{
    clickRow("Structure × Piping");
    auto& edit = at_->field<QPlainTextEdit>("testLeft");
    auto* next = at_->window().findChild<QListWidget*>("testLeftNext");
    edit.setFocus();
    edit.selectAll();
    QTest::keyClicks(&edit, "cl");
    QTRY_VERIFY(next->isVisible() && next->count() >= 1);
    QVERIFY(at_->window().geometry().contains(next->geometry()));
    QCOMPARE(next->item(0)->text(), QString("class"));
    QTest::keyClick(&edit, Qt::Key_Down);
    QTest::keyClick(&edit, Qt::Key_Return);
    QCOMPARE(edit.toPlainText(), QString("class "));
    QTest::keyClicks(&edit, "is B");
    QTRY_VERIFY(next->isVisible() && next->count() == 1); // the values that exist
    QCOMPARE(next->item(0)->text(), QString("Beam"));
    QTest::keyClick(&edit, Qt::Key_Down);
    QTest::keyClick(&edit, Qt::Key_Tab);
    QTRY_COMPARE(count("testLeft"), QString("3 elements"));
    commit("testLeft");
    QVERIFY(!next->isVisible());
    QCOMPARE(sheet().tests[2].left, std::string("class is Beam"));
}

void TestTestsPage::chipsAndLineAreTheSame()
{
    // However many there are, none is cut off.
    clickRow("Structure × Piping");
    write("testLeft", "discipline is Structure and class is Beam and storey is \"Level 1\"");
    at_->settle();
    const auto* chips = at_->window().findChild<QWidget*>("testLeftChips");
    QCOMPARE(chips->findChildren<QPushButton*>().size(), qsizetype{4}); // and one to add more
    for (const QPushButton* chip : chips->findChildren<QPushButton*>())
        QVERIFY2(chip->isVisible() && chips->rect().contains(chip->geometry()), qPrintable(chip->text()));
    press(Qt::Key_Escape);
    clickRow("Structure × Piping");
    write("testLeft", "class is Beam and name has 2");
    QTRY_COMPARE(count("testLeft"), QString("1 element"));
    QCOMPARE(at_->field<QPushButton>("testLeftChip0").text(), QString("class is Beam  ×"));
    QCOMPARE(at_->field<QPushButton>("testLeftChip1").text(), QString("and name has 2  ×"));
    QVERIFY(at_->clickButton("testLeftChip1")); // taken away
    QTRY_COMPARE(at_->field<QPlainTextEdit>("testLeft").toPlainText(), QString("class is Beam"));
    // Put together from the values that there are.
    QVERIFY(at_->clickButton("testLeftAdd"));
    QTRY_VERIFY(at_->window().findChild<QMenu*>("testLeftMenu") != nullptr);
    auto* storeys = at_->window().findChild<QMenu*>("testLeftMenustorey");
    QVERIFY(storeys != nullptr);
    emit storeys->aboutToShow();
    QVERIFY(!storeys->actions().isEmpty());
    storeys->actions()[0]->trigger();
    QVERIFY2(at_->field<QPlainTextEdit>("testLeft").toPlainText().startsWith("class is Beam and storey is "),
             qPrintable(at_->field<QPlainTextEdit>("testLeft").toPlainText()));
    at_->window().findChild<QMenu*>("testLeftMenu")->close();
}

void TestTestsPage::wrongLinesAreSaid()
{
    clickRow("Structure × Piping");
    write("testLeft", "class is");
    QTRY_VERIFY2(count("testLeft").contains("a value is expected after this"), qPrintable(count("testLeft")));
    commit("testLeft");
    QCOMPARE(rows().row(0).loud, QString("1 mistake"));
    at_->window().setFocus();
    press(Qt::Key_R);
    QVERIFY2(at_->message().contains("Structure × Piping (left: a value is expected"), qPrintable(at_->message()));
    QVERIFY(rows().row(rowWith("Structure × Piping")).loud.contains("a value is expected"));
    // What it had found is not gone: it was not tested.
    const auto pairs = must(at_->project().clashes().all());
    QVERIFY(std::none_of(pairs.begin(), pairs.end(), [](const auto& p) { return p.isGone(); }));
    QVERIFY(std::any_of(pairs.begin(), pairs.end(), [](const auto& p) { return !p.isTested(); }));
}

void TestTestsPage::aSetIsNamedAndUsed()
{
    clickRow("Every discipline");
    QVERIFY(at_->clickButton("addSet"));
    at_->waitIdle();
    QVERIFY(rowWith("Set 1") > 0);
    at_->type("setName", "Carrying");
    write("setLine", "class is Beam, Column");
    QTRY_COMPARE(count("setLine"), QString("4 elements"));
    commit("setLine");
    QTRY_COMPARE(at_->scene().display().painted.size(), std::size_t{4});
    clickRow("Structure × Piping");
    write("testLeft", "set \"Carrying\" and name has Column");
    QTRY_COMPARE(count("testLeft"), QString("1 element"));
    commit("testLeft");
    clickRow("Carrying");
    QVERIFY(!at_->field<QPushButton>("removeSet").isEnabled()); // it is in use
    // Its new name is known where it is used.
    at_->type("setName", "Bearing");
    QCOMPARE(sheet().tests[2].left, std::string("set \"Bearing\" and name has Column"));
    QVERIFY(clash::mistakesIn(sheet()).empty());
}

void TestTestsPage::meetingsAreSwitchedAndLookedAt()
{
    // Two pieces of one system, pushed into each other, in one member tested against itself.
    at_->clickStage("Deliveries");
    MadeModel piping;
    piping.name = "Piping";
    piping.boxes = {{"Pipe 1", {0, 3, 3.0}, {6.04, 3.2, 3.2}, "IFCPIPESEGMENT"},
                    {"Pipe 1b", {6, 3, 3.0}, {12, 3.2, 3.2}, "IFCPIPESEGMENT"}};
    std::string text = piping.text();
    const auto numberOf = [&](const std::string& name) {
        const std::size_t at = text.find("'" + MadeModel::guidOf(name) + "'"), hash = text.rfind('#', at);
        return text.substr(hash, text.find('=', hash) - hash);
    };
    text.insert(text.rfind("ENDSEC;"),
                "#9001=IFCRELCONNECTSELEMENTS('r',$,$,$,$," + numberOf("Pipe 1") + "," + numberOf("Pipe 1b") + ");\n");
    QFile file(at_->folder() + "/Piping P02.ifc");
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(QByteArray::fromStdString(text));
    file.close();
    QVERIFY(at_->takeIn(file.fileName().toStdString(), "Piping", "P02"));
    at_->clickStage("Clashes");
    clickRow("Every discipline");
    QVERIFY(at_->clickButton("addTest"));
    at_->waitIdle();
    write("testLeft", "discipline is Piping");
    commit("testLeft");
    at_->field<QCheckBox>("testOn").click();
    at_->waitIdle();
    at_->window().setFocus();
    press(Qt::Key_R);
    QCOMPARE(rows().row(rowWith("Test 7")).right, QString("0 pairs"));
    QVERIFY(rows().row(rowWith("Test 7")).subtitle.contains("1 expected"));
    clickRow("Test 7");
    QVERIFY2(at_->field<QCheckBox>("ignoreConnected").text().contains("1 pair"), "each rule says how many");
    QVERIFY(at_->clickButton("seeExpected"));
    at_->waitIdle();
    QCOMPARE(rows().rowCount(), 1);
    QVERIFY(rows().row(0).title.contains("Pipe 1") && rows().row(0).right == "connected");
    QVERIFY2(at_->details().contains("The model says that they are connected"), qPrintable(at_->details()));
    QCOMPARE(at_->scene().display().painted.size(), std::size_t{2});
    // Switched off, it is a pair like any other.
    QVERIFY(at_->clickButton("chip-tests"));
    clickRow("Test 7");
    at_->field<QCheckBox>("ignoreConnected").click();
    at_->waitIdle();
    at_->window().setFocus();
    press(Qt::Key_R);
    QCOMPARE(rows().row(rowWith("Test 7")).right, QString("1 pair"));
    // And on again: gone, and why.
    clickRow("Test 7");
    at_->field<QCheckBox>("ignoreConnected").click();
    at_->waitIdle();
    at_->window().setFocus();
    press(Qt::Key_R);
    const auto pairs = must(at_->project().clashes().all());
    const auto own = std::find_if(pairs.begin(), pairs.end(), [](const auto& p) { return p.test == "Test 7"; });
    QVERIFY(own != pairs.end());
    QCOMPARE(own->stateInWords(), std::string("gone: expected to meet"));
}

void TestTestsPage::sheetsAreSwitchedRenamedAndRemoved()
{
    clickRow("Every discipline");
    QVERIFY(!at_->field<QPushButton>("switchSheet").isEnabled()); // the usual one is nobody's yet
    QVERIFY(at_->clickButton("addSet"));
    at_->waitIdle();
    clickRow("Every discipline");
    at_->type("sheetName", "Coordination");
    QVERIFY(rowWith("Coordination") == 0);
    clickRow("Coordination");
    QVERIFY(at_->clickButton("switchSheet"));
    at_->waitIdle();
    QCOMPARE(rows().row(0).right, QString("off"));
    at_->window().setFocus();
    press(Qt::Key_R);
    QVERIFY2(at_->message().contains("Nothing was tested"), qPrintable(at_->message()));
    QVERIFY(at_->clickButton("switchSheet"));
    at_->waitIdle();
    clickRow("Coordination");
    QVERIFY(at_->clickButton("removeSheet"));
    at_->waitIdle();
    QCOMPARE(rows().row(0).title, QString("Every discipline")); // the usual one holds again
    press(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(rows().row(0).title, QString("Coordination"));
}

void TestTestsPage::aSheetGoesToAFileAndBack()
{
    clickRow("Every discipline");
    const QString file = at_->folder() + "/sheet.json";
    const auto saved = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("saveSheet"));
    QTRY_VERIFY(*saved);
    at_->waitIdle();
    QVERIFY(QFile::exists(file));
    const auto loaded = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("loadSheet"));
    QTRY_VERIFY(*loaded);
    at_->waitIdle();
    QVERIFY2(at_->message().contains("Test sheet loaded: Every discipline"), qPrintable(at_->message()));
    const auto sheets = must(at_->project().clashes().sheets());
    QVERIFY(sheets.size() == 1 && sheets[0].version == 1 && sheets[0].sheet.tests.size() == 6);
}

void TestTestsPage::brokenSheetsChangeNothing()
{
    for (const QByteArray& text : {QByteArray("{"), QByteArray(R"({"format": "wendrix-test-sheet", "formatVersion": 1,
             "name": "A", "tests": [{"name": "Ducts", "left": "everything", "kind": "soft"}]})")}) {
        QFile file(at_->folder() + "/broken.json");
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(text);
        file.close();
        const auto asked = at_->answerFileDialog({file.fileName()});
        QVERIFY(at_->clickButton("loadSheet"));
        QTRY_VERIFY(*asked);
        at_->waitIdle();
        QVERIFY2(at_->message().contains("broken.json"), qPrintable(at_->message()));
        QVERIFY(text == "{" || at_->message().contains("Test \"Ducts\", kind: one of these is expected"));
        QVERIFY(must(at_->project().clashes().sheets()).empty());
    }
}

void TestTestsPage::earlierVersionsComeBack()
{
    clickRow("Structure × Piping");
    auto& tolerance = at_->field<QDoubleSpinBox>("testTolerance");
    const auto set = [&](QDoubleSpinBox& spin, const QString& value) {
        spin.setFocus();
        spin.selectAll();
        QTest::keyClicks(&spin, value);
        QTest::keyClick(&spin, Qt::Key_Return);
        at_->waitIdle();
    };
    set(tolerance, "20");
    at_->window().setFocus();
    press(Qt::Key_R);
    clickRow("Structure × Piping");
    set(at_->field<QDoubleSpinBox>("testTolerance"), "50");
    QCOMPARE(must(at_->project().clashes().sheets())[0].version, 2);
    QCOMPARE(sheet().tests[2].tolerance, 0.05);
    clickRow("Every discipline");
    QVERIFY(at_->clickButton("version1"));
    at_->waitIdle();
    QCOMPARE(sheet().tests[2].tolerance, 0.02);
}

void TestTestsPage::beforeARunNothingIsSaidToBeTested()
{
    at_.reset();
    at_ = std::make_unique<test::OwnProject>();
    at_->openEmpty();
    at_->clickStage("Clashes");
    press(Qt::Key_T);
    QVERIFY(at_->words("Tests").contains("take in deliveries first"));
    QVERIFY(at_->clickButton("chip-untested"));
    at_->waitIdle();
    QCOMPARE(at_->field<QPushButton>("chip-untested").text(), QString("Not tested")); // no number: nobody knows
    QVERIFY2(at_->words("Tests").contains("No test has been run yet"), qPrintable(at_->words("Tests")));
    press(Qt::Key_V);
    QVERIFY(at_->window().findChild<QTableView*>("clashMatrix")->isVisible());
    press(Qt::Key_P);
    QVERIFY(at_->words("Tests").isEmpty() && at_->window().findChild<QWidget*>("clashPlan")->isVisible());
}

void TestTestsPage::whatIsNotTestedIsListed()
{
    at_->clickStage("Deliveries");
    MadeModel piping;
    piping.name = "Piping";
    piping.boxes = {{"Pipe 1", {0, 3, 3.0}, {12, 3.2, 3.2}, "IFCPIPESEGMENT"}};
    std::string text = piping.text();
    text.insert(text.rfind("ENDSEC;"),
                "#9001=IFCVALVE('" + MadeModel::guidOf("Bodiless") + "',$,'Bodiless valve',$,$,$,$,$,$);\n");
    QFile file(at_->folder() + "/Piping P02.ifc");
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(QByteArray::fromStdString(text));
    file.close();
    QVERIFY(at_->takeIn(file.fileName().toStdString(), "Piping", "P02"));
    at_->clickStage("Clashes");
    QVERIFY(at_->clickButton("chip-untested"));
    at_->waitIdle();
    const int row = rowWith("Bodiless valve");
    QVERIFY(row >= 0);
    QVERIFY2(rows().row(row).subtitle.contains("It has no body in the file"), qPrintable(rows().row(row).subtitle));
    clickRow("Bodiless valve");
    QVERIFY(at_->details().contains("Piping P02"));
}

void TestTestsPage::theSearchTakesSets()
{
    auto* field = at_->window().findChild<app::GoTo*>("goTo");
    auto* hits = at_->window().findChild<QListWidget*>("goToHits");
    const auto type = [&](const QString& words) {
        press(Qt::Key_K, Qt::ControlModifier);
        field->selectAll();
        QTest::keyClicks(field, words);
        at_->waitIdle();
    };
    type("class is Beam and name has 2");
    QTRY_VERIFY(hits->isVisible() && hits->item(0)->text().contains("1 element"));
    QTest::keyClick(field, Qt::Key_Return);
    at_->waitIdle();
    QVERIFY(at_->selectionWords().contains("Beam 2"));
    // What is not finished says what is expected, and what could come.
    type("class is ");
    QTRY_VERIFY(hits->item(0)->text().contains("a value is expected"));
    QVERIFY(!hits->findItems("… Beam", Qt::MatchStartsWith).isEmpty());
    hits->setCurrentItem(hits->findItems("… Beam", Qt::MatchStartsWith)[0]);
    QTest::keyClick(field, Qt::Key_Return);
    QCOMPARE(field->text(), QString("class is Beam "));
    QTRY_VERIFY(hits->isVisible() && hits->item(0)->text().contains("3 elements"));
    QTest::keyClick(field, Qt::Key_Return);
    QCOMPARE(at_->scene().display().selected.size(), std::size_t{3});
    // A name that begins like a field is found by its name still.
    type("Pipe 2");
    QTRY_VERIFY(!hits->findItems("Pipe 2", Qt::MatchStartsWith).isEmpty());
    QTest::keyClick(field, Qt::Key_Escape);
}

void TestTestsPage::coloursBySets()
{
    app::showWhatIsShown(*at_->window().findChild<app::Details*>(), at_->scene(), at_->session());
    auto& by = at_->field<QComboBox>("colourBy");
    by.setFocus();
    QTest::keyClick(&by, Qt::Key_End);
    at_->settle();
    write("colourSet0", "class is Beam");
    commit("colourSet0");
    at_->settle();
    QVERIFY(at_->clickButton("colourSetMore"));
    at_->settle();
    write("colourSet1", "discipline is Structure, Piping");
    commit("colourSet1");
    at_->settle();
    const auto& legend = at_->scene().legend();
    QCOMPARE(legend.size(), std::size_t{3});
    QVERIFY(legend[0].words == "class is Beam" && legend[0].count == 3);
    QCOMPARE(legend[1].count, std::size_t{3}); // the column and two pipes: beams have their colour
    QCOMPARE(legend[2].count, std::size_t{1}); // the wall, in none of them
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestTestsPage test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_tests_page.moc"
