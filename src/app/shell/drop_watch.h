#pragma once

#include <QFileSystemWatcher>
#include <QObject>
#include <QTimer>

#include "core/project/drop_folders.h"

namespace wendrix::app {

class Session;

/// Watches the drop folders of the open project and receives what arrives there by itself; it then waits in the register.
class DropWatch final : public QObject {
    Q_OBJECT
public:
    explicit DropWatch(Session& session, QObject* parent = nullptr);
    /// Looks now, or as soon as what runs has ended.
    void look();

private:
    void watch(); ///< the folders of the project that is open
    Session& session_;
    QFileSystemWatcher watcher_;
    QTimer soon_, regularly_;
    project::SeenFiles seen_;
    std::string project_;
};

} // namespace wendrix::app
