#include "core/changes/comparison.h"

#include "core/base/number.h"
#include "core/changes/same_shape.h"
#include "core/geometry/boolean.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>
#include <map>
#include <optional>

namespace wendrix::changes {

using federation::Member;
using geometry::Mesh;
using ifc::ElementIndex;

namespace {

using FieldMap = std::map<std::pair<std::string, std::string>, std::string>;

/// Everything a file says about an element but its shape, its number and when it was written.
FieldMap fieldsOf(const ifc::Model& model, const ifc::Element& e)
{
    FieldMap fields;
    const auto put = [&](const std::string& set, const std::string& name, std::string value) {
        if (!value.empty())
            fields.try_emplace({set, name}, std::move(value)); // instance comes before type and wins
    };
    put("", "Class", std::string(model.className(e)));
    put("", "Name", model.text(e.name));
    put("", "Tag", model.text(e.tag));
    put("", "Type", model.text(e.typeName));
    put("", "Material", model.text(e.material));
    put("", "System", model.text(e.system));
    if (e.storey != ifc::kNoStorey)
        put("", "Storey", model.storeys()[static_cast<std::size_t>(e.storey)].name);
    for (const ifc::PropertySet& set : model.properties(e))
        for (const ifc::Property& p : set.properties)
            put(set.name, p.name, p.value + (p.unit.empty() ? "" : " " + p.unit));
    return fields;
}

/// Two readings of a number differ only in how it was written.
bool isSameReading(const std::string& a, const std::string& b)
{
    if (a == b)
        return true;
    const auto x = leadingNumber(a), y = leadingNumber(b);
    if (!x || !y || std::string_view(a).substr(x->length) != std::string_view(b).substr(y->length))
        return false;
    return std::abs(x->value - y->value) <= 1e-9 * std::max(std::abs(x->value), std::abs(y->value));
}

std::vector<FieldChange> fieldChanges(const FieldMap& before, const FieldMap& after)
{
    std::vector<FieldChange> changes;
    const auto value = [](const FieldMap& map, const FieldMap::key_type& key) {
        const auto found = map.find(key);
        return found != map.end() ? found->second : std::string();
    };
    for (const auto& [key, was] : before)
        if (const std::string now = value(after, key); !isSameReading(was, now))
            changes.push_back({key.first, key.second, was, now});
    for (const auto& [key, now] : after)
        if (!before.contains(key))
            changes.push_back({key.first, key.second, "", now});
    return changes;
}

/// From the file frame of the revision before to that of the one after, by the fits in force for them.
Transform frameBetween(const Member& before, const Member& after)
{
    return before.fit == after.fit ? Transform{} : after.fit.transform().inverse() * before.fit.transform();
}

/// The body before, as it lies in the frame of the revision after.
Mesh bodyBefore(const Member& before, ElementIndex was, const Member& after)
{
    Mesh body = before.geometry->meshOf(was);
    return before.fit == after.fit ? body : geometry::transformed(body, frameBetween(before, after));
}

/// Fills the geometric part of a change.
void compareShapes(const Member& before, const Member& after, double tolerance, Change& change)
{
    const Mesh was = bodyBefore(before, change.before, after), now = after.geometry->meshOf(change.after);
    if (isSameShape(was, now, tolerance) || (was.isEmpty() && now.isEmpty()))
        return;
    const Vector3 shift = geometry::centroidOf(now) - geometry::centroidOf(was);
    if (isSameShape(geometry::transformed(was, Transform::translation(shift)), now, tolerance)) {
        change.isMoved = true;
        change.shift = shift;
        return;
    }
    const Transform placeBefore = frameBetween(before, after) * before.model->elements()[change.before].placement,
                    placeAfter = after.model->elements()[change.after].placement;
    const bool placeStayed = length(placeAfter.origin - placeBefore.origin) <= tolerance;
    // Turned about itself: the same shape in its own frame.
    const Transform carry = placeAfter * placeBefore.inverse();
    if (isSameShape(geometry::transformed(was, carry), now, tolerance)) {
        change.isMoved = true;
        change.shift = shift;
        return;
    }
    change.isReshaped = true;
    if (!placeStayed) {
        change.isMoved = true;
        change.shift = placeAfter.origin - placeBefore.origin;
    }
    if (!geometry::boundsOf(was).overlaps(geometry::boundsOf(now))) { // they share nothing that would have to be cut
        change.addedVolume = geometry::volumeOf(now);
        change.removedVolume = geometry::volumeOf(was);
        return;
    }
    // Measured about the element: exact solids do not mind the distance, rounding on the way does.
    const Transform toOwn = Transform::translation(-geometry::boundsOf(now).centre());
    const Mesh a = geometry::transformed(was, toOwn), b = geometry::transformed(now, toOwn);
    if (const auto more = geometry::combine(b, a, geometry::BooleanKind::Difference))
        change.addedVolume = geometry::volumeOf(*more);
    if (const auto less = geometry::combine(a, b, geometry::BooleanKind::Difference))
        change.removedVolume = geometry::volumeOf(*less);
}

/// Pairs added and removed elements that are the same thing with a new GlobalId.
void findRekeyed(const Member& before, const Member& after, double tolerance, Comparison& result)
{
    const Transform frame = frameBetween(before, after);
    std::multimap<std::string, ElementIndex> byClass;
    for (const ElementIndex i : result.removed)
        byClass.emplace(before.model->className(before.model->elements()[i]), i);
    std::vector<ElementIndex> stillAdded;
    for (const ElementIndex i : result.added) {
        const Mesh now = after.geometry->meshOf(i);
        const auto [first, last] = byClass.equal_range(std::string(after.model->className(after.model->elements()[i])));
        auto match = last;
        for (auto at = first; at != last && match == last; ++at)
            if (frame.apply(before.geometry->elements()[at->second].bounds)
                    .grownBy(tolerance)
                    .overlaps(after.geometry->elements()[i].bounds) &&
                !now.isEmpty() && isSameShape(bodyBefore(before, at->second, after), now, tolerance))
                match = at;
        if (match == last) {
            stillAdded.push_back(i);
            continue;
        }
        result.rekeyed.push_back({match->second, i});
        std::erase(result.removed, match->second);
        byClass.erase(match);
    }
    result.added = std::move(stillAdded);
}

} // namespace

Change compareElements(const Member& before, ElementIndex was, const Member& after, ElementIndex now,
                       const CompareOptions& options)
{
    Change change;
    change.before = was;
    change.after = now;
    compareShapes(before, after, options.tolerance, change);
    change.fields = fieldChanges(fieldsOf(*before.model, before.model->elements()[was]),
                                 fieldsOf(*after.model, after.model->elements()[now]));
    change.isRedescribed = !change.fields.empty();
    return change;
}

Result<Comparison> compare(const Member& before, const Member& after, const CompareOptions& options, Progress& progress)
{
    Comparison result;
    std::vector<std::pair<ElementIndex, ElementIndex>> both;
    const auto &old = before.model->elements(), &now = after.model->elements();
    // Where a file repeats a GlobalId, its first element is the first of the other revision, and so on.
    for (ElementIndex i = 0; i < now.size(); ++i) {
        if (const auto match = before.model->find(now[i].guid, after.model->ordinalOf(i)))
            both.emplace_back(*match, i);
        else
            result.added.push_back(i);
    }
    for (ElementIndex i = 0; i < old.size(); ++i)
        if (!after.model->find(old[i].guid, before.model->ordinalOf(i)))
            result.removed.push_back(i);

    std::vector<Change> found(both.size());
    std::atomic<std::size_t> done{0};
    tbb::parallel_for(std::size_t{0}, both.size(), [&](std::size_t k) {
        if (progress.isCancelled())
            return;
        found[k] = compareElements(before, both[k].first, after, both[k].second, options);
        progress.report("Comparing " + before.revision + " with " + after.revision,
                        static_cast<double>(++done) / static_cast<double>(both.size()));
    });
    if (progress.isCancelled())
        return fail({kCancelled, "Comparing was cancelled."});
    for (Change& change : found)
        if (change.isReshaped || change.isMoved || change.isRedescribed)
            result.changed.push_back(std::move(change));
        else
            ++result.unchanged;
    findRekeyed(before, after, options.tolerance, result);
    return result;
}

} // namespace wendrix::changes
