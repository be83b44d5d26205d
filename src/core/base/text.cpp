#include "core/base/text.h"

#include <fmt/format.h>

#include <cctype>
#include <cmath>

namespace wendrix {

std::string lengthInWords(Metres length)
{
    const double metres = std::abs(length.value);
    if (metres < 0.00095)
        return fmt::format("{:.1f} mm", metres * 1000);
    if (metres < 0.9995)
        return fmt::format("{:.0f} mm", metres * 1000);
    if (metres < 9999.5)
        return fmt::format("{:.2f} m", metres);
    return fmt::format("{:.0f} km", metres / 1000);
}

std::string elevationInWords(Metres elevation) { return fmt::format("{:+.3f}", elevation.value); }

std::string counted(std::size_t count, std::string_view one, std::string_view many)
{
    return fmt::format("{} {}", count, count == 1 ? one : many);
}

std::string grouped(std::uint64_t number)
{
    const std::string digits = std::to_string(number);
    std::string text;
    for (std::size_t i = 0; i < digits.size(); ++i) {
        if (i > 0 && (digits.size() - i) % 3 == 0)
            text += "\u202F";
        text += digits[i];
    }
    return text;
}

std::string exactNumber(double value) { return fmt::format("{}", value); }

std::string plainNumber(double value) { return fmt::format("{:.12g}", value); }

std::string classInWords(std::string_view ifcClass)
{
    if (ifcClass.starts_with("Ifc"))
        ifcClass.remove_prefix(3);
    std::string words;
    for (std::size_t i = 0; i < ifcClass.size(); ++i) {
        const auto c = static_cast<unsigned char>(ifcClass[i]);
        if (i > 0 && std::isupper(c) != 0)
            words += ' ';
        words += static_cast<char>(i > 0 ? std::tolower(c) : c);
    }
    return words;
}

std::string upperCase(std::string_view text)
{
    std::string result(text);
    for (char& c : result)
        if (c >= 'a' && c <= 'z')
            c = static_cast<char>(c - 32);
    return result;
}

std::string lowerCase(std::string_view text)
{
    std::string result(text);
    for (char& c : result)
        if (c >= 'A' && c <= 'Z')
            c = static_cast<char>(c + 32);
    return result;
}

StringPool::StringPool() { intern(""); }

StringId StringPool::intern(std::string_view text)
{
    if (const auto found = ids_.find(text); found != ids_.end())
        return found->second;
    texts_.emplace_back(text);
    const auto id = static_cast<StringId>(texts_.size() - 1);
    ids_.emplace(texts_.back(), id);
    return id;
}

} // namespace wendrix
