#include "core/project/workspace.h"

#include <algorithm>
#include <map>

/// Two deliveries of one team compared, model by model.
namespace wendrix::project {

using federation::Member;

namespace {

constexpr changes::CompareOptions kOptions{};

std::vector<ChangeRecord> recordsOf(const changes::Comparison& comparison, const Member& before, DeliveryId from, const Member& after, DeliveryId to)
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

/// Each newer model with the older one of its name; where only one of each is left, those two.
std::vector<std::pair<const Member*, const Member*>> modelPairs(std::span<const Member> before, std::span<const Member> after)
{
    std::vector<std::pair<const Member*, const Member*>> pairs;
    std::vector<const Member*> older, newer;
    for (const Member& b : before)
        older.push_back(&b);
    for (const Member& a : after) {
        const auto same = std::find_if(older.begin(), older.end(), [&](const Member* b) { return b->part == a.part; });
        if (same == older.end()) {
            newer.push_back(&a);
            continue;
        }
        pairs.emplace_back(*same, &a);
        older.erase(same);
    }
    if (older.size() == 1 && newer.size() == 1)
        return pairs.emplace_back(older[0], newer[0]), pairs;
    for (const Member* b : older)
        pairs.emplace_back(b, nullptr);
    for (const Member* a : newer)
        pairs.emplace_back(nullptr, a);
    return pairs;
}

std::pair<const Member*, ifc::ElementIndex> placeOf(std::span<const Member> members, const std::string& guid)
{
    for (const Member& m : members)
        if (const auto element = m.model->find(guid))
            return {&m, *element};
    return {&members[0], 0};
}

} // namespace

Result<std::vector<ChangeRecord>> compareDeliveries(std::span<const Member> before, DeliveryId from, std::span<const Member> after, DeliveryId to,
                                                    Progress& progress)
{
    std::vector<ChangeRecord> all;
    for (const auto& [older, newer] : modelPairs(before, after)) {
        changes::Comparison comparison;
        if (older != nullptr && newer != nullptr) {
            auto done = changes::compare(*older, *newer, kOptions, progress);
            if (!done)
                return fail(done.error());
            comparison = std::move(*done);
        }
        const Member& one = newer != nullptr ? *newer : *older;
        for (ifc::ElementIndex i = 0; (older == nullptr || newer == nullptr) && i < one.model->elements().size(); ++i)
            (newer != nullptr ? comparison.added : comparison.removed).push_back(i);
        auto records = recordsOf(comparison, older != nullptr ? *older : one, from, newer != nullptr ? *newer : one, to);
        std::move(records.begin(), records.end(), std::back_inserter(all));
    }
    if (before.size() == 1 && after.size() == 1)
        return all;
    // Handed from one model to another: neither added nor removed, but perhaps changed on the way.
    std::map<std::string, unsigned> kinds;
    for (const ChangeRecord& r : all)
        kinds[r.guid] |= r.kinds & (Added | Removed);
    std::erase_if(all, [&](const ChangeRecord& r) { return kinds[r.guid] == (Added | Removed); });
    for (const auto& [guid, both] : kinds) {
        if (both != (Added | Removed))
            continue;
        const auto was = placeOf(before, guid), now = placeOf(after, guid);
        changes::Change change = changes::compareElements(*was.first, was.second, *now.first, now.second, kOptions);
        change.fields.push_back({"", "Model", was.first->part, now.first->part});
        change.isRedescribed = true;
        changes::Comparison one;
        one.changed.push_back(std::move(change));
        auto records = recordsOf(one, *was.first, from, *now.first, to);
        all.push_back(std::move(records[0]));
    }
    return all;
}

} // namespace wendrix::project
