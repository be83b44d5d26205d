#include "shell/session.h"

#include "core/base/text.h"
#include "core/project/demo_project.h"

#include <QCoreApplication>
#include <QThreadPool>

namespace wendrix::app {

namespace {

QString words(const Error& error) { return QString::fromStdString(error.inWords()); }

} // namespace

Session::Session(QString person, QObject* parent) : QObject(parent), person_(std::move(person)) {}

Session::~Session()
{
    cancel();
    QThreadPool::globalInstance()->waitForDone();
}

WhoAndWhen Session::now() const { return {person_.toStdString(), currentTime()}; }

void Session::open(std::unique_ptr<project::Project> project)
{
    project_ = std::move(project);
    workspace_ = {};
    previous_ = {};
    emit projectChanged();
    emit workspaceChanged();
}

const federation::Member* Session::reference() const
{
    return project_ ? workspace_.find(project_->reference()) : nullptr;
}

void Session::fail(const Error& error) { emit said(words(error), true); }

bool Session::apply(const Result<void>& done, const QString& what)
{
    if (!done) {
        fail(done.error());
        return false;
    }
    emit projectChanged();
    if (!what.isEmpty())
        emit said(what, false);
    return true;
}

void Session::run(const QString& what, Work work)
{
    if (isBusy()) {
        emit said("Something is still running; wait for it or cancel it.", true);
        return;
    }
    job_ = std::make_shared<Progress>([this](const std::string& step, int percent) {
        QMetaObject::invokeMethod(this, [this, step, percent] { emit progressed(QString::fromStdString(step), percent); });
    });
    emit progressed(what, 0);
    QThreadPool::globalInstance()->start([this, work = std::move(work), job = job_] {
        Finish finish;
        try {
            finish = work(*job);
        } catch (const std::exception& e) {
            const QString why = e.what();
            finish = [this, why] { emit said("The work stopped: " + why + ". The project is as it was.", true); };
        }
        QMetaObject::invokeMethod(this, [this, finish = std::move(finish)] {
            job_.reset();
            if (finish)
                finish();
            if (!isBusy())
                emit idle();
        });
    });
}

void Session::cancel()
{
    if (job_)
        job_->cancel();
}

bool Session::isCompositionLoaded() const
{
    const auto order = project::orderOf(*project_);
    if (order.items.size() != workspace_.deliveries.size())
        return false;
    for (std::size_t i = 0; i < order.items.size(); ++i)
        if (order.items[i].delivery.id != workspace_.deliveries[i])
            return false;
    return true;
}

void Session::loadModels()
{
    run("Opening the models", [this, order = project::orderOf(*project_), have = workspace_](Progress& progress) -> Finish {
        auto loaded = project::load(order, have, progress);
        return [this, loaded = std::move(loaded)] {
            if (!loaded) {
                fail(loaded.error());
                return;
            }
            workspace_ = *loaded;
            emit workspaceChanged();
        };
    });
}

void Session::runTests()
{
    run("Looking for clashes", [this, order = project::orderOf(*project_), have = workspace_](Progress& progress) -> Finish {
        auto findings = project::runTests(have, order, progress);
        return [this, findings = std::move(findings)] {
            if (!findings) {
                fail(findings.error());
                return;
            }
            std::size_t count = 0;
            for (const auto& f : *findings)
                count += f.pairs.size();
            apply(project_->recordRun(*findings, now()),
                  QString::fromStdString("Tests run: " + counted(count, "pair", "pairs") + " found."));
        };
    });
}

void Session::takeIn(project::DeliveryId delivery)
{
    const auto order = project::orderOf(*project_, delivery);
    run("Taking in", [this, order, delivery, have = workspace_](Progress& progress) -> Finish {
        auto prepared = project::prepareTakeIn(order, delivery, have, progress);
        return [this, delivery, prepared = std::move(prepared)] {
            if (!prepared) {
                fail(prepared.error());
                return;
            }
            const auto wanted = project_->delivery(delivery);
            if (!apply(project_->takeIn(prepared->record, now())))
                return;
            // What was in use until now is what the changes are shown against.
            for (std::size_t i = 0; wanted && i < workspace_.members.size(); ++i)
                if (workspace_.members[i].discipline == wanted->discipline) {
                    previous_.members.push_back(workspace_.members[i]);
                    previous_.deliveries.push_back(workspace_.deliveries[i]);
                }
            workspace_ = prepared->workspace;
            emit workspaceChanged();
            emit previousChanged();
            QString what = QString::fromStdString((wanted ? wanted->name() : "Delivery") + " is in use: " +
                                                  counted(prepared->record.changes.size(), "change", "changes") + ".");
            if (!prepared->alignment.empty())
                what += " " + QString::fromStdString(prepared->alignment);
            emit said(what, false);
        };
    });
}

void Session::receive(const std::filesystem::path& file, const QString& discipline, const QString& revision)
{
    const int cycle = project_->cycle();
    run("Reading the file", [this, file, discipline, revision, cycle](Progress& progress) -> Finish {
        auto described = project::describeDelivery(file, progress);
        return [this, described = std::move(described), discipline, revision, cycle] {
            if (!described) {
                fail(described.error());
                return;
            }
            project::NewDelivery d = *described;
            d.discipline = discipline.toStdString();
            d.revision = revision.toStdString();
            d.title = d.file.filename().string();
            d.sender = person_.toStdString();
            d.cycle = cycle;
            d.time = currentTime();
            const auto id = project_->addDelivery(d, now());
            if (!id)
                fail(id.error());
            else
                apply({}, QString::fromStdString(d.discipline + " " + d.revision + " waits to be taken in."));
        };
    });
}

void Session::loadPrevious()
{
    project::WorkspaceOrder order;
    for (const project::ChangeRecord& change : project_->currentChanges()) {
        const bool isListed = std::any_of(order.items.begin(), order.items.end(),
                                          [&](const auto& item) { return item.delivery.id == change.from; });
        const auto from = isListed ? std::nullopt : project_->delivery(change.from);
        if (from)
            order.items.push_back({*from, project_->fileOf(*from), project_->fit(from->discipline).fit, ""});
    }
    const bool isLoaded = std::all_of(order.items.begin(), order.items.end(), [&](const auto& item) {
        return std::find(previous_.deliveries.begin(), previous_.deliveries.end(), item.delivery.id) !=
               previous_.deliveries.end();
    });
    if (isLoaded || isBusy())
        return;
    run("Opening the revisions before", [this, order, have = previous_](Progress& progress) -> Finish {
        auto loaded = project::load(order, have, progress);
        return [this, loaded = std::move(loaded)] {
            if (!loaded) {
                fail(loaded.error());
                return;
            }
            previous_ = *loaded;
            emit previousChanged();
        };
    });
}

void Session::refreshFits()
{
    for (project::Workspace* w : {&workspace_, &previous_})
        for (federation::Member& member : w->members)
            member.fit = project_->fit(member.discipline).fit;
    emit workspaceChanged();
}

void Session::recomposed()
{
    emit projectChanged();
    if (isCompositionLoaded())
        refreshFits();
    else
        loadModels();
}

void Session::undo()
{
    const std::string what = project_->undoable();
    if (what.empty() || isBusy())
        return;
    if (const auto done = project_->undo(now()); !done) {
        fail(done.error());
        return;
    }
    recomposed();
    emit said("Undone: " + QString::fromStdString(what), false);
}

void Session::redo()
{
    const std::string what = project_->redoable();
    if (what.empty() || isBusy())
        return;
    if (const auto done = project_->redo(now()); !done) {
        fail(done.error());
        return;
    }
    recomposed();
    emit said("Done again: " + QString::fromStdString(what), false);
}

} // namespace wendrix::app
