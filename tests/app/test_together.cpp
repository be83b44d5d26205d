#include "app/window_fixture.h"

#include "core/base/file.h"
#include "core/project/issue_making.h"
#include "core/project/setup.h"
#include "support/demo.h"
#include "support/ifc_text.h"

#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QToolButton>

#include <filesystem>

using namespace wendrix;
using test::must;

/// Several things at once: two programs on one project, several jobs, what is written while something else happens; and a
/// project of one's own files, from nothing.
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
    void aProjectOfOnesOwnFiles();
    void nothingChangedIsSaid();
    void elementsOfOneGlobalIdStayApart();
    void aDisciplineIsRenamed();
    void anotherProjectIsOpened();

private:
    /// An empty project with three disciplines, opened in the window.
    void openEmpty();
    /// A file of boxes of 2 m with a beam's name each, their corners at these places along x.
    [[nodiscard]] std::filesystem::path boxes(const std::string& name, const std::vector<double>& places, const std::vector<std::string>& guids = {}) const;
    /// Received and taken in as a person would. @return whether it is in use then
    bool takeIn(const std::filesystem::path& file, const std::string& discipline, const std::string& revision);
    std::unique_ptr<test::WindowFixture> at_;
};

void TestTogether::init() { at_ = std::make_unique<test::WindowFixture>(); }

std::filesystem::path TestTogether::boxes(const std::string& name, const std::vector<double>& places, const std::vector<std::string>& guids) const
{
    std::string body = "#10=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,2.,2.);\n#11=IFCDIRECTION((0.,0.,1.));\n#12=IFCEXTRUDEDAREASOLID(#10,#8,#11,2.);\n"
                       "#13=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#12));\n#14=IFCPRODUCTDEFINITIONSHAPE($,$,(#13));\n";
    std::string list;
    for (std::size_t i = 0; i < places.size(); ++i) {
        const int n = 100 + static_cast<int>(i) * 10;
        const std::string id = std::to_string(n);
        std::string guid = "1000000000000000000" + id;
        guid = i < guids.size() ? guids[i] : guid.substr(0, 22);
        body += "#" + id + "=IFCCARTESIANPOINT((" + std::to_string(places[i]) + ",0.,0.));\n#" + std::to_string(n + 1) + "=IFCAXIS2PLACEMENT3D(#" + id + ",$,$);\n#" + std::to_string(n + 2) +
                "=IFCLOCALPLACEMENT($,#" + std::to_string(n + 1) + ");\n#" + std::to_string(n + 3) + "=IFCBEAM('" + guid + "',$,'" + name + " " + std::to_string(i + 1) + "',$,$,#" +
                std::to_string(n + 2) + ",#14,$,$);\n";
        list += (list.empty() ? "#" : ",#") + std::to_string(n + 3);
    }
    body += "#90=IFCRELCONTAINEDINSPATIALSTRUCTURE('0000000000000000000093',$,$,$,(" + list + "),#5);\n";
    const std::filesystem::path file = std::filesystem::path(at_->folder().toStdString()) / (name + ".ifc");
    (void)writeFileWhole(file, test::ifcFile("IFC4", body));
    return file;
}

void TestTogether::openEmpty()
{
    project::Setup setup;
    for (const char* name : {"Architecture", "Structure", "Piping"})
        setup.disciplines.push_back({name, "", project::usualColour(name), setup.disciplines.empty(), {}, {}, {}});
    at_->session().open(project::createProject((at_->folder() + "/own").toStdString(), "Seed vault annexe", setup, {"Ines Varga", "2026-11-16T08:00:00Z"}).value());
    at_->window().show();
    QVERIFY(QTest::qWaitForWindowExposed(&at_->window()));
    QApplication::setActiveWindow(&at_->window());
    at_->waitIdle();
}

bool TestTogether::takeIn(const std::filesystem::path& file, const std::string& discipline, const std::string& revision)
{
    project::NewDelivery d;
    d.discipline = discipline;
    d.revision = revision;
    d.time = "2026-11-1" + revision.substr(2) + "T09:00:00Z";
    d.models = {{file, {}, {}, 0}};
    at_->session().receive(d);
    at_->waitIdle();
    const project::DeliveryId id = at_->delivery(QString::fromStdString(discipline + " " + revision)).id;
    at_->clickStage("Deliveries");
    at_->clickCard(id);
    at_->press(Qt::Key_T);
    at_->waitIdle();
    return must(at_->project().deliveries().get(id)).isUsed();
}

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
    QTRY_VERIFY_WITH_TIMEOUT(at_->rows("Coordinates").row(0).subtitle.contains("to be tested as it stands, Jon Alder"), 10'000);
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
            session->write([uuid, i, who = session->now()](project::Project& p) { return app::Session::saying(p.issues().addComment(uuid, who.person + std::to_string(i), who)); },
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
    // Somebody else changes the very same issue meanwhile; a model is placed anew; one looks at another issue and comes back.
    app::Session other("Jon Alder");
    other.open(project::Project::open(at_->project().folder()).value());
    other.write([uuid = must(at_->project().issues().all())[0].uuid](project::Project& p) { return app::Session::saying(p.issues().addComment(uuid, "Seen.", {"Jon Alder", "2026-11-18T09:00:00Z"})); });
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
    QVERIFY(at_->change([&](project::Project& p) { return p.setup().setMemberGroup({"Services", {"Piping"}}, at_->session().now()); }));
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
    QVERIFY(at_->change([&](project::Project& p) { return p.clashes().addTest({"Piping × Electrical", "Piping", "Electrical"}, at_->session().now()); }));
    QVERIFY(at_->change([&](project::Project& p) { return p.undo(at_->session().now()); }));
    QCOMPARE(read.count(), 0);
    at_->clickStage("Clashes");
    QCOMPARE(read.count(), 1); // when it comes to the front
    QCOMPARE(models.count(), 0); // no model, picker or index was touched
}

void TestTogether::whatTheDatabaseCanNotTellIsSaid()
{
    at_->openDemo();
    QVERIFY(at_->change([](project::Project& p) -> Result<void> {
        const auto done = p.store().read([](SQLite::Database& db) { return db.exec("ALTER TABLE tests RENAME TO elsewhere"); });
        return done ? Result<void>() : tl::unexpected<Error>(done.error());
    }));
    at_->session().runTests();
    QTRY_VERIFY(at_->message().contains("could not be read"));
    at_->waitIdle();
    at_->clickStage("Deliveries"); // the rest stays usable
    QVERIFY(at_->delivery("Structure P01").isUsed());
}

void TestTogether::aProjectOfOnesOwnFiles()
{
    openEmpty();
    // Three teams with boxes and no grid: nothing can be verified, so nothing is tested until somebody says so.
    QVERIFY(takeIn(boxes("Wall", {0, 10}), "Architecture", "P01"));
    QVERIFY(takeIn(boxes("Beam", {1, 20}), "Structure", "P01"));
    QVERIFY(takeIn(boxes("Pipe", {10.5, 40}), "Piping", "P01"));
    at_->clickStage("Clashes");
    const auto words = [&] {
        QStringList all;
        for (const QLabel* label : at_->list("Clashes").findChildren<QLabel*>())
            if (label->isVisible())
                all += label->text();
        return all.join('\n');
    };
    QVERIFY(words().contains("No test has been run yet"));
    at_->press(Qt::Key_R);
    at_->waitIdle();
    QVERIFY2(at_->message().contains("Nothing was tested"), qPrintable(at_->message()));
    QVERIFY2(at_->message().contains("Structure P01, the reference has no grid to verify its place by"), qPrintable(at_->message()));
    QVERIFY(!words().contains("No test has been run yet") && words().contains("Nothing was tested"));
    at_->clickStage("Coordinates");
    QCOMPARE(at_->rows("Coordinates").rowCount(), 2);
    for (int i = 0; i < 2; ++i) {
        at_->clickRow("Coordinates", i);
        QVERIFY(at_->clickButton("acceptAsItStands"));
        at_->settle();
        QVERIFY(at_->rows("Coordinates").row(i).subtitle.startsWith("to be tested as it stands, Ines Varga"));
    }
    QCOMPARE(at_->window().findChild<QAbstractButton*>("member-Structure")->text(), QString("Structure P01 · as it stands"));
    // Nobody made a test: every member against every other.
    at_->clickStage("Clashes");
    at_->press(Qt::Key_R);
    at_->waitIdle();
    QVERIFY2(at_->message().contains("2 pairs found by 3 tests"), qPrintable(at_->message()));
    QCOMPARE(at_->rows("Clashes").rowCount(), 2); // two groups of one pair
    at_->clickRow("Clashes", 0);
    at_->press(Qt::Key_S);
    at_->settle();
    // The next revision of the beam stands elsewhere; taken in, the tests run by themselves.
    QVERIFY(takeIn(boxes("Beam2", {5, 20}), "Structure", "P02"));
    at_->clickStage("Clashes");
    const auto pairs = must(at_->project().clashes().all());
    QCOMPARE(pairs.size(), std::size_t{2});
    QCOMPARE(std::count_if(pairs.begin(), pairs.end(), [](const auto& p) { return p.isGone(); }), 1);
    QCOMPARE(must(at_->project().changes().current()).size(), std::size_t{2}); // moved, and both are called otherwise
    // Without piping in the federation its pair is not gone but not tested.
    project::Federation services{"Without piping", {{"Architecture", false}, {"Structure", false}}, false};
    QVERIFY(at_->change([&](project::Project& p) { return p.setup().setFederation(services, at_->session().now()); }));
    at_->session().setFederation("Without piping");
    at_->waitIdle();
    at_->press(Qt::Key_R);
    at_->waitIdle();
    QVERIFY2(at_->message().contains("Piping P01, not in Without piping") && at_->message().contains("1 known pair"), qPrintable(at_->message()));
    QVERIFY(at_->clickButton("chip-notTested"));
    QCOMPARE(at_->rows("Clashes").rowCount(), 1);
    QVERIFY(at_->rows("Clashes").row(0).subtitle.contains("not tested: its member is not in the federation"));
}

void TestTogether::nothingChangedIsSaid()
{
    openEmpty();
    QVERIFY(takeIn(boxes("Wall", {0, 10}), "Architecture", "P01"));
    at_->clickStage("Changes");
    const auto words = [&] {
        QStringList all;
        for (const QLabel* label : at_->list("Changes").findChildren<QLabel*>())
            if (label->isVisible())
                all += label->text();
        return all.join('\n');
    };
    QVERIFY(words().contains("Nothing to compare yet"));
    // The same model with another first line.
    std::string text = must(readFileWhole(boxes("Wall", {0, 10}), 1 << 20));
    text.insert(text.find("HEADER;"), "/* exported again */\n");
    const std::filesystem::path again = std::filesystem::path(at_->folder().toStdString()) / "again.ifc";
    QVERIFY(writeFileWhole(again, text).has_value());
    QVERIFY(takeIn(again, "Architecture", "P02"));
    at_->clickStage("Changes");
    QVERIFY2(words().contains("Compared: Architecture P01 with P02. Nothing changed."), qPrintable(words()));
    QVERIFY(!words().contains("Nothing to compare yet"));
}

void TestTogether::elementsOfOneGlobalIdStayApart()
{
    openEmpty();
    QVERIFY(takeIn(boxes("Wall", {0}), "Architecture", "P01"));
    // Two beams that share a GlobalId, both in the wall.
    const std::string shared = "2SharedByTwoBeams00001";
    QVERIFY(takeIn(boxes("Beam", {0.5, 1.5}, {shared, shared}), "Structure", "P01"));
    at_->clickStage("Coordinates");
    at_->clickRow("Coordinates", 0);
    QVERIFY(at_->clickButton("acceptAsItStands"));
    at_->settle();
    at_->clickStage("Clashes");
    at_->press(Qt::Key_R);
    at_->waitIdle();
    const auto pairs = must(at_->project().clashes().all());
    QCOMPARE(pairs.size(), std::size_t{2});
    QVERIFY(pairs[0].right.element.guid == pairs[1].right.element.guid && pairs[0].right.element.ordinal != pairs[1].right.element.ordinal);
    QCOMPARE(at_->rows("Clashes").rowCount(), 3); // one group, two pairs
    // Each row shows its own beam.
    for (int row = 1; row < 3; ++row) {
        at_->clickRow("Clashes", row);
        QVERIFY(at_->details().contains(at_->rows("Clashes").row(row).title));
        std::set<ifc::ElementIndex> beams;
        for (const auto& [key, colour] : at_->scene().display().painted)
            if (at_->scene().members()[key.member].discipline == "Structure")
                beams.insert(key.element);
        QCOMPARE(beams.size(), std::size_t{1});
        const federation::Member& structure = at_->scene().members()[1];
        QCOMPARE(QString::fromStdString(structure.model->displayName(structure.model->elements()[*beams.begin()])), at_->rows("Clashes").row(row).title);
    }
    // A new revision in which one of them moved: that one alone is changed, and its pair alone is gone.
    QVERIFY(takeIn(boxes("Beam", {0.5, 30}, {shared, shared}), "Structure", "P02"));
    const auto changes = must(at_->project().changes().current());
    QCOMPARE(changes.size(), std::size_t{1});
    QVERIFY(changes[0].element.ordinal == 1 && (changes[0].kinds & project::Moved) != 0 && std::abs(changes[0].shift.x - 28.5) < 1e-6);
    at_->clickStage("Changes");
    at_->clickRow("Changes", 0);
    QVERIFY(at_->details().contains("number 2 of those that share it"));
    const auto now = must(at_->project().clashes().all());
    QCOMPARE(std::count_if(now.begin(), now.end(), [](const auto& p) { return p.isGone(); }), 1);
    // A kept view holds the second one, not the first.
    at_->scene().choose({view::ElementKey{1, 1}});
    const view::SceneState state = at_->scene().state();
    std::size_t missing = 0;
    const view::Display back = view::displayOf(view::fromJson(view::toJson(state)).value(), at_->session().workspace().members, missing);
    QVERIFY(missing == 0 && back.selected == (std::set<view::ElementKey>{{1, 1}}));
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
    QCOMPARE(must(at_->project().clashes().tests())[0].left == "Frame" || must(at_->project().clashes().tests())[0].right == "Frame", true);
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
    openEmpty();
    at_->list("Clashes").view().model()->data(at_->list("Clashes").view().model()->index(0, 0), Qt::DisplayRole);
    at_->clickStage("Clashes");
    QCOMPARE(at_->rows("Clashes").rowCount(), 0);
    QVERIFY(at_->scene().members().empty());
    QVERIFY(at_->window().findChild<QAbstractButton*>("member-Ventilation") == nullptr);
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestTogether test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_together.moc"
