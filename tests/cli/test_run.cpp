#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

#include "core/federation/grid_fit.h"
#include "core/project/demo_project.h"
#include "core/project/issue_making.h"
#include "core/project/workspace.h"
#include "support/demo.h"
#include "support/must.h"

using namespace wendrix;
using namespace wendrix::project;
using test::must;

/// The command line on a project: what a build server does in one call.
class TestRun : public QObject {
    Q_OBJECT
private slots:
    void init();
    void testsAProjectWithoutWritingToIt();
    void takesInWhatStandsRight();
    void holdsWhatDoesNot();
    void failsByRule();
    void refusesWhatIsNone();

private:
    struct Answer {
        int code = 0;
        QJsonObject json;
        QString said;
    };
    [[nodiscard]] Answer call(const QStringList& words) const;
    [[nodiscard]] QString project() const { return folder_->path() + "/project"; }
    std::unique_ptr<QTemporaryDir> folder_;
    Progress progress_;
};

TestRun::Answer TestRun::call(const QStringList& words) const
{
    QProcess process;
    process.start(WENDRIX_CLI, words);
    if (!process.waitForFinished(120'000))
        qFatal("wendrix-cli did not end");
    return {process.exitCode(), QJsonDocument::fromJson(process.readAllStandardOutput()).object(),
            QString::fromUtf8(process.readAllStandardError())};
}

void TestRun::init()
{
    folder_ = std::make_unique<QTemporaryDir>();
    const std::string data = test::demoFolder() + "/data";
    const auto made = makeDemoProject(data, project().toStdString(), progress_);
    QVERIFY(made.has_value());
    // Aligned, as a coordinator would have left it; then the second cycle arrives.
    const Workspace workspace = load(must(orderOf(**made)), {}, progress_).value();
    for (const char* discipline : {"Structure", "Ventilation", "Electrical"}) {
        const auto* member = workspace.find(discipline);
        const auto fit = federation::fitByGrids(*workspace.find("Architecture")->model, *member->model).value();
        StoredFit stored;
        stored.fit = fit.fit;
        stored.isLocked = true;
        stored.method = "grids";
        stored.residuals = fit.residuals;
        QVERIFY((*made)->coordinates().setFit(discipline, stored, {"Ines Varga", "2026-11-18T09:00:00Z"}).has_value());
    }
    QVERIFY(receiveDemoCycle(**made, data, 2, progress_).has_value());
}

void TestRun::testsAProjectWithoutWritingToIt()
{
    const Answer answer = call({"clash", project()});
    QCOMPARE(answer.code, 0);
    QVERIFY(answer.json["clashes"].toArray().size() > 5);
    const auto opened = Project::open(project().toStdString());
    QVERIFY(must((*opened)->clashes().all()).empty());
}

void TestRun::takesInWhatStandsRight()
{
    std::string wanting; // an issue that was made of a finding is asked of what is taken in
    {
        const auto opened = must(Project::open(project().toStdString()));
        std::int64_t structure = 0;
        for (const Discipline& d : must(opened->setup().disciplines()))
            if (d.name == "Structure")
                structure = d.id;
        issues::Issue issue;
        issue.title = "Proxies";
        const issues::Requirement wanted{structure, "class.proxy", "Elements are exported as proxies", {}};
        QVERIFY(makeIssues(*opened, {{issue, {}, issues::made_from::kCheck, wanted}}, {"Ines Varga", "2026-11-18"})
                    .has_value());
        wanting = must(opened->issues().all()).back().uuid;
    }
    const Answer answer = call({"run", project(), "--as", "Build server"});
    QVERIFY2(answer.code == 0, qPrintable(answer.said));
    QStringList taken, held;
    for (const QJsonValue d : answer.json["takenIn"].toArray())
        taken << d["delivery"].toString();
    for (const QJsonValue d : answer.json["held"].toArray())
        held << d["delivery"].toString();
    QVERIFY2(taken.contains("Structure P02") && taken.contains("Ventilation P02"), qPrintable(taken.join(", ")));
    QVERIFY2(held.contains("Electrical P02"), qPrintable(held.join(", "))); // exported in the wrong unit
    // What it did is in the project, with the name that was given.
    const auto opened = Project::open(project().toStdString());
    const auto requirement = must((*opened)->issues().requirementOf(wanting)).value();
    QVERIFY(requirement.moments.size() == 1 && requirement.moments[0].revision == "P02" && requirement.isMet());
    const auto pairs = must((*opened)->clashes().all());
    QVERIFY(static_cast<qsizetype>(pairs.size()) >= answer.json["clashes"].toArray().size());
    QVERIFY(!pairs.empty());
    for (const Delivery& d : must((*opened)->deliveries().all()))
        if (d.name() == "Structure P02")
            QVERIFY(d.state == DeliveryState::InUse);
    // Called again, there is nothing left to take in, and it finds the same.
    const Answer again = call({"run", project()});
    QVERIFY(again.json["takenIn"].toArray().isEmpty());
    QCOMPARE(again.json["clashes"].toArray().size(), answer.json["clashes"].toArray().size());
}

void TestRun::holdsWhatDoesNot()
{
    const Answer none = call({"run", project(), "--take-in", "none"});
    QCOMPARE(none.code, 0);
    QVERIFY(none.json["takenIn"].toArray().isEmpty() && none.json["held"].toArray().isEmpty());
}

void TestRun::failsByRule()
{
    const QString report = folder_->path() + "/report.xml";
    const Answer failing = call({"run", project(), "--fail-on", "undecided>0", "--junit", report});
    QCOMPARE(failing.code, 1);
    QFile file(report);
    QVERIFY(file.open(QIODevice::ReadOnly));
    const QByteArray xml = file.readAll();
    QVERIFY(xml.contains("<testsuite") && xml.contains("Structure × Ventilation") && xml.contains("<failure"));
    // Once everything is decided, nothing is undecided.
    {
        const auto opened = Project::open(project().toStdString());
        std::vector<PairId> all;
        for (const Pair& p : must((*opened)->clashes().all()))
            all.push_back(p.id);
        QVERIFY((*opened)
                    ->clashes()
                    .decide(all, "let stand", "Agreed on site", {"Ines Varga", "2026-11-18T09:00:00Z"})
                    .has_value());
    }
    QCOMPARE(call({"run", project(), "--fail-on", "undecided>0"}).code, 0);
    QCOMPARE(call({"run", project(), "--fail-on", "clashes>0"}).code, 1);
}

void TestRun::refusesWhatIsNone()
{
    QCOMPARE(call({"run", folder_->path() + "/nothing"}).code, 3);
    QCOMPARE(call({"run", project(), "--take-in", "some"}).code, 2);
    QCOMPARE(call({"run", project(), "--fail-on", "ducts>0"}).code, 2);
    QCOMPARE(call({"run"}).code, 2);
}

QTEST_GUILESS_MAIN(TestRun)
#include "test_run.moc"
