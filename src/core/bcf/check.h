#pragma once

#include "core/base/result.h"

#include <filesystem>
#include <string>
#include <vector>

namespace wendrix::bcf {

/// What a BCF file breaks of the standard.
struct Checked {
    std::string version; ///< as bcf.version says; empty where it says nothing
    std::size_t topics = 0;
    std::vector<Diagnostic> problems; ///< `entity` is the entry
};

/// Holds a file against the standard: the archive, every XML against its schema, and what refers to what. Stricter than
/// reading it, which puts up with much.
/// @return what Archive::open gives
[[nodiscard]] Result<Checked> check(const std::filesystem::path& path);

} // namespace wendrix::bcf
