#include "app/own_project.h"

#include "core/base/file.h"
#include "core/base/guid.h"
#include "core/bcf/bcf.h"
#include "core/bcf/file.h"
#include "core/project/issue_making.h"
#include "core/view/viewpoint_look.h"
#include "issues/board_page.h"
#include "issues/calendar_page.h"
#include "issues/issue_signs.h"
#include "issues/issues_stage.h"

#include <QComboBox>
#include <QInputDialog>
#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QTimer>

#include <algorithm>

using namespace wendrix;
using test::MadeModel;
using test::must;

/// Working through issues in the window: made from what is seen, their fields, viewpoints, the board, the days, and
/// what comes back.
class TestIssueReview : public QObject {
    Q_OBJECT
private slots:
    void initTestCase();
    void init();
    void cleanup() { at_.reset(); }
    void anIssueIsMadeOfTheSelection();
    void whatIsBeingTypedStays();
    void fieldsAreKeptAsTheyAreLeft();
    void severalAreChangedAtOnce();
    void viewpointsComeBackAndGo();
    void anotherProgramsViewIsSeen();
    void commentsAreEditedAndKeptBefore();
    void theListIsNarrowedAndKept();
    void theBoardMovesCards();
    void theCalendarListsADay();
    void signsStandInTheScene();
    void conflictsAreDecidedOneByOne();
    void leavingIncomingTakesNothing();
    void statusesThatAreNotAllowedAreNoButtons();
    void whatIsAgreedGoesToAFileAndBack();

private:
    std::string made(const std::string& title, const std::string& status = "Open", const std::string& due = "",
                     std::size_t box = 0);
    [[nodiscard]] issues::Issue issue(const std::string& uuid) const
    {
        return must(at_->project().issues().find(uuid, false)).value();
    }
    [[nodiscard]] std::vector<issues::Issue> all() const { return must(at_->project().issues().all()); }
    [[nodiscard]] view::ElementKey box(const char* name);
    void select(const char* name) { at_->scene().choose({box(name)}); }
    void press(Qt::Key key)
    {
        at_->press(key);
        at_->waitIdle();
    }
    void sendAndChange(const QString& file, const std::function<void(std::vector<issues::Issue>&)>& change);
    void open(const std::string& uuid);
    std::unique_ptr<test::OwnProject> at_;
};

void TestIssueReview::initTestCase() {}

void TestIssueReview::init()
{
    at_ = std::make_unique<test::OwnProject>();
    at_->openEmpty({"Architecture", "Structure"});
    MadeModel architecture;
    architecture.name = "Architecture";
    architecture.boxes = {{"Wall 1", {0, 0, 0}, {12, 0.2, 3}, "IFCWALL"},
                          {"Wall 2", {0, 8, 0}, {12, 0.2, 3}, "IFCWALL"},
                          {"Slab 1", {0, 0, -0.3}, {12, 8.2, 0.3}, "IFCSLAB"}};
    QVERIFY(at_->takeIn(architecture, "P01"));
    at_->clickStage("Issues");
}

view::ElementKey TestIssueReview::box(const char* name)
{
    const auto& members = at_->scene().members();
    for (std::uint32_t m = 0; m < members.size(); ++m)
        for (ifc::ElementIndex e = 0; e < members[m].model->elements().size(); ++e)
            if (members[m].model->text(members[m].model->elements()[e].name) == name)
                return {m, e};
    qFatal("no such box");
}

std::string TestIssueReview::made(const std::string& title, const std::string& status, const std::string& due,
                                  std::size_t number)
{
    static constexpr const char* kBoxes[] = {"Wall 1", "Wall 2", "Slab 1"};
    issues::Issue i;
    i.uuid = newUuid();
    i.title = title;
    i.type = "Remark";
    i.status = status;
    i.dueAt = due;
    i.assignee = "Structure";
    issues::Viewpoint v;
    v.uuid = newUuid();
    const view::ElementKey key = box(kBoxes[number % 3]);
    v.selection = {at_->scene().members()[key.member].refOf(key.element)};
    v.camera = issues::Camera{
        {-10, -10, 6}, normalised(Vector3{1, 1, -0.4}), normalised(Vector3{0.2, 0.2, 1}), true, 50, 10, 1.5};
    i.viewpoints = {v};
    if (!at_->change([&](project::Project& p) -> Result<void> {
            const auto numbers =
                project::makeIssues(p, {{i, {}, project::made_from::kSelection}}, at_->session().now());
            return numbers ? Result<void>() : Result<void>(tl::unexpected<Error>(numbers.error()));
        }))
        qFatal("not made");
    at_->waitIdle();
    return i.uuid;
}

void TestIssueReview::open(const std::string& uuid)
{
    at_->list("Issues").choose(QString::fromStdString(uuid));
    at_->waitIdle();
    at_->scene().finishMotion();
}

void TestIssueReview::anIssueIsMadeOfTheSelection()
{
    at_->clickStage("Deliveries");
    select("Wall 1");
    press(Qt::Key_H); // hidden, so it is not selected any more
    select("Wall 2");
    press(Qt::Key_I);
    QCOMPARE(all().size(), std::size_t{1});
    const issues::Issue i = all()[0];
    QCOMPARE(i.title, std::string("Wall 2"));
    QCOMPARE(i.viewpoints.size(), std::size_t{1});
    const view::ViewpointLook look = view::lookOf(i.viewpoints[0], at_->scene().members());
    QVERIFY(look.selected == std::set{box("Wall 2")} && look.hidden == std::set{box("Wall 1")});
    QVERIFY(i.viewpoints[0].camera && i.viewpoints[0].camera->aspect > 0);
    QVERIFY(must(at_->project().issues().find(i.uuid, true))->viewpoints[0].snapshot.starts_with("\x89PNG"));
    // Its title is what one writes next.
    auto& title = at_->field<QPlainTextEdit>("field:title");
    QVERIFY(title.isVisible());
    title.setFocus();
    title.selectAll();
    QTest::keyClicks(&title, "Wall is too thin");
    at_->field<QLineEdit>("field:labels").setFocus(); // left, and kept
    at_->waitIdle();
    QCOMPARE(all()[0].title, std::string("Wall is too thin"));
    // The same elements once more: that is said.
    QTest::qWait(0);
    at_->clickStage("Deliveries");
    select("Wall 2");
    press(Qt::Key_I);
    QCOMPARE(all().size(), std::size_t{2});
    QVERIFY2(at_->message().contains("1 open issue already concerns these elements: SVA-001"),
             qPrintable(at_->message()));
    // And one of the view alone.
    at_->clickStage("Deliveries");
    at_->scene().choose({});
    press(Qt::Key_I);
    QCOMPARE(must(at_->project().issues().kept(all()[2].uuid))->madeFrom, std::string("view"));
}

void TestIssueReview::whatIsBeingTypedStays()
{
    const std::string one = made("First"), other = made("Second");
    open(one);
    press(Qt::Key_E);
    auto* text = &at_->field<QPlainTextEdit>("field:description");
    text->setFocus();
    QTest::keyClicks(text, "Half a sentence");
    // Somebody else changes this very issue, and the list is read anew.
    QVERIFY(at_->change([&](project::Project& p) -> Result<void> {
        const auto done = p.issues().change({&one, 1}, "x", [](issues::Issue& i) { i.priority = "High"; },
                                            {"Jon Alder", "2026-11-20T00:00:00Z"});
        return done ? Result<void>() : Result<void>(tl::unexpected<Error>(done.error()));
    }));
    at_->waitIdle();
    text = &at_->field<QPlainTextEdit>("field:description");
    QCOMPARE(text->toPlainText(), QString("Half a sentence"));
    QCOMPARE(at_->field<QComboBox>("field:priority").currentText(), QString("High")); // and theirs is seen
    QTest::keyClicks(text, " and the rest");
    QCOMPARE(text->toPlainText(), QString("Half a sentence and the rest"));
    // Another issue, and back.
    open(other);
    open(one);
    QCOMPARE(issue(one).description, std::string("Half a sentence and the rest")); // leaving the field kept it
    QCOMPARE(issue(one).priority, std::string("High"));
}

void TestIssueReview::fieldsAreKeptAsTheyAreLeft()
{
    issues::Workflow flow = issues::Workflow::usual();
    flow.fields = {{"Trade", {"Duct", "Pipe"}, true}};
    QVERIFY(at_->change([&](project::Project& p) { return p.issues().setWorkflow(flow, at_->session().now()); }));
    const std::string uuid = made("First");
    open(uuid);
    press(Qt::Key_E);
    const std::pair<const char*, const char*> lines[] = {{"field:due", "2026-12-24"},
                                                         {"field:labels", "Fire, Level 2"},
                                                         {"field:cause", "late change"},
                                                         {"field:bay", "C / 4"}};
    for (const auto& [field, words] : lines) {
        at_->type(field, words);
        QTest::keyClick(&at_->field<QLineEdit>(field), Qt::Key_Return);
        at_->waitIdle();
    }
    auto& trade = at_->field<QComboBox>("field:custom:Trade");
    trade.setFocus();
    trade.lineEdit()->setText("Pipe");
    QTest::keyClick(&trade, Qt::Key_Return);
    at_->waitIdle();
    const issues::Issue i = issue(uuid);
    QCOMPARE(i.dueAt, std::string("2026-12-24T00:00:00Z"));
    QVERIFY((i.labels == std::vector<std::string>{"Fire", "Level 2"}));
    QVERIFY(i.cause == "late change" && i.location.bay == "C / 4" && i.custom.at("Trade") == "Pipe");
    // What is no day is told, and nothing is changed.
    at_->type("field:due", "soon");
    QTest::keyClick(&at_->field<QLineEdit>("field:due"), Qt::Key_Return);
    at_->waitIdle();
    QVERIFY2(at_->message().contains("2026-11-28"), qPrintable(at_->message()));
    QCOMPARE(issue(uuid).dueAt, std::string("2026-12-24T00:00:00Z"));
    press(Qt::Key_Escape);
    QVERIFY(at_->clickButton("editDone"));
    QVERIFY(at_->details().contains("late change"));
    QVERIFY(at_->clickButton("issueHistory"));
    QVERIFY2(at_->details().contains("Cause: nothing → late change"), qPrintable(at_->details()));
    // Each is a step of its own.
    at_->session().undo();
    at_->waitIdle();
    QVERIFY(issue(uuid).custom.empty() && issue(uuid).cause == "late change");
}

void TestIssueReview::severalAreChangedAtOnce()
{
    const std::string a = made("A"), b = made("B"), c = made("C", "Closed");
    QVERIFY(at_->clickButton("chip-all"));
    auto& view = at_->list("Issues").view();
    at_->clickRow("Issues", 0);
    QTest::mouseClick(view.viewport(), Qt::LeftButton, Qt::ControlModifier,
                      view.visualRect(view.model()->index(1, 0)).center());
    at_->waitIdle();
    QVERIFY2(at_->details().contains("2 issues"), qPrintable(at_->details()));
    at_->type("field:labels", "Fire");
    QTest::keyClick(&at_->field<QLineEdit>("field:labels"), Qt::Key_Return);
    at_->waitIdle();
    QVERIFY(issue(a).labels == std::vector<std::string>{"Fire"} &&
            issue(b).labels == std::vector<std::string>{"Fire"} && issue(c).labels.empty());
    QVERIFY(at_->clickButton("moveAll:Done by assignee"));
    QVERIFY(issue(a).status == "Done by assignee" && issue(b).status == "Done by assignee");
    at_->session().undo();
    at_->waitIdle();
    QVERIFY(issue(a).status == "Open" && issue(b).status == "Open"); // one step
}

void TestIssueReview::viewpointsComeBackAndGo()
{
    const std::string uuid = made("First");
    // A second view: only the slab, cut at 1 m, with a line.
    QVERIFY(at_->change([&](project::Project& p) -> Result<void> {
        const auto done = p.issues().change(
            {&uuid, 1}, "x",
            [&](issues::Issue& i) {
                issues::Viewpoint v;
                v.uuid = newUuid();
                const view::ElementKey slab = box("Slab 1");
                v.isDefaultVisible = false;
                v.exceptions = {at_->scene().members()[slab.member].refOf(slab.element)};
                v.planes = {{{0, 0, 1}, {0, 0, 1}}};
                v.lines = {{{0, 0, 0}, {12, 8, 0}}};
                v.camera = issues::Camera{{6, 4, 20}, {0, 0, -1}, normalised(Vector3{1, 1, 0}), true, 40, 10, 0};
                i.viewpoints.push_back(v);
            },
            at_->session().now());
        return done ? Result<void>() : Result<void>(tl::unexpected<Error>(done.error()));
    }));
    at_->waitIdle();
    // The person has something hidden and cut open.
    at_->list("Issues").view().clearSelection();
    select("Wall 2");
    press(Qt::Key_H);
    view::Cuts own;
    QVERIFY(own.add({{0, 4, 0}, {0, 1, 0}}).has_value());
    at_->scene().setCuts(own);
    open(uuid);
    QVERIFY(at_->scene().display().selected == std::set{box("Wall 1")});
    QVERIFY(at_->scene().display().hidden.empty() && at_->scene().cuts().isEmpty());
    const Vector3 along = normalised(Vector3{1, 1, -0.4});
    QVERIFY(length(at_->scene().camera().eye - Vector3{-10, -10, 6}) < 1e-9 &&
            length(at_->scene().camera().forward() - along) < 1e-9);
    QVERIFY2(at_->details().contains("Viewpoint 1 of 2"), qPrintable(at_->details()));
    press(Qt::Key_N);
    at_->scene().finishMotion();
    QVERIFY(at_->details().contains("Viewpoint 2 of 2") && at_->details().contains("only 1 element shown"));
    QVERIFY(at_->scene().display().only == std::set{box("Slab 1")});
    QVERIFY(at_->scene().cuts().planes.size() + (at_->scene().cuts().slice ? 1 : 0) == 1 &&
            !at_->scene().cuts().shows({0, 0, 2}));
    QVERIFY(length(at_->scene().camera().up() - normalised(Vector3{1, 1, 0})) < 1e-9); // straight down, turned
    press(Qt::Key_N);
    QVERIFY(at_->details().contains("Viewpoint 1 of 2")); // round
    // Elsewhere everything is as it was.
    at_->clickStage("Deliveries");
    QVERIFY(at_->scene().display().hidden == std::set{box("Wall 2")} && !at_->scene().display().only);
    QCOMPARE(at_->scene().cuts().planes.size(), std::size_t{1});
}

void TestIssueReview::anotherProgramsViewIsSeen()
{
    issues::Issue theirs;
    theirs.uuid = newUuid();
    theirs.title = "From elsewhere";
    theirs.createdAt = "2026-11-01T00:00:00Z";
    theirs.createdBy = "T. Okafor";
    issues::Viewpoint v;
    v.uuid = newUuid();
    const view::ElementKey wall = box("Wall 2");
    v.selection = {{0, "", at_->scene().members()[wall.member].refOf(wall.element).guid, 0},
                   {0, "", "0000000000000000000001", 0}};
    v.colouring = {{"FFFF0000", {v.selection[0]}}};
    v.camera = issues::Camera{{6, -4, 2}, {0, 1, 0}, {0, 0, 1}, false, 50, 8, 1.5};
    theirs.viewpoints = {v};
    const QString file = at_->folder() + "/theirs.bcf";
    QVERIFY(
        writeFileWhole(file.toStdString(), must(bcf::write({&theirs, 1}, bcf::Version::V30, "p", "P"))).has_value());
    const auto isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("importBcf"));
    at_->waitIdle();
    QVERIFY(*isAsked);
    QVERIFY(at_->clickButton("takeOver"));
    open(theirs.uuid);
    QVERIFY(at_->scene().display().selected == std::set{wall});
    QCOMPARE(at_->scene().display().painted.at(wall).red, 1.0f);
    QVERIFY(at_->scene().camera().isParallel && length(at_->scene().camera().eye - Vector3{6, -4, 2}) < 1e-9);
    QVERIFY2(at_->details().contains("Not in the federation: 0000000000000000000001"), qPrintable(at_->details()));
    QCOMPARE(must(at_->project().issues().kept(theirs.uuid))->madeFrom, std::string("file"));
}

void TestIssueReview::commentsAreEditedAndKeptBefore()
{
    const std::string uuid = made("First");
    open(uuid);
    auto* field = &at_->field<QPlainTextEdit>("comment");
    field->setFocus();
    QTest::keyClicks(field, "Lower it by 100");
    QVERIFY(at_->clickButton("sendComment"));
    const std::string comment = issue(uuid).comments.at(0).uuid;
    QVERIFY(at_->clickButton("editComment:" + QString::fromStdString(comment)));
    field = &at_->field<QPlainTextEdit>("comment");
    QCOMPARE(field->toPlainText(), QString("Lower it by 100"));
    field->setFocus();
    field->moveCursor(QTextCursor::End);
    QTest::keyClicks(field, "0");
    QVERIFY(at_->clickButton("sendComment"));
    QCOMPARE(issue(uuid).comments.at(0).text, std::string("Lower it by 1000"));
    QCOMPARE(issue(uuid).comments.size(), std::size_t{1});
    QVERIFY2(at_->details().contains("edited") && at_->details().contains(": Lower it by 100"),
             qPrintable(at_->details()));
    QVERIFY(!at_->details().contains("Lower it by 100\n") || at_->details().contains("before, "));
    QVERIFY(at_->clickButton("removeComment:" + QString::fromStdString(comment)));
    QVERIFY(issue(uuid).comments.empty());
    at_->session().undo();
    at_->waitIdle();
    QCOMPARE(issue(uuid).comments.size(), std::size_t{1});
}

void TestIssueReview::theListIsNarrowedAndKept()
{
    (void)made("Duct is low", "Open", "2020-01-01T00:00:00Z");
    (void)made("Pipe is low", "In progress");
    const std::string third = made("Wall is thin");
    QVERIFY(at_->change([&](project::Project& p) {
        return p.issues().addComment(third, "Because of the ÖFFNUNG", at_->session().now());
    }));
    const auto rows = [&] { return at_->rows("Issues").rowCount(); };
    at_->field<QLineEdit>("searchIssues").setText(QString::fromUtf8("öffnung"));
    at_->waitIdle();
    QCOMPARE(rows(), 1);
    QVERIFY2(at_->words("Issues").contains("1 of 3 answer"), qPrintable(at_->words("Issues")));
    at_->field<QLineEdit>("searchIssues").clear();
    at_->type("narrowIssues", "status is Open and due < today");
    at_->waitIdle();
    QCOMPARE(rows(), 1);
    QVERIFY(at_->rows("Issues").row(0).title == "Duct is low");
    // While a line is not finished, the last that was narrows on.
    at_->type("narrowIssues", "status is Open and due <");
    at_->waitIdle();
    QVERIFY2(at_->words("Issues").contains("value is expected"), qPrintable(at_->words("Issues")));
    at_->type("narrowIssues", "title has low");
    at_->waitIdle();
    QCOMPARE(rows(), 2);
    // Grouped, by the menu; then kept under a name and called up again.
    const auto menu = [&](const char* submenu, const QString& words) {
        QVERIFY(at_->clickButton("issuesOrder"));
        auto* top = at_->window().findChild<QMenu*>("issuesOrderMenu");
        QVERIFY(top != nullptr);
        for (QAction* action : (submenu != nullptr ? top->findChild<QMenu*>(submenu) : top)->actions())
            if (action->text() == words)
                action->trigger();
        top->close();
        at_->settle();
        at_->waitIdle();
    };
    menu("issuesGroupMenu", "Status");
    QCOMPARE(rows(), 4); // two headers
    QVERIFY(at_->rows("Issues").row(0).title == "Open" && at_->rows("Issues").row(0).right == "1");
    QTimer answering; // as soon as it is asked
    connect(&answering, &QTimer::timeout, this, [&] {
        auto* dialog = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
        if (dialog == nullptr)
            return;
        answering.stop();
        dialog->setTextValue("What is low");
        dialog->accept();
    });
    answering.start(10);
    menu(nullptr, "Keep this filter…");
    QCOMPARE(must(at_->project().issues().filters()).size(), std::size_t{1});
    at_->field<QLineEdit>("narrowIssues").clear();
    menu("issuesGroupMenu", "Not grouped");
    QCOMPARE(rows(), 3);
    menu(nullptr, "What is low");
    QCOMPARE(rows(), 4);
    QCOMPARE(at_->field<QLineEdit>("narrowIssues").text(), QString("title has low"));
}

void TestIssueReview::theBoardMovesCards()
{
    const std::string a = made("A"), b = made("B", "Done by assignee"), c = made("C", "Closed");
    QVERIFY(at_->clickButton("chip-all"));
    press(Qt::Key_V);
    auto* board = at_->window().findChild<app::BoardView*>("board");
    QVERIFY(board->isVisible());
    const auto drag = [&](const std::string& uuid, const QString& status) {
        const QPoint from = board->cardRect(QString::fromStdString(uuid)).center(),
                     to = QPoint(board->columnRect(status).center().x(), 120);
        QTest::mousePress(board->viewport(), Qt::LeftButton, {}, from);
        for (int i = 1; i <= 4; ++i) {
            QMouseEvent move(QEvent::MouseMove, from + (to - from) * i / 4,
                             board->viewport()->mapToGlobal(from + (to - from) * i / 4), Qt::NoButton, Qt::LeftButton,
                             {});
            QApplication::sendEvent(board->viewport(), &move);
        }
        QTest::mouseRelease(board->viewport(), Qt::LeftButton, {}, to);
        at_->waitIdle();
    };
    drag(a, "In progress");
    QCOMPARE(issue(a).status, std::string("In progress"));
    QVERIFY(board->columnRect("In progress").contains(board->cardRect(QString::fromStdString(a)).center()));
    // There is no way from done to open; it is said, and the card stays.
    drag(b, "Open");
    QCOMPARE(issue(b).status, std::string("Done by assignee"));
    QVERIFY2(at_->message().contains("no way from Done by assignee to Open"), qPrintable(at_->message()));
    // By keys: the next status that it may go to.
    board->choose(QString::fromStdString(b));
    board->setFocus();
    QTest::keyClick(board, Qt::Key_Right, Qt::ShiftModifier);
    at_->waitIdle();
    QCOMPARE(issue(b).status, std::string("Back again"));
    QTest::keyClick(board, Qt::Key_Right);
    QCOMPARE(board->chosen(), QString::fromStdString(c));
    QTest::keyClick(board, Qt::Key_Return);
    at_->waitIdle();
    QVERIFY(at_->list("Issues").isVisible() && at_->list("Issues").chosen() == QString::fromStdString(c));
    at_->session().undo();
    at_->waitIdle();
    QCOMPARE(issue(b).status, std::string("Done by assignee"));
}

void TestIssueReview::theCalendarListsADay()
{
    const QDate day = QDate::currentDate().addDays(3);
    const std::string due = day.toString(Qt::ISODate).toStdString() + "T00:00:00Z";
    (void)made("A", "Open", due);
    (void)made("B", "Open", due);
    (void)made("C", "Open", "2020-01-01T00:00:00Z");
    press(Qt::Key_D);
    auto* calendar = at_->window().findChild<app::CalendarView*>("dueCalendar");
    QVERIFY(calendar->isVisible());
    QCOMPARE(calendar->dueOn(day), 2);
    calendar->setFocus();
    for (int i = 0; i < 3; ++i)
        QTest::keyClick(calendar, Qt::Key_Right);
    QCOMPARE(calendar->day(), day);
    QTest::keyClick(calendar, Qt::Key_Return);
    at_->waitIdle();
    QVERIFY(at_->list("Issues").isVisible());
    QCOMPARE(at_->rows("Issues").rowCount(), 2);
}

void TestIssueReview::signsStandInTheScene()
{
    const std::string a = made("A", "Open", "", 0), b = made("B", "Closed", "", 1);
    (void)made("C", "Open", "", 1);
    QVERIFY(at_->clickButton("chip-all"));
    at_->waitIdle();
    at_->list("Issues").view().clearSelection();
    at_->list("Issues").view().setCurrentIndex({});
    at_->clickStage("Deliveries");
    at_->clickStage("Issues");
    at_->waitIdle();
    at_->scene().fitAll();
    at_->scene().finishMotion();
    at_->settle();
    at_->waitIdle();
    auto* signs = at_->window().findChild<app::IssueSigns*>();
    QCOMPARE(signs->placed(), std::size_t{3});
    QCOMPARE(signs->clusters().size(), std::size_t{2}); // two lie at one wall
    // A click on the one by itself chooses it.
    for (const view::Cluster& c : signs->clusters())
        if (c.of.size() == 1) {
            const view::ScreenPlace at = view::project(at_->scene().camera(), at_->scene().viewport(), c.place);
            QTest::mouseClick(&at_->scene(), Qt::LeftButton, {}, QPointF(at.x, at.y).toPoint());
        }
    at_->waitIdle();
    QCOMPARE(at_->list("Issues").chosen(), QString::fromStdString(a));
    QVERIFY(at_->details().contains("SVA-001"));
}

void TestIssueReview::sendAndChange(const QString& file, const std::function<void(std::vector<issues::Issue>&)>& change)
{
    auto isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("exportBcf"));
    at_->waitIdle();
    QVERIFY(*isAsked);
    auto document = must(bcf::readFile(file.toStdString()));
    change(document.issues);
    QVERIFY(
        writeFileWhole(file.toStdString(), must(bcf::write(document.issues, document.version, "p", "P"))).has_value());
}

void TestIssueReview::conflictsAreDecidedOneByOne()
{
    const std::string uuid = made("First");
    const QString file = at_->folder() + "/list.bcf";
    sendAndChange(file, [](std::vector<issues::Issue>& all) {
        all[0].status = "Done by assignee";
        all[0].priority = "Low";
        all[0].title = "Their title";
    });
    QVERIFY(at_->change([&](project::Project& p) -> Result<void> {
        const auto done = p.issues().change(
            {&uuid, 1}, "x",
            [](issues::Issue& i) {
                i.status = "In progress";
                i.priority = "High";
                i.stage = "On site";
            },
            at_->session().now());
        return done ? Result<void>() : Result<void>(tl::unexpected<Error>(done.error()));
    }));
    const auto isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("importBcf"));
    at_->waitIdle();
    QVERIFY(*isAsked);
    auto* take = at_->window().findChild<QAbstractButton*>("takeOver");
    QVERIFY2(take->text() == "2 to decide" && !take->isEnabled(), qPrintable(take->text()));
    const QString words = at_->details();
    for (const char* both : {"Status: both changed it", "Sent", "Open", "In progress", "Done by assignee",
                             "Priority: both changed it", "Title: they changed it", "Their title"})
        QVERIFY2(words.contains(both), qPrintable(words));
    QCOMPARE(issue(uuid).title, std::string("First")); // nothing is taken over yet
    // The status is theirs, the priority ours.
    const auto decide = [&](const char* heading, bool isTheirs) {
        for (int i = 0; i < 8; ++i) {
            auto* button = at_->window().findChild<QAbstractButton*>(QString(isTheirs ? "theirs%1" : "ours%1").arg(i));
            if (button == nullptr)
                continue;
            // The heading that stands above it.
            QString above;
            for (const QLabel* label : at_->window().findChild<app::Details*>("details")->findChildren<QLabel*>())
                if (label->text().contains(": both changed it") &&
                    label->mapToGlobal(QPoint()).y() < button->mapToGlobal(QPoint()).y())
                    above = label->text();
            if (above.startsWith(heading) && button->isEnabled() && at_->clickButton(button->objectName()))
                return true;
        }
        return false;
    };
    QVERIFY(decide("Status", true));
    QCOMPARE(take->text(), QString("1 to decide"));
    QVERIFY(decide("Priority", false));
    QCOMPARE(take->text(), QString("Take over"));
    QVERIFY(at_->clickButton("takeOver"));
    const issues::Issue now = issue(uuid);
    QVERIFY(now.status == "Done by assignee" && now.priority == "High" && now.title == "Their title" &&
            now.stage == "On site");
    QVERIFY(at_->list("Issues").isVisible());
    at_->session().undo();
    at_->waitIdle();
    QVERIFY(issue(uuid).status == "In progress" && issue(uuid).title == "First"); // one step
}

void TestIssueReview::leavingIncomingTakesNothing()
{
    const std::string uuid = made("First");
    const QString file = at_->folder() + "/list.bcf";
    sendAndChange(file, [](std::vector<issues::Issue>& all) { all[0].title = "Their title"; });
    auto isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("importBcf"));
    at_->waitIdle();
    // One topic left out brings nothing.
    QVERIFY(at_->clickButton("leaveTopic"));
    QVERIFY(at_->clickButton("takeOver"));
    QCOMPARE(issue(uuid).title, std::string("First"));
    isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("importBcf"));
    at_->waitIdle();
    QVERIFY(at_->clickButton("leaveIncoming"));
    QVERIFY2(at_->message().contains("Nothing was taken over"), qPrintable(at_->message()));
    QCOMPARE(issue(uuid).title, std::string("First"));
    QVERIFY(at_->list("Issues").isVisible());
}

void TestIssueReview::statusesThatAreNotAllowedAreNoButtons()
{
    issues::Workflow flow = issues::Workflow::usual();
    for (issues::Move& m : flow.moves)
        if (m.to == "Closed")
            m.who = {"Somebody else"};
    QVERIFY(at_->change([&](project::Project& p) { return p.issues().setWorkflow(flow, at_->session().now()); }));
    const std::string uuid = made("First");
    open(uuid);
    QVERIFY(at_->window().findChild<QAbstractButton*>("inProgress") != nullptr);
    auto* close = at_->window().findChild<QAbstractButton*>("close");
    QVERIFY(close == nullptr || !close->isVisible());
    press(Qt::Key_X);
    QCOMPARE(issue(uuid).status, std::string("Open"));
    QVERIFY2(at_->message().contains("Only Somebody else may"), qPrintable(at_->message()));
}

void TestIssueReview::whatIsAgreedGoesToAFileAndBack()
{
    const auto choose = [&](const QString& words) {
        QVERIFY(at_->clickButton("issuesOrder"));
        for (QAction* action : at_->window().findChild<QMenu*>("issuesAgreedMenu")->actions())
            if (action->text() == words)
                action->trigger();
        at_->window().findChild<QMenu*>("issuesOrderMenu")->close();
        at_->settle();
        at_->waitIdle();
    };
    const QString file = at_->folder() + "/flow.json";
    auto isAsked = at_->answerFileDialog({file});
    choose("Save the workflow…");
    QVERIFY(*isAsked);
    std::string text = must(readFileWhole(file.toStdString(), 1 << 20));
    QVERIFY(issues::workflowFromJson(text) == issues::Workflow::usual());
    // A status of the project's own.
    issues::Workflow flow = issues::Workflow::usual();
    flow.statuses.insert(flow.statuses.begin() + 1, {"With the client", issues::StatusShape::Half, false});
    flow.moves.push_back({"Open", "With the client"});
    QVERIFY(writeFileWhole(file.toStdString(), issues::toJson(flow)).has_value());
    isAsked = at_->answerFileDialog({file});
    choose("Load a workflow…");
    QVERIFY(*isAsked);
    QVERIFY2(at_->message().contains("6 statuses"), qPrintable(at_->message()));
    const std::string uuid = made("First");
    open(uuid);
    QVERIFY(at_->window().findChild<QAbstractButton*>("inProgress") != nullptr);
    choose("Viewpoints in the project's coordinates");
    QVERIFY(must(at_->project().issues().workflow()).coordinates == issues::Coordinates::Project);
    // A broken one changes nothing, and is told with its file.
    QVERIFY(writeFileWhole(file.toStdString(), "{\"statuses\": []}").has_value());
    isAsked = at_->answerFileDialog({file});
    choose("Load a workflow…");
    QVERIFY2(at_->message().contains("flow.json"), qPrintable(at_->message()));
    QCOMPARE(must(at_->project().issues().workflow()).statuses.size(), std::size_t{6});
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestIssueReview test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_issue_review.moc"
