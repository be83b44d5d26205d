#pragma once

#include <string>
#include <string_view>

namespace wendrix {

/// Text as HTML or SVG shows it: nothing in it is markup.
[[nodiscard]] inline std::string escapedForHtml(std::string_view text)
{
    std::string out;
    for (const char c : text)
        switch (c) {
        case '&':
            out += "&amp;";
            break;
        case '<':
            out += "&lt;";
            break;
        case '>':
            out += "&gt;";
            break;
        case '"':
            out += "&quot;";
            break;
        default:
            out += c;
        }
    return out;
}

} // namespace wendrix
