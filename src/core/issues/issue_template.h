#pragma once

#include "core/base/result.h"

#include <map>
#include <string>
#include <vector>

namespace wendrix::issues {

inline constexpr ErrorCode kBadIssueTemplate{"issues.template"};

/// What an issue that is made for pairs begins with. In its texts words in braces stand for what is known of them:
/// "{left} and {right}, {where}".
struct IssueTemplate {
    std::string name;
    std::string title = "{title}", description = "Where: {where}.\n{pairs}";
    std::string type = "Clash", stage = "Design coordination";
    std::string priority;                         ///< empty: by how deep, or how much too near
    std::vector<std::string> labels = {"{test}"}; ///< may hold words in braces, too
    /// A person, a group of people or a discipline; "{left}" and "{right}" are the sides' disciplines, "{decider}" whom
    /// the test names, without one the right side's discipline.
    std::string assignee = "{decider}";
    int daysToFix = 7; ///< until it is due

    /// The one a project has while nobody made another.
    [[nodiscard]] static IssueTemplate usual();
    friend bool operator==(const IssueTemplate&, const IssueTemplate&) = default;
};

/// What stands for words in braces, without the braces.
using Placeholders = std::map<std::string, std::string>;
/// Those that texts may hold, with what each says, in the order they are offered.
[[nodiscard]] const std::vector<std::pair<std::string, std::string>>& placeholders();
/// A text with its words in braces replaced. A line whose words all stand for nothing is left out; what is no such
/// word stays.
[[nodiscard]] std::string filled(const std::string& text, const Placeholders& with);
/// What is wrong with a template, as a sentence that names the field: it has no name, a word in braces is none, it is
/// due before it is made. Empty where nothing is.
[[nodiscard]] std::string mistakeIn(const IssueTemplate& t);

/// JSON; a file of one is a template to take along.
[[nodiscard]] std::string toJson(const IssueTemplate& t);
/// @return kBadIssueTemplate where it is none, or has a mistake; the message names the field
[[nodiscard]] Result<IssueTemplate> issueTemplateFromJson(const std::string& text);

} // namespace wendrix::issues
