#include "core/sets/tokens.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <numbers>

namespace wendrix::sets {

namespace {

bool isBlank(char c) { return c == ' ' || c == '\t' || c == '\n' || c == '\r'; }
bool isSignChar(char c) { return c == '(' || c == ')' || c == ',' || c == '<' || c == '>' || c == '=' || c == '!'; }

constexpr std::array<std::string_view, 20> kKeywords{
    "and", "or",  "not",        "is",    "has",  "starts", "with",       "given",  "missing", "inside",
    "to",  "set", "everything", "class", "type", "name",   "discipline", "storey", "system",  "material"};

struct Named {
    std::string_view word;
    Unit unit;
};
constexpr double kDegree = std::numbers::pi / 180;
constexpr std::array<Named, 31> kUnits{{
    {"mm", {"m", 0.001}},    {"cm", {"m", 0.01}},         {"dm", {"m", 0.1}},
    {"m", {"m", 1}},         {"km", {"m", 1000}},         {"in", {"m", 0.0254}},
    {"ft", {"m", 0.3048}},   {"mm2", {"m²", 1e-6}},       {"mm²", {"m²", 1e-6}},
    {"cm2", {"m²", 1e-4}},   {"cm²", {"m²", 1e-4}},       {"m2", {"m²", 1}},
    {"m²", {"m²", 1}},       {"ft2", {"m²", 0.09290304}}, {"l", {"m³", 0.001}},
    {"m3", {"m³", 1}},       {"m³", {"m³", 1}},           {"ft3", {"m³", 0.028316846592}},
    {"°", {"rad", kDegree}}, {"deg", {"rad", kDegree}},   {"rad", {"rad", 1}},
    {"g", {"kg", 0.001}},    {"kg", {"kg", 1}},           {"t", {"kg", 1000}},
    {"s", {"s", 1}},         {"min", {"s", 60}},          {"h", {"s", 3600}},
    {"Pa", {"Pa", 1}},       {"kPa", {"Pa", 1000}},       {"W", {"W", 1}},
    {"kW", {"W", 1000}},
}};

} // namespace

std::vector<Token> tokensOf(std::string_view line)
{
    std::vector<Token> tokens;
    std::size_t at = 0;
    for (;;) {
        while (at < line.size() && isBlank(line[at]))
            ++at;
        Token token;
        token.from = at;
        if (at == line.size()) {
            tokens.push_back(std::move(token));
            return tokens;
        }
        const char c = line[at];
        if (c == '"') {
            token.kind = Token::Kind::Text;
            token.isOpen = true;
            for (++at; at < line.size(); ++at) {
                if (line[at] == '"') {
                    token.isOpen = false;
                    ++at;
                    break;
                }
                if (line[at] == '\\' && at + 1 < line.size() && (line[at + 1] == '"' || line[at + 1] == '\\'))
                    ++at;
                token.text += line[at];
            }
        } else if (isSignChar(c)) {
            token.kind = Token::Kind::Sign;
            token.text = c;
            ++at;
            if ((c == '<' || c == '>' || c == '!') && at < line.size() && line[at] == '=')
                token.text += line[at++];
        } else if (c == '.' && at > 0 && line[at - 1] == '"') {
            token.kind = Token::Kind::Sign; // between a set's name in quotes and a property's
            token.text = c;
            ++at;
        } else {
            token.kind = Token::Kind::Word;
            while (at < line.size() && !isBlank(line[at]) && !isSignChar(line[at]) && line[at] != '"')
                token.text += line[at++];
            token.lower = token.text;
            std::transform(token.lower.begin(), token.lower.end(), token.lower.begin(),
                           [](char l) { return l >= 'A' && l <= 'Z' ? static_cast<char>(l - 'A' + 'a') : l; });
        }
        token.length = at - token.from;
        tokens.push_back(std::move(token));
    }
}

bool isPlainWord(std::string_view text)
{
    const auto tokens = tokensOf(text);
    return tokens.size() == 2 && tokens[0].kind == Token::Kind::Word && tokens[0].text == text &&
           std::find(kKeywords.begin(), kKeywords.end(), tokens[0].lower) == kKeywords.end();
}

std::optional<Unit> unitFrom(std::string_view word)
{
    for (const Named& n : kUnits)
        if (n.word == word)
            return n.unit;
    return {};
}

std::optional<double> numberFrom(std::string_view text)
{
    double value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc{} || end != text.data() + text.size() || !std::isfinite(value))
        return {};
    return value;
}

bool areDigits(std::string_view text)
{
    return !text.empty() && std::all_of(text.begin(), text.end(), [](char c) { return c >= '0' && c <= '9'; });
}

} // namespace wendrix::sets
