#pragma once

#include <QWidget>

#include <filesystem>

#include "shell/recent_projects.h"
#include "shell/session.h"

class QLabel;
class QLineEdit;
class QPushButton;
class QStackedWidget;

namespace wendrix::app {

class SetupForm;
class StartHome;

/// Where one begins: projects that were open before with their pictures, a new one, another one, the demo; and the page
/// on which a project is set up, new or there already.
class StartPage final : public QWidget {
    Q_OBJECT
public:
    StartPage(Session& session, QWidget* parent = nullptr);
    /// The sample deliveries; where they are not found the demo can not be opened.
    void setDemoData(const QString& folder);
    void setRecent(const RecentProjects& recent);

    void showHome();
    void showNew();
    /// Setting up the project that is open.
    void showSetup();
    void openFolder(const QString& folder);
    void openDemo(const QString& folder);
    void say(const QString& words, bool isProblem);
    [[nodiscard]] QString words() const; ///< what was said last

signals:
    void left(); ///< back to the project that is open

private:
    /// Beside the interface thread; says what is done, and why where it can not be.
    void open(const QString& what, const QString& folder, Session::Opening opening);
    /// Offers the backups of a project that can not be opened.
    void offerBackups(const QString& folder);
    /// What was filled in by hand is meant to be watched.
    void agreeToFolders(const std::filesystem::path& project);
    void create();
    void keepSetup();
    void loadTemplate();
    void saveTemplate();

    Session& session_;
    RecentProjects recent_;
    QString demoData_;
    QStackedWidget* pages_;
    StartHome* home_;
    QLabel *words_, *setupTitle_;
    QPushButton* putBack_; ///< of a project that can not be opened: one of its backups
    SetupForm* form_;
    QLineEdit *name_, *folder_;
    QWidget* where_;
    QPushButton *create_, *back_, *save_;
    bool isSettingUp_ = false;
};

} // namespace wendrix::app
