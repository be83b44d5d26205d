#include "core/base/fold.h"

namespace wendrix {

std::string folded(std::string_view text)
{
    std::string result(text);
    for (std::size_t i = 0; i < result.size(); ++i) {
        const auto c = static_cast<unsigned char>(result[i]);
        if (c >= 'A' && c <= 'Z')
            result[i] = static_cast<char>(c + 32);
        else if (c == 0xC3 && i + 1 < result.size()) {
            const auto next = static_cast<unsigned char>(result[i + 1]);
            if (next >= 0x80 && next <= 0x9E && next != 0x97)
                result[i + 1] = static_cast<char>(next + 0x20);
            ++i;
        }
    }
    return result;
}

} // namespace wendrix
