#include "core/ifc/model_reader.h"

#include "core/base/guid.h"

#include <algorithm>

namespace wendrix::ifc {

namespace {

// Deeper than any real assembly; a bound, since a file may aggregate in a circle.
constexpr int kDeepestStructure = 64;

Units unitsOf(const Source& source, std::vector<Diagnostic>& diagnostics)
{
    Entity project;
    source.forEach("IfcProject", [&](const Entity& e) { project = project ? project : e; });
    return readUnits(source, project, diagnostics);
}

} // namespace

ModelReader::ModelReader(Model& model, Progress& progress)
    : model_(model), source_(model.source_), progress_(progress),
      reader_(model.source_, (model.units_ = unitsOf(model.source_, model.diagnostics_)).lengthToMetres),
      placements_(source_, reader_, model.diagnostics_)
{
}

Result<void> ModelReader::read()
{
    const auto& fromFile = source_.file().diagnostics();
    model_.diagnostics_.insert(model_.diagnostics_.begin(), fromFile.begin(), fromFile.end());
    source_.forEach("IfcProject", [&](const Entity& e) { model_.projectGuid_ = e["GlobalId"].text(); });
    if (model_.projectGuid_.empty())
        return fail({kNoProject, "The file holds no IfcProject, so it is not an IFC model. Export it again."});
    for (std::size_t i = 0; i < source_.file().keywords().size(); ++i)
        if (source_.schema().type(source_.file().keywords()[i]) == kUnknownType)
            model_.diagnostics_.push_back({Severity::Warning, "ifc.unknown-entity", "",
                                           source_.file().keywords()[i] + " is not an entity of " +
                                               std::string(source_.schema().name()) + "; its instances are passed over."});
    readRelations();
    readStoreys();
    readElements();
    readGrids();
    model_.georeference_ = readGeoreference(source_, model_.units_.lengthToMetres);
    if (progress_.isCancelled())
        return fail({step::kCancelled, "Reading was cancelled."});
    return {};
}

void ModelReader::readRelations()
{
    const auto eachObject = [](Value objects, auto take) {
        for (const Value object : objects)
            if (object.reference() != 0)
                take(object.reference());
    };
    for (const char* relation : {"IfcRelAggregates", "IfcRelNests"})
        source_.forEach(relation, [&](const Entity& r) {
            eachObject(r["RelatedObjects"], [&](EntityId part) { parent_[part] = r["RelatingObject"].reference(); });
        });
    source_.forEach("IfcRelContainedInSpatialStructure", [&](const Entity& r) {
        eachObject(r["RelatedElements"], [&](EntityId e) { container_[e] = r["RelatingStructure"].reference(); });
    });
    source_.forEach("IfcRelVoidsElement", [&](const Entity& r) {
        openingsOf_[r["RelatingBuildingElement"].reference()].push_back(r["RelatedOpeningElement"].reference());
    });
    source_.forEach("IfcRelFillsElement", [&](const Entity& r) {
        // A door that is in no storey itself is where the host of its opening is.
        host_.try_emplace(r["RelatedBuildingElement"].reference(), r["RelatingOpeningElement"].reference());
    });
    for (const auto& [host, openings] : openingsOf_)
        for (const EntityId opening : openings)
            host_.try_emplace(opening, host);
    source_.forEach("IfcRelDefinesByType", [&](const Entity& r) {
        eachObject(r["RelatedObjects"], [&](EntityId e) { typeOf_[e] = r["RelatingType"].reference(); });
    });
    source_.forEach("IfcRelDefinesByProperties", [&](const Entity& r) {
        eachObject(r["RelatedObjects"],
                   [&](EntityId e) { setsOf_[e].push_back(r["RelatingPropertyDefinition"].reference()); });
    });
    source_.forEach("IfcRelAssociatesMaterial", [&](const Entity& r) {
        eachObject(r["RelatedObjects"], [&](EntityId e) { materialOf_[e] = r["RelatingMaterial"].reference(); });
    });
    source_.forEach("IfcRelAssignsToGroup", [&](const Entity& r) {
        const Entity group = source_.entity(r["RelatingGroup"]);
        if (group.isA("IfcSystem"))
            eachObject(r["RelatedObjects"], [&](EntityId e) { systemOf_.try_emplace(e, group.id()); });
    });
}

void ModelReader::readStoreys()
{
    source_.forEach("IfcBuildingStorey", [&](const Entity& e) {
        Storey storey{e.id(), e["GlobalId"].text(), e["Name"].text(), {}, {}};
        storey.height = Metres{placements_.of(e["ObjectPlacement"].reference()).origin.z};
        const auto elevation = e["Elevation"].number();
        storey.elevation = elevation ? Metres{*elevation * model_.units_.lengthToMetres} : storey.height;
        model_.storeys_.push_back(std::move(storey));
    });
    std::stable_sort(model_.storeys_.begin(), model_.storeys_.end(),
                     [](const Storey& a, const Storey& b) { return a.elevation < b.elevation; });
    for (std::size_t i = 0; i < model_.storeys_.size(); ++i)
        storeys_[model_.storeys_[i].entity] = static_cast<StoreyIndex>(i);
}

StoreyIndex ModelReader::storeyOf(EntityId product) const
{
    for (int depth = 0; product != 0 && depth < kDeepestStructure; ++depth) {
        if (const auto storey = storeys_.find(product); storey != storeys_.end())
            return storey->second;
        if (const auto in = container_.find(product); in != container_.end())
            product = in->second;
        else if (const auto whole = parent_.find(product); whole != parent_.end())
            product = whole->second;
        else if (const auto host = host_.find(product); host != host_.end())
            product = host->second;
        else
            return kNoStorey;
    }
    return kNoStorey;
}

void ModelReader::collectOpenings(EntityId product, std::vector<EntityId>& openings) const
{
    for (int depth = 0; product != 0 && depth < kDeepestStructure; ++depth) {
        if (const auto found = openingsOf_.find(product); found != openingsOf_.end())
            openings.insert(openings.end(), found->second.begin(), found->second.end());
        const auto whole = parent_.find(product);
        product = whole != parent_.end() ? whole->second : 0;
    }
}

std::string ModelReader::materialName(EntityId id, int depth) const
{
    const Entity e = source_.entity(id);
    if (!e || depth > 4)
        return {};
    if (e.isA("IfcMaterial"))
        return e["Name"].text();
    static constexpr const char* kInner[] = {"ForLayerSet", "ForProfileSet", "Material"};
    for (const char* attribute : kInner)
        if (e[attribute].reference() != 0)
            return materialName(e[attribute].reference(), depth + 1);
    static constexpr const char* kLists[] = {"MaterialLayers", "MaterialProfiles", "MaterialConstituents",
                                             "Materials"};
    std::string names;
    for (const char* attribute : kLists)
        for (const Value part : e[attribute])
            if (const std::string name = materialName(part.reference(), depth + 1); !name.empty())
                names += (names.empty() ? "" : ", ") + name;
    return names;
}

void ModelReader::readElements()
{
    const Schema& schema = source_.schema();
    const TypeId product = schema.type("IfcProduct");
    const TypeId leftOut[] = {schema.type("IfcFeatureElementSubtraction"), schema.type("IfcAnnotation"),
                              schema.type("IfcGrid")};
    const auto at = [](const auto& map, EntityId key) {
        const auto found = map.find(key);
        return found != map.end() ? found->second : typename std::decay_t<decltype(map)>::mapped_type{};
    };
    std::unordered_map<EntityId, StringId> typeNames, materialNames, systemNames;
    const auto named = [&](std::unordered_map<EntityId, StringId>& known, EntityId id, auto name) -> StringId {
        if (id == 0)
            return 0;
        const auto [found, isNew] = known.try_emplace(id, 0);
        if (isNew)
            found->second = model_.strings_.intern(name());
        return found->second;
    };
    for (const step::File::Entry& entry : source_.file().entries()) {
        const TypeId type = source_.typeOf(entry);
        if (!schema.isA(type, product) ||
            std::any_of(std::begin(leftOut), std::end(leftOut), [&](TypeId t) { return schema.isA(type, t); }))
            continue;
        Diagnostic problem;
        const step::Instance check = source_.file().read(entry, &problem);
        if (check.nodes.empty()) {
            model_.diagnostics_.push_back(problem);
            continue;
        }
        const Entity e = source_.entity(entry);
        Element element;
        element.representations = bodyRepresentations(source_, e);
        if (element.representations.empty())
            continue;
        element.entity = e.id();
        element.type = type;
        element.guid = e["GlobalId"].text();
        element.name = model_.strings_.intern(e["Name"].text());
        element.tag = model_.strings_.intern(e["Tag"].text());
        const EntityId typeEntity = at(typeOf_, e.id());
        element.typeName = named(typeNames, typeEntity, [&] { return source_.entity(typeEntity)["Name"].text(); });
        EntityId material = at(materialOf_, e.id());
        if (material == 0)
            material = at(materialOf_, typeEntity);
        element.material = named(materialNames, material, [&] { return materialName(material); });
        const EntityId system = at(systemOf_, e.id());
        element.system = named(systemNames, system, [&] { return source_.entity(system)["Name"].text(); });
        element.storey = storeyOf(e.id());
        element.placement = placements_.of(e["ObjectPlacement"].reference());
        collectOpenings(e.id(), element.openings);
        element.propertySets = at(setsOf_, e.id());
        if (typeEntity != 0)
            for (const Value set : source_.entity(typeEntity)["HasPropertySets"])
                element.propertySets.push_back(set.reference());
        if (!isIfcGuid(element.guid))
            model_.diagnostics_.push_back({Severity::Warning, "ifc.global-id", entityName(e.id()),
                                           "The GlobalId '" + element.guid + "' is not well formed."});
        model_.elements_.push_back(std::move(element));
    }
    for (ElementIndex i = 0; i < model_.elements_.size(); ++i) {
        const auto [known, isNew] = model_.byGuid_.try_emplace(model_.elements_[i].guid, i);
        if (!isNew)
            model_.diagnostics_.push_back({Severity::Error, "ifc.repeated-global-id",
                                           entityName(model_.elements_[i].entity),
                                           "The GlobalId " + model_.elements_[i].guid + " is already that of " +
                                               entityName(model_.elements_[known->second].entity) +
                                               "; ask the sender for unique ids."});
    }
}

void ModelReader::readGrids()
{
    source_.forEach("IfcGrid", [&](const Entity& e) {
        const Transform placement = placements_.of(e["ObjectPlacement"].reference());
        model_.grids_.push_back(readGrid(source_, reader_, e, placement, model_.diagnostics_));
    });
}

} // namespace wendrix::ifc
