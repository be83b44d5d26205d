#include "core/ifc/properties.h"

namespace wendrix::ifc {

namespace {

/// A value as text with its unit; nested values separated by commas.
Property plainValue(const Units& units, Value value)
{
    Property p;
    if (!value.isGiven())
        return p;
    if (value.isList()) {
        for (const Value item : value) {
            const Property one = plainValue(units, item);
            p.value += (p.value.empty() ? "" : ", ") + one.value;
            p.unit = one.unit;
        }
        return p;
    }
    if (const auto whole = value.integer(); whole && value.kind() == step::Kind::Typed &&
                                            unitOfMeasure(upperCase(value.typeName()), units).symbol.empty()) {
        p.value = std::to_string(*whole);
        return p;
    }
    if (const auto number = value.number()) {
        const MeasureUnit unit = unitOfMeasure(upperCase(value.typeName()), units);
        p.value = plainNumber(*number * unit.factor);
        p.unit = unit.symbol;
        return p;
    }
    if (const std::string_view item = value.enumeration(); !item.empty()) {
        p.value = item == "T" ? "true" : item == "F" ? "false" : item == "U" ? "unknown" : std::string(item);
        return p;
    }
    p.value = value.text();
    return p;
}

void readProperty(const Source& source, const Units& units, const Entity& e, const std::string& prefix,
                  std::vector<Property>& out, int depth)
{
    Property p;
    if (e.isA("IfcPropertySingleValue")) {
        p = plainValue(units, e["NominalValue"]);
    } else if (e.isA("IfcPropertyEnumeratedValue")) {
        p = plainValue(units, e["EnumerationValues"]);
    } else if (e.isA("IfcPropertyListValue")) {
        p = plainValue(units, e["ListValues"]);
    } else if (e.isA("IfcPropertyBoundedValue")) {
        p = plainValue(units, e["LowerBoundValue"]);
        const Property high = plainValue(units, e["UpperBoundValue"]);
        p.value += " to " + high.value;
        p.unit = p.unit.empty() ? high.unit : p.unit;
    } else if (e.isA("IfcComplexProperty") && depth < 8) {
        for (const Value part : e["HasProperties"])
            readProperty(source, units, source.entity(part), prefix + e["Name"].text() + " / ", out, depth + 1);
        return;
    }
    p.name = prefix + e["Name"].text();
    out.push_back(std::move(p));
}

void readQuantity(const Units& units, const Entity& e, std::vector<Property>& out)
{
    struct Kind {
        const char* entity;
        const char* attribute;
        const char* symbol;
        double factor;
    };
    const Kind kinds[] = {{"IfcQuantityLength", "LengthValue", "m", units.lengthToMetres},
                          {"IfcQuantityArea", "AreaValue", "m²", units.areaToSquareMetres},
                          {"IfcQuantityVolume", "VolumeValue", "m³", units.volumeToCubicMetres},
                          {"IfcQuantityCount", "CountValue", "", 1},
                          {"IfcQuantityWeight", "WeightValue", "kg", 1},
                          {"IfcQuantityTime", "TimeValue", "s", 1}};
    for (const Kind& kind : kinds)
        if (e.isA(kind.entity))
            if (const auto number = e[kind.attribute].number())
                out.push_back({e["Name"].text(), plainNumber(*number * kind.factor), kind.symbol});
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
            readQuantity(units, source.entity(reference), result.properties);
    return result;
}

} // namespace wendrix::ifc
