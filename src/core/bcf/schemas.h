#pragma once

#include "core/bcf/version.h"

#include <string>
#include <string_view>
#include <vector>

namespace wendrix::bcf {

/// An XML schema of the standard, whole.
struct SchemaText {
    std::string_view version, name; ///< "3.0", "markup"
    std::string_view text;
};
[[nodiscard]] const std::vector<SchemaText>& schemaTexts();

/// What a schema says against XML, one sentence a fault with its line; empty where nothing.
/// @param name  "version", "project", "markup", "visinfo", "extensions", "documents"
/// @param xml   well-formed, without a document type
[[nodiscard]] std::vector<std::string> faultsBySchema(Version version, std::string_view name, std::string_view xml);

} // namespace wendrix::bcf
