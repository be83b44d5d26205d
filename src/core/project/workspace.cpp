#include "core/project/workspace.h"

#include "core/base/text.h"
#include "core/clash/engine.h"
#include "core/federation/member_cache.h"
#include "core/federation/standing.h"
#include "core/project/proposal.h"

#include <algorithm>

namespace wendrix::project {

using federation::Member;

namespace {

Pair pairOf(const clash::Clash& c, const ClashTest& test, const Workspace& workspace, const federation::Locator& locator)
{
    const Member &left = workspace.members[c.left.member], &right = workspace.members[c.right.member];
    const federation::Location where = locator.at(c.point);
    Pair p;
    p.id = clash::pairId(test.name, c.leftGuid, c.rightGuid);
    p.test = test.name;
    p.leftGuid = c.leftGuid;
    p.rightGuid = c.rightGuid;
    p.leftName = left.model->displayName(left.model->elements()[c.left.element]);
    p.rightName = right.model->displayName(right.model->elements()[c.right.element]);
    p.leftRevision = left.title();
    p.rightRevision = right.title();
    p.depth = c.depth;
    p.point = c.point;
    p.storey = where.storey;
    p.bay = where.bay;
    return p;
}

} // namespace

const Member* Workspace::find(const std::string& discipline) const
{
    const auto found = std::find_if(members.begin(), members.end(), [&](const Member& m) { return m.discipline == discipline; });
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

bool Workspace::holds(DeliveryId delivery) const { return std::find(deliveries.begin(), deliveries.end(), delivery) != deliveries.end(); }

std::vector<WorkspaceOrder::Item> itemsOf(const Project& project, const Delivery& delivery)
{
    std::vector<std::string> leftOut;
    for (const Discipline& d : project.disciplines())
        if (d.name == delivery.discipline)
            leftOut = d.leftOut;
    const federation::Fit fit = project.fit(delivery.discipline).fit;
    std::vector<WorkspaceOrder::Item> items;
    for (const ModelFile& model : delivery.models())
        items.push_back({delivery, model, delivery.moreModels.empty() ? "" : partName(model.fileName, delivery.revision), project.fileOf(model), fit, leftOut});
    return items;
}

WorkspaceOrder orderOf(const Project& project, const Scope& scope)
{
    WorkspaceOrder order;
    order.reference = project.reference();
    order.tests = project.tests();
    order.cache = project.folder() / "cache";
    const auto wanted = scope.instead ? project.delivery(*scope.instead) : std::nullopt;
    const auto then = scope.cycle ? project.compositionOf(*scope.cycle) : std::map<std::string, DeliveryId>();
    std::optional<Federation> federation;
    for (Federation& f : project.federations())
        if (f.name == scope.federation)
            federation = std::move(f);
    for (const Discipline& d : project.disciplines()) {
        std::optional<Delivery> used;
        if (wanted && wanted->discipline == d.name)
            used = wanted;
        else if (federation && !federation->has(d.name))
            continue;
        else if (!scope.cycle)
            used = project.inUse(d.name);
        else if (const auto was = then.find(d.name); was != then.end())
            used = project.delivery(was->second);
        if (used)
            for (WorkspaceOrder::Item& item : itemsOf(project, *used))
                order.items.push_back(std::move(item));
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
            if (have.deliveries[i] == item.delivery.id && have.members[i].part == item.part && have.leftOut.size() > i && have.leftOut[i] == item.leftOut) {
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
        }
        member.discipline = item.delivery.discipline;
        member.revision = item.delivery.revision;
        member.part = item.part;
        member.fit = item.fit;
        workspace.members.push_back(std::move(member));
        workspace.deliveries.push_back(item.delivery.id);
        workspace.leftOut.push_back(item.leftOut);
    }
    return workspace;
}

Result<std::vector<TestFindings>> runTests(const Workspace& workspace, const WorkspaceOrder& order, Progress& progress)
{
    std::vector<TestFindings> all;
    const Member* reference = workspace.find(order.reference);
    if (reference == nullptr)
        return fail({kUnknown, "The reference member is not taken in yet; clashes can not be placed without it."});
    const federation::Locator locator(*reference->model);
    for (const ClashTest& test : order.tests) {
        const auto left = workspace.allOf(test.left), right = workspace.allOf(test.right);
        if (left.empty() || right.empty())
            continue;
        const auto findings = clash::findHard(workspace.members, left, right, {test.tolerance}, progress);
        if (!findings)
            return fail(findings.error());
        TestFindings result{test.name, {}, findings->pairsTested};
        for (const clash::Clash& c : findings->clashes)
            result.pairs.push_back(pairOf(c, test, workspace, locator));
        all.push_back(std::move(result));
    }
    return all;
}

std::string alignmentInWords(const Workspace& workspace, const std::string& reference, const std::string& discipline)
{
    const Member *onto = workspace.find(reference), *member = workspace.find(discipline);
    if (onto == nullptr || member == nullptr || onto == member)
        return {};
    const auto standing = federation::standingOf(*onto->model, *member);
    return standing.likelyCause.empty() ? "Alignment verified: worst residual " + lengthInWords(standing.worst) + "."
                                        : "Off the reference: " + standing.likelyCause;
}

Result<PreparedTakeIn> prepareTakeIn(const WorkspaceOrder& order, DeliveryId delivery, const Workspace& have, Progress& progress)
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
        auto changes = compareDeliveries(before, from, after, delivery, progress);
        if (!changes)
            return fail(changes.error());
        prepared.record.changes = std::move(*changes);
    }
    prepared.alignment = alignmentInWords(prepared.workspace, order.reference, after[0].discipline);
    // The first of its discipline makes no run: the tests are run when the composition is whole.
    if (prepared.workspace.find(order.reference) != nullptr && have.find(order.reference) != nullptr && !order.tests.empty() && !before.empty()) {
        auto findings = runTests(prepared.workspace, order, progress);
        if (!findings)
            return fail(findings.error());
        prepared.record.findings = std::move(*findings);
        prepared.record.hasRun = true;
    }
    return prepared;
}

} // namespace wendrix::project
