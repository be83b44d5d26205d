#pragma once

#include "core/step/value.h"

#include <array>
#include <optional>
#include <string>

namespace wendrix::step {

/// Parses a parenthesised argument list that starts at bytes[0] == '('.
/// @param problem  set to what is wrong, in words, when the result is empty.
[[nodiscard]] Instance parseArguments(std::string_view bytes, std::string& problem);

/// Reads the arguments of an entity that has one list of references and nothing else, as faces and loops do: their
/// numbers, without a node for each.
/// @return false where the arguments are something else, or not well formed; `references` is of no use then
[[nodiscard]] bool parseReferences(std::string_view bytes, std::vector<EntityId>& references);

/// The same of an entity that has one list of up to three numbers and nothing else, as points do.
/// @return false as above; numbers that the list does not have are 0
[[nodiscard]] bool parseNumbers(std::string_view bytes, std::array<double, 3>& numbers);

/// The same of an entity that has a reference and a flag, as bounds do.
struct FlaggedReference {
    EntityId id = 0;
    bool isTrue = false;
};
[[nodiscard]] std::optional<FlaggedReference> parseFlagged(std::string_view bytes);

/// Where white space and comments that start at `at` end.
[[nodiscard]] std::size_t skipBlank(std::string_view bytes, std::size_t at);
/// Just behind the closing quote of the string that opens at `at`; npos if it never closes.
[[nodiscard]] std::size_t skipString(std::string_view bytes, std::size_t at);

} // namespace wendrix::step
