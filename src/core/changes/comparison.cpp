#include "core/changes/comparison.h"

#include "core/base/number.h"
#include "core/changes/same_shape.h"
#include "core/clash/shape_index.h"
#include "core/geometry/boolean.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <map>
#include <optional>
#include <unordered_map>

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

/// Whether two bodies are written the same to the last bit, and stand at the same place: most do, and then nothing has
/// to be laid on anything.
bool isWrittenTheSame(const Member& before, ElementIndex was, const Member& after, ElementIndex now)
{
    const auto digestOf = [](const Member& member, ElementIndex element) {
        return clash::MemberIndex::of(member.geometry)->digests(*member.model).bodies[element];
    };
    return before.fit == after.fit && digestOf(before, was) == digestOf(after, now);
}

/// Fills the geometric part of a change.
void compareShapes(const Member& before, const Member& after, double tolerance, Change& change)
{
    if (isWrittenTheSame(before, change.before, after, change.after))
        return;
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

/// Elements by class and by where the middle of their bounds lies, to find those of one place.
class ByPlace {
public:
    void add(std::string_view className, Point3 middle, ElementIndex element)
    {
        cells_[keyOf(className, cellOf(middle))].push_back(element);
    }
    /// Elements of the class whose middles are no farther off than half a cell along any axis, and some others.
    template <class Found>
    void eachNear(std::string_view className, Point3 middle, Found&& found) const
    {
        const std::array<std::int64_t, 3> at = cellOf(middle);
        for (std::int64_t x = -1; x <= 1; ++x)
            for (std::int64_t y = -1; y <= 1; ++y)
                for (std::int64_t z = -1; z <= 1; ++z)
                    if (const auto cell = cells_.find(keyOf(className, {at[0] + x, at[1] + y, at[2] + z}));
                        cell != cells_.end())
                        for (const ElementIndex element : cell->second)
                            found(element);
    }

private:
    static constexpr double kCell = 0.25; // metres; far more than bounds of the same thing may differ
    static std::array<std::int64_t, 3> cellOf(Point3 p)
    {
        return {std::llround(p.x / kCell), std::llround(p.y / kCell), std::llround(p.z / kCell)};
    }
    static std::uint64_t keyOf(std::string_view className, const std::array<std::int64_t, 3>& cell)
    {
        std::uint64_t key = std::hash<std::string_view>()(className);
        for (const std::int64_t c : cell)
            key = (key ^ static_cast<std::uint64_t>(c)) * 0x9E3779B97F4A7C15u + (key >> 29);
        return key;
    }
    std::unordered_map<std::uint64_t, std::vector<ElementIndex>> cells_; // whoever asks looks at what it finds again
};

/// Pairs added and removed elements that are the same thing with a new GlobalId: the first removed one of the class
/// that has the same body at the same place.
void findRekeyed(const Member& before, const Member& after, double tolerance, Comparison& result)
{
    const Transform frame = frameBetween(before, after);
    const auto classOf = [](const Member& m, ElementIndex e) { return m.model->className(m.model->elements()[e]); };
    ByPlace removed;
    for (const ElementIndex i : result.removed)
        if (!before.geometry->elements()[i].placed.empty())
            removed.add(classOf(before, i), frame.apply(before.geometry->elements()[i].bounds).centre(), i);
    std::vector<bool> isTaken(before.model->elements().size(), false);
    std::vector<ElementIndex> stillAdded;
    for (const ElementIndex i : result.added) {
        const geometry::ElementShape& shape = after.geometry->elements()[i];
        std::optional<ElementIndex> match;
        const auto isSame = [&](ElementIndex was) {
            if (isTaken[was] || classOf(before, was) != classOf(after, i))
                return false;
            if (isWrittenTheSame(before, was, after, i))
                return true;
            const Mesh now = after.geometry->meshOf(i);
            return !now.isEmpty() && isSameShape(bodyBefore(before, was, after), now, tolerance);
        };
        if (!shape.placed.empty())
            removed.eachNear(classOf(after, i), shape.bounds.centre(), [&](ElementIndex was) {
                if ((!match || was < *match) && isSame(was))
                    match = was;
            });
        if (!match) {
            stillAdded.push_back(i);
            continue;
        }
        isTaken[*match] = true;
        result.rekeyed.push_back({*match, i});
    }
    result.added = std::move(stillAdded);
    std::erase_if(result.removed, [&](ElementIndex i) { return isTaken[i]; });
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
