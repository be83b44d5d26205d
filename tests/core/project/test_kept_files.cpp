#include <QTest>

#include "core/base/file.h"
#include "core/federation/member_cache.h"
#include "core/project/demo_project.h"
#include "core/project/kept_files.h"
#include "core/project/receiving.h"
#include "core/project/taking_in.h"
#include "core/project/whole_check.h"
#include "core/project/workspace.h"
#include "support/demo.h"
#include "support/must.h"

#include <QTemporaryDir>

#include <fcntl.h>
#include <sys/stat.h>

#include <barrier>
#include <random>
#include <thread>

using namespace wendrix;
using namespace wendrix::project;
using test::must;
namespace fs = std::filesystem;

/// What a project keeps of deliveries is what was received, or is said not to be: one damaged file costs its own
/// member, receiving it again puts it back, and two windows that receive or test at once take nothing from each other.
class TestKeptFiles : public QObject {
    Q_OBJECT
private slots:
    void init();
    void oneFileCostsOneMember_data();
    void oneFileCostsOneMember();
    void isReadOnceAndAgainWhenTouched();
    void nothingFalseIsKeptUnderARightName();
    void withoutTheReferenceNothingIsTested();
    void theWholeIsChecked();
    void twoReceiveTheSame();
    void whoFailsTakesNothingFromOthers();
    void aRunIsOfWhatItTested_data();
    void aRunIsOfWhatItTested();

private:
    [[nodiscard]] fs::path kept(const std::string& discipline) const
    {
        return project_->deliveries().fileOf(must(project_->deliveries().inUse(discipline))->models()[0]);
    }
    [[nodiscard]] static fs::path sent(const std::string& name) { return test::demoFolder() + "/data/" + name; }
    [[nodiscard]] Workspace loaded() { return load(must(orderOf(*project_)), {}, progress_).value(); }

    std::unique_ptr<QTemporaryDir> scratch_;
    fs::path folder_;
    std::unique_ptr<Project> project_;
    Progress progress_;
    const WhoAndWhen who_{"Ines Varga", "2026-11-18T09:00:00Z"}, other_{"Jon Alder", "2026-11-18T09:05:00Z"};
};

void TestKeptFiles::init()
{
    project_.reset();
    scratch_ = std::make_unique<QTemporaryDir>();
    folder_ = scratch_->filePath("project").toStdString();
    project_ = makeDemoProject(test::demoFolder() + "/data", folder_, progress_).value();
}

void TestKeptFiles::oneFileCostsOneMember_data()
{
    QTest::addColumn<QString>("what");
    QTest::addColumn<QString>("word");
    QTest::newRow("removed") << "removed"
                             << "is missing";
    QTest::newRow("emptied") << "emptied"
                             << "is no longer what was received";
    QTest::newRow("cut short") << "cut"
                               << "is no longer what was received";
    QTest::newRow("one letter of it, its time as before") << "letter"
                                                          << "is no longer what was received";
    QTest::newRow("another model in its place") << "another"
                                                << "is no longer what was received";
    QTest::newRow("a folder in its place") << "folder"
                                           << "is no plain file";
    QTest::newRow("a link in its place, to the same content") << "link"
                                                              << "is missing";
}

void TestKeptFiles::oneFileCostsOneMember()
{
    QFETCH(QString, what);
    QFETCH(QString, word);
    const Workspace whole = loaded(); // read, kept in the cache, and held against its hash
    QVERIFY(whole.missing.empty());
    const fs::path file = kept("Structure");
    const std::string bytes = must(readFileWhole(file));
    struct stat before {};
    ::stat(file.c_str(), &before);
    if (what == "removed" || what == "folder" || what == "link")
        fs::remove(file);
    if (what == "folder")
        fs::create_directory(file);
    if (what == "link")
        fs::create_symlink(sent("MSS-TBF-STR-P01.ifc"), file);
    if (what == "emptied" || what == "cut")
        fs::resize_file(file, what == "cut" ? bytes.size() / 2 : 0);
    if (what == "another")
        fs::copy_file(sent("MSS-TBF-STR-P02.ifc"), file, fs::copy_options::overwrite_existing);
    if (what == "letter") {
        std::string forged = bytes;
        forged[forged.find("IFCBEAM(") + 10] = 'Z'; // of a beam's GlobalId
        QVERIFY(writeFileWhole(file, forged).has_value());
        const timespec times[2] = {before.st_atim, before.st_mtim};
        ::utimensat(AT_FDCWD, file.c_str(), times, 0);
    }
    for (const Workspace& have : {Workspace{}, whole}) {
        const Workspace less = load(must(orderOf(*project_)), have, progress_).value();
        QCOMPARE(less.members.size(), whole.members.size() - 1);
        QVERIFY(less.find("Structure") == nullptr);
        QCOMPARE(less.missing.size(), std::size_t{1});
        QCOMPARE(less.missing[0].discipline, std::string("Structure"));
        QVERIFY2(QString::fromStdString(less.missing[0].why).contains(word), less.missing[0].why.c_str());
        QVERIFY(less.missingInWords().starts_with("Structure P01 is not there: its file MSS-TBF-STR-P01.ifc "));
    }
    // The tests go on with the others, and say what they could not test.
    for (const char* discipline : {"Structure", "Ventilation"}) {
        StoredFit fit;
        fit.isAccepted = true; // as it stands
        QVERIFY(project_->coordinates().setFit(discipline, fit, who_).has_value());
    }
    const Workspace less = loaded();
    const NewRun run = runTests(less, must(orderOf(*project_)), progress_).value();
    QVERIFY(std::any_of(run.tests.begin(), run.tests.end(),
                        [](const RunTest& t) { return t.state == clash::TestState::Run; }));
    for (const RunTest& t : run.tests)
        if (t.test.left == "Structure" || t.test.right == "Structure")
            QVERIFY(t.state == clash::TestState::None);
    const auto structure = std::find_if(run.members.begin(), run.members.end(),
                                        [](const RunMember& m) { return m.discipline == "Structure"; });
    QVERIFY(structure != run.members.end() && !structure->isTested && !structure->why.empty());
    QVERIFY(recordRun(*project_, run, who_).has_value());
    // The same file once more puts it back, by either way.
    if (what == "folder") {
        fs::remove(file);
    } else if (what == "cut") {
        NewDelivery again;
        again.discipline = "Structure";
        again.revision = "P09";
        again.models = {{sent("MSS-TBF-STR-P01.ifc"), {}, {}, 0}};
        const auto received = receiveDelivery(
            folder_, again, [&](const NewDelivery& d) { return project_->deliveries().add(d, who_); }, progress_);
        QVERIFY(!received && received.error().code == kSameDelivery);
        QVERIFY(QString::fromStdString(received.error().message).contains("is put back"));
        QVERIFY(loaded().missing.empty());
        return;
    }
    if (what == "link")
        fs::remove(file);
    const auto drafts = draftsOf(folder_, {sent("MSS-TBF-STR-P01.ifc")}, must(project_->setup().disciplines()),
                                 must(project_->deliveries().all()), progress_);
    QCOMPARE(drafts.size(), std::size_t{1});
    QVERIFY(drafts[0].hasHealed && drafts[0].models.empty());
    QCOMPARE(must(readFileWhole(file)), bytes);
    QVERIFY(loaded().missing.empty());
    QVERIFY(!draftsOf(folder_, {sent("MSS-TBF-STR-P01.ifc")}, must(project_->setup().disciplines()),
                      must(project_->deliveries().all()), progress_)[0]
                 .hasHealed);
}

void TestKeptFiles::isReadOnceAndAgainWhenTouched()
{
    const fs::path file = kept("Structure");
    const std::string hash = file.stem().string(), bytes = must(readFileWhole(file));
    QCOMPARE(whyNotSound(file, hash, progress_), std::string());
    std::string forged = bytes;
    forged.back() = ' ';
    QVERIFY(writeFileWhole(file, forged).has_value());
    QVERIFY(!whyNotSound(file, hash, progress_).empty());
    QVERIFY(writeFileWhole(file, bytes).has_value());
    QCOMPARE(whyNotSound(file, hash, progress_), std::string());
    Progress cancelled;
    cancelled.cancel();
    QVERIFY(writeFileWhole(file, forged).has_value());
    QCOMPARE(whyNotSound(file, hash, cancelled), std::string()); // nothing is claimed of what was not read
    QVERIFY(!whyNotSound(file, hash, progress_).empty());
}

void TestKeptFiles::nothingFalseIsKeptUnderARightName()
{
    // A file of the same size in which one beam has another name is read once, by whatever way; then the right one
    // comes back. What is shown is of the right one.
    const fs::path file = kept("Structure");
    const std::string bytes = must(readFileWhole(file));
    const std::size_t at = bytes.find("IFCBEAM(") + 9;
    const std::string right = bytes.substr(at, 22);
    std::string forged = bytes, wrong = right;
    wrong[5] = wrong[5] == 'Z' ? 'Y' : 'Z';
    forged.replace(at, wrong.size(), wrong);
    fs::remove_all(folder_ / "cache");
    fs::create_directory(folder_ / "cache");
    QVERIFY(writeFileWhole(file, forged).has_value());
    QVERIFY(loaded().find("Structure") == nullptr);
    const federation::MemberCache cache(folder_ / "cache");
    const auto refused = federation::openMember(file, file.stem().string(), {}, cache, progress_);
    QVERIFY(!refused && refused.error().code == federation::kOtherContent);
    QVERIFY(!fs::exists(cache.fileOf(file.stem().string())));
    QVERIFY(writeFileWhole(file, bytes).has_value());
    for (int time = 0; time < 2; ++time) { // read, and out of what was kept
        const Workspace whole = loaded();
        QVERIFY(whole.missing.empty());
        const auto& model = *whole.find("Structure")->model;
        QVERIFY(model.find(right).has_value() && !model.find(wrong).has_value());
        QVERIFY(fs::exists(cache.fileOf(file.stem().string())));
    }
}

void TestKeptFiles::withoutTheReferenceNothingIsTested()
{
    fs::remove(kept("Architecture"));
    const auto run = runTests(loaded(), must(orderOf(*project_)), progress_);
    QVERIFY(!run && run.error().code == kNotSound);
    QVERIFY(QString::fromStdString(run.error().message).contains("Architecture P01 is not there"));
    // What can not be opened can not be taken in either.
    const auto order = must(orderOf(*project_, {{}, must(project_->deliveries().inUse("Architecture"))->id, {}}));
    const auto prepared = prepareTakeIn(order, must(project_->deliveries().inUse("Architecture"))->id, {}, progress_);
    QVERIFY(!prepared && prepared.error().code == kNotSound);
}

void TestKeptFiles::theWholeIsChecked()
{
    QVERIFY(must(checkWhole(folder_, progress_)).empty());
    fs::remove(kept("Structure"));
    const auto missing = must(checkWhole(folder_, progress_));
    QCOMPARE(missing.size(), std::size_t{1});
    QVERIFY(missing[0].words.starts_with("Structure P01: its file MSS-TBF-STR-P01.ifc is missing"));
    // A page of one table: its book is named, the others can still be read.
    std::int64_t page = 0, size = 0;
    (void)must(project_->store().read([&](SQLite::Database& db) {
        page = db.execAndGet("SELECT rootpage FROM sqlite_schema WHERE name='issues'").getInt64();
        size = db.execAndGet("PRAGMA page_size").getInt64();
        return true;
    }));
    project_.reset();
    const fs::path database = folder_ / "project.sqlite";
    std::string bytes = must(readFileWhole(database));
    bytes.replace(static_cast<std::size_t>((page - 1) * size), static_cast<std::size_t>(size),
                  std::string(static_cast<std::size_t>(size), '\xA5'));
    QVERIFY(writeFileWhole(database, bytes).has_value());
    const auto damaged = must(checkWhole(folder_, progress_));
    QVERIFY(damaged.size() >= 2);
    QCOMPARE(damaged[0].words, std::string("Not all of the issues can be read: the database is damaged there."));
    const auto project = must(Project::open(folder_, Project::Access::Read));
    QVERIFY(!must(project->deliveries().all()).empty());
    Progress cancelled;
    cancelled.cancel();
    QVERIFY(must(checkWhole(folder_, cancelled)).empty());
}

void TestKeptFiles::twoReceiveTheSame()
{
    const std::string original = must(readFileWhole(sent("MSS-TBF-STR-P02.ifc")));
    for (int round = 0; round < 8; ++round) {
        // The same content in the drop folders of two windows, that would call it different revisions.
        const fs::path file = folder_.parent_path() / ("sent-" + std::to_string(round) + ".ifc");
        std::string text = original;
        text.insert(text.find("ENDSEC;"), "/* " + std::to_string(round) + " */");
        QVERIFY(writeFileWhole(file, text).has_value());
        std::barrier together(2);
        std::array<std::optional<Result<DeliveryId>>, 2> results;
        const auto receive = [&](std::size_t i) {
            const auto own = must(Project::open(folder_));
            NewDelivery d;
            d.discipline = "Structure";
            d.revision = "P" + std::to_string(20 + 2 * round + static_cast<int>(i));
            d.models = {{file, {}, {}, 0}};
            Progress progress;
            together.arrive_and_wait();
            results[i] = receiveDelivery(
                folder_, d, [&](const NewDelivery& x) { return own->deliveries().add(x, i == 0 ? who_ : other_); },
                progress);
        };
        std::thread a(receive, 0), b(receive, 1);
        a.join();
        b.join();
        QVERIFY(results[0]->has_value() != results[1]->has_value());
        const auto& failed = results[0]->has_value() ? *results[1] : *results[0];
        QVERIFY2(failed.error().code == kSameDelivery, failed.error().message.c_str());
        const DeliveryId id = results[0]->has_value() ? **results[0] : **results[1];
        const auto model = must(project_->deliveries().get(id)).models()[0];
        QCOMPARE(whyNotSound(project_->deliveries().fileOf(model), model.sha256, progress_), std::string());
    }
}

void TestKeptFiles::whoFailsTakesNothingFromOthers()
{
    const std::string original = must(readFileWhole(sent("MSS-TBF-STR-P02.ifc")));
    for (int round = 0; round < 8; ++round) {
        const fs::path file = folder_.parent_path() / ("sent-" + std::to_string(round) + ".ifc");
        std::string text = original;
        text.insert(text.find("ENDSEC;"), "/* fails " + std::to_string(round) + " */");
        QVERIFY(writeFileWhole(file, text).has_value());
        std::barrier together(2);
        std::optional<Result<DeliveryId>> kept;
        const auto receive = [&](bool isRefused) {
            const auto own = must(Project::open(folder_));
            NewDelivery d;
            d.discipline = "Structure";
            d.revision = "P" + std::to_string(20 + round);
            d.models = {{file, {}, {}, 0}};
            Progress progress;
            together.arrive_and_wait();
            auto result = receiveDelivery(
                folder_, d,
                [&](const NewDelivery& x) -> Result<DeliveryId> {
                    return isRefused ? fail({kReadOnly, "no"}) : own->deliveries().add(x, who_);
                },
                progress);
            if (!isRefused)
                kept = std::move(result);
        };
        std::thread a(receive, false), b(receive, true);
        a.join();
        b.join();
        QVERIFY(kept->has_value());
        const auto model = must(project_->deliveries().get(**kept)).models()[0];
        QCOMPARE(whyNotSound(project_->deliveries().fileOf(model), model.sha256, progress_), std::string());
    }
    for (const auto& entry : fs::directory_iterator(folder_ / "deliveries"))
        QVERIFY2(!entry.path().filename().string().starts_with("."), entry.path().c_str());
}

void TestKeptFiles::aRunIsOfWhatItTested_data()
{
    QTest::addColumn<QString>("meanwhile");
    QTest::addColumn<QString>("said"); // empty: the run is recorded
    QTest::newRow("nothing") << "nothing"
                             << "";
    QTest::newRow("a decision") << "decision"
                                << "";
    QTest::newRow("a delivery received") << "received"
                                         << "";
    QTest::newRow("a delivery taken in") << "taken"
                                         << "Another delivery of Structure was taken in";
    QTest::newRow("a fit changed") << "fit"
                                   << "The fit of Structure was changed";
    QTest::newRow("a delivery taken in, and that undone") << "undone"
                                                          << "";
}

void TestKeptFiles::aRunIsOfWhatItTested()
{
    QFETCH(QString, meanwhile);
    QFETCH(QString, said);
    const NewRun run = runTests(loaded(), must(orderOf(*project_)), progress_).value();
    const std::size_t before = must(project_->clashes().runs()).size();
    { // another window
        const auto other = must(Project::open(folder_));
        if (meanwhile == "received" || meanwhile == "taken" || meanwhile == "undone") {
            NewDelivery d;
            d.discipline = "Structure";
            d.revision = "P02";
            d.models = {{sent("MSS-TBF-STR-P02.ifc"), {}, {}, 0}};
            const DeliveryId id = must(other->deliveries().add(d, other_));
            if (meanwhile != "received")
                QVERIFY(takeIn(*other, {id, {}, {}}, other_).has_value());
            if (meanwhile == "undone")
                QVERIFY(other->undo(other_).has_value());
        } else if (meanwhile == "fit") {
            StoredFit fit;
            fit.fit.translation = {0.1, 0, 0};
            QVERIFY(other->coordinates().setFit("Structure", fit, other_).has_value());
        } else if (meanwhile == "decision") {
            QVERIFY(other->setup().setExpectations({}, other_).has_value());
        }
    }
    const auto recorded = recordRun(*project_, run, who_);
    QCOMPARE(recorded.has_value(), said.isEmpty());
    QCOMPARE(must(project_->clashes().runs()).size(), before + (said.isEmpty() ? 1 : 0));
    if (!said.isEmpty()) {
        QVERIFY(recorded.error().code == kCompositionChanged);
        QVERIFY2(QString::fromStdString(recorded.error().message).startsWith(said), recorded.error().message.c_str());
    }
}

QTEST_GUILESS_MAIN(TestKeptFiles)
#include "test_kept_files.moc"
