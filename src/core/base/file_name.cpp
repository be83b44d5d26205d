#include "core/base/file_name.h"

namespace wendrix {

namespace {

/// Of the well-formed sequence that begins here, 0 where none does (Unicode 15, table 3-7).
std::size_t sequenceAt(const std::string& s, std::size_t at)
{
    const auto byte = [&](std::size_t i) { return i < s.size() ? static_cast<unsigned char>(s[i]) : 0u; };
    const auto follows = [&](std::size_t i) { return (byte(i) & 0xC0) == 0x80; };
    const unsigned a = byte(at), b = byte(at + 1);
    if (a < 0x80)
        return 1;
    if (a >= 0xC2 && a <= 0xDF)
        return follows(at + 1) ? 2 : 0;
    if (a >= 0xE0 && a <= 0xEF) {
        const bool isOverlong = a == 0xE0 && b < 0xA0, isSurrogate = a == 0xED && b > 0x9F;
        return follows(at + 1) && follows(at + 2) && !isOverlong && !isSurrogate ? 3 : 0;
    }
    if (a >= 0xF0 && a <= 0xF4) {
        const bool isOutside = (a == 0xF0 && b < 0x90) || (a == 0xF4 && b > 0x8F);
        return follows(at + 1) && follows(at + 2) && follows(at + 3) && !isOutside ? 4 : 0;
    }
    return 0;
}

constexpr std::string_view kReplacement = "\xEF\xBF\xBD"; // U+FFFD

/// With one U+FFFD for each run of bytes that are no UTF-8, and of such signs: how many stand for a run is not agreed.
std::string asRead(const std::string& name)
{
    std::string words;
    for (std::size_t i = 0; i < name.size();) {
        const std::size_t n = sequenceAt(name, i);
        const std::string_view sign = n > 0 ? std::string_view(name).substr(i, n) : kReplacement;
        if (sign != kReplacement || !words.ends_with(kReplacement))
            words += sign;
        i += std::max<std::size_t>(n, 1);
    }
    return words;
}

} // namespace

std::filesystem::path fileNamed(const std::string& text)
{
    namespace fs = std::filesystem;
    std::error_code code;
    const fs::path whole(text);
    if (text.find(kReplacement) == std::string::npos || fs::exists(fs::symlink_status(whole, code)))
        return whole;
    fs::path found;
    for (const fs::path& part : whole) {
        if (fs::path next = found / part; fs::exists(fs::symlink_status(next, code))) {
            found = std::move(next);
            continue;
        }
        const std::string wanted = asRead(part.string());
        fs::path first;
        for (fs::directory_iterator it(found.empty() ? "." : found, code), end; !code && it != end; it.increment(code))
            if (const fs::path name = it->path().filename();
                asRead(name.string()) == wanted && (first.empty() || name < first))
                first = name;
        if (first.empty())
            return whole;
        found /= first;
    }
    return found;
}

std::string nameInUtf8(const std::filesystem::path& file)
{
    const std::string name = file.filename().string();
    std::string words;
    for (std::size_t i = 0; i < name.size();) {
        if (const std::size_t n = sequenceAt(name, i); n > 0) {
            words.append(name, i, n);
            i += n;
            continue;
        }
        const auto byte = static_cast<unsigned char>(name[i++]);
        words += static_cast<char>(0xC0 | (byte >> 6));
        words += static_cast<char>(0x80 | (byte & 0x3F));
    }
    return words;
}

} // namespace wendrix
