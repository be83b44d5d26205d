#include "app/own_project.h"

#include "core/project/setup.h"

#include <QComboBox>
#include <QFile>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QSpinBox>

using namespace wendrix;
using test::MadeModel;
using test::must;

/// What issues begin with, set up in the window: by keyboard, through files, and into the next project.
class TestIssueTemplates : public QObject {
    Q_OBJECT
private slots:
    void init();
    void cleanup() { at_.reset(); }
    void oneIsMadeByKeyboard();
    void mistakesAreSaidAndNothingIsLost();
    void oneGoesToAFileAndBack();
    void brokenFilesChangeNothing();
    void oneIsRemovedAndBroughtBack();
    void rulesAreWrittenInLines();
    void theNextProjectBeginsWithThem();

private:
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = {})
    {
        at_->press(key, modifiers);
        at_->waitIdle();
    }
    [[nodiscard]] const app::RowModel& rows() { return at_->list("agreed").model(); }
    [[nodiscard]] std::vector<issues::IssueTemplate> templates() { return must(at_->project().issues().templates()); }
    std::unique_ptr<test::OwnProject> at_;
};

void TestIssueTemplates::init()
{
    at_ = std::make_unique<test::OwnProject>();
    at_->openEmpty();
    MadeModel architecture;
    architecture.name = "Architecture";
    architecture.boxes = {{"Wall 1", {0, 0, 0}, {12, 0.2, 3}, "IFCWALL"}};
    QVERIFY(at_->takeIn(architecture, "P01"));
    at_->clickStage("Issues");
    press(Qt::Key_A);
    QVERIFY(at_->clickButton("chip-templates"));
    at_->waitIdle();
}

void TestIssueTemplates::oneIsMadeByKeyboard()
{
    QCOMPARE(rows().rowCount(), 6); // the usual one of each source, which nobody has changed yet
    QCOMPARE(rows().row(0).title, QString("Clash"));
    QCOMPARE(rows().row(5).right, QString("of the view"));
    press(Qt::Key_N);
    QCOMPARE(rows().rowCount(), 7);
    at_->type("templateName", "Holes to cut");
    at_->type("templateTitle", "Hole for {right}");
    auto& description = at_->field<QPlainTextEdit>("templateDescription");
    description.setFocus();
    description.selectAll();
    QTest::keyClicks(&description, "{right} passes through {left}, {depth}.");
    auto& assignee = at_->field<QComboBox>("templateAssignee");
    assignee.setFocus(); // and the description is kept
    at_->waitIdle();
    QTest::keyClick(&assignee, Qt::Key_Down);
    at_->waitIdle();
    auto& days = at_->field<QSpinBox>("templateDays");
    days.setFocus();
    days.selectAll();
    QTest::keyClicks(&days, "14");
    QTest::keyClick(&days, Qt::Key_Return);
    at_->waitIdle();
    at_->type("templateLabels", "Holes, {test}");
    issues::IssueTemplate made = templates()[1];
    QCOMPARE(made.name, std::string("Holes to cut"));
    QCOMPARE(made.title, std::string("Hole for {right}"));
    QCOMPARE(made.description, std::string("{right} passes through {left}, {depth}."));
    QCOMPARE(made.assignee, std::string("{left}"));
    QCOMPARE(made.daysToFix, 14);
    QCOMPARE(made.labels, (std::vector<std::string>{"Holes", "{test}"}));
    QCOMPARE(rows().row(1).subtitle, QString("Clash · to the left side · due in 14 days"));
    QCOMPARE(templates()[0], issues::IssueTemplate::usual()); // beside it
    at_->list("agreed").view().setFocus();
    press(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(templates()[1].labels, std::vector<std::string>{"{test}"});
}

void TestIssueTemplates::mistakesAreSaidAndNothingIsLost()
{
    press(Qt::Key_J);
    at_->type("templateTitle", "Hole for {pipe}");
    QVERIFY2(at_->message().contains("Title: {pipe} stands for nothing"), qPrintable(at_->message()));
    QCOMPARE(at_->field<QLineEdit>("templateTitle").text(), QString("Hole for {pipe}")); // to be corrected
    QCOMPARE(templates()[0].title, std::string("{title}"));
    at_->type("templateTitle", "Hole for {right}");
    QCOMPARE(templates()[0].title, std::string("Hole for {right}"));
    QCOMPARE(templates().size(), std::size_t{6}); // the usual one itself was changed
    at_->list("agreed").view().setFocus();
    press(Qt::Key_N);
    at_->type("templateName", "Clash");
    QVERIFY2(at_->message().contains("already"), qPrintable(at_->message()));
    QCOMPARE(templates()[1].name, std::string("Template 2"));
}

void TestIssueTemplates::oneGoesToAFileAndBack()
{
    press(Qt::Key_J);
    at_->type("templateStage", "Execution");
    const QString file = at_->folder() + "/clash.json";
    const auto saved = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("saveTemplate"));
    QTRY_VERIFY(*saved && QFile::exists(file));
    at_->type("templateStage", "Something else");
    const auto loaded = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("loadAgreed"));
    QTRY_VERIFY(*loaded);
    at_->waitIdle();
    QTRY_COMPARE(templates()[0].stage, std::string("Execution"));
    QCOMPARE(templates().size(), std::size_t{6});
}

void TestIssueTemplates::brokenFilesChangeNothing()
{
    const QString name = at_->folder() + "/broken.json";
    QFile file(name);
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(R"({"kind": "wendrix-issue-template", "name": "Odd", "labels": 3})");
    file.close();
    const auto asked = at_->answerFileDialog({name});
    QVERIFY(at_->clickButton("loadAgreed"));
    QTRY_VERIFY(*asked);
    QTRY_VERIFY2(at_->message().contains("labels is not what it should be"), qPrintable(at_->message()));
    QVERIFY(at_->message().contains("broken.json"));
    QCOMPARE(templates(), issues::IssueTemplate::usuals());
}

void TestIssueTemplates::oneIsRemovedAndBroughtBack()
{
    press(Qt::Key_J);
    QVERIFY(!at_->clickButton("removeTemplate")); // the only one
    press(Qt::Key_N);
    QVERIFY(at_->clickButton("removeTemplate"));
    at_->waitIdle();
    QCOMPARE(templates().size(), std::size_t{6});
    press(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(templates().size(), std::size_t{7});
    QCOMPARE(rows().rowCount(), 7);
}

void TestIssueTemplates::rulesAreWrittenInLines()
{
    at_->list("agreed").choose("template|Change");
    at_->waitIdle();
    at_->type("templatePriorityFor", "removed Very high, cut up Low");
    at_->type("templateDaysFor", "High 3, Low 21");
    auto& sets = at_->field<QPlainTextEdit>("templateAssigneeFor");
    sets.setFocus();
    QTest::keyClicks(&sets, "Structure: class is Slab");
    at_->field<QLineEdit>("templateName").setFocus();
    at_->waitIdle();
    const issues::IssueTemplate t = templates()[1];
    using Rules = std::vector<std::pair<std::string, std::string>>;
    QCOMPARE(t.priorityFor, (Rules{{"removed", "Very high"}, {"cut up", "Low"}}));
    QCOMPARE(t.daysFor, (std::vector<std::pair<std::string, int>>{{"High", 3}, {"Low", 21}}));
    QCOMPARE(t.assigneeFor, (Rules{{"class is Slab", "Structure"}}));
    at_->type("templatePriorityFor", "melted High");
    QVERIFY2(at_->message().contains("melted is no kind"), qPrintable(at_->message()));
    QCOMPARE(at_->field<QLineEdit>("templatePriorityFor").text(), QString("melted High"));
    at_->type("templateDaysFor", "High soon");
    QVERIFY2(at_->message().contains("Days by priority"), qPrintable(at_->message()));
    QCOMPARE(templates()[1], t);
}

void TestIssueTemplates::theNextProjectBeginsWithThem()
{
    press(Qt::Key_N);
    at_->type("templateName", "Holes to cut");
    at_->type("templateLabels", "Holes");
    issues::Workflow flow = issues::Workflow::usual();
    flow.statuses.push_back({"With the client", issues::StatusShape::Half, false});
    flow.fields = {{"Trade", {"Ducts", "Pipes"}, false}};
    QVERIFY(at_->change([&](project::Project& p) { return p.issues().setWorkflow(flow, at_->session().now()); }));
    const project::Setup setup = must(project::setupFromJson(project::toJson(must(project::setupOf(at_->project())))));
    const auto next = must(project::createProject((at_->folder() + "/next").toStdString(), "Seed vault annexe 2", setup,
                                                  at_->session().now()));
    QCOMPARE(must(next->issues().templates()), templates());
    QVERIFY(must(next->issues().workflow()) == flow);
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestIssueTemplates test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_issue_templates.moc"
