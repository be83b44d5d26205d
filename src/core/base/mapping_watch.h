#pragma once

#include <cstddef>

namespace wendrix {

/// Mapped memory that may end before its mapping does, since the file behind it can be shortened by others at any
/// time. Touching what is gone would end the process (SIGBUS); memory that is watched reads as zeros there instead.

/// @return what the memory is asked about by
[[nodiscard]] std::size_t watchMapping(const void* data, std::size_t size);
/// Before it is unmapped.
void unwatchMapping(std::size_t watch);
/// Whether something that was gone was touched.
[[nodiscard]] bool wasShortened(std::size_t watch);

} // namespace wendrix
