#pragma once

#include <algorithm>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// Sets of elements by rule, in one readable line: "class is Wall and Pset_WallCommon.FireRating is missing".
///
///     set       = all-of { "or" all-of }
///     all-of    = one-of { "and" one-of }
///     one-of    = "not" one-of | "(" set ")" | condition
///     condition = "everything" | text
///               | field ( "is" | "is not" | "has" | "starts with" ) value { "," value }
///               | field ( "=" | "!=" | "<" | "<=" | ">" | ">=" ) number [ unit ]
///               | field ( "is given" | "is missing" )
///               | "inside" number number number "to" number number number
///               | "inside space" value { "," value }
///               | "set" text
///               | "has issue" [ value ]        -- without a status: one that is not closed
///               | "changed since" value        -- a day, 2026-11-28, or a cycle
/// Of issues it reads these besides, and days such as 2026-11-28 or today to compare with:
///
///     field     = "number" | "title" | "status" | "priority" | "assignee" | "stage" | "label" | "due" | "start" |
///     "created" |
///                 "modified" | "author" | "requester" | "cause" | "space" | "from" | "evidence" | field "."
///                 name-of-a-field
///
///     field     = "discipline" | "class" | "type" | "name" | "tag" | "system" | "storey" | "bay" | "material"
///               | "classification" | set-name "." property-name
///
/// Words and keywords are the same in capitals. A text stands in quotes; in it \" and \\ are the signs themselves.
/// A value, a set's name or a property's name needs quotes only where it has blanks or signs, or is a keyword.
namespace wendrix::sets {

enum class Field { Discipline, Class, Type, Name, Tag, System, Storey, Bay, Material, Classification, Property };
/// "storey"; of Property nothing.
[[nodiscard]] std::string_view nameOf(Field field);

enum class Relation { Is, IsNot, Has, StartsWith, Equal, Unequal, Less, AtMost, More, AtLeast, Given, Missing };
[[nodiscard]] std::string_view nameOf(Relation relation);

/// What is compared with: a text, or a number with its unit.
struct Value {
    std::string text;             ///< as it was written, without quotes
    std::optional<double> number; ///< in the unit's SI unit
    std::string dimension;        ///< "m", "m²", "m³", "rad", "kg", "s", "K", "Pa", "W"; empty without a unit
    bool isQuoted = false;
    friend bool operator==(const Value&, const Value&) = default;
};

struct Condition {
    Field field = Field::Name;
    std::string setName, propertyName; ///< of a property
    Relation relation = Relation::Is;
    std::vector<Value> values;
    friend bool operator==(const Condition&, const Condition&) = default;
};

struct Box {
    double low[3] = {0, 0, 0}, high[3] = {0, 0, 0}; ///< metres, in the federation's frame
    friend bool operator==(const Box&, const Box&) = default;
};

/// A set as a tree.
struct Expression {
    enum class Kind {
        Everything,
        AnyOf,
        AllOf,
        Not,
        Condition,
        Words,
        Inside,
        InsideSpace,
        Set,
        HasIssue,
        ChangedSince
    };
    Kind kind = Kind::Everything;
    std::vector<Expression> parts; ///< of AnyOf and AllOf two or more, of Not one
    Condition condition;           ///< of InsideSpace its values: names of spaces
    std::string text; ///< of Words; of Set its name; of HasIssue a status or nothing; of ChangedSince since when
    Box box;
    friend bool operator==(const Expression&, const Expression&) = default;
};

/// What is wrong with a line, and where: signs from its beginning.
struct Mistake {
    std::size_t from = 0, length = 0;
    std::string message; ///< what was expected there
};

struct Parsed {
    std::optional<Expression> expression;
    Mistake mistake; ///< where there is no expression
};
/// What a line picks.
enum class Subject { Elements, Issues };
/// @param line  no longer than kLongest; sets in each other no deeper than kDeepest
[[nodiscard]] Parsed parse(std::string_view line, Subject subject = Subject::Elements);
/// Conditions on what only issues have are those of a property of this set.
inline constexpr const char* kOfIssue = "(issue)";
/// Their names: "status", "due".
[[nodiscard]] const std::vector<std::string>& issueFields();
/// Days since the beginning of 1970 of "2026-11-28"; nothing where it is no day.
[[nodiscard]] std::optional<double> dayNumber(std::string_view day);
inline constexpr const char* kDay = "day"; ///< the dimension of a value that is a day; without a number it is today
inline constexpr std::size_t kLongest = 10'000;
inline constexpr int kDeepest = 50;

/// The line of a set; parsed again it is the same set.
[[nodiscard]] std::string lineOf(const Expression& expression);

/// Whether an expression holds, for something that is no element of a model: what is neither all, any, not nor
/// everything is asked one by one.
template <class Ask>
[[nodiscard]] bool holds(const Expression& e, const Ask& ask)
{
    const auto part = [&](const Expression& inner) { return holds(inner, ask); };
    switch (e.kind) {
    case Expression::Kind::Everything:
        return true;
    case Expression::Kind::AnyOf:
        return std::any_of(e.parts.begin(), e.parts.end(), part);
    case Expression::Kind::AllOf:
        return std::all_of(e.parts.begin(), e.parts.end(), part);
    case Expression::Kind::Not:
        return !part(e.parts.front());
    default:
        return ask(e);
    }
}

/// What could come next after a line that is not finished.
struct Next {
    std::vector<std::string> words; ///< keywords, fields and signs
    std::optional<Field> valuesOf;  ///< values of this field
    bool isProperty = false;        ///< or the name of a property set with its property
    std::string begun;              ///< the word that is being written, which all of them are to begin with
};
[[nodiscard]] Next nextAfter(std::string_view line);

} // namespace wendrix::sets
