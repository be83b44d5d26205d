#include "shell/drop_watch.h"

#include "core/base/hash.h"
#include "core/project/proposal.h"
#include "shell/session.h"

#include <algorithm>

namespace wendrix::app {

namespace {

constexpr int kSoon = 2500;       // milliseconds; a file that is copied grows for a while
constexpr int kRegularly = 60'000; // where the file system does not tell, as over a network

using Received = std::vector<Result<project::NewDelivery>>;

/// What arrived, without what is there already, described so that it can be kept.
Received describe(const std::vector<project::Arrived>& arrived, const std::vector<project::Discipline>& disciplines, std::vector<project::Delivery> deliveries,
                  Progress& progress)
{
    Received received;
    for (const project::Arrived& one : arrived) {
        project::NewDelivery d;
        Result<void> problem;
        for (const auto& file : one.models) {
            const auto sum = sha256OfFile(file);
            const bool isKnown = sum && std::any_of(deliveries.begin(), deliveries.end(), [&](const project::Delivery& x) {
                const auto models = x.models();
                return std::any_of(models.begin(), models.end(), [&](const project::ModelFile& m) { return m.sha256 == *sum; });
            });
            if (isKnown)
                continue;
            auto model = project::describeModel(file, progress);
            if (!model)
                problem = wendrix::fail(model.error());
            else
                d.models.push_back(std::move(*model));
        }
        if (!problem)
            received.push_back(wendrix::fail(problem.error()));
        if (!problem || d.models.empty())
            continue;
        const auto signs = project::signsOf(d.models[0].file);
        project::FileSigns read = signs ? *signs : project::FileSigns{d.models[0].file.filename().string(), {}, {}, {}, {}, {}};
        auto proposal = project::proposeDelivery(read, disciplines, deliveries);
        if (proposal.discipline != one.discipline) { // the folder says whose it is; then the revision is of that one
            std::vector<project::Delivery> own;
            std::copy_if(deliveries.begin(), deliveries.end(), std::back_inserter(own), [&](const auto& x) { return x.discipline == one.discipline; });
            const std::string inName = project::revisionIn(read.fileName), said = inName.empty() ? project::revisionIn(read.headerName) : inName;
            const bool isTaken = std::any_of(own.begin(), own.end(), [&](const auto& x) { return x.revision == said; });
            proposal.revision = said.empty() || isTaken ? project::nextRevision(one.discipline, own) : said;
        }
        d.discipline = one.discipline;
        d.revision = proposal.revision;
        d.title = proposal.title;
        d.suitability = proposal.suitability;
        d.documents = one.documents;
        for (const project::Discipline& x : disciplines)
            if (x.name == one.discipline)
                d.sender = x.company.empty() ? proposal.sender : x.company;
        d.note = "Came in by its drop folder.";
        project::Delivery taken; // the next one of this team must not propose the same
        taken.discipline = d.discipline;
        taken.revision = d.revision;
        taken.fileName = read.fileName;
        deliveries.push_back(taken);
        received.push_back(std::move(d));
    }
    return received;
}

} // namespace

DropWatch::DropWatch(Session& session, QObject* parent) : QObject(parent), session_(session)
{
    soon_.setSingleShot(true);
    soon_.setInterval(kSoon);
    regularly_.setInterval(kRegularly);
    connect(&soon_, &QTimer::timeout, this, &DropWatch::look);
    connect(&regularly_, &QTimer::timeout, this, &DropWatch::look);
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, [this] { soon_.start(); });
    connect(&session_, &Session::projectChanged, this, &DropWatch::watch);
    regularly_.start();
}

void DropWatch::watch()
{
    if (!watcher_.directories().isEmpty())
        watcher_.removePaths(watcher_.directories());
    if (!session_.hasProject())
        return;
    if (project_ != session_.project().id()) {
        project_ = session_.project().id();
        seen_.clear();
        soon_.start();
    }
    for (const project::Discipline& d : session_.project().disciplines())
        if (const auto folder = project::dropFolderOf(d, session_.project().folder()); !folder.empty() && std::filesystem::is_directory(folder))
            if (watcher_.addPath(QString::fromStdString(folder.string())) && seen_.empty())
                soon_.start();
}

void DropWatch::look()
{
    if (!session_.hasProject() || session_.pastCycle())
        return;
    const auto disciplines = session_.project().disciplines();
    if (std::all_of(disciplines.begin(), disciplines.end(), [](const auto& d) { return d.dropFolder.empty(); }))
        return;
    if (session_.isBusy()) {
        soon_.start();
        return;
    }
    const auto arrived = project::findArrived(disciplines, session_.project().folder(), seen_);
    if (arrived.empty())
        return;
    for (const project::Arrived& one : arrived)
        for (const auto& file : one.models)
            seen_.insert(project::seenFile(file));
    session_.run("Reading what arrived", [this, arrived, disciplines, deliveries = session_.project().deliveries()](Progress& progress) -> std::function<void()> {
        auto received = describe(arrived, disciplines, deliveries, progress);
        return [this, received = std::move(received)] {
            for (const auto& one : received) {
                if (!one) {
                    session_.apply(wendrix::fail(one.error()));
                    continue;
                }
                project::NewDelivery d = *one;
                d.cycle = session_.project().cycle();
                d.time = session_.now().time;
                if (const auto id = session_.project().addDelivery(d, session_.now()); !id)
                    session_.apply(wendrix::fail(id.error()));
                else
                    session_.apply({}, QString::fromStdString(d.discipline + " " + d.revision + " came in by its drop folder and waits to be taken in."));
            }
        };
    });
    soon_.start(); // what was still being written
}

} // namespace wendrix::app
