#pragma once

#include <charconv>
#include <cmath>
#include <optional>
#include <string_view>

/// Numbers in files have a point whatever the machine's language says: the C library's own reading follows its locale.
namespace wendrix {

/// A number that a text begins with, and how many characters it takes.
struct LeadingNumber {
    double value = 0;
    std::size_t length = 0;
};

/// Blanks and a sign before it are taken with it. Nothing where the text begins with no finite decimal number.
[[nodiscard]] inline std::optional<LeadingNumber> leadingNumber(std::string_view text)
{
    const std::size_t blanks = std::min(text.find_first_not_of(" \t\r\n"), text.size());
    std::size_t from = blanks;
    if (from < text.size() && text[from] == '+' && from + 1 < text.size() && text[from + 1] != '-')
        ++from; // from_chars knows no plus
    double value = 0;
    const auto [end, error] = std::from_chars(text.data() + from, text.data() + text.size(), value);
    if (error != std::errc() || !std::isfinite(value))
        return {};
    return LeadingNumber{value, static_cast<std::size_t>(end - text.data())};
}

/// The number that a text is, but for blanks around it.
[[nodiscard]] inline std::optional<double> numberIn(std::string_view text)
{
    const auto number = leadingNumber(text);
    return number && text.find_first_not_of(" \t\r\n", number->length) == std::string_view::npos
               ? std::optional(number->value)
               : std::nullopt;
}

} // namespace wendrix
