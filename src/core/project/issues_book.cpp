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
    {"issueRequirements", "issue TEXT PRIMARY KEY, discipline INTEGER, rule TEXT, title TEXT, isOfItsOwn INTEGER",
     Book::Issues},
    {"requirementMoments",
     "issue TEXT, delivery INTEGER, place INTEGER, revision TEXT, failing INTEGER, failingOfIts INTEGER, its INTEGER, "
     "PRIMARY KEY (issue, delivery)",
     Book::Issues},
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

void IssuesBook::writeRequirement(SQLite::Database& db, const std::string& uuid, const issues::Requirement& r,
                                  const WhoAndWhen& who) const
{
    run(db, "INSERT INTO issueRequirements VALUES(?, ?, ?, ?, ?)", uuid, r.discipline, r.rule, r.title,
        r.isOfItsOwn ? 1 : 0);
    for (const issues::RequirementMoment& m : r.moments)
        writeMoment(db, uuid, m, who);
}

void IssuesBook::writeMoment(SQLite::Database& db, const std::string& uuid, const issues::RequirementMoment& m,
                             const WhoAndWhen& who) const
{
    const auto before = requirementIn(db, uuid);
    run(db,
        "INSERT INTO requirementMoments VALUES(?, ?, ?, ?, ?, ?, ?) ON CONFLICT (issue, delivery) DO UPDATE SET "
        "place=excluded.place, revision=excluded.revision, failing=excluded.failing, "
        "failingOfIts=excluded.failingOfIts, its=excluded.its",
        uuid, m.delivery, nextNumber(db, "requirementMoment"), m.revision, static_cast<std::int64_t>(m.failing),
        static_cast<std::int64_t>(m.failingOfIts), static_cast<std::int64_t>(m.its));
    const auto now = requirementIn(db, uuid);
    if (before && before->isMet() && now && !now->isMet())
        reopen(db, uuid, "Reopened: " + before->title + " is not met any more in " + m.revision + ".", who);
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
