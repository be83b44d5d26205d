#include "core/project/issues_book.h"

#include "core/base/file.h"
#include "core/base/fold.h"
#include "core/base/guid.h"
#include "core/base/hash.h"
#include "core/base/text.h"
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
     "modifiedAt TEXT, dueAt TEXT, labels TEXT",
     Book::Issues},
    {"comments", "uuid TEXT PRIMARY KEY, issue TEXT, time TEXT, author TEXT, text TEXT, viewpoint TEXT, place INTEGER",
     Book::Issues},
    {"viewpoints", "uuid TEXT PRIMARY KEY, issue TEXT, place INTEGER, view TEXT, picture TEXT", Book::Issues},
    {"issueTemplates", "name TEXT PRIMARY KEY, place INTEGER, body TEXT", Book::Setup},
    // Whose elements an issue's viewpoints select, to find it by them.
    {"issueElements",
     "issue TEXT, guid TEXT, discipline INTEGER, part TEXT, ordinal INTEGER, PRIMARY KEY (guid, issue, discipline, "
     "part, ordinal)",
     Book::Issues},
};
constexpr const char* kIndexes[] = {
    "CREATE INDEX commentsByIssue ON comments(issue)",
    "CREATE INDEX viewpointsByIssue ON viewpoints(issue)",
    "CREATE INDEX issuesByNumber ON issues(number)",
    "CREATE INDEX issuesByStatus ON issues(status)",
};

Deed deed(std::string what, const std::string& issue)
{
    return {Book::Issues, std::move(what), issue.empty() ? "" : "issue:" + issue};
}

constexpr const char* kIssueColumns =
    "SELECT uuid, number, title, description, type, status, priority, stage, assignee, createdBy, createdAt, "
    "modifiedBy, modifiedAt, dueAt, labels, prefix FROM issues ";

Issue issueOf(SQLite::Statement& q)
{
    Issue i;
    i.uuid = text(q, 0);
    i.number = IssuesBook::numberInWords(text(q, 15), q.getColumn(1).getInt64());
    i.title = text(q, 2);
    i.description = text(q, 3);
    i.type = text(q, 4);
    i.status = text(q, 5);
    i.priority = text(q, 6);
    i.stage = text(q, 7);
    i.assignee = text(q, 8);
    i.createdBy = text(q, 9);
    i.createdAt = text(q, 10);
    i.modifiedBy = text(q, 11);
    i.modifiedAt = text(q, 12);
    i.dueAt = text(q, 13);
    i.labels = labelsFromJson(text(q, 14));
    return i;
}

/// Comments and viewpoints; snapshots only where the project's folder is given.
void fill(SQLite::Database& db, Issue& issue, const std::optional<std::filesystem::path>& folder)
{
    SQLite::Statement c(db,
                        "SELECT uuid, time, author, text, viewpoint FROM comments WHERE issue=? ORDER BY time, place");
    c.bind(1, issue.uuid);
    while (c.executeStep())
        issue.comments.push_back({text(c, 0), text(c, 1), text(c, 2), text(c, 3), text(c, 4)});
    SQLite::Statement v(db, "SELECT uuid, view, picture FROM viewpoints WHERE issue=? ORDER BY place");
    v.bind(1, issue.uuid);
    while (v.executeStep()) {
        issues::Viewpoint viewpoint = viewFromJson(text(v, 0), text(v, 1));
        if (const std::string picture = text(v, 2); folder && !picture.empty())
            viewpoint.snapshot = readPicture(*folder, picture);
        issue.viewpoints.push_back(std::move(viewpoint));
    }
}

std::string pictureName(const std::string& png) { return png.empty() ? "" : sha256(png) + ".png"; }

void insertIssue(SQLite::Database& db, const Issue& i, std::int64_t number, const std::string& prefix)
{
    run(db, "INSERT INTO issues VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", i.uuid, number, prefix,
        i.title, i.description, i.type, i.status, i.priority, i.stage, i.assignee, i.createdBy, i.createdAt,
        i.modifiedBy, i.modifiedAt, i.dueAt, labelsToJson(i.labels));
}

void insertComment(SQLite::Database& db, const std::string& issue, const issues::Comment& c)
{
    run(db, "INSERT INTO comments VALUES(?, ?, ?, ?, ?, ?, ?)", c.uuid, issue, c.time, c.author, c.text, c.viewpoint,
        nextNumber(db, "comment"));
}

} // namespace

std::span<const Table> IssuesBook::tables() { return kTables; }
std::span<const char* const> IssuesBook::indexes() { return kIndexes; }

std::string IssuesBook::numberInWords(const std::string& prefix, std::int64_t number)
{
    return fmt::format("{}-{:03}", prefix, number);
}
std::string IssueBrief::name() const { return IssuesBook::numberInWords(prefix, number); }

namespace {

constexpr const char* kBriefColumns =
    "SELECT i.uuid, i.title, i.status, i.priority, i.assignee, i.number, i.prefix, i.dueAt FROM issues i ";

IssueBrief briefOf(SQLite::Statement& q)
{
    return {text(q, 0), text(q, 1), text(q, 2), text(q, 3), text(q, 4), q.getColumn(5).getInt64(),
            text(q, 6), text(q, 7)};
}

std::optional<Issue> issueIn(SQLite::Database& db, const std::string& uuid,
                             const std::optional<std::filesystem::path>& folder)
{
    SQLite::Statement q(db, std::string(kIssueColumns) + "WHERE uuid=?");
    q.bind(1, uuid);
    if (!q.executeStep())
        return {};
    Issue issue = issueOf(q);
    fill(db, issue, folder);
    return issue;
}

void insertViewpoint(SQLite::Database& db, const std::string& issue, int place, const issues::Viewpoint& v)
{
    run(db, "INSERT INTO viewpoints VALUES(?, ?, ?, ?, ?)", v.uuid, issue, place, viewToJson(v),
        pictureName(v.snapshot));
    for (const ElementRef& e : v.selection)
        run(db, "INSERT INTO issueElements VALUES(?, ?, ?, ?, ?) ON CONFLICT DO NOTHING", issue, e.guid, e.discipline,
            e.part, static_cast<std::int64_t>(e.ordinal));
}

} // namespace

Result<std::vector<IssueKey>> IssuesBook::keys() const
{
    return store_.read([](SQLite::Database& db) {
        return allRows(db, "SELECT uuid, status, number, dueAt FROM issues ORDER BY number", [](SQLite::Statement& q) {
            return IssueKey{text(q, 0), text(q, 1), q.getColumn(2).getInt64(), text(q, 3)};
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

Result<std::vector<Issue>> IssuesBook::all() const
{
    return store_.read([](SQLite::Database& db) {
        auto list = allRows(db, std::string(kIssueColumns) + "ORDER BY number", issueOf);
        for (Issue& issue : list)
            fill(db, issue, {});
        return list;
    });
}

Result<std::optional<Issue>> IssuesBook::find(const std::string& uuid, bool withSnapshots) const
{
    return store_.read(
        [&](SQLite::Database& db) { return issueIn(db, uuid, withSnapshots ? std::optional(folder_) : std::nullopt); });
}

Result<std::vector<ElementRef>> IssuesBook::elementsWith(const std::string& status) const
{
    return store_.read([&](SQLite::Database& db) {
        std::vector<ElementRef> elements;
        const std::string wanted = folded(status);
        SQLite::Statement q(db, "SELECT DISTINCT e.discipline, e.part, e.guid, e.ordinal, i.status FROM issueElements "
                                "e JOIN issues i ON i.uuid=e.issue");
        while (q.executeStep()) {
            const std::string is = text(q, 4);
            if (status.empty() ? is != issues::status::kClosed : folded(is) == wanted)
                elements.push_back({q.getColumn(0).getInt64(), text(q, 1), text(q, 2),
                                    static_cast<std::uint32_t>(q.getColumn(3).getInt64())});
        }
        return elements;
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

Result<std::size_t> IssuesBook::open() const
{
    return store_.read([](SQLite::Database& db) {
        return static_cast<std::size_t>(
            numberOr(db, "SELECT (SELECT COUNT(*) FROM issues) - (SELECT COUNT(*) FROM issues WHERE status=?)",
                     std::string(issues::status::kClosed)));
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

std::string IssuesBook::write(SQLite::Database& db, Issue& issue, const std::string& prefix,
                              const WhoAndWhen& who) const
{
    const std::int64_t number = nextNumber(db, "issue");
    issue.number = numberInWords(prefix, number);
    issue.uuid = issue.uuid.empty() ? newUuid() : issue.uuid;
    issue.createdBy = issue.modifiedBy = who.person;
    issue.createdAt = issue.modifiedAt = who.time;
    insertIssue(db, issue, number, prefix);
    int place = 0;
    for (const issues::Viewpoint& v : issue.viewpoints)
        insertViewpoint(db, issue.uuid, place++, v);
    for (const issues::Comment& c : issue.comments)
        insertComment(db, issue.uuid, c);
    return issue.number;
}

void IssuesBook::reopen(SQLite::Database& db, const std::string& uuid, const std::string& why,
                        const WhoAndWhen& who) const
{
    if (textOr(db, "SELECT status FROM issues WHERE uuid=?", uuid) != issues::status::kClosed)
        return;
    run(db, "UPDATE issues SET status=?, modifiedBy=?, modifiedAt=? WHERE uuid=?", std::string(issues::status::kBack),
        who.person, who.time, uuid);
    insertComment(db, uuid, {newUuid(), who.time, who.person, why, ""});
}

Result<void> IssuesBook::addComment(const std::string& uuid, const std::string& words, const WhoAndWhen& who)
{
    return store_.act(deed("Comment: " + words.substr(0, 60), uuid), who, [&](SQLite::Database& db) {
        if (textOr(db, "SELECT uuid FROM issues WHERE uuid=?", uuid).empty())
            throw Refused{{kUnknown, "The issue is not in this project any more."}};
        insertComment(db, uuid, {newUuid(), who.time, who.person, words, ""});
        run(db, "UPDATE issues SET modifiedBy=?, modifiedAt=? WHERE uuid=?", who.person, who.time, uuid);
    });
}

Result<void> IssuesBook::setStatus(const std::string& uuid, const std::string& status, const std::string& comment,
                                   const WhoAndWhen& who)
{
    Deed set = deed(status, uuid);
    return store_.act(set, who, [&](SQLite::Database& db) {
        const auto before = issueIn(db, uuid, {});
        if (!before)
            throw Refused{{kUnknown, "The issue is not in this project any more."}};
        set.what = before->number + ": " + status;
        run(db, "UPDATE issues SET status=?, modifiedBy=?, modifiedAt=? WHERE uuid=?", status, who.person, who.time,
            uuid);
        if (!comment.empty())
            insertComment(db, uuid, {newUuid(), who.time, who.person, comment, ""});
    });
}

Result<std::string> IssuesBook::merge(std::span<const Issue> incoming, const std::string& prefix, const WhoAndWhen& who)
{
    std::size_t added = 0, changed = 0, comments = 0;
    for (const Issue& issue : incoming)
        if (auto kept = keepPictures(issue); !kept)
            return fail(kept.error());
    auto done = store_.act(
        deed("BCF taken over: " + counted(incoming.size(), "topic", "topics"), ""), who, [&](SQLite::Database& db) {
            for (const Issue& theirs : incoming) {
                const auto ours = issueIn(db, theirs.uuid, {});
                if (!ours) {
                    insertIssue(db, theirs, nextNumber(db, "issue"), prefix);
                    ++added;
                } else {
                    const bool differs =
                        std::tie(ours->title, ours->status, ours->priority, ours->assignee, ours->stage,
                                 ours->description, ours->dueAt, ours->type, ours->labels) !=
                        std::tie(theirs.title, theirs.status, theirs.priority, theirs.assignee, theirs.stage,
                                 theirs.description, theirs.dueAt, theirs.type, theirs.labels);
                    // What was changed here after the file was written stays; the newer word counts.
                    if (differs && theirs.modifiedAt >= ours->modifiedAt) {
                        run(db,
                            "UPDATE issues SET title=?, status=?, priority=?, assignee=?, stage=?, description=?, "
                            "dueAt=?, "
                            "type=?, labels=?, modifiedBy=?, modifiedAt=? WHERE uuid=?",
                            theirs.title, theirs.status, theirs.priority, theirs.assignee, theirs.stage,
                            theirs.description, theirs.dueAt, theirs.type, labelsToJson(theirs.labels),
                            theirs.modifiedBy, theirs.modifiedAt, theirs.uuid);
                        ++changed;
                    }
                }
                std::set<std::string> known;
                if (ours)
                    for (const issues::Comment& c : ours->comments)
                        known.insert(c.uuid);
                for (const issues::Comment& c : theirs.comments)
                    if (known.insert(c.uuid).second) {
                        insertComment(db, theirs.uuid, c);
                        comments += ours ? 1 : 0;
                    }
                known.clear();
                int place = 0;
                if (ours)
                    for (const issues::Viewpoint& v : ours->viewpoints) {
                        known.insert(v.uuid);
                        ++place;
                    }
                for (const issues::Viewpoint& v : theirs.viewpoints)
                    if (known.insert(v.uuid).second)
                        insertViewpoint(db, theirs.uuid, place++, v);
            }
        });
    if (!done)
        return fail(done.error());
    return counted(added, "new issue", "new issues") + ", " + std::to_string(changed) + " changed, " +
           counted(comments, "new comment", "new comments");
}

} // namespace wendrix::project
