#include <QTest>

#include "core/bcf/bcf.h"
#include "core/bcf/check.h"
#include "core/bcf/file.h"
#include "core/project/issue_exchange.h"
#include "core/project/issue_making.h"
#include "support/bcf_samples.h"
#include "support/made_project.h"
#include "support/must.h"

#include <QTemporaryDir>

#include <cmath>

using namespace wendrix;
using namespace wendrix::project;
using test::kInes;
using test::kJon;
using test::must;

/// Issues that are handed over and come back: compared with what was sent, taken over as one step, with nothing lost
/// that another program put in.
class TestIssueExchange : public QObject {
    Q_OBJECT
private slots:
    void init();
    void whatIsSentAndComesBackBringsNothing_data() { versions(); }
    void whatIsSentAndComesBackBringsNothing();
    void bothSidesComeTogether_data() { versions(); }
    void bothSidesComeTogether();
    void whatIsDecidedIsTaken_data();
    void whatIsDecidedIsTaken();
    void withoutASentFileEverythingIsDecided();
    void whatChangedMeanwhileIsNotOverwritten();
    void theUnknownOfAnotherProgramGoesBackToIt();
    void viewpointsAreWrittenAsDelivered_data();
    void viewpointsAreWrittenAsDelivered();
    void viewpointsThatCameStandWithTheirMember();
    void fieldsTravelAsLabels();
    void attachmentsTravel();

private:
    static void versions()
    {
        QTest::addColumn<int>("number");
        QTest::newRow("2.1") << 0;
        QTest::newRow("3.0") << 1;
    }
    [[nodiscard]] std::filesystem::path path(const char* name) const { return folder_->filePath(name).toStdString(); }
    std::string made(const std::string& title);
    [[nodiscard]] issues::Issue issue(const std::string& uuid) const
    {
        return must(project_->issues().find(uuid, false)).value();
    }
    Sent send(const char* name, bcf::Version version = bcf::Version::V21);
    [[nodiscard]] Incoming read(const char* name) const
    {
        Progress progress;
        return must(readIncoming(*project_, path(name), {}, progress));
    }
    /// Another team opens the file, changes it and writes it again.
    void theyChange(const char* from, const char* to, const std::function<void(std::vector<issues::Issue>&)>& change);

    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<Project> project_;
};

namespace {

bcf::Version versionOf(int number) { return number == 0 ? bcf::Version::V21 : bcf::Version::V30; }

} // namespace

void TestIssueExchange::init()
{
    project_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    project_ = test::madeProject(path("made"), {"Structure", "Ventilation"});
}

std::string TestIssueExchange::made(const std::string& title)
{
    issues::Issue i;
    i.uuid = "";
    i.title = title;
    i.type = "Clash";
    i.priority = "High";
    i.assignee = "Ventilation";
    i.labels = {"Level 2"};
    i.dueAt = "2026-12-01T00:00:00Z";
    issues::Viewpoint v;
    v.uuid = "aaaaaaaa-1111-0000-0000-" + std::string(11, '0') + std::to_string(title.size() % 10);
    v.camera = issues::Camera{{1, 2, 3}, {0, 1, 0}, {0, 0, 1}, true, 50, 10, 1.5};
    v.selection = {{test::idOf(*project_, "Ventilation"), "", "3rPX_Juz59peXXY6wDJl18", 0}};
    v.planes = {{{0, 0, 3}, {0, 0, 1}}};
    v.snapshot = test::png();
    i.viewpoints = {v};
    const std::string number = must(makeIssue(*project_, i, {}, kInes));
    for (const issues::Issue& one : must(project_->issues().all()))
        if (one.number == number)
            return one.uuid;
    qFatal("not made");
}

Sent TestIssueExchange::send(const char* name, bcf::Version version)
{
    Progress progress;
    SendOrder order;
    for (const issues::Issue& i : must(project_->issues().all()))
        order.uuids.push_back(i.uuid);
    order.version = version;
    order.file = path(name);
    Sent sent = must(writeIssues(*project_, order, kInes, progress));
    if (!recordSent(*project_, sent, kInes))
        qFatal("not recorded");
    return sent;
}

void TestIssueExchange::theyChange(const char* from, const char* to,
                                   const std::function<void(std::vector<issues::Issue>&)>& change)
{
    auto document = must(bcf::readFile(path(from)));
    change(document.issues);
    const std::string bytes =
        must(bcf::write(document.issues, document.version, document.projectId, document.projectName));
    QFile out(folder_->filePath(to));
    if (!out.open(QIODevice::WriteOnly) || out.write(bytes.data(), static_cast<qint64>(bytes.size())) < 0)
        qFatal("not written");
}

void TestIssueExchange::whatIsSentAndComesBackBringsNothing()
{
    QFETCH(int, number);
    (void)made("Duct meets beam");
    (void)made("Sleeve is missing");
    const Sent sent = send("sent.bcf", versionOf(number));
    QCOMPARE(sent.topics.size(), std::size_t{2});
    QVERIFY2(test::problems(path("sent.bcf")).empty(), test::problems(path("sent.bcf")).c_str());
    QCOMPARE(must(bcf::readFile(path("sent.bcf"))).issues[0].viewpoints[0].snapshot, test::png());
    const Incoming back = read("sent.bcf");
    QCOMPARE(back.topics.size(), std::size_t{0});
    QCOMPARE(back.unchanged, std::size_t{2});
    // Written anew by another program, still.
    theyChange("sent.bcf", "back.bcf", [](auto&) {});
    QCOMPARE(read("back.bcf").topics.size(), std::size_t{0});
}

void TestIssueExchange::bothSidesComeTogether()
{
    QFETCH(int, number);
    const std::string uuid = made("Duct meets beam"), other = made("Sleeve is missing");
    send("sent.bcf", versionOf(number));
    // We go on, they go on.
    QVERIFY(project_->issues().addComment(uuid, "By Friday?", kInes).has_value());
    QVERIFY(must(project_->issues().change(
                     {&uuid, 1}, "later",
                     [](issues::Issue& i) {
                         i.priority = "Low";
                         i.status = "In progress";
                     },
                     kInes))
                .changed == 1);
    const std::string theirView = "bbbbbbbb-1111-0000-0000-000000000001",
                      fresh = "cccccccc-1111-0000-0000-000000000001";
    theyChange("sent.bcf", "back.bcf", [&](std::vector<issues::Issue>& all) {
        for (issues::Issue& i : all) {
            if (i.uuid != uuid)
                continue;
            i.title = "Duct under beam";
            i.status = "Done by assignee";
            i.labels.push_back("Fire");
            i.modifiedAt = "2026-11-25T10:00:00+01:00";
            i.modifiedBy = "T. Okafor";
            issues::Viewpoint v = i.viewpoints[0];
            v.uuid = theirView;
            v.index = 7;
            i.viewpoints.push_back(v);
            i.comments.push_back(
                {"dddddddd-1111-0000-0000-000000000001", "2026-11-25T09:00:00", "T. Okafor", "Lowered", theirView});
        }
        issues::Issue i;
        i.uuid = fresh;
        i.title = "Riser is blocked";
        i.type = "Request";
        i.status = "Open";
        i.createdAt = "2026-11-25T09:00:00Z";
        i.createdBy = "T. Okafor";
        all.push_back(i);
    });
    const Incoming back = read("back.bcf");
    QCOMPARE(back.unchanged, std::size_t{1});
    QCOMPARE(back.topics.size(), std::size_t{2});
    QCOMPARE(back.conflicts(), std::size_t{1});
    const IncomingTopic& topic = back.topics[0];
    QVERIFY(topic.hasBase && !topic.isNew() && back.topics[1].isNew());
    for (const issues::Difference& d : topic.merge.differences)
        if (d.verdict == issues::Difference::Verdict::Conflict)
            QVERIFY(d.field == "TopicStatus" && d.base == "Open" && d.ours == "In progress" &&
                    d.theirs == "Done by assignee");
    QCOMPARE(must(takeOver(*project_, back, {}, kJon)), std::string("1 new issue, 1 changed, 1 new comment"));
    const issues::Issue now = issue(uuid);
    QCOMPARE(now.title, std::string("Duct under beam"));
    QCOMPARE(now.status, std::string("In progress")); // nobody decided for theirs
    QCOMPARE(now.priority, std::string("Low"));
    QCOMPARE(now.labels, (std::vector<std::string>{"Level 2", "Fire"}));
    QCOMPARE(now.comments.size(), std::size_t{2});
    QCOMPARE(now.viewpoints.size(), std::size_t{2});
    QVERIFY(now.viewpoints[0].planes.size() == 1 &&
            now.viewpoints[0].selection[0].discipline != 0); // ours is as we keep it
    QCOMPARE(issue(fresh).title, std::string("Riser is blocked"));
    // Who changed what stands in its history.
    const auto history = must(project_->issues().history(uuid));
    QVERIFY(std::any_of(history.begin(), history.end(), [](const IssueEvent& e) {
        return e.field == "Title" && e.before == "Duct meets beam" && e.after == "Duct under beam" &&
               e.why == "back.bcf" && e.by.person == "Jon Alder";
    }));
    QVERIFY(project_->undo(kJon).has_value());
    QVERIFY(!must(project_->issues().find(fresh, false)).has_value());
    QCOMPARE(issue(uuid).title, std::string("Duct meets beam"));
    QCOMPARE(issue(uuid).comments.size(), std::size_t{1});
    QVERIFY(project_->redo(kJon).has_value());
    QCOMPARE(issue(uuid).title, std::string("Duct under beam"));
    QCOMPARE(issue(other).title, std::string("Sleeve is missing"));
    // And it can go out again.
    send("again.bcf", versionOf(number));
    QVERIFY2(test::problems(path("again.bcf")).empty(), test::problems(path("again.bcf")).c_str());
    QCOMPARE(must(bcf::readFile(path("again.bcf"))).issues.size(), std::size_t{3});
}

void TestIssueExchange::whatIsDecidedIsTaken_data()
{
    QTest::addColumn<bool>("isTheirs");
    QTest::newRow("theirs") << true;
    QTest::newRow("ours") << false;
}

void TestIssueExchange::whatIsDecidedIsTaken()
{
    QFETCH(bool, isTheirs);
    const std::string uuid = made("Duct meets beam");
    send("sent.bcf");
    QVERIFY(project_->issues().setStatus(uuid, "In progress", "", kInes).has_value());
    theyChange("sent.bcf", "back.bcf", [](std::vector<issues::Issue>& all) {
        all[0].status = "Closed";
        all[0].title = "Duct under beam";
    });
    const Incoming back = read("back.bcf");
    Decisions decisions;
    for (std::size_t i = 0; i < back.topics[0].merge.differences.size(); ++i)
        (isTheirs ? decisions.theirs : decisions.ours).insert({uuid, i});
    QVERIFY(takeOver(*project_, back, decisions, kInes).has_value());
    QCOMPARE(issue(uuid).status, std::string(isTheirs ? "Closed" : "In progress"));
    QCOMPARE(issue(uuid).title, std::string(isTheirs ? "Duct under beam" : "Duct meets beam"));
}

void TestIssueExchange::withoutASentFileEverythingIsDecided()
{
    const std::string uuid = made("Duct meets beam");
    Progress progress;
    // Written, but nobody noted that it was.
    (void)must(writeIssues(*project_, {{uuid}, bcf::Version::V21, path("sent.bcf")}, kInes, progress));
    theyChange("sent.bcf", "back.bcf", [](std::vector<issues::Issue>& all) { all[0].title = "Duct under beam"; });
    const Incoming back = read("back.bcf");
    QCOMPARE(back.topics.size(), std::size_t{1});
    QVERIFY(!back.topics[0].hasBase);
    QCOMPARE(back.conflicts(), std::size_t{1});
    QVERIFY(takeOver(*project_, back, {}, kInes).has_value());
    QCOMPARE(issue(uuid).title, std::string("Duct meets beam"));
}

void TestIssueExchange::whatChangedMeanwhileIsNotOverwritten()
{
    const std::string uuid = made("Duct meets beam");
    send("sent.bcf");
    theyChange("sent.bcf", "back.bcf", [](std::vector<issues::Issue>& all) { all[0].title = "Duct under beam"; });
    const Incoming back = read("back.bcf");
    // Between reading and taking over somebody else writes.
    QVERIFY(must(project_->issues().change(
                     {&uuid, 1}, "x", [](issues::Issue& i) { i.stage = "On site"; }, kJon))
                .changed == 1);
    QVERIFY(takeOver(*project_, back, {}, kInes).has_value());
    QCOMPARE(issue(uuid).title, std::string("Duct under beam"));
    QCOMPARE(issue(uuid).stage, std::string("On site"));
}

void TestIssueExchange::theUnknownOfAnotherProgramGoesBackToIt()
{
    auto entries = test::wholeBcf(bcf::Version::V21);
    const std::string markup = test::markupOf(test::kTopic), folder = std::string(test::kTopic) + "/";
    test::edit(entries, markup, "</Topic>", "<Cost>12</Cost></Topic>");
    test::edit(entries, folder + "viewpoint.bcfv", "<Lines>", "<Sun hour=\"9\"/><Lines>");
    entries[folder + "voice.ogg"] = "sound";
    entries["team.json"] = "{}";
    test::zipTo(entries, path("theirs.bcf"));
    QVERIFY(takeOver(*project_, read("theirs.bcf"), {}, kInes).has_value());
    QVERIFY(project_->issues().setStatus(test::kTopic, "In progress", "Looked at", kInes).has_value());
    send("ours.bcf");
    const auto archive = must(bcf::Archive::open(path("ours.bcf")));
    const auto entry = [&](const std::string& name) {
        const auto* found = archive->find(name);
        return found != nullptr ? must(archive->read(*found)) : std::string("missing");
    };
    QVERIFY(entry(markup).find("<Cost>12</Cost>") != std::string::npos);
    QVERIFY(entry(markup).find("TopicStatus=\"In progress\"") != std::string::npos);
    QVERIFY(entry(markup).find("Looked at") != std::string::npos);
    QVERIFY(entry(folder + "viewpoint.bcfv").find("<Sun hour=\"9\"/>") != std::string::npos);
    QCOMPARE(entry(folder + "voice.ogg"), std::string("sound"));
    QCOMPARE(entry("team.json"), std::string("{}"));
    QCOMPARE(entry(folder + "snapshot.png"), test::png());
    QCOMPARE(entry(folder + "note.png"), test::png());
    QCOMPARE(entry("plan.pdf"), std::string("%PDF-"));
    // Nothing of what they sent is news when it comes back with our change alone.
    const std::string said = test::problems(path("ours.bcf"));
    QVERIFY2(std::count(said.begin(), said.end(), '\n') == 2 && said.find("Cost") != std::string::npos,
             said.c_str()); // and the sun
    QCOMPARE(read("ours.bcf").topics.size(), std::size_t{0});
}

void TestIssueExchange::viewpointsAreWrittenAsDelivered_data()
{
    QTest::addColumn<bool>("isDelivered");
    QTest::newRow("in the project's coordinates") << false;
    QTest::newRow("as its member was delivered") << true;
}

void TestIssueExchange::viewpointsAreWrittenAsDelivered()
{
    QFETCH(bool, isDelivered);
    // Ventilation stands turned by 90 degrees and shifted by 100 m.
    const auto delivery = test::received(*project_, "Ventilation", "P01");
    QVERIFY(takeIn(*project_, {delivery, {}, {}, {}}, kInes).has_value());
    StoredFit fit;
    fit.fit = {1, Radians{std::acos(-1.0) / 2}, {100, 0, 0}};
    fit.method = "hand";
    QVERIFY(project_->coordinates().setFit("Ventilation", fit, kInes).has_value());
    issues::Workflow flow = issues::Workflow::usual();
    flow.coordinates = isDelivered ? issues::Coordinates::Delivered : issues::Coordinates::Project;
    QVERIFY(project_->issues().setWorkflow(flow, kInes).has_value());
    const std::string uuid = made("Duct meets beam");
    send("sent.bcf");
    const issues::Viewpoint v = must(bcf::readFile(path("sent.bcf"))).issues[0].viewpoints[0];
    // In its file the place (x, y) is where the project has (100 - y, x): (1, 2, 3) is (2, 99, 3) there.
    const Vector3 eye = isDelivered ? Vector3{2, 99, 3} : Vector3{1, 2, 3},
                  along = isDelivered ? Vector3{1, 0, 0} : Vector3{0, 1, 0};
    QVERIFY(length(v.camera->eye - eye) < 1e-9);
    QVERIFY(length(v.camera->direction - along) < 1e-12);
    QVERIFY(length(v.planes[0].location - (isDelivered ? Vector3{0, 100, 3} : Vector3{0, 0, 3})) < 1e-9);
    // And it comes back as no change, standing where it did.
    QCOMPARE(read("sent.bcf").topics.size(), std::size_t{0});
    QVERIFY(issue(uuid).viewpoints[0].camera->eye == Vector3({1, 2, 3}));
}

void TestIssueExchange::viewpointsThatCameStandWithTheirMember()
{
    const auto delivery = test::received(*project_, "Ventilation", "P01");
    QVERIFY(takeIn(*project_, {delivery, {}, {}, {}}, kInes).has_value());
    StoredFit fit;
    fit.fit = {1, Radians{0}, {100, 0, 0}};
    fit.method = "hand";
    QVERIFY(project_->coordinates().setFit("Ventilation", fit, kInes).has_value());
    issues::Workflow flow = issues::Workflow::usual();
    flow.coordinates = issues::Coordinates::Delivered;
    QVERIFY(project_->issues().setWorkflow(flow, kInes).has_value());
    // Their topic names the file it was written against.
    const std::string guid = must(project_->deliveries().get(delivery)).projectGuid;
    issues::Issue theirs;
    theirs.uuid = test::kTopic;
    theirs.title = "From their program";
    theirs.createdAt = "2026-11-01T00:00:00Z";
    theirs.createdBy = "T. Okafor";
    theirs.files = {{guid, "", "ventilation.ifc", "", "", true}};
    issues::Viewpoint v;
    v.uuid = test::kView;
    v.camera = issues::Camera{{5, 6, 7}, {0, 1, 0}, {0, 0, 1}, false, 50, 12, 1.5};
    v.lines = {{{0, 0, 0}, {1, 0, 0}}};
    theirs.viewpoints = {v};
    const std::string bytes = must(bcf::write({&theirs, 1}, bcf::Version::V30, "p", "P"));
    QFile out(folder_->filePath("theirs.bcf"));
    QVERIFY(out.open(QIODevice::WriteOnly));
    out.write(bytes.data(), static_cast<qint64>(bytes.size()));
    out.close();
    QVERIFY(takeOver(*project_, read("theirs.bcf"), {}, kInes).has_value());
    if (guid.empty())
        QSKIP("made deliveries name no project");
    issues::Viewpoint seen = must(inProject(*project_, issue(test::kTopic).viewpoints[0]));
    QVERIFY(length(seen.camera->eye - Vector3{105, 6, 7}) < 1e-9);
    QVERIFY(length(seen.lines[0].to - Vector3{101, 0, 0}) < 1e-9);
    // The member is fitted anew: their view goes with it.
    fit.fit.translation = {200, 0, 0};
    QVERIFY(project_->coordinates().setFit("Ventilation", fit, kInes).has_value());
    seen = must(inProject(*project_, issue(test::kTopic).viewpoints[0]));
    QVERIFY(length(seen.camera->eye - Vector3{205, 6, 7}) < 1e-9);
    // And goes back to them as it came.
    send("back.bcf", bcf::Version::V30);
    QVERIFY(must(bcf::readFile(path("back.bcf"))).issues[0].viewpoints[0].camera->eye == Vector3({5, 6, 7}));
}

void TestIssueExchange::fieldsTravelAsLabels()
{
    issues::Workflow flow = issues::Workflow::usual();
    flow.fields = {{"Trade", {"Duct", "Pipe"}, true}, {"Cost", {}, false}};
    QVERIFY(project_->issues().setWorkflow(flow, kInes).has_value());
    const std::string uuid = made("Duct meets beam");
    QVERIFY(must(project_->issues().change(
                     {&uuid, 1}, "fields",
                     [](issues::Issue& i) {
                         i.cause = "late change";
                         i.requestedBy = "Client";
                         i.custom = {{"Trade", "Duct"}, {"Cost", "1200"}};
                     },
                     kInes))
                .changed == 1);
    send("sent.bcf");
    const auto labels = must(bcf::readFile(path("sent.bcf"))).issues[0].labels;
    QCOMPARE(labels,
             (std::vector<std::string>{"Level 2", "Cause: late change", "Requested by: Client", "Trade: Duct"}));
    theyChange("sent.bcf", "back.bcf", [](std::vector<issues::Issue>& all) { all[0].labels.back() = "Trade: Pipe"; });
    QCOMPARE(read("sent.bcf").topics.size(), std::size_t{0});
    QVERIFY(takeOver(*project_, read("back.bcf"), {}, kInes).has_value());
    const issues::Issue now = issue(uuid);
    QCOMPARE(now.labels, std::vector<std::string>{"Level 2"});
    QCOMPARE(now.cause, std::string("late change"));
    QCOMPARE(now.custom.at("Trade"), std::string("Pipe"));
    QCOMPARE(now.custom.at("Cost"), std::string("1200"));
}

void TestIssueExchange::attachmentsTravel()
{
    const std::string uuid = made("Duct meets beam");
    QVERIFY(QFile::exists(QString::fromStdString((path("made") / "exchanges").string())));
    const std::string hash(64, 'a');
    QFile kept(QString::fromStdString((path("made") / "exchanges" / hash).string()));
    QVERIFY(kept.open(QIODevice::WriteOnly) && kept.write("%PDF-1") == 6);
    kept.close();
    QVERIFY(must(project_->issues().change(
                     {&uuid, 1}, "Attached",
                     [&](issues::Issue& i) {
                         i.documents.push_back({"eeeeeeee-1111-0000-0000-000000000001", false,
                                                "Documents/ffffffff-1111-0000-0000-000000000001", "sketch.pdf", "",
                                                hash});
                     },
                     kInes))
                .changed == 1);
    for (const int number : {0, 1}) {
        send("sent.bcf", versionOf(number));
        QVERIFY2(test::problems(path("sent.bcf")).empty(), test::problems(path("sent.bcf")).c_str());
        auto file = must(bcf::File::open(path("sent.bcf")));
        const auto topic = must(file->topic(0));
        QCOMPARE(topic.issue.documents[0].name, std::string("sketch.pdf"));
        QCOMPARE(must(topic.documents.begin()->second.read()), std::string("%PDF-1"));
        QCOMPARE(read("sent.bcf").topics.size(), std::size_t{0});
    }
}

QTEST_GUILESS_MAIN(TestIssueExchange)
#include "test_issue_exchange.moc"
