#include "core/sets/language.h"

#include "core/sets/tokens.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <chrono>
#include <cstdlib>

namespace wendrix::sets {

namespace {

constexpr std::array<std::string_view, 10> kFields{"discipline", "class",  "type", "name",     "tag",
                                                   "system",     "storey", "bay",  "material", "classification"};
constexpr std::array<std::string_view, 12> kRelations{
    "is", "is not", "has", "starts with", "=", "!=", "<", "<=", ">", ">=", "is given", "is missing"};

std::optional<Field> fieldFrom(const Token& token)
{
    if (token.kind != Token::Kind::Word)
        return {};
    const auto at = std::find(kFields.begin(), kFields.end(), token.lower);
    return at != kFields.end() ? std::optional(static_cast<Field>(at - kFields.begin())) : std::nullopt;
}

bool isDay(std::string_view text)
{
    return text.size() == 10 && text[4] == '-' && text[7] == '-' && areDigits(text.substr(0, 4)) &&
           areDigits(text.substr(5, 2)) && areDigits(text.substr(8));
}
class Parser {
public:
    explicit Parser(std::string_view line, Subject subject = Subject::Elements)
        : tokens_(tokensOf(line)), subject_(subject)
    {
    }

    Parsed whole()
    {
        auto expression = anyOf(0);
        if (expression && peek().kind != Token::Kind::End)
            expression = wrong("\"and\", \"or\" or the end is expected here", {"and", "or"});
        else if (expression)
            expect({"and", "or"});
        return {std::move(expression), std::move(mistake_)};
    }
    /// What was looked for when the line ended.
    [[nodiscard]] const Next& next() const { return next_; }

private:
    [[nodiscard]] const Token& peek(std::size_t ahead = 0) const
    {
        return tokens_[std::min(at_ + ahead, tokens_.size() - 1)];
    }
    const Token& take() { return tokens_[at_ + 1 < tokens_.size() ? at_++ : at_]; }
    bool takeWord(std::string_view keyword)
    {
        const bool isIt = peek().is(keyword);
        at_ += isIt ? 1 : 0;
        return isIt;
    }
    bool takeSign(std::string_view sign)
    {
        const bool isIt = peek().isSign(sign);
        at_ += isIt ? 1 : 0;
        return isIt;
    }
    /// What could stand where the line ends.
    void expect(std::vector<std::string> words)
    {
        if (peek().kind == Token::Kind::End)
            next_.words = std::move(words);
    }
    std::nullopt_t wrong(std::string message, std::vector<std::string> words = {})
    {
        return wrongAt(peek(), std::move(message), std::move(words));
    }
    std::nullopt_t wrongAt(const Token& token, std::string message, std::vector<std::string> words = {})
    {
        if (!words.empty())
            expect(std::move(words));
        if (mistake_.message.empty())
            mistake_ = {token.from, token.length,
                        token.isOpen                     ? std::string("the closing quote is missing")
                        : token.kind == Token::Kind::End ? message.replace(message.rfind(" here"), 5, " after this")
                                                         : message};
        return std::nullopt;
    }

    std::optional<Expression> anyOf(int depth)
    {
        return list(depth, "or", Expression::Kind::AnyOf, [this](int d) { return allOf(d); });
    }
    std::optional<Expression> allOf(int depth)
    {
        return list(depth, "and", Expression::Kind::AllOf, [this](int d) { return oneOf(d); });
    }
    template <class Item>
    std::optional<Expression> list(int depth, std::string_view between, Expression::Kind kind, Item item)
    {
        auto first = item(depth);
        if (!first || !peek().is(between))
            return first;
        Expression all;
        all.kind = kind;
        all.parts.push_back(std::move(*first));
        while (takeWord(between)) {
            auto next = item(depth);
            if (!next)
                return {};
            all.parts.push_back(std::move(*next));
        }
        return all;
    }
    std::optional<Expression> oneOf(int depth)
    {
        if (depth > kDeepest)
            return wrong("sets are nested too deep here");
        if (takeWord("not")) {
            auto inner = oneOf(depth + 1);
            if (!inner)
                return {};
            Expression negated;
            negated.kind = Expression::Kind::Not;
            negated.parts.push_back(std::move(*inner));
            return negated;
        }
        if (takeSign("(")) {
            auto inner = anyOf(depth + 1);
            if (!inner)
                return {};
            if (!takeSign(")"))
                return wrong("a closing parenthesis, \"and\" or \"or\" is expected here", {")", "and", "or"});
            return inner;
        }
        return condition();
    }

    std::optional<Expression> condition()
    {
        Expression e;
        if (takeWord("everything"))
            return e;
        if (takeWord("set")) {
            e.kind = Expression::Kind::Set;
            if (peek().isOpen || peek().kind != Token::Kind::Text)
                return wrong("the name of a set in quotes is expected here");
            e.text = take().text;
            return e;
        }
        if (takeWord("inside"))
            return inside();
        if (takeWord("has"))
            return ofIssue();
        if (takeWord("changed"))
            return changedSince();
        // A property: Set.Name, or with quotes.
        if (peek().kind == Token::Kind::Text && peek(1).isSign(".")) {
            e.condition.setName = take().text;
            (void)take();
            if (peek().kind == Token::Kind::End || peek().kind == Token::Kind::Sign || peek().isOpen)
                return wrong("the name of a property is expected here");
            e.condition.propertyName = take().text;
            return compared(Field::Property, std::move(e));
        }
        if (peek().kind == Token::Kind::Text) {
            if (peek().isOpen)
                return wrong("");
            e.kind = Expression::Kind::Words;
            if (peek().text.empty())
                return wrong("words to look for are expected here");
            e.text = take().text;
            return e;
        }
        if (subject_ == Subject::Issues && peek().kind == Token::Kind::Word &&
            std::find(issueFields().begin(), issueFields().end(), peek().lower) != issueFields().end()) {
            e.condition.setName = kOfIssue;
            e.condition.propertyName = take().lower;
            return compared(Field::Property, std::move(e));
        }
        if (const auto field = fieldFrom(peek())) {
            (void)take();
            return compared(*field, std::move(e));
        }
        if (const Token& token = peek(); token.kind == Token::Kind::Word && token.text.find('.') != std::string::npos) {
            const std::size_t dot = token.text.find('.');
            e.condition.setName = token.text.substr(0, dot);
            e.condition.propertyName = token.text.substr(dot + 1);
            const bool isQuotedName = e.condition.propertyName.empty() && peek(1).kind == Token::Kind::Text &&
                                      peek(1).from == token.from + token.length;
            if (isQuotedName) {
                (void)take();
                e.condition.propertyName = peek().text;
                if (peek().isOpen)
                    return wrong("");
            }
            if (e.condition.setName.empty() || e.condition.propertyName.empty())
                return wrong("a property set and its property, with a point between, are expected here");
            (void)take();
            return compared(Field::Property, std::move(e));
        }
        std::vector<std::string> choices(kFields.begin(), kFields.end());
        if (subject_ == Subject::Issues)
            choices = issueFields();
        for (const char* more : {"not", "inside", "set", "has issue", "changed since", "everything"})
            choices.emplace_back(more);
        if (peek().kind == Token::Kind::End)
            next_.isProperty = true;
        if (peek().kind == Token::Kind::Word)
            return wrong(fmt::format("a field (class, type, name, storey, ..., or Set.Property), \"not\" or a text in "
                                     "quotes is expected here; to look for the word, write \"{}\" in quotes",
                                     peek().text),
                         choices);
        return wrong("a field (class, type, name, storey, ..., or Set.Property), \"not\" or a text in quotes is "
                     "expected here",
                     choices);
    }

    std::optional<Expression> ofIssue()
    {
        if (!takeWord("issue"))
            return wrong("\"issue\" is expected here", {"issue"});
        Expression e;
        e.kind = Expression::Kind::HasIssue;
        if (peek().isOpen)
            return wrong("");
        if (peek().kind == Token::Kind::Text ||
            (peek().kind == Token::Kind::Word && !peek().is("and") && !peek().is("or")))
            e.text = take().text;
        return e;
    }

    std::optional<Expression> changedSince()
    {
        if (!takeWord("since"))
            return wrong("\"since\" is expected here", {"since"});
        Expression e;
        e.kind = Expression::Kind::ChangedSince;
        (void)takeWord("cycle");
        e.text = peek().kind == Token::Kind::Word ? peek().text : std::string();
        if (!isDay(e.text) && !isCycle(e.text))
            return wrong("a day such as 2026-11-28 or the number of a cycle is expected here");
        (void)take();
        return e;
    }

    std::optional<Expression> inside()
    {
        Expression e;
        if (takeWord("space")) {
            e.kind = Expression::Kind::InsideSpace;
            do {
                auto value = valueNext(Field::Property);
                if (!value)
                    return {};
                e.condition.values.push_back(std::move(*value));
            } while (takeSign(","));
            return e;
        }
        e.kind = Expression::Kind::Inside;
        const auto three = [&](double(&to)[3]) {
            for (double& v : to) {
                const auto number = numberFrom(peek().text);
                if (peek().kind != Token::Kind::Word || !number) {
                    (void)wrong("three numbers in metres are expected here");
                    return false;
                }
                v = *number;
                (void)take();
            }
            return true;
        };
        if (!three(e.box.low))
            return {};
        if (!takeWord("to"))
            return wrong("\"to\" and three more numbers are expected here", {"to"});
        const std::size_t second = at_;
        if (!three(e.box.high))
            return {};
        for (int k = 0; k < 3; ++k)
            if (e.box.low[k] > e.box.high[k])
                return wrongAt(tokens_[second + static_cast<std::size_t>(k)],
                               "a number no less than the one before \"to\" is expected here");
        return e;
    }

    std::optional<Expression> compared(Field field, Expression e)
    {
        e.kind = Expression::Kind::Condition;
        e.condition.field = field;
        const auto relation = relationNext();
        if (!relation)
            return {};
        e.condition.relation = *relation;
        if (*relation == Relation::Given || *relation == Relation::Missing)
            return e;
        const bool isNumeric = *relation >= Relation::Equal && *relation <= Relation::AtLeast;
        if (isNumeric) {
            const Token& token = peek();
            auto value = valueNext(field);
            if (!value)
                return {};
            if (!value->number && subject_ == Subject::Issues) {
                value->number = dayNumber(value->text);
                value->dimension = value->number || value->text == "today" ? kDay : "";
                if (value->dimension == kDay) {
                    e.condition.values.push_back(std::move(*value));
                    return e;
                }
            }
            if (!value->number)
                return wrongAt(token, "a number, with a unit if it has one, is expected here");
            e.condition.values.push_back(std::move(*value));
            return e;
        }
        do {
            auto value = valueNext(field);
            if (!value)
                return {};
            e.condition.values.push_back(std::move(*value));
        } while (takeSign(","));
        if (peek().kind == Token::Kind::End)
            next_.words = {","};
        return e;
    }

    std::optional<Relation> relationNext()
    {
        static const std::vector<std::string> kChoices{"is", "is not", "has", "starts with", "is given", "is missing",
                                                       "=",  "!=",     "<",   "<=",          ">",        ">="};
        if (takeWord("is")) {
            if (takeWord("not"))
                return Relation::IsNot;
            if (peek().is("given") && !isValueAfter(1)) {
                (void)take();
                return Relation::Given;
            }
            if (peek().is("missing") && !isValueAfter(1)) {
                (void)take();
                return Relation::Missing;
            }
            return Relation::Is;
        }
        if (takeWord("has"))
            return Relation::Has;
        if (takeWord("starts")) {
            if (takeWord("with"))
                return Relation::StartsWith;
            (void)wrong("\"with\" is expected here", {"with"});
            return {};
        }
        for (std::size_t r = static_cast<std::size_t>(Relation::Equal);
             r <= static_cast<std::size_t>(Relation::AtLeast); ++r)
            if (takeSign(kRelations[r]))
                return static_cast<Relation>(r);
        (void)wrong(
            "\"is\", \"is not\", \"has\", \"starts with\", \"is given\", \"is missing\" or a comparison (= != < "
            "<= > >=) is expected here",
            kChoices);
        return {};
    }
    /// Whether a list goes on: then "given" and "missing" are values like all others.
    [[nodiscard]] bool isValueAfter(std::size_t ahead) const { return peek(ahead).isSign(","); }

    std::optional<Value> valueNext(Field field)
    {
        if (peek().kind == Token::Kind::End && field != Field::Property)
            next_.valuesOf = field;
        Value value;
        if (peek().isOpen)
            return wrong("");
        if (peek().kind == Token::Kind::Text) {
            value.text = take().text;
            value.isQuoted = true;
            return value;
        }
        if (peek().kind != Token::Kind::Word || peek().is("and") || peek().is("or"))
            return wrong("a value is expected here; a text with blanks or signs stands in quotes");
        const Token token = take();
        value.text = token.text;
        value.number = numberFrom(token.text);
        std::optional<Unit> unit;
        if (value.number) {
            unit = peek().kind == Token::Kind::Word ? unitFrom(peek().text) : std::nullopt;
            if (unit)
                value.text += " " + take().text;
        } else if (const std::size_t split = token.text.find_last_of("0123456789."); split != std::string::npos) {
            // 300mm, with nothing between.
            const auto number = numberFrom(std::string_view(token.text).substr(0, split + 1));
            unit = number ? unitFrom(std::string_view(token.text).substr(split + 1)) : std::nullopt;
            if (unit)
                value.number = number;
        }
        if (unit) {
            value.number = *value.number * unit->factor;
            value.dimension = unit->dimension;
        }
        return value;
    }

    std::vector<Token> tokens_;
    Subject subject_;
    std::size_t at_ = 0;
    Mistake mistake_;
    Next next_;
};

} // namespace

std::string_view nameOf(Field field)
{
    return field == Field::Property ? std::string_view() : kFields[static_cast<std::size_t>(field)];
}

std::string_view nameOf(Relation relation) { return kRelations[static_cast<std::size_t>(relation)]; }

const std::vector<std::string>& issueFields()
{
    static const std::vector<std::string> kNames{
        "number",  "title",    "status", "priority",  "assignee", "type",   "stage", "label", "due",  "start",
        "created", "modified", "author", "requester", "cause",    "storey", "bay",   "space", "from", "evidence"};
    return kNames;
}

std::optional<double> dayNumber(std::string_view day)
{
    using namespace std::chrono;
    if (!isDay(day))
        return {};
    const auto number = [&](std::size_t at, std::size_t count) {
        return std::atoi(std::string(day.substr(at, count)).c_str());
    };
    const year_month_day date{year(number(0, 4)), month(static_cast<unsigned>(number(5, 2))),
                              std::chrono::day(static_cast<unsigned>(number(8, 2)))};
    if (!date.ok())
        return {};
    return static_cast<double>(sys_days(date).time_since_epoch().count());
}

Parsed parse(std::string_view line, Subject subject)
{
    if (line.size() > kLongest)
        return {{}, {kLongest, line.size() - kLongest, fmt::format("the line is longer than {} signs", kLongest)}};
    return Parser(line, subject).whole();
}

Next nextAfter(std::string_view line)
{
    // The word that is being written is left out, and what could stand in its place is asked for.
    std::size_t begin = line.size();
    const auto isOfWord = [](char c) {
        return c != ' ' && c != '\t' && c != '(' && c != ')' && c != ',' && c != '<' && c != '>' && c != '=' &&
               c != '!';
    };
    if (const auto tokens = tokensOf(line); tokens.size() > 1 && tokens[tokens.size() - 2].isOpen)
        begin = tokens[tokens.size() - 2].from;
    else
        while (begin > 0 && isOfWord(line[begin - 1]) && line[begin - 1] != '"')
            --begin;
    Parser parser(line.substr(0, begin));
    (void)parser.whole();
    Next next = parser.next();
    next.begun = std::string(line.substr(begin));
    return next;
}

} // namespace wendrix::sets
