#include "shell/session.h"

#include "core/base/text.h"
#include "core/project/issue_list.h"
#include "core/project/receiving.h"
#include "core/project/requirements.h"

#include <algorithm>

/// The session's long steps: models put in place, tests run, deliveries received, looked into and taken in.
namespace wendrix::app {

using Lane = Jobs::Lane;
using Finish = Jobs::Finish;

bool Session::run(Lane lane, const QString& what, Jobs::Work work)
{
    const bool isBegun = jobs_.run(lane, what, std::move(work));
    if (!isBegun)
        emit said("The same is still running; wait for it or cancel it.", true);
    return isBegun;
}

namespace {

enum class Kept { Whole, Moved, Other };

/// Whether a workspace is what an order asks for, and whether its members stand where it says.
Kept compare(const project::Workspace& have, const project::WorkspaceOrder& order)
{
    bool isMoved = false;
    std::size_t i = 0;
    for (const auto& item : order.items) {
        if (i < have.members.size() && item.delivery.id == have.deliveries[i] && item.leftOut == have.leftOut[i] &&
            item.part == have.members[i].part && item.delivery.discipline == have.members[i].discipline) {
            isMoved = isMoved || !(item.fit.fit == have.members[i].fit);
            ++i;
        } else if (have.findMissing(item.delivery.id, item.part) == nullptr) {
            return Kept::Other;
        }
    }
    return i < have.members.size() ? Kept::Other : isMoved ? Kept::Moved : Kept::Whole;
}

} // namespace

void Session::follow()
{
    isFollowWanted_ = isComposing();
    if (project_ == nullptr || isFollowWanted_)
        return;
    const auto order = project::orderOf(*project_, scope());
    if (!order)
        return; // said already
    const Kept kept = compare(workspace_, *order);
    if (kept == Kept::Other) {
        composeAgain();
        return;
    }
    if (kept == Kept::Whole && standsRight_ == order->standsRight)
        return;
    project::Workspace moved = workspace_;
    project::refit(moved, *order);
    setWorkspace(std::move(moved));
    emit workspaceChanged();
}

project::Workspace Session::held() const
{
    project::Workspace all = workspace_;
    for (std::size_t i = 0; i < previous_.members.size(); ++i)
        if (!all.holds(previous_.deliveries[i])) {
            all.members.push_back(previous_.members[i]);
            all.deliveries.push_back(previous_.deliveries[i]);
            all.leftOut.push_back(previous_.leftOut[i]);
        }
    return all;
}

void Session::loadModels() { loadModels({}); }

void Session::composeAgain() { loadModels(inside_ != nullptr ? std::optional(inside_->delivery.id) : std::nullopt); }

void Session::loadModels(std::optional<project::DeliveryId> thenInside)
{
    const auto order = project::orderOf(*project_, scope());
    if (!order)
        return;
    run(Lane::Composition, "Opening the models",
        [this, order = *order, have = held(), thenInside](Progress& progress) -> Finish {
            auto loaded = std::make_shared<Result<project::Workspace>>(project::load(order, have, progress));
            return [this, thenInside, loaded] {
                if (!*loaded) {
                    fail(loaded->error());
                    return;
                }
                setWorkspace(std::move(**loaded));
                emit workspaceChanged();
                if (!workspace_.missing.empty())
                    emit said(QString::fromStdString(workspace_.missingInWords()), true);
                if (thenInside)
                    lookInside(*thenInside);
            };
        });
}

void Session::runTests(const std::set<std::string>& only)
{
    if (project_ == nullptr || refusesToChange())
        return;
    auto order = project::orderOf(*project_, scope());
    if (!order)
        return;
    for (project::RunTest& t : order->tests)
        t.isWanted = only.empty() || only.contains(t.test.name);
    project::Workspace have = workspace_;
    project::refit(have, *order);
    run(Lane::Tests, "Looking for clashes",
        [this, write = writerForJob(), order = *order, have, who = now()](Progress& progress) -> Finish {
            const auto run = project::runTests(have, order, progress);
            if (!run)
                return [this, why = run.error()] { fail(why); };
            auto made = std::make_shared<std::optional<project::Run>>();
            const auto done = write([&](project::Project& p) -> Result<void> {
                const auto summary = project::recordRun(p, *run, who);
                if (!summary)
                    return wendrix::fail(summary.error());
                auto recorded = p.clashes().findRun(summary->id);
                if (!recorded)
                    return wendrix::fail(recorded.error());
                *made = std::move(*recorded);
                return {};
            });
            return [this, done, made] {
                if (!done)
                    fail(done.error());
                else if (*made)
                    say("Tests run: " + QString::fromStdString((*made)->inWords()));
            };
        });
}

void Session::takeIn(project::DeliveryId delivery, std::optional<project::MovedAnswer> answer)
{
    if (refusesToChange())
        return;
    // Compared and tested against the whole building, whichever federation is looked at.
    const auto present = project::orderOf(*project_), order = project::orderOf(*project_, {{}, delivery, {}});
    const auto wanted = project_->deliveries().get(delivery);
    const auto asked = wanted ? project::requirementsOrderOf(*project_, *wanted)
                              : Result<std::optional<project::RequirementsOrder>>(wendrix::fail(wanted.error()));
    if (!present || !order)
        return;
    if (!asked)
        return fail(asked.error());
    run(Lane::Composition, "Taking in",
        [this, write = writerForJob(), present = *present, order = *order, delivery, have = workspace_, who = now(),
         asked = std::make_shared<const std::optional<project::RequirementsOrder>>(*asked),
         answer = std::move(answer)](Progress& progress) -> Finish {
            auto before = std::make_shared<Result<project::Workspace>>(project::load(present, have, progress));
            if (!*before)
                return [this, before] { fail(before->error()); };
            auto prepared = std::make_shared<Result<project::PreparedTakeIn>>(
                project::prepareTakeIn(order, delivery, **before, progress, answer));
            if (!*prepared)
                return [this, prepared] { fail(prepared->error()); };
            if ((*prepared)->moved)
                return [this, prepared] {
                    moved_ = std::move((*prepared)->moved);
                    emit said(QString::fromStdString(moved_->title) +
                                  " is not taken in yet: it no longer stands where its fit puts it.",
                              true);
                    emit takingInStopped();
                };
            if (*asked) {
                const auto met = project::checkRequirements(**asked, (*prepared)->workspace, progress);
                if (!met)
                    return [this, why = met.error()] { fail(why); };
                (*prepared)->record.requirements = *met;
            }
            progress.report("Recording what it brings", 1);
            const auto done = write([&](project::Project& p) -> Result<void> {
                const auto summary = project::takeIn(p, (*prepared)->record, who);
                return summary ? Result<void>() : wendrix::fail(summary.error());
            });
            return [this, delivery, done, before, prepared] {
                if (done)
                    tookIn(delivery, **before, **prepared);
                else
                    fail(done.error());
            };
        });
}

void Session::tookIn(project::DeliveryId delivery, const project::Workspace& before,
                     const project::PreparedTakeIn& prepared)
{
    const auto wanted = orNothing(project_->deliveries().find(delivery));
    // What was in use until now is what the changes are shown against.
    // One revision of each, however often another is taken in.
    if (wanted)
        previous_.replace(wanted->discipline, before);
    Progress nothingToRead;
    if (const auto order = project::orderOf(*project_, scope()))
        if (auto shown = project::load(*order, prepared.workspace, nothingToRead))
            setWorkspace(std::move(*shown));
    const bool wasInside = inside_ != nullptr;
    inside_.reset();
    emit workspaceChanged();
    if (wasInside)
        emit insideChanged();
    QString what = QString::fromStdString((wanted ? wanted->name() : "Delivery") + " is in use");
    what += prepared.record.comparison
                ? ": " +
                      QString::fromStdString(counted(prepared.record.comparison->changes.size(), "change", "changes")) +
                      "."
                : "."; // nothing was there to compare a first one with
    if (!prepared.alignment.empty())
        what += " " + QString::fromStdString(prepared.alignment);
    // What the run says of issues: to be closed, or not done after all.
    ask<project::IssueProposals>(
        this, "proposals", [](const project::Project& p) { return orNothing(project::issueProposals(p)); },
        [this, what](const project::IssueProposals& proposals) {
            const std::string words = proposals.inWords();
            say(words.empty() ? what : what + " " + QString::fromStdString(words));
        });
}

std::function<Result<project::DeliveryId>(const project::NewDelivery&)> Session::keeper()
{
    return [write = writerForJob(), who = now()](const project::NewDelivery& delivery) -> Result<project::DeliveryId> {
        project::DeliveryId id = 0;
        const auto done = write([&](project::Project& p) -> Result<void> {
            const auto kept = p.deliveries().add(delivery, who);
            if (!kept)
                return wendrix::fail(kept.error());
            id = *kept;
            return {};
        });
        return done ? Result<project::DeliveryId>(id) : wendrix::fail(done.error());
    };
}

void Session::receive(project::NewDelivery delivery)
{
    if (refusesToChange()) {
        emit received(0);
        return;
    }
    const QString name = QString::fromStdString(delivery.discipline + " " + delivery.revision);
    const bool isBegun =
        run(Lane::Receiving, "Reading " + name,
            [this, delivery, name, keep = keeper(), folder = project_->folder()](Progress& progress) -> Finish {
                const auto id = project::receiveDelivery(folder, delivery, keep, progress);
                return [this, id, name] {
                    if (!id)
                        fail(id.error());
                    else
                        say(name + " waits to be taken in.");
                    emit received(id ? *id : 0);
                };
            });
    if (!isBegun)
        emit received(0);
}

void Session::decline(project::DeliveryId delivery, const std::string& reason, bool withReport,
                      std::function<void(bool)> then)
{
    const auto wanted = orNothing(project_->deliveries().find(delivery));
    if (!wanted || refusesToChange())
        return then(false);
    const auto finish = [this, delivery, reason, name = wanted->name()](const std::string& report,
                                                                        const std::function<void(bool)>& told) {
        write(
            [=, who = now()](project::Project& p) {
                return saying(
                    p.deliveries().decline(delivery, reason, report, who),
                    name + (report.empty() ? " is declined." : " is declined; the quality report goes with it."));
            },
            [this, delivery, told](bool isDone) {
                if (told)
                    told(isDone);
                if (isDone && inside_ != nullptr && inside_->delivery.id == delivery)
                    leaveInside();
            });
    };
    if (!withReport)
        return finish({}, then);
    if (inside_ != nullptr && inside_->delivery.id == delivery)
        return finish(checks::toHtml(project::reportOf(*project_, inside_->delivery, inside_->quality, now())), then);
    const auto order = project::insideOrderOf(*project_, *wanted, federation_);
    if (!order)
        return then(false);
    then(run(Lane::Checking, "Checking " + QString::fromStdString(wanted->name()),
             [this, order = *order, have = workspace_, finish](Progress& progress) -> Finish {
                 auto quality = project::prepareQuality(order, have, progress);
                 return [this, order, finish, quality = std::move(quality)] {
                     if (!quality)
                         fail(quality.error());
                     else
                         finish(checks::toHtml(project::reportOf(*project_, order.delivery, *quality, now())), {});
                 };
             }));
}

void Session::lookInside(project::DeliveryId delivery)
{
    const auto wanted = orNothing(project_->deliveries().find(delivery));
    if (!wanted || pastCycle_)
        return;
    const auto order = project::insideOrderOf(*project_, *wanted, federation_);
    if (!order)
        return;
    run(Lane::Inside, "Looking inside " + QString::fromStdString(wanted->name()),
        [this, order = *order, have = workspace_](Progress& progress) -> Finish {
            auto inside = std::make_shared<Result<project::Inside>>(project::prepareInside(order, have, progress));
            return [this, inside] {
                if (!*inside) {
                    fail(inside->error());
                    return;
                }
                if (pastCycle_)
                    return; // somebody went back to an old composition meanwhile
                inside_ = std::make_unique<project::Inside>(std::move(**inside));
                isInsideAlone_ = true;
                write([id = inside_->delivery.id, who = now()](project::Project& p) {
                    return saying(p.deliveries().lookedAt(id, who));
                });
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

void Session::lookBack(int cycle)
{
    leaveInside();
    const auto order = project::orderOf(*project_, {federation_, {}, cycle});
    if (!order)
        return;
    run(Lane::Composition, "Opening the composition of cycle " + QString::number(cycle),
        [this, order = *order, have = workspace_, cycle](Progress& progress) -> Finish {
            auto loaded = std::make_shared<Result<project::Workspace>>(project::load(order, have, progress));
            return [this, loaded, cycle] {
                if (!*loaded) {
                    fail(loaded->error());
                    return;
                }
                pastCycle_ = cycle;
                previous_ = {};
                setWorkspace(std::move(**loaded));
                emit workspaceChanged();
                if (!workspace_.missing.empty())
                    emit said(QString::fromStdString(workspace_.missingInWords()), true);
            };
        });
}

void Session::lookAtNow()
{
    if (!pastCycle_)
        return;
    pastCycle_.reset();
    leaveInside();
    follow();
    emit workspaceChanged(); // the same models may be another composition
}

void Session::setFederation(const std::string& name)
{
    leaveInside();
    federation_ = name;
    follow();
    emit workspaceChanged();
}

void Session::loadPrevious(const std::vector<std::int64_t>& comparisons)
{
    const auto wanted = comparisons.empty() ? project_->changes().inForce() : project_->changes().find(comparisons);
    if (!wanted || jobs_.isBusy(Lane::Before) || pastCycle_)
        return;
    project::WorkspaceOrder order;
    const auto add = [&](project::DeliveryId delivery, const federation::Fit& fit) {
        if (workspace_.holds(delivery) || std::any_of(order.items.begin(), order.items.end(),
                                                      [&](const auto& item) { return item.delivery.id == delivery; }))
            return;
        if (const auto found = orNothing(project_->deliveries().find(delivery)))
            for (auto& item : orNothing(project::itemsOf(*project_, *found))) {
                item.fit.fit = fit; // as it stood when they were compared
                order.items.push_back(std::move(item));
            }
    };
    for (const project::ComparisonRecord& k : *wanted) {
        add(k.from, k.fromFit);
        add(k.to, k.toFit);
    }
    const bool isLoaded = std::all_of(order.items.begin(), order.items.end(), [&](const auto& item) {
        return previous_.holds(item.delivery.id) || previous_.findMissing(item.delivery.id, item.part) != nullptr;
    });
    if (isLoaded)
        return;
    order.cache = project_->folder() / "cache";
    run(Lane::Before, "Opening the revisions before", [this, order, have = held()](Progress& progress) -> Finish {
        auto loaded = std::make_shared<Result<project::Workspace>>(project::load(order, have, progress));
        return [this, loaded] {
            if (!*loaded) {
                fail(loaded->error());
                return;
            }
            previous_ = std::move(**loaded);
            emit previousChanged();
        };
    });
}

void Session::compareDeliveries(const QString& what, const Comparisons& wanted,
                                std::function<void(std::vector<std::int64_t>)> then)
{
    if (refusesToChange())
        return;
    auto asked = wanted(*project_);
    if (!asked)
        return fail(asked.error());
    if (asked->empty())
        return say("There is nothing to compare: no two deliveries differ there.");
    run(Lane::Comparing, what,
        [this, what, asked = std::move(*asked), have = held(), then = std::move(then)](Progress& progress) -> Finish {
            auto found = std::make_shared<Result<std::vector<project::NewComparison>>>(
                project::compareAll(asked, have, progress));
            return [this, found, what, then] {
                if (!*found)
                    return fail(found->error());
                auto ids = std::make_shared<std::vector<std::int64_t>>();
                std::size_t changes = 0;
                for (const project::NewComparison& one : **found)
                    changes += one.changes.size();
                write(
                    [found, ids, what = what.toStdString(), changes, who = now()](project::Project& p) {
                        auto kept = p.changes().keep(**found, what, who);
                        if (kept)
                            *ids = *kept;
                        return saying(kept, what + ": " + counted(changes, "change", "changes"));
                    },
                    [ids, then](bool isDone) { then(isDone ? *ids : std::vector<std::int64_t>()); });
            };
        });
}

} // namespace wendrix::app
