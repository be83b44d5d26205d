#pragma once

#include "core/base/result.h"
#include "core/bcf/version.h"
#include "core/issues/issue.h"

#include <filesystem>
#include <span>
#include <string>
#include <vector>

/// Whole BCF files in memory: for small ones, tests and tools. Large ones are read by `File` and written by `Writer`.
namespace wendrix::bcf {

struct Document {
    Version version = Version::V21;
    std::string projectId, projectName;
    std::vector<issues::Issue> issues;   ///< by their index, then by when they were made; pictures with them
    std::vector<Diagnostic> diagnostics; ///< entry by entry: what was missing, broken or passed over
};

/// Writes issues made here: the same issues always give the same bytes.
[[nodiscard]] Result<std::string> write(std::span<const issues::Issue> issues, Version version,
                                        const std::string& projectId, const std::string& projectName);

/// Reads BCF 2.1 and 3.0. A broken topic, viewpoint or picture costs only itself, with a diagnostic.
/// @return kNotBcf, or what Archive::open gives.
[[nodiscard]] Result<Document> read(std::string_view bytes);
/// The same of a file; errors name it.
[[nodiscard]] Result<Document> readFile(const std::filesystem::path& path);

} // namespace wendrix::bcf
