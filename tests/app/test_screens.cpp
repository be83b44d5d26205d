#include "app/window_fixture.h"

#include "core/project/project.h"
#include "shell/go_to.h"

#include <QAbstractItemModelTester>
#include <QInputDialog>
#include <QListWidget>
#include <QTimer>

#include <set>

using namespace wendrix;
using test::must;

/// The screens as they are used: with nothing in them, with much in them, by keyboard only.
class TestScreens : public QObject {
    Q_OBJECT
private slots:
    void emptyProjectSaysWhatToDo();
    void fiveHundredPairs();
    void byKeyboardOnly();
    void hiddenMembersAreSaid();
    void aLateChoiceDoesNotSpeakForAnotherStage();
};

void TestScreens::emptyProjectSaysWhatToDo()
{
    test::WindowFixture at;
    auto project = project::Project::create((at.folder() + "/empty").toStdString(), "Empty",
                                            {"Ines Varga", "2026-01-01T00:00:00Z"});
    QVERIFY(project.has_value());
    at.session().open(std::move(*project));
    at.window().show();
    QVERIFY(QTest::qWaitForWindowExposed(&at.window()));
    at.session().loadModels();
    at.waitIdle();
    QVERIFY(at.details().contains("Add files"));
    for (const char* stage : {"Coordinates", "Changes", "Clashes", "Issues"}) {
        at.clickStage(stage);
        bool isSaid = false;
        for (const QLabel* label : at.list(stage).findChildren<QLabel*>())
            isSaid = isSaid || (label->isVisible() && label->text().size() > 40 && label->text().contains('.'));
        QVERIFY2(isSaid, stage);
    }
    at.clickStage("Clashes");
    QVERIFY(at.clickButton("runTests"));
    at.waitIdle();
    QVERIFY(at.message().contains("reference member is not taken in"));
    at.press(Qt::Key_F); // nothing chosen: nothing happens
    at.press(Qt::Key_J);
    at.press(Qt::Key_Z);
    QVERIFY(must(at.project().issues().all()).empty());
}

void TestScreens::fiveHundredPairs()
{
    test::WindowFixture at;
    at.openDemo();
    // Real elements, so that every row can be shown; each pair of its own.
    const auto& members = at.session().workspace().members;
    project::NewRun run;
    run.tests.emplace_back();
    run.tests[0].test.name = "Structure × Ventilation";
    run.tests[0].test.left = "discipline is Structure";
    run.tests[0].test.right = "discipline is Ventilation";
    std::set<std::pair<std::uint32_t, std::uint32_t>> known;
    for (const std::uint32_t m : {1u, 2u}) {
        const std::uint32_t n = m == 1 ? 400 : 180;
        for (ifc::ElementIndex e = 0; e < n; ++e)
            run.elements.push_back(
                {members[m].refOf(e), members[m].model->displayName(members[m].model->elements()[e]), "IfcBeam"});
    }
    for (std::uint32_t i = 0; i < 500; ++i)
        if (known.insert({i % 400, 400 + i % 180}).second)
            run.findings.push_back({0,
                                    i % 400,
                                    400 + i % 180,
                                    0.001 * static_cast<double>(i + 1),
                                    {},
                                    i % 2 == 0 ? "Level 1" : "Level 2",
                                    "B-C / 4",
                                    false});
    const auto& findings = run.findings;
    QVERIFY(at.change([&](project::Project& p) -> Result<void> {
        const auto done = project::recordRun(p, run, at.session().now());
        return done ? Result<void>() : fail(done.error());
    }));
    at.clickStage("Clashes");
    const app::RowModel& rows = at.rows("Clashes");
    QVERIFY(rows.rowCount() > 180);
    const QAbstractItemModelTester tester(at.list("Clashes").view().model(),
                                          QAbstractItemModelTester::FailureReportingMode::QtTest);
    // The counts add up: pairs under the groups are the pairs there are.
    std::size_t pairs = 0;
    for (int i = 0; i < rows.rowCount(); ++i)
        if (rows.row(i).level == 0)
            pairs += rows.row(i).right.section(' ', 0, 0).toULong();
    QCOMPARE(pairs, findings.size());
    // The ladder narrows to one storey and back.
    auto* ladder = at.window().findChild<app::StoreyLadder*>("ladder");
    QTest::mouseClick(ladder, Qt::LeftButton, {}, ladder->areaOf("Level 2").center());
    at.waitIdle();
    std::size_t onStorey = 0;
    for (int i = 0; i < rows.rowCount(); ++i)
        if (rows.row(i).level == 0)
            onStorey += rows.row(i).right.section(' ', 0, 0).toULong();
    QCOMPARE(onStorey, static_cast<std::size_t>(std::count_if(findings.begin(), findings.end(),
                                                              [](const auto& p) { return p.storey == "Level 2"; })));
    QVERIFY(at.scene().cuts().slice.has_value());
    QTest::mouseDClick(ladder, Qt::LeftButton, {}, ladder->areaOf("Roof").center());
    at.waitIdle();
    QVERIFY(at.scene().cuts().isEmpty());
    // Many at once: shift-click, one decision, one undo step.
    at.clickRow("Clashes", 0);
    QListView& view = at.list("Clashes").view();
    view.scrollTo(rows.index(9));
    QTest::mouseClick(view.viewport(), Qt::LeftButton, Qt::ShiftModifier, view.visualRect(rows.index(9)).center());
    at.waitIdle();
    at.press(Qt::Key_L);
    const auto decided = [&] {
        const auto all = must(at.project().clashes().all());
        return std::count_if(all.begin(), all.end(), [](const auto& p) { return p.decision == "later"; });
    };
    QVERIFY(decided() >= 4);
    at.press(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(decided(), 0);
}

void TestScreens::byKeyboardOnly()
{
    test::WindowFixture at;
    at.openDemo();
    at.press(Qt::Key_2, Qt::AltModifier);
    QCOMPARE(at.window().currentStage(), at.window().indexOf("Coordinates"));
    for (int i = 0; i < 2; ++i) { // the first member is chosen already, J goes to the second
        at.press(Qt::Key_A);
        at.press(Qt::Key_J);
        at.waitIdle();
    }
    QVERIFY(must(at.project().coordinates().fitInUse("Structure")).isLocked &&
            must(at.project().coordinates().fitInUse("Ventilation")).isLocked);
    at.press(Qt::Key_4, Qt::AltModifier);
    at.press(Qt::Key_R);
    at.waitIdle();
    at.press(Qt::Key_J);
    at.waitIdle();
    at.press(Qt::Key_C);
    QVERIFY(at.scene().cuts().slice.has_value());
    QVERIFY(at.selectionWords().contains("cut to"));
    at.press(Qt::Key_C);
    QVERIFY(at.scene().cuts().isEmpty());
    at.press(Qt::Key_F);
    QCOMPARE(must(at.project().issues().all()).size(), std::size_t{1});
    // Ctrl+K finds the issue by its number, Enter goes there.
    at.press(Qt::Key_K, Qt::ControlModifier);
    auto* field = at.window().findChild<app::GoTo*>("goTo");
    QVERIFY(field->hasFocus());
    QTest::keyClicks(field, "MSS-001");
    QVERIFY(at.window().findChild<QListWidget*>("goToHits")->count() >= 1);
    QTest::keyClick(field, Qt::Key_Return);
    at.waitIdle();
    QCOMPARE(at.window().currentStage(), at.window().indexOf("Issues"));
    QVERIFY(at.details().contains("MSS-001"));
    // An element by its name: it is chosen and looked at.
    at.press(Qt::Key_K, Qt::ControlModifier);
    QTest::keyClicks(field, "Lift car");
    QTest::keyClick(field, Qt::Key_Return);
    at.waitIdle();
    QVERIFY(at.selectionWords().contains("Lift car"));
    // The filter by keys: the next chip, and Space.
    at.press(Qt::Key_4, Qt::AltModifier);
    at.press(Qt::Key_Slash);
    auto* chip = qobject_cast<QAbstractButton*>(QApplication::focusWidget());
    QVERIFY(chip != nullptr && chip->objectName() == "chip-undecided");
    at.press(Qt::Key_Right);
    at.press(Qt::Key_Space);
    at.waitIdle();
    bool isOn = false;
    for (const auto* next : at.list("Clashes").findChildren<QAbstractButton*>("chip-new"))
        isOn = isOn || (next->isVisible() && next->isChecked());
    QVERIFY(isOn);
    // In a text field letters are letters.
    at.press(Qt::Key_K, Qt::ControlModifier);
    QTest::keyClicks(field, "hob");
    QVERIFY(at.scene().display().hidden.empty() && !at.scene().display().only);
}

void TestScreens::hiddenMembersAreSaid()
{
    test::WindowFixture at;
    at.openDemo();
    QVERIFY(at.clickButton("member-Architecture"));
    QVERIFY(at.selectionWords().contains("1 member switched off"));
    at.scene().colours().forEachDrawn(
        [](const view::ElementKey& key, const view::Colour&) { QVERIFY(key.member != 0); });
    QVERIFY(at.clickButton("member-Architecture"));
    QVERIFY(!at.selectionWords().contains("switched off"));
}

void TestScreens::aLateChoiceDoesNotSpeakForAnotherStage()
{
    test::WindowFixture at;
    at.openDemo();
    at.clickStage("Coordinates");
    at.list("Coordinates").choose("Ventilation"); // announced once the event loop runs
    at.window().showStage(at.window().indexOf("Deliveries"));
    at.waitIdle();
    QVERIFY(!at.details().contains("Fit Ventilation"));
    QVERIFY(at.details().contains("SHA-256"));
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestScreens test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_screens.moc"
