#include "core/geometry/item_reader.h"

#include "core/geometry/repair.h"
#include "core/geometry/sweep.h"

namespace wendrix::geometry {

using ifc::Entity;
using step::Value;

namespace {

// Maps within maps beyond this refer in a circle.
constexpr int kDeepestMap = 32;

bool isFinite(const Transform& t)
{
    return std::isfinite(length(t.x)) && std::isfinite(length(t.y)) && std::isfinite(length(t.z)) &&
           std::isfinite(length(t.origin));
}

} // namespace

ItemReader::ItemReader(const ifc::Model& model, const Fineness& fineness, const Progress& progress)
    : source_(model.source()), solids_(model, fineness), styles_(model.source(), progress)
{
}

std::vector<BodyPart> ItemReader::representation(ifc::EntityId id, Diagnostics& diagnostics) const
{
    std::size_t met = 0;
    return items(source_.entity(id), diagnostics, Effort{&met});
}

std::vector<BodyPart> ItemReader::items(const Entity& representation, Diagnostics& diagnostics,
                                        const Effort& effort) const
{
    std::vector<BodyPart> parts;
    for (const Value reference : representation["Items"]) {
        const Entity e = source_.entity(reference);
        if (!e) {
            diagnostics.push_back({Severity::Error, "geometry.missing-item", ifc::entityName(reference.reference()),
                                   "The body refers to an item that is missing, unknown or not well formed."});
            continue;
        }
        auto more = item(e, diagnostics, effort);
        std::move(more.begin(), more.end(), std::back_inserter(parts));
    }
    return parts;
}

std::vector<BodyPart> ItemReader::item(const Entity& e, Diagnostics& diagnostics, const Effort& effort) const
{
    std::vector<BodyPart> parts;
    const auto colour = styles_.ofItem(e.id());
    if (e.isA("IfcMappedItem")) {
        const Transform to = solids_.curves().placements().transformationOperator(source_.entity(e["MappingTarget"]));
        if (!isFinite(to)) {
            SolidReader::sayNotBuilt(diagnostics, e, "its target is no place");
            return parts;
        }
        parts = mapped(e["MappingSource"].reference(), diagnostics, effort.deeper());
        for (BodyPart& part : parts) {
            part.mesh = transformed(part.mesh, to);
            part.colour = part.colour ? part.colour : colour;
        }
        return parts;
    }
    // A clipped operand carries the style of what it was clipped from.
    auto own = colour;
    Entity first = source_.entity(e["FirstOperand"]);
    for (int operand = 0; !own && first && operand < kDeepestMap; ++operand) {
        own = styles_.ofItem(first.id());
        first = source_.entity(first["FirstOperand"]);
    }
    EdgeFaults faults;
    for (Mesh& mesh : solids_.meshes(e, diagnostics, effort)) {
        const EdgeFaults here = edgeFaults(mesh);
        faults.free += here.free;
        faults.crowded += here.crowded;
        parts.push_back({std::move(mesh), here.isClosed(), own});
    }
    if (!faults.isClosed())
        diagnostics.push_back(
            {Severity::Warning, "geometry.open", ifc::entityName(e.id()),
             "The body is not closed: " + faults.inWords() + ". It has no volume; ask the sender for a solid."});
    return parts;
}

std::vector<SharedPart> ItemReader::sharedParts(ifc::EntityId representation, Diagnostics& diagnostics) const
{
    std::vector<SharedPart> shared;
    Diagnostics said; // only if all of it is shared; else it is read, and said, again
    for (const Value reference : source_.entity(representation)["Items"]) {
        const Entity e = source_.entity(reference);
        const auto colour = styles_.ofItem(e.id());
        if (e.isA("IfcMappedItem")) {
            const Transform to =
                solids_.curves().placements().transformationOperator(source_.entity(e["MappingTarget"]));
            if (!isFinite(to))
                return {};
            shared.push_back({e["MappingSource"].reference(), to, colour, e.id()});
            continue;
        }
        Repairs repairs;
        auto prism = solids_.swept().prism(e, repairs);
        if (prism && isFinite(prism->placement)) {
            repairs.say(said, ifc::entityName(e.id()));
            shared.push_back({std::move(prism->areas), prism->placement, colour, e.id()});
        } else {
            return {};
        }
    }
    diagnostics.insert(diagnostics.end(), said.begin(), said.end());
    return shared;
}

std::vector<BodyPart> ItemReader::representationMap(ifc::EntityId id, Diagnostics& diagnostics) const
{
    std::size_t met = 0;
    return mapped(id, diagnostics, Effort{&met});
}

std::vector<BodyPart> ItemReader::mapped(ifc::EntityId id, Diagnostics& diagnostics, const Effort& effort) const
{
    const Entity map = source_.entity(id);
    if (!map || effort.depth > kDeepestMap || !effort.spend()) {
        diagnostics.push_back({Severity::Error, "geometry.missing-item", ifc::entityName(id),
                               "A mapped shape refers to a map that is missing or contains itself."});
        return {};
    }
    std::vector<BodyPart> parts = items(source_.entity(map["MappedRepresentation"]), diagnostics, effort.deeper());
    // The map's origin is where a mapped item's target lands (ISO 16739, IfcRepresentationMap).
    const Transform origin = solids_.curves().placements().axisPlacement(map["MappingOrigin"]).inverse();
    if (!(origin == Transform{}))
        for (BodyPart& part : parts)
            part.mesh = transformed(part.mesh, origin);
    return parts;
}

std::vector<BodyPart> unitPrism(const std::vector<Area>& areas)
{
    std::vector<BodyPart> parts;
    for (const Area& area : areas)
        if (auto mesh = extruded(area, {0, 0, 1}))
            parts.push_back({std::move(*mesh), true, {}});
        else
            return {};
    return parts;
}

} // namespace wendrix::geometry
