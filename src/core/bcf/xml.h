#pragma once

#include "core/base/result.h"
#include "core/base/vector3.h"

#include <pugixml.hpp>

#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>

/// XML from outside: bounded, without document types; and text that any reader of XML takes.
namespace wendrix::bcf {

using Xml = std::unique_ptr<pugi::xml_document>;

/// Bounded in bytes, nodes and depth; nothing is expanded or loaded.
/// @return why it can not be read, as a sentence
[[nodiscard]] tl::expected<Xml, std::string> parsed(std::string_view bytes);
/// How lines are broken: as they came, or as the document is nested.
enum class Layout { AsItCame, Made };
/// As UTF-8 with a declaration. What no XML may hold (control characters, bytes that are no UTF-8, attributes given
/// twice) is not in it.
[[nodiscard]] std::string written(pugi::xml_document& document, Layout layout);
/// An empty document with a root of that name.
[[nodiscard]] Xml emptyXml(const char* root);

/// Control characters and what is no UTF-8 become U+FFFD.
[[nodiscard]] std::string cleaned(std::string_view text);
[[nodiscard]] bool isBlank(std::string_view text);
/// All text in an element, in several pieces or none.
[[nodiscard]] std::string textOf(pugi::xml_node node);
void setText(pugi::xml_node node, const std::string& text);
[[nodiscard]] std::optional<Vector3> vectorOf(pugi::xml_node node);
/// Written so that it reads back to the last bit.
void setVector(pugi::xml_node node, Vector3 v);
[[nodiscard]] std::optional<bool> truthOf(pugi::xml_attribute attribute);

/// The order of an element's children in the standard.
using Order = std::span<const char* const>;
/// A new child where the order has it, behind others of its name; unknown ones stay where they are.
pugi::xml_node inserted(pugi::xml_node parent, const char* name, Order order);
/// The child of that name, made where there is none.
pugi::xml_node childOrNew(pugi::xml_node parent, const char* name, Order order);
/// Puts known children into their order; unknown ones stay behind what they stood behind.
/// @return whether anything moved
bool putInOrder(pugi::xml_node parent, Order order);
/// The child's text becomes this; an empty text takes the child away.
void setChild(pugi::xml_node parent, const char* name, const std::string& text, Order order);
/// The attribute becomes this; an empty one goes.
void setAttribute(pugi::xml_node node, const char* name, const std::string& value);

} // namespace wendrix::bcf
