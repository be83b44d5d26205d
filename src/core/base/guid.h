#pragma once

#include <string>
#include <string_view>

namespace wendrix {

/// A fresh random UUID (RFC 4122, version 4), lower case with hyphens.
[[nodiscard]] std::string newUuid();

/// The same text always gives the same UUID: the first 128 bits of its SHA-256, marked as version 8.
[[nodiscard]] std::string uuidFromText(std::string_view text);

/// 22 characters of the GlobalId alphabet, the first of them 0 to 3 (IFC, IfcGloballyUniqueId).
[[nodiscard]] bool isIfcGuid(std::string_view text);

} // namespace wendrix
