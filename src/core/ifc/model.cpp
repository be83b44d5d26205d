#include "core/ifc/model.h"

#include "core/ifc/model_reader.h"
#include "core/ifc/properties.h"

#include <algorithm>

namespace wendrix::ifc {

Result<std::shared_ptr<const Model>> Model::open(const std::filesystem::path& path, Progress& progress,
                                                 std::span<const std::string> leftOut)
{
    return read(step::File::open(path, progress), progress, leftOut);
}

Result<std::shared_ptr<const Model>> Model::open(std::shared_ptr<const MappedFile> mapped, Progress& progress,
                                                 std::span<const std::string> leftOut)
{
    return read(step::File::open(std::move(mapped), progress), progress, leftOut);
}

Result<std::shared_ptr<const Model>> Model::fromBytes(std::string_view bytes, const std::string& name,
                                                      Progress& progress)
{
    return read(step::File::index(bytes, name, progress), progress, {});
}

Result<std::shared_ptr<const Model>> Model::read(Result<step::File> file, Progress& progress,
                                                 std::span<const std::string> leftOut)
{
    if (!file)
        return fail(file.error());
    const std::string name = file->name();
    const Schema* schema = Schema::forFile(file->header().schema);
    if (schema == nullptr)
        return fail({kUnknownSchema,
                     "The file is written in '" + file->header().schema +
                         "', which is not IFC2X3, IFC4 or IFC4X3. Ask for one of these.",
                     name});
    std::shared_ptr<Model> model(new Model(Source(std::move(*file), *schema)));
    if (auto done = ModelReader(*model, progress, leftOut).read(); !done) {
        Error error = done.error();
        error.file = name;
        return fail(std::move(error));
    }
    return model;
}

std::string Model::displayName(const Element& e) const
{
    return e.name != 0 ? text(e.name) : classInWords(className(e));
}

void Model::indexGuids() const
{
    std::call_once(guidsIndexed_, [this] {
        byGuid_.reserve(elements_.size());
        for (ElementIndex i = 0; i < elements_.size(); ++i)
            if (const auto [first, isNew] = byGuid_.try_emplace(elements_[i].guid, i); !isNew) {
                auto& all = repeats_[elements_[i].guid];
                if (all.empty())
                    all.push_back(first->second);
                all.push_back(i);
            }
    });
}

std::optional<ElementIndex> Model::find(std::string_view guid, std::uint32_t ordinal) const
{
    indexGuids();
    if (ordinal > 0) {
        const auto repeated = repeats_.find(guid);
        return repeated != repeats_.end() && ordinal < repeated->second.size()
                   ? std::optional(repeated->second[ordinal])
                   : std::nullopt;
    }
    const auto found = byGuid_.find(guid);
    return found != byGuid_.end() ? std::optional(found->second) : std::nullopt;
}

std::uint32_t Model::ordinalOf(ElementIndex element) const
{
    indexGuids();
    const auto repeated = repeats_.empty() ? repeats_.end() : repeats_.find(elements_[element].guid);
    if (repeated == repeats_.end())
        return 0;
    return static_cast<std::uint32_t>(std::lower_bound(repeated->second.begin(), repeated->second.end(), element) -
                                      repeated->second.begin());
}

std::vector<EntityId> Model::propertySetsOf(const Element& e) const
{
    std::vector<EntityId> sets = relations_->others(e.entity, "IfcRelDefinesByProperties", false);
    if (e.typeEntity != 0)
        for (const Value set : source_.entity(e.typeEntity)["HasPropertySets"])
            sets.push_back(set.reference());
    return sets;
}

std::vector<PropertySet> Model::properties(const Element& e) const
{
    std::vector<PropertySet> sets;
    for (const EntityId id : propertySetsOf(e)) {
        PropertySet set = readPropertySet(source_, units_, source_.entity(id));
        const auto same =
            std::find_if(sets.begin(), sets.end(), [&](const PropertySet& s) { return s.name == set.name; });
        if (same == sets.end()) {
            if (!set.properties.empty())
                sets.push_back(std::move(set));
            continue;
        }
        for (Property& p : set.properties)
            if (std::none_of(same->properties.begin(), same->properties.end(),
                             [&](const Property& own) { return own.name == p.name; }))
                same->properties.push_back(std::move(p));
    }
    return sets;
}

Transform Model::placementOf(const Entity& product) const
{
    return placements_.of(product["ObjectPlacement"].reference());
}

std::vector<EntityId> bodyRepresentations(const Source& source, const Entity& product)
{
    const Entity shape = source.entity(product["Representation"]);
    std::vector<EntityId> named, fallback, unnamed;
    for (const Value reference : shape["Representations"]) {
        const Entity r = source.entity(reference);
        if (!r.isA("IfcShapeRepresentation"))
            continue;
        const std::string identifier = lowerCase(r["RepresentationIdentifier"].text());
        const std::string kind = r["RepresentationType"].text();
        if (identifier == "body" || identifier == "facetation" || identifier == "tessellation")
            named.push_back(r.id());
        else if (identifier == "body-fallback")
            fallback.push_back(r.id());
        else if (identifier.empty() && kind != "Curve2D" && kind != "GeometricCurveSet" && kind != "BoundingBox" &&
                 kind != "Annotation2D" && kind != "FootPrint")
            unnamed.push_back(r.id());
    }
    return !named.empty() ? named : !fallback.empty() ? fallback : unnamed;
}

} // namespace wendrix::ifc
