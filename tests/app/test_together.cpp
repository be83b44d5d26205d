#include "app/own_project.h"

#include "core/project/issue_making.h"
#include "core/project/setup.h"
#include "support/demo.h"

#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QToolButton>

#include <future>

using namespace wendrix;
using test::must;

/// Several things at once: two programs on one project, several jobs, what is written while something else happens.
class TestTogether : public QObject {
    Q_OBJECT
private slots:
    void init();
    void cleanup() { at_.reset(); }
    void twoProgramsOnOneProject();
    void aHalfWrittenCommentSurvives();
    void jobsRunSideBySide();
    void aStageThatIsNotInFrontDoesNothing();
    void whatTheDatabaseCanNotTellIsSaid();
    void aListThatCanNotBeReadSaysSo_data();
    void aListThatCanNotBeReadSaysSo();
    void questionsOnOtherTopicsAreAllAnswered();
    void theRailCountsWhatWaits();
    void aDisciplineIsRenamed();
    void anotherProjectIsOpened();
    void whatAJobFoundStaysWithItsProject();

private:
    std::unique_ptr<test::OwnProject> at_;
};

void TestTogether::init() { at_ = std::make_unique<test::OwnProject>(); }

void TestTogether::twoProgramsOnOneProject()
{
    at_->openDemo();
    app::Session other("Jon Alder");
    other.open(project::Project::open(at_->project().folder()).value());
    const auto settle = [&] {
        while (other.isAwaiting())
            QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
        at_->settle();
    };
    // What one does, the other sees by itself, in its list and in its figures.
    at_->clickStage("Coordinates");
    other.write([](project::Project& p) {
        project::StoredFit fit;
        fit.isAccepted = true;
        return app::Session::saying(p.coordinates().setFit("Structure", fit, {"Jon Alder", "2026-11-18T09:00:00Z"}));
    });
    settle();
    QTRY_VERIFY_WITH_TIMEOUT(at_->rows("Coordinates").row(0).subtitle.contains("to be tested as it stands, Jon Alder"),
                             10'000);
    // Both write at the same time: nothing is lost, nobody waits.
    issues::Issue issue;
    issue.title = "One";
    QVERIFY(at_->change([&](project::Project& p) -> Result<void> {
        const auto made = project::makeIssue(p, issue, {}, {"Ines Varga", "2026-11-18T09:00:00Z"});
        return made ? Result<void>() : tl::unexpected<Error>(made.error());
    }));
    const std::string uuid = must(at_->project().issues().all())[0].uuid;
    int done = 0;
    for (int i = 0; i < 30; ++i)
        for (app::Session* session : {&at_->session(), &other})
            session->write(
                [uuid, i, who = session->now()](project::Project& p) {
                    return app::Session::saying(p.issues().addComment(uuid, who.person + std::to_string(i), who));
                },
                [&done](bool isDone) { done += isDone ? 1 : 0; });
    settle();
    QCOMPARE(done, 60);
    QCOMPARE(must(at_->project().issues().find(uuid, false))->comments.size(), std::size_t{60});
    QCOMPARE(must(other.project().issues().find(uuid, false))->comments.size(), std::size_t{60});
    // Each takes back their own.
    other.undo();
    settle();
    const auto comments = must(at_->project().issues().find(uuid, false))->comments;
    QCOMPARE(comments.size(), std::size_t{59});
    QVERIFY(std::none_of(comments.begin(), comments.end(), [](const auto& c) { return c.text == "Jon Alder29"; }));
}

void TestTogether::aHalfWrittenCommentSurvives()
{
    at_->openDemo();
    issues::Issue issue;
    issue.title = "Lower the duct";
    QVERIFY(at_->change([&](project::Project& p) -> Result<void> {
        for (const char* title : {"Lower the duct", "Move the pipe"}) {
            issue.title = title;
            if (const auto made = project::makeIssue(p, issue, {}, at_->session().now()); !made)
                return tl::unexpected<Error>(made.error());
        }
        return {};
    }));
    at_->clickStage("Issues");
    at_->clickRow("Issues", 0);
    const auto field = [&] { return at_->window().findChild<QPlainTextEdit*>("comment"); };
    field()->setFocus();
    QTest::keyClicks(field(), "Could it go und");
    // Somebody else changes the very same issue meanwhile; a model is placed anew; one looks at another issue and comes
    // back.
    app::Session other("Jon Alder");
    other.open(project::Project::open(at_->project().folder()).value());
    other.write([uuid = must(at_->project().issues().all())[0].uuid](project::Project& p) {
        return app::Session::saying(p.issues().addComment(uuid, "Seen.", {"Jon Alder", "2026-11-18T09:00:00Z"}));
    });
    QTRY_VERIFY_WITH_TIMEOUT(at_->details().contains("Seen."), 10'000);
    QCOMPARE(field()->toPlainText(), QString("Could it go und"));
    QVERIFY(at_->change([&](project::Project& p) {
        project::StoredFit fit;
        fit.fit.translation = {1, 2, 3};
        return p.coordinates().setFit("Structure", fit, at_->session().now());
    }));
    QCOMPARE(field()->toPlainText(), QString("Could it go und"));
    at_->clickRow("Issues", 1);
    QVERIFY(field()->toPlainText().isEmpty());
    at_->clickStage("Clashes");
    at_->clickStage("Issues");
    at_->clickRow("Issues", 0);
    QCOMPARE(field()->toPlainText(), QString("Could it go und"));
    field()->setFocus();
    field()->moveCursor(QTextCursor::End);
    QTest::keyClicks(field(), "er the beam?");
    QVERIFY(at_->clickButton("sendComment"));
    QVERIFY(at_->details().contains("Could it go under the beam?"));
    QVERIFY(field()->toPlainText().isEmpty());
    QCOMPARE(must(at_->project().issues().all())[0].comments.size(), std::size_t{2});
}

void TestTogether::jobsRunSideBySide()
{
    at_->openDemo();
    // Two jobs that would never end by themselves, each cancelled by itself from the bar.
    const auto wait = [](bool* isEnded) {
        return [isEnded](Progress& progress) -> app::Jobs::Finish {
            while (!progress.isCancelled())
                progress.report("Waiting", 0.5);
            return [isEnded] { *isEnded = true; };
        };
    };
    bool isFirstEnded = false, isSecondEnded = false;
    QVERIFY(at_->session().run(app::Jobs::Lane::Receiving, "First", wait(&isFirstEnded)));
    QVERIFY(at_->session().run(app::Jobs::Lane::Tests, "Second", wait(&isSecondEnded)));
    QVERIFY(!at_->session().run(app::Jobs::Lane::Tests, "Third", wait(&isSecondEnded))); // one of a kind
    QVERIFY(at_->message().contains("still running"));
    QTRY_COMPARE(at_->session().jobs().states().size(), 2);
    // The project is written to meanwhile, and commands are not refused.
    QVERIFY(at_->change([&](project::Project& p) {
        return p.setup().setMemberGroup({"Services", {"Piping"}}, at_->session().now());
    }));
    QVERIFY(must(at_->project().setup().memberGroups()).size() == 1);
    QVERIFY(at_->clickButton("cancelWork"));
    auto* menu = at_->window().findChild<QMenu*>("cancelWhich");
    QVERIFY(menu != nullptr);
    QCOMPARE(menu->actions().size(), 2);
    menu->actions()[1]->trigger();
    QTRY_VERIFY(isSecondEnded);
    QVERIFY(!isFirstEnded);
    menu->close();
    QTRY_COMPARE(at_->session().jobs().states().size(), 1);
    QVERIFY(at_->clickButton("cancelWork")); // the only one left: at once
    QTRY_VERIFY(isFirstEnded);
    at_->waitIdle();
}

void TestTogether::aStageThatIsNotInFrontDoesNothing()
{
    at_->openDemo();
    at_->clickStage("Clashes");
    at_->clickStage("Deliveries");
    const QSignalSpy read(at_->list("Clashes").view().model(), &QAbstractItemModel::modelReset);
    const QSignalSpy models(&at_->session(), &app::Session::workspaceChanged);
    QVERIFY(at_->change([&](project::Project& p) {
        clash::TestSheet sheet;
        sheet.name = "Services";
        return p.clashes().keepSheet(sheet, "Test sheet: Services", at_->session().now());
    }));
    QVERIFY(at_->change([&](project::Project& p) { return p.undo(at_->session().now()); }));
    QCOMPARE(read.count(), 0);
    at_->clickStage("Clashes");
    QCOMPARE(read.count(), 1);   // when it comes to the front
    QCOMPARE(models.count(), 0); // no model, picker or index was touched
}

void TestTogether::whatTheDatabaseCanNotTellIsSaid()
{
    at_->openDemo();
    QVERIFY(at_->change([](project::Project& p) -> Result<void> {
        const auto done =
            p.store().read([](SQLite::Database& db) { return db.exec("ALTER TABLE testSheets RENAME TO elsewhere"); });
        return done ? Result<void>() : tl::unexpected<Error>(done.error());
    }));
    at_->session().runTests();
    QTRY_VERIFY(at_->message().contains("could not be read"));
    at_->waitIdle();
    at_->clickStage("Deliveries"); // the rest stays usable
    QVERIFY(at_->delivery("Structure P01").isUsed());
}

void TestTogether::aListThatCanNotBeReadSaysSo_data()
{
    QTest::addColumn<QString>("stage");
    QTest::addColumn<QString>("table");
    QTest::addColumn<QString>("words");
    QTest::newRow("clashes") << "Clashes"
                             << "present"
                             << "The clashes could not be read.";
    QTest::newRow("changes") << "Changes"
                             << "comparisons"
                             << "The changes could not be read.";
    QTest::newRow("issues") << "Issues"
                            << "issues"
                            << "The issues could not be read.";
}

void TestTogether::aListThatCanNotBeReadSaysSo()
{
    QFETCH(QString, stage);
    QFETCH(QString, table);
    QFETCH(QString, words);
    at_->openDemo();
    at_->clickStage(stage);
    at_->settle();
    QVERIFY(at_->change([&](project::Project& p) -> Result<void> {
        const auto done = p.store().read([&](SQLite::Database& db) {
            return db.exec("ALTER TABLE " + table.toStdString() + " RENAME TO elsewhere");
        });
        if (!done)
            return tl::unexpected<Error>(done.error());
        return p.setup().setMemberGroup({"Group", {"Piping"}}, {"Ines Varga", "2026-11-18T09:00:00Z"});
    }));
    at_->clickStage("Deliveries");
    emit at_->session().changed({1, ~0u, {}, 1, false}); // as when another program did something to all of it
    at_->clickStage(stage);
    QTRY_VERIFY2(at_->words(stage).contains(words), qPrintable(at_->words(stage)));
    QVERIFY(at_->message().contains("could not be read"));
    QVERIFY(at_->words(stage).contains("Nothing was changed")); // and why
}

void TestTogether::questionsOnOtherTopicsAreAllAnswered()
{
    at_->openDemo();
    QStringList answered;
    const auto ask = [&](const char* topic, int number) {
        at_->session().ask<int>(
            &at_->window(), topic, [number](const project::Project&) { return number; },
            [&answered, topic](int n) { answered += QString("%1 %2").arg(topic).arg(n); });
    };
    ask("counts", 1);
    ask("details", 2);
    ask("counts", 3); // makes the first void
    ask("picture", 4);
    at_->settle();
    answered.sort();
    QCOMPARE(answered, (QStringList{"counts 3", "details 2", "picture 4"}));
}

void TestTogether::theRailCountsWhatWaits()
{
    at_->openDemo();
    const auto waiting = [&](const char* stage) {
        const auto* button = at_->window().findChild<QAbstractButton*>(QString("stage-") + stage);
        const QString number = button->accessibleName().section(", ", 1).section(' ', 0, 0);
        return number.toInt();
    };
    const auto areRight = [&] {
        const project::Project& p = at_->project();
        const auto all = must(p.deliveries().all());
        return waiting("deliveries") ==
                   std::count_if(all.begin(), all.end(),
                                 [](const auto& d) { return d.state == project::DeliveryState::Waiting; }) &&
               waiting("issues") == static_cast<int>(must(p.issues().open())) &&
               waiting("changes") == static_cast<int>(must(p.changes().toReview())) &&
               waiting("clashes") == static_cast<int>(must(p.clashes().undecided()));
    };
    QTRY_VERIFY(areRight());
    // Whatever is in front, whatever its details ask at the same time, and however fast it goes.
    for (int i = 0; i < 6; ++i)
        QVERIFY(at_->change([&](project::Project& p) -> Result<void> {
            issues::Issue issue;
            issue.title = "Issue " + std::to_string(i);
            const auto made = project::makeIssue(p, issue, {}, {"Ines Varga", "2026-11-18T09:00:00Z"});
            return made ? Result<void>() : tl::unexpected<Error>(made.error());
        }));
    QTRY_VERIFY(areRight());
    QVERIFY(waiting("issues") >= 6);
    for (const char* stage : {"Issues", "Clashes", "Changes", "Issues", "Deliveries"}) {
        at_->clickStage(stage);
        at_->press(Qt::Key_A, Qt::ControlModifier);
        at_->session().write([](project::Project& p) {
            issues::Issue issue;
            issue.title = "One more";
            return app::Session::saying(project::makeIssue(p, issue, {}, {"Ines Varga", "2026-11-18T09:00:00Z"}));
        });
        at_->press(Qt::Key_J);
        at_->settle();
        QTRY_VERIFY(areRight());
    }
}

void TestTogether::aDisciplineIsRenamed()
{
    at_->openDemo();
    QMenu* menu = at_->window().findChild<QToolButton*>("projectName")->menu();
    menu->findChild<QAction*>("projectSetup")->trigger();
    auto& name = at_->field<QLineEdit>("setupName1");
    QCOMPARE(name.text(), QString("Structure"));
    name.setFocus();
    name.selectAll();
    QTest::keyClicks(&name, "Frame");
    QVERIFY(at_->clickButton("createProject"));
    at_->waitIdle();
    QTRY_VERIFY(at_->window().findChild<QAbstractButton*>("member-Frame") != nullptr);
    QVERIFY(at_->delivery("Frame P01").isUsed() && at_->session().workspace().find("Frame") != nullptr);
    QCOMPARE(must(at_->project().clashes().sheets())[0].sheet.tests[0].left, std::string("discipline is Frame"));
    at_->session().undo();
    at_->waitIdle();
    QVERIFY(at_->delivery("Structure P01").isUsed() && at_->session().workspace().find("Structure") != nullptr);
}

void TestTogether::anotherProjectIsOpened()
{
    at_->openDemo();
    for (const char* discipline : {"Structure", "Ventilation", "Piping"})
        QVERIFY(at_->change([&](project::Project& p) {
            project::StoredFit fit;
            fit.fit = test::trueFit(discipline);
            return p.coordinates().setFit(discipline, fit, at_->session().now());
        }));
    at_->clickStage("Clashes");
    at_->press(Qt::Key_R);
    at_->waitIdle();
    QVERIFY(at_->list("Clashes").view().model()->rowCount() > 0);
    // The lists of the one before are of nothing any more, and are looked at while the next is being read.
    at_->openEmpty();
    at_->list("Clashes").view().model()->data(at_->list("Clashes").view().model()->index(0, 0), Qt::DisplayRole);
    at_->clickStage("Clashes");
    QCOMPARE(at_->rows("Clashes").rowCount(), 0);
    QVERIFY(at_->scene().members().empty());
    QVERIFY(at_->window().findChild<QAbstractButton*>("member-Ventilation") == nullptr);
}

void TestTogether::whatAJobFoundStaysWithItsProject()
{
    at_->openDemo(1);
    const std::filesystem::path first = at_->project().folder();
    // A job that has found something just when another project is opened.
    std::promise<void> go;
    bool isFinished = false, isWritten = false;
    QVERIFY(at_->session().run(app::Jobs::Lane::Tests, "Looking",
                               [&, write = at_->session().writerForJob(), gate = go.get_future().share(),
                                who = at_->session().now()](Progress&) -> app::Jobs::Finish {
                                   gate.wait();
                                   isWritten = write([&](project::Project& p) {
                                                   return p.setup().setMemberGroup({"Found", {"Piping"}}, who);
                                               }).has_value();
                                   return [&] { isFinished = true; };
                               }));
    at_->session().open(must(project::createProject((at_->folder() + "/other").toStdString(), "Other",
                                                    project::Setup::usual(), at_->session().now())));
    go.set_value();
    at_->waitIdle();
    QVERIFY(isWritten && !isFinished); // it goes where it belongs, and nothing of it is put in place here
    QVERIFY(must(at_->project().setup().memberGroups()).empty());
    QCOMPARE(must(must(project::Project::open(first))->setup().memberGroups()).size(), std::size_t{1});
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestTogether test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_together.moc"
