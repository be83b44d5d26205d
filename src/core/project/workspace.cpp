#include "core/project/workspace.h"

#include "core/base/text.h"
#include "core/clash/engine.h"
#include "core/federation/member_cache.h"
#include "core/federation/standing.h"

namespace wendrix::project {

using federation::Member;

namespace {

constexpr changes::CompareOptions kCompareOptions{};

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
    const auto index = indexOf(discipline);
    return index ? &members[*index] : nullptr;
}

std::optional<std::uint32_t> Workspace::indexOf(const std::string& discipline) const
{
    for (std::uint32_t i = 0; i < members.size(); ++i)
        if (members[i].discipline == discipline)
            return i;
    return {};
}

WorkspaceOrder orderOf(const Project& project, std::optional<DeliveryId> instead)
{
    WorkspaceOrder order;
    order.reference = project.reference();
    order.tests = project.tests();
    order.cache = project.folder() / "cache";
    const auto wanted = instead ? project.delivery(*instead) : std::nullopt;
    for (const Discipline& d : project.disciplines()) {
        const auto used = wanted && wanted->discipline == d.name ? wanted : project.inUse(d.name);
        if (used)
            order.items.push_back({*used, project.fileOf(*used), project.fit(d.name).fit, d.colour});
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
            if (have.deliveries[i] == item.delivery.id) {
                member = have.members[i];
                isThere = true;
            }
        if (!isThere) {
            auto opened = federation::openMember(item.file, item.delivery.sha256, cache, progress);
            if (!opened) {
                Error error = opened.error();
                error.file = item.delivery.fileName; // the name the sender knows, not our own copy's
                return fail(std::move(error));
            }
            member = std::move(*opened);
        }
        member.discipline = item.delivery.discipline;
        member.revision = item.delivery.revision;
        member.fit = item.fit;
        workspace.members.push_back(std::move(member));
        workspace.deliveries.push_back(item.delivery.id);
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
        const auto left = workspace.indexOf(test.left), right = workspace.indexOf(test.right);
        if (!left || !right)
            continue;
        const auto findings = clash::findHard(workspace.members, std::span(&*left, 1), std::span(&*right, 1),
                                              {test.tolerance}, progress);
        if (!findings)
            return fail(findings.error());
        TestFindings result{test.name, {}, findings->pairsTested};
        for (const clash::Clash& c : findings->clashes)
            result.pairs.push_back(pairOf(c, test, workspace, locator));
        all.push_back(std::move(result));
    }
    return all;
}

std::vector<ChangeRecord> changeRecords(const changes::Comparison& comparison, const Member& before, DeliveryId from,
                                        const Member& after, DeliveryId to)
{
    std::vector<ChangeRecord> records;
    const auto record = [&](const Member& member, ifc::ElementIndex element, unsigned kinds) -> ChangeRecord& {
        const ifc::Element& e = member.model->elements()[element];
        ChangeRecord r;
        r.discipline = after.discipline;
        r.from = from;
        r.to = to;
        r.guid = e.guid;
        r.kinds = kinds;
        r.name = member.model->displayName(e);
        if (e.storey != ifc::kNoStorey)
            r.storey = member.model->storeys()[static_cast<std::size_t>(e.storey)].name;
        records.push_back(std::move(r));
        return records.back();
    };
    for (const ifc::ElementIndex i : comparison.added)
        record(after, i, Added);
    for (const ifc::ElementIndex i : comparison.removed)
        record(before, i, Removed);
    for (const changes::Change& c : comparison.changed) {
        ChangeRecord& r = record(after, c.after,
                                 (c.isReshaped ? Reshaped : 0u) | (c.isMoved ? Moved : 0u) | (c.isRedescribed ? Redescribed : 0u));
        r.shift = after.fit.transform().turn(c.shift);
        r.addedVolume = c.addedVolume;
        r.removedVolume = c.removedVolume;
        r.fields = c.fields;
    }
    for (const changes::Rekeyed& k : comparison.rekeyed)
        record(after, k.after, Rekeyed).oldGuid = before.model->elements()[k.before].guid;
    return records;
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
    for (std::size_t i = 0; i < prepared.workspace.deliveries.size(); ++i) {
        if (prepared.workspace.deliveries[i] != delivery)
            continue;
        const Member& after = prepared.workspace.members[i];
        if (const auto index = have.indexOf(after.discipline); index && have.deliveries[*index] != delivery) {
            const auto comparison = changes::compare(have.members[*index], after, kCompareOptions, progress);
            if (!comparison)
                return fail(comparison.error());
            prepared.record.changes =
                changeRecords(*comparison, have.members[*index], have.deliveries[*index], after, delivery);
        }
        const Member* reference = prepared.workspace.find(order.reference);
        if (reference != nullptr && reference != &after) {
            const auto standing = federation::standingOf(*reference->model, after);
            prepared.alignment = standing.likelyCause.empty()
                                     ? "Alignment verified: worst residual " + lengthInWords(standing.worst) + "."
                                     : "Off the reference: " + standing.likelyCause;
        }
    }
    if (prepared.workspace.find(order.reference) != nullptr && have.find(order.reference) != nullptr &&
        !order.tests.empty() && prepared.workspace.members.size() == have.members.size()) {
        auto findings = runTests(prepared.workspace, order, progress);
        if (!findings)
            return fail(findings.error());
        prepared.record.findings = std::move(*findings);
        prepared.record.hasRun = true;
    }
    return prepared;
}

} // namespace wendrix::project
