#include "window_fixture.h"

#include "core/project/backups.h"
#include "shell/composition_bar.h"
#include "support/demo.h"

#include <filesystem>

using namespace wendrix;

/// What the window says and does when what is kept is not sound, and what it holds of earlier revisions.
class TestKept : public QObject {
    Q_OBJECT
private slots:
    void aMissingFileIsSaidAndPutBack();
    void damageElsewhereIsFoundBesideTheWork();
    void oneEarlierRevisionIsHeld();
    void whatAnOlderDatabaseLacksIsBroughtIn();
};

void TestKept::aMissingFileIsSaidAndPutBack()
{
    test::WindowFixture at;
    at.openDemo(1);
    const std::size_t all = at.session().workspace().members.size();
    const auto structure = at.delivery("Structure P01");
    const auto file = at.project().deliveries().fileOf(structure.models()[0]);
    std::filesystem::remove(file);
    at.openAgain();
    at.waitIdle();
    QCOMPARE(at.session().workspace().members.size(), all - 1);
    QVERIFY(at.session().workspace().find("Structure") == nullptr);
    QVERIFY2(at.message().contains("Structure P01 is not there"), qPrintable(at.message()));
    QVERIFY(at.message().contains("receive the same file again"));
    // What can not be shown can not be taken in, and the tests say what they did not test.
    at.session().runTests();
    at.waitIdle();
    const auto run = test::must(at.project().clashes().lastRun());
    QVERIFY(run.has_value());
    QVERIFY(std::any_of(run->members.begin(), run->members.end(), [](const project::RunMember& m) {
        return m.discipline == "Structure" && !m.isTested && !m.why.empty();
    }));
    // The same file dropped once more puts it back, and it is shown again.
    at.clickStage("Deliveries");
    at.drop({QString::fromStdString(test::demoFolder() + "/data/MSS-TBF-STR-P01.ifc")});
    at.waitIdle();
    QVERIFY(std::filesystem::exists(file));
    QTRY_COMPARE_WITH_TIMEOUT(at.session().workspace().members.size(), all, 60'000);
}

void TestKept::damageElsewhereIsFoundBesideTheWork()
{
    test::WindowFixture at;
    at.openDemo(2);
    // One that waits is not opened, so only the check of the whole comes across it.
    const auto waiting = at.delivery("Structure P02");
    std::filesystem::resize_file(at.project().deliveries().fileOf(waiting.models()[0]), 500);
    at.openAgain();
    constexpr int kPatience = 60'000;
    QTRY_VERIFY_WITH_TIMEOUT(
        at.message().contains("Structure P02: its file MSS-TBF-STR-P02.ifc is no longer what was received"), kPatience);
}

void TestKept::oneEarlierRevisionIsHeld()
{
    test::WindowFixture at;
    at.openDemo(2);
    const auto waiting = at.delivery("Structure P02");
    for (int i = 0; i < 5; ++i) {
        at.session().takeIn(waiting.id);
        at.waitIdle();
        QCOMPARE(at.session().workspace().find("Structure")->revision, std::string("P02"));
        QCOMPARE(at.session().previous().allOf("Structure").size(), std::size_t{1});
        const auto* model = at.session().previous().find("Structure")->model.get();
        at.session().undo();
        at.waitIdle();
        QCOMPARE(at.session().workspace().find("Structure")->revision, std::string("P01"));
        QVERIFY(at.session().workspace().find("Structure")->model.get() == model); // the very same, not read again
        QVERIFY(at.session().previous().members.size() <= at.session().workspace().members.size());
    }
}

void TestKept::whatAnOlderDatabaseLacksIsBroughtIn()
{
    test::WindowFixture at;
    at.openDemo(1);
    const auto folder = at.project().folder();
    QTRY_VERIFY(!project::backupsOf(folder).empty());
    const auto before = project::backupsOf(folder).front();
    QVERIFY(at.change([&](project::Project& p) {
        return p.setup().setMemberGroup({"Services", {"Piping"}}, at.session().now());
    }));
    const auto decided = [&] { return test::must(at.project().setup().memberGroups()).size(); };
    const std::size_t all = decided();
    QCOMPARE(all, std::size_t{1});
    at.session().open(nullptr);
    QVERIFY(project::putBack(folder, before).has_value());
    at.session().open(test::must(project::Project::open(folder)));
    at.waitIdle();
    QVERIFY(decided() < all);
    QTRY_VERIFY2(at.message().contains("lacks 1 step that was decided in it"), qPrintable(at.message()));
    auto* history = at.window().findChild<QAction*>("projectHistory");
    QVERIFY(history != nullptr);
    history->trigger();
    QVERIFY(at.details().contains("1 step is kept, but not in this project"));
    QVERIFY(at.clickButton("bringStepsIn"));
    at.waitIdle();
    QVERIFY2(at.message().contains("1 step brought in"), qPrintable(at.message()));
    QCOMPARE(decided(), all);
    QTRY_VERIFY(!at.details().contains("kept, but not in this project"));
    // And it can be taken back like anything else.
    at.press(Qt::Key_Z, Qt::ControlModifier);
    at.waitIdle();
    QVERIFY(decided() < all);
}

QTEST_MAIN(TestKept)
#include "test_kept.moc"
