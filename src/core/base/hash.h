#pragma once

#include "core/base/result.h"

#include <filesystem>
#include <string>
#include <string_view>

namespace wendrix {

/// SHA-256 as 64 lower-case hexadecimal digits.
[[nodiscard]] std::string sha256(std::string_view bytes);
/// The same of a file's content, read in pieces.
[[nodiscard]] Result<std::string> sha256OfFile(const std::filesystem::path& path);

} // namespace wendrix
