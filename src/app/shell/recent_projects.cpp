#include "shell/recent_projects.h"

#include "core/base/file_name.h"
#include "core/project/project.h"

#include <QDir>
#include <QFileInfo>
#include <QSettings>
#include <QStandardPaths>

namespace wendrix::app {

namespace {

constexpr int kMost = 12;

} // namespace

RecentProjects::RecentProjects(QString file) : file_(std::move(file))
{
    if (file_.isEmpty())
        file_ = QStandardPaths::writableLocation(QStandardPaths::ConfigLocation) + "/wendrix/recent.ini";
}

QVector<RecentProjects::Entry> RecentProjects::all() const
{
    QSettings settings(file_, QSettings::IniFormat);
    QVector<Entry> list;
    const int n = std::min(settings.beginReadArray("projects"), kMost);
    for (int i = 0; i < n; ++i) {
        settings.setArrayIndex(i);
        Entry entry{settings.value("folder").toString(), settings.value("name").toString(),
                    settings.value("opened").toDateTime(), true};
        entry.isThere = project::Project::isProject(fileNamed(entry.folder.toStdString()));
        if (!entry.folder.isEmpty())
            list.append(entry);
    }
    return list;
}

void RecentProjects::note(const QString& folder, const QString& name)
{
    const QString place = QFileInfo(folder).absoluteFilePath();
    QVector<Entry> list = all();
    list.removeIf([&](const Entry& e) { return e.folder == place; });
    if (!name.isEmpty())
        list.prepend({place, name, QDateTime::currentDateTime(), true});
    QDir().mkpath(QFileInfo(file_).path());
    QSettings settings(file_, QSettings::IniFormat);
    settings.remove("projects");
    settings.beginWriteArray("projects", std::min<int>(kMost, static_cast<int>(list.size())));
    for (int i = 0; i < std::min<int>(kMost, static_cast<int>(list.size())); ++i) {
        settings.setArrayIndex(i);
        settings.setValue("folder", list[i].folder);
        settings.setValue("name", list[i].name);
        settings.setValue("opened", list[i].opened);
    }
    settings.endArray();
}

void RecentProjects::forget(const QString& folder) { note(folder, {}); }

QString RecentProjects::pictureOf(const QString& folder) { return folder + "/pictures/project.png"; }

} // namespace wendrix::app
