#pragma once

#include "core/base/result.h"
#include "core/issues/issue.h"

#include <filesystem>
#include <span>
#include <string>
#include <vector>

namespace wendrix::bcf {

inline constexpr ErrorCode kNotBcf{"bcf.not-bcf"};

/// One IFC file that issues refer to, for the header of each topic.
struct ModelFile {
    std::string projectGuid; ///< IfcProject GlobalId
    std::string fileName;
    Timestamp date;
};

struct Document {
    std::string version; ///< "2.1", "3.0"
    std::string projectId, projectName;
    std::vector<issues::Issue> issues;
    std::vector<Diagnostic> diagnostics; ///< entry by entry: what was missing, broken or passed over
};

/// Writes BCF 2.1: the same issues always give the same bytes.
[[nodiscard]] Result<std::string> write21(std::span<const issues::Issue> issues, std::span<const ModelFile> models,
                                          const std::string& projectId, const std::string& projectName);

/// Reads BCF 2.1 and 3.0. A broken topic, viewpoint or picture costs only itself, with a diagnostic.
/// @return kNotBcf, or what unpack gives.
[[nodiscard]] Result<Document> read(std::string_view bytes);
/// The same of a file; errors name it.
[[nodiscard]] Result<Document> readFile(const std::filesystem::path& path);

} // namespace wendrix::bcf
