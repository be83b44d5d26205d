#pragma once

#include "core/bcf/version.h"
#include "core/bcf/xml.h"

#include <functional>
#include <set>

/// The shapes that BCF 2.1 and 3.0 give the same things, and XML brought from any of them into one.
namespace wendrix::bcf {

/// Told of what is not as the standard has it, or what a conversion had to map.
using Telling = std::function<void(Severity, const std::string&)>;

/// Orders of children in the standard, and what a list is called, by version.
namespace order {
[[nodiscard]] Order markup(Version v);
[[nodiscard]] Order topic(Version v);
[[nodiscard]] Order header();
[[nodiscard]] Order file();
[[nodiscard]] Order snippet();
[[nodiscard]] Order document(Version v);
[[nodiscard]] Order comment();
[[nodiscard]] Order view();
[[nodiscard]] Order visualisation(Version v);
[[nodiscard]] Order components(Version v);
[[nodiscard]] Order visibility();
[[nodiscard]] Order camera();
[[nodiscard]] Order bitmap(Version v);
} // namespace order

/// A list of a topic, as a version writes it: items side by side, or within a wrapper.
class ItemList {
public:
    enum class Kind { Links, Labels, Documents, Related, Comments, Viewpoints, Files };
    ItemList(pugi::xml_document& markup, Kind kind, Version version);
    [[nodiscard]] std::vector<pugi::xml_node> items() const;
    /// Behind the last one.
    pugi::xml_node add();
    /// Takes one away, and the wrapper with the last one.
    void remove(pugi::xml_node item);

private:
    pugi::xml_node parent_;
    const char *wrapper_, *item_; ///< wrapper: null where there is none
    Order order_;
};
/// "isExternal", "IsExternal".
[[nodiscard]] inline const char* externalName(Version v) { return v == Version::V21 ? "isExternal" : "IsExternal"; }
[[nodiscard]] bool isExternal(pugi::xml_node node, bool byDefault);

/// Brings a markup.bcf of either version, or of a mixture, into the form of one: wrappers, names, order, GUIDs in lower
/// case. What is unknown moves with what it stands in. GUIDs that are none or are there twice get another one, the
/// same each time.
/// @param folder  the topic's folder, for a topic without a GUID
void bringMarkup(pugi::xml_document& document, Version version, const std::string& folder, const Telling& tell);
/// The same of a *.bcfv.
void bringViewpoint(pugi::xml_document& document, Version version, const Telling& tell);

/// Eight, four, four, four and twelve hexadecimal digits.
[[nodiscard]] bool isUuid(std::string_view text);

} // namespace wendrix::bcf
