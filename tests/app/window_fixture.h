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
#include "support/must.h"

#include <memory>

namespace wendrix::test {

/// The real window on a project in a scratch folder, driven by clicks and keys.
class WindowFixture {
public:
    WindowFixture();
    ~WindowFixture();

    /// Makes the demo project, lets the cycles up to the last one arrive and loads the models.
    void openDemo(int lastCycle = 2);
    /// The project's folder opened anew, as after a crash.
    void openAgain();
    void waitIdle();

    [[nodiscard]] app::Session& session() { return *session_; }
    [[nodiscard]] const project::Project& project() { return session_->project(); }
    /// Does something to the project as a screen would, and waits until everybody has heard of it. @return whether it
    /// went well
    [[nodiscard]] bool change(std::function<Result<void>(project::Project&)> command);
    /// Until what was asked is answered, what was written is kept, and what that queues is done.
    void settle();
    [[nodiscard]] app::MainWindow& window() { return *window_; }
    [[nodiscard]] app::SceneView& scene() { return window_->scene(); }
    [[nodiscard]] QString folder() const { return folder_.path(); }

    void clickStage(const QString& title);
    /// Of a stage, or of a page of one, by its name.
    [[nodiscard]] app::Worklist& list(const QString& title);
    [[nodiscard]] const app::RowModel& rows(const QString& title) { return list(title).model(); }
    void clickRow(const QString& title, int row);
    /// A button by its name, wherever it is now; false if there is none to see and press.
    [[nodiscard]] bool clickButton(const QString& name);
    void clickCard(project::DeliveryId id);
    /// Drops files onto the register.
    void drop(const QStringList& files);
    void dropUrls(const QList<QUrl>& urls);
    /// A file of the demo under a name in the fixture's folder, with other bytes in its header unless `more` is empty,
    /// last changed a minute ago. @return its path
    QString copyOf(const QString& demoFile, const QString& name, const QByteArray& more = "/* another export */\n");
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier);
    /// Answers the next file dialog with a file (or several), as soon as it is up. @return whether it was asked, later
    [[nodiscard]] std::shared_ptr<bool> answerFileDialog(const QStringList& files);
    /// Presses F1. @return the text of this page of the help, if it is the one that is open
    [[nodiscard]] QString help(const QString& page);
    [[nodiscard]] project::Delivery delivery(const QString& name);
    /// A field of a form by its name; it must be there.
    template <class Field>
    [[nodiscard]] Field& field(const QString& name)
    {
        auto* found = window_->findChild<Field*>(name);
        if (found == nullptr)
            qFatal("no field %s", qPrintable(name));
        return *found;
    }
    /// Another text in a field of one line, as a person writes it.
    void type(const QString& field, const QString& text);
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
