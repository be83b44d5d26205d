#include "core/project/issues_book.h"

#include "core/base/file.h"
#include "core/base/fold.h"
#include "core/base/guid.h"
#include "core/base/text.h"
#include "core/project/issue_rows.h"
#include "core/project/rows.h"
#include "core/project/stored_files.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

namespace wendrix::project {

using issues::Issue;

namespace {

constexpr Table kTables[] = {
    {"issues",
     "uuid TEXT PRIMARY KEY, number INTEGER, prefix TEXT, title TEXT, description TEXT, type TEXT, status TEXT, "
     "priority TEXT, stage TEXT, assignee TEXT, createdBy TEXT, createdAt TEXT, modifiedBy TEXT, "
     "modifiedAt TEXT, dueAt TEXT, labels TEXT, requestedBy TEXT, cause TEXT, startAt TEXT, storey TEXT, bay TEXT, "
     "space TEXT, custom TEXT, more TEXT, madeFrom TEXT, origins TEXT",
     Book::Issues},
    // Of one issue each: files give the same one to several.
    {"comments",
     "issue TEXT, uuid TEXT, time TEXT, author TEXT, text TEXT, viewpoint TEXT, place INTEGER, modifiedAt TEXT, "
     "modifiedBy TEXT, PRIMARY KEY (issue, uuid)",
     Book::Issues},
    // Keys of their own, never numbers: what is brought in from a file of steps meets numbers that were given again.
    {"commentEdits",
     "issue TEXT, uuid TEXT, comment TEXT, place INTEGER, time TEXT, author TEXT, text TEXT, PRIMARY KEY (issue, uuid)",
     Book::Issues},
    {"viewpoints", "issue TEXT, uuid TEXT, place INTEGER, view TEXT, picture TEXT, PRIMARY KEY (issue, uuid)",
     Book::Issues},
    {"issueHistory",
     "issue TEXT, uuid TEXT, place INTEGER, field TEXT, before TEXT, after TEXT, why TEXT, person TEXT, time TEXT, "
     "PRIMARY KEY (issue, uuid)",
     Book::Issues},
    {"exchanges",
     "uuid TEXT PRIMARY KEY, place INTEGER, isSent INTEGER, fileName TEXT, sha256 TEXT, partner TEXT, version TEXT, "
     "topics INTEGER, person TEXT, time TEXT",
     Book::Issues},
    {"exchangedTopics", "issue TEXT, exchange TEXT, PRIMARY KEY (issue, exchange)", Book::Issues},
    {"issueFilters", "name TEXT PRIMARY KEY, place INTEGER, body TEXT", Book::Issues},
    {"issueTemplates", "name TEXT PRIMARY KEY, place INTEGER, body TEXT", Book::Setup},
    // Whose elements an issue's viewpoints select, to find it by them.
    {"issueElements",
     "issue TEXT, guid TEXT, discipline INTEGER, part TEXT, ordinal INTEGER, PRIMARY KEY (guid, issue, discipline, "
     "part, ordinal)",
     Book::Issues},
};
constexpr const char* kIndexes[] = {
    "CREATE INDEX issuesByNumber ON issues(number)",
    "CREATE INDEX issuesByStatus ON issues(status)",
    "CREATE INDEX elementsOfIssue ON issueElements(issue)",
};

Deed deed(std::string what, const std::string& issue)
{
    return {Book::Issues, std::move(what), issue.empty() ? "" : "issue:" + issue};
}

constexpr const char* kBriefColumns =
    "SELECT i.uuid, i.title, i.status, i.priority, i.assignee, i.number, i.prefix, i.dueAt FROM issues i ";

IssueBrief briefOf(SQLite::Statement& q)
{
    return {text(q, 0), text(q, 1), text(q, 2), text(q, 3), text(q, 4), q.getColumn(5).getInt64(),
            text(q, 6), text(q, 7)};
}

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

/// Quoted names of the closed statuses, for IN (...): names of a project may hold anything.
std::vector<std::string> closedStatuses(SQLite::Database& db)
{
    std::vector<std::string> closed;
    for (const issues::Status& s : workflowIn(db).statuses)
        if (s.isClosed)
            closed.push_back(s.name);
    return closed;
}

bool isIn(const std::vector<std::string>& list, const std::string& value)
{
    return std::find(list.begin(), list.end(), value) != list.end();
}

void note(SQLite::Database& db, const std::string& issue, const std::string& field, const std::string& before,
          const std::string& after, const std::string& why, const WhoAndWhen& who)
{
    run(db, "INSERT INTO issueHistory VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?)", issue, newUuid(),
        nextNumber(db, "issueHistory"), field, before, after, why, who.person, who.time);
}

template <class T>
const T* withUuid(const std::vector<T>& list, const std::string& uuid)
{
    const auto found = std::find_if(list.begin(), list.end(), [&](const T& one) { return one.uuid == uuid; });
    return found == list.end() ? nullptr : &*found;
}

bool replaceComments(SQLite::Database& db, const Issue& before, const Issue& after, const WhoAndWhen& who,
                     const std::string& why)
{
    bool differs = false;
    for (const issues::Comment& c : after.comments) {
        const issues::Comment* was = withUuid(before.comments, c.uuid);
        if (was != nullptr && *was == c)
            continue;
        differs = true;
        if (was == nullptr) {
            insertCommentRow(db, after.uuid, c);
            continue;
        }
        if (was->text != c.text) {
            run(db, "INSERT INTO commentEdits VALUES(?, ?, ?, ?, ?, ?, ?)", after.uuid, newUuid(), c.uuid,
                nextNumber(db, "commentEdit"), was->modifiedAt.empty() ? was->time : was->modifiedAt,
                was->modifiedBy.empty() ? was->author : was->modifiedBy, was->text);
            note(db, after.uuid, "Comment", was->text, c.text, why, who);
        }
        run(db,
            "UPDATE comments SET time=?, author=?, text=?, viewpoint=?, modifiedAt=?, modifiedBy=? WHERE issue=? AND "
            "uuid=?",
            c.time, c.author, c.text, c.viewpoint, c.modifiedAt, c.modifiedBy, after.uuid, c.uuid);
    }
    for (const issues::Comment& was : before.comments)
        if (withUuid(after.comments, was.uuid) == nullptr) {
            differs = true;
            run(db, "DELETE FROM comments WHERE issue=? AND uuid=?", after.uuid, was.uuid);
            note(db, after.uuid, "Comment", was.author + ": " + was.text, "", why, who);
        }
    return differs;
}

bool replaceViewpoints(SQLite::Database& db, const Issue& before, const Issue& after, const WhoAndWhen& who,
                       const std::string& why)
{
    bool differs = false;
    int place = 0;
    for (const issues::Viewpoint& v : after.viewpoints) {
        const issues::Viewpoint* was = withUuid(before.viewpoints, v.uuid);
        const int at = place++;
        if (was == nullptr) {
            insertViewpointRow(db, after.uuid, at, v);
            note(db, after.uuid, "Viewpoint", "", "added", why, who);
            differs = true;
        } else if (viewToJson(*was) != viewToJson(v) || !v.snapshot.empty()) {
            run(db, "UPDATE viewpoints SET view=?, place=? WHERE issue=? AND uuid=?", viewToJson(v), at, after.uuid,
                v.uuid);
            if (!v.snapshot.empty())
                run(db, "UPDATE viewpoints SET picture=? WHERE issue=? AND uuid=?", pictureName(v.snapshot), after.uuid,
                    v.uuid);
            note(db, after.uuid, "Viewpoint", "", "changed", why, who);
            differs = true;
        }
    }
    for (const issues::Viewpoint& was : before.viewpoints)
        if (withUuid(after.viewpoints, was.uuid) == nullptr) {
            run(db, "DELETE FROM viewpoints WHERE issue=? AND uuid=?", after.uuid, was.uuid);
            note(db, after.uuid, "Viewpoint", "removed", "", why, who);
            differs = true;
        }
    if (differs) {
        run(db, "DELETE FROM issueElements WHERE issue=?", after.uuid);
        for (const issues::Viewpoint& v : after.viewpoints)
            for (const ElementRef& e : v.selection)
                run(db, "INSERT INTO issueElements VALUES(?, ?, ?, ?, ?) ON CONFLICT DO NOTHING", after.uuid, e.guid,
                    e.discipline, e.part, static_cast<std::int64_t>(e.ordinal));
    }
    return differs;
}

} // namespace

std::span<const Table> IssuesBook::tables() { return kTables; }
std::span<const char* const> IssuesBook::indexes() { return kIndexes; }

std::string IssuesBook::numberInWords(const std::string& prefix, std::int64_t number)
{
    return fmt::format("{}-{:03}", prefix, number);
}
std::string IssueBrief::name() const { return IssuesBook::numberInWords(prefix, number); }

std::optional<Issue> IssuesBook::issueIn(SQLite::Database& db, const std::string& uuid) const
{
    SQLite::Statement q(db, std::string("SELECT ") + kIssueColumns + " FROM issues WHERE uuid=?");
    q.bind(1, uuid);
    if (!q.executeStep())
        return {};
    Issue issue = issueOf(q);
    fillIssue(db, issue);
    return issue;
}

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
             "requestedBy || char(10) || cause || char(10) || custom || char(10) || more || char(10) || prefix || '-' "
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

Result<issues::Workflow> IssuesBook::workflow() const { return store_.read(workflowIn); }

Result<void> IssuesBook::setWorkflow(const issues::Workflow& workflow, const WhoAndWhen& who)
{
    if (const std::string mistake = issues::mistakeIn(workflow); !mistake.empty())
        return fail({issues::kBadWorkflow, mistake});
    return store_.act({Book::Setup, "Workflow of issues changed"}, who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO meta VALUES('issueWorkflow', ?) ON CONFLICT (key) DO UPDATE SET value=excluded.value",
            issues::toJson(workflow));
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
        deed((filter.body.empty() ? "Filter removed: " : "Filter kept: ") + filter.name, ""), who,
        [&](SQLite::Database& db) {
            if (filter.body.empty())
                run(db, "DELETE FROM issueFilters WHERE name=?", filter.name);
            else
                run(db, "INSERT INTO issueFilters VALUES(?, ?, ?) ON CONFLICT (name) DO UPDATE SET body=excluded.body",
                    filter.name, nextNumber(db, "issueFilter"), filter.body);
        });
}

Result<void> IssuesBook::keepPictures(const Issue& issue) const
{
    // Before the transaction: a picture nobody refers to is harmless, a reference to none is not.
    for (const issues::Viewpoint& v : issue.viewpoints)
        if (!v.snapshot.empty())
            if (auto written = writeFileWhole(folder_ / "pictures" / pictureName(v.snapshot), v.snapshot); !written)
                return written;
    return {};
}

std::string IssuesBook::write(SQLite::Database& db, Issue& issue, const std::string& prefix, const WhoAndWhen& who,
                              const std::string& madeFrom) const
{
    const std::int64_t number = nextNumber(db, "issue");
    issue.number = numberInWords(prefix, number);
    issue.uuid = issue.uuid.empty() ? newUuid() : issue.uuid;
    issue.createdBy = issue.modifiedBy = who.person;
    issue.createdAt = issue.modifiedAt = who.time;
    insertIssueRow(db, issue, number, prefix, madeFrom, "[]");
    int place = 0;
    for (const issues::Viewpoint& v : issue.viewpoints)
        insertViewpointRow(db, issue.uuid, place++, v);
    for (const issues::Comment& c : issue.comments)
        insertCommentRow(db, issue.uuid, c);
    return issue.number;
}

void IssuesBook::insert(SQLite::Database& db, const KeptIssue& kept, const std::string& prefix) const
{
    insertIssueRow(db, kept.issue, nextNumber(db, "issue"), prefix, kept.madeFrom, originsToJson(kept.origins));
    int place = 0;
    for (const issues::Viewpoint& v : kept.issue.viewpoints)
        insertViewpointRow(db, kept.issue.uuid, place++, v);
    for (const issues::Comment& c : kept.issue.comments)
        insertCommentRow(db, kept.issue.uuid, c);
    for (const auto& [viewpoint, picture] : kept.pictures)
        setPicture(db, kept.issue.uuid, viewpoint, picture);
}

bool IssuesBook::replace(SQLite::Database& db, const Issue& before, Issue after, const WhoAndWhen& who,
                         const std::string& why) const
{
    bool differs = false;
    for (const TrackedField& field : trackedFields())
        if (const std::string was = field.inWords(before), is = field.inWords(after); was != is) {
            note(db, after.uuid, field.name, was, is, why, who);
            differs = true;
        }
    std::set<std::string> names;
    for (const std::map<std::string, std::string>* custom : {&before.custom, &std::as_const(after).custom})
        for (const auto& [name, value] : *custom)
            names.insert(name);
    for (const std::string& name : names) {
        const auto value = [&](const Issue& i) { return i.custom.contains(name) ? i.custom.at(name) : std::string(); };
        if (value(before) != value(after)) {
            note(db, after.uuid, name, value(before), value(after), why, who);
            differs = true;
        }
    }
    differs = replaceComments(db, before, after, who, why) || differs;
    differs = replaceViewpoints(db, before, after, who, why) || differs;
    Issue like = after;
    like.comments = before.comments;
    like.viewpoints = before.viewpoints;
    if (!differs && like == before)
        return false;
    updateIssueRow(db, after);
    return true;
}

void IssuesBook::setOrigins(SQLite::Database& db, const std::string& uuid,
                            std::span<const KeptIssue::Origin> origins) const
{
    run(db, "UPDATE issues SET origins=? WHERE uuid=?", originsToJson(origins), uuid);
}

void IssuesBook::setPicture(SQLite::Database& db, const std::string& uuid, const std::string& viewpoint,
                            const std::string& picture) const
{
    run(db, "UPDATE viewpoints SET picture=? WHERE issue=? AND uuid=?", picture, uuid, viewpoint);
}

void IssuesBook::reopen(SQLite::Database& db, const std::string& uuid, const std::string& why,
                        const WhoAndWhen& who) const
{
    const auto before = issueIn(db, uuid);
    const issues::Workflow flow = workflowIn(db);
    if (!before || !flow.isClosed(before->status))
        return;
    Issue after = *before;
    after.status = flow.first(issues::StatusShape::Broken);
    for (const issues::Status& s : flow.statuses) // a workflow without one of its own for it
        if (after.status.empty() && !s.isClosed)
            after.status = s.name;
    after.modifiedBy = who.person;
    after.modifiedAt = who.time;
    after.comments.push_back({newUuid(), who.time, who.person, why});
    replace(db, *before, std::move(after), who, why);
}

Result<IssuesChanged> IssuesBook::change(std::span<const std::string> uuids, const std::string& what, const Edit& edit,
                                         const WhoAndWhen& who)
{
    IssuesChanged result;
    Deed made = deed(what, uuids.size() == 1 ? uuids[0] : std::string());
    const auto done = store_.act(made, who, [&](SQLite::Database& db) {
        result = {};
        const issues::Workflow flow = workflowIn(db);
        const issues::Standing standing = standingIn(db, who.person);
        std::string number;
        for (const std::string& uuid : uuids) {
            const auto before = issueIn(db, uuid);
            if (!before) {
                result.refused.push_back("The issue is not in this project any more.");
                continue;
            }
            Issue after = *before;
            edit(after);
            if (const std::string why = issues::whyNot(flow, *before, after.status, standing);
                after.status != before->status && !why.empty()) {
                result.refused.push_back(before->number + ": " + why);
                continue;
            }
            if (after == *before)
                continue;
            after.modifiedBy = who.person;
            after.modifiedAt = who.time;
            if (replace(db, *before, std::move(after), who)) {
                ++result.changed;
                number = before->number;
            }
        }
        if (result.changed == 0 && !result.refused.empty())
            throw Refused{{issues::kNotAllowed, result.refused.front()}};
        made.what =
            result.changed == 1 ? number + ": " + what : counted(result.changed, "issue", "issues") + ": " + what;
    });
    if (!done)
        return fail(done.error());
    return result;
}

namespace {

Result<void> plain(const Result<IssuesChanged>& result)
{
    if (!result)
        return fail(result.error());
    return {};
}

} // namespace

Result<void> IssuesBook::addComment(const std::string& uuid, const std::string& words, const WhoAndWhen& who,
                                    const std::string& viewpoint)
{
    return plain(change(
        {&uuid, 1}, "Comment: " + words.substr(0, 60),
        [&](Issue& i) {
            i.comments.push_back({newUuid(), who.time, who.person, words, viewpoint});
        },
        who));
}

Result<void> IssuesBook::editComment(const std::string& uuid, const std::string& comment, const std::string& words,
                                     const WhoAndWhen& who)
{
    return plain(change(
        {&uuid, 1}, "Comment edited",
        [&](Issue& i) {
            for (issues::Comment& c : i.comments) {
                if (c.uuid != comment || c.text == words)
                    continue;
                if (c.author != who.person)
                    throw Refused{{issues::kNotAllowed, "The comment is by " + c.author +
                                                            "; only its author may change it. Answer it instead."}};
                c.text = words;
                c.modifiedAt = who.time;
                c.modifiedBy = who.person;
            }
        },
        who));
}

Result<void> IssuesBook::removeComment(const std::string& uuid, const std::string& comment, const WhoAndWhen& who)
{
    return plain(change(
        {&uuid, 1}, "Comment removed",
        [&](Issue& i) {
            std::erase_if(i.comments, [&](const issues::Comment& c) {
                if (c.uuid == comment && c.author != who.person)
                    throw Refused{
                        {issues::kNotAllowed, "The comment is by " + c.author + "; only its author may remove it."}};
                return c.uuid == comment;
            });
        },
        who));
}

Result<void> IssuesBook::setStatus(const std::string& uuid, const std::string& status, const std::string& comment,
                                   const WhoAndWhen& who)
{
    return plain(change(
        {&uuid, 1}, status,
        [&](Issue& i) {
            i.status = status;
            if (!comment.empty())
                i.comments.push_back({newUuid(), who.time, who.person, comment});
        },
        who));
}

} // namespace wendrix::project
