#pragma once

#include <array>

namespace wendrix::step {

/// ISO 8859-1 to -9: the letters of the bytes from A0; tools/latin_pages.py generates it at build time.
extern const std::array<std::array<char16_t, 96>, 9> kLatinPages;

} // namespace wendrix::step
