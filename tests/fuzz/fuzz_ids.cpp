#include "core/checks/ids.h"

#include <cstdint>

/// Any bytes as an IDS file.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const auto ids = wendrix::checks::readIdsText({reinterpret_cast<const char*>(data), size}, "fuzz.ids");
    return ids ? 0 : 0;
}
