#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/project/records.h"

#include <filesystem>
#include <string>
#include <vector>

namespace wendrix::project {

/// Something that can not be read or is not what it was.
struct Unsound {
    DeliveryId delivery = 0; ///< whose file it is; 0: the database
    std::string words;       ///< a sentence that names it
};

/// Reads everything that a project holds, which opening does not: every row of every table, the database's own ties
/// between them, and every file of deliveries, held against its SHA-256. Meant for a thread beside the work.
/// @param progress  cancelled, it ends at once and has found nothing
/// @return none where all is well; an error only where not even that can be found out
[[nodiscard]] Result<std::vector<Unsound>> checkWhole(const std::filesystem::path& folder, const Progress& progress);

} // namespace wendrix::project
