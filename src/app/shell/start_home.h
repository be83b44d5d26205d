#pragma once

#include <QWidget>

#include "shell/recent_projects.h"

class QAbstractButton;
class QGridLayout;
class QLabel;
class QVBoxLayout;

namespace wendrix::app {

/// Where one begins: what can be begun, and the projects that were open before with their pictures.
class StartHome final : public QWidget {
    Q_OBJECT
public:
    explicit StartHome(QWidget* parent = nullptr);

    void setRecent(const QVector<RecentProjects::Entry>& entries);
    void setHasDemo(bool hasDemo);
    /// The project that is open under the start page; empty if none is.
    void setOpenProject(const QString& name);
    void takeFocus(); ///< to the project one had open last, or to a new one

signals:
    void newWanted();
    void openWanted();
    void demoWanted();
    void backWanted();
    void projectWanted(const QString& folder);

private:
    QAbstractButton *new_, *demo_, *back_;
    QWidget* recentBox_;
    QGridLayout* cards_;
    QLabel* empty_;
};

} // namespace wendrix::app
