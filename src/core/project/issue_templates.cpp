#include "core/project/issues_book.h"
#include "core/project/rows.h"

#include <algorithm>

/// How templates of issues are kept.
namespace wendrix::project {

using issues::IssueTemplate;

namespace {

std::vector<IssueTemplate> templatesIn(SQLite::Database& db)
{
    std::vector<IssueTemplate> kept;
    for (const std::string& body : allRows(db, "SELECT body FROM issueTemplates ORDER BY place, name",
                                           [](SQLite::Statement& q) { return text(q, 0); }))
        if (auto one = issues::issueTemplateFromJson(body)) // another program may have written it
            kept.push_back(std::move(*one));
    std::vector<IssueTemplate> all;
    for (const IssueTemplate& usual : IssueTemplate::usuals()) {
        const std::size_t before = all.size();
        for (const IssueTemplate& t : kept)
            if (t.source == usual.source)
                all.push_back(t);
        if (all.size() == before)
            all.push_back(usual);
    }
    return all;
}

} // namespace

Result<std::vector<IssueTemplate>> IssuesBook::templates() const { return store_.read(templatesIn); }

Result<std::vector<IssueTemplate>> IssuesBook::templatesFor(const std::string& source) const
{
    auto all = templates();
    if (all)
        std::erase_if(*all, [&](const IssueTemplate& t) { return t.source != source; });
    return all;
}

Result<void> IssuesBook::keepTemplate(const IssueTemplate& t, const std::string& former, const WhoAndWhen& who)
{
    if (const std::string mistake = mistakeIn(t); !mistake.empty())
        return fail({issues::kBadIssueTemplate, mistake});
    return store_.act({Book::Setup, "Template of issues: " + t.name}, who, [&](SQLite::Database& db) {
        const std::vector<IssueTemplate> all = templatesIn(db);
        const auto called = [&](const std::string& name) {
            return std::find_if(all.begin(), all.end(), [&](const IssueTemplate& one) { return one.name == name; });
        };
        if (former != t.name && called(t.name) != all.end())
            throw Refused{{issues::kBadIssueTemplate, "There is a template of issues called " + t.name + " already."}};
        const auto isKept = [&](const std::string& name) {
            return numberOr(db, "SELECT COUNT(*) FROM issueTemplates WHERE name=?", name) > 0;
        };
        const auto insert = [&](const IssueTemplate& one) {
            run(db, "INSERT INTO issueTemplates VALUES(?, (SELECT COALESCE(MAX(place), 0) + 1 FROM issueTemplates), ?)",
                one.name, toJson(one));
        };
        if (!former.empty() && isKept(former)) {
            run(db, "UPDATE issueTemplates SET name=?, body=? WHERE name=?", t.name, toJson(t), former);
            return;
        }
        // The first new one of a source is made beside the usual one, which is then kept like any other.
        const IssueTemplate usual = IssueTemplate::usual(t.source);
        if (former.empty() && called(usual.name) != all.end() && !isKept(usual.name))
            insert(usual);
        insert(t);
    });
}

Result<void> IssuesBook::removeTemplate(const std::string& name, const WhoAndWhen& who)
{
    return store_.act({Book::Setup, "Template of issues removed: " + name}, who,
                      [&](SQLite::Database& db) { run(db, "DELETE FROM issueTemplates WHERE name=?", name); });
}

} // namespace wendrix::project
