#include "issue_pages.h"

#include "issues/issues_bar.h"

#include <QAbstractButton>
#include <QKeyEvent>
#include <QLineEdit>

namespace wendrix::bench {

void turnIssuePages(app::MainWindow& window, app::Session& session, WatchedApplication& application,
                    const std::string& suffix)
{
    const auto press = [&](Qt::Key key) {
        QKeyEvent event(QEvent::KeyPress, key, Qt::NoModifier);
        QApplication::sendEvent(&window, &event);
    };
    const auto timed = [&](const char* what, const std::function<void()>& work) {
        (void)application.takeLongest();
        QElapsedTimer timer;
        timer.start();
        work();
        QApplication::processEvents(); // what a button does comes behind its click
        waitIdle(session);
        QApplication::processEvents();
        application.report((what + suffix).c_str(), static_cast<double>(timer.nsecsElapsed()) / 1e9);
    };
    window.showStage(window.indexOf("Issues"));
    waitIdle(session);
    auto& list = *window.findChild<app::Worklist*>("issues");
    auto& bar = *window.findChild<app::IssuesBar*>();
    auto& words = *window.findChild<QLineEdit*>("searchIssues");
    auto& line = *window.findChild<QLineEdit*>("narrowIssues");
    timed("issues that say \"duct 99\"", [&] { words.setText("duct 99"); });
    timed("and no words", [&] { words.clear(); });
    timed("a comment's words", [&] { words.setText("comment 4711"); });
    words.clear();
    waitIdle(session);
    timed("narrowed by a line", [&] { line.setText("priority is Normal and not assignee is \"Discipline 1\""); });
    timed("narrowed no more", [&] { line.clear(); });
    project::IssueQuestion question;
    for (const auto& [grouping, what] : {std::pair{project::IssueGrouping::Storey, "grouped by storey"},
                                         std::pair{project::IssueGrouping::Due, "grouped by due date"},
                                         std::pair{project::IssueGrouping::None, "grouped no more"}})
        timed(what, [&, g = grouping] {
            question.grouping = g;
            bar.setQuestion(question);
            emit bar.changed();
        });
    timed("scrolled through all", [&] {
        for (int row = 0; row < list.model().rowCount(); row += 200) {
            list.view().scrollTo(list.model().index(row));
            QApplication::processEvents();
        }
    });
    list.choose(list.model().idOf(0));
    waitIdle(session);
    double slowest = 0;
    for (int i = 0; i < 30; ++i) {
        QElapsedTimer timer;
        timer.start();
        press(Qt::Key_J);
        slowest = std::max(slowest, static_cast<double>(timer.nsecsElapsed()) / 1e6);
        waitIdle(session);
    }
    fmt::print("{:<60}{:>10.1f} ms\n", "the next issue, slowest of 30 at once" + suffix, slowest);
    timed("closing one with its evidence", [&] { press(Qt::Key_X); });
    timed("undoing it", [&] { session.undo(); });
    for (const auto& [key, what] : {std::pair{Qt::Key_V, "the board"}, std::pair{Qt::Key_V, "and back to the list"},
                                    std::pair{Qt::Key_D, "the days"}, std::pair{Qt::Key_D, "and back"},
                                    std::pair{Qt::Key_A, "what is agreed"}, std::pair{Qt::Key_A, "and back"}})
        timed(what, [&, pressed = key] { press(pressed); });
    timed("a thousand are chosen", [&] {
        list.view().selectionModel()->select(QItemSelection(list.model().index(0), list.model().index(999)),
                                             QItemSelectionModel::ClearAndSelect);
        QApplication::processEvents();
    });
    if (auto* move = window.findChild<QAbstractButton*>("moveAll:In progress")) {
        timed("a thousand in progress", [&] { move->click(); });
        timed("undoing that", [&] { session.undo(); });
    }
    list.view().selectionModel()->select(QItemSelection(list.model().index(0), list.model().index(999)),
                                         QItemSelectionModel::ClearAndSelect);
    waitIdle(session);
    timed("asking the models about a thousand", [&] { press(Qt::Key_X); });
    list.view().clearSelection();
    waitIdle(session);
    (void)application.takeLongest();
}

} // namespace wendrix::bench
