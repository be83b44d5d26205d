#include "core/ifc/properties.h"

namespace wendrix::ifc {

namespace {

constexpr int kDeepestProperty = 8;
constexpr std::size_t kMostProperties = 10'000; // complex ones may hold each other many times over

/// A value as text with its unit; nested values separated by commas.
/// @param own  the unit the property itself carries, before the project's
Property plainValue(const Units& units, Value value, const std::optional<Unit>& own)
{
    Property p;
    if (!value.isGiven())
        return p;
    if (value.isList()) {
        for (const Value item : value) {
            const Property one = plainValue(units, item, own);
            p.value += (p.value.empty() ? "" : ", ") + one.value;
            p.unit = one.unit;
        }
        return p;
    }
    if (value.number()) {
        const Unit unit = own ? *own : unitOfMeasure(upperCase(value.typeName()), units);
        p.unit = unit.symbol;
        if (const auto whole = value.integer(); whole && unit.symbol.empty())
            p.value = std::to_string(*whole);
        else
            p.value = plainNumber(unit.toSi(*value.number()));
        return p;
    }
    if (const std::string_view item = value.enumeration(); !item.empty()) {
        p.value = item == "T" ? "true" : item == "F" ? "false" : item == "U" ? "unknown" : std::string(item);
        return p;
    }
    p.value = value.text();
    return p;
}

/// The unit an attribute of the property refers to, if it does.
std::optional<Unit> unitIn(const Source& source, const Entity& e, Name attribute)
{
    const EntityId id = e[attribute].reference();
    return id != 0 ? readUnit(source, source.entity(id)) : std::nullopt;
}

Property bounded(const Units& units, const Entity& e, const std::optional<Unit>& unit)
{
    const Property low = plainValue(units, e["LowerBoundValue"], unit);
    const Property high = plainValue(units, e["UpperBoundValue"], unit);
    const Property set = plainValue(units, e["SetPointValue"], unit);
    Property p;
    p.unit = !low.unit.empty() ? low.unit : !high.unit.empty() ? high.unit : set.unit;
    if (!low.value.empty() && !high.value.empty())
        p.value = low.value + " to " + high.value;
    else if (!low.value.empty())
        p.value = "at least " + low.value;
    else if (!high.value.empty())
        p.value = "at most " + high.value;
    if (!set.value.empty())
        p.value += (p.value.empty() ? "" : ", ") + ("set to " + set.value);
    return p;
}

Property table(const Source& source, const Units& units, const Entity& e)
{
    const auto from = unitIn(source, e, "DefiningUnit"), to = unitIn(source, e, "DefinedUnit");
    const Value keys = e["DefiningValues"], values = e["DefinedValues"];
    Property p;
    for (std::uint32_t i = 0; i < std::min(keys.size(), values.size()); ++i) {
        const Property key = plainValue(units, keys[i], from), value = plainValue(units, values[i], to);
        p.value +=
            (p.value.empty() ? "" : "; ") + key.value + (key.unit.empty() ? "" : " " + key.unit) + ": " + value.value;
        p.unit = value.unit;
    }
    return p;
}

/// What a property refers to, in the words of the entity: its name or what identifies it.
Property reference(const Source& source, const Entity& e)
{
    const Entity target = source.entity(e["PropertyReference"]);
    Property p;
    for (const Name attribute : {Name("Name"), Name("Identification"), Name("FamilyName"), Name("Location")})
        if (p.value.empty())
            p.value = target[attribute].text();
    if (p.value.empty() && target)
        p.value = std::string(target.typeName());
    return p;
}

void readProperty(const Source& source, const Units& units, const Entity& e, const std::string& prefix,
                  std::vector<Property>& out, int depth)
{
    if (!e || out.size() > kMostProperties)
        return;
    Property p;
    const auto unit = unitIn(source, e, "Unit");
    if (e.isA("IfcPropertySingleValue")) {
        p = plainValue(units, e["NominalValue"], unit);
    } else if (e.isA("IfcPropertyEnumeratedValue")) {
        p = plainValue(units, e["EnumerationValues"], unitIn(source, source.entity(e["EnumerationReference"]), "Unit"));
    } else if (e.isA("IfcPropertyListValue")) {
        p = plainValue(units, e["ListValues"], unit);
    } else if (e.isA("IfcPropertyBoundedValue")) {
        p = bounded(units, e, unit);
    } else if (e.isA("IfcPropertyTableValue")) {
        p = table(source, units, e);
    } else if (e.isA("IfcPropertyReferenceValue")) {
        p = reference(source, e);
    } else if (e.isA("IfcComplexProperty") && depth < kDeepestProperty) {
        for (const Value part : e["HasProperties"])
            readProperty(source, units, source.entity(part), prefix + e["Name"].text() + " / ", out, depth + 1);
        return;
    }
    p.name = prefix + e["Name"].text();
    out.push_back(std::move(p));
}

void readQuantity(const Source& source, const Units& units, const Entity& e, const std::string& prefix,
                  std::vector<Property>& out, int depth)
{
    struct Kind {
        Name entity, attribute;
        std::string_view measure;
    };
    static constexpr Kind kKinds[] = {{"IfcQuantityLength", "LengthValue", "IFCLENGTHMEASURE"},
                                      {"IfcQuantityArea", "AreaValue", "IFCAREAMEASURE"},
                                      {"IfcQuantityVolume", "VolumeValue", "IFCVOLUMEMEASURE"},
                                      {"IfcQuantityCount", "CountValue", ""},
                                      {"IfcQuantityNumber", "NumberValue", ""},
                                      {"IfcQuantityWeight", "WeightValue", "IFCMASSMEASURE"},
                                      {"IfcQuantityTime", "TimeValue", "IFCTIMEMEASURE"}};
    const std::string name = prefix + e["Name"].text();
    if (out.size() > kMostProperties)
        return;
    if (e.isA("IfcPhysicalComplexQuantity") && depth < kDeepestProperty) {
        for (const Value part : e["HasQuantities"])
            readQuantity(source, units, source.entity(part), name + " / ", out, depth + 1);
        return;
    }
    for (const Kind& kind : kKinds)
        if (e.isA(kind.entity))
            if (const auto number = e[kind.attribute].number()) {
                const auto own = unitIn(source, e, "Unit");
                const Unit unit = own ? *own : unitOfMeasure(kind.measure, units);
                out.push_back({name, plainNumber(unit.toSi(*number)), unit.symbol});
            }
}

/// Door and window linings and the like, whose attributes are their properties.
void readPredefined(const Units& units, const Entity& set, const Schema& schema, std::vector<Property>& out)
{
    for (const Name attribute : schema.attributes(set.type())) {
        const Value value = set[attribute];
        if (attribute.text() == "GlobalId" || attribute.text() == "OwnerHistory" || attribute.text() == "Name" ||
            !value.isGiven() || value.reference() != 0 || value.isList())
            continue;
        // Their real attributes are lengths, but for what is named a ratio or fraction.
        const bool isLength = value.kind() == step::Kind::Real &&
                              (attribute.text().ends_with("Depth") || attribute.text().ends_with("Thickness") ||
                               attribute.text().ends_with("Offset"));
        Property p =
            plainValue(units, value, isLength ? std::optional(Unit{units.lengthToMetres, 0, "m"}) : std::nullopt);
        p.name = std::string(attribute.text());
        out.push_back(std::move(p));
    }
}

} // namespace

PropertySet readPropertySet(const Source& source, const Units& units, const Entity& set)
{
    PropertySet result{set["Name"].text(), {}};
    if (set.isA("IfcPropertySet"))
        for (const Value reference : set["HasProperties"])
            readProperty(source, units, source.entity(reference), "", result.properties, 0);
    else if (set.isA("IfcElementQuantity"))
        for (const Value reference : set["Quantities"])
            readQuantity(source, units, source.entity(reference), "", result.properties, 0);
    else if (set)
        readPredefined(units, set, source.schema(), result.properties);
    if (result.name.empty())
        result.name = std::string(set.typeName());
    return result;
}

PropertySet readMaterialProperties(const Source& source, const Units& units, const Entity& set)
{
    PropertySet result{set["Name"].text(), {}};
    // IFC2X3 calls them ExtendedProperties and gives the common ones as attributes of their own.
    for (const Name list : {Name("Properties"), Name("ExtendedProperties")})
        for (const Value reference : set[list])
            readProperty(source, units, source.entity(reference), "", result.properties, 0);
    if (result.name.empty())
        result.name = std::string(set.typeName());
    return result;
}

} // namespace wendrix::ifc
