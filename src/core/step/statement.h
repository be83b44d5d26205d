#pragma once

#include <cstddef>
#include <string_view>

namespace wendrix::step {

/// Where one statement of a STEP file ends.
struct Statement {
    std::size_t end = std::string_view::npos; ///< of its ';', or where the next one begins; npos: the file ends in it
    bool isBroken = false;                    ///< a string in it was never closed
};

/// From `at` to the ';' outside strings, binaries and comments. A string that is never closed costs only its own
/// statement: where a line inside a string begins like an entity, the string is taken as ended before it.
[[nodiscard]] Statement statementFrom(std::string_view bytes, std::size_t at);

} // namespace wendrix::step
