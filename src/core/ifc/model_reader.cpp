#include "core/ifc/model_reader.h"

#include "core/base/guid.h"
#include "core/ifc/described.h"

#include <tbb/parallel_for.h>

#include <algorithm>

namespace wendrix::ifc {

namespace {

// Deeper than any real assembly; a bound, since a file may aggregate in a circle.
constexpr int kDeepestStructure = 64;
constexpr int kDeepestMaterial = 4;
constexpr std::size_t kLongestName = 2000;
// Products read between two looks at the token: far less than a tenth of a second's work.
constexpr std::size_t kBatch = 1 << 14;

Units unitsOf(const Source& source, std::vector<Diagnostic>& diagnostics)
{
    Entity project;
    source.forEach("IfcProject", [&](const Entity& e) { project = project ? project : e; });
    return readUnits(source, project, diagnostics);
}

} // namespace

ModelReader::ModelReader(Model& model, Progress& progress, std::span<const std::string> leftOut)
    : model_(model), source_(model.source_), progress_(progress), leftOut_(leftOut),
      reader_(model.source_, (model.units_ = unitsOf(model.source_, model.diagnostics_)).lengthToMetres)
{
}

void ModelReader::say(Severity severity, const char* code, EntityId entity, std::string message)
{
    model_.diagnostics_.push_back({severity, code, entity != 0 ? entityName(entity) : "", std::move(message)});
}

Result<void> ModelReader::read()
{
    const auto& fromFile = source_.file().diagnostics();
    model_.diagnostics_.insert(model_.diagnostics_.begin(), fromFile.begin(), fromFile.end());
    source_.forEach("IfcProject", [&](const Entity& e) {
        if (model_.projectGuid_.empty())
            model_.projectGuid_ = e["GlobalId"].text();
    });
    if (model_.projectGuid_.empty())
        return fail({kNoProject, "The file holds no IfcProject, so it is not an IFC model. Export it again."});
    sayUnknownEntities();
    model_.relations_ = std::make_unique<const Relations>(source_, progress_);
    relations_ = model_.relations_.get();
    model_.placements_ = ObjectPlacements(source_, reader_, model_.diagnostics_, progress_);
    if (progress_.isCancelled())
        return fail({step::kCancelled, "Reading was cancelled."});
    readStoreys();
    if (auto done = readElements(); !done)
        return done;
    if (auto done = describeElements(); !done)
        return done;
    readGrids();
    model_.georeference_ = readGeoreference(source_, model_.units_.lengthToMetres);
    const auto malformed = source_.malformed();
    model_.diagnostics_.insert(model_.diagnostics_.end(), malformed.begin(), malformed.end());
    return {};
}

void ModelReader::sayUnknownEntities()
{
    const step::EntityIndex& index = source_.file().entities();
    for (std::size_t k = 0; k < index.keywords().size(); ++k) {
        const auto positions = index.withKeyword(static_cast<step::KeywordIndex>(k));
        if (positions.empty() || source_.schema().typeOfKeyword(index.keywords()[k]) != kUnknownType)
            continue;
        const std::size_t n = positions.size();
        say(Severity::Warning, "ifc.unknown-entity", index.all()[positions[0]].id(),
            index.keywords()[k] + " is not an entity of " + std::string(source_.schema().name()) + "; " +
                counted(n, "instance is", "instances are") + " passed over.");
    }
}

void ModelReader::readStoreys()
{
    source_.forEach("IfcBuildingStorey", [&](const Entity& e) {
        Storey storey{e.id(), e["GlobalId"].text(), e["Name"].text(), {}, {}};
        storey.height = Metres{model_.placementOf(e).origin.z};
        const auto elevation = e["Elevation"].number();
        storey.elevation = elevation ? Metres{*elevation * model_.units_.lengthToMetres} : storey.height;
        model_.storeys_.push_back(std::move(storey));
    });
    std::stable_sort(model_.storeys_.begin(), model_.storeys_.end(),
                     [](const Storey& a, const Storey& b) { return a.elevation < b.elevation; });
    for (std::size_t i = 0; i < model_.storeys_.size(); ++i)
        storeys_[model_.storeys_[i].entity] = static_cast<StoreyIndex>(i);
}

StoreyIndex ModelReader::storeyOf(EntityId product, bool& isNested) const
{
    // A door that is in no storey itself is where the host of its opening is.
    static constexpr Name kUp[] = {"IfcRelContainedInSpatialStructure", "IfcRelAggregates", "IfcRelNests",
                                   "IfcRelFillsElement", "IfcRelVoidsElement"};
    for (int depth = 0; depth < kDeepestStructure; ++depth) {
        if (const auto storey = storeys_.find(product); storey != storeys_.end())
            return storey->second;
        EntityId up = 0;
        for (const Name relation : kUp)
            if (up == 0)
                up = relations_->other(product, relation, false);
        if (up == 0)
            return kNoStorey;
        product = up;
    }
    isNested = false;
    return kNoStorey;
}

void ModelReader::collectOpenings(EntityId product, std::vector<EntityId>& openings) const
{
    for (int depth = 0; product != 0 && depth < kDeepestStructure; ++depth) {
        const auto own = relations_->others(product, "IfcRelVoidsElement", true);
        openings.insert(openings.end(), own.begin(), own.end());
        const EntityId whole = relations_->other(product, "IfcRelAggregates", false);
        product = whole != 0 ? whole : relations_->other(product, "IfcRelNests", false);
    }
}

std::string ModelReader::materialName(EntityId id, int depth, bool mayBeMany) const
{
    const Entity e = source_.entity(id);
    if (!e || depth > kDeepestMaterial)
        return {};
    if (e.isA("IfcMaterial"))
        return e["Name"].text();
    static constexpr Name kInner[] = {"ForLayerSet", "ForProfileSet", "Material"};
    for (const Name attribute : kInner)
        if (e[attribute].reference() != 0)
            return materialName(e[attribute].reference(), depth + 1, mayBeMany);
    static constexpr Name kLists[] = {"MaterialLayers", "MaterialProfiles", "MaterialConstituents", "Materials"};
    std::string names;
    if (!mayBeMany) // sets hold no sets
        return names;
    for (const Name attribute : kLists)
        for (const Value part : e[attribute])
            if (const std::string name = materialName(part.reference(), depth + 1, false);
                !name.empty() && names.size() < kLongestName)
                names += (names.empty() ? "" : ", ") + name;
    return names;
}

ModelReader::Product ModelReader::readProduct(const step::Entry& entry) const
{
    Product product;
    const Entity e = source_.entity(entry);
    if (!e)
        return product;
    Element& element = product.element;
    element.representations = bodyRepresentations(source_, e);
    if (element.representations.empty())
        return product;
    for (const EntityId id : element.representations)
        product.hasNoContext = product.hasNoContext || source_.entity(id)["ContextOfItems"].reference() == 0;
    element.entity = e.id();
    element.type = e.type();
    element.guid = e["GlobalId"].text();
    product.name = e["Name"].text();
    product.tag = e["Tag"].text();
    element.typeEntity = relations_->other(e.id(), "IfcRelDefinesByType", false);
    element.materialEntity = relations_->other(e.id(), "IfcRelAssociatesMaterial", false);
    if (element.materialEntity == 0)
        element.materialEntity = relations_->other(element.typeEntity, "IfcRelAssociatesMaterial", false);
    for (const EntityId group : relations_->others(e.id(), "IfcRelAssignsToGroup", false))
        if (const TypeId type = source_.typeOf(group);
            product.system == 0 && source_.schema().isA(type, "IfcSystem") &&
            !source_.schema().isA(type, "IfcZone")) // since IFC4 a kind of system
            product.system = group;
    element.storey = storeyOf(e.id(), product.isNested);
    element.placement = model_.placementOf(e);
    collectOpenings(e.id(), element.openings);
    return product;
}

void ModelReader::take(Product product)
{
    Element& element = product.element;
    const auto named = [&](std::unordered_map<EntityId, StringId>& known, EntityId id, auto name) -> StringId {
        if (id == 0)
            return 0;
        const auto [found, isNew] = known.try_emplace(id, 0);
        if (isNew)
            found->second = model_.strings_.intern(name());
        return found->second;
    };
    element.name = model_.strings_.intern(product.name);
    element.tag = model_.strings_.intern(product.tag);
    const auto nameOf = [&](EntityId id) { return source_.entity(id)["Name"].text(); };
    element.typeName = named(typeNames_, element.typeEntity, [&] { return nameOf(element.typeEntity); });
    element.material =
        named(materialNames_, element.materialEntity, [&] { return materialName(element.materialEntity); });
    element.system = named(systemNames_, product.system, [&] { return nameOf(product.system); });
    if (!isIfcGuid(element.guid))
        say(Severity::Warning, "ifc.global-id", element.entity,
            "The GlobalId '" + element.guid + "' is not well formed; ask the sender for valid ids.");
    if (product.hasNoContext)
        say(Severity::Note, "ifc.no-context", element.entity,
            "The body names no representation context; it is read as being in the model's own.");
    if (!product.isNested)
        say(Severity::Error, "ifc.circular-structure", element.entity,
            "The element is a part of itself through its assemblies, so its storey is not known.");
    model_.elements_.push_back(std::move(element));
}

Result<void> ModelReader::readElements()
{
    const Schema& schema = source_.schema();
    std::vector<TypeId> leftOut{schema.type("IfcFeatureElementSubtraction"), schema.type("IfcAnnotation"),
                                schema.type("IfcGrid")};
    for (const std::string& name : leftOut_)
        if (const TypeId type = schema.typeOfKeyword(upperCase(name));
            type != kUnknownType) // another schema may have it
            leftOut.push_back(type);
    const auto all = source_.file().entities().all();
    std::vector<std::uint32_t> positions = source_.positions("IfcProduct");
    std::erase_if(positions, [&](std::uint32_t p) {
        return std::any_of(leftOut.begin(), leftOut.end(),
                           [&](TypeId t) { return schema.isA(source_.typeOf(all[p]), t); });
    });
    const std::string what = "Reading elements of " + std::filesystem::path(source_.file().name()).filename().string();
    std::vector<Product> batch;
    for (std::size_t first = 0; first < positions.size(); first += kBatch) {
        if (progress_.isCancelled())
            return fail({step::kCancelled, "Reading was cancelled."});
        progress_.report(what, first, positions.size(), "products");
        const std::size_t count = std::min(kBatch, positions.size() - first);
        batch.assign(count, {});
        tbb::parallel_for(std::size_t{0}, count,
                          [&](std::size_t i) { batch[i] = readProduct(all[positions[first + i]]); });
        for (Product& product : batch)
            if (product.element.entity != 0)
                take(std::move(product));
    }
    if (progress_.isCancelled())
        return fail({step::kCancelled, "Reading was cancelled."});
    model_.elements_.shrink_to_fit();
    sayRepeatedIds();
    return {};
}

Result<void> ModelReader::describeElements()
{
    const std::string what =
        "Reading what is said of elements of " + std::filesystem::path(source_.file().name()).filename().string();
    std::vector<Digest> digests(model_.elements_.size());
    for (std::size_t first = 0; first < digests.size(); first += kBatch) {
        if (progress_.isCancelled())
            return fail({step::kCancelled, "Reading was cancelled."});
        progress_.report(what, first, digests.size(), "elements");
        tbb::parallel_for(first, std::min(first + kBatch, digests.size()),
                          [&](std::size_t i) { digests[i] = digestOfDescription(model_, model_.elements_[i]); });
    }
    model_.descriptions_ = Column<Digest>(std::move(digests));
    return {};
}

void ModelReader::sayRepeatedIds()
{
    for (ElementIndex i = 0; i < model_.elements_.size(); ++i)
        if (const ElementIndex first = *model_.find(model_.elements_[i].guid); first != i)
            say(Severity::Error, "ifc.repeated-global-id", model_.elements_[i].entity,
                "The GlobalId " + model_.elements_[i].guid + " is already that of " +
                    entityName(model_.elements_[first].entity) + "; ask the sender for unique ids.");
}

void ModelReader::readGrids()
{
    source_.forEach("IfcGrid", [&](const Entity& e) {
        model_.grids_.push_back(
            readGrid(source_, reader_, model_.units_.angleToRadians, e, model_.placementOf(e), model_.diagnostics_));
    });
}

} // namespace wendrix::ifc
