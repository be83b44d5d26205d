#include <QTest>

#include "core/base/file.h"
#include "core/federation/grid_fit.h"
#include "core/project/clash_cause.h"
#include "core/project/demo_project.h"
#include "core/project/issue_making.h"
#include "core/project/receiving.h"
#include "core/project/workspace.h"
#include "support/demo.h"
#include "support/made_project.h"
#include "support/must.h"

#include <QTemporaryDir>

#include <sys/wait.h>
#include <unistd.h>

#include <csignal>
#include <fstream>
#include <map>

using namespace wendrix;
using namespace wendrix::project;
using test::must;

/// The project's keeping: everything done is stored, undoable and survives a kill; what fails changes nothing.
class TestProject : public QObject {
    Q_OBJECT
private slots:
    void init();
    void walksTheWholeJob();
    void undoesAndDoesAgain();
    void undoSurvivesARestart();
    void survivesAKill();
    void keepsViewsWithTheirVersions();
    void notesHaveNumbersAndAHistory();
    void groupsOfMembersAreKept();
    void isReadOnlyWhileAskedTo();
    void brokenFilesChangeNothing_data();
    void brokenFilesChangeNothing();
    void reopensWhatComesBack();
    void refusesAFolderInUse();
    void draftsIssues();
    void saysWhereAPairIs_data();
    void saysWhereAPairIs();

private:
    void fitAll();
    void run();
    void takeInAll();
    [[nodiscard]] std::map<std::pair<std::string, std::string>, Pair> pairs() const;

    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<Project> project_;
    Progress progress_;
    const WhoAndWhen who_{"Ines Varga", "2026-11-18T09:00:00Z"};
};

namespace {

std::string data() { return test::demoFolder() + "/data"; }

StoredFit lockedFit(const federation::GridFit& fit)
{
    StoredFit stored;
    stored.fit = fit.fit;
    stored.isLocked = true;
    stored.method = "grids";
    stored.worst = fit.worst.value;
    stored.residuals = fit.residuals;
    return stored;
}

} // namespace

void TestProject::init()
{
    project_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    project_ = makeDemoProject(data(), (folder_->path() + "/project").toStdString(), progress_).value();
}

void TestProject::fitAll()
{
    const Workspace workspace = load(must(orderOf(*project_)), {}, progress_).value();
    const federation::Member& reference = *workspace.find("Architecture");
    for (const char* discipline : {"Structure", "Ventilation"}) {
        const auto fit = federation::fitByGrids(*reference.model, *workspace.find(discipline)->model).value();
        QVERIFY(project_->coordinates().setFit(discipline, lockedFit(fit), who_).has_value());
    }
}

void TestProject::run()
{
    const WorkspaceOrder order = must(orderOf(*project_));
    const Workspace workspace = load(order, {}, progress_).value();
    const auto findings = runTests(workspace, order, progress_);
    QVERIFY(recordRun(*project_, findings.value(), who_).has_value());
    // Run again where the run before is remembered, it finds the same.
    const auto again = runTests(workspace, order, progress_);
    QVERIFY(again.has_value() && again->findings.size() == findings->findings.size());
    for (std::size_t i = 0; i < again->findings.size(); ++i) {
        const RunFinding &a = again->findings[i], &b = findings->findings[i];
        QVERIFY(again->elements[a.left].ref == findings->elements[b.left].ref &&
                again->elements[a.right].ref == findings->elements[b.right].ref);
        QVERIFY(a.depth == b.depth && a.point == b.point && a.test == b.test);
    }
}

void TestProject::takeInAll()
{
    QVERIFY(receiveDemoCycle(*project_, data(), 2, progress_).has_value());
    for (const Delivery& d : must(project_->deliveries().all()))
        if (d.state == DeliveryState::Waiting && d.discipline != "Electrical") { // that one is in the wrong unit
            const Workspace have = load(must(orderOf(*project_)), {}, progress_).value();
            const auto prepared = prepareTakeIn(must(orderOf(*project_, {{}, d.id, {}})), d.id, have, progress_);
            QVERIFY(prepared.has_value());
            QVERIFY(prepared->alignment.starts_with("Alignment verified"));
            QVERIFY(takeIn(*project_, prepared->record, who_).has_value());
        }
}

std::map<std::pair<std::string, std::string>, Pair> TestProject::pairs() const
{
    std::map<std::pair<std::string, std::string>, Pair> map;
    for (const Pair& p : must(project_->clashes().all()))
        map[{p.left.element.guid, p.right.element.guid}] = p;
    return map;
}

void TestProject::walksTheWholeJob()
{
    fitAll();
    run();
    const auto truth = test::truth();
    QCOMPARE(must(project_->clashes().all()).size(), test::designedWithoutPiping("P01"));
    std::vector<PairId> ids;
    for (const auto& cured : truth["cured"])
        ids.push_back(pairs().at({cured[0], cured[1]}).id);
    issues::Issue issue;
    issue.title = "All that the second revision cures";
    QCOMPARE(makeIssue(*project_, issue, ids, who_).value(), std::string("MSS-001"));
    const std::string uuid = must(project_->issues().all())[0].uuid;
    QVERIFY(!must(evidenceOf(*project_, uuid)).isSettled());
    for (const auto& [ends, p] : pairs())
        QCOMPARE(must(causeOf(*project_, p)), std::string("found by the first run"));
    takeInAll();
    // New, still there and gone exactly as designed.
    const auto now = pairs();
    std::size_t explained = 0;
    for (const auto& [ends, p] : now) {
        const std::string cause = must(causeOf(*project_, p));
        QCOMPARE(cause.empty(), p.state != clash::PairState::New && p.state != clash::PairState::Back);
        if (cause.empty())
            continue;
        ++explained;
        QVERIFY2(cause.find(" in P02") != std::string::npos &&
                     (cause.starts_with(p.left.name) || cause.starts_with(p.right.name)),
                 cause.c_str());
    }
    QVERIFY(explained > 0);
    std::size_t gone = 0, fresh = 0;
    for (const auto& [ends, p] : now) {
        gone += p.isGone() ? 1 : 0;
        fresh += p.state == clash::PairState::New || p.state == clash::PairState::StillThere ? 1 : 0;
    }
    QCOMPARE(gone, truth["cured"].size());
    QCOMPARE(fresh, test::designedWithoutPiping("P02"));
    for (const auto& cured : truth["cured"])
        QVERIFY(now.at({cured[0], cured[1]}).isGone());
    for (const auto& caused : truth["caused"])
        QVERIFY(!now.at({caused[0], caused[1]}).isGone());
    const issues::Evidence evidence = must(evidenceOf(*project_, uuid));
    QVERIFY(evidence.isSettled());
    QVERIFY2(evidence.inWords().find("was lowered by 205 mm in P02") != std::string::npos, evidence.inWords().c_str());
    QVERIFY(project_->issues().setStatus(uuid, issues::status::kClosed, evidence.inWords(), who_).has_value());
    QCOMPARE(must(project_->issues().find(uuid, false))->status, std::string("Closed"));
    QCOMPARE(must(project_->issues().find(uuid, false))->comments.back().author, std::string("Ines Varga"));
}

void TestProject::undoesAndDoesAgain()
{
    fitAll();
    run();
    const auto before = pairs();
    const PairId id = before.begin()->second.id;
    QVERIFY(project_->clashes().decide(std::span(&id, 1), "let stand", "agreed on site", who_).has_value());
    QCOMPARE(pairs().begin()->second.decision, std::string("let stand"));
    QVERIFY(project_->undo(who_).has_value());
    QCOMPARE(pairs().begin()->second.decision, std::string());
    QVERIFY(project_->redo(who_).has_value());
    QCOMPARE(pairs().begin()->second.reason, std::string("agreed on site"));
    QVERIFY(project_->undo(who_).has_value());
    QVERIFY(project_->undo(who_).has_value()); // the run
    QVERIFY(must(project_->clashes().all()).empty() && must(project_->clashes().runs()).empty());
    QVERIFY(project_->undo(who_).has_value()); // the second fit
    QVERIFY(!must(project_->coordinates().fitInUse("Ventilation")).isLocked);
    QVERIFY(must(project_->coordinates().fitInUse("Structure")).isLocked);
    QVERIFY(project_->deliveries().hold({"Structure", "", "", {}}, who_).has_value());
    QVERIFY(must(project_->log().redoable(who_.person)).empty()); // nothing is done again on top of something new
    QCOMPARE(must(project_->log().last(1))[0].by.person, std::string("Ines Varga"));
}

void TestProject::undoSurvivesARestart()
{
    fitAll();
    const auto folder = project_->folder();
    project_.reset();
    project_ = Project::open(folder).value();
    QVERIFY(must(project_->coordinates().fitInUse("Ventilation")).isLocked);
    QVERIFY(project_->undo(who_).has_value());
    QVERIFY(!must(project_->coordinates().fitInUse("Ventilation")).isLocked);
}

void TestProject::survivesAKill()
{
    // A child works as fast as it can and is killed; it says through a pipe what it was told is done.
    const auto folder = project_->folder();
    project_.reset();
    int ends[2];
    QVERIFY(pipe(ends) == 0);
    const pid_t child = fork();
    if (child == 0) {
        auto project = Project::open(folder).value();
        issues::Issue issue;
        issue.title = "One";
        (void)makeIssue(*project, issue, {}, who_);
        const std::string uuid = must(project->issues().all())[0].uuid;
        for (std::uint32_t i = 0;; ++i)
            if (project->issues().addComment(uuid, "comment " + std::to_string(i), who_))
                (void)!write(ends[1], &i, sizeof i);
    }
    close(ends[1]);
    std::uint32_t done = 0, last = 0;
    while (last < 30 && read(ends[0], &last, sizeof last) == sizeof last)
        done = last;
    kill(child, SIGKILL);
    int status = 0;
    waitpid(child, &status, 0);
    while (read(ends[0], &last, sizeof last) == sizeof last)
        done = last;
    close(ends[0]);
    QVERIFY(WIFSIGNALED(status));
    project_ = Project::open(folder).value();
    const auto comments = must(project_->issues().find(must(project_->issues().all())[0].uuid, false))->comments;
    QVERIFY2(comments.size() >= done + 1, "something that was said to be done is lost");
    QVERIFY(must(project_->log().last(1))[0].what.find(": Comment: ") != std::string::npos);
    QVERIFY(project_->undo(who_).has_value()); // nothing half done is in the way
    QCOMPARE(must(project_->issues().find(must(project_->issues().all())[0].uuid, false))->comments.size(),
             comments.size() - 1);
}

void TestProject::brokenFilesChangeNothing_data()
{
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<QString>("code");
    QTest::newRow("missing") << QByteArray() << "file.unreadable";
    QTest::newRow("empty") << QByteArray("") << "file.empty";
    QTest::newRow("not IFC") << QByteArray("%PDF-1.7 something else") << "step.not-step";
    QTest::newRow("an archive without a model") << QByteArray("PK\x03\x04 something else") << "step.archive";
    QTest::newRow("truncated") << QByteArray("ISO-10303-21;HEADER;FILE_SCHEMA(('IFC4'));ENDSEC;DATA;#1=IFCPROJECT('a'")
                               << "step.truncated";
}

void TestProject::brokenFilesChangeNothing()
{
    QFETCH(QByteArray, bytes);
    const std::filesystem::path file = (folder_->path() + "/broken.ifc").toStdString();
    if (!bytes.isNull()) {
        std::ofstream(file, std::ios::binary).write(bytes.constData(), bytes.size());
        QVERIFY(std::filesystem::exists(file));
    }
    const auto before = must(project_->log().last(1))[0].what;
    const auto described = describeModel(file, progress_);
    QVERIFY(!described.has_value());
    QTEST(QString::fromUtf8(described.error().code.name.data()), "code");
    QCOMPARE(described.error().file, file.string());
    QVERIFY(described.error().message.size() > 20);
    QCOMPARE(must(project_->log().last(1))[0].what, before);
    // A delivery whose kept file was damaged later: taking in fails and the composition stays.
    const Delivery used = *must(project_->deliveries().inUse("Structure"));
    std::filesystem::resize_file(project_->deliveries().fileOf(used.models()[0]), 1000);
    QCOMPARE(load(must(orderOf(*project_)), {}, progress_).value().missing.size(), std::size_t{1});
    QVERIFY(!prepareTakeIn(must(orderOf(*project_)), used.id, {}, progress_).has_value());
    QCOMPARE(must(project_->deliveries().inUse("Structure"))->id, used.id);
}

void TestProject::reopensWhatComesBack()
{
    fitAll();
    run();
    const Pair p = must(project_->clashes().all())[0];
    issues::Issue issue;
    issue.title = "One pair";
    QVERIFY(makeIssue(*project_, issue, std::span(&p.id, 1), who_).has_value());
    const std::string uuid = must(project_->issues().all())[0].uuid;
    NewRun again;
    again.members = {{p.left.element.discipline, p.left.discipline, "P01", "", 1, {}, true, ""},
                     {p.right.element.discipline, p.right.discipline, "P01", "", 2, {}, true, ""}};
    again.tests = {test::testOf(p.left.discipline, p.right.discipline)};
    NewRun nothing = again;
    again.elements = {{p.left.element, p.left.name, p.left.className},
                      {p.right.element, p.right.name, p.right.className}};
    again.findings = {{0, 0, 1, p.depth, p.point, p.storey, p.bay, false}};
    QVERIFY(recordRun(*project_, nothing, who_).has_value());
    QVERIFY(must(evidenceOf(*project_, uuid)).isSettled());
    QVERIFY(project_->issues().setStatus(uuid, issues::status::kClosed, "", who_).has_value());
    QVERIFY(recordRun(*project_, again, who_).has_value());
    QCOMPARE(must(project_->issues().find(uuid, false))->status, std::string(issues::status::kBack));
    QVERIFY(must(project_->issues().find(uuid, false))
                ->comments.back()
                .text.starts_with("Reopened: a clash of this issue is back"));
}

void TestProject::refusesAFolderInUse()
{
    const auto again = Project::create(project_->folder(), "Another", who_);
    QVERIFY(!again && again.error().code == kFolderInUse);
    const auto none = Project::open(folder_->path().toStdString());
    QVERIFY(!none && none.error().code == kNoProject);
}

void TestProject::draftsIssues()
{
    Pair p;
    p.test = "Structure × Ventilation";
    p.left.name = "Beam B-C / 4";
    p.right.name = "Supply duct";
    p.right.discipline = "Fire protection";
    p.right.revision = "P03";
    p.depth = 0.12;
    p.storey = "Level 2";
    p.bay = "B-C / 4";
    Pair other = p;
    other.bay = "B-C / 5";
    other.depth = 0.008;
    const std::vector<Pair> both{p, other}, one{other};
    const issues::Issue issue = draftIssue("T", both, "2026-11-20T09:00:00Z");
    QCOMPARE(issue.assignee, std::string("Fire protection"));
    QCOMPARE(issue.priority, std::string("High"));
    QCOMPARE(issue.dueAt, std::string("2026-11-27T09:00:00Z"));
    QCOMPARE(issue.description,
             std::string("Where: Level 2, bays B-C / 4; B-C / 5.\nBeam B-C / 4 and Supply duct: 120 mm deep\n"
                         "Beam B-C / 4 and Supply duct: 8 mm deep"));
    QCOMPARE(draftIssue("T", one, "2026-11-20T09:00:00Z").priority, std::string("Low"));
    issues::IssueTemplate holes;
    holes.name = "Holes";
    holes.title = "{left} and {right}, {storey}";
    holes.description = "{count} in {bay}, {depth} at {elevation}\n{revisions}";
    holes.priority = "Normal";
    holes.labels = {"Holes", "{test}", "{decider}"};
    holes.daysToFix = 3;
    p.left.discipline = other.left.discipline = "Structure";
    p.left.revision = other.left.revision = "P01";
    other.right.element.guid = "another";
    other.point.z = 4;
    const std::vector<Pair> two{p, other};
    const issues::Issue filled = draftIssue("T", two, "2026-11-20T09:00:00Z", holes, "Jon Alder");
    QCOMPARE(filled.title, std::string("Beam B-C / 4 and 2 elements, Level 2"));
    QCOMPARE(filled.description, std::string("2 in B-C / 4; B-C / 5, 120 mm deep at +0.000 to +4.000\nFire protection "
                                             "P03, Structure P01"));
    QCOMPARE(filled.labels, (std::vector<std::string>{"Holes", "Structure × Ventilation", "Jon Alder"}));
    QVERIFY(filled.priority == "Normal" && filled.assignee == "Jon Alder" && filled.dueAt == "2026-11-23T09:00:00Z");
    holes.assignee = "{left}";
    QCOMPARE(draftIssue("T", two, "2026-11-20T09:00:00Z", holes, "Jon Alder").assignee, std::string("Structure"));
    holes.assignee = "{decider}";
    QCOMPARE(draftIssue("T", two, "2026-11-20T09:00:00Z", holes).assignee, std::string("Fire protection"));
    QCOMPARE(whereInWords(one), std::string("Level 2, bay B-C / 5"));
    QCOMPARE(weightOf(0.05).bars, 2);
}

void TestProject::saysWhereAPairIs_data()
{
    QTest::addColumn<QList<QStringList>>("places"); // storey and bay
    QTest::addColumn<QString>("words");
    const auto row = [](const char* name, QList<QStringList> places, const char* words) {
        QTest::newRow(name) << places << words;
    };
    row("one", {{"Level 2", "B-C / 5"}}, "Level 2, bay B-C / 5");
    row("the same twice", {{"Level 2", "B-C / 5"}, {"Level 2", "B-C / 5"}}, "Level 2, bay B-C / 5");
    row("three bays", {{"Level 2", "B / 5"}, {"Level 2", "B / 6"}, {"Level 2", "B / 7"}},
        "Level 2, bays B / 5; B / 6; B / 7");
    row("more than can be said",
        {{"Level 2", "B / 5"}, {"Level 2", "B / 6"}, {"Level 2", "B / 7"}, {"Level 2", "B / 8"}}, "Level 2, 4 bays");
    row("over two storeys", {{"Level 2", "B / 5"}, {"Level 1", "B / 5"}}, "Level 1, Level 2, bay B / 5");
    row("a house without a grid", {{"Ground floor", ""}, {"Ground floor", ""}}, "Ground floor");
    row("a grid without storeys", {{"", "B / 5"}}, "bay B / 5");
    row("neither", {{"", ""}}, "");
    row("one of two has none", {{"Level 2", "B / 5"}, {"", ""}}, "Level 2, bay B / 5");
}

void TestProject::saysWhereAPairIs()
{
    QFETCH(QList<QStringList>, places);
    QFETCH(QString, words);
    std::vector<Pair> pairs;
    for (const QStringList& place : places) {
        Pair p;
        p.storey = place[0].toStdString();
        p.bay = place[1].toStdString();
        p.left.name = "Wall";
        p.right.name = "Pipe";
        pairs.push_back(p);
    }
    QCOMPARE(QString::fromStdString(whereInWords(pairs)), words);
    const std::string description = draftIssue("T", pairs, "2026-11-20T09:00:00Z").description;
    QVERIFY(description.starts_with(words.isEmpty() ? "Wall and Pipe"
                                                    : "Where: " + words.toStdString() + ".\nWall and Pipe"));
}

void TestProject::keepsViewsWithTheirVersions()
{
    const QTemporaryDir folder;
    const auto path = std::filesystem::path(folder.path().toStdString()) / "p";
    const WhoAndWhen ines{"Ines Varga", "2026-11-16T17:42:00Z"}, jon{"Jon Alder", "2026-11-17T08:00:00Z"};
    auto project = Project::create(path, "Marrowfield Seed Store", ines).value();
    KeptView view;
    view.title = "Level 2 main duct";
    view.folder = "Ventilation";
    view.isShared = false;
    view.state = "{\"camera\":1}";
    QVERIFY(!project->views().keep({}, "", ines)); // without a title
    view.uuid = project->views().keep(view, "PNG", ines).value();
    QVERIFY(readFileWhole(path / "pictures" / must(project->views().views("Ines Varga"))[0].picture) == "PNG");
    QVERIFY(must(project->views().views("Jon Alder")).empty()); // private
    view.isShared = true;
    view.state = "{\"camera\":2}";
    QVERIFY(project->views().keep(view, "", jon).has_value());
    QCOMPARE(must(project->views().views("Jon Alder")).size(), std::size_t{1});
    QCOMPARE(must(project->views().views("Jon Alder"))[0].version, 2);
    QCOMPARE(must(project->views().versionsOf(view.uuid)).size(), std::size_t{2});
    QCOMPARE(must(project->views().versionsOf(view.uuid))[1].state, std::string("{\"camera\":1}"));
    QVERIFY(project->views().remove(view.uuid, jon).has_value());
    QVERIFY(must(project->views().views("Ines Varga")).empty() && !project->views().remove(view.uuid, jon));
    QVERIFY(project->undo(jon).has_value());
    QCOMPARE(must(project->views().views("Ines Varga")).size(), std::size_t{1});
    QVERIFY(project->undo(jon).has_value()); // the update
    QCOMPARE(must(project->views().views("Ines Varga"))[0].version, 1);
}

void TestProject::notesHaveNumbersAndAHistory()
{
    const QTemporaryDir folder;
    const auto path = std::filesystem::path(folder.path().toStdString()) / "p";
    const WhoAndWhen ines{"Ines Varga", "2026-11-16T17:42:00Z"}, jon{"Jon Alder", "2026-11-17T08:00:00Z"};
    auto project = Project::create(path, "Marrowfield Seed Store", ines).value();
    Note note;
    note.place = {1.25, -3, 0.1 + 0.2};
    note.state = "{}";
    QVERIFY(!project->views().addNote(note, "", ines)); // without words
    note.said.push_back({"", "Move it", {}});
    QCOMPARE(project->views().addNote(note, "PNG", ines).value(), 1);
    QCOMPARE(project->views().addNote(note, "", jon).value(), 2);
    const std::string first = must(project->views().notes())[0].uuid;
    QVERIFY(must(project->views().notes())[0].place == note.place);
    QCOMPARE(must(project->views().notes())[0].status(), std::string("open"));
    QVERIFY(!project->views().sayToNote(first, "nearly done", "", jon)); // no such status
    QVERIFY(project->views().sayToNote(first, "answered", "Moved", jon).has_value());
    QVERIFY(project->views().sayToNote(first, "settled", "", ines).has_value());
    QCOMPARE(must(project->views().notes())[0].said.size(), std::size_t{3});
    QCOMPARE(must(project->views().notes())[0].words(), std::string("Move it"));
    QCOMPARE(must(project->views().notes())[0].said[1].by.person, std::string("Jon Alder"));
    QVERIFY(project->views().removeNote(must(project->views().notes())[1].uuid, jon).has_value());
    QVERIFY(!project->views().sayToNote("gone", "open", "", jon));
    QCOMPARE(project->views().addNote(note, "", jon).value(), 3); // 2 is not given again
    project.reset();
    project = Project::open(path).value();
    QCOMPARE(must(project->views().notes()).size(), std::size_t{2});
    QCOMPARE(must(project->views().notes())[0].status(), std::string("settled"));
    QVERIFY(project->undo(jon).has_value() && project->undo(jon).has_value()); // note 3, and the removal
    QCOMPARE(must(project->views().notes())[1].number, 2);
}

void TestProject::groupsOfMembersAreKept()
{
    const QTemporaryDir folder;
    const auto path = std::filesystem::path(folder.path().toStdString()) / "p";
    const WhoAndWhen ines{"Ines Varga", "2026-11-16T17:42:00Z"};
    auto project = Project::create(path, "Marrowfield Seed Store", ines).value();
    QVERIFY(!project->setup().setMemberGroup({"", {"Piping"}}, ines));
    QVERIFY(project->setup().setMemberGroup({"Services", {"Ventilation", "Piping", "Piping"}}, ines).has_value());
    QVERIFY(project->setup().setMemberGroup({"Building", {"Architecture"}}, ines).has_value());
    const auto groups = must(project->setup().memberGroups());
    QCOMPARE(groups.size(), std::size_t{2});
    QCOMPARE(groups[1].name, std::string("Services"));
    QCOMPARE(groups[1].disciplines, (std::vector<std::string>{"Piping", "Ventilation"}));
    QVERIFY(project->setup().setMemberGroup({"Services", {"Electrical"}}, ines).has_value());
    QCOMPARE(must(project->setup().memberGroups())[1].disciplines, std::vector<std::string>{"Electrical"});
    QVERIFY(project->setup().setMemberGroup({"Services", {}}, ines).has_value());
    QCOMPARE(must(project->setup().memberGroups()).size(), std::size_t{1});
    QVERIFY(project->undo(ines).has_value() && project->undo(ines).has_value());
    QCOMPARE(must(project->setup().memberGroups())[1].disciplines.size(), std::size_t{2});
}

void TestProject::isReadOnlyWhileAskedTo()
{
    const std::string undoable = must(project_->log().undoable(who_.person));
    project_->setReadOnly("Cycle 1 is looked at as it was.");
    const auto refused = project_->deliveries().hold({"Structure", "", "", {}}, who_);
    QVERIFY(!refused && refused.error().code == kReadOnly &&
            refused.error().message == "Cycle 1 is looked at as it was.");
    QVERIFY(!project_->undo(who_) && !project_->redo(who_) &&
            !project_->deliveries().lookedAt(must(project_->deliveries().all())[0].id, who_));
    QCOMPARE(must(project_->log().undoable(who_.person)), undoable);
    project_->setReadOnly({});
    QVERIFY(project_->deliveries().hold({"Structure", "", "", {}}, who_).has_value());
}

QTEST_GUILESS_MAIN(TestProject)
#include "test_project.moc"
