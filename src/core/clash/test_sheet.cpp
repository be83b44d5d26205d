#include "core/clash/test_sheet.h"

#include "core/base/quantity.h"
#include "core/base/text.h"
#include "core/sets/language.h"

#include <algorithm>
#include <array>
#include <functional>
#include <set>
#include <utility>

namespace wendrix::clash {

namespace {

constexpr std::array<std::string_view, 3> kPriorities{"low", "normal", "high"},
    kKinds{"hard", "clearance", "duplicate"};
constexpr std::array<std::string_view, 4> kDirections{"any", "up", "down", "side"};

using sets::Expression;

void forEach(Expression& e, const std::function<void(Expression&)>& what)
{
    what(e);
    for (Expression& part : e.parts)
        forEach(part, what);
}

/// Changes conditions in all lines of a sheet; lines in which nothing changed keep how they are written.
/// @param change  whether it changed one
void changeLines(TestSheet& sheet, const std::function<bool(Expression&)>& change)
{
    const auto inLine = [&](std::string& line) {
        sets::Parsed parsed = sets::parse(line);
        if (!parsed.expression)
            return;
        bool isChanged = false;
        forEach(*parsed.expression, [&](Expression& e) { isChanged = change(e) || isChanged; });
        if (isChanged)
            line = sets::lineOf(*parsed.expression);
    };
    for (NamedSet& s : sheet.sets)
        inLine(s.line);
    for (Test& t : sheet.tests) {
        inLine(t.left);
        inLine(t.right);
    }
}

/// Puts named sets in their places.
class Whole {
public:
    explicit Whole(const TestSheet& sheet) : sheet_(sheet) {}

    Result<Expression> of(const std::string& line)
    {
        sets::Parsed parsed = sets::parse(line);
        if (!parsed.expression)
            return fail(
                {kBadSheet, parsed.mistake.message + " (sign " + std::to_string(parsed.mistake.from + 1) + ")"});
        return filled(std::move(*parsed.expression));
    }

private:
    Result<Expression> filled(Expression e)
    {
        if (e.kind == Expression::Kind::Set)
            return named(e.text);
        for (Expression& part : e.parts) {
            auto whole = filled(std::move(part));
            if (!whole)
                return whole;
            part = std::move(*whole);
        }
        return e;
    }
    Result<Expression> named(const std::string& name)
    {
        const auto set =
            std::find_if(sheet_.sets.begin(), sheet_.sets.end(), [&](const NamedSet& s) { return s.name == name; });
        if (set == sheet_.sets.end())
            return fail({kBadSheet, "there is no set called \"" + name + "\""});
        if (std::find(open_.begin(), open_.end(), name) != open_.end())
            return fail({kBadSheet, "the set \"" + name + "\" leads back to itself"});
        // Sets that name each other twice over would double at every step.
        if (++filledIn_ > kMostFilledIn)
            return fail({kBadSheet, "the set \"" + name + "\" is put together of too many others"});
        open_.push_back(name);
        auto whole = of(set->line);
        open_.pop_back();
        return whole ? std::move(whole)
                     : Result<Expression>(fail({kBadSheet, "in the set \"" + name + "\": " + whole.error().message}));
    }

    static constexpr int kMostFilledIn = 1'000;
    const TestSheet& sheet_;
    std::vector<std::string> open_;
    int filledIn_ = 0;
};

} // namespace

std::string_view nameOf(Priority priority) { return kPriorities[static_cast<std::size_t>(priority) - 1]; }
std::string_view nameOf(Kind kind) { return kKinds[static_cast<std::size_t>(kind) - 1]; }
std::string_view nameOf(Direction direction) { return kDirections[static_cast<std::size_t>(direction)]; }

bool asksTheSame(const Test& a, const Test& b)
{
    const bool isOfClearances = a.kind == Kind::Clearance;
    return a.left == b.left && a.right == b.right && a.kind == b.kind && a.ignored == b.ignored && a.joint == b.joint &&
           (isOfClearances ? a.clearance == b.clearance && a.direction == b.direction : a.tolerance == b.tolerance);
}

std::string inWords(const Test& t)
{
    switch (t.kind) {
    case Kind::Clearance: {
        const std::string_view way = t.direction == Direction::Up     ? " upwards"
                                     : t.direction == Direction::Down ? " downwards"
                                     : t.direction == Direction::Side ? " sideways"
                                                                      : "";
        return "clearance of " + lengthInWords(Metres{t.clearance}) + std::string(way);
    }
    case Kind::Duplicate:
        return "duplicate, within " + lengthInWords(Metres{t.tolerance});
    case Kind::Hard:
        break;
    }
    return "hard, deeper than " + lengthInWords(Metres{t.tolerance});
}

std::string lineOfDiscipline(const std::string& discipline)
{
    Expression e;
    e.kind = Expression::Kind::Condition;
    e.condition.field = sets::Field::Discipline;
    e.condition.values.push_back({discipline, {}, {}, false});
    return sets::lineOf(e);
}

TestSheet usualSheet(std::span<const std::string> disciplines)
{
    TestSheet sheet;
    sheet.name = "Every discipline";
    for (std::size_t i = 0; i < disciplines.size(); ++i)
        for (std::size_t j = i + 1; j < disciplines.size(); ++j) {
            Test test = sheet.defaults;
            test.name = disciplines[i] + " × " + disciplines[j];
            test.left = lineOfDiscipline(disciplines[i]);
            test.right = lineOfDiscipline(disciplines[j]);
            sheet.tests.push_back(std::move(test));
        }
    for (const std::string& discipline : disciplines) {
        Test test = sheet.defaults;
        test.name = discipline + " twice";
        test.left = lineOfDiscipline(discipline);
        test.kind = Kind::Duplicate;
        sheet.tests.push_back(std::move(test));
    }
    return sheet;
}

std::vector<std::string> mistakesIn(const TestSheet& sheet)
{
    std::vector<std::string> mistakes;
    const auto check = [&](const std::string& where, const std::string& line) {
        if (const auto whole = Whole(sheet).of(line); !whole)
            mistakes.push_back(where + ": " + whole.error().message + ".");
    };
    std::set<std::string> names;
    for (const NamedSet& s : sheet.sets) {
        if (s.name.empty() || !names.insert(s.name).second)
            mistakes.push_back(s.name.empty() ? "A set has no name." : "Two sets are called \"" + s.name + "\".");
        check("Set \"" + s.name + "\"", s.line);
    }
    names.clear();
    for (const Test& t : sheet.tests) {
        if (t.name.empty() || !names.insert(t.name).second)
            mistakes.push_back(t.name.empty() ? "A test has no name." : "Two tests are called \"" + t.name + "\".");
        check("Test \"" + t.name + "\", left", t.left);
        if (!t.right.empty())
            check("Test \"" + t.name + "\", right", t.right);
        if (t.kind == Kind::Clearance && !(t.clearance > 0))
            mistakes.push_back("Test \"" + t.name + "\": a clearance needs the free distance that is wanted.");
    }
    return mistakes;
}

Result<std::string> wholeLine(const std::string& line, const TestSheet& sheet)
{
    const auto whole = Whole(sheet).of(line);
    if (!whole)
        return fail(whole.error());
    return sets::lineOf(*whole);
}

void renameDiscipline(TestSheet& sheet, const std::string& from, const std::string& to)
{
    changeLines(sheet, [&](Expression& e) {
        bool isNamed = false;
        if (e.kind == Expression::Kind::Condition && e.condition.field == sets::Field::Discipline)
            for (sets::Value& v : e.condition.values)
                if (v.text == from) {
                    v = {to, {}, {}, false};
                    isNamed = true;
                }
        return isNamed;
    });
    for (Test& t : sheet.tests)
        if (t.decider == from)
            t.decider = to;
    if (sheet.defaults.decider == from)
        sheet.defaults.decider = to;
}

void renameSet(TestSheet& sheet, std::size_t set, const std::string& to)
{
    const std::string from = std::exchange(sheet.sets[set].name, to);
    changeLines(sheet, [&](Expression& e) {
        const bool isIt = e.kind == Expression::Kind::Set && e.text == from;
        if (isIt)
            e.text = to;
        return isIt;
    });
}

} // namespace wendrix::clash
