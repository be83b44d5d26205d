#include "clashes/clashes_stage.h"
#include "coordinates/coordinates_stage.h"
#include "deliveries/deliveries_stage.h"
#include "issues/issues_stage.h"
#include "shell/main_window.h"

#include "core/project/demo_project.h"
#include "shell/theme.h"

#include <QApplication>
#include <QDir>
#include <QEventLoop>
#include <QScreen>
#include <QTemporaryDir>

#include <cstdio>

/// Walks the demo data through the week and writes a picture of each main view.
using namespace wendrix;
using namespace wendrix::app;

namespace {

class Shots {
public:
    Shots(Session& session, MainWindow& window, QString folder)
        : session_(session), window_(window), folder_(std::move(folder))
    {
    }

    void stage(const char* title) { window_.showStage(window_.indexOf(title)); }
    template <class T>
    T& at(const char* title) { return static_cast<T&>(window_.stage(window_.indexOf(title))); }
    Worklist& list(const char* title) { return static_cast<Worklist&>(*window_.stage(window_.indexOf(title)).list()); }

    void waitIdle()
    {
        if (!session_.isBusy())
            return;
        QEventLoop loop;
        QObject::connect(&session_, &Session::idle, &loop, &QEventLoop::quit);
        loop.exec();
    }
    void fitAll()
    {
        window_.scene().fitAll();
        settle();
    }
    void settle()
    {
        // What is queued and what that queues, then the end of the move, then a frame of it on the screen.
        for (int i = 0; i < 4; ++i)
            QApplication::processEvents();
        window_.scene().finishMotion();
        window_.repaint();
        window_.scene().repaint();
        for (int i = 0; i < 4; ++i)
            QApplication::processEvents();
    }
    void take(const char* name)
    {
        settle();
        const QString file = folder_ + "/" + name + ".png";
        // From the screen: QWidget::grab would put the scene's labels under the model.
        if (!QGuiApplication::primaryScreen()->grabWindow(window_.winId()).save(file, "PNG"))
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
    if (!project || !project::receiveDemoCycle(**project, argv[1], 2, progress)) {
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

    shots.stage("Coordinates");
    shots.fitAll();
    shots.take("coordinates-before");
    for (const char* discipline : {"Structure", "Ventilation"}) {
        shots.list("Coordinates").choose(discipline);
        window.stage(window.indexOf("Coordinates")).press(Qt::Key_A);
    }
    shots.fitAll();
    shots.take("coordinates-fitted");

    session.runTests();
    shots.waitIdle();
    shots.stage("Clashes");
    for (int i = 0; i < shots.list("Clashes").model().rowCount(); ++i)
        if (shots.list("Clashes").model().row(i).title.contains("3 beams"))
            shots.list("Clashes").choose(shots.list("Clashes").model().row(i).id);
    shots.take("clashes");
    window.stage(window.indexOf("Clashes")).press(Qt::Key_F);

    shots.stage("Deliveries");
    shots.fitAll();
    shots.take("deliveries");
    for (int i = 0; i < 2; ++i) {
        auto& register_ = *window.findChild<Register*>("register");
        for (const project::Delivery& d : session.project().deliveries())
            if (d.state == project::DeliveryState::Waiting) {
                register_.choose(d.id);
                break;
            }
        window.stage(window.indexOf("Deliveries")).press(Qt::Key_T);
        shots.waitIdle();
    }
    shots.stage("Changes");
    shots.waitIdle();
    shots.fitAll();
    shots.take("changes");
    for (const project::ChangeRecord& c : session.project().currentChanges())
        if ((c.kinds & project::Moved) != 0 && c.discipline == "Ventilation") {
            shots.list("Changes").choose(QString::number(c.to) + "/" + QString::fromStdString(c.guid));
            break;
        }
    shots.take("change-moved");
    shots.stage("Issues");
    shots.list("Issues").step(1);
    shots.take("issues-evidence");
    shots.stage("Deliveries");
    window.scene().display().selected = {};
    shots.stage("Clashes");
    shots.list("Clashes").view().clearSelection();
    window.stage(window.indexOf("Clashes")).setStorey("");
    emit window.findChild<StoreyLadder*>("ladder")->storeyChosen("Level 2");
    window.scene().display().painted.clear();
    shots.fitAll();
    shots.take("storey-cut");
    return 0;
}
