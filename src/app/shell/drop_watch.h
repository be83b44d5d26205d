#pragma once

#include <QFileSystemWatcher>
#include <QMap>
#include <QObject>
#include <QStringList>
#include <QTimer>
#include <QVector>

#include "core/project/drop_folders.h"

namespace wendrix::app {

class Session;

/// Watches those drop folders of the open project that this machine's person has agreed to, and receives what arrives
/// there by itself; it then waits in the register.
class DropWatch final : public QObject {
    Q_OBJECT
public:
    explicit DropWatch(Session& session, QObject* parent = nullptr);
    /// Looks now, or as soon as what runs has ended.
    void look();
    /// What there is to know: "watching 5 drop folders", or what stands against it.
    [[nodiscard]] QString words() const;
    [[nodiscard]] QStringList problems() const; ///< folders that are missing, files that could not be received
    /// What the project names and nobody here has agreed to, each with the discipline it is of.
    [[nodiscard]] const QVector<QPair<QString, QString>>& unwatched() const { return unwatched_; }
    /// This machine's person says that these are to be watched; those that the project does not name are left.
    void watchThem(const QStringList& folders);

signals:
    void stateChanged();

private:
    struct Found;
    void watch(); ///< the folders of the project that is open
    void receive(const Found& found);
    Session& session_;
    QFileSystemWatcher watcher_;
    QTimer soon_, regularly_;
    project::SeenFiles seen_;
    std::string project_;
    bool isLooking_ = false;
    int folders_ = 0;
    QStringList missing_;
    QVector<QPair<QString, QString>> unwatched_;
    QMap<QString, QString> failed_; ///< by file: why
};

} // namespace wendrix::app
