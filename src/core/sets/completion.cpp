#include "core/sets/completion.h"

#include "core/base/fold.h"
#include "core/sets/tokens.h"

#include <algorithm>

namespace wendrix::sets {

namespace {

std::string asValue(const std::string& text)
{
    Value value{text, {}, {}, false};
    Expression e;
    e.kind = Expression::Kind::Condition;
    e.condition.values.push_back(value);
    const std::string line = lineOf(e); // "name is …": the value as it has to be written
    return line.substr(std::string_view("name is ").size());
}

} // namespace

std::vector<std::string> completionsOf(const std::string& line, const Elements& elements, std::size_t most)
{
    const Next next = nextAfter(line);
    const std::string before = line.substr(0, line.size() - next.begun.size());
    const std::string begun = folded(next.begun.starts_with('"') ? next.begun.substr(1) : next.begun);
    std::vector<std::string> lines;
    const auto add = [&](const std::string& word) {
        if (lines.size() < most)
            lines.push_back(before + word);
    };
    if (next.valuesOf)
        for (const std::string& value : elements.valuesOf(*next.valuesOf, begun, most))
            add(asValue(value));
    if (!next.begun.starts_with('"'))
        for (const std::string& word : next.words)
            if (folded(word).starts_with(begun) && folded(word) != begun)
                add(word);
    if (next.isProperty && !begun.empty())
        for (const std::string& property : elements.propertiesOf(begun, most)) {
            const std::size_t point = property.find('.');
            const std::string set = property.substr(0, point), name = property.substr(point + 1);
            add(isPlainWord(property) && set.find('.') == std::string::npos
                    ? property
                    : "\"" + set + "\"." + (isPlainWord(name) ? name : "\"" + name + "\""));
        }
    return lines;
}

bool looksLikeSet(std::string_view line)
{
    const auto tokens = tokensOf(line);
    if (tokens.size() < 3) // one word and the end: a name to look for
        return false;
    static const std::vector<std::string> kBeginnings = nextAfter("").words;
    const Token& first = tokens[0];
    if (first.isSign("(") || (first.kind == Token::Kind::Text && parse(line).expression))
        return true;
    if (first.kind != Token::Kind::Word)
        return false;
    return first.text.find('.') != std::string::npos ||
           std::any_of(kBeginnings.begin(), kBeginnings.end(),
                       [&](const std::string& word) { return word.substr(0, word.find(' ')) == first.lower; });
}

} // namespace wendrix::sets
