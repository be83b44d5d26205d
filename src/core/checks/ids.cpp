#include "core/checks/ids.h"

#include "core/base/file.h"
#include "core/base/text.h"

#include <pugixml.hpp>

#include <charconv>

namespace wendrix::checks {

namespace {

constexpr std::size_t kMostBytes = 16u << 20, kMostSpecifications = 10'000, kMostValues = 100'000;

/// A name without its namespace's prefix, which every writer chooses himself.
std::string_view localName(const pugi::xml_node& node)
{
    const std::string_view name = node.name();
    const auto colon = name.find(':');
    return colon == std::string_view::npos ? name : name.substr(colon + 1);
}

pugi::xml_node child(const pugi::xml_node& node, std::string_view name)
{
    for (const pugi::xml_node one : node.children())
        if (localName(one) == name)
            return one;
    return {};
}

std::string words(const pugi::xml_node& node)
{
    const std::string text = node.text().as_string();
    const auto first = text.find_first_not_of(" \t\r\n"), last = text.find_last_not_of(" \t\r\n");
    return first == std::string::npos ? "" : text.substr(first, last - first + 1);
}

/// Reads one file; what can not be followed is thrown as a message and becomes a note of its specification.
class IdsReader {
public:
    explicit IdsReader(std::string name) : name_(std::move(name)) {}

    Result<Ids> read(const std::string& xml)
    {
        pugi::xml_document document;
        const auto parsed = document.load_buffer(xml.data(), xml.size());
        if (!parsed)
            return fail({kNoIds,
                         std::string("The file is not well-formed XML (") + parsed.description() +
                             "); ask its author for it again.",
                         name_});
        const pugi::xml_node root = document.document_element();
        if (localName(root) != "ids" || !child(root, "specifications"))
            return fail(
                {kNoIds,
                 "The file is no information delivery specification: its root is not \"ids\" with \"specifications\".",
                 name_});
        Ids ids;
        const pugi::xml_node info = child(root, "info");
        for (const auto& [field, to] : {std::pair{"title", &ids.title},
                                        {"copyright", &ids.copyright},
                                        {"version", &ids.version},
                                        {"description", &ids.description},
                                        {"author", &ids.author},
                                        {"date", &ids.date},
                                        {"purpose", &ids.purpose},
                                        {"milestone", &ids.milestone}})
            *to = words(child(info, field));
        for (const pugi::xml_node node : child(root, "specifications").children()) {
            if (localName(node) != "specification")
                continue;
            if (ids.specifications.size() >= kMostSpecifications) {
                ids.notes.push_back(
                    {Severity::Error, "ids.too-many", name_, "Only the first 10 000 specifications are read."});
                break;
            }
            try {
                ids.specifications.push_back(specification(node));
            } catch (const std::runtime_error& e) {
                ids.notes.push_back({Severity::Error, "ids.not-followed", node.attribute("name").as_string("(unnamed)"),
                                     std::string(e.what()) + " The specification is left out."});
            }
        }
        return ids;
    }

private:
    Specification specification(const pugi::xml_node& node)
    {
        Specification s;
        s.name = node.attribute("name").as_string();
        s.identifier = node.attribute("identifier").as_string();
        s.description = node.attribute("description").as_string();
        s.instructions = node.attribute("instructions").as_string();
        s.schemas = splitWords(node.attribute("ifcVersion").as_string());
        const pugi::xml_node applicability = child(node, "applicability");
        if (!applicability)
            throw std::runtime_error("It does not say what it applies to.");
        s.least = count(applicability.attribute("minOccurs"), 1);
        s.most = count(applicability.attribute("maxOccurs"), s.most);
        for (const pugi::xml_node one : applicability.children())
            if (one.type() == pugi::node_element)
                s.applicability.push_back(facet(one));
        for (const pugi::xml_node one : child(node, "requirements").children())
            if (one.type() == pugi::node_element)
                s.requirements.push_back(facet(one));
        return s;
    }

    static std::vector<std::string> splitWords(const std::string& text)
    {
        std::vector<std::string> list;
        std::size_t at = 0;
        while ((at = text.find_first_not_of(" \t\r\n", at)) != std::string::npos) {
            const std::size_t end = std::min(text.size(), text.find_first_of(" \t\r\n", at));
            list.push_back(text.substr(at, end - at));
            at = end;
        }
        return list;
    }

    static std::size_t count(const pugi::xml_attribute& attribute, std::size_t otherwise)
    {
        const std::string text = attribute.as_string();
        if (text.empty())
            return otherwise;
        if (text == "unbounded")
            return std::numeric_limits<std::size_t>::max();
        std::size_t many = 0;
        const auto [stopped, error] = std::from_chars(text.data(), text.data() + text.size(), many);
        if (error != std::errc{} || stopped != text.data() + text.size())
            throw std::runtime_error("\"" + text + "\" says no number of occurrences.");
        return many;
    }

    static double number(const std::string& text)
    {
        double value = 0;
        const auto [stopped, error] = std::from_chars(text.data(), text.data() + text.size(), value);
        if (error != std::errc{} || stopped != text.data() + text.size() || value < -1e300 || value > 1e300)
            throw std::runtime_error("\"" + text + "\" is no number.");
        return value;
    }

    Facet facet(const pugi::xml_node& node)
    {
        Facet f;
        const std::string_view kind = localName(node);
        const std::string cardinality = node.attribute("cardinality").as_string("required");
        f.cardinality = cardinality == "optional"     ? Cardinality::Optional
                        : cardinality == "prohibited" ? Cardinality::Prohibited
                                                      : Cardinality::Required;
        if (cardinality != "required" && cardinality != "optional" && cardinality != "prohibited")
            throw std::runtime_error("The cardinality \"" + cardinality + "\" is not one of IDS 1.0.");
        f.instructions = node.attribute("instructions").as_string();
        if (kind == "entity") {
            entity(node, f);
        } else if (kind == "attribute") {
            f.kind = FacetKind::Attribute;
            f.name = needed(node, "name");
            f.value = value(child(node, "value"));
        } else if (kind == "classification") {
            f.kind = FacetKind::Classification;
            f.system = value(child(node, "system"));
            f.value = value(child(node, "value"));
        } else if (kind == "property") {
            f.kind = FacetKind::Property;
            f.propertySet = needed(node, "propertySet");
            f.baseName = needed(node, "baseName");
            f.value = value(child(node, "value"));
            f.dataType = upperCase(node.attribute("dataType").as_string());
        } else if (kind == "material") {
            f.kind = FacetKind::Material;
            f.value = value(child(node, "value"));
        } else if (kind == "partOf") {
            entity(child(node, "entity"), f);
            f.kind = FacetKind::PartOf;
            f.relations = splitWords(upperCase(node.attribute("relation").as_string()));
        } else {
            throw std::runtime_error("\"" + std::string(kind) + "\" is no facet of IDS 1.0.");
        }
        return f;
    }

    void entity(const pugi::xml_node& node, Facet& f)
    {
        f.kind = FacetKind::Entity;
        f.name = needed(node, "name");
        f.predefinedType = value(child(node, "predefinedType"));
    }

    Restriction needed(const pugi::xml_node& node, std::string_view name)
    {
        auto restriction = value(child(node, name));
        if (!restriction)
            throw std::runtime_error("A facet lacks its \"" + std::string(name) + "\".");
        return *restriction;
    }

    std::optional<Restriction> value(const pugi::xml_node& node)
    {
        if (!node)
            return {};
        Restriction r;
        if (const pugi::xml_node simple = child(node, "simpleValue")) {
            r.simple = simple.text().as_string(); // with its blanks: they are part of it
            return r;
        }
        const pugi::xml_node restriction = child(node, "restriction");
        if (!restriction)
            throw std::runtime_error("A value is neither simple nor a restriction.");
        for (const pugi::xml_node one : restriction.children()) {
            const std::string_view kind = localName(one);
            const std::string text = one.attribute("value").as_string();
            if (++values_ > kMostValues)
                throw std::runtime_error("The file has more than 100 000 values.");
            if (kind == "enumeration") {
                r.enumeration.push_back(text);
            } else if (kind == "pattern") {
                auto pattern = Pattern::compile(text);
                if (!pattern)
                    throw std::runtime_error("\"" + text + "\" is no regular expression of XML Schema.");
                r.patterns.push_back(std::move(*pattern));
            } else if (kind == "minInclusive") {
                r.minInclusive = number(text);
            } else if (kind == "maxInclusive") {
                r.maxInclusive = number(text);
            } else if (kind == "minExclusive") {
                r.minExclusive = number(text);
            } else if (kind == "maxExclusive") {
                r.maxExclusive = number(text);
            } else if (kind == "length") {
                r.length = static_cast<std::size_t>(std::max(0.0, number(text)));
            } else if (kind == "minLength") {
                r.minLength = static_cast<std::size_t>(std::max(0.0, number(text)));
            } else if (kind == "maxLength") {
                r.maxLength = static_cast<std::size_t>(std::max(0.0, number(text)));
            } else if (kind != "annotation" && one.type() == pugi::node_element) {
                throw std::runtime_error("The restriction \"" + std::string(kind) + "\" is not one of IDS 1.0.");
            }
        }
        return r;
    }

    std::string name_;
    std::size_t values_ = 0;
};

} // namespace

Result<Ids> readIdsText(const std::string& xml, const std::string& name) { return IdsReader(name).read(xml); }

Result<Ids> readIds(const std::filesystem::path& file)
{
    const auto text = readFileWhole(file, kMostBytes);
    if (!text)
        return fail(text.error());
    return readIdsText(*text, file.string());
}

} // namespace wendrix::checks
