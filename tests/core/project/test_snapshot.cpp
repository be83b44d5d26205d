#include <QTest>

#include "core/project/project.h"
#include "support/made_project.h"
#include "support/must.h"

#include <QTemporaryDir>

#include <atomic>
#include <thread>

using namespace wendrix;
using namespace wendrix::project;
using test::kInes;
using test::must;

/// What is asked of a project is of one state of it, a question of several statements and several questions that belong
/// together, while others record runs and change the setup.
class TestSnapshot : public QObject {
    Q_OBJECT
private slots:
    void init();
    void aQuestionIsOfOneState();
    void questionsTogetherAreOfOneState();
    void itEnds();

private:
    /// Records run after run beside what is asked; run n finds n pairs, all of them.
    template <class Ask>
    void whileRunsAreRecorded(int most, const Ask& ask)
    {
        std::atomic<bool> isDone{false};
        std::thread recording([&] {
            const auto project = Project::open(folder_).value();
            for (int n = 1; n <= most; ++n) {
                test::MadeRun made(*project, {"Structure", "Ventilation"});
                for (int k = 0; k < n; ++k)
                    made.pair(made.ref("Structure", "beam" + std::to_string(k)),
                              made.ref("Ventilation", "duct" + std::to_string(k)));
                (void)must(recordRun(*project, made.run, kInes));
            }
            isDone = true;
        });
        const auto reading = Project::open(folder_, Project::Access::Read).value();
        int asked = 0;
        while (!isDone) {
            ask(*reading);
            ++asked;
        }
        recording.join();
        QVERIFY2(asked > 20, std::to_string(asked).c_str());
    }

    std::unique_ptr<QTemporaryDir> scratch_;
    std::filesystem::path folder_;
};

void TestSnapshot::init()
{
    scratch_ = std::make_unique<QTemporaryDir>();
    folder_ = scratch_->path().toStdString() + "/p";
    (void)test::madeProject(folder_, {"Structure", "Ventilation"});
}

void TestSnapshot::aQuestionIsOfOneState()
{
    int torn = 0;
    std::size_t most = 0;
    whileRunsAreRecorded(60, [&](const Project& project) {
        const PairBriefs briefs = must(project.clashes().briefs());
        most = std::max(most, briefs.pairs.size());
        for (const PairBrief& b : briefs.pairs) // every run finds every pair there is
            torn += b.isOfLastRun && b.leftElement < briefs.elements.size() ? 0 : 1;
    });
    QCOMPARE(torn, 0);
    QVERIFY(most > 5);
}

void TestSnapshot::questionsTogetherAreOfOneState()
{
    int torn = 0, apart = 0;
    whileRunsAreRecorded(60, [&](const Project& project) {
        const auto both = [&] {
            const auto run = must(project.clashes().lastRun());
            const std::size_t pairs = must(project.clashes().briefs()).pairs.size();
            return (run ? static_cast<std::size_t>(run->id) : 0) == pairs;
        };
        {
            const auto snapshot = project.store().snapshot();
            torn += both() ? 0 : 1;
            torn += both() ? 0 : 1; // and once more
        }
        apart += both() ? 0 : 1;
    });
    QCOMPARE(torn, 0);
    if (apart == 0)
        qInfo("without a snapshot nothing came in between this time");
}

void TestSnapshot::itEnds()
{
    const auto writing = Project::open(folder_).value(),
               reading = Project::open(folder_, Project::Access::Read).value();
    const auto federations = [&] { return must(reading->setup().federations()).size(); };
    const std::size_t before = federations();
    {
        const auto outer = reading->store().snapshot();
        QCOMPARE(federations(), before);
        {
            const auto inner = reading->store().snapshot(); // one within another is the same one
            QVERIFY(writing->setup().setFederation({"Vaults", {{"Structure", false}}, false}, kInes).has_value());
            QCOMPARE(federations(), before);
        }
        QCOMPARE(federations(), before);
    }
    QCOMPARE(federations(), before + 1);
    // What writes asks within its own commands, too.
    const auto snapshot = writing->store().snapshot();
    QCOMPARE(must(writing->setup().federations()).size(), before + 1);
}

QTEST_GUILESS_MAIN(TestSnapshot)
#include "test_snapshot.moc"
