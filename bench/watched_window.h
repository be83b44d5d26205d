#pragma once

#include "shell/main_window.h"
#include "shell/session.h"
#include "shell/theme.h"

#include <fmt/format.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QTimer>

namespace wendrix::bench {

/// Watches the interface thread: how long it ever stays with one event, so that no other is answered meanwhile.
class WatchedApplication final : public QApplication {
public:
    using QApplication::QApplication;

    bool notify(QObject* receiver, QEvent* event) override
    {
        if (isInside_) // a part of the event that is being timed
            return QApplication::notify(receiver, event);
        isInside_ = true;
        QElapsedTimer timer;
        timer.start();
        const QString name = receiver->metaObject()->className();
        const int type = event->type();
        const bool result = QApplication::notify(receiver, event);
        const double took = static_cast<double>(timer.nsecsElapsed()) / 1e6;
        // A frame drawn by software takes as long as it takes; everything else is ours.
        if (type == QEvent::UpdateRequest || type == QEvent::Paint) {
            frame_ = std::max(frame_, took);
        } else {
            events_ += took;
            if (took > longest_) {
                longest_ = took;
                where_ = name.toStdString() + fmt::format(", event {}", type);
            }
        }
        isInside_ = false;
        return result;
    }
    void report(const char* what, double seconds)
    {
        fmt::print("{:<60}{:>10.2f} s{:>10.0f} ms{:>10.1f} ms{:>10.0f} ms   {}\n", what, seconds, events_, longest_,
                   frame_, where_);
        std::fflush(stdout);
        longest_ = frame_ = events_ = 0;
    }
    /// The longest event since this was asked last, in milliseconds.
    double takeLongest()
    {
        frame_ = events_ = 0;
        return std::exchange(longest_, 0.0);
    }
    /// Events of a nested loop count by themselves.
    void enterLoop() { isInside_ = false; }

private:
    bool isInside_ = false;
    double longest_ = 0, frame_ = 0, events_ = 0;
    std::string where_;
};

inline void waitIdle(app::Session& session)
{
    while (session.isBusy()) {
        QEventLoop loop;
        QObject::connect(&session, &app::Session::idle, &loop, &QEventLoop::quit);
        loop.exec();
    }
}

/// Until nothing waits any more and a whole frame is on the screen.
inline void settle(app::MainWindow& window)
{
    QEventLoop loop;
    QTimer::singleShot(30'000, &loop, &QEventLoop::quit);
    const auto connection = QObject::connect(&window.scene(), &app::SceneView::drawnWhole, &loop, &QEventLoop::quit);
    window.scene().update();
    loop.exec();
    QObject::disconnect(connection);
}

} // namespace wendrix::bench
