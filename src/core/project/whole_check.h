#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"

#include <filesystem>
#include <string>
#include <vector>

namespace wendrix::project {

/// Reads everything that a project holds, which opening does not: every row of every table, the database's own ties
/// between them, and every file of deliveries, held against its SHA-256. Meant for a thread beside the work.
/// @return what can not be read or is not what it was, each as a sentence that names it; none where all is well. An
///         error only where not even that can be found out.
[[nodiscard]] Result<std::vector<std::string>> checkWhole(const std::filesystem::path& folder,
                                                          const Progress& progress);

} // namespace wendrix::project
