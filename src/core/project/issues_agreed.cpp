#include "core/project/issues_book.h"

#include "core/project/issue_rows.h"
#include "core/project/rows.h"

#include <algorithm>
#include <set>

/// Issues: what is agreed about them, and the filters that are kept.
namespace wendrix::project {

issues::Workflow workflowIn(SQLite::Database& db)
{
    const std::string kept = textOr(db, "SELECT value FROM meta WHERE key='issueWorkflow'");
    const auto workflow =
        kept.empty() ? Result<issues::Workflow>(issues::Workflow::usual()) : issues::workflowFromJson(kept);
    return workflow.value_or(issues::Workflow::usual());
}

issues::Standing standingIn(SQLite::Database& db, const std::string& person)
{
    issues::Standing standing{person, {}};
    SQLite::Statement groups(db, "SELECT name FROM personGroups WHERE person=?");
    groups.bind(1, person);
    while (groups.executeStep())
        standing.groups.push_back(text(groups, 0));
    SQLite::Statement disciplines(db, "SELECT name, people FROM disciplines");
    while (disciplines.executeStep()) {
        const auto people = labelsFromJson(text(disciplines, 1));
        if (std::find(people.begin(), people.end(), person) != people.end())
            standing.groups.push_back(text(disciplines, 0));
    }
    return standing;
}

Result<issues::Workflow> IssuesBook::workflow() const { return store_.read(workflowIn); }

Result<void> IssuesBook::setWorkflow(const issues::Workflow& workflow, const WhoAndWhen& who,
                                     const WorkflowRenames& renamed)
{
    if (const std::string mistake = issues::mistakeIn(workflow); !mistake.empty())
        return fail({issues::kBadWorkflow, mistake});
    return store_.act({Book::Setup, "Workflow of issues changed"}, who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO meta VALUES('issueWorkflow', ?) ON CONFLICT (key) DO UPDATE SET value=excluded.value",
            issues::toJson(workflow));
        std::set<std::string> touched;
        const auto uuidOf = [](SQLite::Statement& q) { return text(q, 0); };
        for (const auto& [former, name] : renamed.statuses)
            for (std::string& uuid : allRows(db, "SELECT uuid FROM issues WHERE status=?", uuidOf, former))
                touched.insert(std::move(uuid));
        if (!renamed.fields.empty())
            for (std::string& uuid : allRows(db, "SELECT uuid FROM issues WHERE LENGTH(custom) > 2", uuidOf))
                touched.insert(std::move(uuid));
        for (const std::string& uuid : touched) {
            const auto before = issueIn(db, uuid);
            if (!before)
                continue;
            issues::Issue after = *before;
            if (const auto status = renamed.statuses.find(after.status); status != renamed.statuses.end())
                after.status = status->second;
            for (const auto& [former, name] : renamed.fields)
                if (auto value = after.custom.extract(former)) {
                    value.key() = name;
                    after.custom.insert(std::move(value));
                }
            (void)replace(db, *before, std::move(after), who, "It is called otherwise now");
        }
    });
}

Result<issues::Standing> IssuesBook::standingOf(const std::string& person) const
{
    return store_.read([&](SQLite::Database& db) { return standingIn(db, person); });
}

Result<std::vector<IssueFilterRecord>> IssuesBook::filters() const
{
    return store_.read([](SQLite::Database& db) {
        return allRows(db, "SELECT name, body FROM issueFilters ORDER BY place", [](SQLite::Statement& q) {
            return IssueFilterRecord{text(q, 0), text(q, 1)};
        });
    });
}

Result<void> IssuesBook::keepFilter(const IssueFilterRecord& filter, const WhoAndWhen& who)
{
    return store_.act(
        {Book::Issues, (filter.body.empty() ? "Filter removed: " : "Filter kept: ") + filter.name}, who,
        [&](SQLite::Database& db) {
            if (filter.body.empty())
                run(db, "DELETE FROM issueFilters WHERE name=?", filter.name);
            else
                run(db, "INSERT INTO issueFilters VALUES(?, ?, ?) ON CONFLICT (name) DO UPDATE SET body=excluded.body",
                    filter.name, nextNumber(db, "issueFilter"), filter.body);
        });
}

} // namespace wendrix::project
