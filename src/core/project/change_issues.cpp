#include "core/project/change_issues.h"

#include "core/base/text.h"
#include "core/project/change_words.h"
#include "core/project/issue_making.h"

namespace wendrix::project {

issues::Issue draftIssue(const std::string& title, std::span<const ChangeRecord> changes, const std::string& compared,
                         const Timestamp& now, const issues::IssueTemplate& with)
{
    constexpr std::size_t kMostLines = 40;
    Material m{issues::made_from::kChange, title};
    m.discipline = changes[0].discipline;
    m.revisions = changes[0].discipline + " " + compared;
    unsigned kinds = 0;
    std::size_t onStorey = 0;
    for (std::size_t i = 0; i < changes.size(); ++i) {
        const ChangeRecord& c = changes[i];
        kinds |= c.kinds;
        onStorey += c.storey == changes[0].storey ? 1 : 0;
        if (i >= kMostLines) {
            ++m.more;
            continue;
        }
        const std::string measure = measureInWords(c);
        std::string line = c.name + (c.storey.empty() ? "" : ", " + c.storey) + ": " + kindsInWords(c.kinds) +
                           (measure.empty() ? "" : ", " + measure);
        for (const changes::FieldChange& f : c.fields)
            line += "\n  " + inWords(f);
        m.elements.push_back(std::move(line));
    }
    for (const ChangeKind kind : kAllChangeKinds)
        if ((kinds & kind) != 0)
            m.kinds.emplace_back(nameOf(kind));
    if (onStorey == changes.size() && !changes[0].storey.empty())
        m.storeys.insert(changes[0].storey);
    return draftIssue(m, now, with);
}

Result<std::vector<std::string>> questionChanges(Project& project, std::vector<Question> several, const WhoAndWhen& who)
{
    std::vector<std::string> numbers;
    std::vector<ChangeKey> keys;
    std::vector<IssueForPairs> issues;
    for (Question& one : several) {
        keys.insert(keys.end(), one.changes.begin(), one.changes.end());
        issues.push_back({std::move(one.issue), {}, issues::made_from::kChange});
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
