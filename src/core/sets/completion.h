#pragma once

#include "core/sets/elements.h"

namespace wendrix::sets {

/// Lines that a line which is being written could go on to, each whole up to there: the words and fields that may come
/// next, and the values and properties that the elements have.
/// @param most  so many at most
[[nodiscard]] std::vector<std::string> completionsOf(const std::string& line, const Elements& elements,
                                                     std::size_t most);

/// Whether somebody who writes this means a set rather than words to look for: it begins as a condition does, and goes
/// on.
[[nodiscard]] bool looksLikeSet(std::string_view line);

} // namespace wendrix::sets
