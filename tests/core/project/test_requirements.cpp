#include <QTest>

#include "core/base/file.h"
#include "core/project/issue_list.h"
#include "core/project/issue_making.h"
#include "core/project/requirements.h"
#include "support/ifc_text.h"
#include "support/made_project.h"
#include "support/must.h"

#include <QTemporaryDir>

using namespace wendrix;
using namespace wendrix::project;
using test::kInes;
using test::must;

/// Requirements that issues were made of: what reports say of them, and what becomes of the issues.
class TestRequirements : public QObject {
    Q_OBJECT
private slots:
    void init();
    void reportsAnswer_data();
    void reportsAnswer();
    void oneOfManyIsMetByItself();
    void whatWasFoundLaterIsNotAskedOfWhatWasBefore();
    void aClosedIssueIsOpenedAgain();
    void whatIsProposedIsDone();

private:
    std::string made(const std::string& title, const std::string& status, std::vector<std::size_t> failing);
    [[nodiscard]] std::string statusOf(const std::string& uuid) const
    {
        return must(project_->issues().find(uuid, false))->status;
    }
    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<Project> project_;
};

void TestRequirements::init()
{
    project_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    project_ = test::madeProject(folder_->filePath("made").toStdString(), {"Structure", "Ventilation"});
}

std::string TestRequirements::made(const std::string& title, const std::string& status,
                                   std::vector<std::size_t> failing)
{
    issues::Issue i;
    i.title = title;
    i.status = status;
    issues::Requirement r{1, "guid.twice", "GlobalIds are given twice"};
    for (std::size_t k = 0; k < failing.size(); ++k)
        r.moments.push_back({static_cast<std::int64_t>(k + 1), "P0" + std::to_string(k + 1), failing[k], 0, 0});
    const std::string number = must(makeIssues(*project_, {{i, {}, issues::made_from::kCheck, r}}, kInes)).front();
    for (const issues::Issue& one : must(project_->issues().all()))
        if (one.number == number)
            return one.uuid;
    qFatal("not made");
}

void TestRequirements::reportsAnswer_data()
{
    QTest::addColumn<QByteArray>("rule");
    QTest::addColumn<int>("failing"); // -1: not answered
    QTest::addColumn<int>("ofIts");
    QTest::newRow("a finding of two models") << QByteArray("guid.twice") << 5 << 2;
    QTest::newRow("of the file as a whole") << QByteArray("storeys.none") << 1 << 0;
    QTest::newRow("nowhere found") << QByteArray("class.proxy") << 0 << 0;
    QTest::newRow("one property") << QByteArray("property.missing/Pset_WallCommon.FireRating is missing/Fill it in")
                                  << 3 << 1;
    QTest::newRow("another property") << QByteArray(
                                             "property.missing/Pset_WallCommon.LoadBearing is missing/Fill it in")
                                      << 0 << 0;
    QTest::newRow("unmet specification") << QByteArray("ids/Fire/Walls say their rating") << 2 << 1;
    QTest::newRow("met specification") << QByteArray("ids/Fire/Doors say their rating") << 0 << 0;
    QTest::newRow("unmet as a whole") << QByteArray("ids/Fire/There are signs") << 1 << 0;
    QTest::newRow("of another schema") << QByteArray("ids/Fire/Alarms are assigned") << -1 << 0;
    QTest::newRow("not among the specifications") << QByteArray("ids/Fire/Nothing such") << -1 << 0;
}

void TestRequirements::reportsAnswer()
{
    QFETCH(QByteArray, rule);
    QFETCH(int, failing);
    QFETCH(int, ofIts);
    const auto at = [](const char* guid) { return checks::Concerned{1, "IfcWall", "W", guid, ""}; };
    std::vector<checks::ModelReport> reports(2);
    checks::QualityReport& first = reports[0].quality;
    first.findings = {{Severity::Error, "guid.twice", "", "", 3, {at("a"), at("b"), at("x")}},
                      {Severity::Error, "storeys.none", "", "", 0, {}},
                      {Severity::Warning,
                       "property.missing",
                       "Pset_WallCommon.FireRating is missing",
                       "Fill it in",
                       3,
                       {at("c"), at("y"), at("z")}}};
    using checks::Verdict;
    first.ids = {{"Fire",
                  {{"Walls say their rating", "", "", "", Verdict::Unmet, 4, {at("a"), at("w")}, ""},
                   {"Doors say their rating", "", "", "", Verdict::Met, 2, {}, ""},
                   {"There are signs", "", "", "", Verdict::Unmet, 0, {}, "None is there."},
                   {"Alarms are assigned", "", "", "", Verdict::NotForThisSchema, 0, {}, ""}},
                  {}}};
    reports[1].quality.findings = {{Severity::Error, "guid.twice", "", "", 2, {at("v"), at("w")}}};
    Delivery delivery;
    delivery.id = 7;
    delivery.revision = "P03";
    const RequirementsOrder::Asked asked{"issue", rule.toStdString(), {"a", "b", "c"}, false};
    const auto met = requirementsIn(reports, delivery, {&asked, 1});
    QCOMPARE(met.empty(), failing < 0);
    if (met.empty())
        return;
    QCOMPARE(met[0].first, std::string("issue"));
    const issues::RequirementMoment& m = met[0].second;
    QVERIFY(m.delivery == 7 && m.revision == "P03" && m.its == 3);
    QCOMPARE(static_cast<int>(m.failing), failing);
    QCOMPARE(static_cast<int>(m.failingOfIts), ofIts);
}

void TestRequirements::oneOfManyIsMetByItself()
{
    const auto at = [](const char* guid) { return checks::Concerned{1, "IfcWall", "W", guid, ""}; };
    std::vector<checks::ModelReport> reports(1);
    reports[0].quality.findings = {{Severity::Warning, "body.open", "", "", 2, {at("a"), at("x")}}};
    Delivery delivery;
    delivery.id = 7;
    delivery.revision = "P03";
    const RequirementsOrder::Asked all[] = {{"of a", "body.open", {"a"}, true},
                                            {"of b", "body.open", {"b"}, true},
                                            {"of both", "body.open", {"a", "b"}, false}};
    auto met = requirementsIn(reports, delivery, all);
    QCOMPARE(met.size(), std::size_t{3});
    QVERIFY(!met[0].second.isMet() && met[1].second.isMet() && !met[2].second.isMet());
    // More fail than are named: whether b is among them nobody knows.
    reports[0].quality.findings[0].count = 2000;
    met = requirementsIn(reports, delivery, all);
    QCOMPARE(met.size(), std::size_t{2});
    QVERIFY(met[0].first == "of a" && !met[0].second.isMet());
    // And it is kept so.
    issues::Issue i;
    i.title = "Of b";
    issues::Requirement wanted{1, "body.open", "Bodies are not closed", {{1, "P01", 5, 1, 1}}};
    wanted.isOfItsOwn = true;
    QVERIFY(makeIssues(*project_, {{i, {}, issues::made_from::kCheck, wanted}}, kInes).has_value());
    const std::string uuid = must(project_->issues().all())[0].uuid;
    QVERIFY(!must(project_->issues().requirementOf(uuid))->isMet());
    QVERIFY(recordRequirements(*project_, delivery, {{uuid, {7, "P03", 4, 0, 1}}}, kInes).has_value());
    QVERIFY(must(project_->issues().requirementOf(uuid))->isMet());
    QVERIFY(must(project_->issues().requirements()).at(uuid).isMet());
}

void TestRequirements::whatWasFoundLaterIsNotAskedOfWhatWasBefore()
{
    std::vector<Delivery> all;
    for (const char* revision : {"P01", "P02"}) {
        NewDelivery d;
        d.discipline = "Structure";
        d.revision = revision;
        d.time = std::string("2026-11-0") + revision[2] + "T09:00:00Z";
        const std::filesystem::path file = folder_->filePath(revision).toStdString();
        QVERIFY(writeFileWhole(file, test::ifcFile("IFC4", std::string("/* ") + revision + " */\n")).has_value());
        d.models = {{file, {}, {}, 0}};
        (void)must(project_->deliveries().add(d, kInes));
    }
    all = must(project_->deliveries().all());
    QCOMPARE(all.size(), std::size_t{2});
    std::sort(all.begin(), all.end(), [](const Delivery& a, const Delivery& b) { return a.time < b.time; });
    issues::Issue i;
    i.title = "Ids";
    std::int64_t structure = must(project_->setup().disciplines())[0].id;
    const issues::Requirement wanted{
        structure, "guid.twice", "GlobalIds are given twice", {{all[1].id, "P02", 3, 0, 0}}};
    QVERIFY(makeIssues(*project_, {{i, {}, issues::made_from::kCheck, wanted}}, kInes).has_value());
    QVERIFY(!must(requirementsOrderOf(*project_, all[0])).has_value());
    const auto order = must(requirementsOrderOf(*project_, all[1]));
    QVERIFY(order && order->asked.size() == 1 && order->asked[0].rule == "guid.twice");
}

void TestRequirements::aClosedIssueIsOpenedAgain()
{
    const std::string closed = made("Closed", "Closed", {2, 0}), never = made("Never met", "Closed", {2}),
                      open = made("Open", "Open", {0});
    Delivery delivery;
    delivery.id = 3;
    delivery.discipline = "Structure";
    delivery.revision = "P03";
    issues::RequirementsMet met;
    for (const std::string& uuid : {closed, never, open})
        met.push_back({uuid, {3, "P03", 1, 0, 0}});
    QCOMPARE(must(recordRequirements(*project_, delivery, met, kInes)),
             std::string("0 of 3 requirements are met in Structure P03"));
    QCOMPARE(statusOf(closed), std::string("Back again"));
    QCOMPARE(statusOf(never), std::string("Closed")); // closed although it was not met: that was decided
    QCOMPARE(statusOf(open), std::string("Open"));
    QVERIFY(must(project_->issues().find(closed, false))->comments.back().text.find("not met any more in P03") !=
            std::string::npos);
    // Asked of the same delivery again: in the place of what was said.
    met = {{closed, {3, "P03", 0, 0, 0}}};
    QVERIFY(recordRequirements(*project_, delivery, met, kInes).has_value());
    const auto now = must(project_->issues().requirementOf(closed)).value();
    QCOMPARE(now.moments.size(), std::size_t{3});
    QVERIFY(now.isMet());
}

void TestRequirements::whatIsProposedIsDone()
{
    const std::string ready = made("Ready", "Open", {2, 0}), back = made("Back", "Done by assignee", {2, 1}),
                      working = made("Working", "In progress", {2}), unchecked = made("Unchecked", "Open", {}),
                      closed = made("Closed", "Closed", {0});
    const IssueProposals proposals = must(issueProposals(*project_));
    QCOMPARE(proposals.canBeClosed, std::vector{ready});
    QCOMPARE(proposals.goBack, std::vector{back});
    QCOMPARE(proposals.inWords(),
             std::string("1 issue can be closed, 1 issue was said to be done and is still there."));
    const std::vector<std::string> all{ready, back, working, unchecked, closed};
    const std::int64_t before = must(project_->log().newest());
    QCOMPARE(must(settleOnEvidence(*project_, all, kInes)).changed, std::size_t{2});
    QCOMPARE(must(project_->log().newest()), before + 1); // one step
    QVERIFY(statusOf(ready) == "Closed" && statusOf(back) == "Back again" && statusOf(working) == "In progress" &&
            statusOf(unchecked) == "Open");
    QCOMPARE(must(project_->issues().find(ready, false))->comments.back().text,
             std::string("Closed. GlobalIds are given twice: met in P02."));
    QCOMPARE(must(settleOnEvidence(*project_, all, kInes)).changed, std::size_t{0});
    // Who may not is told, and nothing happens.
    issues::Workflow flow = issues::Workflow::usual();
    for (issues::Move& m : flow.moves)
        m.who = {"Somebody else"};
    QVERIFY(project_->issues().setWorkflow(flow, kInes).has_value());
    const std::string mine = made("Mine", "Open", {0});
    const auto refused = settleOnEvidence(*project_, std::vector{mine}, kInes);
    QVERIFY(!refused && refused.error().code == issues::kNotAllowed);
    QCOMPARE(statusOf(mine), std::string("Open"));
}

QTEST_GUILESS_MAIN(TestRequirements)
#include "test_requirements.moc"
