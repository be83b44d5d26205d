#include "core/checks/facet_reader.h"

#include "core/base/text.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace wendrix::checks {

using ifc::EntityId;
using ifc::Link;
using ifc::Name;

namespace {

constexpr int kDeepestMaterial = 4, kDeepestClassification = 16;
constexpr std::size_t kMostAncestors = 10'000;
constexpr double kIceMelts = 273.15; // kelvin

bool isMatch(const std::optional<Restriction>& asked, const Candidate& value)
{
    return !asked || asked->matches(value);
}

std::string wordsOf(const std::optional<Restriction>& asked) { return asked ? asked->inWords() : "anything"; }

/// The type of measure that a quantity holds, and the attribute it holds it in.
struct QuantityKind {
    Name entity, attribute;
    const char* dataType;
};
constexpr QuantityKind kQuantities[] = {
    {"IfcQuantityLength", "LengthValue", "IFCLENGTHMEASURE"}, {"IfcQuantityArea", "AreaValue", "IFCAREAMEASURE"},
    {"IfcQuantityVolume", "VolumeValue", "IFCVOLUMEMEASURE"}, {"IfcQuantityCount", "CountValue", "IFCCOUNTMEASURE"},
    {"IfcQuantityWeight", "WeightValue", "IFCMASSMEASURE"},   {"IfcQuantityTime", "TimeValue", "IFCTIMEMEASURE"},
    {"IfcQuantityNumber", "NumberValue", "IFCNUMERICMEASURE"}};

} // namespace

Met FacetReader::check(const Facet& facet, const Entity& entity) const
{
    switch (facet.kind) {
    case FacetKind::Entity: {
        const bool isOk = isOfClass(facet, entity);
        return {true, isOk,
                isOk
                    ? ""
                    : "It is " + std::string(entity.typeName()) +
                          (facet.predefinedType ? " with the predefined type \"" + predefinedType(entity) + "\"" : "") +
                          "."};
    }
    case FacetKind::Attribute:
        return attribute(facet, entity);
    case FacetKind::Classification:
        return classification(facet, entity);
    case FacetKind::Property:
        return property(facet, entity);
    case FacetKind::Material:
        return material(facet, entity);
    case FacetKind::PartOf:
        return partOf(facet, entity);
    }
    return {};
}

FacetReader::Entity FacetReader::typeOf(const Entity& entity) const
{
    return source_.entity(model_.relations().other(entity.id(), "IfcRelDefinesByType", false));
}

std::string FacetReader::predefinedType(const Entity& entity) const
{
    const auto own = [](const Entity& e) -> std::string {
        const std::string item(e["PredefinedType"].enumeration());
        if (item != "USERDEFINED")
            return item;
        for (const Name words : {Name("ObjectType"), Name("ElementType"), Name("ProcessType"), Name("ResourceType")})
            if (const std::string text = e[words].text(); !text.empty())
                return text;
        return item;
    };
    if (const Entity type = typeOf(entity))
        if (const std::string item = own(type); !item.empty() && item != "NOTDEFINED")
            return item;
    return own(entity);
}

bool FacetReader::isOfClass(const Facet& facet, const Entity& entity) const
{
    return isMatch(facet.name, Candidate::of(upperCase(entity.typeName()))) &&
           (!facet.predefinedType || facet.predefinedType->matches(predefinedType(entity)));
}

std::optional<Candidate> FacetReader::candidate(const Value& value, std::string_view dataType,
                                                const Entity& carrier) const
{
    if (!value.isGiven() || value.isList() || value.reference() != 0)
        return {};
    if (const std::string_view item = value.enumeration(); !item.empty()) {
        if (item == "T" || item == "F")
            return Candidate{item == "T" ? "true" : "false", {}, false, item == "T"};
        return item == "U" ? std::nullopt : std::optional(Candidate::of(std::string(item))); // not known is not given
    }
    if (const auto number = value.number()) {
        const auto whole = value.integer();
        std::optional<ifc::Unit> unit;
        if (const EntityId own = carrier["Unit"].reference(); own != 0)
            unit = ifc::readUnit(source_, source_.entity(own));
        if (!unit)
            unit = ifc::unitOfMeasure(dataType, model_.units());
        double si = *number;
        if (dataType == "IFCPLANEANGLEMEASURE" || dataType == "IFCPOSITIVEPLANEANGLEMEASURE")
            si *= model_.units().angleToRadians; // people read degrees, IDS asks for radians
        else
            si = unit->toSi(*number) + (unit->symbol == "°C" ? kIceMelts : 0);
        return Candidate{plainNumber(*number), si, whole.has_value() && unit->symbol.empty(), {}};
    }
    const std::string text = value.text();
    return text.empty() ? std::nullopt : std::optional(Candidate::of(text));
}

Met FacetReader::attribute(const Facet& facet, const Entity& entity) const
{
    Met met;
    bool isWrong = false, isHeld = false;
    for (const Name name : source_.schema().attributes(entity.type())) {
        if (!facet.name->matches(std::string(name.text())))
            continue;
        const Value value = entity[name];
        if (!value.isGiven() || (value.isList() && value.size() == 0))
            continue;
        const bool isObject = value.isList() || value.reference() != 0;
        const auto found = isObject ? std::nullopt : candidate(value, upperCase(value.typeName()), Entity{});
        if (!isObject && !found)
            continue; // an empty text, an unknown truth
        met.isThere = true;
        if (!facet.value || (found && facet.value->matches(*found))) {
            isHeld = true;
        } else {
            isWrong = true;
            met.why = "Its " + std::string(name.text()) + " is " +
                      (found ? "\"" + found->text + "\"" : "no plain value") + ", not " + facet.value->inWords() + ".";
        }
    }
    met.isOk = isHeld && !isWrong;
    if (!met.isThere)
        met.why = "It has no " + facet.name->inWords() + ".";
    return met;
}

Met FacetReader::classification(const Facet& facet, const Entity& entity) const
{
    struct Reference {
        std::string system;
        std::vector<std::string> codes; ///< its own, then those above it
    };
    const auto of = [&](EntityId object) {
        std::vector<Reference> list;
        for (const Link& link : model_.relations().of(object)) {
            if (link.isRelating != 0 || !source_.schema().isA(link.type, "IfcRelAssociatesClassification"))
                continue;
            Reference reference;
            Entity e = source_.entity(model_.relations().idOf(link.far));
            for (int depth = 0; e && depth < kDeepestClassification; ++depth) {
                if (e.isA("IfcClassification")) {
                    reference.system = e["Name"].text();
                    break;
                }
                std::string code = e["Identification"].text();
                if (code.empty())
                    code = e["ItemReference"].text(); // IFC2X3
                if (!code.empty())
                    reference.codes.push_back(std::move(code));
                const EntityId up = e["ReferencedSource"].reference();
                e = source_.entity(up);
            }
            list.push_back(std::move(reference));
        }
        return list;
    };
    auto all = of(entity.id());
    if (const Entity type = typeOf(entity)) {
        std::set<std::string> own;
        for (const Reference& r : all)
            own.insert(r.system);
        for (Reference& r : of(type.id()))
            if (!own.contains(r.system))
                all.push_back(std::move(r));
    }
    Met met;
    for (const Reference& r : all) {
        if (facet.system && !facet.system->matches(r.system))
            continue;
        met.isThere = true;
        met.isOk = met.isOk || !facet.value ||
                   std::any_of(r.codes.begin(), r.codes.end(),
                               [&](const std::string& code) { return facet.value->matches(code); });
    }
    if (!met.isThere)
        met.why = facet.system ? "It is not classified by " + wordsOf(facet.system) + "." : "It is not classified.";
    else if (!met.isOk)
        met.why = "Its classification is not " + wordsOf(facet.value) + ".";
    return met;
}

void FacetReader::readSet(const Facet& facet, const Entity& set, std::vector<Found>& out) const
{
    const bool isNamed = set.isA("IfcPropertySet") || set.isA("IfcElementQuantity") ||
                         set.isA("IfcMaterialProperties") || !set["Name"].text().empty();
    const std::string setName = isNamed ? set["Name"].text() : std::string(set.typeName());
    if (!facet.propertySet->matches(setName))
        return;
    const auto add = [&](const std::string& name, std::string dataType, std::vector<Candidate> values) {
        // The element's own word goes before its type's.
        if (std::none_of(out.begin(), out.end(), [&](const Found& f) { return f.set == setName && f.name == name; }))
            out.push_back({setName, name, std::move(dataType), std::move(values)});
    };
    if (set.isA("IfcElementQuantity")) {
        for (const Value one : set["Quantities"]) {
            const Entity q = source_.entity(one);
            if (!q || !facet.baseName->matches(q["Name"].text()))
                continue;
            for (const QuantityKind& kind : kQuantities)
                if (q.isA(kind.entity)) {
                    std::vector<Candidate> values;
                    if (auto found = candidate(q[kind.attribute], kind.dataType, q))
                        values.push_back(std::move(*found));
                    add(q["Name"].text(), kind.dataType, std::move(values));
                }
        }
        return;
    }
    bool hasList = false;
    for (const Name list : {Name("HasProperties"), Name("Properties"), Name("ExtendedProperties")})
        for (const Value one : set[list]) {
            hasList = true;
            const Entity p = source_.entity(one);
            if (!p || !facet.baseName->matches(p["Name"].text()))
                continue;
            std::string dataType;
            std::vector<Candidate> values;
            const auto take = [&](Value value) {
                if (!value.isGiven())
                    return;
                dataType = upperCase(value.typeName());
                if (auto found = candidate(value, dataType, p))
                    values.push_back(std::move(*found));
            };
            for (const Name single :
                 {Name("NominalValue"), Name("UpperBoundValue"), Name("LowerBoundValue"), Name("SetPointValue")})
                take(p[single]);
            for (const Name many :
                 {Name("EnumerationValues"), Name("ListValues"), Name("DefiningValues"), Name("DefinedValues")})
                for (const Value value : p[many])
                    take(value);
            add(p["Name"].text(), dataType, std::move(values));
        }
    if (!hasList && !set.isA("IfcPropertySet")) // a predefined set: its attributes are its properties
        for (const Name name : source_.schema().attributes(set.type())) {
            if (name.text() == "GlobalId" || name.text() == "OwnerHistory" || name.text() == "Name" ||
                name.text() == "Description" || !facet.baseName->matches(std::string(name.text())))
                continue;
            if (auto found = candidate(set[name], "", Entity{}))
                add(std::string(name.text()), "", {std::move(*found)});
        }
}

std::vector<FacetReader::Found> FacetReader::properties(const Facet& facet, const Entity& entity) const
{
    std::vector<Found> found;
    const auto ofObject = [&](const Entity& object) {
        for (const EntityId definition : model_.relations().others(object.id(), "IfcRelDefinesByProperties", false)) {
            const Entity set = source_.entity(definition);
            readSet(facet, set, found);
        }
        for (const Value set : object["HasPropertySets"]) // of a type
            readSet(facet, source_.entity(set), found);
    };
    ofObject(entity);
    if (const Entity type = typeOf(entity))
        ofObject(type);
    if (entity.isA("IfcMaterial") || entity.isA("IfcMaterialDefinition"))
        source_.forEach("IfcMaterialProperties", [&](const Entity& set) {
            if (set["Material"].reference() == entity.id())
                readSet(facet, set, found);
        });
    return found;
}

Met FacetReader::property(const Facet& facet, const Entity& entity) const
{
    Met met;
    const std::string name = wordsOf(facet.propertySet) + "." + wordsOf(facet.baseName);
    bool isWrong = false;
    for (const Found& p : properties(facet, entity)) {
        if (p.values.empty())
            continue; // given without a value: not given
        met.isThere = true;
        if (!facet.dataType.empty() && !p.dataType.empty() && p.dataType != facet.dataType) {
            isWrong = true;
            met.why = p.set + "." + p.name + " is written as " + p.dataType + ", not as " + facet.dataType + ".";
        } else if (facet.value && std::none_of(p.values.begin(), p.values.end(),
                                               [&](const Candidate& v) { return facet.value->matches(v); })) {
            isWrong = true;
            met.why =
                p.set + "." + p.name + " is \"" + p.values.front().text + "\", not " + facet.value->inWords() + ".";
        }
    }
    met.isOk = met.isThere && !isWrong;
    if (!met.isThere)
        met.why = name + " is missing.";
    return met;
}

Met FacetReader::material(const Facet& facet, const Entity& entity) const
{
    EntityId id = model_.relations().other(entity.id(), "IfcRelAssociatesMaterial", false);
    if (id == 0)
        if (const Entity type = typeOf(entity))
            id = model_.relations().other(type.id(), "IfcRelAssociatesMaterial", false);
    Met met;
    if (id == 0) {
        met.why = "It has no material.";
        return met;
    }
    met.isThere = true;
    std::vector<std::pair<EntityId, int>> open{{id, 0}};
    for (std::size_t i = 0; i < open.size() && i < kMostAncestors && !met.isOk; ++i) {
        const auto [at, depth] = open[i];
        const Entity e = source_.entity(at);
        if (!e || depth > kDeepestMaterial)
            continue;
        for (const Name words : {Name("Name"), Name("LayerSetName"), Name("Category")})
            if (const std::string text = e[words].text(); !text.empty())
                met.isOk = met.isOk || isMatch(facet.value, Candidate::of(text));
        for (const Name one : {Name("ForLayerSet"), Name("ForProfileSet"), Name("Material")})
            if (const EntityId inner = e[one].reference(); inner != 0)
                open.emplace_back(inner, depth + 1);
        for (const Name list :
             {Name("MaterialLayers"), Name("MaterialProfiles"), Name("MaterialConstituents"), Name("Materials")})
            for (const Value inner : e[list])
                open.emplace_back(inner.reference(), depth + 1);
    }
    met.isOk = met.isOk || !facet.value;
    if (!met.isOk)
        met.why = "None of its materials is " + wordsOf(facet.value) + ".";
    return met;
}

Met FacetReader::partOf(const Facet& facet, const Entity& entity) const
{
    const auto isAsked = [&](std::string_view relation) {
        return facet.relations.empty() ||
               std::find(facet.relations.begin(), facet.relations.end(), relation) != facet.relations.end();
    };
    struct Way {
        Name relation;
        const char* keyword;
    };
    static constexpr Way kWays[] = {{"IfcRelAggregates", "IFCRELAGGREGATES"},
                                    {"IfcRelNests", "IFCRELNESTS"},
                                    {"IfcRelAssignsToGroup", "IFCRELASSIGNSTOGROUP"},
                                    {"IfcRelContainedInSpatialStructure", "IFCRELCONTAINEDINSPATIALSTRUCTURE"},
                                    {"IfcRelVoidsElement", "IFCRELVOIDSELEMENT"},
                                    {"IfcRelFillsElement", "IFCRELFILLSELEMENT"}};
    const bool isContainment = !facet.relations.empty() && isAsked("IFCRELCONTAINEDINSPATIALSTRUCTURE");
    Met met;
    // Upward, as far as it goes. A part is contained where its whole is, and a storey's building contains it too.
    std::vector<std::pair<EntityId, bool>> open{
        {entity.id(), false}}; ///< and whether a relation that was asked for led there
    std::set<EntityId> seen{entity.id()};
    for (std::size_t i = 0; i < open.size() && i < kMostAncestors; ++i) {
        const auto [at, isThrough] = open[i];
        for (const Way& way : kWays) {
            const bool isCarrying = isContainment && std::string_view(way.keyword) == "IFCRELAGGREGATES";
            if (!isAsked(way.keyword) && !isCarrying)
                continue;
            for (const EntityId up : model_.relations().others(at, way.relation, false)) {
                if (!seen.insert(up).second)
                    continue;
                const bool counts = isThrough || isAsked(way.keyword);
                open.emplace_back(up, counts);
                if (!counts)
                    continue;
                met.isThere = true;
                met.isOk = met.isOk || isOfClass(facet, source_.entity(up));
            }
        }
    }
    if (!met.isThere)
        met.why = "It is part of nothing.";
    else if (!met.isOk)
        met.why = "It is not part of " + wordsOf(facet.name) + ".";
    return met;
}

} // namespace wendrix::checks
