#include "clashes/clashes_stage.h"
#include "coordinates/coordinates_stage.h"
#include "deliveries/deliveries_stage.h"
#include "issues/issues_stage.h"
#include "shell/main_window.h"

#include "core/project/change_list.h"
#include "core/project/demo_project.h"
#include "core/project/setup.h"
#include "deliveries/document_view.h"
#include "shell/start_page.h"
#include "shell/theme.h"

#include <QApplication>
#include <QDir>
#include <QEventLoop>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScreen>
#include <QTemporaryDir>
#include <QTimer>
#include <QToolButton>

#include <cmath>

#include <cstdio>

/// Walks the demo data through the week and writes a picture of each main view.
using namespace wendrix;
using namespace wendrix::app;

namespace {

constexpr int kPatience = 20'000; // milliseconds for one picture

class Shots {
public:
    Shots(Session& session, MainWindow& window, QString folder)
        : session_(session), window_(window), folder_(std::move(folder))
    {
    }

    void stage(const char* title) { window_.showStage(window_.indexOf(title)); }
    template <class T>
    T& at(const char* title)
    {
        return static_cast<T&>(window_.stage(window_.indexOf(title)));
    }
    Worklist& list(const char* title) { return *window_.findChild<Worklist*>(QString(title).toLower()); }

    void waitIdle()
    {
        while (session_.isBusy()) {
            QEventLoop loop;
            QObject::connect(&session_, &Session::idle, &loop, &QEventLoop::quit);
            loop.exec();
        }
    }
    /// Into a field for a set, as a person does, up to where it offers how to go on.
    void write(const QString& field, const QString& line)
    {
        auto& edit = *window_.findChild<QPlainTextEdit*>(field);
        QApplication::setActiveWindow(&window_); // nobody else does without a window manager
        edit.setFocus();
        edit.selectAll();
        for (const QChar c : line)
            for (const QEvent::Type type : {QEvent::KeyPress, QEvent::KeyRelease}) {
                QKeyEvent event(type, 0, Qt::NoModifier, QString(c));
                QApplication::sendEvent(&edit, &event);
            }
        QEventLoop rest; // it counts once the typing rests
        QTimer::singleShot(500, &rest, &QEventLoop::quit);
        rest.exec();
        waitIdle();
    }
    void write(std::function<Result<void>(project::Project&)> command)
    {
        session_.write([command = std::move(command)](project::Project& p) { return Session::saying(command(p)); });
        waitIdle();
    }
    void fitAll()
    {
        window_.scene().fitAll();
        settle();
    }
    void settle()
    {
        waitIdle();
        // What is queued and what that queues, then the end of the move, then a frame of it on the screen.
        for (int i = 0; i < 4; ++i)
            QApplication::processEvents();
        window_.scene().finishMotion();
        if (window_.scene().isVisible()) {
            QEventLoop loop; // it is drawn in pieces
            QObject::connect(&window_.scene(), &SceneView::drawnWhole, &loop, &QEventLoop::quit);
            QTimer::singleShot(kPatience, &loop, &QEventLoop::quit);
            window_.scene().update();
            loop.exec();
        }
        window_.repaint();
        for (int i = 0; i < 4; ++i)
            QApplication::processEvents();
    }
    void take(const char* name)
    {
        settle();
        const QString file = folder_ + "/" + name + ".png";
        // From the screen: QWidget::grab would put the scene's labels under the model.
        if (!QGuiApplication::primaryScreen()
                 ->grabWindow(0, window_.x(), window_.y(), window_.width(), window_.height()) // with what pops up
                 .save(file, "PNG"))
            std::fprintf(stderr, "wendrix-shots: %s can not be written\n", qPrintable(file));
    }

private:
    Session& session_;
    MainWindow& window_;
    QString folder_;
};

} // namespace

int main(int argc, char** argv)
{
    setSurfaceFormat();
    QApplication application(argc, argv);
    if (argc < 3) {
        std::fputs("usage: wendrix-shots DEMO-DATA FOLDER\n", stderr);
        return 2;
    }
    theme::apply();
    QDir().mkpath(argv[2]);
    const QTemporaryDir scratch;
    Progress progress;
    auto project = project::makeDemoProject(argv[1], (scratch.path() + "/project").toStdString(), progress);
    if (!project || !project::receiveDemoCycle(**project, argv[1], 2, progress) ||
        !project::receiveDemoCycle(**project, argv[1], 3, progress)) {
        std::fputs("wendrix-shots: the demo data can not be read\n", stderr);
        return 3;
    }
    Session session("Ines Varga");
    MainWindow window(session);
    session.open(std::move(*project));
    window.show();
    Shots shots(session, window, argv[2]);
    session.loadModels();
    shots.waitIdle();
    ToolStrip& tools = window.tools();

    shots.stage("Coordinates");
    shots.fitAll();
    shots.take("coordinates-before");
    // The ventilation by hand, as one does with axes: side by side, 1 on 1, then A on A.
    auto& coordinates = shots.at<CoordinatesStage>("Coordinates");
    coordinates.choose("Ventilation");
    shots.settle();
    tools.take(kHandTool);
    window.findChild<QPushButton*>("handGridaxes")->click();
    window.findChild<QPushButton*>("placeSidebyside")->click();
    shots.settle();
    for (const char* axis : {"1", "A"}) {
        const auto one = coordinates::heldByName(*session.workspace().find("Ventilation")->model, axis);
        const auto other = coordinates::heldByName(*session.workspace().find("Architecture")->model, axis);
        if (one && other)
            coordinates.hand().add({*one, *other});
    }
    window.findChild<QPushButton*>("placeSidebyside")->click(); // apart as it is turned now
    shots.settle();
    shots.take("coordinates-by-hand");
    coordinates.hand().setPairs({});
    tools.endAll();
    window.findChild<QPushButton*>("placeAsitstands")->click();
    shots.settle();
    for (const char* discipline : {"Structure", "Ventilation", "Piping", "Electrical"}) {
        window.stage(window.indexOf("Coordinates")).choose(discipline);
        window.stage(window.indexOf("Coordinates")).press(Qt::Key_A);
        shots.waitIdle();
    }
    window.stage(window.indexOf("Coordinates")).choose("Structure");
    shots.fitAll();

    session.runTests();
    shots.waitIdle();
    shots.stage("Clashes");
    shots.waitIdle();
    for (int i = 0; i < shots.list("Clashes").model().rowCount(); ++i)
        if (shots.list("Clashes").model().row(i).title.contains("3 beams"))
            shots.list("Clashes").choose(shots.list("Clashes").model().row(i).id);
    auto& clashes = window.stage(window.indexOf("Clashes"));
    clashes.press(Qt::Key_T);
    shots.waitIdle();
    for (int i = 0; i < shots.list("Tests").model().rowCount(); ++i)
        if (shots.list("Tests").model().row(i).title == "Structure × Ventilation")
            shots.list("Tests").choose(shots.list("Tests").model().row(i).id);
    shots.settle();
    shots.write("testLeft", "discipline is Structure and class is Be");
    shots.take("clash-tests");
    clashes.press(Qt::Key_T);
    clashes.press(Qt::Key_V);
    shots.take("clash-matrix");
    clashes.press(Qt::Key_P);
    shots.take("clash-plan");
    clashes.press(Qt::Key_P);
    window.stage(window.indexOf("Clashes")).press(Qt::Key_F);

    shots.stage("Deliveries");
    shots.fitAll();
    auto& register_ = *window.findChild<Register*>("register");
    const auto choose = [&](const char* name) {
        for (const project::Delivery& d : orNothing(session.project().deliveries().all()))
            if (d.name() == name)
                register_.choose(d.id);
    };
    const auto lookInside = [&](const char* name) {
        choose(name);
        session.lookInside(register_.chosen());
        shots.waitIdle();
    };
    auto& inside = shots.at<DeliveriesStage>("Deliveries").inside();
    lookInside("Electrical P02");
    inside.list()->step(1);
    shots.take("inside-quality");
    shots.write([id = register_.chosen(), who = session.now()](project::Project& p) {
        return p.deliveries().decline(id, "Drawn in millimetres, exported in metres: 42 km across.", "", who);
    });
    lookInside("Piping P02");
    inside.setTab(InsidePage::Tab::Documents);
    QEventLoop drawn;
    QObject::connect(&window.document(), &DocumentView::shown, &drawn, &QEventLoop::quit);
    inside.list()->step(1);
    drawn.exec();
    lookInside("Electrical P03");
    inside.setTab(InsidePage::Tab::Changes);
    session.setInsideAlone(true);
    shots.fitAll();
    shots.take("inside-changes");
    session.leaveInside();
    shots.write([who = session.now()](project::Project& p) {
        return p.deliveries().hold({"Piping", "2099-12-11", "until the tender is out", {}}, who);
    });
    for (const char* name : {"Architecture P01", "Structure P02"}) // from the top
        choose(name);
    shots.fitAll();
    shots.take("deliveries");
    for (const char* name : {"Structure P02", "Ventilation P02"}) {
        choose(name);
        window.stage(window.indexOf("Deliveries")).press(Qt::Key_T);
        shots.waitIdle();
    }
    shots.stage("Clashes"); // as the second run left it
    shots.waitIdle();
    for (int i = 0; i < shots.list("Clashes").model().rowCount(); ++i)
        if (shots.list("Clashes").model().row(i).title.contains("Corridor wall S-3")) // beside the hole for it
            shots.list("Clashes").choose(shots.list("Clashes").model().row(i).id);
    shots.take("clashes");
    shots.stage("Changes");
    shots.waitIdle();
    for (const project::ChangeRecord& c : orNothing(session.project().changes().current()))
        if ((c.kinds & project::Reshaped) != 0 && c.className == "IfcColumn") // narrower and longer
            shots.list("Changes").choose(QString::fromStdString(project::ChangeList::idOf({c.comparison, c.number})));
    shots.waitIdle();
    shots.list("Changes").view().scrollTo(shots.list("Changes").view().currentIndex());
    shots.take("changes");
    for (const project::ChangeRecord& c : orNothing(session.project().changes().current()))
        if ((c.kinds & project::Moved) != 0 && c.discipline == "Ventilation") {
            shots.list("Changes").choose(QString::fromStdString(project::ChangeList::idOf({c.comparison, c.number})));
            break;
        }
    shots.stage("Issues");
    shots.waitIdle();
    shots.list("Issues").step(1);
    shots.take("issues-evidence");
    // The list that was sent out, what one team sent back, and the board.
    shots.write([&](project::Project& p) { return project::receiveDemoIssues(p, argv[1], progress); });
    auto& issues = shots.at<IssuesStage>("Issues");
    issues.importFrom(QString(argv[1]) + "/MSS-issues-W47-VLW.bcf");
    shots.waitIdle();
    auto* came = window.findChild<Worklist*>("mergeList");
    for (int i = 0; i < came->model().rowCount(); ++i)
        if (!came->model().row(i).loud.isEmpty())
            came->choose(came->model().row(i).id);
    shots.take("issues-merge");
    window.findChild<QPushButton*>("allTheirs")->click();
    shots.settle();
    window.findChild<QPushButton*>("takeOver")->click();
    shots.settle();
    window.findChild<QPushButton*>("chip-all")->click();
    shots.waitIdle();
    issues.press(Qt::Key_V);
    shots.list("Issues").step(1);
    shots.take("issues-board");
    issues.press(Qt::Key_V);
    window.findChild<QPushButton*>("chip-open")->click();
    shots.waitIdle();
    shots.stage("Deliveries");
    window.scene().change([](view::Scene& s) { s.choose({}); });
    // Sawn open lengthwise and along the top, as one looks into a model.
    emit window.findChild<StoreyLadder*>("ladder")->storeyChosen("");
    SceneView& scene = window.scene();
    tools.take(SceneTools::kCut);
    const Vector3 along = normalised(Vector3{std::cos(0.302), std::sin(0.302), 0}); // the building's long side
    view::Cuts cuts;
    (void)cuts.add({scene.document().bounds().centre(), normalised(Vector3{along.y, -along.x, 0})});
    scene.setCuts(cuts);
    shots.fitAll();
    shots.take("scene-cut");

    const auto duct = [&] {
        for (ifc::ElementIndex e = 0; e < scene.members()[2].model->elements().size(); ++e)
            if (scene.members()[2].model->displayName(scene.members()[2].model->elements()[e]).find("SD-203") !=
                std::string::npos)
                return view::ElementKey{2, e};
        return view::ElementKey{2, 0};
    }();
    tools.endAll();
    cuts = {};
    cuts.slice = view::Cuts::Slice{scene.picker().boundsOf(duct).min.z - 3.4,
                                   scene.picker().boundsOf(duct).max.z + 0.02, "Level 2"};
    scene.setCuts(cuts);
    scene.choose({duct});
    scene.lookAt({duct});

    tools.take(SceneTools::kMeasure);
    const Box3 box = scene.picker().boundsOf(duct);
    std::vector<view::Measurement> measured;
    view::ElementKey slab = duct;
    for (ifc::ElementIndex e = 0; e < scene.members()[1].model->elements().size(); ++e)
        if (scene.members()[1].model->className(scene.members()[1].model->elements()[e]) == "IfcSlab" &&
            scene.picker().boundsOf({1, e}).overlaps(box.grownBy(1.2)) &&
            scene.picker().boundsOf({1, e}).min.z > box.max.z)
            slab = {1, e};
    if (const auto shortest = view::shortestBetween(scene.members(), duct, slab))
        measured.push_back(*shortest);
    measured.push_back(
        view::elevationOf({box.min.x, box.centre().y, box.min.z}, scene.members()[0].model->georeference()));
    measured.push_back(view::distanceBetween({box.min.x, box.min.y, box.min.z}, {box.max.x, box.max.y, box.min.z}));
    window.sceneTools().measure().setResults(measured);
    shots.take("scene-measure");

    // Drawn over, with two notes.
    window.sceneTools().measure().setResults({});
    const auto at = [&](Point3 place) {
        const auto pixel = view::project(scene.camera(), scene.viewport(), place);
        return view::toPicture(scene.viewport(), pixel.x, pixel.y);
    };
    const Point2 middle = at(box.centre());
    scene.setMarks(
        {{view::MarkKind::Cloud, {middle + Vector2{-0.30, -0.20}, middle + Vector2{0.34, 0.18}}, {}, scene.camera()},
         {view::MarkKind::Arrow, {middle + Vector2{0.10, -0.62}, middle + Vector2{0.02, -0.24}}, {}, scene.camera()},
         {view::MarkKind::Text, {middle + Vector2{-0.1, -0.68}}, "lower the duct here", scene.camera()}});
    for (const auto& [words, place] :
         {std::pair{"Lower the duct by 100 mm between C and D; the beam above has no opening.", box.centre()},
          {"Keep the edge of the slab free for the hangers.", scene.picker().boundsOf(slab).min}}) {
        project::Note note;
        note.place = place;
        note.state = view::toJson(scene.state());
        note.said.push_back({"", words, {}});
        shots.write([note, who = session.now()](project::Project& p) -> Result<void> {
            const auto written = p.views().addNote(note, {}, who);
            return written ? Result<void>() : fail(written.error());
        });
    }
    shots.write([time = session.now().time](project::Project& p) {
        return p.views().sayToNote(orNothing(p.views().notes())[0].uuid, project::Note::kAnswered,
                                   "Possible, the hangers are adjustable.", {"Jon Alder", time});
    });
    tools.take(SceneTools::kMarkUp);
    window.findChild<NotesPanel*>()->open(orNothing(session.project().views().notes())[0].uuid);
    shots.take("scene-marks");
    scene.setMarks({});

    // The duct before and after it was lowered, laid over each other across.
    window.sceneTools().measure().setResults({});
    cuts = {};
    (void)cuts.add({box.centre(), along});
    scene.setCuts(cuts);
    scene.choose({});
    tools.take(SceneTools::kCut);
    std::uint32_t outlined = 2;
    for (std::uint32_t m = 0; m < scene.members().size(); ++m)
        if (scene.members()[m].title() == "Ventilation P01")
            outlined = m;
    scene.setOverlay(view::Overlay{2, outlined});
    window.findChild<QPushButton*>("cutFlat")->click();
    shots.settle();
    scene.finishMotion();
    view::Camera flat = scene.camera();
    flat.target = box.centre();
    flat.eye = box.centre() + 12.0 * along;
    scene.setCamera(flat, false);
    scene.setOverlay({});

    tools.endAll();
    scene.setCuts({});
    shots.fitAll();
    scene.setRule({view::ColourBy::Storey, {}, {}});
    window.findChild<QToolButton*>("show")->click();
    shots.take("scene-show");

    // What is left where an axis stands elsewhere: the electrical team's next delivery.
    shots.write([&](project::Project& p) { return project::receiveDemoCycle(p, argv[1], 4, progress); });
    for (const project::Delivery& d : orNothing(session.project().deliveries().all()))
        if (d.name() == "Electrical P04")
            session.takeIn(d.id, project::MovedAnswer{});
    shots.waitIdle();
    scene.setRule({});
    shots.stage("Coordinates");
    coordinates.choose("Electrical");
    shots.settle();
    shots.fitAll();
    shots.take("coordinates-proof");

    // Where one begins: this project, and two that are only begun.
    RecentProjects recent(scratch.path() + "/recent.ini");
    for (const char* name : {"Ferrow Lane Archive", "Marrowfield Glasshouses"}) {
        const QString folder = scratch.path() + "/" + name;
        if (project::createProject(folder.toStdString(), name, project::Setup::usual(), session.now()))
            recent.note(folder, name);
    }
    recent.note(QString::fromStdString(session.project().folder().string()), "Marrowfield Seed Store");
    scene.setRule({});
    shots.stage("Deliveries");
    shots.fitAll();
    window.showStart();
    window.start().setDemoData(argv[1]);
    window.start().setRecent(recent);
    shots.take("start");
    return 0;
}
