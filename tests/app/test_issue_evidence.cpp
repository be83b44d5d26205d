#include "app/issue_fixture.h"

#include "core/project/issue_list.h"
#include "core/project/issue_making.h"
#include "deliveries/deliveries_stage.h"
#include "deliveries/inside_page.h"

#include <QLineEdit>

#include <algorithm>

using namespace wendrix;
using app::q;
using test::MadeModel;
using test::must;

/// Issues that are closed on evidence, in the window: requirements that deliveries meet or not, and what is proposed
/// done all at once.
class TestIssueEvidence : public QObject {
    Q_OBJECT
private slots:
    void init();
    void cleanup() { at_.reset(); }
    void aRequirementIsFollowedFromDeliveryToDelivery();
    void oneEachOfAFinding();
    void checkingAgainAsksWhatIsInUse();
    void proposalsAreDoneAtOnce();
    void severalAreSettledByTheKey();

private:
    /// The walls and the slab, those named with a fire rating.
    [[nodiscard]] static MadeModel architecture(const std::vector<std::string>& rated);
    [[nodiscard]] std::string makeOfFinding(const QString& way = "One issue for all 2");
    [[nodiscard]] QString rowOf(const std::string& uuid)
    {
        const app::RowModel& rows = at_->rows("Issues");
        for (int i = 0; i < rows.rowCount(); ++i)
            if (rows.row(i).id == QString::fromStdString(uuid))
                return rows.row(i).right + "|" + rows.row(i).loud;
        return {};
    }
    std::unique_ptr<test::IssueProject> at_;
};

void TestIssueEvidence::init()
{
    at_ = std::make_unique<test::IssueProject>();
    checks::Expectations wanted;
    wanted.properties = {{"IfcWall", "Seed store", "Fire rating"}};
    QVERIFY(at_->change([&](project::Project& p) { return p.setup().setExpectations(wanted, at_->session().now()); }));
}

MadeModel TestIssueEvidence::architecture(const std::vector<std::string>& rated)
{
    MadeModel m;
    m.name = "Architecture";
    m.boxes = {{"Wall 1", {0, 0, 0}, {12, 0.2, 3}, "IFCWALL"},
               {"Wall 2", {0, 8, 0}, {12, 0.2, 3}, "IFCWALL"},
               {"Slab 1", {0, 0, -0.3}, {12, 8.2, 0.3}, "IFCSLAB"}};
    for (MadeModel::Box& b : m.boxes)
        if (std::find(rated.begin(), rated.end(), b.name) != rated.end())
            b.properties = {{"Fire rating", "EI 60"}};
    return m;
}

std::string TestIssueEvidence::makeOfFinding(const QString& way)
{
    at_->clickStage("Deliveries");
    at_->clickCard(at_->delivery("Architecture P01").id);
    QTest::keyClick(at_->window().findChild<app::Register*>("register"), Qt::Key_Return);
    at_->waitIdle();
    auto& inside =
        static_cast<app::DeliveriesStage&>(at_->window().stage(at_->window().indexOf("Deliveries"))).inside();
    inside.setTab(app::InsidePage::Tab::Quality);
    at_->settle();
    const app::RowModel& rows = inside.list()->model();
    for (int i = 0; i < rows.rowCount(); ++i)
        if (rows.row(i).title.contains("Fire rating"))
            inside.list()->choose(rows.row(i).id);
    at_->waitIdle();
    at_->press(Qt::Key_I);
    if (!at_->goWay(way))
        qFatal("no way");
    at_->waitIdle();
    at_->session().leaveInside();
    at_->clickStage("Issues");
    at_->list("Issues").view().setFocus();
    at_->pressAndWait(Qt::Key_E); // its fields were open to be written
    return at_->all().back().uuid;
}

void TestIssueEvidence::aRequirementIsFollowedFromDeliveryToDelivery()
{
    const std::string uuid = makeOfFinding();
    const issues::Issue i = at_->issue(uuid);
    QVERIFY2(q(i.title).contains("Fire rating is missing") && i.type == "Request" && i.assignee == "Architecture",
             i.title.c_str());
    QVERIFY2(q(i.description).contains("Wall 1") && q(i.description).contains("Architecture P01"),
             i.description.c_str());
    at_->open(uuid);
    QVERIFY2(at_->details().contains("not met in P01, 2 fail it, 2 of the 2 it was made of"),
             qPrintable(at_->details()));
    QCOMPARE(rowOf(uuid), QString("not met|"));
    // One of the two in P02.
    QVERIFY(at_->takeIn(architecture({"Wall 1"}), "P02"));
    at_->clickStage("Issues");
    at_->open(uuid);
    QVERIFY2(at_->details().contains("not met in P02, 1 fails it, 1 of the 2 it was made of"),
             qPrintable(at_->details()));
    // Both in P03: it can be closed, and is, with what the model says.
    QVERIFY(at_->takeIn(architecture({"Wall 1", "Wall 2"}), "P03"));
    QVERIFY2(at_->message().contains("1 issue can be closed"), qPrintable(at_->message()));
    at_->clickStage("Issues");
    at_->open(uuid);
    QCOMPARE(rowOf(uuid), QString("met|can be closed"));
    QVERIFY(at_->clickButton("close"));
    at_->waitIdle();
    QCOMPARE(at_->issue(uuid).status, std::string("Closed"));
    QVERIFY2(q(at_->issue(uuid).comments.back().text).contains("met in P03"),
             at_->issue(uuid).comments.back().text.c_str());
    // Lost again in P04: opened again, and it says why; all of it one step.
    QVERIFY(at_->takeIn(architecture({"Wall 2"}), "P04"));
    QCOMPARE(at_->issue(uuid).status, std::string("Back again"));
    QVERIFY2(q(at_->issue(uuid).comments.back().text).contains("not met any more in P04"),
             at_->issue(uuid).comments.back().text.c_str());
    const auto wanted = must(at_->project().issues().requirementOf(uuid)).value();
    QCOMPARE(wanted.moments.size(), std::size_t{4});
    at_->session().undo();
    at_->waitIdle();
    QCOMPARE(at_->issue(uuid).status, std::string("Closed"));
    QCOMPARE(must(at_->project().issues().requirementOf(uuid))->moments.size(), std::size_t{3});
}

void TestIssueEvidence::oneEachOfAFinding()
{
    (void)makeOfFinding("An issue for each of 2");
    QTRY_COMPARE(at_->all().size(), std::size_t{2});
    for (const issues::Issue& one : at_->all()) {
        const issues::Issue i = must(at_->project().issues().find(one.uuid, true)).value();
        QVERIFY2(q(i.title).contains(": Wall ") &&
                     i.description.find(i.title.substr(i.title.size() - 6)) != std::string::npos,
                 i.title.c_str());
        QVERIFY(i.viewpoints[0].selection.size() == 1 && i.viewpoints[0].snapshot.starts_with("\x89PNG"));
        const auto wanted = must(at_->project().issues().requirementOf(i.uuid)).value();
        QVERIFY(wanted.moments.size() == 1 && wanted.isOfItsOwn && wanted.moments[0].its == 1);
    }
    // One wall is rated in P02: its issue can be closed, the other one not.
    QVERIFY(at_->takeIn(architecture({"Wall 1"}), "P02"));
    at_->clickStage("Issues");
    for (const issues::Issue& one : at_->all()) {
        const bool isFirst = one.title.ends_with("Wall 1");
        QCOMPARE(must(at_->project().issues().requirementOf(one.uuid))->isMet(), isFirst);
        QCOMPARE(rowOf(one.uuid), QString(isFirst ? "met|can be closed" : "not met|"));
    }
}

void TestIssueEvidence::checkingAgainAsksWhatIsInUse()
{
    const std::string uuid = makeOfFinding();
    QVERIFY(at_->change([&](project::Project& p) {
        return p.setup().setExpectations(checks::Expectations{}, at_->session().now()); // nobody asks any more
    }));
    at_->open(uuid);
    QVERIFY(at_->clickButton("checkAgain"));
    at_->waitIdle();
    QTRY_VERIFY2(at_->message().contains("1 of 1 requirement is met in Architecture P01"), qPrintable(at_->message()));
    QCOMPARE(rowOf(uuid), QString("met|can be closed"));
}

void TestIssueEvidence::proposalsAreDoneAtOnce()
{
    // Two want the same; one is settled, the other one was said to be done before it was.
    const std::string first = makeOfFinding(), second = at_->made("Second");
    const issues::Requirement wanted = must(at_->project().issues().requirementOf(first)).value();
    QVERIFY(at_->change([&](project::Project& p) -> Result<void> {
        issues::Requirement other = wanted;
        other.rule = "storeys.none";
        issues::Issue i;
        i.title = "Storeys";
        i.assignee = "Architecture";
        other.moments[0].failing = other.moments[0].its = other.moments[0].failingOfIts = 0; // met already
        auto made = project::makeIssues(p, {{i, {}, issues::made_from::kCheck, other}}, at_->session().now());
        if (!made)
            return wendrix::fail(made.error());
        const auto done = p.issues().setStatus(first, "Done by assignee", "", at_->session().now());
        return done;
    }));
    at_->waitIdle();
    const std::string storeys = at_->all().back().uuid;
    QCOMPARE(rowOf(first), QString("not met|still there"));
    QVERIFY(at_->clickButton("chip-back"));
    at_->waitIdle();
    QCOMPARE(at_->rows("Issues").rowCount(), 1);
    QVERIFY(at_->clickButton("chip-open"));
    at_->waitIdle();
    auto* settle = at_->window().findChild<QAbstractButton*>("settleIssues");
    QVERIFY(settle->isVisible());
    QCOMPARE(settle->text(), QString("Close 1 on evidence, send back 1"));
    QVERIFY(at_->clickButton("settleIssues"));
    at_->waitIdle();
    QCOMPARE(at_->issue(storeys).status, std::string("Closed"));
    QCOMPARE(at_->issue(first).status, std::string("Back again"));
    QCOMPARE(at_->issue(second).status, std::string("Open")); // the models say nothing of it
    QVERIFY(at_->issue(first).comments.back().text.starts_with("Sent back. "));
    QVERIFY2(at_->message().contains("2 issues closed or sent back on evidence"), qPrintable(at_->message()));
    QVERIFY(!settle->isVisible()); // nothing is left to do
    at_->session().undo();
    at_->waitIdle();
    QVERIFY(at_->issue(storeys).status == "Open" && at_->issue(first).status == "Done by assignee");
}

void TestIssueEvidence::severalAreSettledByTheKey()
{
    const std::string first = makeOfFinding(), second = at_->made("Second");
    QVERIFY(at_->takeIn(architecture({"Wall 1", "Wall 2"}), "P02"));
    at_->clickStage("Issues");
    at_->list("Issues").view().setFocus();
    at_->list("Issues").view().selectAll();
    at_->waitIdle();
    at_->pressAndWait(Qt::Key_X);
    QCOMPARE(at_->issue(first).status, std::string("Closed"));
    QCOMPARE(at_->issue(second).status, std::string("Open"));
    at_->list("Issues").view().selectAll();
    at_->pressAndWait(Qt::Key_X);
    QCOMPARE(at_->issue(second).status, std::string("Open"));
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestIssueEvidence test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_issue_evidence.moc"
