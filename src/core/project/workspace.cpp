#include "core/project/workspace.h"

#include "core/base/text.h"
#include "core/clash/engine.h"
#include "core/federation/member_cache.h"
#include "core/federation/standing.h"
#include "core/project/proposal.h"

#include <algorithm>
#include <map>

namespace wendrix::project {

using federation::Member;

const Member* Workspace::find(const std::string& discipline) const
{
    const auto found =
        std::find_if(members.begin(), members.end(), [&](const Member& m) { return m.discipline == discipline; });
    return found != members.end() ? &*found : nullptr;
}

std::vector<std::uint32_t> Workspace::allOf(const std::string& discipline) const
{
    std::vector<std::uint32_t> all;
    for (std::uint32_t i = 0; i < members.size(); ++i)
        if (members[i].discipline == discipline)
            all.push_back(i);
    return all;
}

bool Workspace::holds(DeliveryId delivery) const
{
    return std::find(deliveries.begin(), deliveries.end(), delivery) != deliveries.end();
}

Result<std::vector<WorkspaceOrder::Item>> itemsOf(const Project& project, const Delivery& delivery)
{
    const auto disciplines = project.setup().disciplines();
    const auto fit = project.coordinates().fitOf(delivery);
    if (const auto error = firstError(disciplines, fit))
        return fail(*error);
    Discipline own;
    for (const Discipline& d : *disciplines)
        if (d.name == delivery.discipline)
            own = d;
    std::vector<WorkspaceOrder::Item> items;
    for (const ModelFile& model : delivery.models())
        items.push_back({delivery, model,
                         delivery.moreModels.empty() ? "" : partName(model.fileName, delivery.revision),
                         project.deliveries().fileOf(model), own.id, *fit, own.leftOut});
    return items;
}

namespace {

/// What is used of each discipline; nothing of it where there is none.
Result<std::map<std::string, Delivery>> usedIn(const Project& project, const Scope& scope)
{
    std::map<std::string, Delivery> used;
    if (scope.cycle) {
        const auto then = project.deliveries().compositionOf(*scope.cycle);
        if (!then)
            return fail(then.error());
        for (const auto& [discipline, id] : *then) {
            const auto delivery = project.deliveries().find(id);
            if (!delivery)
                return fail(delivery.error());
            if (*delivery)
                used[discipline] = **delivery;
        }
    } else {
        auto now = project.deliveries().allInUse();
        if (!now)
            return fail(now.error());
        for (Delivery& d : *now)
            used[d.discipline] = std::move(d);
    }
    if (scope.instead) {
        const auto wanted = project.deliveries().find(*scope.instead);
        if (!wanted)
            return fail(wanted.error());
        if (*wanted)
            used[(*wanted)->discipline] = **wanted;
    }
    return used;
}

} // namespace

Result<WorkspaceOrder> orderOf(const Project& project, const Scope& scope)
{
    WorkspaceOrder order;
    const auto reference = project.setup().reference();
    const auto tests = project.clashes().tests();
    const auto disciplines = project.setup().disciplines();
    const auto federations = project.setup().federations();
    const auto cycle = project.deliveries().cycle();
    auto used = usedIn(project, scope);
    if (const auto error = firstError(reference, tests, disciplines, federations, cycle, used))
        return fail(*error);
    order.reference = *reference;
    order.tests = *tests;
    order.cycle = scope.cycle.value_or(*cycle);
    order.federation = scope.federation;
    order.cache = project.folder() / "cache";
    const auto federation = std::find_if(federations->begin(), federations->end(),
                                         [&](const Federation& f) { return f.name == scope.federation; });
    for (const Discipline& d : *disciplines) {
        const auto delivery = used->find(d.name);
        if (delivery == used->end())
            continue;
        auto items = itemsOf(project, delivery->second);
        if (!items)
            return fail(items.error());
        const bool isMember = federation == federations->end() || federation->has(d.name) ||
                              (scope.instead && *scope.instead == delivery->second.id);
        for (WorkspaceOrder::Item& item : *items) {
            if (isMember)
                order.items.push_back(std::move(item));
            else
                order.absent.push_back({d.id, d.name, item.delivery.revision, item.part, item.delivery.id, item.fit.fit,
                                        false, "not in " + scope.federation});
        }
    }
    return order;
}

Result<Workspace> load(const WorkspaceOrder& order, const Workspace& have, Progress& progress)
{
    Workspace workspace;
    const federation::MemberCache cache(order.cache);
    for (const WorkspaceOrder::Item& item : order.items) {
        Member member;
        bool isThere = false;
        for (std::size_t i = 0; i < have.deliveries.size() && !isThere; ++i)
            if (have.deliveries[i] == item.delivery.id && have.members[i].part == item.part &&
                have.leftOut.size() > i && have.leftOut[i] == item.leftOut) {
                member = have.members[i];
                isThere = true;
            }
        if (!isThere) {
            auto opened = federation::openMember(item.file, item.model.sha256, item.leftOut, cache, progress);
            if (!opened) {
                Error error = opened.error();
                error.file = item.model.fileName; // the name the sender knows, not our own copy's
                return fail(std::move(error));
            }
            member = std::move(*opened);
            member.model->indexGuids(); // here, so that no click has to wait for it
        }
        member.disciplineId = item.disciplineId;
        member.discipline = item.delivery.discipline;
        member.revision = item.delivery.revision;
        member.part = item.part;
        member.fit = item.fit.fit;
        workspace.members.push_back(std::move(member));
        workspace.deliveries.push_back(item.delivery.id);
        workspace.leftOut.push_back(item.leftOut);
    }
    return workspace;
}

void refit(Workspace& workspace, const WorkspaceOrder& order)
{
    for (std::size_t i = 0; i < workspace.members.size(); ++i)
        for (const WorkspaceOrder::Item& item : order.items)
            if (item.delivery.id == workspace.deliveries[i] && item.part == workspace.members[i].part)
                workspace.members[i].fit = item.fit.fit;
}

std::string alignmentInWords(const Workspace& workspace, const std::string& reference, const std::string& discipline)
{
    const Member *onto = workspace.find(reference), *member = workspace.find(discipline);
    if (onto == nullptr || member == nullptr || onto == member)
        return {};
    const auto standing = federation::standingOf(*onto->model, *member);
    return standing.isVerified() ? "Alignment verified: worst residual " + lengthInWords(standing.worst) + "."
                                 : "Off the reference: " + federation::inWords(standing.causes);
}

Result<PreparedTakeIn> prepareTakeIn(const WorkspaceOrder& order, DeliveryId delivery, const Workspace& have,
                                     Progress& progress)
{
    auto workspace = load(order, have, progress);
    if (!workspace)
        return fail(workspace.error());
    PreparedTakeIn prepared;
    prepared.workspace = std::move(*workspace);
    prepared.record.delivery = delivery;
    std::vector<Member> before, after;
    DeliveryId from = 0;
    for (std::size_t i = 0; i < prepared.workspace.deliveries.size(); ++i)
        if (prepared.workspace.deliveries[i] == delivery)
            after.push_back(prepared.workspace.members[i]);
    if (after.empty())
        return fail({kUnknown, "The delivery is not in this project any more."});
    for (std::size_t i = 0; i < have.members.size(); ++i)
        if (have.members[i].discipline == after[0].discipline && have.deliveries[i] != delivery) {
            before.push_back(have.members[i]);
            from = have.deliveries[i];
        }
    if (!before.empty()) {
        auto comparison = compareDeliveries(before, from, after, delivery, progress);
        if (!comparison)
            return fail(comparison.error());
        prepared.record.comparison = std::move(*comparison);
    }
    prepared.alignment = alignmentInWords(prepared.workspace, order.reference, after[0].discipline);
    // The first of its discipline makes no run: the tests are run when the composition is whole.
    if (prepared.workspace.find(order.reference) != nullptr && have.find(order.reference) != nullptr &&
        !before.empty()) {
        auto run = runTests(prepared.workspace, order, progress);
        if (!run)
            return fail(run.error());
        if (progress.isCancelled()) // a taking in is whole or not at all
            return fail({clash::kCancelled, "Cancelled; nothing was taken in."});
        prepared.record.run = std::move(*run);
    }
    return prepared;
}

} // namespace wendrix::project
