#include "core/project/change_issues.h"

#include "core/base/text.h"
#include "core/project/change_words.h"
#include "core/project/issue_making.h"

namespace wendrix::project {

issues::Issue draftIssue(const std::string& title, std::span<const ChangeRecord> changes, const std::string& compared,
                         const Timestamp& now)
{
    constexpr std::size_t kMostLines = 40;
    constexpr int kDaysToAnswer = 7;
    issues::Issue issue;
    issue.title = title + ": is this meant?";
    issue.description = changes[0].discipline + " " + compared + "\n";
    for (std::size_t i = 0; i < std::min(changes.size(), kMostLines); ++i) {
        const ChangeRecord& c = changes[i];
        const std::string measure = measureInWords(c);
        issue.description += "\n" + c.name + (c.storey.empty() ? "" : ", " + c.storey) + ": " + kindsInWords(c.kinds) +
                             (measure.empty() ? "" : ", " + measure);
        for (const changes::FieldChange& f : c.fields)
            issue.description += "\n  " + inWords(f);
    }
    if (changes.size() > kMostLines)
        issue.description += "\nand " + std::to_string(changes.size() - kMostLines) + " more";
    issue.type = "Change";
    issue.priority = "Normal";
    issue.assignee = changes[0].discipline;
    issue.dueAt = daysLater(now, kDaysToAnswer);
    issue.labels.push_back(changes[0].discipline);
    if (std::all_of(changes.begin(), changes.end(),
                    [&](const ChangeRecord& c) { return c.storey == changes[0].storey; }))
        issue.location.storey = changes[0].storey;
    return issue;
}

Result<std::vector<std::string>> questionChanges(Project& project, std::vector<Question> several, const WhoAndWhen& who)
{
    std::vector<std::string> numbers;
    std::vector<ChangeKey> keys;
    std::vector<IssueForPairs> issues;
    for (Question& one : several) {
        keys.insert(keys.end(), one.changes.begin(), one.changes.end());
        issues.push_back({std::move(one.issue), {}, made_from::kChange});
    }
    const std::string what = issues.size() == 1 ? issues[0].issue.title : counted(keys.size(), "change", "changes");
    const auto done = project.together("Questioned: " + what, who, [&]() -> Result<void> {
        if (auto reviewed = project.changes().review(keys, "questioned", what, who); !reviewed)
            return reviewed;
        auto made = makeIssues(project, std::move(issues), who);
        if (!made)
            return fail(made.error());
        numbers = std::move(*made);
        return {};
    });
    if (!done)
        return fail(done.error());
    return numbers;
}

} // namespace wendrix::project
