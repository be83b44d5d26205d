#include "app/window_fixture.h"

#include "core/project/setup.h"
#include "shell/drop_consent.h"
#include "shell/person.h"
#include "shell/recent_projects.h"
#include "shell/start_page.h"
#include "support/demo.h"

#include <QAbstractButton>
#include <QCheckBox>
#include <QColorDialog>
#include <QDir>
#include <QInputDialog>
#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QRadioButton>
#include <QStandardPaths>
#include <QTimer>
#include <QToolButton>

using namespace wendrix;
using test::must;

/// Where one begins, how a project is set up, and its federations, with mouse and keys.
class TestStart : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { QStandardPaths::setTestModeEnabled(true); }
    void init();
    void nothingIsOpenAtFirst();
    void aProjectIsMadeAndSetUp();
    void whatIsMissingIsSaid();
    void whatCanNotBeOpenedLeavesWhatIs();
    void aBackupIsPutBack();
    void whatIsTakenAwayIsSaid();
    void aFolderWhoseNameIsNoUtf8IsOpened();
    void anotherIsOpenedWhileWorkGoesOn();
    void aTemplateIsSavedAndUsed();
    void theDemoIsOpened();
    void projectsAreFoundAgain();
    void theSetupIsChanged();
    void thePersonIsSaid();
    void federationsAreArranged();

private:
    [[nodiscard]] app::StartPage& start() { return at_->window().start(); }
    [[nodiscard]] app::RecentProjects recent() { return app::RecentProjects(at_->folder() + "/recent.ini"); }
    [[nodiscard]] QString words() { return start().words(); }
    void menu(const QString& box, const QString& action);

    std::unique_ptr<test::WindowFixture> at_;
};

void TestStart::init()
{
    at_.reset();
    at_ = std::make_unique<test::WindowFixture>();
    start().setRecent(recent());
    start().setDemoData(QString::fromStdString(test::demoFolder()) + "/data");
    at_->window().show();
    QVERIFY(QTest::qWaitForWindowExposed(&at_->window()));
    QApplication::setActiveWindow(&at_->window());
}

void TestStart::menu(const QString& box, const QString& action)
{
    auto* m = at_->window().findChild<QToolButton*>(box)->menu();
    emit m->aboutToShow();
    for (QAction* a : m->actions())
        if (a->text().startsWith(action)) {
            a->trigger();
            at_->waitIdle();
            return;
        }
    QFAIL(qPrintable("no " + action));
}

void TestStart::nothingIsOpenAtFirst()
{
    QVERIFY(start().isVisible());
    QVERIFY(!at_->scene().isVisible());
    QVERIFY(start().findChildren<QAbstractButton*>("recentProject").isEmpty());
    QVERIFY(at_->help("helpPage").contains("From a template"));
    start().openFolder(at_->folder());      // no project in it
    QVERIFY(words().startsWith("Opening")); // beside the window, which goes on
    QCoreApplication::processEvents();
    at_->settle();
    QVERIFY(words().contains("project.sqlite is missing"));
    QVERIFY(start().isVisible());
}

void TestStart::aProjectIsMadeAndSetUp()
{
    QVERIFY(at_->clickButton("newProject"));
    QTest::keyClicks(&at_->field<QLineEdit>("projectNameField"), "Glasshouses");
    QTest::keyClicks(&at_->field<QLineEdit>("projectFolderField"), at_->folder() + "/glass");
    at_->field<QLineEdit>("setupCompany1").setText("Tarnbeck Frames");
    at_->field<QLineEdit>("setupPeople1").setText("Jon Alder, Priya Nand");
    QTest::keyClicks(&at_->field<QLineEdit>("setupFolder1"), at_->folder() + "/in");
    at_->field<QPlainTextEdit>("setupGroups").setPlainText("All engineers: Jon Alder, Sofie Brandt\nnot a group");
    at_->field<QLineEdit>("setupSchemas").setText("IFC4");
    at_->field<QPlainTextEdit>("setupProperties")
        .setPlainText("IfcPipeSegment Pset_PipeSegmentTypeCommon.NominalDiameter");
    QVERIFY(at_->clickButton("setupRemove5")); // no fire protection of its own
    QTRY_VERIFY(at_->window().findChild<QLineEdit*>("setupName5") == nullptr ||
                !at_->field<QLineEdit>("setupName5").isVisible());
    QTimer::singleShot(0, &at_->window(), [] {
        auto* dialog = qobject_cast<QColorDialog*>(QApplication::activeModalWidget());
        QVERIFY(dialog != nullptr && dialog->currentColor() == QColor("#5F7E9E")); // as structure has it at first
        dialog->setCurrentColor(QColor("#336699"));
        dialog->accept();
    });
    QVERIFY(at_->clickButton("setupColour1"));
    QVERIFY(at_->clickButton("addDisciplineLine"));
    auto* name = qobject_cast<QLineEdit*>(QApplication::focusWidget());
    QVERIFY(name != nullptr);
    QTest::keyClicks(name, "Civil");
    at_->field<QRadioButton>("setupReference1").click();
    QVERIFY(at_->clickButton("createProject"));
    QVERIFY(words().contains("“not a group”") &&
            !at_->session().hasProject()); // nothing that was written is dropped in silence
    at_->field<QPlainTextEdit>("setupGroups").setPlainText("All engineers: Jon Alder, Sofie Brandt\n");
    at_->field<QPlainTextEdit>("setupProperties").appendPlainText("IfcWall FireRating");
    QVERIFY(at_->clickButton("createProject"));
    QVERIFY(words().contains("“IfcWall FireRating”"));
    at_->field<QPlainTextEdit>("setupProperties")
        .setPlainText("IfcPipeSegment Pset_PipeSegmentTypeCommon.NominalDiameter");
    QVERIFY(at_->clickButton("createProject"));
    QVERIFY2(at_->session().hasProject(), qPrintable(words()));
    QVERIFY(!start().isVisible() && at_->scene().isVisible());
    QCOMPARE(at_->project().name(), std::string("Glasshouses"));
    QCOMPARE(must(at_->project().setup().reference()), std::string("Structure"));
    const auto disciplines = must(at_->project().setup().disciplines());
    QCOMPARE(disciplines.size(), std::size_t{6});
    QCOMPARE(disciplines[0].people, (std::vector<std::string>{"Jon Alder", "Priya Nand"}));
    QVERIFY(disciplines[0].company == "Tarnbeck Frames" &&
            disciplines[0].dropFolder == (at_->folder() + "/in").toStdString());
    // Who fills a drop folder in here has said that it is to be watched here; of this project, and no other one.
    QVERIFY(app::isWatchedHere(at_->project().folder(), disciplines[0].dropFolder));
    QVERIFY(!app::isWatchedHere(at_->project().folder() / "copy", disciplines[0].dropFolder));
    QCOMPARE(disciplines[5].name, std::string("Civil"));
    QCOMPARE(disciplines[0].colour, std::string("#336699"));
    QCOMPARE(disciplines[5].colour, std::string("#8A7866")); // its name brings it
    QVERIFY(std::none_of(disciplines.begin(), disciplines.end(),
                         [](const auto& d) { return d.name == "Fire protection"; }));
    QCOMPARE(must(at_->project().setup().personGroups()).size(), std::size_t{1});
    QCOMPARE(must(at_->project().setup().personGroups())[0].people.size(), std::size_t{2});
    QCOMPARE(must(at_->project().setup().expectations()).schemas, std::vector<std::string>{"IFC4"});
    QCOMPARE(must(at_->project().setup().expectations()).properties.size(), std::size_t{1});
    QVERIFY(at_->details().contains("No deliveries yet")); // what to do next
    at_->window().close();
    QCOMPARE(recent().all().size(), 1);
}

void TestStart::whatCanNotBeOpenedLeavesWhatIs()
{
    at_->openDemo(1);
    const std::size_t members = at_->scene().members().size();
    for (const QString& folder : {at_->folder(), at_->folder() + "/is not there"}) {
        start().openFolder(folder);
        at_->waitIdle();
        QVERIFY2(words().contains("project.sqlite is missing") || words().contains("not"), qPrintable(words()));
        QCOMPARE(at_->project().name(), std::string("Marrowfield Seed Store"));
        QCOMPARE(at_->scene().members().size(), members);
        QVERIFY(at_->change([&](project::Project& p) {
            return p.setup().setMemberGroup({"Services", {"Piping"}}, at_->session().now());
        }));
    }
}

void TestStart::aBackupIsPutBack()
{
    const QString folder = at_->folder() + "/damaged";
    const std::filesystem::path database = (folder + "/project.sqlite").toStdString();
    (void)test::must(
        project::createProject(folder.toStdString(), "Annexe", project::Setup::usual(), at_->session().now()));
    auto* putBack = at_->window().findChild<QPushButton*>("putBack");
    start().openFolder(folder); // from here on there is a backup
    at_->waitIdle();
    QCOMPARE(at_->project().name(), std::string("Annexe"));
    QVERIFY(at_->change([&](project::Project& p) {
        return p.setup().setMemberGroup({"Services", {"Piping"}}, at_->session().now());
    }));
    at_->session().open(nullptr);
    at_->waitIdle();
    std::filesystem::resize_file(database, 3000);
    start().openFolder(folder);
    at_->waitIdle();
    QVERIFY2(!words().isEmpty() && putBack->isVisible(), qPrintable(words()));
    QVERIFY(!at_->session().hasProject());
    const auto actions = putBack->menu()->actions();
    QVERIFY(!actions.isEmpty() && actions[0]->text().contains("opened"));
    actions[0]->trigger();
    at_->waitIdle();
    QVERIFY2(at_->session().hasProject(), qPrintable(words()));
    QCOMPARE(at_->project().name(), std::string("Annexe"));
    QVERIFY(!putBack->isVisible());
    // A folder without any says why, and offers nothing.
    at_->session().open(nullptr);
    start().openFolder(at_->folder() + "/is not there");
    at_->waitIdle();
    QVERIFY(!words().isEmpty() && !putBack->isVisible());
}

void TestStart::aFolderWhoseNameIsNoUtf8IsOpened()
{
    const std::filesystem::path folder = std::filesystem::path(at_->folder().toStdString()) / "B\xFCro";
    (void)test::must(project::createProject(folder, "Annexe", project::Setup::usual(), at_->session().now()));
    start().openFolder(QFile::decodeName(folder.c_str())); // as from the command line
    at_->waitIdle();
    QVERIFY2(at_->session().hasProject(), qPrintable(words()));
    QVERIFY(at_->project().folder() == folder);
    const auto entries = recent().all();
    QVERIFY(std::any_of(entries.begin(), entries.end(), [](const auto& e) { return e.name == "Annexe" && e.isThere; }));
}

void TestStart::whatIsTakenAwayIsSaid()
{
    at_->openDemo(1);
    const std::filesystem::path folder = at_->project().folder();
    const auto decide = [&](const char* name) {
        return at_->change([&](project::Project& p) {
            return p.setup().setMemberGroup({name, {"Piping"}}, at_->session().now());
        });
    };
    QVERIFY(decide("Kept"));
    std::filesystem::remove(folder / "project.sqlite"); // as a program does that synchronises folders
    QVERIFY(!decide("Lost"));
    QVERIFY2(at_->message().contains("is no longer there") && at_->message().contains("kept"),
             qPrintable(at_->message()));
    QVERIFY(!decide("Lost again"));
    QVERIFY(!std::filesystem::exists(folder / "project.sqlite"));
    at_->session().open(nullptr);
    start().openFolder(QString::fromStdString(folder.string()));
    at_->waitIdle();
    auto* putBack = at_->window().findChild<QPushButton*>("putBack");
    QVERIFY(putBack->isVisible());
    for (QAction* action : putBack->menu()->actions())
        if (action->text().contains("kept")) {
            action->trigger();
            break;
        }
    at_->waitIdle();
    QVERIFY2(at_->session().hasProject(), qPrintable(words()));
    QStringList names;
    for (const auto& group : test::must(at_->project().setup().memberGroups()))
        names.append(QString::fromStdString(group.name));
    QVERIFY2(names.contains("Kept") && !names.contains("Lost"), qPrintable(names.join(", ")));
}

void TestStart::anotherIsOpenedWhileWorkGoesOn()
{
    at_->openDemo(1);
    const QString first = at_->folder() + "/project", second = at_->folder() + "/second";
    QVERIFY(project::createProject(second.toStdString(), "Annexe", project::Setup::usual(), at_->session().now())
                .has_value());
    // The models of one are still being put in place, its tests run, and a decision is on its way, when the next is
    // opened.
    for (int round = 0; round < 3; ++round) {
        at_->session().composeAgain();
        at_->session().runTests();
        at_->session().write([&, who = at_->session().now()](project::Project& p) {
            return app::Session::saying(
                p.setup().setMemberGroup({"Services " + std::to_string(round), {"Piping"}}, who));
        });
        start().openFolder(second);
        at_->waitIdle();
        QCOMPARE(at_->project().name(), std::string("Annexe"));
        QVERIFY(at_->scene().members().empty()); // nothing of the other
        start().openFolder(first);
        at_->waitIdle();
        QCOMPARE(at_->project().name(), std::string("Marrowfield Seed Store"));
        QVERIFY(at_->scene().members().size() >= 5);
        QCOMPARE(must(at_->project().setup().memberGroups()).size(),
                 static_cast<std::size_t>(round + 1)); // what was said is kept
    }
}

void TestStart::whatIsMissingIsSaid()
{
    QVERIFY(at_->clickButton("newProject"));
    QVERIFY(at_->clickButton("createProject"));
    QVERIFY(words().contains("in which folder"));
    at_->field<QLineEdit>("projectFolderField").setText(at_->folder() + "/glass");
    QVERIFY(at_->clickButton("createProject"));
    QVERIFY(words().contains("needs a name"));
    at_->field<QLineEdit>("projectNameField").setText("Glasshouses");
    QDir().mkpath(at_->folder() + "/glass/other things");
    QVERIFY(at_->clickButton("createProject"));
    QVERIFY(words().contains("already holds something"));
    QVERIFY(!at_->session().hasProject());
    QVERIFY(at_->clickButton("leaveSetup"));
    QVERIFY(start().findChild<QAbstractButton*>("newProject")->isVisible());
}

void TestStart::aTemplateIsSavedAndUsed()
{
    QVERIFY(at_->clickButton("newProject"));
    at_->field<QLineEdit>("setupCompany0").setText("Quillmere Architects");
    const QString file = at_->folder() + "/store.json";
    const auto saved = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("saveTemplate"));
    QTRY_VERIFY(*saved && QFileInfo::exists(file));
    QVERIFY(at_->clickButton("leaveSetup") && at_->clickButton("newProject"));
    QVERIFY(at_->field<QLineEdit>("setupCompany0").text().isEmpty());
    const auto loaded = at_->answerFileDialog({file});
    QVERIFY(at_->clickButton("loadTemplate"));
    QTRY_VERIFY(*loaded);
    QTRY_VERIFY(words().contains("store.json"));
    bool isThere = false;
    for (const QLineEdit* field : start().findChildren<QLineEdit*>("setupCompany0"))
        isThere = isThere || field->text() == "Quillmere Architects";
    QVERIFY(isThere);
    QFile broken(at_->folder() + "/broken.json");
    QVERIFY(broken.open(QIODevice::WriteOnly) && broken.write("{") == 1);
    broken.close();
    const auto refused = at_->answerFileDialog({broken.fileName()});
    QVERIFY(at_->clickButton("loadTemplate"));
    QTRY_VERIFY(*refused && words().contains("no template"));
}

void TestStart::theDemoIsOpened()
{
    QDir(QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + "/wendrix").removeRecursively();
    QVERIFY(at_->clickButton("openDemo")); // to where a person's own data is
    at_->waitIdle();                       // it is made
    QTRY_VERIFY(at_->session().hasProject());
    at_->waitIdle(); // and its models are opened
    QCOMPARE(at_->project().name(), std::string("Marrowfield Seed Store"));
    QCOMPARE(must(at_->project().deliveries().cycle()), 4);
    QTRY_COMPARE(at_->scene().members().size(), std::size_t{6});
    QVERIFY(!QFileInfo::exists(QString::fromStdString(at_->project().folder().string()) + ".part"));
    // Given up half way, nothing is left that could be taken for it.
    at_->window().showStart();
    start().openDemo(at_->folder() + "/store/other");
    at_->session().jobs().cancelAll();
    at_->waitIdle();
    QVERIFY(!project::Project::isProject((at_->folder() + "/store/other").toStdString()));
}

void TestStart::projectsAreFoundAgain()
{
    start().openDemo(at_->folder() + "/demo");
    at_->waitIdle();
    QTRY_VERIFY(at_->session().hasProject());
    at_->waitIdle();
    menu("projectName", "Another project");
    QVERIFY(start().isVisible());
    QVERIFY(QFileInfo::exists(app::RecentProjects::pictureOf(at_->folder() + "/demo")));
    auto cards = start().findChildren<QAbstractButton*>("recentProject");
    cards.removeIf([](const QAbstractButton* card) { return !card->isVisible(); });
    QCOMPARE(cards.size(), 1);
    QCOMPARE(cards[0]->text(), QString("Marrowfield Seed Store"));
    QVERIFY(at_->clickButton("backToProject"));
    QVERIFY(!start().isVisible());
    menu("projectName", "Another project");
    QVERIFY(at_->clickButton("recentProject"));
    at_->waitIdle();
    QTRY_VERIFY(!start().isVisible());
    menu("projectName", "Another project");
    const auto asked = at_->answerFileDialog({at_->folder() + "/demo"});
    QVERIFY(at_->clickButton("openProject"));
    QTRY_VERIFY(*asked);
    at_->waitIdle();
    QTRY_VERIFY(!start().isVisible());
    app::RecentProjects list = recent();
    list.note(at_->folder() + "/gone", "Gone");
    QVERIFY(!list.all()[0].isThere && list.all()[1].isThere);
    list.forget(at_->folder() + "/gone");
    QCOMPARE(list.all().size(), 1);
}

void TestStart::theSetupIsChanged()
{
    at_->openDemo(1);
    menu("projectName", "Setup");
    QVERIFY(start().isVisible());
    QVERIFY(!at_->field<QLineEdit>("setupName1").isReadOnly()); // what is of it goes along
    QCOMPARE(at_->field<QLineEdit>("setupCompany1").text(), QString("Tarnbeck Frames"));
    at_->field<QLineEdit>("setupPeople1").setText("Jon Alder");
    at_->field<QPlainTextEdit>("setupGroups").setPlainText("Structure team: Jon Alder");
    at_->field<QCheckBox>("setupGeoreferenced").setChecked(false);
    QVERIFY(at_->clickButton("addDisciplineLine"));
    QTest::keyClicks(QApplication::focusWidget(), "Civil");
    QVERIFY(at_->clickButton("createProject"));
    at_->settle();
    QVERIFY2(!start().isVisible(), qPrintable(words()));
    QCOMPARE(must(at_->project().setup().disciplines()).size(), std::size_t{6});
    QCOMPARE(must(at_->project().setup().disciplines())[1].people, std::vector<std::string>{"Jon Alder"});
    QCOMPARE(must(at_->project().setup().personGroups()).size(), std::size_t{1});
    QCOMPARE(must(at_->project().setup().personGroups())[0].name, std::string("Structure team"));
    QVERIFY(!must(at_->project().setup().expectations()).isGeoreferenced);
    QCOMPARE(must(at_->project().clashes().sheets())[0].sheet.tests.size(), std::size_t{7});
    at_->press(Qt::Key_Z, Qt::ControlModifier); // all of it is one step
    QCOMPARE(must(at_->project().setup().disciplines()).size(), std::size_t{5});
    QCOMPARE(must(at_->project().setup().disciplines())[1].people,
             (std::vector<std::string>{"Jon Alder", "Priya Nand"}));
    QVERIFY(must(at_->project().setup().expectations()).isGeoreferenced);
}

void TestStart::thePersonIsSaid()
{
    at_->openDemo(1);
    auto* person = at_->window().findChild<QToolButton*>("person");
    QCOMPARE(person->text(), QString("Ines Varga"));
    const auto answer = [&](const QString& name) {
        QTimer::singleShot(0, &at_->window(), [name] {
            auto* dialog = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
            QVERIFY(dialog != nullptr);
            QVERIFY(dialog->comboBoxItems().contains("Priya Nand")); // whom the project knows
            dialog->setTextValue(name);
            dialog->accept();
        });
        QTest::mouseClick(person, Qt::LeftButton);
    };
    answer("  Priya   Nand ");
    QCOMPARE(person->text(), QString("Priya Nand"));
    QCOMPARE(app::personName(), QString("Priya Nand")); // also next time
    at_->clickCard(at_->delivery("Structure P01").id);
    QVERIFY(at_->clickButton("hold") && at_->clickButton("holdIt"));
    QTRY_COMPARE(must(at_->project().log().last(1))[0].by.person, std::string("Priya Nand"));
    answer("");
    QCOMPARE(person->text(), QString("Priya Nand")); // nobody is nobody
}

void TestStart::federationsAreArranged()
{
    at_->openDemo(2);
    menu("federation", "Services only");
    QCOMPARE(at_->scene().members().size(), std::size_t{4}); // piping has two models
    QCOMPARE(at_->window().findChild<QToolButton*>("federation")->text(), QString("Services only"));
    QVERIFY(at_->window().findChild<QAbstractButton*>("member-Architecture") == nullptr ||
            !at_->window().findChild<QAbstractButton*>("member-Architecture")->isVisible());
    // Taken in all the same: what is in use does not hang on the federation.
    at_->session().takeIn(at_->delivery("Structure P02").id);
    at_->waitIdle();
    QVERIFY(at_->delivery("Structure P02").isUsed());
    QVERIFY(!must(at_->project().changes().comparisonsOf(at_->delivery("Structure P02").id)).empty());
    QCOMPARE(at_->session().workspace().members.size(), std::size_t{4});
    menu("federation", "Members and federations");
    at_->field<QCheckBox>("federation1-Piping").click(); // retired
    at_->waitIdle();
    QTRY_COMPARE(at_->session().workspace().members.size(), std::size_t{2});
    at_->waitIdle();
    QTRY_VERIFY(at_->field<QCheckBox>("federation1-Piping").text().contains("retired"));
    at_->field<QCheckBox>("federation1-Piping").click(); // brought back
    at_->waitIdle();
    QTRY_COMPARE(at_->session().workspace().members.size(), std::size_t{4});
    at_->waitIdle();
    menu("federation", "Members and federations");
    at_->field<QLineEdit>("federationName").setText("Frame and shell");
    QVERIFY(at_->clickButton("makeFederation"));
    QTRY_COMPARE(must(at_->project().setup().federations()).size(), std::size_t{3});
    QVERIFY(at_->clickButton("retireFederation1")); // the one that is looked at
    QTRY_VERIFY(must(at_->project().setup().federations())[1].isRetired);
    at_->waitIdle();
    QTRY_COMPARE(at_->session().workspace().members.size(), std::size_t{6}); // the whole building instead
    QVERIFY(at_->clickButton("retireFederation1"));
    QTRY_VERIFY(!must(at_->project().setup().federations())[1].isRetired);
    // Also from the whole building, where everybody is a member at first.
    for (const std::size_t members : {std::size_t{5}, std::size_t{6}}) {
        at_->waitIdle();
        at_->field<QCheckBox>("federation0-Electrical").click();
        QTRY_COMPARE(at_->session().workspace().members.size(), members);
    }
}

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    TestStart test;
    return QTest::qExec(&test, argc, argv);
}
#include "test_start.moc"
