#include "app/issue_fixture.h"

#include "core/base/file.h"
#include "core/base/guid.h"
#include "core/bcf/bcf.h"
#include "core/bcf/file.h"
#include "core/bcf/writer.h"
#include "core/project/issue_making.h"
#include "core/view/viewpoint_look.h"
#include "issues/board_page.h"
#include "issues/calendar_page.h"
#include "issues/issue_signs.h"
#include "issues/issues_stage.h"

#include <QBuffer>
#include <QComboBox>
#include <QInputDialog>
#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QTimer>

#include <algorithm>

using namespace wendrix;
using test::must;

/// Working through issues in the window: their fields, viewpoints, the board, the days, and signs.
class TestIssueReview : public QObject {
    Q_OBJECT
private slots:
    void init() { at_ = std::make_unique<test::IssueProject>(); }
    void cleanup() { at_.reset(); }
    void whatIsBeingTypedStays();
    void fieldsAreKeptAsTheyAreLeft();
    void severalAreChangedAtOnce();
    void viewpointsComeBackAndGo();
    void anotherProgramsViewIsSeen();
    void picturesStandInTheScene();
    void commentsAreEditedAndKeptBefore();
    void theListIsNarrowedAndKept();
    void theBoardMovesCards();
    void theCalendarListsADay();
    void signsStandInTheScene();
    void statusesThatAreNotAllowedAreNoButtons();

private:
    std::unique_ptr<test::IssueProject> at_;
};

void TestIssueReview::whatIsBeingTypedStays()
{
    const std::string one = at_->made("First"), other = at_->made("Second");
    at_->open(one);
    at_->pressAndWait(Qt::Key_E);
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
    at_->open(other);
    at_->open(one);
    QCOMPARE(at_->issue(one).description, std::string("Half a sentence and the rest")); // leaving the field kept it
    QCOMPARE(at_->issue(one).priority, std::string("High"));
}

void TestIssueReview::fieldsAreKeptAsTheyAreLeft()
{
    issues::Workflow flow = issues::Workflow::usual();
    flow.fields = {{"Trade", {"Duct", "Pipe"}, true}};
    QVERIFY(at_->change([&](project::Project& p) { return p.issues().setWorkflow(flow, at_->session().now()); }));
    const std::string uuid = at_->made("First");
    at_->open(uuid);
    at_->pressAndWait(Qt::Key_E);
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
    const issues::Issue i = at_->issue(uuid);
    QCOMPARE(i.dueAt, std::string("2026-12-24T00:00:00Z"));
    QVERIFY((i.labels == std::vector<std::string>{"Fire", "Level 2"}));
    QVERIFY(i.cause == "late change" && i.location.bay == "C / 4" && i.custom.at("Trade") == "Pipe");
    // What is no day is told, and nothing is changed.
    at_->type("field:due", "soon");
    QTest::keyClick(&at_->field<QLineEdit>("field:due"), Qt::Key_Return);
    at_->waitIdle();
    QVERIFY2(at_->message().contains("2026-11-28"), qPrintable(at_->message()));
    QCOMPARE(at_->issue(uuid).dueAt, std::string("2026-12-24T00:00:00Z"));
    at_->pressAndWait(Qt::Key_Escape);
    QVERIFY(at_->clickButton("editDone"));
    QVERIFY(at_->details().contains("late change"));
    QVERIFY(at_->clickButton("issueHistory"));
    QVERIFY2(at_->details().contains("Cause: nothing → late change"), qPrintable(at_->details()));
    // Each is a step of its own.
    at_->session().undo();
    at_->waitIdle();
    QVERIFY(at_->issue(uuid).custom.empty() && at_->issue(uuid).cause == "late change");
}

void TestIssueReview::severalAreChangedAtOnce()
{
    const std::string a = at_->made("A"), b = at_->made("B"), c = at_->made("C", "Closed");
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
    QVERIFY(at_->issue(a).labels == std::vector<std::string>{"Fire"} &&
            at_->issue(b).labels == std::vector<std::string>{"Fire"} && at_->issue(c).labels.empty());
    QVERIFY(at_->clickButton("moveAll:Done by assignee"));
    QVERIFY(at_->issue(a).status == "Done by assignee" && at_->issue(b).status == "Done by assignee");
    at_->session().undo();
    at_->waitIdle();
    QVERIFY(at_->issue(a).status == "Open" && at_->issue(b).status == "Open"); // one step
}

void TestIssueReview::viewpointsComeBackAndGo()
{
    const std::string uuid = at_->made("First");
    // A second view: only the slab, cut at 1 m, with a line.
    QVERIFY(at_->change([&](project::Project& p) -> Result<void> {
        const auto done = p.issues().change(
            {&uuid, 1}, "x",
            [&](issues::Issue& i) {
                issues::Viewpoint v;
                v.uuid = newUuid();
                const view::ElementKey slab = at_->box("Slab 1");
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
    at_->select("Wall 2");
    at_->pressAndWait(Qt::Key_H);
    view::Cuts own;
    QVERIFY(own.add({{0, 4, 0}, {0, 1, 0}}).has_value());
    at_->scene().setCuts(own);
    at_->open(uuid);
    QVERIFY(at_->scene().display().selected == std::set{at_->box("Wall 1")});
    QVERIFY(at_->scene().display().hidden.empty() && at_->scene().cuts().isEmpty());
    const Vector3 along = normalised(Vector3{1, 1, -0.4});
    QVERIFY(length(at_->scene().camera().eye - Vector3{-10, -10, 6}) < 1e-9 &&
            length(at_->scene().camera().forward() - along) < 1e-9);
    QVERIFY2(at_->details().contains("Viewpoint 1 of 2"), qPrintable(at_->details()));
    at_->pressAndWait(Qt::Key_N);
    at_->scene().finishMotion();
    QVERIFY(at_->details().contains("Viewpoint 2 of 2") && at_->details().contains("only 1 element shown"));
    QVERIFY(at_->scene().display().only == std::set{at_->box("Slab 1")});
    QVERIFY(at_->scene().cuts().planes.size() + (at_->scene().cuts().slice ? 1 : 0) == 1 &&
            !at_->scene().cuts().shows({0, 0, 2}));
    QVERIFY(length(at_->scene().camera().up() - normalised(Vector3{1, 1, 0})) < 1e-9); // straight down, turned
    at_->pressAndWait(Qt::Key_N);
    QVERIFY(at_->details().contains("Viewpoint 1 of 2")); // round
    // Elsewhere everything is as it was.
    at_->clickStage("Deliveries");
    QVERIFY(at_->scene().display().hidden == std::set{at_->box("Wall 2")} && !at_->scene().display().only);
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
    const view::ElementKey wall = at_->box("Wall 2");
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
    at_->open(theirs.uuid);
    QVERIFY(at_->scene().display().selected == std::set{wall});
    QCOMPARE(at_->scene().display().painted.at(wall).red, 1.0f);
    QVERIFY(at_->scene().camera().isParallel && length(at_->scene().camera().eye - Vector3{6, -4, 2}) < 1e-9);
    QVERIFY2(at_->details().contains("Not in the federation: 0000000000000000000001"), qPrintable(at_->details()));
    QCOMPARE(must(at_->project().issues().kept(theirs.uuid))->madeFrom, std::string("file"));
}

void TestIssueReview::picturesStandInTheScene()
{
    // Four colours, so that one sees which way round it stands: 2 m high and 4 m wide, 3 m before the eye.
    QImage plan(400, 200, QImage::Format_RGB32);
    for (int y = 0; y < 200; ++y)
        for (int x = 0; x < 400; ++x)
            plan.setPixelColor(x, y, y < 100 ? (x < 200 ? Qt::red : Qt::green) : (x < 200 ? Qt::blue : Qt::yellow));
    QByteArray png;
    QBuffer buffer(&png);
    plan.save(&buffer, "PNG");
    bcf::Topic topic;
    topic.issue.uuid = newUuid();
    topic.issue.title = "A plan on the wall";
    topic.issue.createdAt = "2026-11-01T00:00:00Z";
    topic.issue.createdBy = "T. Okafor";
    issues::Viewpoint v;
    v.uuid = newUuid();
    v.camera = issues::Camera{{6, -10, 2}, {0, 1, 0}, {0, 0, 1}, false, 50, 8, 1.5};
    v.bitmaps = {{"png", "plan.png", {6, -7, 2}, {0, -1, 0}, {0, 0, 1}, 2},
                 {"png", "lost.png", {6, -7, 5}, {0, -1, 0}, {0, 0, 1}, 2}};
    topic.issue.viewpoints = {v};
    topic.files["plan.png"] = bcf::Blob::of(png.toStdString());
    bcf::Writer writer(bcf::Version::V30, [](const std::string&, const std::string&) {});
    writer.setProject("p", "P");
    writer.add(topic, {});
    const QString file = at_->folder() + "/plan.bcf";
    QVERIFY(writer.write(file.toStdString()).has_value());
    const auto isAsked = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("importBcf"));
    at_->waitIdle();
    QVERIFY(*isAsked);
    QVERIFY(at_->clickButton("takeOver"));
    at_->open(topic.issue.uuid);
    QVERIFY2(at_->details().contains("1 picture standing in it, 1 missing or unreadable"), qPrintable(at_->details()));
    const view::Camera camera = at_->scene().camera();
    const auto colourAt = [&](double x, double z) {
        const view::ScreenPlace place = view::project(camera, at_->scene().viewport(), {x, -7, z});
        return at_->pixel(QPoint(static_cast<int>(place.x), static_cast<int>(place.y)));
    };
    const std::tuple<double, double, QColor> quarters[] = {
        {5, 2.5, Qt::red}, {7, 2.5, Qt::green}, {5, 1.5, Qt::blue}, {7, 1.5, Qt::yellow}};
    for (const auto& [x, z, colour] : quarters) {
        const QColor is = colourAt(x, z);
        QVERIFY2(std::abs(is.red() - colour.red()) + std::abs(is.green() - colour.green()) +
                         std::abs(is.blue() - colour.blue()) <
                     60,
                 qPrintable(QString("%1 %2: %3").arg(x).arg(z).arg(is.name())));
    }
    QVERIFY(colourAt(6, 3.3) != QColor(Qt::red)); // above it
    // It goes with its issue.
    const std::string other = at_->made("Other");
    at_->open(other);
    QVERIFY(at_->scene().document().pictures().empty());
}

void TestIssueReview::commentsAreEditedAndKeptBefore()
{
    const std::string uuid = at_->made("First");
    at_->open(uuid);
    auto* field = &at_->field<QPlainTextEdit>("comment");
    field->setFocus();
    QTest::keyClicks(field, "Lower it by 100");
    QVERIFY(at_->clickButton("sendComment"));
    const std::string comment = at_->issue(uuid).comments.at(0).uuid;
    QVERIFY(at_->clickButton("editComment:" + QString::fromStdString(comment)));
    field = &at_->field<QPlainTextEdit>("comment");
    QCOMPARE(field->toPlainText(), QString("Lower it by 100"));
    field->setFocus();
    field->moveCursor(QTextCursor::End);
    QTest::keyClicks(field, "0");
    QVERIFY(at_->clickButton("sendComment"));
    QCOMPARE(at_->issue(uuid).comments.at(0).text, std::string("Lower it by 1000"));
    QCOMPARE(at_->issue(uuid).comments.size(), std::size_t{1});
    QVERIFY2(at_->details().contains("edited") && at_->details().contains(": Lower it by 100"),
             qPrintable(at_->details()));
    QVERIFY(!at_->details().contains("Lower it by 100\n") || at_->details().contains("before, "));
    QVERIFY(at_->clickButton("removeComment:" + QString::fromStdString(comment)));
    QVERIFY(at_->issue(uuid).comments.empty());
    at_->session().undo();
    at_->waitIdle();
    QCOMPARE(at_->issue(uuid).comments.size(), std::size_t{1});
}

void TestIssueReview::theListIsNarrowedAndKept()
{
    (void)at_->made("Duct is low", "Open", "2020-01-01T00:00:00Z");
    (void)at_->made("Pipe is low", "In progress");
    const std::string third = at_->made("Wall is thin");
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
    const std::string a = at_->made("A"), b = at_->made("B", "Done by assignee"), c = at_->made("C", "Closed");
    QVERIFY(at_->clickButton("chip-all"));
    at_->pressAndWait(Qt::Key_V);
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
    QCOMPARE(at_->issue(a).status, std::string("In progress"));
    QVERIFY(board->columnRect("In progress").contains(board->cardRect(QString::fromStdString(a)).center()));
    // There is no way from done to open; it is said, and the card stays.
    drag(b, "Open");
    QCOMPARE(at_->issue(b).status, std::string("Done by assignee"));
    QVERIFY2(at_->message().contains("no way from Done by assignee to Open"), qPrintable(at_->message()));
    // By keys: the next status that it may go to.
    board->choose(QString::fromStdString(b));
    board->setFocus();
    QTest::keyClick(board, Qt::Key_Right, Qt::ShiftModifier);
    at_->waitIdle();
    QCOMPARE(at_->issue(b).status, std::string("Back again"));
    QTest::keyClick(board, Qt::Key_Right);
    QCOMPARE(board->chosen(), QString::fromStdString(c));
    QTest::keyClick(board, Qt::Key_Return);
    at_->waitIdle();
    QVERIFY(at_->list("Issues").isVisible() && at_->list("Issues").chosen() == QString::fromStdString(c));
    at_->session().undo();
    at_->waitIdle();
    QCOMPARE(at_->issue(b).status, std::string("Done by assignee"));
}

void TestIssueReview::theCalendarListsADay()
{
    const QDate day = QDate::currentDate().addDays(3);
    const std::string due = day.toString(Qt::ISODate).toStdString() + "T00:00:00Z";
    (void)at_->made("A", "Open", due);
    (void)at_->made("B", "Open", due);
    (void)at_->made("C", "Open", "2020-01-01T00:00:00Z");
    at_->pressAndWait(Qt::Key_D);
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
    const std::string a = at_->made("A", "Open", "", 0), b = at_->made("B", "Closed", "", 1);
    (void)at_->made("C", "Open", "", 1);
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

void TestIssueReview::statusesThatAreNotAllowedAreNoButtons()
{
    issues::Workflow flow = issues::Workflow::usual();
    for (issues::Move& m : flow.moves)
        if (m.to == "Closed")
            m.who = {"Somebody else"};
    QVERIFY(at_->change([&](project::Project& p) { return p.issues().setWorkflow(flow, at_->session().now()); }));
    const std::string uuid = at_->made("First");
    at_->open(uuid);
    QVERIFY(at_->window().findChild<QAbstractButton*>("inProgress") != nullptr);
    auto* close = at_->window().findChild<QAbstractButton*>("close");
    QVERIFY(close == nullptr || !close->isVisible());
    at_->pressAndWait(Qt::Key_X);
    QCOMPARE(at_->issue(uuid).status, std::string("Open"));
    QVERIFY2(at_->message().contains("Only Somebody else may"), qPrintable(at_->message()));
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestIssueReview test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_issue_review.moc"
