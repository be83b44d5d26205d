#pragma once

#include <string_view>

namespace wendrix::bcf {

enum class Version { V21, V30 };
[[nodiscard]] inline const char* nameOf(Version v) { return v == Version::V21 ? "2.1" : "3.0"; }
/// "3.0" and what begins with "3"; everything else is read as 2.1.
[[nodiscard]] inline Version versionOf(std::string_view name)
{
    return name.starts_with("3") ? Version::V30 : Version::V21;
}

} // namespace wendrix::bcf
