#include <QTest>

#include "core/project/issue_list.h"
#include "core/project/issue_making.h"
#include "support/made_project.h"
#include "support/must.h"

#include <QTemporaryDir>

using namespace wendrix;
using namespace wendrix::project;
using test::kInes;
using test::kJon;
using test::must;

/// Issues as the project keeps them: every change of every field in the history, moves only where the workflow has a
/// way, and lists that answer to anything.
class TestIssuesBook : public QObject {
    Q_OBJECT
private slots:
    void init();
    void everyFieldIsInTheHistory_data();
    void everyFieldIsInTheHistory();
    void editedCommentsKeepTheirText();
    void movesFollowTheWorkflow();
    void severalAtOnce();
    void searchFindsWordsAnywhere_data();
    void searchFindsWordsAnywhere();
    void openIssuesAboutTheSameElementsAreNoticed();
    void linesNarrow_data();
    void linesNarrow();
    void mistakesAreTold_data();
    void mistakesAreTold();
    void groupsAddUp_data();
    void groupsAddUp();
    void ordersHold_data();
    void ordersHold();
    void filtersAreKept();

private:
    std::string made(const issues::Issue& issue, const std::string& from = issues::made_from::kSelection);
    [[nodiscard]] issues::Issue issue(const std::string& uuid) const
    {
        return must(project_->issues().find(uuid, false)).value();
    }
    [[nodiscard]] IssueList list(const IssueQuestion& question) const
    {
        return {must(issueKnowledge(*project_, question.words, "Ines Varga", "2026-11-29T12:00:00Z")), question};
    }
    void makeTen();
    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<Project> project_;
};

void TestIssuesBook::init()
{
    project_.reset();
    folder_ = std::make_unique<QTemporaryDir>();
    project_ = test::madeProject(folder_->filePath("made").toStdString(), {"Structure", "Ventilation"});
}

std::string TestIssuesBook::made(const issues::Issue& i, const std::string& from)
{
    const std::string number = must(makeIssues(*project_, {{i, {}, from}}, kInes)).front();
    for (const issues::Issue& one : must(project_->issues().all()))
        if (one.number == number)
            return one.uuid;
    qFatal("not made");
}

using Edit = void (*)(issues::Issue&);
Q_DECLARE_METATYPE(Edit)

void TestIssuesBook::everyFieldIsInTheHistory_data()
{
    QTest::addColumn<Edit>("edit");
    QTest::addColumn<QString>("field");
    QTest::addColumn<QString>("before");
    QTest::addColumn<QString>("after");
    const auto row = [](const char* field, const char* before, const char* after, Edit edit) {
        QTest::newRow(field) << edit << QString(field) << QString(before) << QString(after);
    };
    row("Title", "Duct", "Pipe", [](issues::Issue& i) { i.title = "Pipe"; });
    row("Description", "", "Two\nlines", [](issues::Issue& i) { i.description = "Two\nlines"; });
    row("Type", "Clash", "", [](issues::Issue& i) { i.type.clear(); });
    row("Status", "Open", "In progress", [](issues::Issue& i) { i.status = "In progress"; });
    row("Priority", "", "High", [](issues::Issue& i) { i.priority = "High"; });
    row("Stage", "", "On site", [](issues::Issue& i) { i.stage = "On site"; });
    row("Assigned to", "Structure", "Ventilation", [](issues::Issue& i) { i.assignee = "Ventilation"; });
    row("Requested by", "", "Client", [](issues::Issue& i) { i.requestedBy = "Client"; });
    row("Cause", "", "late", [](issues::Issue& i) { i.cause = "late"; });
    row("Start", "", "2026-11-01T00:00:00Z", [](issues::Issue& i) { i.startAt = "2026-11-01T00:00:00Z"; });
    row("Due", "2026-12-01T00:00:00Z", "", [](issues::Issue& i) { i.dueAt.clear(); });
    row("Labels", "a, b", "b, c", [](issues::Issue& i) { i.labels = {"b", "c"}; });
    row("Storey", "", "Level 2", [](issues::Issue& i) { i.location.storey = "Level 2"; });
    row("Bay", "", "C / 4", [](issues::Issue& i) { i.location.bay = "C / 4"; });
    row("Space", "", "Vault 1", [](issues::Issue& i) { i.location.space = "Vault 1"; });
    row("Links", "", "https://example.com/1", [](issues::Issue& i) { i.links = {"https://example.com/1"}; });
    row("Related issues", "0 issues", "1 issue", [](issues::Issue& i) { i.related = {"x"}; });
    row("Documents", "", "plan.pdf", [](issues::Issue& i) { i.documents = {{"d", false, "t", "plan.pdf", "", ""}}; });
    row("Snippet", "", "part.ifc", [](issues::Issue& i) {
        i.snippet = issues::Snippet{".ifc", "part.ifc", "s", false};
    });
    row("Place among the others", "", "3", [](issues::Issue& i) { i.index = 3; });
    row("Trade", "", "Duct", [](issues::Issue& i) { i.custom["Trade"] = "Duct"; });
    row("Viewpoint", "", "added", [](issues::Issue& i) {
        issues::Viewpoint v;
        v.uuid = "v";
        i.viewpoints.push_back(v);
    });
}

void TestIssuesBook::everyFieldIsInTheHistory()
{
    QFETCH(Edit, edit);
    QFETCH(QString, field);
    QFETCH(QString, before);
    QFETCH(QString, after);
    issues::Issue i;
    i.title = "Duct";
    i.type = "Clash";
    i.assignee = "Structure";
    i.dueAt = "2026-12-01T00:00:00Z";
    i.labels = {"a", "b"};
    const std::string uuid = made(i);
    const issues::Issue was = issue(uuid);
    QCOMPARE(must(project_->issues().change({&uuid, 1}, "x", edit, kJon)).changed, std::size_t{1});
    const auto history = must(project_->issues().history(uuid));
    QCOMPARE(history.size(), std::size_t{1});
    QCOMPARE(QString::fromStdString(history[0].field), field);
    QCOMPARE(QString::fromStdString(history[0].before), before);
    QCOMPARE(QString::fromStdString(history[0].after), after);
    QVERIFY(history[0].by.person == kJon.person && history[0].by.time == kJon.time);
    // What is kept is what was set, and undo takes both back.
    issues::Issue wanted = was;
    edit(wanted);
    wanted.modifiedBy = kJon.person;
    wanted.modifiedAt = kJon.time;
    QVERIFY(issue(uuid) == wanted);
    QVERIFY(project_->undo(kJon).has_value());
    QVERIFY(issue(uuid) == was);
    QVERIFY(must(project_->issues().history(uuid)).empty());
    // The same once more is no change at all.
    QCOMPARE(must(project_->issues().change(
                      {&uuid, 1}, "x", [](issues::Issue&) {}, kJon))
                 .changed,
             std::size_t{0});
}

void TestIssuesBook::editedCommentsKeepTheirText()
{
    const std::string uuid = made({});
    QVERIFY(project_->issues().addComment(uuid, "First", kInes).has_value());
    const std::string comment = issue(uuid).comments[0].uuid;
    QVERIFY(!project_->issues().editComment(uuid, comment, "Other", kJon).has_value()); // somebody else's
    QVERIFY(
        project_->issues().editComment(uuid, comment, "Second", {"Ines Varga", "2026-11-20T00:00:00Z"}).has_value());
    QVERIFY(project_->issues().editComment(uuid, comment, "Third", {"Ines Varga", "2026-11-21T00:00:00Z"}).has_value());
    const issues::Comment now = issue(uuid).comments[0];
    QVERIFY(now.text == "Third" && now.time == kInes.time && now.modifiedAt == "2026-11-21T00:00:00Z");
    const auto edits = must(project_->issues().editsOf(uuid, comment));
    QVERIFY(edits.size() == 2 && edits[0].text == "Second" && edits[0].time == "2026-11-20T00:00:00Z" &&
            edits[1].text == "First");
    QVERIFY(!project_->issues().removeComment(uuid, comment, kJon).has_value());
    QVERIFY(project_->issues().removeComment(uuid, comment, kInes).has_value());
    QVERIFY(issue(uuid).comments.empty());
    QVERIFY(must(project_->issues().history(uuid))[0].before.find("Third") !=
            std::string::npos); // its text is not lost
}

void TestIssuesBook::movesFollowTheWorkflow()
{
    issues::Workflow flow = issues::Workflow::usual();
    std::erase_if(flow.moves, [](const issues::Move& m) { return m.to == "Closed"; });
    flow.moves.push_back({"Done by assignee", "Closed", {"Coordinators"}});
    flow.moves.push_back({"Open", "Closed", {issues::kAssignee}});
    QVERIFY(project_->issues().setWorkflow(flow, kInes).has_value());
    QVERIFY(project_->setup().setPersonGroup({"Coordinators", {"Ines Varga"}}, kInes).has_value());
    issues::Issue i;
    i.assignee = "Jon Alder";
    const std::string uuid = made(i);
    const auto refused = project_->issues().setStatus(uuid, "Closed", "", kInes);
    QVERIFY(!refused && refused.error().code == issues::kNotAllowed &&
            refused.error().message.find("whoever it is given to") != std::string::npos);
    QVERIFY(!project_->issues().setStatus(uuid, "Back again", "", kJon)); // no way there
    QVERIFY(!project_->issues().setStatus(uuid, "Nowhere", "", kJon));
    QVERIFY(project_->issues().setStatus(uuid, "Done by assignee", "", kJon).has_value());
    QVERIFY(!project_->issues().setStatus(uuid, "Closed", "", kJon));
    QVERIFY(project_->issues().setStatus(uuid, "Closed", "", kInes).has_value());
    QCOMPARE(must(project_->issues().open()), std::size_t{0});
    // A status that a file brought may go anywhere.
    issues::Issue foreign;
    foreign.status = "Resolved elsewhere";
    const std::string other = made(foreign);
    QCOMPARE(must(project_->issues().open()), std::size_t{1});
    QVERIFY(project_->issues().setStatus(other, "Closed", "", kJon).has_value());
}

void TestIssuesBook::severalAtOnce()
{
    std::vector<std::string> uuids;
    for (int n = 0; n < 5; ++n) {
        issues::Issue i;
        i.status = n == 2 ? "Closed" : "Open";
        uuids.push_back(made(i));
    }
    const auto done = must(project_->issues().change(
        uuids, "in progress", [](issues::Issue& i) { i.status = "In progress"; }, kInes));
    QCOMPARE(done.changed, std::size_t{4});
    QVERIFY(done.refused.size() == 1 && done.refused[0].find(issue(uuids[2]).number) == 0);
    QVERIFY(project_->undo(kInes).has_value()); // one step
    for (std::size_t n = 0; n < 5; ++n)
        QCOMPARE(issue(uuids[n]).status, std::string(n == 2 ? "Closed" : "Open"));
}

void TestIssuesBook::searchFindsWordsAnywhere_data()
{
    QTest::addColumn<QString>("words");
    QTest::addColumn<bool>("isFound");
    const auto row = [](const char* words, bool isFound) {
        QTest::newRow(words) << QString::fromUtf8(words) << isFound;
    };
    row("duct", true);
    row("DUCT beam", true);
    row("öffnung", true); // of the comment
    row("duct öffnung", true);
    row("duct nowhere", false);
    row("fire", true); // a label
    row("001", true);  // its number
    row("Ventil", true);
    row("plan.pdf", true);
}

void TestIssuesBook::searchFindsWordsAnywhere()
{
    QFETCH(QString, words);
    QFETCH(bool, isFound);
    issues::Issue i;
    i.title = "Duct meets beam";
    i.labels = {"Fire"};
    i.assignee = "Ventilation";
    i.documents = {{"d", false, "t", "plan.pdf", "", ""}};
    const std::string uuid = made(i);
    QVERIFY(project_->issues().addComment(uuid, "ÖFFNUNG fehlt", kJon).has_value());
    QCOMPARE(must(project_->issues().saying(words.toStdString())).contains(uuid), isFound);
}

void TestIssuesBook::openIssuesAboutTheSameElementsAreNoticed()
{
    const ElementRef a{1, "", "3rPX_Juz59peXXY6wDJl18", 0}, b{1, "", "16DNNqzfP2thtfaOflvsKA", 0},
        c{2, "", "25fsbPyk15VvuXI$yNKenK", 0};
    const auto about = [&](std::vector<ElementRef> elements, const char* status) {
        issues::Issue i;
        i.status = status;
        issues::Viewpoint v;
        v.uuid = "v";
        v.selection = std::move(elements);
        i.viewpoints = {v};
        return made(i);
    };
    const std::string both = about({a, b}, "Open");
    (void)about({a, b}, "Closed");
    (void)about({c}, "Open");
    const std::vector<ElementRef> asked{a, b}, one{b, c, {1, "", "0000000000000000000001", 0}};
    QVERIFY(must(project_->issues().openAbout(asked)).size() == 1 &&
            must(project_->issues().openAbout(asked))[0].uuid == both);
    QCOMPARE(must(project_->issues().openAbout(one)).size(), std::size_t{0}); // a third of them is not the same
}

void TestIssuesBook::makeTen()
{
    const char* const storeys[] = {"Level 1", "Level 2", "", "Level 2", "Level 3"};
    for (int n = 0; n < 10; ++n) {
        issues::Issue i;
        i.title = std::string(n % 2 == 0 ? "Duct " : "Pipe ") + static_cast<char>('J' - n);
        i.status = n < 4 ? "Open" : n < 6 ? "In progress" : n < 7 ? "Done by assignee" : n < 9 ? "Closed" : "Odd";
        i.priority = n % 3 == 0 ? "High" : n % 3 == 1 ? "Low" : "";
        i.assignee = n % 4 == 0 ? "" : n % 4 == 1 ? "Ines Varga" : n % 4 == 2 ? "Structure" : "Ventilation";
        i.dueAt = n == 5 ? "" : "2026-11-" + std::to_string(24 + n % 7) + "T00:00:00Z";
        i.location.storey = storeys[n % 5];
        i.labels = n % 2 == 0 ? std::vector<std::string>{"Fire", "Level"} : std::vector<std::string>{};
        i.custom = {{"Trade", n < 5 ? "Duct" : "Pipe"}};
        (void)made(i, n < 5 ? issues::made_from::kClash : issues::made_from::kView);
    }
}

void TestIssuesBook::linesNarrow_data()
{
    QTest::addColumn<QString>("line");
    QTest::addColumn<int>("count");
    const auto row = [](const char* line, int count) { QTest::newRow(line) << QString(line) << count; };
    row("", 10);
    row("everything", 10);
    row("status is Open", 4);
    row("status is open, \"In progress\"", 6);
    row("status is not Closed", 8);
    row("priority is High and status is Open", 2);
    row("priority is missing", 3);
    row("assignee is missing or assignee is Structure", 5);
    row("title starts with Duct", 5);
    row("title has pipe", 5);
    row("\"duct\"", 5);
    row("label is Fire", 5);
    row("label is missing", 5);
    row("due < 2026-11-26", 4);
    row("due < today", 8);
    row("due is missing", 1);
    row("due is 2026-11-24", 2);
    row("not (due is missing) and due >= 2026-11-30", 1);
    row("storey is \"Level 2\"", 4);
    row("storey is missing", 2);
    row("number < 4", 3);
    row("number is MSS-003", 1);
    row("from is clash", 5);
    row("field.Trade is Pipe", 5);
    row("created >= 2026-11-18", 10);
    row("created < 2026-11-18", 0);
    row("author is \"Ines Varga\"", 10);
    row("evidence is missing", 10);
}

void TestIssuesBook::linesNarrow()
{
    QFETCH(QString, line);
    QFETCH(int, count);
    makeTen();
    QVERIFY2(mistakeInIssueLine(line.toStdString()).message.empty(),
             mistakeInIssueLine(line.toStdString()).message.c_str());
    IssueQuestion question;
    question.filter = IssueFilter::All;
    question.line = line.toStdString();
    QCOMPARE(static_cast<int>(list(question).issueCount()), count);
    // What is written of the line is the same line.
    if (const auto parsed = sets::parse(line.toStdString(), sets::Subject::Issues); parsed.expression)
        QVERIFY(sets::parse(sets::lineOf(*parsed.expression), sets::Subject::Issues).expression == parsed.expression);
}

void TestIssuesBook::mistakesAreTold_data()
{
    QTest::addColumn<QString>("line");
    QTest::addColumn<QString>("words");
    QTest::newRow("no relation") << "status"
                                 << "is";
    QTest::newRow("no value") << "status is"
                              << "value";
    QTest::newRow("no such field") << "colour is red"
                                   << "field";
    QTest::newRow("of elements") << "class is Wall"
                                 << "issues have no \"class\"";
    QTest::newRow("inside") << "inside 0 0 0 to 1 1 1"
                            << "issues have no \"inside\"";
    QTest::newRow("no number") << "due < soon"
                               << "number";
}

void TestIssuesBook::mistakesAreTold()
{
    QFETCH(QString, line);
    QFETCH(QString, words);
    const std::string message = mistakeInIssueLine(line.toStdString()).message;
    QVERIFY2(QString::fromStdString(message).contains(words), message.c_str());
}

void TestIssuesBook::groupsAddUp_data()
{
    QTest::addColumn<int>("grouping");
    QTest::addColumn<QStringList>("groups");
    QTest::newRow("status") << static_cast<int>(IssueGrouping::Status)
                            << QStringList{"Open 4", "In progress 2", "Done by assignee 1", "Closed 2", "Odd 1"};
    QTest::newRow("assignee") << static_cast<int>(IssueGrouping::Assignee)
                              << QStringList{"Ines Varga 3", "Nobody 3", "Structure 2", "Ventilation 2"};
    QTest::newRow("priority") << static_cast<int>(IssueGrouping::Priority)
                              << QStringList{"High 4", "Low 3", "No priority 3"};
    QTest::newRow("storey") << static_cast<int>(IssueGrouping::Storey)
                            << QStringList{"Level 1 2", "Level 2 4", "Level 3 2", "No storey 2"};
    QTest::newRow("label") << static_cast<int>(IssueGrouping::Label) << QStringList{"Fire 5", "No label 5"};
    QTest::newRow("due") << static_cast<int>(IssueGrouping::Due)
                         << QStringList{"Overdue 6", "Due within a week 1", "Due later 2", "No due date 1"};
}

void TestIssuesBook::groupsAddUp()
{
    QFETCH(int, grouping);
    QFETCH(QStringList, groups);
    makeTen();
    IssueQuestion question;
    question.filter = IssueFilter::All;
    question.grouping = static_cast<IssueGrouping>(grouping);
    const IssueList made = list(question);
    QStringList found;
    std::size_t count = 0, under = 0;
    for (std::size_t row = 0; row < made.rowCount(); ++row) {
        const IssueRow r = made.row(row);
        if (r.isHeader) {
            QCOMPARE(under, count);
            found << QString::fromStdString(r.group) + " " + QString::number(r.count);
            count = r.count;
            under = 0;
        } else {
            ++under;
            QCOMPARE(made.rowOf(r.issue.uuid), static_cast<std::ptrdiff_t>(row));
        }
    }
    QCOMPARE(under, count);
    if (QTest::currentDataTag() == std::string("due")) // closed ones are not late
        QVERIFY2(found.size() >= 3, qPrintable(found.join("; ")));
    else
        QCOMPARE(found, groups);
    // The board has the same ones.
    std::size_t onBoard = 0;
    for (const auto& [status, issues] : made.byStatus())
        onBoard += issues.size();
    QCOMPARE(onBoard, std::size_t{10});
    std::size_t onLadder = 0;
    for (const auto& [storey, n] : made.byStorey())
        onLadder += n;
    QCOMPARE(onLadder, std::size_t{7}); // open ones with a storey
}

void TestIssuesBook::ordersHold_data()
{
    QTest::addColumn<int>("order");
    for (const auto& [name, order] :
         {std::pair{"number", IssueOrder::Number}, std::pair{"due", IssueOrder::Due},
          std::pair{"priority", IssueOrder::Priority}, std::pair{"title", IssueOrder::Title},
          std::pair{"assignee", IssueOrder::Assignee}})
        QTest::newRow(name) << static_cast<int>(order);
}

void TestIssuesBook::ordersHold()
{
    QFETCH(int, order);
    makeTen();
    IssueQuestion question;
    question.filter = IssueFilter::All;
    question.order = static_cast<IssueOrder>(order);
    const auto keys = [&](const IssueList& l) {
        std::vector<std::string> all;
        for (std::size_t row = 0; row < l.rowCount(); ++row) {
            const IssueKey k = l.row(row).issue;
            const auto last = [](const std::string& text) { return text.empty() ? std::string("~") : text; };
            all.push_back(question.order == IssueOrder::Number ? std::string(1, static_cast<char>('a' + k.number))
                          : question.order == IssueOrder::Due  ? last(k.dueAt)
                          : question.order == IssueOrder::Priority
                              ? last(k.priority) // High, Low, none: as the workflow has them
                          : question.order == IssueOrder::Title ? k.title
                                                                : last(k.assignee));
        }
        return all;
    };
    const auto up = keys(list(question));
    QVERIFY(std::is_sorted(up.begin(), up.end()));
    question.isDescending = true;
    auto down = keys(list(question));
    std::reverse(down.begin(), down.end());
    QVERIFY(std::is_sorted(down.begin(), down.end()) && down.size() == 10);
}

void TestIssuesBook::filtersAreKept()
{
    IssueQuestion question;
    question.filter = IssueFilter::Overdue;
    question.line = "status is \"In progress\"";
    question.words = "duct";
    question.grouping = IssueGrouping::Storey;
    question.order = IssueOrder::Due;
    question.isDescending = true;
    QVERIFY(project_->issues().keepFilter({"Late ducts", toJson(question)}, kInes).has_value());
    const auto kept = must(project_->issues().filters());
    QVERIFY(kept.size() == 1 && kept[0].name == "Late ducts" && issueQuestionFrom(kept[0].body) == question);
    QVERIFY(issueQuestionFrom("no JSON") == IssueQuestion{});
    QVERIFY(project_->issues().keepFilter({"Late ducts", ""}, kInes).has_value());
    QVERIFY(must(project_->issues().filters()).empty());
}

QTEST_GUILESS_MAIN(TestIssuesBook)
#include "test_issues_book.moc"
