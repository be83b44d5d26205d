#include "shell/drop_consent.h"

#include <QSettings>
#include <QStandardPaths>

namespace wendrix::app {

namespace {

constexpr qsizetype kMostKept = 1000;
const QString kKey = "watched";

QSettings settings()
{
    return QSettings(QStandardPaths::writableLocation(QStandardPaths::ConfigLocation) + "/wendrix/drop_folders.ini",
                     QSettings::IniFormat);
}

/// Both places, since another project may name the same folder.
QString entryOf(const std::filesystem::path& project, const std::filesystem::path& dropFolder)
{
    const auto place = [](const std::filesystem::path& path) {
        std::error_code code;
        const auto whole = std::filesystem::weakly_canonical(path, code);
        return QString::fromUtf8(QByteArray::fromStdString((code ? path : whole).string()).toPercentEncoding("/ "));
    };
    return place(project) + " < " + place(dropFolder);
}

} // namespace

bool isWatchedHere(const std::filesystem::path& project, const std::filesystem::path& dropFolder)
{
    return settings().value(kKey).toStringList().contains(entryOf(project, dropFolder));
}

void watchHere(const std::filesystem::path& project, const std::vector<std::filesystem::path>& dropFolders)
{
    QSettings kept = settings();
    QStringList all = kept.value(kKey).toStringList();
    for (const auto& folder : dropFolders) {
        const QString entry = entryOf(project, folder);
        all.removeAll(entry);
        all.append(entry);
    }
    kept.setValue(kKey, all.mid(std::max<qsizetype>(0, all.size() - kMostKept)));
}

} // namespace wendrix::app
