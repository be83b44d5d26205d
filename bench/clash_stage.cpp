#include "clash_pages.h"
#include "measure.h"
#include "watched_window.h"

#include "clashes/clash_report_job.h"
#include "core/project/receiving.h"
#include "core/project/setup.h"
#include "core/project/taking_in.h"

#include <QKeyEvent>
#include <QTemporaryDir>

using namespace wendrix;
using bench::waitIdle;
using bench::WatchedApplication;

namespace {

const WhoAndWhen kWho{"Bench", "2026-11-24T08:00:00Z"};

/// Two members of two files, tested where they stand.
void make(const std::filesystem::path& folder, const char* const files[2])
{
    project::Setup setup;
    for (const char* name : {"Architecture", "Services"})
        setup.disciplines.push_back({name, "Company", "#5F7E9E", setup.disciplines.empty(), {}, {}, {}});
    auto project = project::createProject(folder, "Marrowfield Seed Store", setup, kWho).value();
    Progress progress;
    for (int i = 0; i < 2; ++i) {
        project::NewDelivery d;
        d.discipline = setup.disciplines[static_cast<std::size_t>(i)].name;
        d.revision = "P01";
        d.time = kWho.time;
        d.models = {project::describeModel(files[i], progress).value()};
        const auto id = project->deliveries().add(d, kWho).value();
        if (!project::takeIn(*project, {id, {}, {}}, kWho))
            std::abort();
        project::StoredFit fit;
        fit.isAccepted = true;
        if (i > 0)
            (void)project->coordinates().setFit(d.discipline, fit, kWho);
    }
}

} // namespace

/// The clashes of two large models in the window: tested, gone through, decided, reported.
int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    WatchedApplication application(argc, argv);
    if (argc < 3) {
        std::fputs("usage: wendrix-bench-clash-stage ARCHITECTURE.ifc SERVICES.ifc\n", stderr);
        return 2;
    }
    app::theme::apply();
    const QTemporaryDir scratch;
    const std::filesystem::path folder = std::filesystem::path(scratch.path().toStdString()) / "p";
    make(folder, argv + 1);
    app::Session session("Bench");
    app::MainWindow window(session);
    window.show();
    QElapsedTimer timer;
    fmt::print("{:<60}{:>12}{:>13}{:>13}{:>13}\n", "in the window", "took", "events in all", "longest event", "frame");
    const auto timed = [&](const char* what, const std::function<void()>& work) {
        (void)application.takeLongest();
        timer.restart();
        work();
        waitIdle(session);
        application.report(what, static_cast<double>(timer.elapsed()) / 1000);
    };
    timed("opened", [&] { session.open(project::Project::open(folder).value()); });
    timed("models read", [&] { session.loadModels(); });
    while (!window.scene().isPickerReady())
        QApplication::processEvents(QEventLoop::WaitForMoreEvents, 50);
    timed("to Clashes", [&] { window.showStage(window.indexOf("Clashes")); });
    timed("tests run, and recorded", [&] { session.runTests(); });
    auto& list = *window.findChild<app::Worklist*>("clashes");
    fmt::print("{} elements, {} pairs, {} rows\n",
               session.workspace().members[0].model->elements().size() +
                   session.workspace().members[1].model->elements().size(),
               session.project().clashes().briefs().value().pairs.size(), list.model().rowCount());
    bench::settle(window);
    bench::turnClashPages(window, session, application, "", "Architecture", "Services");
    list.choose(list.model().idOf(0));
    waitIdle(session);
    bench::settle(window);
    timed("deciding a group", [&] {
        QKeyEvent event(QEvent::KeyPress, Qt::Key_L, Qt::NoModifier);
        QApplication::sendEvent(&window, &event);
    });
    timed("a report of 200 groups with pictures", [&] {
        QObject stage; // whose end would cancel it
        const project::ClashQuestion question;
        const project::ClashList all(session.project().clashes().briefs().value(), question);
        app::writeClashReport({session, window.scene(), *window.findChild<app::Details*>()}, &stage,
                              project::reportOf(session.project(), all, kWho).value(),
                              QString::fromStdString((folder / "report.html").string()),
                              [](const QString&) { return std::vector<view::GridLine>(); });
        waitIdle(session);
    });
    fmt::print("report of {:.1f} MB; peak memory {:.0f} MB\n",
               static_cast<double>(std::filesystem::file_size(folder / "report.html")) / 1e6, bench::peakMegabytes());
}
