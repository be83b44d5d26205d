#include "shell/person.h"

#include <QSettings>
#include <QStandardPaths>

#include <pwd.h>
#include <unistd.h>

namespace wendrix::app {

namespace {

QString settingsFile()
{
    return QStandardPaths::writableLocation(QStandardPaths::ConfigLocation) + "/wendrix/person.ini";
}

} // namespace

QString personName()
{
    if (const QString kept = QSettings(settingsFile(), QSettings::IniFormat).value("name").toString().trimmed();
        !kept.isEmpty())
        return kept;
    const passwd* entry = getpwuid(getuid());
    if (entry == nullptr)
        return "Somebody";
    const QString whole = QString::fromLocal8Bit(entry->pw_gecos).section(',', 0, 0).trimmed();
    return whole.isEmpty() ? QString::fromLocal8Bit(entry->pw_name) : whole;
}

void keepPersonName(const QString& name) { QSettings(settingsFile(), QSettings::IniFormat).setValue("name", name); }

} // namespace wendrix::app
