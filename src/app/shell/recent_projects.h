#pragma once

#include <QDateTime>
#include <QString>
#include <QVector>

namespace wendrix::app {

/// Projects that were open before, the latest first; kept in the person's settings, never in a project.
class RecentProjects {
public:
    struct Entry {
        QString folder, name;
        QDateTime opened;
        bool isThere = true; ///< still a project
    };
    /// @param file  where they are kept; empty for the person's own settings
    explicit RecentProjects(QString file = {});

    [[nodiscard]] QVector<Entry> all() const;
    void note(const QString& folder, const QString& name);
    void forget(const QString& folder);
    /// The picture a project shows itself with.
    [[nodiscard]] static QString pictureOf(const QString& folder);

private:
    QString file_;
};

} // namespace wendrix::app
