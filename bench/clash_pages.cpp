#include "clash_pages.h"

#include "clashes/clash_bar.h"

#include <QKeyEvent>

namespace wendrix::bench {

namespace {

void press(app::MainWindow& window, Qt::Key key)
{
    QKeyEvent event(QEvent::KeyPress, key, Qt::NoModifier);
    QApplication::sendEvent(&window, &event);
}

double since(const QElapsedTimer& timer) { return static_cast<double>(timer.nsecsElapsed()) / 1e6; }

/// The next row: until the interface answers again, until something of it is seen, and until its picture is whole.
void goOn(app::MainWindow& window, app::Session& session, const std::string& suffix)
{
    auto& list = *window.findChild<app::Worklist*>("clashes");
    list.choose(list.model().idOf(0));
    waitIdle(session);
    double atOnce = 0, first = 0, slowestFirst = 0, drawn = 0, slowest = 0;
    constexpr int kSteps = 20;
    for (int i = 0; i < kSteps; ++i) {
        window.scene().finishMotion();
        settle(window);
        QElapsedTimer timer;
        timer.start();
        press(window, Qt::Key_J);
        atOnce = std::max(atOnce, since(timer));
        QApplication::processEvents(); // what was chosen is told, and the view is on its way to it
        first += since(timer) / kSteps;
        slowestFirst = std::max(slowestFirst, since(timer));
        window.scene().finishMotion();
        settle(window);
        drawn += since(timer) / kSteps;
        slowest = std::max(slowest, since(timer));
        waitIdle(session);
    }
    fmt::print(
        "{:<60}{:>10.1f} ms at once, its first picture after {:.0f} (slowest {:.0f}), the whole one without the way "
        "there after {:.0f} (slowest {:.0f})\n",
        "the next of them" + suffix, atOnce, first, slowestFirst, drawn, slowest);
}

} // namespace

void turnClashPages(app::MainWindow& window, app::Session& session, WatchedApplication& application,
                    const std::string& suffix, const std::string& discipline, const std::string& against)
{
    const auto timed = [&](const char* what, const std::function<void()>& work) {
        (void)application.takeLongest();
        QElapsedTimer timer;
        timer.start();
        work();
        waitIdle(session);
        QApplication::processEvents();
        application.report((what + suffix).c_str(), since(timer) / 1000);
    };
    for (const auto& [key, what] : {std::pair{Qt::Key_V, "the matrix"}, std::pair{Qt::Key_P, "the plan"},
                                    std::pair{Qt::Key_P, "and back to the pairs"}, std::pair{Qt::Key_T, "the tests"},
                                    std::pair{Qt::Key_T, "and back"}})
        timed(what, [&, pressed = key] { press(window, pressed); });
    for (int i = 0; i < 10; ++i)
        timed("put together in the next way", [&] { press(window, Qt::Key_G); });
    auto& bar = *window.findChild<app::ClashBar*>();
    timed("narrowed to one discipline", [&] { bar.narrowTo(discipline, ""); });
    timed("narrowed to two against each other", [&] { bar.narrowTo(discipline, against); });
    timed("narrowed no more", [&] { bar.clear(); });
    auto& list = *window.findChild<app::Worklist*>("clashes");
    timed("scrolled through all", [&] {
        for (int row = 0; row < list.model().rowCount(); row += 500) {
            list.view().scrollTo(list.model().index(row));
            QApplication::processEvents();
        }
    });
    goOn(window, session, suffix);
    (void)application.takeLongest();
}

} // namespace wendrix::bench
