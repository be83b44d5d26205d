#pragma once

#include "core/base/result.h"
#include "core/clash/clearance.h"
#include "core/clash/expected.h"
#include "core/clash/identity.h"

#include <span>
#include <string>
#include <vector>

/// What a project tests: sets, tests between them, and what new tests begin with.
namespace wendrix::clash {

inline constexpr ErrorCode kBadSheet{"clash.sheet"};

/// How much it matters; the numbers are the bars it is shown with.
enum class Priority { Low = 1, Normal = 2, High = 3 };
[[nodiscard]] std::string_view nameOf(Priority priority);   ///< "high"
[[nodiscard]] std::string_view nameOf(Kind kind);           ///< "clearance"
[[nodiscard]] std::string_view nameOf(Direction direction); ///< "up"

/// Two sets that are asked about each other, or one about itself.
struct Test {
    std::string name;
    std::string left;         ///< a line of the language of sets
    std::string right;        ///< empty: the left set against itself
    double tolerance = 0.005; ///< metres, as Question has it
    Kind kind = Kind::Hard;
    double clearance = 0; ///< metres; of clearances only
    Direction direction = Direction::Any;
    Meetings ignored = Meetings::all(); ///< expected meetings that are no clash
    double joint = 0;                   ///< metres, as Question has it
    Priority priority = Priority::Normal;
    std::string decider; ///< a person, a group of people or a discipline; empty: whoever coordinates
    bool isOn = true;
};

/// Whether both find the same pairs: all but the name, the priority, who decides and whether it is on.
[[nodiscard]] bool asksTheSame(const Test& a, const Test& b);
/// "hard, deeper than 5 mm", "clearance of 400 mm upwards".
[[nodiscard]] std::string inWords(const Test& test);

struct NamedSet {
    std::string name, line;
    friend bool operator==(const NamedSet&, const NamedSet&) = default;
};

struct TestSheet {
    std::string name;
    std::vector<NamedSet> sets;
    std::vector<Test> tests;
    Test defaults; ///< of tests that are added: all but the name and the sides
};

/// The line that picks a discipline.
[[nodiscard]] std::string lineOfDiscipline(const std::string& discipline);

/// What is tested where nobody said otherwise: every discipline hard against every other, and each for what it has
/// twice.
[[nodiscard]] TestSheet usualSheet(std::span<const std::string> disciplines);

/// What keeps a sheet from being tested: "Test \"Ducts\", left: a value is expected after this (sign 14)".
/// Tests that are off are looked at as well.
[[nodiscard]] std::vector<std::string> mistakesIn(const TestSheet& sheet);

/// A line with the sets that it names put in their places.
/// @return kBadSheet where it is not well formed, names a set that is not there, or one that leads back to itself
[[nodiscard]] Result<std::string> wholeLine(const std::string& line, const TestSheet& sheet);

/// Lines that name the discipline go on with its new name; what is not well formed is left as it is.
void renameDiscipline(TestSheet& sheet, const std::string& from, const std::string& to);

/// Gives a set another name, also where lines name it.
void renameSet(TestSheet& sheet, std::size_t set, const std::string& to);

/// A sheet as people hand it on: JSON, lengths in metres. What is left out of a test is as in the sheet's defaults.
[[nodiscard]] std::string toJson(const TestSheet& sheet);
/// @return kBadSheet with the test and the field that is wrong; lines are taken as they are, see mistakesIn()
[[nodiscard]] Result<TestSheet> sheetFromJson(std::string_view text);

} // namespace wendrix::clash
