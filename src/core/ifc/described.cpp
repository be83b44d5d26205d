#include "core/ifc/described.h"

#include "core/base/text.h"

#include <algorithm>

namespace wendrix::ifc {

namespace {

/// "Uniclass / Ss_25_10: Walls": every reference of the element and of its type, in no order of the file's.
std::string classificationsOf(const Model& model, const Element& element)
{
    std::vector<std::string> all;
    for (const EntityId entity : {element.entity, element.typeEntity}) {
        if (entity == 0)
            continue;
        for (const EntityId id : model.relations().others(entity, "IfcRelAssociatesClassification", false)) {
            const Entity reference = model.source().entity(id);
            std::string code = reference["Identification"].text();
            if (code.empty())
                code = reference["ItemReference"].text();
            const std::string name = reference["Name"].text();
            all.push_back(code.empty() || name.empty() ? code + name : code + ": " + name);
        }
    }
    std::sort(all.begin(), all.end());
    all.erase(std::unique(all.begin(), all.end()), all.end());
    std::string joined;
    for (const std::string& one : all)
        if (!one.empty())
            joined += (joined.empty() ? "" : ", ") + one;
    return joined;
}

/// What the layers, profiles or constituents say beside the names of their materials, which are one field together.
void addParts(const Model& model, EntityId material, std::vector<Described>& all)
{
    constexpr int kDeepest = 4;
    Entity e = model.source().entity(material);
    for (int depth = 0; e && depth < kDeepest; ++depth) {
        const EntityId layers = e["ForLayerSet"].reference(), profiles = e["ForProfileSet"].reference();
        if (layers == 0 && profiles == 0)
            break;
        e = model.source().entity(layers != 0 ? layers : profiles);
    }
    const auto forEachIn = [&](Name list, const auto& take) {
        int number = 0;
        for (const Value one : e[list])
            if (const Entity part = model.source().entity(one.reference()))
                take(part, std::to_string(++number));
    };
    forEachIn("MaterialLayers", [&](const Entity& layer, const std::string& number) {
        if (const auto thickness = layer["LayerThickness"].number())
            all.push_back(
                {"", "Layer " + number + " thickness", plainNumber(*thickness * model.units().lengthToMetres), "m"});
    });
    forEachIn("MaterialProfiles", [&](const Entity& one, const std::string& number) {
        const Entity profile = model.source().entity(one["Profile"].reference());
        if (std::string name = profile["ProfileName"].text(); !name.empty())
            all.push_back({"", "Profile " + number, std::move(name), ""});
    });
    forEachIn("MaterialConstituents", [&](const Entity& one, const std::string& number) {
        const std::string name = one["Name"].text();
        if (const auto share = one["Fraction"].number())
            all.push_back({"", "Constituent " + (name.empty() ? number : name) + " share", plainNumber(*share), ""});
    });
}

} // namespace

std::vector<Described> descriptionOf(const Model& model, const Element& element)
{
    std::vector<Described> all;
    const auto put = [&](const char* name, std::string value) {
        if (!value.empty())
            all.push_back({"", name, std::move(value), ""});
    };
    put("Class", std::string(model.className(element)));
    put("Name", model.text(element.name));
    put("Tag", model.text(element.tag));
    const Entity entity = model.source().entity(element.entity);
    put("Description", entity["Description"].text());
    put("ObjectType", entity["ObjectType"].text());
    put("PredefinedType", std::string(entity["PredefinedType"].enumeration()));
    put("Type", model.text(element.typeName));
    put("Material", model.text(element.material));
    addParts(model, element.materialEntity, all);
    put("System", model.text(element.system));
    if (element.storey != kNoStorey)
        put("Storey", model.storeys()[static_cast<std::size_t>(element.storey)].name);
    put("Classification", classificationsOf(model, element));
    for (PropertySet& set : model.properties(element))
        for (Property& p : set.properties)
            if (!p.value.empty())
                all.push_back({set.name, std::move(p.name), std::move(p.value), std::move(p.unit)});
    return all;
}

Digest digestOfDescription(const Model& model, const Element& element)
{
    DigestOfAll all;
    for (const Described& one : descriptionOf(model, element)) {
        Digest digest;
        digest.add(std::string_view(one.set));
        digest.add(std::string_view(one.name));
        digest.add(std::string_view(one.value));
        digest.add(std::string_view(one.unit));
        all.add(digest);
    }
    return all.sum;
}

} // namespace wendrix::ifc
