#include "shell/main_window.h"

#include "core/project/demo_project.h"
#include "shell/theme.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QScreen>
#include <QTimer>

#include <cstdio>

using namespace wendrix;

namespace {

/// Opens the project, or makes the demo one there. @return what went wrong, empty if nothing
QString openProject(app::Session& session, const QString& folder, const QString& demoData)
{
    Progress progress;
    const std::filesystem::path path = folder.toStdString();
    Result<std::unique_ptr<project::Project>> project =
        !demoData.isEmpty() && !project::Project::isProject(path)
            ? project::makeDemoProject(demoData.toStdString(), path, progress)
            : project::Project::open(path);
    if (!project)
        return QString::fromStdString(project.error().inWords());
    // The second cycle has arrived since: it waits in the register.
    if (!demoData.isEmpty())
        if (const auto done = project::receiveDemoCycle(**project, demoData.toStdString(), 2, progress); !done)
            return QString::fromStdString(done.error().inWords());
    session.open(std::move(*project));
    return {};
}

} // namespace

int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    QApplication::setApplicationName("Wendrix");

    QCommandLineParser parser;
    parser.setApplicationDescription("Coordinates IFC models: federate, align, find clashes and changes, settle issues.");
    parser.addHelpOption();
    parser.addPositionalArgument("PROJECT", "the project folder");
    const QCommandLineOption demo("demo", "make the project from these sample deliveries if it is not there", "FOLDER");
    const QCommandLineOption picture("picture", "write a picture of the window and end", "FILE");
    const QCommandLineOption person("person", "who is working", "NAME", "Ines Varga");
    parser.addOptions({demo, picture, person});
    parser.process(application);
    if (parser.positionalArguments().isEmpty()) {
        std::fputs("wendrix: name a project folder, e.g. wendrix --demo demo/data build/demo-project\n", stderr);
        return 2;
    }

    app::theme::apply();
    app::Session session(parser.value(person));
    app::MainWindow window(session);
    if (const QString problem = openProject(session, parser.positionalArguments()[0], parser.value(demo)); !problem.isEmpty()) {
        std::fprintf(stderr, "wendrix: %s\n", qPrintable(problem));
        return 3;
    }
    window.show();
    session.loadModels();
    if (parser.isSet(picture))
        QObject::connect(&session, &app::Session::idle, &window, [&] {
            window.scene().finishMotion();
            // After the frame that shows the models is on the screen; from there, labels lie above the model.
            QObject::connect(&window.scene(), &QOpenGLWidget::frameSwapped, &window, [&] {
                QTimer::singleShot(50, &window, [&] {
                    const QPixmap pixels = QGuiApplication::primaryScreen()->grabWindow(window.winId());
                    QApplication::exit(pixels.save(parser.value(picture), "PNG") ? 0 : 4);
                });
            });
            window.scene().update();
        });
    return QApplication::exec();
}
