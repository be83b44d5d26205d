#include "clash_pages.h"
#include "issue_pages.h"
#include "measure.h"
#include "watched_window.h"

#include "core/base/file.h"
#include "core/base/guid.h"
#include "core/federation/member_cache.h"
#include "core/project/issue_making.h"
#include "core/project/receiving.h"
#include "core/project/setup.h"
#include "core/project/taking_in.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QTemporaryDir>

#include <fstream>
#include <random>

using namespace wendrix;
using bench::waitIdle;
using bench::WatchedApplication;

namespace {

constexpr int kDisciplines = 5, kTeams = 6, // one of them with a small model, for what arrives
    kDeliveries = 300, kPairs = 50'000, kIssues = 10'000, kComments = 50'000;
const WhoAndWhen kWho{"Bench", "2026-11-24T08:00:00Z"};

std::string disciplineOf(int i) { return fmt::format("Discipline {}", i + 1); }

/// Five members that are the same file with another first line, small deliveries beside them, and what months of work
/// leave.
void make(const std::filesystem::path& folder, const std::filesystem::path& large, const std::filesystem::path& small)
{
    project::Setup setup;
    for (int i = 0; i < kTeams; ++i)
        setup.disciplines.push_back({disciplineOf(i), "Company", "#5F7E9E", i == 0, {}, {}, {}});
    auto project = project::createProject(folder, "Marrowfield Seed Store", setup, kWho).value();
    Progress progress;
    std::vector<ElementRef> elements[kTeams];
    for (int i = 0; i < kDeliveries; ++i) {
        const bool isLarge = i < kTeams;
        const std::filesystem::path file = folder / fmt::format("{}.ifc", i);
        if (isLarge) {
            std::ofstream(file) << "ISO-10303-21; /* " << i << " */\n"
                                << std::ifstream(i < kDisciplines ? large : small).rdbuf();
            // The first words of the model itself are there already.
            std::string text = readFileWhole(file, std::uint64_t{4} << 30).value();
            text.erase(text.find("ISO-10303-21;", 5), 13);
            std::ofstream(file, std::ios::trunc) << text;
        } else {
            std::ofstream(file) << i;
        }
        project::NewDelivery d;
        d.discipline = disciplineOf(i % kTeams);
        d.revision = fmt::format("P{:02}", i / kTeams + 1);
        d.cycle = 1 + i / 20;
        d.time = fmt::format("2026-{:02}-{:02}T08:{:02}:00Z", isLarge ? 11 : 1 + i / 40, 1 + i % 28, i % 60);
        d.models = {{file, {}, "IFC4", 1}};
        const auto id = project->deliveries().add(d, kWho).value();
        std::filesystem::remove(file);
        if (!isLarge)
            continue;
        const auto delivery = project->deliveries().get(id).value();
        const auto member = federation::openMember(project->deliveries().fileOf(delivery.models()[0]), delivery.sha256,
                                                   {}, federation::MemberCache(folder / "cache"), progress)
                                .value();
        for (ifc::ElementIndex e = 0; e < member.model->elements().size(); e += 7)
            elements[i].push_back({i + 1, "", member.model->elements()[e].guid, 0});
        if (!project::takeIn(*project, {id, {}, {}}, kWho))
            std::abort();
        project::StoredFit fit;
        fit.isAccepted = true;
        fit.fit.translation = {5000.0 * i, 0, 0}; // beside each other: what is measured is the window, not the tests
        (void)project->coordinates().setFit(d.discipline, fit, kWho);
    }
    std::mt19937 random(1);
    project::NewRun run;
    for (int i = 0; i < kDisciplines; ++i)
        run.members.push_back({i + 1, disciplineOf(i), "P01", "", i + 1, {}, true, ""});
    std::map<std::pair<int, int>, std::uint32_t> tests;
    for (int a = 0; a < kDisciplines; ++a)
        for (int b = a + 1; b < kDisciplines; ++b) {
            tests[{a, b}] = static_cast<std::uint32_t>(run.tests.size());
            project::RunTest& made = run.tests.emplace_back();
            made.test.name = disciplineOf(a) + " × " + disciplineOf(b);
            made.test.left = clash::lineOfDiscipline(disciplineOf(a));
            made.test.right = clash::lineOfDiscipline(disciplineOf(b));
        }
    std::map<std::pair<int, std::size_t>, std::uint32_t> known;
    const auto element = [&](int discipline) {
        // A few elements cause most pairs, as in real models.
        const std::size_t n = elements[discipline].size(), e = (random() % n) * (random() % n) / n;
        const auto [at, isNew] = known.try_emplace({discipline, e}, static_cast<std::uint32_t>(run.elements.size()));
        if (isNew)
            run.elements.push_back(
                {elements[discipline][e], fmt::format("Duct {}-{}", discipline, e), "IfcDuctSegment"});
        return at->second;
    };
    std::set<std::pair<std::uint32_t, std::uint32_t>> pairs;
    while (pairs.size() < kPairs) {
        const int a = static_cast<int>(random() % kDisciplines), b = static_cast<int>(random() % kDisciplines);
        if (a >= b)
            continue;
        const auto left = element(a), right = element(b);
        if (pairs.insert({left, right}).second)
            run.findings.push_back({tests[{a, b}],
                                    left,
                                    right,
                                    0.001 * static_cast<double>(random() % 300),
                                    {1, 2, 3},
                                    fmt::format("Level {}", random() % 8),
                                    "B-C / 4",
                                    false});
    }
    const auto recorded = bench::milliseconds(1, [&] { (void)project::recordRun(*project, run, kWho).value(); });
    const auto again = bench::milliseconds(1, [&] { (void)project::recordRun(*project, run, kWho).value(); });
    fmt::print("recording a run of {} pairs: {:.0f} ms, the same again {:.0f} ms\n", kPairs, recorded, again);
    const auto all = project->clashes().briefs().value().pairs;
    std::vector<std::string> uuids;
    (void)project->together("Issues", kWho, [&]() -> Result<void> {
        for (int i = 0; i < kIssues; ++i) {
            issues::Issue issue;
            issue.uuid = newUuid();
            issue.title = fmt::format("Lower the duct {} under the beam", i);
            issue.assignee = disciplineOf(i % kDisciplines);
            issue.priority = "Normal";
            issue.dueAt = "2026-12-01T00:00:00Z";
            const project::PairId own[] = {all[static_cast<std::size_t>(2 * i)].id};
            if (auto made = project::makeIssue(*project, issue, own, kWho); !made)
                return fail(made.error());
            uuids.push_back(issue.uuid);
        }
        for (int i = 0; i < kComments; ++i)
            if (auto done = project->issues().addComment(uuids[static_cast<std::size_t>(i) % uuids.size()],
                                                         fmt::format("Comment {}", i), kWho);
                !done)
                return done;
        return {};
    });
}

} // namespace

/// The whole window on a project of the size that is designed for: five members, 300 deliveries, 50 000 pairs, 10 000
/// issues with 50 000 comments; and a large delivery that is received and taken in beside all that.
int main(int argc, char** argv)
{
    app::setSurfaceFormat();
    WatchedApplication application(argc, argv);
    if (argc < 4) {
        std::fputs("usage: wendrix-bench-project MODEL.ifc ARRIVING.ifc SMALL.ifc\n", stderr);
        return 2;
    }
    app::theme::apply();
    const QTemporaryDir scratch;
    const std::filesystem::path folder = std::filesystem::path(scratch.path().toStdString()) / "p";
    make(folder, argv[1], argv[3]);
    fmt::print("peak memory while it was made: {:.0f} MB\n", bench::peakMegabytes());

    app::Session session("Bench");
    app::MainWindow window(session);
    window.show();
    QApplication::processEvents();
    QElapsedTimer timer;
    timer.start();
    const auto seconds = [&] { return static_cast<double>(timer.elapsed()) / 1000; };
    fmt::print("{:<60}{:>12}{:>13}{:>13}{:>13}\n", "in the window", "took", "events in all", "longest event", "frame");
    session.open(project::Project::open(folder).value());
    window.repaint();
    QApplication::processEvents();
    waitIdle(session);
    application.report("to the first usable screen", seconds());

    auto stage = [&](const char* name) { return window.indexOf(name); };
    const auto toStage = [&](const char* name) {
        timer.restart();
        window.showStage(stage(name));
        const double at = static_cast<double>(timer.nsecsElapsed()) / 1e6;
        waitIdle(session);
        application.report(fmt::format("to {} ({:.0f} ms to be there, then its list)", name, at).c_str(), seconds());
    };
    const auto press = [&](Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        QKeyEvent event(QEvent::KeyPress, key, modifiers);
        QApplication::sendEvent(&window, &event);
    };
    const auto work = [&](const char* suffix) {
        for (const char* name :
             {"Clashes", "Issues", "Changes", "Coordinates", "Deliveries", "Clashes", "Issues", "Clashes"})
            toStage(name);
        auto& list = *window.findChild<app::Worklist*>("clashes");
        list.choose(list.model().idOf(1));
        waitIdle(session);
        QApplication::processEvents();
        (void)application.takeLongest();
        // One decides when one has seen it: the view has arrived and is drawn.
        const auto rest = [&] {
            window.scene().finishMotion();
            bench::settle(window);
            bench::settle(window);         // and what that brought about
            QApplication::processEvents(); // with its last frame
            (void)application.takeLongest();
        };
        const auto decide = [&](const char* what) {
            rest();
            timer.restart();
            press(Qt::Key_L);
            const double atOnce = static_cast<double>(timer.nsecsElapsed()) / 1e6;
            waitIdle(session);
            application.report(fmt::format("{}{} ({:.1f} ms at once)", what, suffix, atOnce).c_str(), seconds());
            rest();
            timer.restart();
            session.undo();
            waitIdle(session);
            application.report(fmt::format("undoing it{}", suffix).c_str(), seconds());
        };
        decide("deciding one pair");
        int rows = 0;
        std::size_t pairs = 0;
        for (; rows < list.model().rowCount() && pairs < 5000; ++rows)
            pairs += list.model().row(rows).level == 0 ? list.model().row(rows).right.section(' ', 0, 0).toULong() : 0;
        list.view().selectionModel()->select(QItemSelection(list.model().index(0), list.model().index(rows - 1)),
                                             QItemSelectionModel::ClearAndSelect);
        QApplication::processEvents();
        waitIdle(session);
        decide(fmt::format("deciding {} pairs", pairs).c_str());
        list.view().clearSelection();
        bench::turnClashPages(window, session, application, suffix, disciplineOf(0), disciplineOf(1));
        bench::turnIssuePages(window, session, application, suffix);
        window.showStage(stage("Clashes"));
        waitIdle(session);
        auto* field = window.findChild<QLineEdit*>("goTo");
        double slowest = 0;
        for (const char* words : {"duct 3", "MSS-99", "discipline", "lower the"}) {
            field->clear();
            for (const char* c = words; *c != '\0'; ++c) {
                timer.restart();
                QKeyEvent event(QEvent::KeyPress, 0, Qt::NoModifier, QString(QChar(*c)));
                QApplication::sendEvent(field, &event);
                slowest = std::max(slowest, static_cast<double>(timer.nsecsElapsed()) / 1e6);
            }
        }
        field->clear();
        fmt::print("{:<60}{:>10.1f} ms\n", fmt::format("slowest key in Ctrl+K{}", suffix), slowest);
        waitIdle(session);
        (void)application.takeLongest();
    };
    work(", no model yet");

    timer.restart();
    window.showStage(stage("Deliveries"));
    session.loadModels();
    waitIdle(session);
    std::size_t elements = 0;
    for (const auto& member : session.workspace().members)
        elements += member.model->elements().size();
    application.report(fmt::format("{} elements from the cache", elements).c_str(), seconds());
    // What is made beside: what finds elements under the cursor, and the names to search.
    bool areNamesThere = false;
    QObject::connect(&window, &app::MainWindow::namesNoted, [&] { areNamesThere = true; });
    while (!window.scene().isPickerReady() || !areNamesThere)
        QApplication::processEvents(QEventLoop::WaitForMoreEvents, 50);
    application.report("and what is made of them beside", seconds());
    work("");

    project::NewDelivery arrived;
    arrived.discipline = disciplineOf(kDisciplines);
    arrived.revision = "P99";
    arrived.time = "2026-12-03T08:00:00Z";
    arrived.models = {{argv[2], {}, {}, 0}};
    project::DeliveryId large = 0;
    QObject::connect(&session, &app::Session::received, [&](qint64 id) { large = id; });
    timer.restart();
    session.receive(arrived);
    waitIdle(session);
    application.report(
        fmt::format("receiving {:.0f} MB", static_cast<double>(std::filesystem::file_size(argv[2])) / 1e6).c_str(),
        seconds());
    window.showStage(stage("Clashes"));
    timer.restart();
    session.takeIn(large);
    // Somebody goes on deciding meanwhile.
    auto& list = *window.findChild<app::Worklist*>("clashes");
    QTimer deciding;
    int decided = 0;
    QObject::connect(&deciding, &QTimer::timeout, [&] {
        if (list.model().rowCount() > 0 && list.chosen().isEmpty())
            list.choose(list.model().idOf(0));
        press(Qt::Key_L);
        ++decided;
    });
    deciding.start(500);
    while (session.jobs().isBusy())
        QApplication::processEvents(QEventLoop::WaitForMoreEvents);
    deciding.stop();
    waitIdle(session);
    application.report(fmt::format("taking it in, {} decisions meanwhile", decided).c_str(), seconds());
    fmt::print("peak memory: {:.0f} MB\n", bench::peakMegabytes());
}
