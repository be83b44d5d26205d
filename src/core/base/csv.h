#pragma once

#include <string>
#include <string_view>

namespace wendrix {

/// Text that a spreadsheet takes for nothing but text: what it would carry out as a formula gets an apostrophe before
/// it. Numbers stay numbers.
[[nodiscard]] std::string withoutFormula(std::string_view text);
/// A cell of a table with commas (RFC 4180), without a formula.
[[nodiscard]] std::string csvCell(std::string_view text);

} // namespace wendrix
