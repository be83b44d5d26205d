#pragma once

#include <string>
#include <string_view>

namespace wendrix {

/// Lower case for comparing: ASCII and Latin-1 letters in UTF-8; lengths stay.
[[nodiscard]] std::string folded(std::string_view text);

} // namespace wendrix
