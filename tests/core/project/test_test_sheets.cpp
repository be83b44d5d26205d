#include <QTest>

#include "core/federation/grid_fit.h"
#include "core/project/demo_project.h"
#include "core/project/issue_making.h"
#include "core/project/test_sheets.h"
#include "core/project/workspace.h"
#include "support/demo.h"
#include "support/made_project.h"
#include "support/must.h"

#include <QTemporaryDir>

using namespace wendrix;
using namespace wendrix::project;
using test::kInes;
using test::must;

/// Test sheets in a project: kept in versions, run, and compared with what was run.
class TestTestSheets : public QObject {
    Q_OBJECT
private slots:
    void init();
    void areKeptInVersions();
    void aChangeIsUndone();
    void withoutOneTheUsualOneHolds();
    void whatIsOffIsNotRun();
    void setsPickWhatIsTested();
    void wrongLinesAreToldByTheRun();
    void expectedMeetingsAreCountedAndKept();
    void aChangedTestIsNotUpToDate();
    void setsAskForIssuesAndChanges();

private:
    [[nodiscard]] clash::TestSheet sheetOf(const std::string& left, const std::string& right = {}) const
    {
        clash::TestSheet sheet;
        sheet.name = "Own";
        sheet.tests.emplace_back();
        sheet.tests[0].name = "Own test";
        sheet.tests[0].left = left;
        sheet.tests[0].right = right;
        return sheet;
    }
    /// The demo's models, where they stand right.
    void useDemo();
    [[nodiscard]] NewRun run()
    {
        const WorkspaceOrder order = must(orderOf(*project_));
        Workspace moved = workspace_;
        refit(moved, order);
        return must(runTests(moved, order, progress_));
    }

    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<Project> project_;
    Workspace workspace_;
    Progress progress_;
};

void TestTestSheets::init()
{
    project_.reset();
    workspace_ = {};
    folder_ = std::make_unique<QTemporaryDir>();
    project_ = test::madeProject((folder_->path() + "/p").toStdString(), {"Structure", "Ventilation", "Piping"});
}

void TestTestSheets::useDemo()
{
    project_.reset();
    project_ =
        must(makeDemoProject(test::demoFolder() + "/data", (folder_->path() + "/demo").toStdString(), progress_));
    workspace_ = must(load(must(orderOf(*project_)), {}, progress_));
    const federation::Member& reference = *workspace_.find("Architecture");
    for (const Delivery& d : must(project_->deliveries().allInUse())) {
        StoredFit asDelivered;
        asDelivered.isAccepted = true;
        QVERIFY(project_->coordinates().setFit(d.discipline, asDelivered, kInes).has_value());
    }
    for (const char* discipline : {"Structure", "Ventilation"}) {
        const auto own = federation::fitByGrids(*reference.model, *workspace_.find(discipline)->model);
        QVERIFY(own.has_value());
        StoredFit fit;
        fit.fit = own->fit;
        fit.isAccepted = true;
        QVERIFY(project_->coordinates().setFit(discipline, fit, kInes).has_value());
    }
}

void TestTestSheets::areKeptInVersions()
{
    clash::TestSheet sheet = sheetOf("everything");
    QVERIFY(project_->clashes().keepSheet(sheet, "Test sheet: Own", kInes).has_value());
    sheet.tests[0].tolerance = 0.02;
    QVERIFY(project_->clashes().keepSheet(sheet, "Test changed: Own test", test::kJon).has_value());
    // Whoever goes on with what nobody ran makes no version more.
    sheet.tests[0].tolerance = 0.03;
    QVERIFY(project_->clashes().keepSheet(sheet, "Test changed: Own test", test::kJon).has_value());
    QCOMPARE(must(project_->clashes().sheets())[0].version, 2);
    QVERIFY(recordRun(*project_, test::MadeRun(*project_, {"Structure", "Ventilation"}).run, test::kJon).has_value());
    QVERIFY(project_->clashes().keepSheet(sheet, "Test changed: Own test", test::kJon).has_value());
    QCOMPARE(must(project_->clashes().sheets())[0].version, 3);
    QVERIFY(project_->undo(test::kJon).has_value());
    clash::TestSheet other = sheetOf("class is Wall");
    other.name = "Another";
    QVERIFY(project_->clashes().keepSheet(other, "Test sheet: Another", kInes).has_value());
    const auto sheets = must(project_->clashes().sheets());
    QCOMPARE(sheets.size(), std::size_t{2});
    QVERIFY(sheets[0].sheet.name == "Own" && sheets[0].version == 2 && sheets[0].by.person == "Jon Alder" &&
            sheets[0].sheet.tests[0].tolerance == 0.03 && sheets[1].version == 1);
    const auto versions = must(project_->clashes().versionsOf("Own"));
    QVERIFY(versions.size() == 2 && versions[0].sheet.tests[0].tolerance == 0.005);
    QVERIFY(project_->clashes().renameSheet("Own", "Ours", kInes).has_value());
    QCOMPARE(must(project_->clashes().versionsOf("Ours")).size(), std::size_t{2});
    QCOMPARE(project_->clashes().renameSheet("Ours", "Another", kInes).error().code, clash::kBadSheet);
    QCOMPARE(project_->clashes().removeSheet("Own", kInes).error().code, clash::kBadSheet);
    QVERIFY(project_->clashes().removeSheet("Ours", kInes).has_value());
    QCOMPARE(must(project_->clashes().sheets()).size(), std::size_t{1});
    QVERIFY(!project_->clashes().keepSheet({}, "No name", kInes).has_value());
}

void TestTestSheets::aChangeIsUndone()
{
    QVERIFY(project_->clashes().keepSheet(sheetOf("everything"), "Test sheet: Own", kInes).has_value());
    QVERIFY(project_->clashes().keepSheet(sheetOf("class is Wall"), "Test changed", kInes).has_value());
    QVERIFY(project_->clashes().switchSheet("Own", false, kInes).has_value());
    QVERIFY(!must(project_->clashes().sheets())[0].isOn);
    QVERIFY(project_->undo(kInes).has_value() && project_->undo(kInes).has_value());
    const auto sheets = must(project_->clashes().sheets());
    QVERIFY(sheets.size() == 1 && sheets[0].isOn && sheets[0].version == 1 &&
            sheets[0].sheet.tests[0].left == "everything");
    QVERIFY(project_->undo(kInes).has_value());
    QVERIFY(must(project_->clashes().sheets()).empty());
}

void TestTestSheets::withoutOneTheUsualOneHolds()
{
    useDemo();
    for (const KeptSheet& kept : must(project_->clashes().sheets()))
        QVERIFY(project_->clashes().removeSheet(kept.sheet.name, kInes).has_value());
    const auto sheets = must(sheetsInForce(*project_));
    QVERIFY(sheets.size() == 1 && sheets[0].version == 0);
    const std::size_t n = must(project_->deliveries().allInUse()).size(); // of its disciplines, the ones present
    QCOMPARE(sheets[0].sheet.tests.size(), n * (n - 1) / 2 + n);
    const NewRun made = run();
    QCOMPARE(made.tests.size(), sheets[0].sheet.tests.size());
    for (const RunTest& t : made.tests)
        QVERIFY2(t.state == clash::TestState::Run, t.why.c_str());
    QVERIFY(!made.findings.empty());
}

void TestTestSheets::whatIsOffIsNotRun()
{
    useDemo();
    const std::size_t before = run().tests.size();
    clash::TestSheet sheet = must(project_->clashes().sheets())[0].sheet;
    sheet.tests[0].isOn = false;
    QVERIFY(project_->clashes().keepSheet(sheet, "Test switched off", kInes).has_value());
    QCOMPARE(run().tests.size(), before - 1);
    QVERIFY(project_->clashes().switchSheet(sheet.name, false, kInes).has_value());
    QCOMPARE(run().tests.size(), std::size_t{0});
}

void TestTestSheets::setsPickWhatIsTested()
{
    useDemo();
    clash::TestSheet sheet = sheetOf("set \"Beams\"", "discipline is Ventilation");
    sheet.sets.push_back({"Beams", "discipline is Structure and class is Beam"});
    sheet.tests.push_back(sheet.tests[0]);
    sheet.tests[1].name = "All of structure";
    sheet.tests[1].left = "discipline is Structure";
    QVERIFY(project_->clashes().keepSheet(sheet, "Test sheet", kInes).has_value());
    const NewRun made = run();
    const auto own =
        std::find_if(made.tests.begin(), made.tests.end(), [](const RunTest& t) { return t.test.name == "Own test"; });
    QVERIFY(own != made.tests.end() && own->state == clash::TestState::Run);
    QCOMPARE(own->test.left, std::string("discipline is Structure and class is Beam")); // whole
    std::size_t ofBeams = 0, ofAll = 0;
    for (const RunFinding& f : made.findings) {
        const RunElement& left = made.elements[f.left];
        if (made.tests[f.test].test.name == "Own test") {
            QCOMPARE(left.className, std::string("IfcBeam"));
            ++ofBeams;
        }
        ofAll += made.tests[f.test].test.name == "All of structure" && left.className == "IfcBeam" ? 1 : 0;
    }
    QVERIFY(ofBeams > 0);
    QCOMPARE(ofBeams, ofAll);
    // A pair that only sets which no longer pick it had found is not gone but not tested.
    sheet.tests.resize(1);
    QVERIFY(project_->clashes().switchSheet(must(project_->clashes().sheets())[0].sheet.name, false, kInes));
    QVERIFY(project_->clashes().keepSheet(sheet, "Only beams", kInes).has_value());
    QVERIFY(recordRun(*project_, run(), kInes).has_value());
    QCOMPARE(must(project_->clashes().all()).size(), ofBeams);
    sheet.tests[0].left = "discipline is Structure and class is Column";
    QVERIFY(project_->clashes().keepSheet(sheet, "Only columns", kInes).has_value());
    QVERIFY(recordRun(*project_, run(), kInes).has_value());
    for (const Pair& p : must(project_->clashes().all()))
        if (p.left.className == "IfcBeam")
            QCOMPARE(p.outcome, clash::Outcome::NoTest);
}

void TestTestSheets::wrongLinesAreToldByTheRun()
{
    useDemo();
    clash::TestSheet sheet = sheetOf("class is", "everything");
    sheet.tests.push_back(sheet.tests[0]);
    sheet.tests[1].name = "Nobody";
    sheet.tests[1].left = "name is \"no such thing\"";
    QVERIFY(project_->clashes().keepSheet(sheet, "Test sheet", kInes).has_value());
    QVERIFY(recordRun(*project_, run(), kInes).has_value());
    const Run last = *must(project_->clashes().lastRun());
    const std::string words = last.inWords();
    QVERIFY2(words.find("Own test (left: a value is expected after this") != std::string::npos, words.c_str());
    QVERIFY2(words.find("Nobody lacks a side") != std::string::npos, words.c_str());
}

void TestTestSheets::expectedMeetingsAreCountedAndKept()
{
    test::MadeRun made(*project_, {"Structure", "Ventilation", "Piping"});
    const ElementRef beam = made.ref("Structure", "beam");
    made.pair(beam, made.ref("Ventilation", "duct")).expect(beam, made.ref("Piping", "pipe"));
    made.run.tests[1].expected[clash::Meeting::Connected] = 1;
    QVERIFY(recordRun(*project_, made.run, kInes).has_value());
    const auto expected = must(project_->clashes().expected(10));
    QCOMPARE(expected.size(), std::size_t{1});
    QVERIFY(expected[0].rule == clash::Meeting::Connected && expected[0].right.ref.guid == "pipe" &&
            expected[0].test == "Structure × Piping");
    QCOMPARE(must(project_->clashes().lastRun())->tests[1].expected.at(clash::Meeting::Connected), std::size_t{1});
    QCOMPARE(must(project_->clashes().all()).size(), std::size_t{1}); // it is no pair
    // The next run's are those; undone, nothing is known of what the one before left out.
    QVERIFY(recordRun(*project_, test::MadeRun(*project_, {"Structure", "Ventilation"}).run, kInes).has_value());
    QVERIFY(must(project_->clashes().expected(10)).empty());
    QVERIFY(project_->undo(kInes).has_value());
    QVERIFY(must(project_->clashes().expected(10)).empty());
}

void TestTestSheets::aChangedTestIsNotUpToDate()
{
    clash::TestSheet sheet = sheetOf("set \"All\"");
    sheet.sets.push_back({"All", "everything"});
    QVERIFY(project_->clashes().keepSheet(sheet, "Test sheet", kInes).has_value());
    const auto tests = [&] { return testsOf(must(project_->clashes().sheets())); };
    Run last;
    last.tests = tests();
    QVERIFY(notRunAsTheyAre(tests(), last).empty());
    sheet.tests[0].name = "Renamed only";
    QVERIFY(project_->clashes().keepSheet(sheet, "Renamed", kInes).has_value());
    QVERIFY(notRunAsTheyAre(tests(), last).empty());
    sheet.sets[0].line = "class is Wall"; // what it names has changed
    QVERIFY(project_->clashes().keepSheet(sheet, "Set changed", kInes).has_value());
    QCOMPARE(notRunAsTheyAre(tests(), last), std::vector<std::string>{"Renamed only"});
}

void TestTestSheets::setsAskForIssuesAndChanges()
{
    test::MadeRun made(*project_, {"Structure", "Ventilation", "Piping"});
    QVERIFY(recordRun(*project_, made.pair(made.ref("Structure", "beam"), made.ref("Ventilation", "duct")).run, kInes));
    const Pair pair = must(project_->clashes().all())[0];
    issues::Issue issue = draftIssue("Lower it", std::span(&pair, 1), kInes.time);
    issues::Viewpoint viewpoint;
    viewpoint.uuid = "11111111-2222-3333-4444-555555555555";
    viewpoint.selection = {pair.left.element};
    issue.viewpoints = {viewpoint};
    QVERIFY(makeIssue(*project_, issue, std::span(&pair.id, 1), kInes).has_value());
    const auto known = [&](const char* line) { return must(knowledgeFor(*project_, *sets::parse(line).expression)); };
    QCOMPARE(known("has issue").withIssue("").size(), std::size_t{1});
    QCOMPARE(known("has issue").withIssue("")[0], pair.left.element);
    QCOMPARE(known("has issue open").withIssue("open").size(), std::size_t{1});
    QVERIFY(known("has issue closed").withIssue("closed").empty());
    const std::string uuid = must(project_->issues().all())[0].uuid;
    QVERIFY(project_->issues().setStatus(uuid, issues::status::kClosed, "", kInes).has_value());
    QVERIFY(known("has issue").withIssue("").empty());
    QCOMPARE(known("has issue closed").withIssue("closed").size(), std::size_t{1});

    const DeliveryId p01 = test::received(*project_, "Piping", "P01"),
                     p02 = test::received(*project_, "Piping", "P02", "2026-11-01T09:00:00Z");
    QVERIFY(takeIn(*project_, {p01, {}, {}}, kInes).has_value());
    NewComparison comparison;
    comparison.discipline = test::idOf(*project_, "Piping");
    comparison.record.from = p01;
    comparison.record.to = p02;
    ChangeRecord moved, removed;
    moved.element = made.ref("Piping", "moved");
    moved.kinds = Moved;
    removed.element = made.ref("Piping", "removed");
    removed.kinds = Removed;
    comparison.changes = {moved, removed};
    TakeIn record{p02, {}, {}};
    record.comparison = comparison;
    QVERIFY(takeIn(*project_, record, test::kJon).has_value()); // on 2026-11-19
    const auto changed = [&](const std::string& since) {
        return known(("changed since " + since).c_str()).changedSince(since);
    };
    QCOMPARE(changed("2026-11-19").size(), std::size_t{1});
    QCOMPARE(changed("2026-11-19")[0].guid, std::string("moved"));
    QVERIFY(changed("2026-11-20").empty());
    QCOMPARE(changed("1").size(), std::size_t{1});
    QVERIFY(changed("2").empty());
}

QTEST_GUILESS_MAIN(TestTestSheets)
#include "test_test_sheets.moc"
