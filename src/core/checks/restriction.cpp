#include "core/checks/restriction.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <charconv>
#include <cmath>

namespace wendrix::checks {

namespace {

std::optional<double> numberIn(const std::string& text)
{
    double value = 0;
    const char* end = text.data() + text.size();
    const char* begin = text.data() + (text.starts_with('+') ? 1 : 0);
    const auto [stopped, error] = std::from_chars(begin, end, value);
    return error == std::errc{} && stopped == end && !text.empty() && std::isfinite(value) ? std::optional(value)
                                                                                           : std::nullopt;
}

std::size_t charactersIn(const std::string& text)
{
    return static_cast<std::size_t>(
        std::count_if(text.begin(), text.end(), [](char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; }));
}

/// Whether what is asked for, as written, is this value.
bool isSame(const std::string& asked, const Candidate& value)
{
    if (value.truth)
        return *value.truth ? asked == "true" || asked == "1" : asked == "false" || asked == "0";
    if (!value.number)
        return asked == value.text;
    const auto number = numberIn(asked);
    return number && (value.isInteger ? *number == *value.number : isSameReal(*number, *value.number));
}

} // namespace

bool isSameReal(double a, double b)
{
    constexpr double kTolerance = 1e-6;
    return std::abs(a - b) <= kTolerance * std::abs(a) + kTolerance;
}

bool Restriction::matches(const Candidate& value) const
{
    if (simple && !isSame(*simple, value))
        return false;
    if (!enumeration.empty() && std::none_of(enumeration.begin(), enumeration.end(),
                                             [&](const std::string& one) { return isSame(one, value); }))
        return false;
    if (!patterns.empty() && (value.number || std::none_of(patterns.begin(), patterns.end(),
                                                           [&](const Pattern& p) { return p.matches(value.text); })))
        return false; // a pattern speaks of text; a number can be written in many ways
    if (minInclusive || maxInclusive || minExclusive || maxExclusive) {
        if (!value.number)
            return false;
        const double x = *value.number;
        if ((minInclusive && x < *minInclusive && !isSameReal(x, *minInclusive)) ||
            (maxInclusive && x > *maxInclusive && !isSameReal(x, *maxInclusive)) ||
            (minExclusive && x <= *minExclusive) || (maxExclusive && x >= *maxExclusive))
            return false;
    }
    if (length || minLength || maxLength) {
        const std::size_t n = charactersIn(value.text);
        if ((length && n != *length) || (minLength && n < *minLength) || (maxLength && n > *maxLength))
            return false;
    }
    return true;
}

std::string Restriction::inWords() const
{
    std::vector<std::string> parts;
    if (simple)
        parts.push_back(*simple);
    if (!enumeration.empty())
        parts.push_back(enumeration.size() == 1 ? enumeration[0]
                                                : fmt::format("one of {}", fmt::join(enumeration, ", ")));
    std::vector<std::string> expressions;
    for (const Pattern& p : patterns)
        expressions.push_back(p.expression() + (p.isGivenUp() ? " (given up, it takes too long)" : ""));
    if (!expressions.empty())
        parts.push_back(fmt::format("like {}", fmt::join(expressions, " or ")));
    const auto bound = [&](const char* words, const auto& value) {
        if (value)
            parts.push_back(fmt::format("{} {}", words, *value));
    };
    bound("at least", minInclusive);
    bound("at most", maxInclusive);
    bound("more than", minExclusive);
    bound("less than", maxExclusive);
    const auto letters = [&](const char* words, const auto& value) {
        if (value)
            parts.push_back(fmt::format("{} {} characters", words, *value));
    };
    letters("exactly", length);
    letters("at least", minLength);
    letters("at most", maxLength);
    return parts.empty() ? "anything" : fmt::format("{}", fmt::join(parts, ", "));
}

} // namespace wendrix::checks
