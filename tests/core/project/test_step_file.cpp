#include <QTest>

#include "core/project/issue_making.h"
#include "support/made_project.h"
#include "support/must.h"
#include "support/random_commands.h"

#include <QTemporaryDir>

#include <fcntl.h>
#include <fstream>

using namespace wendrix;
using namespace wendrix::project;
using test::kInes;
using test::kJon;
using test::must;
namespace fs = std::filesystem;

/// What was decided comes back step by step, whatever became of the database.
class TestStepFile : public QObject {
    Q_OBJECT
private slots:
    void init();
    void everythingComesBack_data();
    void everythingComesBack();
    void itGoesOnAnother();
    void whatDoesNotFitIsLeftOut();
    void severalWindowsKeepTheirOwn();
    void onlyTheLastFilesAreKept();
    void whatIsSetAsideIsNotAskedAgain();
    void damageIsPassedOver_data();
    void damageIsPassedOver();

private:
    [[nodiscard]] fs::path folder() const { return (root_->path() + "/p").toStdString(); }
    [[nodiscard]] std::vector<fs::path> files() const
    {
        std::vector<fs::path> all;
        for (const auto& entry : fs::directory_iterator(folder() / "backups"))
            if (entry.path().string().ends_with("steps.jsonl"))
                all.push_back(entry.path());
        std::sort(all.begin(), all.end());
        return all;
    }
    /// Closes the project, puts the backup in its place, and opens it again.
    void putBackAndOpen()
    {
        project_.reset();
        QVERIFY(putBack(folder(), base_).has_value());
        project_ = Project::open(folder()).value();
    }
    bool group(const std::string& name, const WhoAndWhen& who)
    {
        return project_->setup().setMemberGroup({name, {"Piping"}}, who).has_value();
    }
    [[nodiscard]] std::size_t missing() const { return must(project_->missingSteps()).size(); }

    std::unique_ptr<QTemporaryDir> root_;
    std::unique_ptr<Project> project_;
    Backup base_;
};

void TestStepFile::init()
{
    project_.reset();
    root_ = std::make_unique<QTemporaryDir>();
    project_ = test::projectForCommands(folder());
    base_ = must(project_->store().backUp("opened"));
    QCOMPARE(missing(), std::size_t{0});
}

void TestStepFile::everythingComesBack_data()
{
    QTest::addColumn<int>("seed");
    for (int seed = 1; seed <= 12; ++seed)
        QTest::addRow("%d", seed) << seed;
}

void TestStepFile::everythingComesBack()
{
    QFETCH(int, seed);
    std::mt19937 random(static_cast<unsigned>(seed));
    const auto before = test::cellsOf(*project_);
    for (int i = 0; i < 60; ++i) {
        const WhoAndWhen& who = random() % 3 == 0 ? kJon : kInes;
        switch (random() % 6) {
        case 0:
            (void)project_->undo(who);
            break;
        case 1:
            (void)project_->redo(who);
            break;
        default:
            (void)test::randomCommand(*project_, random, who);
        }
    }
    const auto whole = test::cellsOf(*project_, Keeping::Fact);
    const auto history = must(project_->log().last(1000));
    const std::int64_t nextIssue = must(project_->store().read(
        [](SQLite::Database& db) { return nextNumber(db, "issue"); })); // not a command: nobody is told
    const WhoAndWhen later{kInes.person, "2026-11-20T09:00:00Z"};
    putBackAndOpen();
    QVERIFY(test::cellsOf(*project_) == before);
    const auto steps = must(project_->missingSteps());
    QVERIFY(steps.size() > 20);
    const auto brought = must(project_->bringIn(steps, later));
    QVERIFY2(brought.leftOut.empty(), brought.leftOut.empty() ? "" : brought.leftOut[0].c_str());
    QCOMPARE(brought.steps, steps.size());
    QVERIFY(test::cellsOf(*project_, Keeping::Fact) == whole);
    QCOMPARE(missing(), std::size_t{0});
    // It is told who decided it, and that it was brought in; numbers that were given are not given again.
    const auto now = must(project_->log().last(1000));
    QCOMPARE(now.size(), history.size() + 1);
    QVERIFY(now[0].what.starts_with("Brought in: ") && now[1].what == history[0].what &&
            now[1].by.person == history[0].by.person);
    QVERIFY(must(project_->store().read([](SQLite::Database& db) { return nextNumber(db, "issue"); })) >= nextIssue);
    // And it is a step like any other, also where it is brought in from its own file.
    const auto all = test::cellsOf(*project_);
    QVERIFY(project_->undo(later).has_value());
    QVERIFY(test::cellsOf(*project_) == before);
    QVERIFY(project_->redo(later).has_value());
    QVERIFY(test::cellsOf(*project_) == all);
    putBackAndOpen();
    const auto again = must(project_->bringIn(must(project_->missingSteps()), later));
    QVERIFY2(again.leftOut.empty(), again.leftOut.empty() ? "" : again.leftOut[0].c_str());
    QVERIFY(test::cellsOf(*project_, Keeping::Fact) == whole);
}

void TestStepFile::itGoesOnAnother()
{
    // What somebody else did meanwhile stays where the two do not touch.
    QVERIFY(group("Hers", kInes));
    issues::Issue issue;
    issue.title = "Hers";
    QVERIFY(makeIssue(*project_, issue, {}, kInes).has_value());
    putBackAndOpen();
    QVERIFY(group("His", kJon));
    issue.title = "His";
    QVERIFY(makeIssue(*project_, issue, {}, kJon).has_value());
    const auto brought = must(project_->bringIn(must(project_->missingSteps()), kInes));
    QVERIFY(brought.steps == 2 && brought.leftOut.empty());
    std::set<std::string> groups, issues;
    for (const auto& one : must(project_->setup().memberGroups()))
        groups.insert(one.name);
    for (const auto& one : must(project_->issues().all()))
        issues.insert(one.number + " " + one.title);
    QVERIFY((groups == std::set<std::string>{"Hers", "His"}));
    QVERIFY2((issues == std::set<std::string>{"MSS-001 His", "MSS-002 Hers"}), issues.begin()->c_str());
}

void TestStepFile::whatDoesNotFitIsLeftOut()
{
    const auto deliveries = must(project_->deliveries().all());
    const DeliveryId first = deliveries[0].id, second = deliveries[1].id;
    const auto recorded = [&](const char* guid, const WhoAndWhen& who) {
        test::MadeRun run(*project_, {"Structure", "Piping"});
        run.pair(run.ref("Structure", guid), run.ref("Piping", guid));
        return recordRun(*project_, run.run, who).has_value();
    };
    QVERIFY(project_->deliveries().describe(first, {"Hers", "", "", ""}, kInes).has_value());
    QVERIFY(project_->deliveries().describe(second, {"Hers", "", "", ""}, kInes).has_value());
    QVERIFY(recorded("a", kInes));
    const std::vector<PairId> pair{must(project_->clashes().all())[0].id};
    QVERIFY(project_->clashes().decide(pair, "later", "hers", kInes).has_value());
    QVERIFY(group("Hers", kInes));
    putBackAndOpen();
    QVERIFY(project_->deliveries().describe(first, {"His", "", "", ""}, kJon).has_value());
    QVERIFY(recorded("b", kJon)); // under the numbers that hers had
    const auto pairs = must(project_->clashes().all());
    const auto brought = must(project_->bringIn(must(project_->missingSteps()), kInes));
    QCOMPARE(brought.steps, std::size_t{2});
    QCOMPARE(brought.leftOut.size(), std::size_t{3});
    QVERIFY(QString::fromStdString(brought.leftOut[0]).endsWith("something else stands there now"));
    QVERIFY(QString::fromStdString(brought.leftOut[1]).endsWith("something else stands there now"));
    QVERIFY(QString::fromStdString(brought.leftOut[2]).endsWith("it builds on one that does not fit"));
    QCOMPARE(must(project_->deliveries().get(first)).title, std::string("His"));
    QCOMPARE(must(project_->deliveries().get(second)).title, std::string("Hers"));
    QCOMPARE(must(project_->setup().memberGroups()).size(), std::size_t{1});
    // The pair that has the number now is not the one she decided.
    const auto now = must(project_->clashes().all());
    QVERIFY(now.size() == 1 && now[0].decision.empty() && now[0].left.element.guid == pairs[0].left.element.guid);
}

void TestStepFile::severalWindowsKeepTheirOwn()
{
    const auto other = Project::open(folder()).value();
    for (int i = 0; i < 4; ++i) {
        QVERIFY(group("Hers " + std::to_string(i), kInes));
        QVERIFY(other->setup().setMemberGroup({"His " + std::to_string(i), {"Piping"}}, kJon).has_value());
    }
    QCOMPARE(files().size(), std::size_t{2});
    const auto whole = test::cellsOf(*project_);
    putBackAndOpen();
    QCOMPARE(must(project_->bringIn(must(project_->missingSteps()), kInes)).steps, std::size_t{8});
    QVERIFY(test::cellsOf(*project_) == whole);
}

void TestStepFile::onlyTheLastFilesAreKept()
{
    const fs::path own = files().front(); // of the project that is open all the time
    std::vector<fs::path> before;
    for (int i = 0; i < 9; ++i) {
        const auto one = Project::open(folder()).value();
        QVERIFY(one->setup().setMemberGroup({"G" + std::to_string(i), {"Piping"}}, kJon).has_value());
        before = files();
    }
    QVERIFY(before.size() <= kMostStepFiles + 1);
    QVERIFY(before.front() == own);
    // A project that is only looked at makes none.
    (void)Project::open(folder()).value();
    (void)Project::open(folder(), Project::Access::Read).value();
    QVERIFY(files() == before);
}

void TestStepFile::whatIsSetAsideIsNotAskedAgain()
{
    QVERIFY(group("Hers", kInes));
    putBackAndOpen();
    const auto steps = must(project_->missingSteps());
    QCOMPARE(steps.size(), std::size_t{1});
    const fs::path file = steps[0].file;
    setAside(steps);
    QCOMPARE(missing(), std::size_t{0});
    QVERIFY(!fs::exists(file));
    const std::string name = file.string(), aside = name.substr(0, name.size() - 11) + "set aside.jsonl";
    QVERIFY2(fs::exists(aside), aside.c_str()); // nothing is thrown away
    QVERIFY(group("Later", kInes));
    putBackAndOpen();
    QCOMPARE(missing(), std::size_t{1});
}

void TestStepFile::damageIsPassedOver_data()
{
    QTest::addColumn<QByteArray>("lines");
    QTest::addColumn<int>("leftOut"); // of those that could be asked about
    const QByteArray head = R"({"events":[["Mallory","2026-11-20T09:00:00Z",1,"Made up",""]],"counters":{}})"
                            "\n";
    QTest::newRow("nothing") << QByteArray() << 0;
    QTest::newRow("no JSON") << QByteArray("rm -rf\nrm -rf\n") << 0;
    QTest::newRow("no events") << QByteArray("{}\n[]\n") << 0;
    QTest::newRow("events of another kind") << QByteArray(R"({"events":[[1,2,3,4,5]]})"
                                                          "\n[]\n")
                                            << 0;
    QTest::newRow("half a step") << head + "[[\"memberGroups\"" << 0;
    QTest::newRow("deep") << QByteArray(2'000'000, '[') + "\n[]\n" << 0;
    QTest::newRow("zeros") << QByteArray(100'000, '\0') << 0;
    QTest::newRow("a foreign table") << head + R"([["sqlite_master",{"name":"x"},{"name":"x"},{}]])"
                                               "\n"
                                     << 1;
    QTest::newRow("the log itself") << head + R"([["events",{"id":1},{"id":1},{}]])"
                                              "\n"
                                    << 1;
    QTest::newRow("what is worked out") << head + R"([["present",{"pair":1},{},{"pair":1}]])"
                                                  "\n"
                                        << 1;
    QTest::newRow("a statement for a column")
        << head + R"([["deliveries",{"id":1},{"title; DROP TABLE deliveries":"x"},{"title":"y"}]])"
                  "\n"
        << 1;
    QTest::newRow("deep changes") << head + QByteArray(2'000'000, '[') + "\n" << 1;
    QTest::newRow("a row that is not there") << head + R"([["deliveries",{"id":4711},{"title":"a"},{"title":"b"}]])"
                                                       "\n"
                                             << 1;
    QTest::newRow("numbers that wrap")
        << QByteArray(R"({"events":[["M","2026-11-20T09:00:00Z",1,"x",""]],"counters":{"issue":18446744073709551615}})"
                      "\n[[\"deliveries\",{\"id\":4711},{\"title\":\"a\"},{\"title\":\"b\"}]]\n")
        << 1;
}

void TestStepFile::damageIsPassedOver()
{
    QFETCH(QByteArray, lines);
    QFETCH(int, leftOut);
    QVERIFY(group("Hers", kInes));
    const auto whole = test::cellsOf(*project_, Keeping::Fact);
    putBackAndOpen();
    std::ofstream(folder() / "backups" / "2026-11-01T09-00-00Z steps.jsonl", std::ios::binary) << lines.toStdString();
    fs::create_symlink("/dev/zero", folder() / "backups" / "2026-11-02T09-00-00Z steps.jsonl");
    fs::create_directory(folder() / "backups" / "2026-11-03T09-00-00Z steps.jsonl");
    const auto steps = must(project_->missingSteps());
    QCOMPARE(static_cast<int>(steps.size()), leftOut + 1);
    const auto brought = must(project_->bringIn(steps, kInes));
    QCOMPARE(brought.steps, std::size_t{1}); // her own
    QCOMPARE(static_cast<int>(brought.leftOut.size()), leftOut);
    QVERIFY(test::cellsOf(*project_, Keeping::Fact) == whole);
}

QTEST_GUILESS_MAIN(TestStepFile)
#include "test_step_file.moc"
