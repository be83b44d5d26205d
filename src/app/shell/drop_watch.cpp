#include "shell/drop_watch.h"

#include "core/project/receiving.h"
#include "shell/drop_consent.h"
#include "shell/session.h"

#include <QThreadPool>

namespace wendrix::app {

namespace {

constexpr int kSoon = 2500;        // milliseconds; a file that is copied grows for a while
constexpr int kRegularly = 60'000; // where the file system does not tell, as over a network

} // namespace

DropWatch::DropWatch(Session& session, QObject* parent) : QObject(parent), session_(session)
{
    soon_.setSingleShot(true);
    soon_.setInterval(kSoon);
    regularly_.setInterval(kRegularly);
    connect(&soon_, &QTimer::timeout, this, &DropWatch::look);
    connect(&regularly_, &QTimer::timeout, this, &DropWatch::look);
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, [this] { soon_.start(); });
    connect(&session_, &Session::opened, this, &DropWatch::watch);
    connect(&session_, &Session::changed, this, [this](const project::Changed& what) {
        if (what.has(project::Book::Setup))
            watch();
    });
    regularly_.start();
}

/// What a look into the folders found, and of which project.
struct DropWatch::Found {
    std::string project;
    std::vector<project::Discipline> disciplines;
    std::vector<project::Arrived> arrived;
};

QString DropWatch::words() const
{
    if (!failed_.isEmpty())
        return failed_.size() == 1 ? "a file that arrived can not be read"
                                   : QString("%1 files that arrived can not be read").arg(failed_.size());
    if (!missing_.isEmpty())
        return missing_[0];
    if (!unwatched_.isEmpty())
        return unwatched_.size() == 1
                   ? QString("the drop folder of %1 is not watched on this computer").arg(unwatched_[0].first)
                   : QString("%1 drop folders are not watched on this computer").arg(unwatched_.size());
    return folders_ == 0   ? QString()
           : folders_ == 1 ? "watching 1 drop folder"
                           : QString("watching %1 drop folders").arg(folders_);
}

QStringList DropWatch::problems() const { return missing_ + failed_.values(); }

void DropWatch::watch()
{
    if (!watcher_.directories().isEmpty())
        watcher_.removePaths(watcher_.directories());
    folders_ = 0;
    missing_.clear();
    unwatched_.clear();
    if (!session_.hasProject()) {
        emit stateChanged();
        return;
    }
    if (project_ != session_.project().id()) {
        project_ = session_.project().id();
        seen_.clear();
        failed_.clear();
        soon_.start();
    }
    for (const project::Discipline& d : orNothing(session_.project().setup().disciplines())) {
        const auto folder = project::dropFolderOf(d, session_.project().folder());
        if (folder.empty())
            continue;
        if (!isWatchedHere(session_.project().folder(), folder)) {
            unwatched_.append({QString::fromStdString(d.name), QString::fromStdString(folder.string())});
            continue;
        }
        std::error_code error;
        if (!std::filesystem::is_directory(folder, error)) {
            missing_.append(QString("the drop folder of %1 is not there: %2")
                                .arg(QString::fromStdString(d.name), QString::fromStdString(folder.string())));
            continue;
        }
        ++folders_;
        if (watcher_.addPath(QString::fromStdString(folder.string())) && seen_.empty())
            soon_.start();
    }
    emit stateChanged();
}

void DropWatch::watchThem(const QStringList& folders)
{
    std::vector<std::filesystem::path> agreed;
    for (const auto& [discipline, folder] : unwatched_)
        if (folders.contains(folder))
            agreed.emplace_back(folder.toStdString());
    if (session_.hasProject())
        watchHere(session_.project().folder(), agreed);
    watch();
    soon_.start();
}

void DropWatch::look()
{
    if (!session_.hasProject() || session_.pastCycle() || isLooking_)
        return;
    if (session_.jobs().isBusy()) { // reading what arrived would slow down what a person waits for
        soon_.start();
        return;
    }
    if (!missing_.isEmpty()) // it may be there by now
        watch();
    if (folders_ == 0)
        return;
    isLooking_ = true;
    // A folder on a slow network may take its time.
    QThreadPool::globalInstance()->start(
        [this, found = Found{project_, orNothing(session_.project().setup().disciplines()), {}},
         folder = session_.project().folder(), seen = seen_]() mutable {
            std::erase_if(found.disciplines, [&](const project::Discipline& d) {
                return !isWatchedHere(folder, project::dropFolderOf(d, folder));
            });
            found.arrived = project::findArrived(found.disciplines, folder, seen);
            QMetaObject::invokeMethod(this, [this, found = std::move(found)] {
                isLooking_ = false;
                receive(found);
            });
        });
}

void DropWatch::receive(const Found& found)
{
    if (found.arrived.empty() || !session_.hasProject() || session_.project().id() != found.project)
        return;
    if (session_.jobs().isBusy(Jobs::Lane::Receiving) || session_.pastCycle()) { // it began meanwhile
        soon_.start();
        return;
    }
    for (const project::Arrived& one : found.arrived)
        for (const auto& file : one.models) {
            seen_.insert(project::seenFile(file));
            failed_.remove(QString::fromStdString(file.string()));
        }
    const project::Project& project = session_.project();
    session_.run(
        Jobs::Lane::Receiving, "Reading what arrived",
        [this, found, keep = session_.keeper(), deliveries = orNothing(project.deliveries().all()),
         folder = project.folder(), cycle = orNothing(project.deliveries().cycle()),
         who = session_.now()](Progress& progress) -> std::function<void()> {
            QStringList names;
            QMap<QString, QString> failed;
            for (project::NewDelivery& draft : project::deliveriesOf(found.arrived, found.disciplines, deliveries)) {
                draft.cycle = cycle;
                draft.time = who.time;
                const auto id = project::receiveDelivery(folder, draft, keep, progress);
                if (id)
                    names += QString::fromStdString(draft.discipline + " " + draft.revision);
                else if (!progress.isCancelled())
                    failed[QString::fromStdString(draft.models[0].file.string())] =
                        QString::fromStdString(id.error().inWords());
            }
            return [this, names, failed] {
                failed_.insert(failed);
                for (const QString& why : failed)
                    emit session_.said(why, true);
                if (!names.isEmpty())
                    session_.say(names.join(", ") + (names.size() == 1
                                                         ? " came in by its drop folder and waits to be taken in."
                                                         : " came in by their drop folders and wait to be taken in."));
                emit stateChanged();
            };
        });
    soon_.start(); // what was still being written
}

} // namespace wendrix::app
