#include "core/bcf/xml.h"

#include "core/base/number.h"
#include "core/base/text.h"

#include <algorithm>
#include <cstring>
#include <set>
#include <vector>

namespace wendrix::bcf {

namespace {

constexpr std::size_t kMostXmlBytes = 64u << 20;
constexpr std::ptrdiff_t kMostNodes = 4'000'000;
constexpr int kMostDepth = 100;

/// Length of the UTF-8 sequence at `at` that XML 1.0 allows (clause 2.2), 0 where there is none.
std::size_t characterAt(std::string_view text, std::size_t at)
{
    const auto byte = [&](std::size_t i) { return static_cast<unsigned char>(text[i]); };
    const unsigned char first = byte(at);
    if (first < 0x80)
        return first >= 0x20 || first == '\t' || first == '\n' || first == '\r' ? 1 : 0;
    const std::size_t length = first >= 0xF0 ? 4 : first >= 0xE0 ? 3 : 2;
    if (first < 0xC2 || first > 0xF4 || at + length > text.size())
        return 0;
    std::uint32_t code = first & (0xFFu >> (length + 1));
    for (std::size_t i = 1; i < length; ++i) {
        if ((byte(at + i) & 0xC0) != 0x80)
            return 0;
        code = (code << 6) | (byte(at + i) & 0x3Fu);
    }
    const std::uint32_t least = length == 4 ? 0x10000 : length == 3 ? 0x800 : 0x80;
    if (code < least || code > 0x10FFFF || (code >= 0xD800 && code < 0xE000) || code == 0xFFFE || code == 0xFFFF)
        return 0;
    return length;
}

/// Calls `each` for every node, without recursion. @return false where it is deeper than any real file
template <class Each>
bool walk(pugi::xml_node root, Each each)
{
    int depth = 0;
    for (pugi::xml_node node = root; node;) {
        each(node);
        if (node.first_child()) {
            if (++depth > kMostDepth)
                return false;
            node = node.first_child();
            continue;
        }
        while (node && node != root && !node.next_sibling()) {
            node = node.parent();
            --depth;
        }
        node = node == root ? pugi::xml_node() : node.next_sibling();
    }
    return true;
}

std::size_t rankOf(std::string_view name, Order order)
{
    return static_cast<std::size_t>(
        std::find_if(order.begin(), order.end(), [&](const char* known) { return name == known; }) - order.begin());
}

bool isKnown(pugi::xml_node node, Order order)
{
    return node.type() == pugi::node_element && rankOf(node.name(), order) < order.size();
}

} // namespace

tl::expected<Xml, std::string> parsed(std::string_view bytes)
{
    if (bytes.size() > kMostXmlBytes)
        return tl::unexpected<std::string>("The entry is larger than any real one.");
    if (std::count(bytes.begin(), bytes.end(), '<') > kMostNodes ||
        std::count(bytes.begin(), bytes.end(), '=') > kMostNodes)
        return tl::unexpected<std::string>("The entry holds more elements than any real one.");
    auto document = std::make_unique<pugi::xml_document>();
    constexpr unsigned kHow =
        (pugi::parse_default | pugi::parse_ws_pcdata | pugi::parse_comments | pugi::parse_pi | pugi::parse_doctype);
    const auto result = document->load_buffer(bytes.data(), bytes.size(), kHow);
    if (!result)
        return tl::unexpected<std::string>(std::string("The entry is not well-formed XML: ") + result.description() +
                                           " at byte " + std::to_string(result.offset) + ".");
    for (const pugi::xml_node node : document->children())
        if (node.type() == pugi::node_doctype)
            return tl::unexpected<std::string>("The entry has a document type declaration; it was not read further.");
    if (std::count_if(document->begin(), document->end(),
                      [](pugi::xml_node n) { return n.type() == pugi::node_element; }) != 1)
        return tl::unexpected<std::string>("The entry is not well-formed XML: it has not one root element.");
    bool hasDoctype = false;
    if (!walk(*document, [&](pugi::xml_node n) { hasDoctype = hasDoctype || n.type() == pugi::node_doctype; }))
        return tl::unexpected<std::string>("The entry is nested deeper than any real one.");
    if (hasDoctype)
        return tl::unexpected<std::string>("The entry has a document type declaration; it was not read further.");
    return document;
}

std::string written(pugi::xml_document& document, Layout layout)
{
    (void)walk(document, [](pugi::xml_node node) {
        std::set<std::string_view> names;
        for (pugi::xml_attribute a = node.first_attribute(); a;) {
            const pugi::xml_attribute next = a.next_attribute();
            if (!names.insert(a.name()).second)
                node.remove_attribute(a);
            else if (const std::string clean = cleaned(a.value()); clean != a.value())
                a.set_value(clean.c_str());
            a = next;
        }
        if (node.type() == pugi::node_pcdata || node.type() == pugi::node_cdata || node.type() == pugi::node_comment)
            if (const std::string clean = cleaned(node.value()); clean != node.value())
                node.set_value(clean.c_str());
    });
    for (pugi::xml_node node = document.first_child(); node;) {
        const pugi::xml_node next = node.next_sibling();
        if (node.type() == pugi::node_declaration)
            document.remove_child(node);
        node = next;
    }
    struct Text : pugi::xml_writer {
        std::string bytes = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n";
        void write(const void* data, std::size_t size) override { bytes.append(static_cast<const char*>(data), size); }
    } out;
    document.save(out, "  ",
                  (layout == Layout::Made ? pugi::format_indent : pugi::format_raw) | pugi::format_no_declaration,
                  pugi::encoding_utf8);
    return std::move(out.bytes);
}

Xml emptyXml(const char* root)
{
    auto document = std::make_unique<pugi::xml_document>();
    document->append_child(root);
    return document;
}

std::string cleaned(std::string_view text)
{
    std::string clean;
    clean.reserve(text.size());
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t length = characterAt(text, at);
        if (length == 0) {
            clean += "\xEF\xBF\xBD";
            ++at;
        } else {
            clean.append(text, at, length);
            at += length;
        }
    }
    return clean;
}

bool isBlank(std::string_view text) { return text.find_first_not_of(" \t\r\n") == std::string_view::npos; }

std::string textOf(pugi::xml_node node)
{
    std::string text;
    for (const pugi::xml_node piece : node.children())
        if (piece.type() == pugi::node_pcdata || piece.type() == pugi::node_cdata)
            text += piece.value();
    return text;
}

void setText(pugi::xml_node node, const std::string& text)
{
    for (pugi::xml_node piece = node.first_child(); piece;) {
        const pugi::xml_node next = piece.next_sibling();
        if (piece.type() == pugi::node_pcdata || piece.type() == pugi::node_cdata)
            node.remove_child(piece);
        piece = next;
    }
    node.prepend_child(pugi::node_pcdata).set_value(cleaned(text).c_str());
}

std::optional<Vector3> vectorOf(pugi::xml_node node)
{
    const auto x = numberIn(textOf(node.child("X"))), y = numberIn(textOf(node.child("Y"))),
               z = numberIn(textOf(node.child("Z")));
    return x && y && z ? std::optional(Vector3{*x, *y, *z}) : std::nullopt;
}

void setVector(pugi::xml_node node, Vector3 v)
{
    static constexpr const char* kOrder[] = {"X", "Y", "Z"};
    setText(childOrNew(node, "X", kOrder), exactNumber(v.x));
    setText(childOrNew(node, "Y", kOrder), exactNumber(v.y));
    setText(childOrNew(node, "Z", kOrder), exactNumber(v.z));
}

std::optional<bool> truthOf(pugi::xml_attribute attribute)
{
    const std::string_view text = attribute.value();
    return text == "true" || text == "1"    ? std::optional(true)
           : text == "false" || text == "0" ? std::optional(false)
                                            : std::nullopt;
}

pugi::xml_node inserted(pugi::xml_node parent, const char* name, Order order)
{
    const std::size_t rank = rankOf(name, order);
    for (pugi::xml_node other = parent.last_child(); other; other = other.previous_sibling())
        if (isKnown(other, order) && rankOf(other.name(), order) <= rank)
            return parent.insert_child_after(name, other);
    return parent.prepend_child(name);
}

pugi::xml_node childOrNew(pugi::xml_node parent, const char* name, Order order)
{
    const pugi::xml_node child = parent.child(name);
    return child ? child : inserted(parent, name, order);
}

bool putInOrder(pugi::xml_node parent, Order order)
{
    // Runs of a known child and the unknown ones behind it.
    std::vector<std::pair<std::size_t, std::vector<pugi::xml_node>>> runs;
    std::vector<pugi::xml_node> leading;
    for (const pugi::xml_node child : parent.children()) {
        if (isKnown(child, order))
            runs.push_back({rankOf(child.name(), order), {child}});
        else
            (runs.empty() ? leading : runs.back().second).push_back(child);
    }
    const auto isBefore = [](const auto& a, const auto& b) { return a.first < b.first; };
    if (std::is_sorted(runs.begin(), runs.end(), isBefore))
        return false;
    std::stable_sort(runs.begin(), runs.end(), isBefore);
    for (const auto& [rank, nodes] : runs)
        for (const pugi::xml_node node : nodes)
            parent.append_move(node);
    return true;
}

void setChild(pugi::xml_node parent, const char* name, const std::string& text, Order order)
{
    if (text.empty())
        parent.remove_child(name);
    else
        setText(childOrNew(parent, name, order), text);
}

void setAttribute(pugi::xml_node node, const char* name, const std::string& value)
{
    if (value.empty()) {
        node.remove_attribute(name);
        return;
    }
    pugi::xml_attribute attribute = node.attribute(name);
    if (!attribute)
        attribute = node.append_attribute(name);
    attribute.set_value(cleaned(value).c_str());
}

} // namespace wendrix::bcf
