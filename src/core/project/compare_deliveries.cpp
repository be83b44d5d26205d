#include "core/project/change_records.h"
#include "core/project/workspace.h"

#include <algorithm>
#include <map>

/// Two deliveries of one team compared, model by model.
namespace wendrix::project {

using federation::Member;

namespace {

/// Each newer model with the older one of its name; where only one of each is left, those two.
std::vector<std::pair<const Member*, const Member*>> modelPairs(std::span<const Member> before,
                                                                std::span<const Member> after)
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

std::pair<const Member*, ifc::ElementIndex> placeOf(std::span<const Member> members, const ElementRef& ref)
{
    for (const Member& m : members)
        if (const auto element = m.find(ref))
            return {&m, *element};
    return {&members[0], 0};
}

/// What went from one model of a delivery to another is neither added nor removed, but perhaps changed on the way.
///
/// Only a GlobalId that one element alone lost and one element alone got says so: where two models share their ids,
/// nobody can tell which is which.
void joinHandedOver(std::span<const Member> before, std::span<const Member> after, const ComparisonOrder& order,
                    NewComparison& all)
{
    struct Ends {
        std::vector<ElementRef> added, removed;
    };
    std::map<std::string, Ends> ends;
    for (const ChangeRecord& r : all.changes) {
        if ((r.kinds & Added) != 0)
            ends[r.element.guid].added.push_back(r.element);
        if ((r.kinds & Removed) != 0)
            ends[r.element.guid].removed.push_back(r.element);
    }
    std::erase_if(ends, [](const auto& e) { return e.second.added.size() != 1 || e.second.removed.size() != 1; });
    std::erase_if(all.changes, [&](const ChangeRecord& r) {
        return (r.kinds & (Added | Removed)) != 0 && ends.contains(r.element.guid);
    });
    for (const auto& [guid, both] : ends) {
        const auto was = placeOf(before, both.removed[0]), now = placeOf(after, both.added[0]);
        changes::Change change = changes::compareElements(*was.first, was.second, *now.first, now.second, order.rule);
        change.fields.push_back({"", "Model", was.first->part, now.first->part});
        change.isRedescribed = true;
        changes::Comparison one;
        one.changed.push_back(std::move(change));
        auto records = recordsOf(one, *was.first, *now.first, order);
        all.continuations.push_back({both.added[0], both.removed[0]});
        all.changes.push_back(std::move(records[0]));
    }
}

/// What was cut up goes on as its largest part, and of what was joined the largest part goes on as the whole, unless
/// one of them kept the name: a pair is settled once.
void continueLargestParts(const changes::Comparison& comparison, const Member& older, const Member& newer,
                          NewComparison& all)
{
    const auto largest = [](const Member& member, const std::vector<ifc::ElementIndex>& parts) {
        return *std::max_element(parts.begin(), parts.end(), [&](ifc::ElementIndex a, ifc::ElementIndex b) {
            return member.geometry->elements()[a].volume < member.geometry->elements()[b].volume;
        });
    };
    for (const changes::Split& s : comparison.splits)
        if (!newer.find(older.refOf(s.before)))
            all.continuations.push_back({newer.refOf(largest(newer, s.after)), older.refOf(s.before)});
    for (const changes::Merge& m : comparison.merges)
        if (!older.find(newer.refOf(m.after)))
            all.continuations.push_back({newer.refOf(m.after), older.refOf(largest(older, m.before))});
}

/// Elements of a model whose part is called otherwise now, though nothing else of them may have changed.
void continueRenamedPart(const Member& older, const Member& newer, NewComparison& all)
{
    for (ifc::ElementIndex i = 0; i < newer.model->elements().size(); ++i) {
        const ElementRef now = newer.refOf(i);
        if (older.model->find(now.guid, now.ordinal)) {
            ElementRef was = now;
            was.part = older.part;
            all.continuations.push_back({now, was});
        }
    }
}

} // namespace

Result<NewComparison> compareDeliveries(std::span<const Member> before, std::span<const Member> after,
                                        const ComparisonOrder& order, Progress& progress)
{
    NewComparison all;
    all.discipline = after.empty() ? before[0].disciplineId : after[0].disciplineId;
    all.record.discipline = after.empty() ? before[0].discipline : after[0].discipline;
    all.record.from = order.from;
    all.record.to = order.to;
    all.record.rule = order.rule;
    all.record.fromFit = before.empty() ? federation::Fit{} : before[0].fit;
    all.record.toFit = after.empty() ? federation::Fit{} : after[0].fit;
    for (const auto& [older, newer] : modelPairs(before, after)) {
        changes::Comparison comparison;
        if (older != nullptr && newer != nullptr) {
            auto done = changes::compare(*older, *newer, order.rule, progress, order.knowledge);
            if (!done)
                return fail(done.error());
            comparison = std::move(*done);
            for (const changes::Rekeyed& k : comparison.rekeyed)
                all.continuations.push_back({newer->refOf(k.after), older->refOf(k.before)});
            continueLargestParts(comparison, *older, *newer, all);
            if (older->part != newer->part)
                continueRenamedPart(*older, *newer, all);
        }
        const Member& one = newer != nullptr ? *newer : *older;
        for (ifc::ElementIndex i = 0; (older == nullptr || newer == nullptr) && i < one.model->elements().size(); ++i)
            (newer != nullptr ? comparison.added : comparison.removed).push_back(i);
        all.record.unchanged += comparison.unchanged;
        all.record.leftOut += comparison.leftOut;
        auto records = recordsOf(comparison, older != nullptr ? *older : one, newer != nullptr ? *newer : one, order);
        std::move(records.begin(), records.end(), std::back_inserter(all.changes));
    }
    if (before.size() > 1 || after.size() > 1)
        joinHandedOver(before, after, order, all);
    markAlike(all.changes);
    return all;
}

} // namespace wendrix::project
