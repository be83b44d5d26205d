#include "measure.h"
#include "watched_window.h"

#include "deliveries/register.h"
#include "shell/main_window.h"
#include "shell/session.h"
#include "shell/theme.h"

#include "core/project/receiving.h"
#include "core/project/setup.h"

#include <fmt/format.h>

#include <QApplication>
#include <QKeyEvent>
#include <QTemporaryDir>
#include <QTimer>

#include <fstream>

using namespace wendrix;
using bench::settle;
using bench::waitIdle;
using bench::WatchedApplication;

/// The window's answers under load: a register of 12 disciplines, 30 cycles and 2 000 deliveries, and a large file that
/// is received, looked into, given up and taken in, with the longest stall of the interface thread in each; then what
/// is held in memory after taking it in and undoing that again and again.
int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    WatchedApplication application(argc, argv);
    if (argc < 3) {
        std::fputs("usage: wendrix-bench-window LARGE.ifc DEMO-DATA\n", stderr);
        return 2;
    }
    app::theme::apply();
    const QTemporaryDir scratch;
    const std::filesystem::path folder = scratch.path().toStdString(), demo = argv[2];
    const WhoAndWhen who{"Bench", "2026-11-24T08:00:00Z"};
    Progress progress;

    constexpr int kDisciplines = 12, kCycles = 30, kDeliveries = 2000, kRounds = 60;
    {
        project::Setup setup;
        for (int d = 0; d < kDisciplines; ++d)
            setup.disciplines.push_back(
                {fmt::format("Discipline {:02}", d + 1), "Company", "#5F7E9E", d == 0, {}, {}, {}});
        auto project = project::createProject(folder / "register", "Register", setup, who).value();
        for (int i = 0; i < kDeliveries; ++i) {
            const std::filesystem::path file = folder / "one.ifc";
            std::ofstream(file) << i;
            project::NewDelivery d;
            d.discipline = setup.disciplines[static_cast<std::size_t>(i % kDisciplines)].name;
            d.revision = fmt::format("P{:03}", i / kDisciplines + 1);
            d.cycle = 1 + i * kCycles / kDeliveries;
            d.time = fmt::format("2026-{:02}-{:02}T08:00:00Z", 1 + i / 200, 1 + i % 28);
            d.models = {{file, {}, "IFC4", 100}};
            (void)project->deliveries().add(d, who);
        }
    }

    app::Session session("Bench");
    app::MainWindow window(session);
    window.show();
    QApplication::processEvents();
    fmt::print("{:<60}{:>12}{:>13}{:>13}\n", "in the window", "took", "longest event", "frame");
    QElapsedTimer timer;
    timer.start();
    session.open(project::Project::open(folder / "register").value());
    window.repaint();
    QApplication::processEvents();
    application.enterLoop();
    application.report(fmt::format("a register of {} x {} with {} opens", kDisciplines, kCycles, kDeliveries).c_str(),
                       static_cast<double>(timer.elapsed()) / 1000);
    auto& table = *window.findChild<app::Register*>("register");
    timer.restart();
    for (int i = 0; i < 200; ++i) {
        QKeyEvent key(QEvent::KeyPress, i % 40 < 20 ? Qt::Key_Left : Qt::Key_Down, Qt::NoModifier);
        QApplication::sendEvent(&table, &key);
        QApplication::processEvents();
    }
    application.report("200 steps from card to card", static_cast<double>(timer.elapsed()) / 1000);

    project::Setup setup;
    setup.disciplines = {{"Architecture", {}, "#C8A768", true, {}, {}, {}},
                         {"Piping", {}, "#8AA04F", false, {}, {}, {}}};
    auto project = project::createProject(folder / "large", "Large", setup, who).value();
    const auto receive = [&](const char* discipline, const char* revision, const std::filesystem::path& file,
                             const char* time) {
        project::NewDelivery d;
        d.discipline = discipline;
        d.revision = revision;
        d.models = {project::describeModel(file, progress).value()};
        d.time = time;
        return project->deliveries().add(d, who).value();
    };
    for (const auto id : {receive("Architecture", "P01", demo / "MSS-QMA-ARC-P01.ifc", "2026-10-01T08:00:00Z"),
                          receive("Piping", "P01", demo / "MSS-OPW-PIP-heating-P01.ifc", "2026-10-02T08:00:00Z")})
        (void)takeIn(*project, {id, {}, {}}, who);
    project.reset();
    session.open(project::Project::open(folder / "large").value());
    session.loadModels();
    waitIdle(session);
    settle(window);
    application.report("(opening two small models)", 0);

    project::NewDelivery arrived;
    arrived.discipline = "Piping";
    arrived.revision = "P02";
    arrived.time = "2026-10-03T08:00:00Z";
    arrived.models = {{argv[1], {}, {}, 0}};
    project::DeliveryId large = 0;
    QObject::connect(&session, &app::Session::received, [&](qint64 id) { large = id; });
    timer.restart();
    session.receive(arrived);
    waitIdle(session);
    application.report(
        fmt::format("receiving {:.0f} MB", static_cast<double>(std::filesystem::file_size(argv[1])) / 1e6).c_str(),
        static_cast<double>(timer.elapsed()) / 1000);

    std::size_t flashes = 0;
    QObject::connect(&window.scene(), &QOpenGLWidget::frameSwapped,
                     [&] { flashes += window.scene().members().empty() ? 1 : 0; });
    timer.restart();
    session.lookInside(large);
    QTimer::singleShot(1000, &session.jobs(), &app::Jobs::cancelAll);
    QElapsedTimer sinceCancel;
    QTimer::singleShot(1000, &session, [&] { sinceCancel.start(); });
    waitIdle(session);
    const qint64 answered = sinceCancel.isValid() ? sinceCancel.elapsed() : 0;
    application.report(fmt::format("looking inside, given up (answered in {} ms)", answered).c_str(),
                       static_cast<double>(timer.elapsed()) / 1000);
    timer.restart();
    session.lookInside(large);
    waitIdle(session);
    const double ready = static_cast<double>(timer.elapsed()) / 1000;
    settle(window);
    application.report("looking inside, until it is whole", ready);
    session.leaveInside();
    settle(window);
    application.report("back to the register", 0);
    timer.restart();
    session.takeIn(large);
    waitIdle(session);
    const double taken = static_cast<double>(timer.elapsed()) / 1000;
    settle(window);
    application.report("taking in, until the new one stands", taken);
    fmt::print("{} frames without a model meanwhile; {} elements in use\n", flashes,
               session.workspace().members.back().model->elements().size());

    // What is held of earlier revisions is bounded: back and forth again and again costs no more than once.
    for (int round = 1; round <= kRounds; ++round) {
        session.undo();
        waitIdle(session);
        settle(window);
        session.takeIn(large);
        waitIdle(session);
        settle(window);
        if (round == 1 || round % 20 == 0)
            fmt::print("held after undoing and taking in {} times: {:.0f} MB\n", round, bench::heldMegabytes());
    }
    return 0;
}
