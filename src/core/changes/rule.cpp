#include "core/changes/rule.h"

#include "core/base/fold.h"
#include "core/base/number.h"
#include "core/sets/comparing.h"

#include <algorithm>
#include <cmath>

namespace wendrix::changes {

using sets::Condition;
using sets::Expression;
using sets::Field;
using sets::Relation;

namespace {

/// Whether a text is what a pattern says, stars for any letters. Both folded.
bool isLike(std::string_view text, std::string_view pattern)
{
    std::size_t t = 0, p = 0, star = std::string_view::npos, mark = 0;
    while (t < text.size()) {
        if (p < pattern.size() && pattern[p] == '*') {
            star = p++;
            mark = t;
        } else if (p < pattern.size() && pattern[p] == text[t]) {
            ++p;
            ++t;
        } else if (star != std::string_view::npos) {
            p = star + 1;
            t = ++mark;
        } else {
            return false;
        }
    }
    return pattern.find_first_not_of('*', p) == std::string_view::npos;
}

bool isAbout(const Condition& c, const FieldChange& change)
{
    if (c.field == Field::Property)
        return isLike(folded(change.set), folded(c.setName)) && isLike(folded(change.name), folded(c.propertyName));
    return change.set.empty() && folded(change.name) == sets::nameOf(c.field);
}

bool isOneOf(const Condition& c, const std::string& text)
{
    return std::any_of(c.values.begin(), c.values.end(),
                       [&](const sets::Value& v) { return sets::matches(folded(text), c.relation, folded(v.text)); });
}

bool isNumber(const Condition& c, const std::string& text)
{
    const auto number = leadingNumber(text);
    if (!number || c.values.empty() || !c.values[0].number)
        return false;
    return sets::compares(number->value, c.relation, *c.values[0].number);
}

bool holds(const Condition& c, const FieldChange& change)
{
    if (!isAbout(c, change))
        return false;
    switch (c.relation) {
    case Relation::Given:
        return true;
    case Relation::Missing:
        return change.before.empty() || change.after.empty();
    case Relation::Is:
    case Relation::Has:
    case Relation::StartsWith:
        return isOneOf(c, change.before) || isOneOf(c, change.after);
    case Relation::IsNot:
        return !isOneOf(c, change.before) && !isOneOf(c, change.after);
    default:
        return isNumber(c, change.before) || isNumber(c, change.after);
    }
}

bool holds(const Expression& expression, const FieldChange& change)
{
    return sets::holds(expression, [&](const Expression& e) {
        if (e.kind == Expression::Kind::Condition)
            return holds(e.condition, change);
        const std::string words = folded(e.text);
        return e.kind == Expression::Kind::Words && (folded(change.set).find(words) != std::string::npos ||
                                                     folded(change.name).find(words) != std::string::npos);
    });
}

/// A condition that says nothing of a field: places, spaces, issues.
const char* notOfFields(const Expression& e)
{
    switch (e.kind) {
    case Expression::Kind::Inside:
    case Expression::Kind::InsideSpace:
        return "inside";
    case Expression::Kind::Set:
        return "set";
    case Expression::Kind::HasIssue:
        return "has issue";
    case Expression::Kind::ChangedSince:
        return "changed since";
    case Expression::Kind::Condition:
        return e.condition.field == Field::Discipline ? "discipline"
               : e.condition.field == Field::Bay      ? "bay"
                                                      : nullptr;
    default:
        for (const Expression& p : e.parts)
            if (const char* found = notOfFields(p))
                return found;
        return nullptr;
    }
}

} // namespace

std::optional<std::string> mistakeIn(const ChangeRule& rule)
{
    const auto isSound = [](double v) { return std::isfinite(v) && v >= 0; };
    if (!isSound(rule.distance) || rule.distance > 1 || rule.distance < 1e-6)
        return "The distance is a length from 0.001 mm to 1 m.";
    if (!isSound(rule.angle.value) || rule.angle.value > 1)
        return "The angle is one from 0 to 57 degrees.";
    if (!isSound(rule.volume))
        return "The volume is a number of litres that is not negative.";
    if (!isSound(rule.number) || rule.number >= 1)
        return "The difference of numbers is a part of them, from 0 to less than 100 %.";
    for (const auto& [line, what] : {std::pair(&rule.elements, "Elements"), std::pair(&rule.fields, "Fields")}) {
        if (line->empty())
            continue;
        const sets::Parsed parsed = sets::parse(*line);
        if (!parsed.expression)
            return std::string(what) + " that do not count: " + parsed.mistake.message;
        if (line == &rule.fields)
            if (const char* word = notOfFields(*parsed.expression))
                return "Fields that do not count: \"" + std::string(word) +
                       "\" says something of elements, not of what is said of them.";
    }
    return {};
}

FieldsLeftOut::FieldsLeftOut(const std::string& line)
{
    if (!line.empty())
        line_ = sets::parse(line).expression;
}

bool FieldsLeftOut::has(const FieldChange& change) const { return line_ && holds(*line_, change); }

} // namespace wendrix::changes
