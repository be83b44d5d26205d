#pragma once

#include "core/project/clash_list.h"

#include <filesystem>

namespace wendrix::project {

/// The pairs of a list as a table, one a row, in the list's order, with the group each is in: as they are narrowed and
/// put together. The first row says what the columns are.
[[nodiscard]] Result<std::vector<std::vector<std::string>>> tableOf(const ClashesBook& clashes, const ClashList& list);
/// The same for some of the list's pairs.
[[nodiscard]] Result<std::vector<std::vector<std::string>>> tableOf(const ClashesBook& clashes, const ClashList& list,
                                                                    std::span<const PairId> pairs);

/// Comma separated, RFC 4180, UTF-8. What a spreadsheet would take for a formula is marked as text.
[[nodiscard]] std::string toCsv(const std::vector<std::vector<std::string>>& table);
/// Tab separated, as spreadsheets take it from the clipboard.
[[nodiscard]] std::string toTabs(const std::vector<std::vector<std::string>>& table);
/// A workbook of one sheet; what is a number is one there.
/// @return an error where the file can not be written
[[nodiscard]] Result<void> writeXlsx(const std::vector<std::vector<std::string>>& table,
                                     const std::filesystem::path& file, const std::string& sheetName);

} // namespace wendrix::project
