#include "core/project/issues_book.h"

#include "core/base/fold.h"
#include "core/project/issue_rows.h"
#include "core/project/rows.h"
#include "core/project/stored_files.h"

#include <algorithm>
#include <set>

/// Issues: what is asked of them.
namespace wendrix::project {

using issues::Issue;

namespace {

constexpr const char* kBriefColumns =
    "SELECT i.uuid, i.title, i.status, i.priority, i.assignee, i.number, i.prefix, i.dueAt FROM issues i ";

IssueBrief briefOf(SQLite::Statement& q)
{
    return {text(q, 0), text(q, 1), text(q, 2), text(q, 3), text(q, 4), q.getColumn(5).getInt64(),
            text(q, 6), text(q, 7)};
}

/// Quoted names of the closed statuses, for IN (...): names of a project may hold anything.
std::vector<std::string> closedStatuses(SQLite::Database& db)
{
    std::vector<std::string> closed;
    for (const issues::Status& s : workflowIn(db).statuses)
        if (s.isClosed)
            closed.push_back(s.name);
    return closed;
}

issues::RequirementMoment momentOf(SQLite::Statement& m)
{
    return {m.getColumn(0).getInt64(), text(m, 1), count(m, 2), count(m, 3), count(m, 4)};
}

bool isIn(const std::vector<std::string>& list, const std::string& value)
{
    return std::find(list.begin(), list.end(), value) != list.end();
}

} // namespace

Result<std::vector<IssueKey>> IssuesBook::keys() const
{
    return store_.read([](SQLite::Database& db) {
        return allRows(db,
                       "SELECT uuid, status, number, dueAt, title, priority, assignee, type, stage, requestedBy, "
                       "cause, createdAt, "
                       "modifiedAt, startAt, labels, storey, bay, space, madeFrom, custom, prefix, createdBy FROM "
                       "issues ORDER BY number",
                       [](SQLite::Statement& q) {
                           IssueKey k{text(q, 0), text(q, 1), q.getColumn(2).getInt64(), text(q, 3)};
                           k.title = text(q, 4);
                           k.priority = text(q, 5);
                           k.assignee = text(q, 6);
                           k.type = text(q, 7);
                           k.stage = text(q, 8);
                           k.requestedBy = text(q, 9);
                           k.cause = text(q, 10);
                           k.createdAt = text(q, 11);
                           k.modifiedAt = text(q, 12);
                           k.startAt = text(q, 13);
                           k.labels = labelsFromJson(text(q, 14));
                           k.location = {text(q, 15), text(q, 16), text(q, 17)};
                           k.madeFrom = text(q, 18);
                           if (const std::string custom = text(q, 19); custom.size() > 2)
                               k.custom = textsFromJson(custom);
                           k.prefix = text(q, 20);
                           k.createdBy = text(q, 21);
                           return k;
                       });
    });
}

Result<std::vector<IssueBrief>> IssuesBook::briefs(std::span<const std::string> uuids) const
{
    return store_.read([&](SQLite::Database& db) {
        std::vector<IssueBrief> list;
        SQLite::Statement q(db, std::string(kBriefColumns) + "WHERE i.uuid=?");
        for (const std::string& uuid : uuids) {
            q.reset();
            q.bind(1, uuid);
            if (q.executeStep())
                list.push_back(briefOf(q));
        }
        return list;
    });
}

Result<std::vector<IssueBrief>> IssuesBook::named(const std::string& words, int most) const
{
    return store_.read([&](SQLite::Database& db) {
        const std::string like = likePattern(words);
        SQLite::Statement q(db,
                            std::string(kBriefColumns) +
                                "WHERE LOWER(i.title) LIKE ? ESCAPE '\\' OR LOWER(i.prefix || '-' || SUBSTR('00' || "
                                "i.number, -3)) LIKE ? ESCAPE '\\' "
                                "OR LOWER(i.prefix || '-' || i.number) LIKE ? ESCAPE '\\' ORDER BY i.number LIMIT ?");
        for (int i = 1; i <= 3; ++i)
            q.bind(i, like);
        q.bind(4, most);
        std::vector<IssueBrief> list;
        while (q.executeStep())
            list.push_back(briefOf(q));
        return list;
    });
}

Result<std::set<std::string>> IssuesBook::saying(const std::string& words) const
{
    return store_.read([&](SQLite::Database& db) {
        std::vector<std::string> wanted;
        const std::string all = folded(words);
        for (std::size_t at = 0; at < all.size();) {
            const std::size_t from = std::min(all.find_first_not_of(' ', at), all.size()),
                              to = std::min(all.find(' ', from), all.size());
            if (to > from)
                wanted.push_back(all.substr(from, to - from));
            at = to;
        }
        // Which words each issue holds somewhere.
        std::map<std::string, std::uint64_t> found;
        const std::uint64_t whole = wanted.size() >= 64 ? ~0ull : (1ull << wanted.size()) - 1;
        const auto look = [&](const char* sql) {
            SQLite::Statement q(db, sql);
            while (q.executeStep()) {
                const std::string in = folded(q.getColumn(1).getString());
                std::uint64_t holds = 0;
                for (std::size_t i = 0; i < std::min<std::size_t>(wanted.size(), 64); ++i)
                    holds |= in.find(wanted[i]) != std::string::npos ? 1ull << i : 0;
                if (holds != 0)
                    found[text(q, 0)] |= holds;
            }
        };
        look("SELECT uuid, title || char(10) || description || char(10) || labels || char(10) || type || char(10) || "
             "assignee || char(10) || "
             "requestedBy || char(10) || cause || char(10) || stage || "
             "char(10) || storey || char(10) || bay || char(10) || space || char(10) || createdBy || char(10) || "
             "custom || char(10) || more || char(10) || prefix || '-' "
             "|| "
             "CASE WHEN number < 100 THEN SUBSTR('00' || number, -3) ELSE number END FROM issues");
        look("SELECT issue, author || char(10) || text FROM comments");
        std::set<std::string> uuids;
        for (const auto& [uuid, holds] : found)
            if ((holds & whole) == whole)
                uuids.insert(uuid);
        return uuids;
    });
}

Result<std::set<std::string>> IssuesBook::mentioning(const std::string& person) const
{
    return store_.read([&](SQLite::Database& db) {
        std::set<std::string> uuids;
        if (person.empty())
            return uuids;
        const auto found = allRows(
            db, "SELECT DISTINCT issue FROM comments WHERE INSTR(text, ?) > 0",
            [](SQLite::Statement& q) { return text(q, 0); }, "@" + person);
        uuids.insert(found.begin(), found.end());
        return uuids;
    });
}

Result<std::vector<Issue>> IssuesBook::all() const
{
    return store_.read([](SQLite::Database& db) {
        auto list = allRows(db, std::string("SELECT ") + kIssueColumns + " FROM issues ORDER BY number", issueOf);
        for (Issue& issue : list)
            fillIssue(db, issue);
        return list;
    });
}

Result<std::optional<Issue>> IssuesBook::find(const std::string& uuid, bool withSnapshots) const
{
    return store_.read([&](SQLite::Database& db) {
        std::optional<Issue> issue = issueIn(db, uuid);
        if (!issue || !withSnapshots)
            return issue;
        SQLite::Statement q(db, "SELECT uuid, picture FROM viewpoints WHERE issue=?");
        q.bind(1, uuid);
        while (q.executeStep())
            for (issues::Viewpoint& v : issue->viewpoints)
                if (v.uuid == text(q, 0) && !text(q, 1).empty())
                    v.snapshot = readPicture(folder_, text(q, 1));
        return issue;
    });
}

Result<std::optional<KeptIssue>> IssuesBook::kept(const std::string& uuid) const
{
    return store_.read([&](SQLite::Database& db) -> std::optional<KeptIssue> {
        auto issue = issueIn(db, uuid);
        if (!issue)
            return {};
        KeptIssue kept{std::move(*issue),
                       textOr(db, "SELECT madeFrom FROM issues WHERE uuid=?", uuid),
                       originsFromJson(textOr(db, "SELECT origins FROM issues WHERE uuid=?", uuid)),
                       {}};
        SQLite::Statement q(db, "SELECT uuid, picture FROM viewpoints WHERE issue=? AND picture<>''");
        q.bind(1, uuid);
        while (q.executeStep())
            kept.pictures.emplace_back(text(q, 0), text(q, 1));
        return kept;
    });
}

Result<std::vector<ElementRef>> IssuesBook::elementsWith(const std::string& status) const
{
    return store_.read([&](SQLite::Database& db) {
        std::vector<ElementRef> elements;
        const std::string wanted = folded(status);
        const auto closed = closedStatuses(db);
        SQLite::Statement q(db, "SELECT DISTINCT e.discipline, e.part, e.guid, e.ordinal, i.status FROM issueElements "
                                "e JOIN issues i ON i.uuid=e.issue");
        while (q.executeStep()) {
            const std::string is = text(q, 4);
            if (status.empty() ? !isIn(closed, is) : folded(is) == wanted)
                elements.push_back({q.getColumn(0).getInt64(), text(q, 1), text(q, 2),
                                    static_cast<std::uint32_t>(q.getColumn(3).getInt64())});
        }
        return elements;
    });
}

Result<std::map<std::string, std::vector<ElementRef>>> IssuesBook::elements() const
{
    return store_.read([](SQLite::Database& db) {
        std::map<std::string, std::vector<ElementRef>> all;
        SQLite::Statement q(db, "SELECT issue, discipline, part, guid, ordinal FROM issueElements");
        while (q.executeStep())
            all[text(q, 0)].push_back({q.getColumn(1).getInt64(), text(q, 2), text(q, 3),
                                       static_cast<std::uint32_t>(q.getColumn(4).getInt64())});
        return all;
    });
}

Result<std::vector<IssueBrief>> IssuesBook::about(const ElementRef& e) const
{
    return store_.read([&](SQLite::Database& db) {
        return allRows(db,
                       std::string(kBriefColumns) +
                           "WHERE i.uuid IN (SELECT issue FROM issueElements WHERE guid=? AND (discipline=0 OR "
                           "(discipline=? AND part=? AND ordinal=?))) ORDER BY i.number",
                       briefOf, e.guid, e.discipline, e.part, static_cast<std::int64_t>(e.ordinal));
    });
}

Result<std::vector<IssueBrief>> IssuesBook::openAbout(std::span<const ElementRef> elements) const
{
    std::map<std::string, std::pair<IssueBrief, std::size_t>> meets;
    for (const ElementRef& e : elements) {
        auto found = about(e);
        if (!found)
            return fail(found.error());
        for (IssueBrief& brief : *found) {
            auto& [kept, count] = meets[brief.uuid];
            kept = std::move(brief);
            ++count;
        }
    }
    const auto flow = workflow();
    if (!flow)
        return fail(flow.error());
    std::vector<IssueBrief> alike;
    for (auto& [uuid, one] : meets)
        if (2 * one.second >= elements.size() && !flow->isClosed(one.first.status))
            alike.push_back(std::move(one.first));
    std::sort(alike.begin(), alike.end(), [](const IssueBrief& a, const IssueBrief& b) { return a.number < b.number; });
    return alike;
}

Result<std::size_t> IssuesBook::open() const
{
    return store_.read([](SQLite::Database& db) {
        const auto closed = closedStatuses(db);
        std::size_t open = 0;
        SQLite::Statement q(db, "SELECT status, COUNT(*) FROM issues GROUP BY status");
        while (q.executeStep())
            open += isIn(closed, text(q, 0)) ? 0 : count(q, 1);
        return open;
    });
}

std::optional<issues::Requirement> requirementIn(SQLite::Database& db, const std::string& uuid)
{
    SQLite::Statement q(db, "SELECT discipline, rule, title, isOfItsOwn FROM issueRequirements WHERE issue=?");
    q.bind(1, uuid);
    if (!q.executeStep())
        return {};
    issues::Requirement r{q.getColumn(0).getInt64(), text(q, 1), text(q, 2)};
    r.moments = allRows(
        db,
        "SELECT delivery, revision, failing, failingOfIts, its FROM requirementMoments WHERE issue=? ORDER BY place",
        momentOf, uuid);
    r.isOfItsOwn = q.getColumn(3).getInt() != 0;
    for (issues::RequirementMoment& m : r.moments)
        m.isOfItsOwn = r.isOfItsOwn;
    return r;
}

Result<std::optional<issues::Requirement>> IssuesBook::requirementOf(const std::string& uuid) const
{
    return store_.read([&](SQLite::Database& db) { return requirementIn(db, uuid); });
}

Result<std::map<std::string, issues::Requirement>> IssuesBook::requirements() const
{
    return store_.read([](SQLite::Database& db) {
        std::map<std::string, issues::Requirement> all;
        SQLite::Statement q(db, "SELECT issue, discipline, rule, title, isOfItsOwn FROM issueRequirements");
        while (q.executeStep())
            all[text(q, 0)] = {q.getColumn(1).getInt64(), text(q, 2), text(q, 3), {}, q.getColumn(4).getInt() != 0};
        SQLite::Statement m(
            db, "SELECT delivery, revision, failing, failingOfIts, its, issue FROM requirementMoments ORDER BY place");
        while (m.executeStep())
            if (const auto at = all.find(text(m, 5)); at != all.end()) {
                at->second.moments.push_back(momentOf(m));
                at->second.moments.back().isOfItsOwn = at->second.isOfItsOwn;
            }
        return all;
    });
}

Result<std::vector<IssueEvent>> IssuesBook::history(const std::string& uuid) const
{
    return store_.read([&](SQLite::Database& db) {
        return allRows(
            db, "SELECT field, before, after, why, person, time FROM issueHistory WHERE issue=? ORDER BY place DESC",
            [](SQLite::Statement& q) {
                return IssueEvent{text(q, 0), text(q, 1), text(q, 2), text(q, 3), {text(q, 4), text(q, 5)}};
            },
            uuid);
    });
}

Result<std::vector<CommentEdit>> IssuesBook::editsOf(const std::string& uuid, const std::string& comment) const
{
    return store_.read([&](SQLite::Database& db) {
        return allRows(
            db, "SELECT time, author, text FROM commentEdits WHERE issue=? AND comment=? ORDER BY place DESC",
            [](SQLite::Statement& q) {
                return CommentEdit{text(q, 0), text(q, 1), text(q, 2)};
            },
            uuid, comment);
    });
}

} // namespace wendrix::project
