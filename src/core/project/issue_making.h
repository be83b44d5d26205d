#pragma once

#include "core/project/project.h"
#include "core/sets/elements.h"

#include <set>
#include <span>

/// Issues and what the other books know of them: made for pairs, and the evidence of runs and changes.

namespace wendrix::project {

/// How much a depth matters: three bars and "High" past 100 mm, two and "Normal" past 20 mm, one and "Low".
struct Weight {
    int bars;
    const char* priority;
};
[[nodiscard]] Weight weightOf(double depthMetres);

/// "Level 2, bay B-C / 4", or every bay of several pairs once; past three only how many.
[[nodiscard]] std::string whereInWords(std::span<const Pair> pairs);

/// "+7.720", or from the lowest to the highest: "+7.720 to +10.830"; metres above the reference's zero.
/// @param pairs  at least one
[[nodiscard]] std::string elevationsInWords(std::span<const Pair> pairs);

/// An issue for pairs that are to be fixed, as a template has it.
/// @param title    what {title} stands for
/// @param pairs    at least one, the deepest first
/// @param decider  whom the test of the first names; may be empty
[[nodiscard]] issues::Issue draftIssue(const std::string& title, std::span<const Pair> pairs, const Timestamp& now,
                                       const issues::IssueTemplate& with = issues::IssueTemplate::usual(),
                                       const std::string& decider = {});

/// What an issue is made from where no pair is behind it.
struct Material {
    std::string source; ///< one of issues::made_from
    std::string title, said = {};
    std::vector<std::string> kinds = {};
    std::string discipline = {}, revisions = {}; ///< of its elements; no discipline where they are of several
    std::vector<std::string> elements = {};      ///< a line each
    std::size_t more = 0;                        ///< elements that have no line
    std::set<std::string> storeys = {}, bays = {};
};
/// An issue of it, as a template has it.
[[nodiscard]] issues::Issue draftIssue(const Material& material, const Timestamp& now,
                                       const issues::IssueTemplate& with);

/// An issue about to be made, and the pairs it is to settle.
struct IssueForPairs {
    issues::Issue issue;
    std::vector<PairId> pairs = {};
    std::string madeFrom = issues::made_from::kClash;
    std::optional<issues::Requirement> requirement = {}; ///< that it was made of
};
/// Gives issues to whom the template says by the sets their elements are in.
/// @param elements  of the members in place
void assignBySets(const Project& project, const issues::IssueTemplate& with, const sets::Elements& elements,
                  std::span<const federation::Member> members, std::span<issues::Issue* const> several);
/// Who may be given an issue: people, groups of people, disciplines; each once, in order.
[[nodiscard]] std::vector<std::string> assigneesOf(const Project& project);
/// What numbers of issues begin with: "MSS" of the Marrowfield Seed Store.
[[nodiscard]] std::string issuePrefix(const Project& project);
/// Decides to fix: makes the issue, with its number, and ties the pairs to it. @return its number
[[nodiscard]] Result<std::string> makeIssue(Project& project, issues::Issue issue, std::span<const PairId> pairs,
                                            const WhoAndWhen& who);
/// The same for several, as one step. @return their numbers, in this order
[[nodiscard]] Result<std::vector<std::string>> makeIssues(Project& project, std::vector<IssueForPairs> several,
                                                          const WhoAndWhen& who);
/// "2 open issues already concern these elements: MSS-004, MSS-011"; empty where none does.
/// @param several  the elements of each issue that is made
[[nodiscard]] std::string alreadyAboutInWords(const Project& project, std::span<const std::vector<ElementRef>> several);
/// What comparisons say of an element since an issue was made of it: "moved 205 mm in P02"; empty where it did not
/// change.
struct ElementSaid {
    ElementRef element;
    std::string change;
};
/// Of the elements an issue's viewpoints select, for one that no clash was made into; those whose member is not known
/// are left out.
[[nodiscard]] Result<std::vector<ElementSaid>> elementsSaidOf(const Project& project, const std::string& issueUuid);
/// What runs and comparisons say of an issue.
[[nodiscard]] Result<issues::Evidence> evidenceOf(const Project& project, const std::string& issueUuid);

} // namespace wendrix::project
