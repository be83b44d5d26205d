#include "core/bcf/schemas.h"

#include <libxml/parser.h>
#include <libxml/xmlschemas.h>

#include <map>
#include <memory>

namespace wendrix::bcf {

namespace {

constexpr std::size_t kMostFaults = 200;

struct Faults {
    std::vector<std::string> list;
    std::string lastPlace; ///< a bad value is told by its facet and by its type: the first is enough
};

std::string sentence(const xmlError& error)
{
    std::string text = error.message != nullptr ? error.message : "The entry does not follow the schema.";
    while (!text.empty() && (text.back() == '\n' || text.back() == ' '))
        text.pop_back();
    return text;
}

void note(void* state, xmlErrorPtr error)
{
    auto& faults = *static_cast<Faults*>(state);
    if (faults.list.size() >= kMostFaults || error == nullptr)
        return;
    const std::string text = sentence(*error), place = std::to_string(error->line) + text.substr(0, text.find("': "));
    const bool isFacet = text.find("[facet '") != std::string::npos;
    if (!isFacet && place == faults.lastPlace && text.find("atomic type") != std::string::npos)
        return;
    faults.lastPlace = isFacet ? place : "";
    faults.list.push_back("Line " + std::to_string(error->line) + ": " + text);
}

void ignore(void*, xmlErrorPtr) {}

using Schema = std::unique_ptr<xmlSchema, void (*)(xmlSchemaPtr)>;

/// Made once a thread: libxml2's schemas are not for several at a time.
xmlSchemaPtr schemaOf(Version version, std::string_view name)
{
    thread_local std::map<const SchemaText*, Schema> made;
    for (const SchemaText& s : schemaTexts()) {
        if (s.version != nameOf(version) || s.name != name)
            continue;
        auto found = made.find(&s);
        if (found == made.end()) {
            const std::unique_ptr<xmlSchemaParserCtxt, void (*)(xmlSchemaParserCtxtPtr)> parser(
                xmlSchemaNewMemParserCtxt(s.text.data(), static_cast<int>(s.text.size())), xmlSchemaFreeParserCtxt);
            found = made.emplace(&s, Schema(xmlSchemaParse(parser.get()), xmlSchemaFree)).first;
        }
        return found->second.get();
    }
    return nullptr;
}

} // namespace

std::vector<std::string> faultsBySchema(Version version, std::string_view name, std::string_view xml)
{
    const xmlSchemaPtr schema = schemaOf(version, name);
    if (schema == nullptr)
        return {};
    Faults faults;
    xmlSetStructuredErrorFunc(nullptr, ignore);
    const std::unique_ptr<xmlDoc, void (*)(xmlDocPtr)> document(
        xmlReadMemory(xml.data(), static_cast<int>(xml.size()), "entry.xml", nullptr,
                      XML_PARSE_NONET | XML_PARSE_NOERROR | XML_PARSE_NOWARNING),
        xmlFreeDoc);
    if (!document) {
        const xmlError* error = xmlGetLastError();
        return {
            "The entry is not well-formed XML" +
            (error != nullptr ? ": line " + std::to_string(error->line) + ", " + sentence(*error) : std::string("."))};
    }
    const std::unique_ptr<xmlSchemaValidCtxt, void (*)(xmlSchemaValidCtxtPtr)> validity(xmlSchemaNewValidCtxt(schema),
                                                                                        xmlSchemaFreeValidCtxt);
    xmlSchemaSetValidStructuredErrors(validity.get(), note, &faults);
    // Nobody's file chooses which schema is loaded.
    (void)xmlSchemaValidateDoc(validity.get(), document.get());
    return faults.list;
}

} // namespace wendrix::bcf
