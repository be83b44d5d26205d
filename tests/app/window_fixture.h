#pragma once

#include <QLabel>
#include <QPushButton>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>

#include "deliveries/register.h"
#include "shell/main_window.h"
#include "shell/session.h"
#include "shell/theme.h"

#include <memory>

namespace wendrix::test {

/// The real window on a project in a scratch folder, driven by clicks and keys.
class WindowFixture {
public:
    WindowFixture();
    ~WindowFixture();

    /// Makes the demo project, lets the second cycle arrive and loads the models.
    void openDemo();
    /// The project's folder opened anew, as after a crash.
    void openAgain();
    void waitIdle();

    [[nodiscard]] app::Session& session() { return *session_; }
    [[nodiscard]] project::Project& project() { return session_->project(); }
    [[nodiscard]] app::MainWindow& window() { return *window_; }
    [[nodiscard]] app::SceneView& scene() { return window_->scene(); }
    [[nodiscard]] QString folder() const { return folder_.path(); }

    void clickStage(const QString& title);
    [[nodiscard]] app::Worklist& list(const QString& title);
    [[nodiscard]] const app::RowModel& rows(const QString& title) { return list(title).model(); }
    void clickRow(const QString& title, int row);
    /// A button by its name, wherever it is now; false if there is none to see and press.
    [[nodiscard]] bool clickButton(const QString& name);
    void clickCard(project::DeliveryId id);
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier);
    /// All texts in the details panel, one a line.
    [[nodiscard]] QString details();
    [[nodiscard]] QString message();
    [[nodiscard]] QString selectionWords();
    /// A pixel of the scene as it is on the screen.
    [[nodiscard]] QColor pixel(QPoint at);

private:
    QTemporaryDir folder_;
    std::unique_ptr<app::Session> session_;
    std::unique_ptr<app::MainWindow> window_;
};

} // namespace wendrix::test
