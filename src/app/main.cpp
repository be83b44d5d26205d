#include "shell/main_window.h"

#include "shell/person.h"
#include "shell/start_page.h"
#include "shell/theme.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QFileInfo>
#include <QScreen>
#include <QTimer>

#include <algorithm>
#include <cstdio>
#include <string_view>

using namespace wendrix;

namespace {

/// The sample deliveries: beside the program in a build, or where they are installed; empty where they are missing.
QString findDemoData()
{
    const QString beside = QCoreApplication::applicationDirPath();
    for (const QString& folder : {beside + "/../../../demo/data", beside + "/../share/wendrix/demo"})
        if (QFileInfo::exists(folder + "/demo.json"))
            return QFileInfo(folder).canonicalFilePath();
    return {};
}

/// Help or the version, and no window.
bool asksForWords(int argc, char** argv)
{
    return std::any_of(argv + 1, argv + argc, [](const char* argument) {
        const std::string_view word = argument;
        return word == "--help" || word == "-h" || word == "--help-all" || word == "--version" || word == "-v";
    });
}

} // namespace

int main(int argc, char** argv)
{
    QCoreApplication::setApplicationName("Wendrix");
    QCoreApplication::setApplicationVersion(WENDRIX_VERSION);
    QCommandLineParser parser;
    parser.setApplicationDescription(
        "Coordinates IFC models: federate, align, find clashes and changes, settle issues.");
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument("PROJECT", "the project folder; without it, the start page");
    const QCommandLineOption demo("demo", "make the project from these sample deliveries if it is not there", "FOLDER");
    const QCommandLineOption picture("picture", "write a picture of the window and end", "FILE");
    const QCommandLineOption person("person", "who is working; else the name that was said last", "NAME");
    parser.addOptions({demo, picture, person});
    if (asksForWords(argc, argv)) { // which is answered where there is no display, too
        const QCoreApplication words(argc, argv);
        parser.process(words);
    }
    app::setSurfaceFormat();
    QApplication application(argc, argv);
    QApplication::setApplicationDisplayName("Wendrix");
    parser.process(application);

    app::theme::apply();
    app::Session session(parser.isSet(person) ? parser.value(person) : app::personName());
    app::MainWindow window(session);
    window.start().setDemoData(parser.isSet(demo) ? parser.value(demo) : findDemoData());
    window.show();
    const QStringList folders = parser.positionalArguments();
    if (!folders.isEmpty())
        parser.isSet(demo) ? window.start().openDemo(folders[0]) : window.start().openFolder(folders[0]);
    // Nobody is there to read it off the screen.
    const auto endWithoutProject = [&] {
        if (!parser.isSet(picture) || session.hasProject() || session.isBusy())
            return;
        std::fprintf(stderr, "wendrix: %s\n", qPrintable(window.start().words()));
        QApplication::exit(3);
    };
    QTimer::singleShot(0, &window, endWithoutProject);
    if (parser.isSet(picture))
        QObject::connect(&session, &app::Session::idle, &window, [&] {
            endWithoutProject();
            if (session.workspace().members.empty())
                return; // the demo is made first, then its models are opened
            window.scene().finishMotion();
            // After the frame that shows the models is on the screen; from there, labels lie above the model.
            QObject::connect(&window.scene(), &app::SceneView::drawnWhole, &window, [&] {
                QTimer::singleShot(50, &window, [&] {
                    const QPixmap pixels = QGuiApplication::primaryScreen()->grabWindow(window.winId());
                    QApplication::exit(pixels.save(parser.value(picture), "PNG") ? 0 : 4);
                });
            });
            window.scene().update();
        });
    return QApplication::exec();
}
