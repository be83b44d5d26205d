#include "core/base/csv.h"

#include <charconv>

namespace wendrix {

namespace {

bool isNumber(std::string_view text)
{
    if (text.starts_with('+'))
        text.remove_prefix(1);
    double value = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
    return code == std::errc{} && end == text.data() + text.size();
}

} // namespace

std::string withoutFormula(std::string_view text)
{
    // Some programs take blanks off first.
    const std::size_t first = text.find_first_not_of(" \t\r\n\v\f");
    const bool isFormula = first != std::string_view::npos &&
                           (std::string_view("=+-@").find(text[first]) != std::string_view::npos) && !isNumber(text);
    const bool beginsOddly = !text.empty() && (text[0] == '\t' || text[0] == '\r' || text[0] == '\n');
    return (isFormula || beginsOddly ? "'" : "") + std::string(text);
}

std::string csvCell(std::string_view text)
{
    const std::string safe = withoutFormula(text);
    if (safe.find_first_of(",\"\r\n") == std::string::npos)
        return safe;
    std::string quoted = "\"";
    for (const char c : safe)
        quoted += c == '"' ? std::string("\"\"") : std::string(1, c);
    return quoted + "\"";
}

} // namespace wendrix
