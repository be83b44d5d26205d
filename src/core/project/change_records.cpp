#include "core/project/change_records.h"

#include "core/base/digest.h"
#include "core/base/fold.h"
#include "core/changes/frames.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <unordered_map>

namespace wendrix::project {

using federation::Member;

namespace {

/// The zone of an element, or of the space it stands in; the first of several by name.
std::string zoneOf(const ifc::Model& model, const ifc::Element& e)
{
    std::vector<std::string> zones;
    std::vector<ifc::EntityId> objects{e.entity};
    for (const ifc::EntityId in : model.relations().others(e.entity, "IfcRelContainedInSpatialStructure", false))
        objects.push_back(in);
    for (const ifc::EntityId object : objects)
        for (const ifc::EntityId group : model.relations().others(object, "IfcRelAssignsToGroup", false))
            if (const ifc::Entity zone = model.source().entity(group); zone.isA("IfcZone"))
                zones.push_back(zone["Name"].text());
    return zones.empty() ? std::string() : *std::min_element(zones.begin(), zones.end());
}

/// The construction phase as properties say it: one that is called so, else the Status of the common sets of IFC 4.
std::string phaseOf(const ifc::Model& model, const ifc::Element& e)
{
    std::string status;
    for (const ifc::PropertySet& set : model.properties(e))
        for (const ifc::Property& p : set.properties) {
            const std::string name = folded(p.name);
            if (name == "phase" || name == "phase created" || name == "construction phase" ||
                name == "constructionphase")
                return p.value;
            if (name == "status" && set.name.starts_with("Pset_") && set.name.ends_with("Common"))
                status = p.value;
        }
    return status;
}

class Records {
public:
    Records(const Member& before, const Member& after, const ComparisonOrder& order)
        : before_(before), after_(after), order_(order)
    {
    }

    ChangeRecord& add(const Member& member, ifc::ElementIndex element, unsigned kinds)
    {
        const ifc::Model& model = *member.model;
        const ifc::Element& e = model.elements()[element];
        ChangeRecord r;
        r.discipline = after_.discipline;
        r.from = order_.from;
        r.to = order_.to;
        r.element = member.refOf(element);
        r.kinds = kinds;
        r.name = model.displayName(e);
        r.className = std::string(model.className(e));
        r.type = model.text(e.typeName);
        r.system = model.text(e.system);
        r.zone = zoneOf(model, e);
        r.phase = phaseOf(model, e);
        if (e.storey != ifc::kNoStorey)
            r.storey = model.storeys()[static_cast<std::size_t>(e.storey)].name;
        r.place = placeOf(member, element);
        all_.push_back(std::move(r));
        return all_.back();
    }

    void add(const changes::Change& c)
    {
        ChangeRecord& r =
            add(after_, c.after,
                (c.isReshaped ? Reshaped : 0u) | (c.isMoved ? Moved : 0u) | (c.isRedescribed ? Redescribed : 0u));
        const Transform fit = after_.fit.transform();
        r.shift = fit.turn(c.motion.shift);
        r.turn = c.motion.turn;
        r.turnAxis = normalised(fit.turn(c.motion.axis));
        r.extents = c.extents;
        r.volumeBefore = c.volumeBefore;
        r.volumeAfter = c.volumeAfter;
        r.fields = c.fields;
        r.place.add(placeOf(before_, c.before));
        if (before_.part != after_.part || before_.refOf(c.before) != after_.refOf(c.after))
            r.continues = before_.refOf(c.before);
    }

    [[nodiscard]] ChangeRecord& last() { return all_.back(); }
    [[nodiscard]] std::vector<ChangeRecord> taken() { return std::move(all_); }
    [[nodiscard]] static Box3 placeOf(const Member& member, ifc::ElementIndex element)
    {
        const geometry::ElementShape& shape = member.geometry->elements()[element];
        return shape.placed.empty() ? Box3{} : member.fit.transform().apply(shape.bounds);
    }

private:
    const Member &before_, &after_;
    const ComparisonOrder& order_;
    std::vector<ChangeRecord> all_;
};

} // namespace

std::vector<ChangeRecord> recordsOf(const changes::Comparison& comparison, const Member& before, const Member& after,
                                    const ComparisonOrder& order)
{
    Records records(before, after, order);
    for (const ifc::ElementIndex i : comparison.added)
        records.add(after, i, Added);
    for (const ifc::ElementIndex i : comparison.removed)
        records.add(before, i, Removed);
    std::map<ifc::ElementIndex, double> renewed;
    std::map<ifc::ElementIndex, ifc::ElementIndex> renewedFrom;
    for (const changes::Rekeyed& k : comparison.rekeyed) {
        renewed[k.after] = k.confidence;
        renewedFrom[k.after] = k.before;
    }
    std::vector<ifc::ElementIndex> told; ///< as parts of what was cut up or joined, if that is all there is to say
    const auto partsOf = [](const Member& member, const std::vector<ifc::ElementIndex>& parts, ChangeRecord& r) {
        for (const ifc::ElementIndex p : parts) {
            r.parts.push_back(member.refOf(p));
            r.place.add(Records::placeOf(member, p));
        }
    };
    for (const changes::Split& s : comparison.splits) {
        const auto own = after.find(before.refOf(s.before));
        ChangeRecord& r = records.add(after, own.value_or(s.after[0]), CutUp);
        r.continues = before.refOf(s.before);
        r.name = before.model->displayName(before.model->elements()[s.before]);
        partsOf(after, s.after, r);
        told.insert(told.end(), s.after.begin(), s.after.end());
    }
    for (const changes::Merge& m : comparison.merges) {
        ChangeRecord& r = records.add(after, m.after, Joined);
        partsOf(before, m.before, r);
        told.push_back(m.after);
    }
    std::sort(told.begin(), told.end());
    for (const changes::Change& c : comparison.changed) {
        // That a part is smaller than the whole was goes without saying; what else changed of it does not.
        changes::Change rest = c;
        if (std::binary_search(told.begin(), told.end(), c.after))
            rest.isReshaped = rest.isMoved = false;
        if (!rest.isAny())
            continue;
        records.add(rest);
        if (const auto found = renewed.find(c.after); found != renewed.end()) {
            ChangeRecord& r = records.last();
            r.kinds |= Rekeyed;
            r.confidence = found->second;
            renewed.erase(found);
        }
    }
    for (const auto& [now, confidence] : renewed) {
        ChangeRecord& r = records.add(after, now, Rekeyed);
        r.continues = before.refOf(renewedFrom.at(now));
        r.confidence = confidence;
    }
    return records.taken();
}

void markAlike(std::vector<ChangeRecord>& records)
{
    constexpr double kSame = 0.0005; // metres
    // Leaders of shifts: the first that was met, and all that are near it.
    std::map<std::array<std::int64_t, 3>, Vector3> leaders;
    const auto leaderOf = [&](Vector3 shift) {
        const std::array<std::int64_t, 3> cell{std::llround(shift.x / kSame), std::llround(shift.y / kSame),
                                               std::llround(shift.z / kSame)};
        for (std::int64_t x = -1; x <= 1; ++x)
            for (std::int64_t y = -1; y <= 1; ++y)
                for (std::int64_t z = -1; z <= 1; ++z)
                    if (const auto found = leaders.find({cell[0] + x, cell[1] + y, cell[2] + z});
                        found != leaders.end() && length(found->second - shift) <= kSame)
                        return found->second;
        return leaders[cell] = shift;
    };
    for (ChangeRecord& r : records) {
        Digest d;
        d.add(std::uint64_t{r.kinds});
        if ((r.kinds & Moved) != 0) {
            d.add(leaderOf(r.shift));
            d.add(static_cast<std::uint64_t>(std::llround(r.turn.value * 1e4)));
        }
        if ((r.kinds & Reshaped) != 0) {
            d.add(std::string_view(r.className));
            d.add(std::string_view(r.type));
            d.add(std::string_view(r.extents));
        }
        if ((r.kinds & Redescribed) != 0)
            for (const changes::FieldChange& f : r.fields) {
                d.add(std::string_view(f.set));
                d.add(std::string_view(f.name));
                // What also became longer says another length each, and is alike all the same.
                if ((r.kinds & (Moved | Reshaped)) == 0) {
                    d.add(std::string_view(f.before));
                    d.add(std::string_view(f.after));
                }
            }
        if ((r.kinds & (Added | Removed | CutUp | Joined)) != 0) {
            d.add(std::string_view(r.className));
            d.add(std::string_view(r.type));
            d.add(std::string_view(r.storey));
        }
        r.alike = static_cast<std::int64_t>(d.a >> 1);
    }
}

} // namespace wendrix::project
