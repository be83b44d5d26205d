#include "core/ifc/model.h"

#include "core/ifc/model_reader.h"
#include "core/ifc/properties.h"

namespace wendrix::ifc {

Result<std::shared_ptr<const Model>> Model::open(const std::filesystem::path& path, Progress& progress)
{
    return read(step::File::open(path, progress), progress);
}

Result<std::shared_ptr<const Model>> Model::fromBytes(std::string_view bytes, const std::string& name,
                                                      Progress& progress)
{
    return read(step::File::index(bytes, name, progress), progress);
}

Result<std::shared_ptr<const Model>> Model::read(Result<step::File> file, Progress& progress)
{
    if (!file)
        return fail(file.error());
    const std::string name = file->name();
    const Schema* schema = Schema::forFile(file->schemaName());
    if (schema == nullptr)
        return fail({kUnknownSchema,
                     "The file is written in '" + file->schemaName() +
                         "', which is not IFC2X3, IFC4 or IFC4X3. Ask for one of these.",
                     name});
    std::shared_ptr<Model> model(new Model(Source(std::move(*file), *schema)));
    if (auto done = ModelReader(*model, progress).read(); !done) {
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

std::optional<ElementIndex> Model::find(std::string_view guid) const
{
    const auto found = byGuid_.find(guid);
    return found != byGuid_.end() ? std::optional(found->second) : std::nullopt;
}

std::vector<PropertySet> Model::properties(const Element& e) const
{
    std::vector<PropertySet> sets;
    for (const EntityId id : e.propertySets)
        if (PropertySet set = readPropertySet(source_, units_, source_.entity(id)); !set.properties.empty())
            sets.push_back(std::move(set));
    return sets;
}

Transform Model::placementOf(const Entity& product) const
{
    const PlacementReader reader(source_, units_.lengthToMetres);
    std::vector<Diagnostic> ignored; // said when the model was read
    return ObjectPlacements(source_, reader, ignored).of(product["ObjectPlacement"].reference());
}

std::vector<EntityId> bodyRepresentations(const Source& source, const Entity& product)
{
    const Entity shape = source.entity(product["Representation"]);
    std::vector<EntityId> named, unnamed;
    for (const Value reference : shape["Representations"]) {
        const Entity r = source.entity(reference);
        if (!r.isA("IfcShapeRepresentation"))
            continue;
        const std::string identifier = r["RepresentationIdentifier"].text();
        const std::string kind = r["RepresentationType"].text();
        if (identifier == "Body" || identifier == "Facetation" || identifier == "Tessellation")
            named.push_back(r.id());
        else if (identifier.empty() && kind != "Curve2D" && kind != "GeometricCurveSet" && kind != "BoundingBox" &&
                 kind != "Annotation2D" && kind != "FootPrint")
            unnamed.push_back(r.id());
    }
    return named.empty() ? unnamed : named;
}

} // namespace wendrix::ifc
