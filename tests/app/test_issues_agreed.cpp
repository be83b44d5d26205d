#include "app/issue_fixture.h"

#include "core/base/file.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPlainTextEdit>

#include <algorithm>

using namespace wendrix;
using test::must;

/// What is agreed about issues, changed in the window: statuses and who moves them, fields, values, coordinates.
class TestIssuesAgreed : public QObject {
    Q_OBJECT
private slots:
    void init()
    {
        at_ = std::make_unique<test::IssueProject>();
        at_->pressAndWait(Qt::Key_A);
    }
    void cleanup() { at_.reset(); }
    void aStatusIsAddedAndMovesAreAllowed();
    void issuesGoAlongWithWhatIsCalledOtherwise();
    void whatIsInUseIsNotRemoved();
    void mistakesAreSaidAndStayToBeCorrected();
    void whatIsBeingWrittenStays();
    void fieldsOfTheProjectAreAsked();
    void valuesAreOffered();
    void theMenuLeadsHereAndTheKeyBack();
    void allOfItGoesToAFileAndBack();
    void namesAreOfferedWhileTheyAreWritten();
    void relatedIssuesAreChosen();

private:
    [[nodiscard]] issues::Workflow flow() { return must(at_->project().issues().workflow()); }
    [[nodiscard]] const app::RowModel& rows() { return at_->list("agreed").model(); }
    void choose(const QString& id)
    {
        at_->list("agreed").choose(id);
        at_->waitIdle();
    }
    void writeText(const QString& field, const QString& text, const QString& then)
    {
        auto& edit = at_->field<QPlainTextEdit>(field);
        edit.setFocus();
        edit.selectAll();
        for (const QString& line : text.split('\n')) {
            QTest::keyClicks(&edit, line);
            if (!text.endsWith(line))
                QTest::keyClick(&edit, Qt::Key_Return);
        }
        at_->field<QWidget>(then).setFocus();
        at_->waitIdle();
    }
    [[nodiscard]] QStringList offered()
    {
        QStringList names;
        for (const QListWidget* list : at_->window().findChildren<QListWidget*>("namesOffered"))
            for (int i = 0; list->isVisible() && i < list->count(); ++i)
                names << list->item(i)->text();
        return names;
    }
    std::unique_ptr<test::IssueProject> at_;
};

void TestIssuesAgreed::aStatusIsAddedAndMovesAreAllowed()
{
    QCOMPARE(rows().rowCount(), 5);
    QCOMPARE(rows().row(0).title, QString("Open"));
    QCOMPARE(rows().row(0).subtitle, QString("to In progress, Done by assignee, Closed"));
    at_->pressAndWait(Qt::Key_N);
    QCOMPARE(flow().statuses.size(), std::size_t{6});
    at_->type("statusName", "With the client");
    QCOMPARE(flow().statuses[5].name, std::string("With the client"));
    auto& shape = at_->field<QComboBox>("statusShape");
    shape.setFocus();
    QTest::keyClick(&shape, Qt::Key_Down); // begun
    at_->waitIdle();
    QCOMPARE(flow().statuses[5].shape, issues::StatusShape::Half);
    // From it to Closed, by the assignee only.
    auto& isAllowed = at_->field<QCheckBox>("moveTo:Closed");
    isAllowed.setFocus();
    QTest::keyClick(&isAllowed, Qt::Key_Space);
    at_->waitIdle();
    QVERIFY(at_->field<QLineEdit>("moveBy:Closed").isVisible() && !at_->field<QLineEdit>("moveBy:Open").isVisible());
    at_->type("moveBy:Closed", "assignee, Client");
    const auto& moves = flow().moves;
    QVERIFY(std::find(moves.begin(), moves.end(), issues::Move{"With the client", "Closed", {"assignee", "Client"}}) !=
            moves.end());
    // An issue there may not be closed by anybody else; and from Open nothing leads there yet.
    const std::string uuid = at_->made("First", "With the client");
    at_->list("agreed").view().setFocus();
    at_->pressAndWait(Qt::Key_A);
    at_->open(uuid);
    at_->pressAndWait(Qt::Key_X);
    QCOMPARE(at_->issue(uuid).status, std::string("With the client"));
    // Undone one by one.
    for (int i = 0; i < 7; ++i) {
        at_->session().undo();
        at_->waitIdle();
    }
    QVERIFY(flow() == issues::Workflow::usual());
}

void TestIssuesAgreed::issuesGoAlongWithWhatIsCalledOtherwise()
{
    const std::string uuid = at_->made("First");
    choose("status|Open");
    at_->type("statusName", "To be done");
    QCOMPARE(flow().statuses[0].name, std::string("To be done"));
    QCOMPARE(at_->issue(uuid).status, std::string("To be done"));
    QVERIFY(
        std::ranges::none_of(flow().moves, [](const issues::Move& m) { return m.from == "Open" || m.to == "Open"; }));
    const auto history = must(at_->project().issues().history(uuid));
    QVERIFY(history[0].field == "Status" && history[0].before == "Open" && history[0].after == "To be done");
    at_->session().undo();
    at_->waitIdle();
    QCOMPARE(at_->issue(uuid).status, std::string("Open")); // with it, as one step
}

void TestIssuesAgreed::whatIsInUseIsNotRemoved()
{
    (void)at_->made("First");
    choose("status|Open");
    QVERIFY(at_->clickButton("removeStatus"));
    QVERIFY2(at_->message().contains("1 issue is Open; move them to another status first"), qPrintable(at_->message()));
    QCOMPARE(flow().statuses.size(), std::size_t{5});
    choose("status|In progress");
    QVERIFY(at_->clickButton("removeStatus"));
    at_->waitIdle();
    QCOMPARE(flow().statuses.size(), std::size_t{4});
    QVERIFY(std::ranges::none_of(
        flow().moves, [](const issues::Move& m) { return m.from == "In progress" || m.to == "In progress"; }));
    // Another order.
    choose("status|Done by assignee");
    QVERIFY(at_->clickButton("statusUp"));
    at_->waitIdle();
    QCOMPARE(flow().statuses[0].name, std::string("Done by assignee"));
    QCOMPARE(at_->list("agreed").chosen(), QString("status|Done by assignee")); // the same one
}

void TestIssuesAgreed::mistakesAreSaidAndStayToBeCorrected()
{
    choose("status|Open");
    at_->type("statusName", "Closed");
    QVERIFY2(at_->message().contains("Two statuses are called Closed"), qPrintable(at_->message()));
    QCOMPARE(at_->field<QLineEdit>("statusName").text(), QString("Closed"));
    QCOMPARE(flow().statuses[0].name, std::string("Open"));
    choose("status|Closed"); // the only closed one
    auto& closed = at_->field<QCheckBox>("statusClosed");
    closed.setFocus();
    QTest::keyClick(&closed, Qt::Key_Space);
    at_->waitIdle();
    QVERIFY2(at_->message().contains("No status is one in which an issue is closed"), qPrintable(at_->message()));
    QVERIFY(flow() == issues::Workflow::usual());
}

void TestIssuesAgreed::whatIsBeingWrittenStays()
{
    choose("status|In progress");
    auto* name = &at_->field<QLineEdit>("statusName");
    name->setFocus();
    name->selectAll();
    QTest::keyClicks(name, "Taken");
    // Somebody else puts another status before it meanwhile.
    issues::Workflow other = flow();
    other.statuses.insert(other.statuses.begin(), {"Wished for", issues::StatusShape::Empty, false});
    QVERIFY(at_->change([&](project::Project& p) {
        return p.issues().setWorkflow(other, {"Jon Alder", "2026-11-20T00:00:00Z"});
    }));
    at_->waitIdle();
    name = &at_->field<QLineEdit>("statusName");
    QCOMPARE(name->text(), QString("Taken"));
    QTest::keyClicks(name, " up");
    // On with the next field: the one that was meant is changed, and whoever writes is in that field.
    QTest::keyClick(name, Qt::Key_Tab);
    at_->waitIdle();
    QVERIFY(flow().statuses.size() == 6 && flow().statuses[0].name == "Wished for" &&
            flow().statuses[1].name == "Open" && flow().statuses[2].name == "Taken up");
    QCOMPARE(QApplication::focusWidget()->objectName(), QString("statusShape"));
    QVERIFY(at_->details().contains("Taken up"));
}

void TestIssuesAgreed::fieldsOfTheProjectAreAsked()
{
    QVERIFY(at_->clickButton("chip-fields"));
    at_->list("agreed").view().setFocus();
    at_->pressAndWait(Qt::Key_N);
    at_->type("fieldName", "Trade");
    writeText("fieldChoices", "Ducts\nPipes", "fieldName");
    QCOMPARE(flow().fields, (std::vector<issues::CustomField>{{"Trade", {"Ducts", "Pipes"}, true}}));
    const std::string uuid = at_->made("First");
    at_->list("agreed").view().setFocus();
    at_->pressAndWait(Qt::Key_A);
    at_->open(uuid);
    at_->pressAndWait(Qt::Key_E);
    auto& trade = at_->field<QComboBox>("field:custom:Trade");
    QCOMPARE(trade.itemText(2), QString("Pipes"));
    trade.setFocus();
    QTest::keyClick(&trade, Qt::Key_Down);
    at_->waitIdle();
    QCOMPARE(at_->issue(uuid).custom.at("Trade"), std::string("Ducts"));
    // Called otherwise: what was said under it goes along.
    at_->list("Issues").view().setFocus();
    at_->pressAndWait(Qt::Key_E);
    at_->pressAndWait(Qt::Key_A);
    choose("field|Trade");
    at_->type("fieldName", "Package");
    QCOMPARE(at_->issue(uuid).custom, (std::map<std::string, std::string>{{"Package", "Ducts"}}));
    QVERIFY(at_->clickButton("removeField"));
    at_->waitIdle();
    QVERIFY2(at_->message().contains("what 1 issue says under it is kept"), qPrintable(at_->message()));
    QVERIFY(flow().fields.empty() && at_->issue(uuid).custom.contains("Package"));
}

void TestIssuesAgreed::valuesAreOffered()
{
    QVERIFY(at_->clickButton("chip-lists"));
    choose("lists|0");
    writeText("agreedPriorities", "Urgent\nNormal", "agreedTypes");
    QCOMPARE(flow().priorities, (std::vector<std::string>{"Urgent", "Normal"}));
    choose("coordinates|0");
    auto& coordinates = at_->field<QComboBox>("coordinates");
    coordinates.setFocus();
    QTest::keyClick(&coordinates, Qt::Key_Down);
    at_->waitIdle();
    QCOMPARE(flow().coordinates, issues::Coordinates::Project);
}

void TestIssuesAgreed::theMenuLeadsHereAndTheKeyBack()
{
    at_->pressAndWait(Qt::Key_A);
    QVERIFY(at_->list("Issues").isVisible() && !at_->list("agreed").isVisible());
    QVERIFY(at_->clickButton("issuesOrder"));
    auto* menu = at_->window().findChild<QMenu*>("issuesOrderMenu");
    for (QAction* action : menu->actions())
        if (action->text() == "What is agreed")
            QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(action).center());
    at_->waitIdle();
    QVERIFY(at_->list("agreed").isVisible());
    QVERIFY(at_->clickButton("leaveAgreed"));
    QVERIFY(at_->list("Issues").isVisible());
}

void TestIssuesAgreed::allOfItGoesToAFileAndBack()
{
    const QString file = at_->folder() + "/flow.json";
    auto isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("saveAgreed"));
    QTRY_VERIFY(*isAsked);
    at_->waitIdle();
    QVERIFY(issues::workflowFromJson(must(readFileWhole(file.toStdString(), 1 << 20))) == issues::Workflow::usual());
    issues::Workflow other = issues::Workflow::usual();
    other.statuses.insert(other.statuses.begin() + 1, {"With the client", issues::StatusShape::Half, false});
    other.moves.push_back({"Open", "With the client"});
    QVERIFY(writeFileWhole(file.toStdString(), issues::toJson(other)).has_value());
    isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("loadAgreed"));
    QTRY_VERIFY(*isAsked);
    at_->waitIdle();
    QVERIFY2(at_->message().contains("6 statuses"), qPrintable(at_->message()));
    QTRY_COMPARE(rows().rowCount(), 6);
    // A broken one changes nothing, and is told with its file.
    QVERIFY(writeFileWhole(file.toStdString(), "{\"statuses\": []}").has_value());
    isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("loadAgreed"));
    QTRY_VERIFY(*isAsked);
    at_->waitIdle();
    QVERIFY2(at_->message().contains("flow.json"), qPrintable(at_->message()));
    QVERIFY(flow() == other);
}

void TestIssuesAgreed::namesAreOfferedWhileTheyAreWritten()
{
    at_->pressAndWait(Qt::Key_A);
    const std::string uuid = at_->made("First");
    at_->open(uuid);
    auto& comment = at_->field<QPlainTextEdit>("comment");
    comment.setFocus();
    QTest::keyClicks(&comment, "To be seen by @Str");
    QCOMPARE(offered(), QStringList{"Structure"});
    QTest::keyClick(&comment, Qt::Key_Return);
    QCOMPARE(comment.toPlainText(), QString("To be seen by @Structure "));
    QVERIFY(offered().isEmpty());
    QTest::keyClicks(&comment, "and @");
    QCOMPARE(offered().size(), 2); // both disciplines
    QTest::keyClick(&comment, Qt::Key_Down);
    QTest::keyClick(&comment, Qt::Key_Up);
    QTest::keyClick(&comment, Qt::Key_Tab);
    QCOMPARE(comment.toPlainText(), QString("To be seen by @Structure and @Architecture "));
    QTest::keyClicks(&comment, "me@ar"); // an address is no mention
    QVERIFY(offered().isEmpty());
    QTest::keyClicks(&comment, " @Nob");
    QVERIFY(offered().isEmpty());
    QTest::keyClicks(&comment, " @A");
    QTest::keyClick(&comment, Qt::Key_Escape);
    QVERIFY(offered().isEmpty());
    QVERIFY(comment.toPlainText().endsWith("@A"));
}

void TestIssuesAgreed::relatedIssuesAreChosen()
{
    at_->pressAndWait(Qt::Key_A);
    const std::string first = at_->made("First"), second = at_->made("Second"), third = at_->made("Third");
    at_->open(first);
    at_->pressAndWait(Qt::Key_E);
    auto& related = at_->field<QLineEdit>("field:related");
    related.setFocus();
    QTest::keyClicks(&related, "seco");
    QCOMPARE(offered(), QStringList{"SVA-002 Second"});
    QTest::keyClick(&related, Qt::Key_Return);
    QCOMPARE(related.text(), QString("SVA-002"));
    QTest::keyClicks(&related, ", sva-003");
    QTest::keyClick(&related, Qt::Key_Escape);
    at_->field<QWidget>("field:labels").setFocus();
    at_->waitIdle();
    QCOMPARE(at_->issue(first).related.size(), std::size_t{2});
    QCOMPARE(at_->issue(second).related, std::vector{first}); // the other way round, too
    QCOMPARE(at_->issue(third).related, std::vector{first});
    at_->type("field:related", "SVA-099");
    QVERIFY2(at_->message().contains("no issue SVA-099"), qPrintable(at_->message()));
    QCOMPARE(at_->issue(first).related.size(), std::size_t{2});
    at_->type("field:related", "SVA-003");
    QCOMPARE(at_->issue(first).related, std::vector{third});
    QVERIFY(at_->issue(second).related.empty());
    // One that a file names and that is not here stays whatever is chosen.
    QVERIFY(at_->change([&](project::Project& p) -> Result<void> {
        const auto done = p.issues().change(
            {&first, 1}, "x", [](issues::Issue& i) { i.related.push_back("elsewhere"); }, at_->session().now());
        return done ? Result<void>() : Result<void>(tl::unexpected<Error>(done.error()));
    }));
    at_->waitIdle();
    at_->type("field:related", "SVA-002");
    QCOMPARE(at_->issue(first).related, (std::vector<std::string>{"elsewhere", second}));
    at_->type("field:related", "SVA-003");
    QCOMPARE(at_->issue(first).related, (std::vector<std::string>{"elsewhere", third}));
    // Its button leads there.
    at_->list("Issues").view().setFocus();
    at_->pressAndWait(Qt::Key_E);
    QVERIFY(at_->clickButton("related:" + QString::fromStdString(third)));
    at_->waitIdle();
    QCOMPARE(at_->list("Issues").chosen(), QString::fromStdString(third));
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestIssuesAgreed test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_issues_agreed.moc"
