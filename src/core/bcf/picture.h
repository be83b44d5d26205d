#pragma once

#include <cstdint>
#include <string>
#include <string_view>

namespace wendrix::bcf {

/// What a PNG or JPEG says of itself, read from its bytes without decoding it.
struct PictureFacts {
    std::string_view kind;               ///< "png", "jpg"; empty where it is neither
    std::uint32_t width = 0, height = 0; ///< pixels
    std::string trouble;                 ///< "cut short", "has too few pixels"; empty where nothing is wrong
};
/// Its header; the pixels of a PNG are looked at too where `isWhole`, within what its header allows.
[[nodiscard]] PictureFacts factsOf(std::string_view bytes, bool isWhole);
/// More pixels than anybody should decode.
[[nodiscard]] bool isTooLarge(const PictureFacts& picture);

} // namespace wendrix::bcf
