#include <QTest>

#include "core/project/issue_making.h"
#include "support/made_project.h"
#include "support/must.h"

#include <QTemporaryDir>

#include <algorithm>

using namespace wendrix;
using namespace wendrix::project;
using clash::Presence;
using test::kInes;
using test::kJon;
using test::MadeRun;
using test::must;

/// Runs of some tests alone, what several pairs went through, and issues made of them by templates.
class TestSomeTests : public QObject {
    Q_OBJECT
private slots:
    void init();
    void aTestAloneLeavesTheOthers_data();
    void aTestAloneLeavesTheOthers();
    void aRunOfOneTestIsUndone();
    void aGroupHasItsHistory();
    void severalIssuesAreOneStep();
    void templatesOfIssuesAreKept();

private:
    [[nodiscard]] RunSummary record(const MadeRun& made) { return must(recordRun(*project_, made.run, kInes)); }
    [[nodiscard]] MadeRun made() const { return MadeRun(*project_, {"Structure", "Ventilation", "Piping"}); }
    [[nodiscard]] Pair only() const
    {
        const auto all = must(project_->clashes().all());
        return all.size() == 1 ? all[0] : Pair{};
    }

    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<Project> project_;
};

void TestSomeTests::init()
{
    project_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    project_ = test::madeProject((folder_->path() + "/p").toStdString(), {"Structure", "Ventilation", "Piping"});
}

void TestSomeTests::aTestAloneLeavesTheOthers_data()
{
    QTest::addColumn<bool>("isFoundAgain"); // the pair of the test that is run alone
    QTest::addColumn<bool>("isOtherGone");  // an element of the other's pair is no longer there
    QTest::newRow("found again") << true << false;
    QTest::newRow("no longer found") << false << false;
    QTest::newRow("the other's element is gone") << true << true;
}

void TestSomeTests::aTestAloneLeavesTheOthers()
{
    QFETCH(bool, isFoundAgain);
    QFETCH(bool, isOtherGone);
    // A beam in a duct, found by one test, and in a pipe, found by another; each has an expected meeting beside.
    MadeRun first = made();
    const ElementRef beam = first.ref("Structure", "beam"), duct = first.ref("Ventilation", "duct"),
                     pipe = first.ref("Piping", "pipe");
    (void)record(first.pair(beam, duct)
                     .pair(beam, pipe)
                     .expect(beam, first.ref("Ventilation", "x"))
                     .expect(beam, first.ref("Piping", "y")));
    MadeRun second = made();
    for (RunTest& t : second.run.tests)
        t.isWanted = t.test.name == test::testOf("Structure", "Ventilation").test.name;
    second.run.presence = [&](const ElementRef& ref, const std::string&) {
        return isOtherGone && ref == pipe ? Presence::Removed : Presence::Tested;
    };
    if (isFoundAgain)
        second.pair(beam, duct);
    (void)record(second);
    const auto pairs = must(project_->clashes().all());
    const auto stateOf = [&](const ElementRef& right) {
        for (const Pair& p : pairs)
            if (p.right.element == right)
                return p.stateInWords();
        return std::string();
    };
    QCOMPARE(stateOf(duct), std::string(isFoundAgain ? "still there" : "gone"));
    QCOMPARE(stateOf(pipe), std::string(isOtherGone ? "gone: removed" : "new")); // as it was found; nothing was asked
    const Run last = *must(project_->clashes().lastRun());
    QCOMPARE(last.notTested, std::size_t{0});
    std::size_t asked = 0;
    for (const RunTest& t : last.tests) {
        asked += last.hasAsked(t) ? 1 : 0;
        QCOMPARE(last.hasAsked(t), t.test.name == test::testOf("Structure", "Ventilation").test.name);
        QCOMPARE(t.state, clash::TestState::Run); // the others' word still holds
    }
    QCOMPARE(asked, std::size_t{1});
    QVERIFY(QString::fromStdString(last.inWords()).contains(" found by 1 test; 2 other tests stay as run before."));
    // Of what is left out as expected, the other test's stays too.
    const auto expected = must(project_->clashes().expected(10));
    QCOMPARE(expected.size(), std::size_t{1});
    QCOMPARE(expected[0].right.ref.guid, std::string("y"));
}

void TestSomeTests::aRunOfOneTestIsUndone()
{
    MadeRun first = made(), second = made();
    const ElementRef beam = first.ref("Structure", "beam"), duct = first.ref("Ventilation", "duct");
    (void)record(first.pair(beam, duct));
    for (RunTest& t : second.run.tests)
        t.isWanted = t.test.name == test::testOf("Structure", "Ventilation").test.name;
    (void)record(second);
    QVERIFY(only().isGone());
    QVERIFY(project_->undo(kInes).has_value());
    QCOMPARE(only().stateInWords(), std::string("new"));
    QCOMPARE(must(project_->clashes().lastRun())->id, RunId{1});
    QVERIFY(project_->redo(kInes).has_value());
    QVERIFY(only().isGone());
}

void TestSomeTests::aGroupHasItsHistory()
{
    const auto run = [&](std::initializer_list<const char*> ducts, std::initializer_list<const char*> offPlace = {}) {
        MadeRun one = made();
        for (const char* duct : ducts)
            one.pair(one.ref("Structure", "beam"), one.ref("Ventilation", duct));
        const std::vector<std::string> off(offPlace.begin(), offPlace.end());
        one.run.presence = [off](const ElementRef& ref, const std::string&) {
            return std::find(off.begin(), off.end(), ref.guid) != off.end() ? Presence::OffPlace : Presence::Tested;
        };
        (void)record(one);
    };
    run({"a", "b", "c"});
    run({"a", "d"}, {"c"}); // b is gone, c was not tested, d is new
    run({"a", "b", "c", "d"});
    std::vector<PairId> ids;
    for (const Pair& p : must(project_->clashes().all()))
        ids.push_back(p.id);
    QStringList lines;
    for (const GroupMoment& m : must(project_->clashes().historyOf(ids)))
        lines << QString("%1: %2").arg(m.run).arg(QString::fromStdString(m.inWords()));
    QCOMPARE(lines,
             (QStringList{"1: 3 new", "2: 1 new, 1 still there, 1 gone, 1 not tested", "3: 3 still there, 1 back"}));
    QVERIFY(must(project_->clashes().historyOf(std::span<const PairId>())).empty());
}

void TestSomeTests::severalIssuesAreOneStep()
{
    MadeRun one = made();
    const ElementRef beam = one.ref("Structure", "beam");
    (void)record(one.pair(beam, one.ref("Ventilation", "a"), 0.3).pair(beam, one.ref("Ventilation", "b"), 0.2));
    const auto pairs = must(project_->clashes().all());
    std::vector<IssueForPairs> several;
    for (const Pair& p : pairs)
        several.push_back({draftIssue(p.right.name, std::span(&p, 1), kInes.time), {p.id}});
    QCOMPARE(must(makeIssues(*project_, several, kInes)), (std::vector<std::string>{"MSS-001", "MSS-002"}));
    const auto decided = must(project_->clashes().all());
    QVERIFY(decided[0].decision == "fix" && decided[1].decision == "fix" && decided[0].issue != decided[1].issue);
    QCOMPARE(must(project_->log().last(1))[0].what, std::string("2 issues made: MSS-001 to MSS-002"));
    QVERIFY(project_->undo(kInes).has_value());
    QVERIFY(must(project_->issues().keys()).empty());
    QVERIFY(must(project_->clashes().all())[0].decision.empty());
}

void TestSomeTests::templatesOfIssuesAreKept()
{
    IssuesBook& book = project_->issues();
    const auto names = [&] {
        QStringList all;
        for (const issues::IssueTemplate& t : must(book.templatesFor(issues::made_from::kClash)))
            all << QString::fromStdString(t.name);
        return all;
    };
    QCOMPARE(names(), QStringList{"Clash"}); // the usual one, not kept
    issues::IssueTemplate holes = issues::IssueTemplate::usual();
    QVERIFY(!book.keepTemplate(holes, "", kInes).has_value()); // there is one of that name
    holes.name = "Holes";
    QVERIFY(book.keepTemplate(holes, "", kInes).has_value());
    QCOMPARE(names(), (QStringList{"Clash", "Holes"})); // beside it, which is kept from now on
    QVERIFY(!book.keepTemplate(holes, "", kJon).has_value());
    holes.name = "Clash";
    QVERIFY(!book.keepTemplate(holes, "Holes", kJon).has_value());
    holes.name = "Holes to cut";
    holes.daysToFix = 14;
    QVERIFY(book.keepTemplate(holes, "Holes", kJon).has_value());
    QCOMPARE(names(), (QStringList{"Clash", "Holes to cut"}));
    QCOMPARE(must(book.templates())[1].daysToFix, 14);
    holes.title = "{nothing}";
    const auto refused = book.keepTemplate(holes, "Holes to cut", kJon);
    QVERIFY(!refused && refused.error().code == issues::kBadIssueTemplate);
    QVERIFY(book.removeTemplate("Clash", kJon).has_value());
    QCOMPARE(names(), QStringList{"Holes to cut"});
    QVERIFY(project_->undo(kJon).has_value() && project_->undo(kJon).has_value());
    QCOMPARE(names(), (QStringList{"Clash", "Holes"}));
    QVERIFY(project_->undo(kInes).has_value());
    QCOMPARE(names(), QStringList{"Clash"});
    // Other sources have theirs, whatever clashes have; a name is given once among all of them.
    QCOMPARE(must(book.templates()).size(), std::size_t{6});
    issues::IssueTemplate note = issues::IssueTemplate::usual(issues::made_from::kNote);
    note.name = "Clash";
    QVERIFY(!book.keepTemplate(note, "", kInes).has_value());
    note.name = "Snag";
    QVERIFY(book.keepTemplate(note, "Note", kInes).has_value()); // in the place of the usual one
    QCOMPARE(must(book.templates()).size(), std::size_t{6});
    QCOMPARE(must(book.templatesFor(issues::made_from::kNote))[0].name, std::string("Snag"));
    QCOMPARE(names(), QStringList{"Clash"});
}

QTEST_APPLESS_MAIN(TestSomeTests)
#include "test_some_tests.moc"
