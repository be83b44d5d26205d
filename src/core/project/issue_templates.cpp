#include "core/project/issues_book.h"
#include "core/project/rows.h"

/// How templates of issues are kept.
namespace wendrix::project {

using issues::IssueTemplate;

Result<std::vector<IssueTemplate>> IssuesBook::templates() const
{
    return store_.read([](SQLite::Database& db) {
        std::vector<IssueTemplate> all;
        for (const std::string& body : allRows(db, "SELECT body FROM issueTemplates ORDER BY place, name",
                                               [](SQLite::Statement& q) { return text(q, 0); }))
            if (auto one = issues::issueTemplateFromJson(body)) // another program may have written it
                all.push_back(std::move(*one));
        if (all.empty())
            all.push_back(IssueTemplate::usual());
        return all;
    });
}

Result<void> IssuesBook::keepTemplate(const IssueTemplate& t, const std::string& former, const WhoAndWhen& who)
{
    if (const std::string mistake = mistakeIn(t); !mistake.empty())
        return fail({issues::kBadIssueTemplate, mistake});
    return store_.act({Book::Setup, "Template of issues: " + t.name}, who, [&](SQLite::Database& db) {
        const auto isThere = [&](const std::string& name) {
            return numberOr(db, "SELECT COUNT(*) FROM issueTemplates WHERE name=?", name) > 0;
        };
        if (former != t.name && isThere(t.name))
            throw Refused{{issues::kBadIssueTemplate, "There is a template of issues called " + t.name + " already."}};
        if (!former.empty() && isThere(former)) {
            run(db, "UPDATE issueTemplates SET name=?, body=? WHERE name=?", t.name, toJson(t), former);
            return;
        }
        // The first new one is made beside the usual one, which is then kept like any other.
        const IssueTemplate usual = IssueTemplate::usual();
        const bool isFirst = former.empty() && numberOr(db, "SELECT COUNT(*) FROM issueTemplates") == 0;
        if (isFirst && t.name == usual.name)
            throw Refused{{issues::kBadIssueTemplate, "There is a template of issues called " + t.name + " already."}};
        if (isFirst)
            run(db, "INSERT INTO issueTemplates VALUES(?, 0, ?)", usual.name, toJson(usual));
        run(db, "INSERT INTO issueTemplates VALUES(?, (SELECT COALESCE(MAX(place), 0) + 1 FROM issueTemplates), ?)",
            t.name, toJson(t));
    });
}

Result<void> IssuesBook::removeTemplate(const std::string& name, const WhoAndWhen& who)
{
    return store_.act({Book::Setup, "Template of issues removed: " + name}, who,
                      [&](SQLite::Database& db) { run(db, "DELETE FROM issueTemplates WHERE name=?", name); });
}

} // namespace wendrix::project
