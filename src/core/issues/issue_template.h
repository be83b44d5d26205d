#pragma once

#include "core/base/result.h"
#include "core/issues/issue.h"

#include <map>
#include <string>
#include <vector>

namespace wendrix::issues {

inline constexpr ErrorCode kBadIssueTemplate{"issues.template"};
inline constexpr int kMostDaysToFix = 3650;

/// What an issue that is made here begins with. In its texts words in braces stand for what is known of what it is made
/// from: "{left} and {right}, {where}".
struct IssueTemplate {
    std::string name;
    std::string source = made_from::kClash; ///< what it is for, one of made_from but a file
    std::string title = "{title}", description = "Where: {where}.\n{pairs}";
    std::string type = "Clash", stage = "Design coordination";
    std::string priority; ///< empty: by how deep, or how much too near, where it is made from clashes; else none
    /// Goes before: the priority of what is of a kind, "removed" or "hard"; of several kinds the first that is here.
    std::vector<std::pair<std::string, std::string>> priorityFor = {};
    std::vector<std::string> labels = {"{test}"}; ///< may hold words in braces, too
    /// A person, a group of people or a discipline; "{left}" and "{right}" are the sides' disciplines, "{decider}" whom
    /// the test names, without one the right side's discipline; "{discipline}" whose elements it is about.
    std::string assignee = "{decider}";
    /// Goes before: who is given what is about an element of a set, by the set's line; the first that holds one says.
    std::vector<std::pair<std::string, std::string>> assigneeFor = {};
    int daysToFix = 7; ///< until it is due
    /// Goes before: the days for those of a priority.
    std::vector<std::pair<std::string, int>> daysFor = {};

    /// The one a project has for a source while nobody made another.
    [[nodiscard]] static IssueTemplate usual(const std::string& source = made_from::kClash);
    /// Of every source, in the order they are offered.
    [[nodiscard]] static const std::vector<IssueTemplate>& usuals();
    friend bool operator==(const IssueTemplate&, const IssueTemplate&) = default;
};

/// What stands for words in braces, without the braces.
using Placeholders = std::map<std::string, std::string>;
/// Those that texts of a source may hold, with what each says, in the order they are offered.
[[nodiscard]] const std::vector<std::pair<std::string, std::string>>&
placeholders(const std::string& source = made_from::kClash);
/// The kinds that things of a source are of: "hard", "removed"; empty where there are none.
[[nodiscard]] std::vector<std::string> kindsOf(const std::string& source);
/// A text with its words in braces replaced. A line whose words all stand for nothing is left out; what is no such
/// word stays.
[[nodiscard]] std::string filled(const std::string& text, const Placeholders& with);
/// What is wrong with a template, as a sentence that names the field: it has no name, a word in braces is none, it is
/// due before it is made. Empty where nothing is.
[[nodiscard]] std::string mistakeIn(const IssueTemplate& t);

/// What is known of what an issue is made from.
struct Ground {
    Placeholders words;
    Placeholders sides = {};             ///< what "{left}" and "{right}" are as an assignee: disciplines
    std::vector<std::string> kinds = {}; ///< of kindsOf(), those that matter most first
    std::string weight = {};             ///< the priority by how much it is
    Location location = {};
};
/// An issue as a template has it, but for its viewpoints.
[[nodiscard]] Issue drafted(const IssueTemplate& t, const Ground& ground, const Timestamp& now);

/// JSON; a file of one is a template to take along.
[[nodiscard]] std::string toJson(const IssueTemplate& t);
/// @return kBadIssueTemplate where it is none, or has a mistake; the message names the field
[[nodiscard]] Result<IssueTemplate> issueTemplateFromJson(const std::string& text);

} // namespace wendrix::issues
