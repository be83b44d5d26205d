#include <QTest>

#include "core/project/clash_list.h"
#include "core/project/issue_list.h"
#include "core/project/issue_making.h"
#include "support/made_project.h"
#include "support/must.h"

#include <QTemporaryDir>

#include <random>

using namespace wendrix;
using namespace wendrix::project;
using clash::Outcome;
using clash::PairState;
using clash::Presence;
using test::kInes;
using test::kJon;
using test::MadeRun;
using test::must;

/// What runs leave in a project: which pair is which, what became of it, and what rests on that.
class TestRuns : public QObject {
    Q_OBJECT
private slots:
    void init();
    void elementsOfOneGlobalIdAreKeptApart();
    void aPairIsTheSameUnderAnyTestAndSide();
    void renewedIdsAndNewNamesKeepDecisions();
    void aRenameIsUndone();
    void onlyWhatWasTestedIsGone_data();
    void onlyWhatWasTestedIsGone();
    void evidenceRestsOnGoneAlone();
    void aRunIsWithdrawnAndBroughtBackByItsId();
    void aRunSaysWhatItCovered();
    void theListAddsUp();
    void whatIsDecidedIsFollowed();
    void issuesSortByNumber();

private:
    [[nodiscard]] RunSummary record(const MadeRun& made, const WhoAndWhen& who = kInes)
    {
        return must(recordRun(*project_, made.run, who));
    }
    [[nodiscard]] MadeRun made() const { return MadeRun(*project_, {"Structure", "Ventilation", "Piping"}); }
    [[nodiscard]] Pair only() const
    {
        const auto all = must(project_->clashes().all());
        return all.size() == 1 ? all[0] : Pair{};
    }

    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<Project> project_;
};

void TestRuns::init()
{
    project_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    project_ = test::madeProject((folder_->path() + "/p").toStdString(), {"Structure", "Ventilation", "Piping"});
}

void TestRuns::elementsOfOneGlobalIdAreKeptApart()
{
    // Two ducts that share a GlobalId in one file, and the same id once more in another model of the delivery, all meet
    // one beam.
    MadeRun run = made();
    const ElementRef beam = run.ref("Structure", "beam");
    run.pair(beam, run.ref("Ventilation", "duct", 0), 0.3)
        .pair(beam, run.ref("Ventilation", "duct", 1), 0.2)
        .pair(beam, run.ref("Ventilation", "duct", 0, "roof"), 0.1);
    QCOMPARE(record(run).found, std::size_t{3});
    const auto pairs = must(project_->clashes().all());
    QCOMPARE(pairs.size(), std::size_t{3});
    QVERIFY(pairs[0].right.element.ordinal == 0 && pairs[1].right.element.ordinal == 1 &&
            pairs[2].right.element.part == "roof");
    QCOMPARE(must(project_->clashes().ofElement(run.ref("Ventilation", "duct", 1))).size(), std::size_t{1});
    QCOMPARE(must(project_->clashes().ofElement(beam)).size(), std::size_t{3});
    // One is decided, and stays the one; the issue of another is about that one alone.
    QVERIFY(project_->clashes().decide(std::span(&pairs[1].id, 1), "let stand", "", kInes).has_value());
    issues::Issue issue;
    issue.title = "The one on the roof";
    issues::Viewpoint viewpoint;
    viewpoint.uuid = "11111111-2222-3333-4444-555555555555";
    viewpoint.selection = {pairs[2].left.element, pairs[2].right.element};
    issue.viewpoints = {viewpoint};
    QVERIFY(makeIssue(*project_, issue, std::span(&pairs[2].id, 1), kInes).has_value());
    QCOMPARE(must(project_->issues().about(run.ref("Ventilation", "duct", 0, "roof"))).size(), std::size_t{1});
    QVERIFY(must(project_->issues().about(run.ref("Ventilation", "duct", 0))).empty());
    QCOMPARE(record(run).found, std::size_t{3});
    QCOMPARE(must(project_->clashes().all())[1].decision, std::string("let stand"));
    QCOMPARE(must(project_->clashes().all())[2].decision, std::string("fix"));
    QVERIFY(must(project_->clashes().all())[0].decision.empty());
}

void TestRuns::aPairIsTheSameUnderAnyTestAndSide()
{
    MadeRun first = made();
    (void)record(first.pair(first.ref("Structure", "a"), first.ref("Piping", "b")));
    const PairId id = only().id;
    QVERIFY(project_->clashes().decide(std::span(&id, 1), "later", "", kInes).has_value());
    // The other side left, in a test of another name.
    MadeRun second = made();
    for (RunTest& t : second.run.tests) {
        std::swap(t.test.left, t.test.right);
        t.test.name = "Another sheet";
    }
    (void)record(second.pair(second.ref("Piping", "b"), second.ref("Structure", "a")));
    QCOMPARE(only().id, id);
    QVERIFY(only().state == PairState::StillThere && only().decision == "later" && only().test == "Another sheet");
    QCOMPARE(only().left.discipline, std::string("Piping")); // shown as it was found last
    // Another kind of test is another pair.
    for (RunTest& t : second.run.tests)
        t.test.kind = clash::Kind::Duplicate;
    (void)record(second);
    QCOMPARE(must(project_->clashes().all()).size(), std::size_t{2});
}

void TestRuns::renewedIdsAndNewNamesKeepDecisions()
{
    const DeliveryId p01 = test::received(*project_, "Piping", "P01"),
                     p02 = test::received(*project_, "Piping", "P02", "2026-11-01T09:00:00Z");
    QVERIFY(takeIn(*project_, {p01, {}, {}}, kInes).has_value());
    MadeRun first = made();
    (void)record(first.pair(first.ref("Structure", "a"), first.ref("Piping", "old")));
    const PairId id = only().id;
    issues::Issue issue;
    issue.title = "Lower it";
    QVERIFY(makeIssue(*project_, issue, std::span(&id, 1), kInes).has_value());
    QVERIFY(project_->setup().renameDiscipline("Piping", "Heating", kInes).has_value());
    QCOMPARE(only().right.discipline, std::string("Heating"));
    // The sender renewed its ids, and calls its model otherwise.
    MadeRun second(*project_, {"Structure", "Ventilation", "Heating"});
    NewComparison renewed;
    renewed.discipline = test::idOf(*project_, "Heating");
    renewed.record.from = p01;
    renewed.record.to = p02;
    renewed.continuations = {{second.ref("Heating", "new", 0, "north"), second.ref("Heating", "old")}};
    second.pair(second.ref("Heating", "new", 0, "north"), second.ref("Structure", "a"));
    QVERIFY(takeIn(*project_, {p02, renewed, second.run}, kInes).has_value());
    QCOMPARE(only().id, id);
    QVERIFY(only().state == PairState::StillThere && !only().issue.empty() && only().decision == "fix");
    QVERIFY(only().left.element.guid == "new" && only().left.discipline == "Heating");
    // Undone, the pair is known by the name it had.
    QVERIFY(project_->undo(kInes).has_value());
    QVERIFY(only().state == PairState::New && only().right.element.guid == "old");
}

void TestRuns::aRenameIsUndone()
{
    QVERIFY(takeIn(*project_, {test::received(*project_, "Piping", "P01"), {}, {}}, kInes).has_value());
    QVERIFY(project_->coordinates().setFit("Piping", {}, kInes).has_value());
    QVERIFY(!project_->setup().renameDiscipline("Piping", "Structure", kInes)); // taken
    QVERIFY(!project_->setup().renameDiscipline("Gardens", "Parks", kInes) &&
            !project_->setup().renameDiscipline("Piping", "", kInes));
    QVERIFY(project_->setup().renameDiscipline("Piping", "Heating", kInes).has_value());
    QVERIFY(must(project_->deliveries().inUse("Heating")).has_value() &&
            must(project_->coordinates().fitInUse("Heating")).id != 0);
    QVERIFY(project_->undo(kInes).has_value());
    QVERIFY(must(project_->deliveries().inUse("Piping")).has_value() &&
            !must(project_->deliveries().inUse("Heating")).has_value());
    QVERIFY(must(project_->coordinates().fitInUse("Piping")).id != 0);
    QVERIFY(project_->redo(kInes).has_value());
    QVERIFY(must(project_->deliveries().inUse("Heating")).has_value());
}

void TestRuns::onlyWhatWasTestedIsGone_data()
{
    QTest::addColumn<int>("presence"); // of the pipe
    QTest::addColumn<double>("tolerance");
    QTest::addColumn<QString>("test"); // of the second run
    QTest::addColumn<QString>("words");
    const auto row = [](const char* name, Presence presence, double tolerance, const char* test, const char* words) {
        QTest::newRow(name) << static_cast<int>(presence) << tolerance << test << words;
    };
    row("tested again", Presence::Tested, 0.005, "run", "gone");
    row("tested more closely", Presence::Tested, 0.001, "run", "gone");
    row("removed", Presence::Removed, 0.005, "run", "gone: removed");
    row("expected to meet", Presence::Tested, 0.005, "expected", "gone: expected to meet");
    row("not picked", Presence::Tested, 0.005, "other sets", "not tested: no test brings these two together any more");
    row("tested more loosely", Presence::Tested, 0.05, "run", "not tested: the test asks for other distances now");
    row("cancelled", Presence::Tested, 0.005, "cancelled", "not tested: the test was cancelled");
    row("test taken away", Presence::Tested, 0.005, "none", "not tested: no test brings these two together any more");
    row("not in the federation", Presence::NotMember, 0.005, "run",
        "not tested: its member is not in the federation that was tested");
    row("off its place", Presence::OffPlace, 0.005, "run",
        "not tested: its member does not stand right on the reference");
    row("left out", Presence::LeftOut, 0.005, "run", "not tested: its class is left out");
    row("not built", Presence::NotBuilt, 0.005, "run", "not tested: its body could not be built");
}

void TestRuns::onlyWhatWasTestedIsGone()
{
    QFETCH(int, presence);
    QFETCH(double, tolerance);
    QFETCH(QString, test);
    QFETCH(QString, words);
    MadeRun first = made();
    const ElementRef beam = first.ref("Structure", "beam"), pipe = first.ref("Piping", "pipe");
    (void)record(first.pair(beam, pipe));
    MadeRun second = made();
    second.run.presence = [&](const ElementRef& ref, const std::string& className) {
        return className == "IfcBeam" && ref == pipe ? static_cast<Presence>(presence) : Presence::Tested;
    };
    if (test == "none")
        second.run.tests.clear();
    if (test == "expected")
        second.expect(beam, pipe);
    if (test == "other sets")
        second.run.sides = [&](const NewRun&, std::uint32_t, const ElementRef& ref) {
            return TestSides{ref == beam, false};
        };
    for (RunTest& t : second.run.tests) {
        t.test.tolerance = tolerance;
        t.state = test == "cancelled" ? clash::TestState::Cancelled : clash::TestState::Run;
    }
    const RunSummary summary = record(second);
    QCOMPARE(QString::fromStdString(only().stateInWords()), words);
    const bool isGone = words.startsWith("gone");
    QCOMPARE(only().isGone(), isGone);
    QCOMPARE(summary.gone, isGone ? std::size_t{1} : std::size_t{0});
    QCOMPARE(summary.notTested, isGone ? std::size_t{0} : std::size_t{1});
    // Found once more: what was gone is back, what was only not tested was there all the time.
    (void)record(first);
    QVERIFY(only().state == (isGone ? PairState::Back : PairState::StillThere));
    const auto history = must(project_->clashes().historyOf(only().id));
    QCOMPARE(history.size(), std::size_t{3});
    QVERIFY(history[0].outcome == Outcome::Found && clash::isGone(history[1].outcome) == isGone &&
            history[2].outcome == Outcome::Found);
}

void TestRuns::evidenceRestsOnGoneAlone()
{
    MadeRun first = made();
    const ElementRef beam = first.ref("Structure", "beam");
    (void)record(first.pair(beam, first.ref("Piping", "one"), 0.3)
                     .pair(beam, first.ref("Piping", "two"), 0.2)
                     .pair(beam, first.ref("Piping", "three"), 0.1));
    std::vector<PairId> ids;
    for (const Pair& p : must(project_->clashes().all()))
        ids.push_back(p.id);
    issues::Issue issue;
    issue.title = "Three pipes";
    QVERIFY(makeIssue(*project_, issue, ids, kInes).has_value());
    const std::string uuid = must(project_->issues().all())[0].uuid;
    QCOMPARE(must(evidenceOf(*project_, uuid)).inShort(), std::string("none of 3 gone"));
    MadeRun second = made();
    second.run.presence = [&](const ElementRef& ref, const std::string&) {
        return ref.guid == "two" ? Presence::LeftOut : Presence::Tested;
    };
    (void)record(second.pair(beam, second.ref("Piping", "one"), 0.3));
    const issues::Evidence evidence = must(evidenceOf(*project_, uuid));
    QVERIFY(!evidence.isSettled());
    QCOMPARE(evidence.inShort(), std::string("1 of 3 gone, 1 not tested"));
    QVERIFY2(evidence.inWords().starts_with("Of its 3 pairs, 1 is gone, 1 is still there and 1 was not tested. Not "
                                            "tested, since its class is left out: Element two."),
             evidence.inWords().c_str());
    const auto row = [&](IssueFilter filter) {
        IssueQuestion question;
        question.filter = filter;
        return IssueList(must(issueKnowledge(*project_, "", kInes.person, kInes.time)), question).rowCount();
    };
    QVERIFY(row(IssueFilter::CanBeClosed) == 0 && row(IssueFilter::Open) == 1);
    // All but the one that was not tested gone: still nothing to close on.
    MadeRun third = made();
    third.run.presence = second.run.presence;
    (void)record(third);
    QVERIFY(!must(evidenceOf(*project_, uuid)).isSettled() && row(IssueFilter::CanBeClosed) == 0);
    third.run.presence = {};
    (void)record(third);
    QVERIFY(must(evidenceOf(*project_, uuid)).isSettled() && row(IssueFilter::CanBeClosed) == 1);
}

void TestRuns::aRunIsWithdrawnAndBroughtBackByItsId()
{
    MadeRun first = made();
    (void)record(first.pair(first.ref("Structure", "a"), first.ref("Piping", "b")), kJon);
    MadeRun second = made();
    for (int i = 0; i < 300; ++i)
        second.pair(second.ref("Structure", "s" + std::to_string(i)),
                    second.ref("Ventilation", "v" + std::to_string(i % 40)), 0.001 * i);
    const RunSummary summary = record(second);
    QVERIFY(summary.found == 300 && summary.gone == 1);
    const PairId one = must(project_->clashes().all())[0].id;
    // The log holds one row of it, however much it found.
    QVERIFY(project_->undo(kInes).has_value());
    QVERIFY(only().state == PairState::New && only().isTested());
    QCOMPARE(must(project_->clashes().runs()).size(), std::size_t{1});
    QVERIFY(project_->redo(kInes).has_value());
    QCOMPARE(must(project_->clashes().all()).size(), std::size_t{301});
    QCOMPARE(must(project_->clashes().all())[0].id, one);
    QCOMPARE(must(project_->clashes().lastRun())->id, summary.id);
    // Its number is never given again.
    QVERIFY(project_->undo(kInes).has_value());
    QVERIFY(record(second).id > summary.id);
    const auto findings = [&](RunId id) {
        return must(project_->store().read([&](SQLite::Database& db) {
            return db.execAndGet("SELECT COUNT(*) FROM findings WHERE run=" + std::to_string(id)).getInt();
        }));
    };
    QCOMPARE(findings(summary.id), 0); // it can not come back any more, so what it found is dropped
    QVERIFY(findings(must(project_->clashes().lastRun())->id) > 0);
    // Jon's run goes although Ines's came after it: what hers says then stands alone.
    QVERIFY(project_->undo(kJon).has_value());
    QCOMPARE(must(project_->clashes().all()).size(), std::size_t{300});
}

void TestRuns::aRunSaysWhatItCovered()
{
    MadeRun made_ = made();
    made_.run.members[1].isTested = false;
    made_.run.members[1].why = "its grid is off by 34.20 m at C/5";
    made_.run.members[2].fit.translation = {1, 2, 3};
    made_.run.tests[0].state = clash::TestState::None;
    made_.run.tests[2].state = clash::TestState::Cancelled;
    made_.run.notBuilt = 2;
    (void)record(made_.pair(made_.ref("Structure", "a"), made_.ref("Piping", "b")));
    const Run run = *must(project_->clashes().lastRun());
    QCOMPARE(run.members.size(), std::size_t{3});
    QVERIFY(!run.members[1].isTested && run.members[1].why == made_.run.members[1].why &&
            run.members[2].fit.translation.z == 3);
    QCOMPARE(run.tests.size(), std::size_t{3});
    QVERIFY(run.tests[1].test.tolerance == 0.005 && run.tests[2].state == clash::TestState::Cancelled);
    QCOMPARE(run.inWords(),
             std::string("1 pair found by 1 test. Not tested: Structure × Ventilation lacks a side; Ventilation × "
                         "Piping was cancelled; "
                         "Ventilation P01, its grid is off by 34.20 m at C/5; 2 elements without a body."));
    Run nothing;
    nothing.members = {{1, "Piping", "P01", "", 1, {}, false, "it has no grid to verify its place by"}};
    QCOMPARE(nothing.inWords(),
             std::string("Nothing was tested. Not tested: Piping P01, it has no grid to verify its place by."));
}

void TestRuns::whatIsDecidedIsFollowed()
{
    // Random commands: what follows from the rows a command changed is what reading everything gives, or it says that
    // it can not tell.
    std::mt19937 random(11);
    MadeRun run = made();
    for (int i = 0; i < 40; ++i)
        run.pair(run.ref("Structure", "s" + std::to_string(i % 7)), run.ref("Piping", "p" + std::to_string(i)),
                 0.01 * (1 + i % 9));
    (void)record(run);
    auto followed = must(project_->clashes().briefs());
    const auto same = [](const PairBriefs& a, const PairBriefs& b) {
        return std::equal(a.pairs.begin(), a.pairs.end(), b.pairs.begin(), b.pairs.end(),
                          [](const PairBrief& x, const PairBrief& y) {
                              return x.id == y.id && x.decision == y.decision && x.hasIssue == y.hasIssue &&
                                     x.state == y.state && x.outcome == y.outcome;
                          });
    };
    int told = 0, untold = 0;
    for (int step = 0; step < 200; ++step) {
        (void)project_->takeChanged();
        std::vector<PairId> some;
        for (const PairBrief& p : followed.pairs)
            if (random() % 8 == 0)
                some.push_back(p.id);
        switch (random() % 8) {
        case 0:
            (void)record(run);
            break;
        case 1:
        case 2:
            (void)project_->undo(kInes);
            break;
        case 3:
            (void)project_->redo(kInes);
            break;
        case 4: {
            issues::Issue issue;
            issue.title = "Lower it";
            (void)makeIssue(*project_, issue, some, kInes);
            break;
        }
        default:
            QVERIFY(project_->clashes().decide(some, random() % 2 == 0 ? "later" : "let stand", "", kInes).has_value());
        }
        const Changed changed = project_->takeChanged();
        const auto whole = must(project_->clashes().briefs());
        if (const auto pairs = decidedAnew(changed)) {
            followed.update(must(project_->clashes().decisionBriefs(*pairs)));
            QVERIFY(same(followed, whole));
            ++told;
        } else {
            ++untold;
        }
        followed = whole;
    }
    QVERIFY2(told > 60 && untold > 10, qPrintable(QString("%1 %2").arg(told).arg(untold)));
    // What another program did meanwhile is known by its books alone.
    (void)project_->takeChanged();
    const PairId first = followed.pairs[0].id;
    QVERIFY(project_->clashes().decide(std::span(&first, 1), "later", "", kInes).has_value());
    Changed changed = project_->takeChanged();
    QCOMPARE(decidedAnew(changed).value(), std::vector<PairId>{first});
    changed.areRowsAll = false;
    QVERIFY(!decidedAnew(changed));
}

void TestRuns::theListAddsUp()
{
    // Random pairs, decisions and runs: every pair stands in one group once, counts add up, pages are the list.
    std::mt19937 random(3);
    MadeRun run = made();
    std::set<std::pair<std::string, std::string>> there;
    for (int i = 0; i < 400; ++i) {
        const std::string left = "s" + std::to_string(random() % 60), right = "v" + std::to_string(random() % 60);
        if (there.insert({left, right}).second)
            run.pair(run.ref("Structure", left), run.ref(random() % 2 == 0 ? "Ventilation" : "Piping", right),
                     0.001 * static_cast<double>(random() % 200));
    }
    for (RunFinding& f : run.run.findings)
        f.storey = random() % 3 == 0 ? "Level 1" : "Level 2";
    (void)record(run);
    std::vector<PairId> some;
    for (const Pair& p : must(project_->clashes().all()))
        if (random() % 3 == 0)
            some.push_back(p.id);
    QVERIFY(project_->clashes().decide(some, "let stand", "", kInes).has_value());
    const auto briefs = must(project_->clashes().briefs());
    std::size_t all = 0;
    constexpr ClashOrder kOrders[] = {ClashOrder::Fewest,     ClashOrder::LeftElement, ClashOrder::RightElement,
                                      ClashOrder::Place,      ClashOrder::LeftType,    ClashOrder::RightType,
                                      ClashOrder::LeftSystem, ClashOrder::RightSystem, ClashOrder::Test,
                                      ClashOrder::Nearness};
    int next = 0; // each way of putting together comes with some filter and storey
    for (const ClashFilter filter : {ClashFilter::Undecided, ClashFilter::New, ClashFilter::Back, ClashFilter::Gone,
                                     ClashFilter::NotTested, ClashFilter::There})
        for (const char* storey : {"", "Level 1", "Level 2", "", "Level 1"}) {
            ClashQuestion question;
            question.filter = filter;
            question.storey = storey;
            question.order = kOrders[next++ % std::size(kOrders)];
            const ClashList list(briefs, question);
            std::size_t sections = 0, inSections = 0;
            std::vector<PairId> listed;
            std::size_t groups = 0;
            std::vector<ClashRow> rows;
            for (std::size_t first = 0; first < list.rowCount(); first += 17) { // no page is like another
                auto page = must(list.page(project_->clashes(), first, 17));
                std::move(page.begin(), page.end(), std::back_inserter(rows));
            }
            QCOMPARE(rows.size(), list.rowCount());
            for (std::size_t i = 0; i < rows.size(); ++i) {
                QCOMPARE(rows[i].id, list.idOf(i));
                QCOMPARE(list.rowOf(rows[i].id), static_cast<std::ptrdiff_t>(i));
                groups += rows[i].isGroup ? 1 : 0;
                if (rows[i].isSection) {
                    ++sections;
                    inSections += rows[i].pairs;
                    QCOMPARE(list.pairsOf(std::span(&rows[i].id, 1)).size(), rows[i].pairs);
                    continue;
                }
                QVERIFY(*storey == '\0' || rows[i].pair.storey == storey);
                if (!rows[i].isGroup || rows[i].pairs == 1)
                    listed.push_back(rows[i].pair.id);
                if (rows[i].isGroup)
                    QCOMPARE(list.pairsOf(std::span(&rows[i].id, 1)).size(), rows[i].pairs);
            }
            std::sort(listed.begin(), listed.end());
            QVERIFY(std::adjacent_find(listed.begin(), listed.end()) == listed.end());
            QVERIFY(listed.size() == list.pairCount() && groups == list.groupCount());
            QVERIFY(sections == list.sectionCount() && (sections == 0 || inSections == listed.size()));
            if (filter == ClashFilter::There && *storey == '\0')
                all = listed.size();
        }
    ClashQuestion everything;
    everything.filter = ClashFilter::There;
    const ClashList list(briefs, everything);
    QCOMPARE(all, there.size());
    QCOMPARE(list.counts().undecided, there.size() - some.size());
    QCOMPARE(must(project_->clashes().undecided()), list.counts().undecided);
    QCOMPARE(list.counts().byStorey.at("Level 1") + list.counts().byStorey.at("Level 2"), there.size());
}

void TestRuns::issuesSortByNumber()
{
    issues::Issue issue;
    issue.title = "One";
    QCOMPARE(must(makeIssue(*project_, issue, {}, kInes)), std::string("MSS-001"));
    QVERIFY(project_->store().read([](SQLite::Database& db) { return skipNumbers(db, "issue", 998), 0; }).has_value());
    QCOMPARE(must(makeIssue(*project_, issue, {}, kInes)), std::string("MSS-999"));
    QCOMPARE(must(makeIssue(*project_, issue, {}, kInes)), std::string("MSS-1000"));
    QVERIFY(project_->undo(kInes).has_value());
    QCOMPARE(must(makeIssue(*project_, issue, {}, kInes)),
             std::string("MSS-1001")); // somebody may have written it down
    std::vector<std::string> names;
    for (const issues::Issue& i : must(project_->issues().all()))
        names.push_back(i.number);
    QCOMPARE(names, (std::vector<std::string>{"MSS-001", "MSS-999", "MSS-1001"}));
    QCOMPARE(must(project_->issues().named("mss-99", 5)).size(), std::size_t{1});
    QCOMPARE(must(project_->issues().named("%", 5)).size(), std::size_t{0}); // a sign like any other
}

QTEST_APPLESS_MAIN(TestRuns)
#include "test_runs.moc"
