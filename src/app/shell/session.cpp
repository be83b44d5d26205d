#include "shell/session.h"

#include "core/base/text.h"
#include "core/project/receiving.h"

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

void Session::setPerson(const QString& name)
{
    person_ = name;
    emit personChanged();
}

WhoAndWhen Session::now() const { return {person_.toStdString(), currentTime()}; }

void Session::open(std::unique_ptr<project::Project> project)
{
    project_ = std::move(project);
    workspace_ = {};
    previous_ = {};
    inside_.reset();
    pastCycle_.reset();
    federation_ = project::kWholeBuilding;
    emit projectChanged();
    emit workspaceChanged();
}

const project::Workspace& Session::shown() const
{
    return inside_ == nullptr ? workspace_ : isInsideAlone_ ? inside_->alone : inside_->within;
}

const project::Workspace& Session::shownUnder() const { return inside_ == nullptr ? previous_ : inside_->before; }

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

bool Session::refusesWhileBusy()
{
    if (isBusy())
        emit said("Something is still running; wait for it or cancel it.", true);
    return isBusy();
}

void Session::run(const QString& what, Work work)
{
    if (refusesWhileBusy())
        return;
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
    const auto order = project::orderOf(*project_, scope());
    if (order.items.size() != workspace_.deliveries.size())
        return false;
    for (std::size_t i = 0; i < order.items.size(); ++i)
        if (order.items[i].delivery.id != workspace_.deliveries[i] || order.items[i].leftOut != workspace_.leftOut[i])
            return false;
    return true;
}

void Session::loadModels() { loadModels({}); }

void Session::composeAgain() { loadModels(inside_ != nullptr ? std::optional(inside_->delivery.id) : std::nullopt); }

void Session::loadModels(std::optional<project::DeliveryId> thenInside)
{
    run("Opening the models", [this, order = project::orderOf(*project_, scope()), have = workspace_, thenInside](Progress& progress) -> Finish {
        auto loaded = project::load(order, have, progress);
        return [this, thenInside, loaded = std::move(loaded)] {
            if (!loaded) {
                fail(loaded.error());
                return;
            }
            workspace_ = *loaded;
            emit workspaceChanged();
            if (thenInside)
                lookInside(*thenInside);
        };
    });
}

void Session::runTests()
{
    run("Looking for clashes", [this, order = project::orderOf(*project_, scope()), have = workspace_](Progress& progress) -> Finish {
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
    if (refusesToChange()) // it is recorded through another connection, which does not know that this one only reads
        return;
    // Compared and tested against the whole building, whichever federation is looked at.
    const auto present = project::orderOf(*project_), order = project::orderOf(*project_, {{}, delivery, {}});
    run("Taking in", [this, present, order, delivery, have = workspace_, who = now(), folder = project_->folder()](Progress& progress) -> Finish {
        auto before = project::load(present, have, progress);
        auto prepared = before ? project::prepareTakeIn(order, delivery, *before, progress) : Result<project::PreparedTakeIn>(wendrix::fail(before.error()));
        if (!prepared)
            return [this, why = prepared.error()] { fail(why); };
        progress.report("Recording what it brings", 1);
        // Hundreds of thousands of changes take a while to write: through a connection of this thread's own.
        auto writing = project::Project::open(folder);
        const Result<void> done = writing ? (*writing)->takeIn(prepared->record, who) : Result<void>(wendrix::fail(writing.error()));
        return [this, delivery, done, before = std::make_shared<project::Workspace>(std::move(*before)), prepared = std::make_shared<project::PreparedTakeIn>(std::move(*prepared))] {
            tookIn(delivery, done, *before, *prepared);
        };
    });
}

void Session::tookIn(project::DeliveryId delivery, const Result<void>& done, const project::Workspace& before, const project::PreparedTakeIn& prepared)
{
    const auto wanted = project_->delivery(delivery);
    if (!done) {
        fail(done.error());
        return;
    }
    // What was in use until now is what the changes are shown against.
    for (std::size_t i = 0; wanted && i < before.members.size(); ++i)
        if (before.members[i].discipline == wanted->discipline) {
            previous_.members.push_back(before.members[i]);
            previous_.deliveries.push_back(before.deliveries[i]);
            previous_.leftOut.push_back(before.leftOut[i]);
        }
    Progress nothingToRead;
    if (auto shown = project::load(project::orderOf(*project_, scope()), prepared.workspace, nothingToRead))
        workspace_ = std::move(*shown);
    const bool wasInside = inside_ != nullptr;
    inside_.reset();
    emit workspaceChanged();
    if (wasInside)
        emit insideChanged();
    const bool isFirst = !wanted || before.find(wanted->discipline) == nullptr; // nothing was there to compare it with
    QString what = QString::fromStdString((wanted ? wanted->name() : "Delivery") + " is in use" + (isFirst ? "." : ": " + counted(prepared.record.changes.size(), "change", "changes") + "."));
    if (!prepared.alignment.empty())
        what += " " + QString::fromStdString(prepared.alignment);
    emit said(what, false);
}

void Session::receive(project::NewDelivery delivery)
{
    if (refusesToChange()) { // it is kept through another connection, which does not know that this one only reads
        emit received(0);
        return;
    }
    run("Reading " + QString::fromStdString(delivery.discipline + " " + delivery.revision), [this, delivery, who = now(), folder = project_->folder()](Progress& progress) -> Finish {
        const auto id = project::receiveDelivery(folder, delivery, who, progress);
        return [this, id, name = QString::fromStdString(delivery.discipline + " " + delivery.revision)] {
            if (!id)
                fail(id.error());
            else
                apply({}, name + " waits to be taken in.");
            emit received(id ? *id : 0);
        };
    });
}

bool Session::decline(project::DeliveryId delivery, const std::string& reason, bool withReport)
{
    const auto wanted = project_->delivery(delivery);
    if (!wanted || refusesWhileBusy())
        return false;
    const auto finish = [this, delivery, reason, name = QString::fromStdString(wanted->name())](const std::string& report) {
        const bool isDone = apply(project_->decline(delivery, reason, report, now()), name + (report.empty() ? " is declined." : " is declined; the quality report goes with it."));
        if (isDone && inside_ != nullptr && inside_->delivery.id == delivery)
            leaveInside();
        return isDone;
    };
    if (!withReport || pastCycle_)
        return finish({});
    if (inside_ != nullptr && inside_->delivery.id == delivery)
        return finish(checks::toHtml(project::reportOf(*project_, inside_->delivery, inside_->quality, now())));
    run("Checking " + QString::fromStdString(wanted->name()), [this, order = project::insideOrderOf(*project_, *wanted, federation_), have = workspace_, finish](Progress& progress) -> Finish {
        auto quality = project::prepareQuality(order, have, progress);
        return [this, order, finish, quality = std::move(quality)] {
            if (!quality)
                fail(quality.error());
            else
                finish(checks::toHtml(project::reportOf(*project_, order.delivery, *quality, now())));
        };
    });
    return true;
}

void Session::lookInside(project::DeliveryId delivery)
{
    const auto wanted = project_->delivery(delivery);
    if (!wanted || pastCycle_)
        return;
    const auto order = project::insideOrderOf(*project_, *wanted, federation_);
    run("Looking inside " + QString::fromStdString(wanted->name()), [this, order, have = workspace_](Progress& progress) -> Finish {
        auto inside = project::prepareInside(order, have, progress);
        return [this, inside = std::make_shared<Result<project::Inside>>(std::move(inside))] {
            if (!*inside) {
                fail(inside->error());
                return;
            }
            inside_ = std::make_unique<project::Inside>(std::move(**inside));
            isInsideAlone_ = true;
            if (const auto noted = project_->lookedAt(inside_->delivery.id, now()); !noted)
                fail(noted.error());
            emit insideChanged();
            emit workspaceChanged();
        };
    });
}

void Session::setInsideAlone(bool isAlone)
{
    if (isAlone == isInsideAlone_)
        return;
    isInsideAlone_ = isAlone;
    emit workspaceChanged();
}

void Session::leaveInside()
{
    if (inside_ == nullptr)
        return;
    inside_.reset();
    emit insideChanged();
    emit workspaceChanged();
}

bool Session::refusesToChange()
{
    if (pastCycle_)
        fail({project::kReadOnly, readOnlyWords()});
    return pastCycle_.has_value();
}

std::string Session::readOnlyWords() const
{
    return pastCycle_ ? "This is the composition of cycle " + std::to_string(*pastCycle_) + ", read-only. Go back to the present one to change something." : "";
}

void Session::lookBack(int cycle)
{
    if (refusesWhileBusy())
        return;
    leaveInside();
    const project::Scope past{federation_, {}, cycle};
    run("Opening the composition of cycle " + QString::number(cycle), [this, order = project::orderOf(*project_, past), have = workspace_, cycle](Progress& progress) -> Finish {
        auto loaded = project::load(order, have, progress);
        return [this, loaded = std::move(loaded), cycle] {
            if (!loaded) {
                fail(loaded.error());
                return;
            }
            pastCycle_ = cycle;
            project_->setReadOnly(readOnlyWords());
            workspace_ = *loaded;
            previous_ = {};
            emit workspaceChanged();
        };
    });
}

void Session::lookAtNow()
{
    if (!pastCycle_)
        return;
    pastCycle_.reset();
    project_->setReadOnly({});
    recomposed();
}

void Session::setFederation(const std::string& name)
{
    if (refusesWhileBusy())
        return;
    leaveInside();
    federation_ = name;
    recomposed();
}

void Session::loadPrevious()
{
    project::WorkspaceOrder order;
    for (const project::DeliveryId id : project_->comparedWith())
        if (const auto from = project_->delivery(id))
            for (auto& item : project::itemsOf(*project_, *from))
                order.items.push_back(std::move(item));
    const bool isLoaded = std::all_of(order.items.begin(), order.items.end(), [&](const auto& item) {
        return std::find(previous_.deliveries.begin(), previous_.deliveries.end(), item.delivery.id) !=
               previous_.deliveries.end();
    });
    if (isLoaded || isBusy() || pastCycle_)
        return;
    order.cache = project_->folder() / "cache";
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
    if (inside_ != nullptr)
        for (project::Workspace* w : {&inside_->alone, &inside_->within, &inside_->before})
            for (federation::Member& member : w->members)
                member.fit = project_->fit(member.discipline).fit;
    emit workspaceChanged();
}

void Session::recomposed()
{
    leaveInside();
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
