#include <QTest>

#include "core/issues/workflow.h"

using namespace wendrix;
using namespace wendrix::issues;

/// Which ways an issue may go, and who may send it there.
class TestWorkflow : public QObject {
    Q_OBJECT
private slots:
    void theUsualOne_data();
    void theUsualOne();
    void whoMay_data();
    void whoMay();
    void mistakes_data();
    void mistakes();
    void jsonKeepsAll();
    void fieldsAreLabelsOnTheWay();
};

void TestWorkflow::theUsualOne_data()
{
    QTest::addColumn<QString>("from");
    QTest::addColumn<QStringList>("to");
    QTest::newRow("open") << "Open" << QStringList{"In progress", "Done by assignee", "Closed"};
    QTest::newRow("in progress") << "In progress" << QStringList{"Open", "Done by assignee", "Closed"};
    QTest::newRow("done") << "Done by assignee" << QStringList{"Back again", "Closed"};
    QTest::newRow("closed") << "Closed" << QStringList{"Back again"};
    QTest::newRow("back") << "Back again" << QStringList{"In progress", "Done by assignee", "Closed"};
    QTest::newRow("of a file") << "Resolved"
                               << QStringList{"Open", "In progress", "Done by assignee", "Back again", "Closed"};
}

void TestWorkflow::theUsualOne()
{
    QFETCH(QString, from);
    QFETCH(QStringList, to);
    Issue issue;
    issue.status = from.toStdString();
    QStringList found;
    for (const std::string& s : movesFor(Workflow::usual(), issue, {"Anybody", {}}))
        found << QString::fromStdString(s);
    QCOMPARE(found, to);
}

void TestWorkflow::whoMay_data()
{
    QTest::addColumn<QString>("who");
    QTest::addColumn<QString>("person");
    QTest::addColumn<bool>("may");
    const auto row = [](const char* who, const char* person, bool may) {
        QTest::addRow("%s: %s", who, person) << QString(who) << QString(person) << may;
    };
    row("Ines", "Ines", true);
    row("Ines", "Jon", false);
    row("Structure", "Jon", true); // of that discipline
    row("Structure", "Ines", false);
    row(kAssignee, "Jon", true); // given to the discipline
    row(kAssignee, "Ines", false);
    row(kRequester, "Ines", true); // who made it
    row(kRequester, "Client", true);
    row(kRequester, "Jon", false);
}

void TestWorkflow::whoMay()
{
    QFETCH(QString, who);
    QFETCH(QString, person);
    QFETCH(bool, may);
    Workflow flow = Workflow::usual();
    flow.moves = {{"Open", "Closed", {who.toStdString()}}};
    Issue issue;
    issue.assignee = "Structure";
    issue.createdBy = "Ines";
    issue.requestedBy = "Client";
    const Standing standing{person.toStdString(),
                            person == "Jon" ? std::vector<std::string>{"Structure"} : std::vector<std::string>{}};
    QCOMPARE(whyNot(flow, issue, "Closed", standing).empty(), may);
}

using Spoil = void (*)(Workflow&);
Q_DECLARE_METATYPE(Spoil)

void TestWorkflow::mistakes_data()
{
    QTest::addColumn<Spoil>("spoil");
    QTest::addColumn<QString>("words");
    const auto row = [](const char* words, Spoil spoil) { QTest::newRow(words) << spoil << QString(words); };
    row("has no name", [](Workflow& w) { w.statuses[0].name.clear(); });
    row("Two statuses are called Open", [](Workflow& w) { w.statuses[1].name = "Open"; });
    row("in which an issue is closed", [](Workflow& w) {
        w.statuses.pop_back();
        w.moves.clear();
    });
    row("in which an issue is open", [](Workflow& w) {
        for (Status& s : w.statuses)
            s.isClosed = true;
    });
    row("which is no status", [](Workflow& w) { w.moves.push_back({"Open", "Nowhere"}); });
    row("with a colon", [](Workflow& w) { w.fields = {{"Cost: net"}}; });
    row("Two fields are called Cause", [](Workflow& w) { w.fields = {{"Cause"}}; });
}

void TestWorkflow::mistakes()
{
    QFETCH(Spoil, spoil);
    QFETCH(QString, words);
    Workflow flow = Workflow::usual();
    QVERIFY(mistakeIn(flow).empty());
    spoil(flow);
    QVERIFY2(QString::fromStdString(mistakeIn(flow)).contains(words), mistakeIn(flow).c_str());
    QVERIFY(!workflowFromJson(toJson(flow)).has_value());
}

void TestWorkflow::jsonKeepsAll()
{
    Workflow flow = Workflow::usual();
    flow.moves.push_back({"Open", "Back again", {"Ines", kAssignee}});
    flow.labels = {"Fire"};
    flow.fields = {{"Trade", {"Duct", "Pipe"}, false}, {"Cost", {}, true}};
    flow.coordinates = Coordinates::Project;
    QVERIFY(workflowFromJson(toJson(flow)) == flow);
    for (const char* text : {"", "[]", "{}", "{\"statuses\": 3}", "{\"statuses\": [{}]}"})
        QVERIFY2(!workflowFromJson(text).has_value(), text);
}

void TestWorkflow::fieldsAreLabelsOnTheWay()
{
    Workflow flow = Workflow::usual();
    flow.fields = {{"Trade", {}, true}, {"Cost", {}, false}};
    Issue issue;
    issue.labels = {"Fire", "Note: stays a label"};
    issue.cause = "late change";
    issue.startAt = "2026-11-01T00:00:00Z";
    issue.custom = {{"Trade", "Duct"}, {"Cost", "12"}};
    Issue there = issue;
    there.labels = labelsWithFields(issue, flow);
    QCOMPARE(there.labels.size(), std::size_t{5}); // cost stays here
    there.cause.clear();
    there.startAt.clear();
    there.custom.clear();
    fieldsFromLabels(there, flow);
    Issue wanted = issue;
    wanted.custom.erase("Cost");
    QVERIFY(there == wanted);
}

QTEST_GUILESS_MAIN(TestWorkflow)
#include "test_workflow.moc"
