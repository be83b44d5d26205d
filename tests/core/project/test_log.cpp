#include <QTest>

#include "core/project/issue_making.h"
#include "core/project/writer.h"
#include "support/made_project.h"
#include "support/must.h"
#include "support/random_commands.h"

#include <QTemporaryDir>

#include <sqlite3.h>
#include <sys/wait.h>
#include <unistd.h>

#include <atomic>
#include <csignal>
#include <random>
#include <thread>

using namespace wendrix;
using namespace wendrix::project;
using test::kInes;
using test::kJon;
using test::must;

/// The log's laws: what is done is undone and done again to the last cell, by whoever did it, and nobody's word is
/// lost.
class TestLog : public QObject {
    Q_OBJECT
private slots:
    void init();
    void undoAndRedoAreExact();
    void everybodyUndoesTheirOwn();
    void whatSomebodyChangedSinceStays();
    void commandsTellWhatTheyChanged();
    void severalAreOneStepOrNone();
    void theLogIsData_data();
    void theLogIsData();
    void theLogIsPruned();
    void twoWritersLoseNothing();
    void theQueueDoesWhatItIsTold();
    void aKillAtAnyStatementLeavesAWholeProject();
    void aFailedReadIsToldAndGivesNothing();

private:
    [[nodiscard]] test::AllCells cells() const { return test::cellsOf(*project_); }
    bool act(std::mt19937& random, const WhoAndWhen& who) { return test::randomCommand(*project_, random, who); }

    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<Project> project_;
};

void TestLog::init()
{
    project_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    project_ = test::projectForCommands((folder_->path() + "/p").toStdString());
}

void TestLog::undoAndRedoAreExact()
{
    std::mt19937 random(20);
    for (int round = 0; round < 6; ++round) {
        init();
        std::vector<test::AllCells> states{cells()};
        for (int i = 0; i < 40; ++i)
            if (act(random, kInes)) {
                auto now = cells();
                if (now != states.back()) // a command that changes nothing is no step
                    states.push_back(std::move(now));
            }
        QVERIFY(states.size() > 15);
        for (std::size_t back = states.size() - 1; back-- > 0;) {
            QVERIFY(project_->undo(kInes).has_value());
            QVERIFY2(cells() == states[back],
                     ("round " + std::to_string(round) + ", undo to " + std::to_string(back)).c_str());
            if (random() % 4 == 0) { // there and back again
                QVERIFY(project_->redo(kInes).has_value());
                QVERIFY(cells() == states[back + 1]);
                QVERIFY(project_->undo(kInes).has_value());
            }
        }
        for (std::size_t forth = 1; forth < states.size(); ++forth) {
            QVERIFY(project_->redo(kInes).has_value());
            QVERIFY2(cells() == states[forth],
                     ("round " + std::to_string(round) + ", redo to " + std::to_string(forth)).c_str());
        }
        QVERIFY(must(project_->log().redoable(kInes.person)).empty());
    }
}

void TestLog::everybodyUndoesTheirOwn()
{
    QVERIFY(project_->setup().setMemberGroup({"Hers", {"Piping"}}, kInes).has_value());
    QVERIFY(project_->setup().setMemberGroup({"His", {"Structure"}}, kJon).has_value());
    QCOMPARE(must(project_->log().undoable("Ines Varga")), std::string("Group: Hers"));
    QVERIFY(must(project_->log().undoable("Nobody")).empty());
    QVERIFY(project_->undo({"Nobody", ""}).has_value()); // nothing to do is no error
    QVERIFY(project_->undo(kInes).has_value());
    const auto groups = must(project_->setup().memberGroups());
    QVERIFY(groups.size() == 1 && groups[0].name == "His");
    const auto line = must(project_->log().last(1))[0];
    QVERIFY(line.what == "Undone: Group: Hers" && line.by.person == "Ines Varga");
    // What he does does not take her redo away.
    QVERIFY(project_->undo(kJon).has_value());
    QVERIFY(project_->redo(kInes).has_value());
    QCOMPARE(must(project_->setup().memberGroups())[0].name, std::string("Hers"));
}

void TestLog::whatSomebodyChangedSinceStays()
{
    const DeliveryId id = must(project_->deliveries().all())[0].id;
    QVERIFY(project_->deliveries().describe(id, {"Hers", "", "", ""}, kInes).has_value());
    QVERIFY(project_->deliveries().describe(id, {"His", "", "", ""}, kJon).has_value());
    const auto refused = project_->undo(kInes);
    QVERIFY(!refused && refused.error().code == kChangedSince);
    QVERIFY2(refused.error().message.starts_with("Jon Alder has changed it since (Described: "),
             refused.error().message.c_str());
    QCOMPARE(must(project_->deliveries().get(id)).title, std::string("His"));
    QVERIFY(project_->undo(kJon).has_value());
    QVERIFY(project_->undo(kInes).has_value()); // now it is hers again
    QVERIFY(must(project_->deliveries().get(id)).title.empty());
    // A row that came back, or went, in between is noticed as well.
    QVERIFY(project_->setup().setMemberGroup({"G", {"Piping"}}, kInes).has_value());
    QVERIFY(project_->setup().setMemberGroup({"G", {}}, kJon).has_value());
    QVERIFY(!project_->undo(kInes));
}

void TestLog::commandsTellWhatTheyChanged()
{
    (void)project_->takeChanged();
    const DeliveryId id = must(project_->deliveries().all())[0].id;
    QVERIFY(project_->deliveries().describe(id, {"T", "", "", ""}, kInes).has_value());
    Changed changed = project_->takeChanged();
    QVERIFY(changed.has(Book::Deliveries) && !changed.has(Book::Clashes));
    QVERIFY((changed.rows.at("deliveries") == std::set<std::string>{std::to_string(id)}));
    QVERIFY(project_->takeChanged().isNothing());
    QVERIFY(!project_->deliveries().hold({"Gardens", "", "", {}}, kInes));
    QVERIFY(project_->takeChanged().isNothing()); // refused
    test::MadeRun run(*project_, {"Structure", "Piping"});
    run.pair(run.ref("Structure", "a"), run.ref("Piping", "b"));
    QVERIFY(recordRun(*project_, run.run, kInes).has_value());
    changed = project_->takeChanged();
    QVERIFY(changed.books == static_cast<unsigned>(Book::Clashes) && changed.rows.size() == 1);
    QVERIFY(project_->undo(kInes).has_value());
    QVERIFY(project_->takeChanged().has(Book::Clashes));
    // Others learn the same from the log.
    const std::int64_t before = must(project_->log().newest());
    QVERIFY(project_->setup().renameDiscipline("Piping", "Heating", kInes).has_value());
    const Changed since = must(project_->log().since(before));
    QVERIFY(since.has(Book::Setup) && since.has(Book::Deliveries) && !since.has(Book::Views) && since.event > before);
}

void TestLog::severalAreOneStepOrNone()
{
    const auto before = cells();
    const auto failed = project_->together("Both", kInes, [&]() -> Result<void> {
        if (auto done = project_->setup().setMemberGroup({"G", {"Piping"}}, kInes); !done)
            return done;
        return project_->setup().renameDiscipline("Gardens", "Parks", kInes);
    });
    QVERIFY(!failed && cells() == before);
    QVERIFY(project_->takeChanged().rows.count("memberGroups") == 0);
    QVERIFY(project_
                ->together("Both", kInes,
                           [&]() -> Result<void> {
                               if (auto done = project_->setup().setMemberGroup({"G", {"Piping"}}, kInes); !done)
                                   return done;
                               return project_->setup().setMemberGroup({"H", {"Piping"}}, kInes);
                           })
                .has_value());
    QCOMPARE(must(project_->log().undoable(kInes.person)), std::string("Both"));
    QVERIFY(project_->undo(kInes).has_value());
    QVERIFY(cells() == before);
}

void TestLog::theLogIsData_data()
{
    QTest::addColumn<QString>("changes");
    QTest::newRow("a statement") << "DELETE FROM deliveries";
    QTest::newRow("not a list") << "{}";
    QTest::newRow("a foreign table") << R"([["sqlite_master",{"name":"x"},{"name":"x"},{}]])";
    QTest::newRow("the log itself") << R"([["events",{"id":1},{"id":1},{}]])";
    QTest::newRow("facts") << R"([["findings",{"pair":1,"run":1},{"pair":1,"run":1},{}]])";
    QTest::newRow("a foreign column")
        << R"([["deliveries",{"id":1},{"title; DROP TABLE deliveries":"x"},{"title":"y"}]])";
    QTest::newRow("part of a key") << R"([["keptViews",{"uuid":"x"},{"title":"a"},{"title":"b"}]])";
    QTest::newRow("no key") << R"([["deliveries",{},{"title":"a"},{"title":"b"}]])";
    QTest::newRow("a cell that is none") << R"([["deliveries",{"id":[1]},{"title":"a"},{"title":"b"}]])";
    QTest::newRow("nothing done") << R"([["deliveries",{"id":1},{},{}]])";
}

void TestLog::theLogIsData()
{
    QFETCH(QString, changes);
    const auto before = cells();
    QVERIFY(project_->store()
                .read([&](SQLite::Database& db) {
                    SQLite::Statement q(db, "INSERT INTO steps VALUES(9999, 'Ines Varga', 'prepared', 1, ?, 10)");
                    q.bind(1, changes.toStdString());
                    return q.exec();
                })
                .has_value());
    const auto refused = project_->undo(kInes);
    QVERIFY(!refused && refused.error().code == kDamagedLog);
    QVERIFY(cells() == before);
}

void TestLog::theLogIsPruned()
{
    for (int i = 0; i < 520; ++i)
        QVERIFY(project_->setup().setMemberGroup({"Group " + std::to_string(i), {"Piping"}}, kInes).has_value());
    const auto steps = must(project_->store().read(
        [](SQLite::Database& db) { return db.execAndGet("SELECT COUNT(*) FROM steps").getInt(); }));
    QCOMPARE(steps, 500);
    QVERIFY(must(project_->log().last(1000)).size() > 520); // what was done is still known
    for (int i = 0; i < 500; ++i)
        QVERIFY(project_->undo(kInes).has_value());
    QVERIFY(must(project_->log().undoable(kInes.person)).empty());
    QCOMPARE(must(project_->setup().memberGroups()).size(), std::size_t{20});
}

void TestLog::twoWritersLoseNothing()
{
    issues::Issue issue;
    issue.title = "One";
    QVERIFY(makeIssue(*project_, issue, {}, kInes).has_value());
    const std::string uuid = must(project_->issues().all())[0].uuid;
    const auto path = project_->folder();
    constexpr int kEach = 120;
    std::atomic<int> failures{0};
    const auto work = [&](const WhoAndWhen& who) {
        auto own = Project::open(path).value();
        for (int i = 0; i < kEach; ++i) {
            failures += own->issues().addComment(uuid, who.person + std::to_string(i), who) ? 0 : 1;
            issues::Issue more;
            more.title = who.person;
            failures += makeIssue(*own, more, {}, who) ? 0 : 1;
        }
    };
    std::thread hers(work, kInes), his(work, kJon);
    // Reading never waits for either.
    for (int i = 0; i < 50; ++i)
        QVERIFY(project_->issues().open().has_value());
    hers.join();
    his.join();
    QCOMPARE(failures.load(), 0);
    QCOMPARE(must(project_->issues().find(uuid, false))->comments.size(), std::size_t{2 * kEach});
    std::set<std::string> numbers;
    for (const issues::Issue& i : must(project_->issues().all()))
        numbers.insert(i.number);
    QCOMPARE(numbers.size(), std::size_t{2 * kEach + 1}); // each given once
}

void TestLog::theQueueDoesWhatItIsTold()
{
    const auto path = project_->folder();
    project_.reset();
    auto writer = std::make_unique<Writer>(Project::open(path).value());
    std::vector<int> order;
    for (int i = 0; i < 50; ++i)
        writer->post(
            [&order, i](Project& p) -> Result<void> {
                order.push_back(i);
                if (i == 7)
                    throw std::runtime_error("a fault of ours");
                return p.setup().setMemberGroup({"Group " + std::to_string(i), {"Piping"}}, kInes);
            },
            {});
    const auto done = writer->wait([](Project& p) { return p.setup().setMemberGroup({"Last", {"Piping"}}, kInes); });
    QVERIFY(done.result.has_value() && done.changed.has(Book::Setup) &&
            done.changed.rows.at("memberGroups").contains("Last"));
    QVERIFY(std::is_sorted(order.begin(), order.end()) && order.size() == 50);
    QVERIFY(!writer->wait([](Project& p) { return p.setup().renameDiscipline("Gardens", "Parks", kInes); })
                 .result.has_value());
    for (int i = 0; i < 20; ++i)
        writer->post(
            [i](Project& p) {
                return p.setup().setMemberGroup({"Late " + std::to_string(i), {"Piping"}}, kInes);
            },
            {});
    writer.reset(); // what is queued is done first
    project_ = Project::open(path).value();
    QCOMPARE(must(project_->setup().memberGroups()).size(), std::size_t{49 + 1 + 20});
}

void TestLog::aKillAtAnyStatementLeavesAWholeProject()
{
    // A child takes one delivery in and is killed within it, at another moment each time: all of it is there, or
    // nothing.
    const DeliveryId id = must(project_->deliveries().all())[0].id;
    const auto path = project_->folder();
    const auto before = cells();
    QVERIFY(takeIn(*project_, {id, {}, {}}, kInes).has_value());
    const auto after = cells().at("composition");
    QVERIFY(project_->undo(kInes).has_value());
    QVERIFY(cells() == before);
    int whole = 0, nothing = 0;
    for (int statement = 1; statement < 40; ++statement) {
        project_.reset();
        const pid_t child = fork();
        if (child == 0) {
            auto own = Project::open(path).value();
            int left = statement;
            // Counts every row that is written, wherever in the command.
            (void)own->store().read([&](SQLite::Database& db) {
                sqlite3_update_hook(
                    db.getHandle(),
                    [](void* counter, int, const char*, const char*, sqlite3_int64) {
                        if (--*static_cast<int*>(counter) == 0)
                            kill(getpid(), SIGKILL);
                    },
                    &left);
                return 0;
            });
            (void)takeIn(*own, {id, {}, {}}, kJon);
            _exit(0);
        }
        int status = 0;
        waitpid(child, &status, 0);
        project_ = Project::open(path).value();
        const auto now = cells();
        if (now == before) {
            ++nothing;
        } else {
            QCOMPARE(now.at("composition").size(), after.size());
            ++whole;
            QVERIFY(project_->undo(kJon).has_value());
            QVERIFY(cells() == before);
        }
        QVERIFY(
            project_->setup().setMemberGroup({"G", {"Piping"}}, kInes).has_value()); // nothing half done is in the way
        QVERIFY(project_->undo(kInes).has_value());
    }
    QVERIFY(nothing >= 5 && whole >= 5);
}

void TestLog::aFailedReadIsToldAndGivesNothing()
{
    std::vector<std::string> told;
    project_->store().setListener([&](const Error& error) { told.push_back(error.message); });
    QVERIFY(project_->store()
                .read([](SQLite::Database& db) { return db.exec("ALTER TABLE deliveries RENAME TO elsewhere"), 0; })
                .has_value());
    QVERIFY(!project_->deliveries().all());
    QVERIFY(orNothing(project_->deliveries().all()).empty());
    QVERIFY(told.size() == 2 && told[0].find("deliveries") != std::string::npos);
    QVERIFY(must(project_->setup().disciplines()).size() == 3); // the rest stays usable
}

QTEST_APPLESS_MAIN(TestLog)
#include "test_log.moc"
