#pragma once

#include "core/project/records.h"

#include <span>

namespace wendrix::project {

/// Changes as a table, one a row; the first row says what the columns are. For toCsv(), toTabs() and writeXlsx().
[[nodiscard]] std::vector<std::vector<std::string>> tableOf(std::span<const ChangeRecord> changes);

} // namespace wendrix::project
