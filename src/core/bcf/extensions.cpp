#include "core/bcf/extensions.h"

#include <algorithm>

namespace wendrix::bcf {

namespace {

bool holds(const std::vector<std::string>& list, const std::string& value)
{
    return std::find(list.begin(), list.end(), value) != list.end();
}

/// A name without the prefix of its namespace.
std::string_view local(std::string_view name)
{
    const std::size_t colon = name.find(':');
    return colon == std::string_view::npos ? name : name.substr(colon + 1);
}

std::string prefixed(pugi::xml_node like, const char* name)
{
    const std::string_view other = like.name();
    const std::size_t colon = other.find(':');
    return (colon == std::string_view::npos ? std::string() : std::string(other.substr(0, colon + 1))) + name;
}

pugi::xml_node childCalled(pugi::xml_node parent, std::string_view name)
{
    return parent.find_child([&](pugi::xml_node n) { return local(n.name()) == name; });
}

/// The simple type that narrows one of the seven, wherever in the schema it stands.
pugi::xml_node simpleType(const pugi::xml_document& document, const char* type)
{
    return document.find_node([&](pugi::xml_node n) {
        return local(n.name()) == "simpleType" && n.attribute("name").value() == std::string_view(type);
    });
}

} // namespace

bool Extensions::isEmpty() const
{
    return std::all_of(extensionLists().begin(), extensionLists().end(),
                       [&](const ExtensionList& list) { return (this->*list.values).empty(); });
}

const std::array<ExtensionList, 7>& extensionLists()
{
    static constexpr std::array<ExtensionList, 7> kLists{{
        {&Extensions::types, "TopicType", "TopicTypes", "TopicType"},
        {&Extensions::statuses, "TopicStatus", "TopicStatuses", "TopicStatus"},
        {&Extensions::priorities, "Priority", "Priorities", "Priority"},
        {&Extensions::labels, "TopicLabel", "TopicLabels", "TopicLabel"},
        {&Extensions::users, "UserIdType", "Users", "User"},
        {&Extensions::snippetTypes, "SnippetType", "SnippetTypes", "SnippetType"},
        {&Extensions::stages, "Stage", "Stages", "Stage"},
    }};
    return kLists;
}

Extensions extensionsOf(const pugi::xml_document& document, Version version)
{
    Extensions extensions;
    for (const ExtensionList& list : extensionLists()) {
        std::vector<std::string>& values = extensions.*list.values;
        if (version == Version::V30) {
            for (const pugi::xml_node n : document.child("Extensions").child(list.wrapper30).children(list.item30))
                if (const std::string text = textOf(n); !isBlank(text))
                    values.push_back(text);
        } else {
            for (const pugi::xml_node n : childCalled(simpleType(document, list.type21), "restriction").children())
                if (local(n.name()) == "enumeration")
                    values.emplace_back(n.attribute("value").value());
        }
    }
    return extensions;
}

Xml emptyExtensions(Version version)
{
    if (version == Version::V30)
        return emptyXml("Extensions");
    Xml document = emptyXml("xs:schema");
    pugi::xml_node schema = document->child("xs:schema");
    setAttribute(schema, "xmlns:xs", "http://www.w3.org/2001/XMLSchema");
    setAttribute(schema, "elementFormDefault", "qualified");
    setAttribute(schema, "attributeFormDefault", "unqualified");
    setAttribute(schema.append_child("xs:redefine"), "schemaLocation", "markup.xsd");
    return document;
}

void layExtensions(pugi::xml_document& document, Version version, const Extensions& extensions)
{
    static constexpr const char* kOrder[] = {"TopicTypes", "TopicStatuses", "Priorities", "TopicLabels",
                                             "Users",      "SnippetTypes",  "Stages"};
    const Extensions there = extensionsOf(document, version);
    for (const ExtensionList& list : extensionLists())
        for (const std::string& value : extensions.*list.values) {
            if (isBlank(value) || holds(there.*list.values, value))
                continue;
            if (version == Version::V30) {
                setText(childOrNew(document.child("Extensions"), list.wrapper30, kOrder).append_child(list.item30),
                        value);
                continue;
            }
            pugi::xml_node type = simpleType(document, list.type21);
            if (!type) {
                pugi::xml_node schema = document.document_element(), home = childCalled(schema, "redefine");
                if (!home) {
                    home = schema.append_child(prefixed(schema, "redefine").c_str());
                    setAttribute(home, "schemaLocation", "markup.xsd");
                }
                type = home.append_child(prefixed(schema, "simpleType").c_str());
                setAttribute(type, "name", list.type21);
                setAttribute(type.append_child(prefixed(schema, "restriction").c_str()), "base", list.type21);
            }
            const pugi::xml_node restriction = childCalled(type, "restriction");
            setAttribute(pugi::xml_node(restriction).append_child(prefixed(type, "enumeration").c_str()), "value",
                         value);
        }
}

void allow(Extensions& extensions, const Extensions& used)
{
    for (const ExtensionList& list : extensionLists())
        for (const std::string& value : used.*list.values)
            if (!(extensions.*list.values).empty() && !isBlank(value) && !holds(extensions.*list.values, value))
                (extensions.*list.values).push_back(value);
}

} // namespace wendrix::bcf
