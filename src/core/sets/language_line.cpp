#include "core/sets/language.h"

#include "core/sets/tokens.h"

#include <fmt/format.h>

/// Sets as the lines they are written in.
namespace wendrix::sets {

namespace {

std::string inQuotes(std::string_view text)
{
    std::string result = "\"";
    for (const char c : text) {
        if (c == '"' || c == '\\')
            result += '\\';
        result += c;
    }
    return result + "\"";
}
std::string word(std::string_view text) { return isPlainWord(text) ? std::string(text) : inQuotes(text); }

std::string lineOf(const Value& value)
{
    if (value.isQuoted || (!value.number && !isPlainWord(value.text)))
        return inQuotes(value.text);
    return value.text;
}

int rankOf(const Expression& e)
{
    return e.kind == Expression::Kind::AnyOf ? 0 : e.kind == Expression::Kind::AllOf ? 1 : 2;
}

std::string lineWithin(const Expression& e, int rank)
{
    const std::string line = lineOf(e);
    return rankOf(e) < rank || (rankOf(e) == rank && rank < 2) ? "(" + line + ")" : line;
}

} // namespace

std::string lineOf(const Expression& e)
{
    std::string line;
    const auto joined = [&](std::string_view between, int rank) {
        for (const Expression& part : e.parts)
            line += (line.empty() ? "" : fmt::format(" {} ", between)) + lineWithin(part, rank);
        return line;
    };
    switch (e.kind) {
    case Expression::Kind::Everything:
        return "everything";
    case Expression::Kind::AnyOf:
        return joined("or", 0);
    case Expression::Kind::AllOf:
        return joined("and", 1);
    case Expression::Kind::Not:
        return "not " + lineWithin(e.parts[0], 2);
    case Expression::Kind::Words:
        return inQuotes(e.text);
    case Expression::Kind::Set:
        return "set " + inQuotes(e.text);
    case Expression::Kind::HasIssue:
        return "has issue" + (e.text.empty() ? "" : " " + word(e.text));
    case Expression::Kind::ChangedSince:
        return "changed since " + std::string(isCycle(e.text) ? "cycle " : "") + e.text;
    case Expression::Kind::Inside:
        return fmt::format("inside {} {} {} to {} {} {}", e.box.low[0], e.box.low[1], e.box.low[2], e.box.high[0],
                           e.box.high[1], e.box.high[2]);
    case Expression::Kind::InsideSpace:
    case Expression::Kind::Condition:
        break;
    }
    const Condition& c = e.condition;
    if (e.kind == Expression::Kind::InsideSpace) {
        line = "inside space";
        for (std::size_t i = 0; i < c.values.size(); ++i)
            line += (i > 0 ? ", " : " ") + lineOf(c.values[i]);
        return line;
    }
    if (c.field != Field::Property)
        line = nameOf(c.field);
    else if (c.setName == kOfIssue)
        line = c.propertyName;
    else if (isPlainWord(c.setName + "." + c.propertyName) && c.setName.find('.') == std::string::npos)
        line = c.setName + "." + c.propertyName;
    else
        line = inQuotes(c.setName) + "." + word(c.propertyName);
    line += " " + std::string(nameOf(c.relation));
    for (std::size_t i = 0; i < c.values.size(); ++i)
        line += (i > 0 ? ", " : " ") + lineOf(c.values[i]);
    return line;
}

} // namespace wendrix::sets
