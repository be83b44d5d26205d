#include "core/changes/comparison.h"

#include "core/changes/frames.h"
#include "core/changes/same_shape.h"
#include "core/changes/volume_change.h"
#include "core/ifc/described.h"

#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <atomic>
#include <cmath>

namespace wendrix::changes {

using federation::Member;
using geometry::Mesh;
using ifc::ElementIndex;

namespace {

/// What the bounds of two bodies share, along the axes of a frame.
double sharedAlong(const Transform& frame, const Mesh& a, const Mesh& b)
{
    const Transform toFrame = frame.inverse();
    return sharedPart(geometry::boundsOf(geometry::transformed(a, toFrame)),
                      geometry::boundsOf(geometry::transformed(b, toFrame)));
}

/// Fills the geometric part of a change.
void compareShapes(const Member& before, const Member& after, const ChangeRule& rule, Change& change)
{
    if (isWrittenTheSame(before, change.before, after, change.after))
        return;
    const Mesh was = bodyBefore(before, change.before, after), now = after.geometry->meshOf(change.after);
    if ((was.isEmpty() && now.isEmpty()) || isSameShape(was, now, rule.distance))
        return;
    const Transform placeBefore = frameBetween(before, after) * before.model->elements()[change.before].placement,
                    placeAfter = after.model->elements()[change.after].placement;
    const Transform carry = placeAfter * placeBefore.inverse();
    if (!was.isEmpty() && !now.isEmpty()) {
        if (const auto motion = motionBetween(was, now, {&carry, 1}, rule.distance)) {
            change.isMoved = length(motion->shift) > rule.distance || std::abs(motion->turn.value) > rule.angle.value;
            change.motion = *motion;
            return;
        }
    }
    const geometry::ElementShape &shapeBefore = before.geometry->elements()[change.before],
                                 &shapeAfter = after.geometry->elements()[change.after];
    if (rule.volume > 0) {
        const VolumeChange volumes = volumeChange(was, now, rule.distance);
        if (volumes.isExact && volumes.addedVolume + volumes.removedVolume <= rule.volume)
            return;
    }
    change.isReshaped = true;
    change.volumeBefore = shapeBefore.isClosed ? geometry::volumeOf(was) : 0;
    change.volumeAfter = shapeAfter.isClosed ? shapeAfter.volume : 0;
    change.areaBefore = geometry::areaOf(was);
    change.areaAfter = shapeAfter.area;
    if (was.isEmpty() || now.isEmpty())
        return;
    // Its own frame went elsewhere, and took the body along rather than being written another way.
    const Mesh carried = geometry::transformed(was, carry);
    const bool isCarried =
        carry != Transform{} && sharedAlong(placeAfter, carried, now) > sharedAlong(placeAfter, was, now) + 1e-6;
    if (isCarried) {
        const Motion motion = motionOf(carry, placeBefore.origin, placeAfter.origin);
        change.isMoved = length(motion.shift) > rule.distance || std::abs(motion.turn.value) > rule.angle.value;
        if (change.isMoved)
            change.motion = motion;
    }
    change.extents = inWords(extentsOf(change.isMoved ? carried : was, now, placeAfter, {0, 0, 1}), rule.distance);
}

void compareFields(const Member& before, const Member& after, const ChangeRule& rule, const FieldsLeftOut& leftOut,
                   Change& change)
{
    if (before.model->descriptions()[change.before] == after.model->descriptions()[change.after])
        return;
    change.fields = fieldChanges(ifc::descriptionOf(*before.model, before.model->elements()[change.before]),
                                 ifc::descriptionOf(*after.model, after.model->elements()[change.after]), rule.number);
    std::erase_if(change.fields, [&](const FieldChange& field) { return leftOut.has(field); });
    change.isRedescribed = !change.fields.empty();
}

Change compared(const Member& before, ElementIndex was, const Member& after, ElementIndex now, const ChangeRule& rule,
                const FieldsLeftOut& leftOut)
{
    Change change;
    change.before = was;
    change.after = now;
    compareShapes(before, after, rule, change);
    compareFields(before, after, rule, leftOut, change);
    return change;
}

/// By element: 1 where the rule leaves it out.
std::vector<std::uint8_t> leftOutOf(const Member& member, const ChangeRule& rule, const sets::Knowledge& knowledge)
{
    const auto line = rule.elements.empty() ? std::nullopt : sets::parse(rule.elements).expression;
    if (!line)
        return {};
    return std::move(sets::Elements({&member, 1}).in(*line, knowledge).picked[0]);
}

/// Those of both that changed, and how many did not.
struct Looked {
    std::vector<Change> changed;
    std::size_t unchanged = 0;
};
Looked lookedAt(const std::vector<Same>& both, const Member& before, const Member& after, const ChangeRule& rule,
                Progress& progress)
{
    const FieldsLeftOut leftOut(rule.fields);
    const std::string what = "Comparing " + before.revision + " with " + after.revision;
    constexpr std::size_t kBatch = 1 << 12; // what is compared between two looks at the token
    std::atomic<std::size_t> done{0};
    std::vector<Looked> parts((both.size() + kBatch - 1) / kBatch);
    tbb::parallel_for(std::size_t{0}, parts.size(), [&](std::size_t part) {
        for (std::size_t k = part * kBatch; k < std::min(both.size(), (part + 1) * kBatch); ++k) {
            if (k % 64 == 0 && progress.isCancelled())
                return;
            Change change = compared(before, both[k].before, after, both[k].after, rule, leftOut);
            if (change.isAny())
                parts[part].changed.push_back(std::move(change));
            else
                ++parts[part].unchanged;
        }
        progress.report(what, static_cast<double>(done += kBatch) / static_cast<double>(both.size() + kBatch));
    });
    Looked all;
    for (Looked& part : parts) {
        std::move(part.changed.begin(), part.changed.end(), std::back_inserter(all.changed));
        all.unchanged += part.unchanged;
    }
    return all;
}

void takeOut(std::vector<ElementIndex>& list, std::vector<ElementIndex> taken)
{
    std::sort(taken.begin(), taken.end());
    std::erase_if(list, [&](ElementIndex i) { return std::binary_search(taken.begin(), taken.end(), i); });
}

/// What stands under the rest that no GlobalId matches: renewed, cut up, joined.
void explainTheRest(const Member& before, const Member& after, double tolerance, Comparison& result)
{
    const auto renew = [&](Looking looking) {
        const auto pairs = renewedIds(before, result.removed, after, result.added, tolerance, looking);
        std::vector<ElementIndex> was, now;
        for (const Rekeyed& r : pairs) {
            was.push_back(r.before);
            now.push_back(r.after);
        }
        takeOut(result.removed, std::move(was));
        takeOut(result.added, std::move(now));
        result.rekeyed.insert(result.rekeyed.end(), pairs.begin(), pairs.end());
    };
    renew(Looking::ForTheSameBody);
    std::vector<Same> reshaped;
    for (const Change& c : result.changed)
        if (c.isReshaped)
            reshaped.push_back({c.before, c.after});
    SplitsAndMerges found = splitsAndMerges(before, result.removed, after, result.added, reshaped, tolerance);
    std::vector<ElementIndex> was, now;
    for (const Split& s : found.splits) {
        was.push_back(s.before);
        now.insert(now.end(), s.after.begin(), s.after.end());
    }
    for (const Merge& m : found.merges) {
        was.insert(was.end(), m.before.begin(), m.before.end());
        now.push_back(m.after);
    }
    takeOut(result.removed, std::move(was));
    takeOut(result.added, std::move(now));
    result.splits = std::move(found.splits);
    result.merges = std::move(found.merges);
    renew(Looking::ForAnyLikeness);
    std::sort(result.rekeyed.begin(), result.rekeyed.end(),
              [](const Rekeyed& a, const Rekeyed& b) { return a.after < b.after; });
}

} // namespace

Change compareElements(const Member& before, ElementIndex was, const Member& after, ElementIndex now,
                       const ChangeRule& rule)
{
    return compared(before, was, after, now, rule, FieldsLeftOut(rule.fields));
}

Result<Comparison> compare(const Member& before, const Member& after, const ChangeRule& rule, Progress& progress,
                           const sets::Knowledge& knowledge)
{
    const auto cancelled = [] { return fail({kCancelled, "Comparing was cancelled."}); };
    Comparison result;
    std::vector<std::uint8_t> wasLeftOut, nowLeftOut;
    tbb::parallel_invoke(
        [&] {
            before.model->indexGuids();
            wasLeftOut = leftOutOf(before, rule, knowledge);
        },
        [&] {
            after.model->indexGuids();
            nowLeftOut = leftOutOf(after, rule, knowledge);
        });
    const auto isLeftOut = [](const std::vector<std::uint8_t>& leftOut, ElementIndex i) {
        return !leftOut.empty() && leftOut[i] != 0;
    };
    std::vector<Same> both;
    const auto &old = before.model->elements(), &now = after.model->elements();
    // Where a file repeats a GlobalId, its first element is the first of the other revision, and so on.
    std::vector<bool> isMatched(old.size(), false);
    for (ElementIndex i = 0; i < now.size(); ++i) {
        const auto match = before.model->find(now[i].guid, after.model->ordinalOf(i));
        if (match)
            isMatched[*match] = true;
        if (isLeftOut(nowLeftOut, i) || (match && isLeftOut(wasLeftOut, *match)))
            ++result.leftOut;
        else if (match)
            both.push_back({*match, i});
        else
            result.added.push_back(i);
    }
    for (ElementIndex i = 0; i < old.size(); ++i)
        if (!isMatched[i] && !isLeftOut(wasLeftOut, i))
            result.removed.push_back(i);
    Looked looked = lookedAt(both, before, after, rule, progress);
    if (progress.isCancelled())
        return cancelled();
    result.changed = std::move(looked.changed);
    result.unchanged = looked.unchanged;
    if (!result.added.empty() || !result.removed.empty())
        explainTheRest(before, after, rule.distance, result);
    both.clear();
    for (const Rekeyed& r : result.rekeyed)
        both.push_back({r.before, r.after});
    looked = lookedAt(both, before, after, rule, progress);
    if (progress.isCancelled())
        return cancelled();
    std::move(looked.changed.begin(), looked.changed.end(), std::back_inserter(result.changed));
    std::sort(result.changed.begin(), result.changed.end(),
              [](const Change& a, const Change& b) { return a.after < b.after; });
    return result;
}

} // namespace wendrix::changes
