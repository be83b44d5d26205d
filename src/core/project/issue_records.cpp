#include "core/project/project.h"
#include "core/project/rows.h"

#include "core/base/guid.h"
#include "core/base/hash.h"
#include "core/base/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

namespace wendrix::project {

using issues::Issue;

namespace {

constexpr const char* kIssueColumns =
    "SELECT uuid, number, title, description, type, status, priority, stage, assignee, createdBy, createdAt, "
    "modifiedBy, modifiedAt, dueAt, labels FROM issues ";

Issue issueOf(SQLite::Statement& q)
{
    Issue i;
    i.uuid = text(q, 0);
    i.number = text(q, 1);
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

/// Comments and viewpoints; snapshots only where `pictures` names their folder.
void fill(SQLite::Database& db, Issue& issue, const std::optional<std::filesystem::path>& pictures)
{
    SQLite::Statement c(db, "SELECT uuid, time, author, text, viewpoint FROM comments WHERE issue=? ORDER BY time, rowid");
    c.bind(1, issue.uuid);
    while (c.executeStep())
        issue.comments.push_back({text(c, 0), text(c, 1), text(c, 2), text(c, 3), text(c, 4)});
    SQLite::Statement v(db, "SELECT uuid, view, picture FROM viewpoints WHERE issue=? ORDER BY place");
    v.bind(1, issue.uuid);
    while (v.executeStep()) {
        issues::Viewpoint viewpoint = viewFromJson(text(v, 0), text(v, 1));
        if (const std::string picture = text(v, 2); pictures && !picture.empty())
            viewpoint.snapshot = readFileWhole(*pictures / picture).value_or("");
        issue.viewpoints.push_back(std::move(viewpoint));
    }
}

std::string pictureName(const std::string& png) { return png.empty() ? "" : sha256(png) + ".png"; }

/// "Marrowfield Seed Store" gives MSS.
std::string initials(const std::string& name)
{
    std::string letters;
    bool atStart = true;
    for (const char c : name) {
        if (atStart && std::isalpha(static_cast<unsigned char>(c)) != 0)
            letters += static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
        atStart = c == ' ';
    }
    return letters.empty() ? "I" : letters;
}

void insertIssue(SQLite::Database& db, const Issue& i)
{
    run(db, "INSERT INTO issues VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, '', '')", i.uuid, i.number, i.title,
        i.description, i.type, i.status, i.priority, i.stage, i.assignee, i.createdBy, i.createdAt, i.modifiedBy,
        i.modifiedAt, i.dueAt, labelsToJson(i.labels));
}

void insertComment(SQLite::Database& db, const std::string& issue, const issues::Comment& c)
{
    run(db, "INSERT INTO comments VALUES(?, ?, ?, ?, ?, ?)", c.uuid, issue, c.time, c.author, c.text, c.viewpoint);
}

} // namespace

std::vector<Issue> Project::issues() const
{
    std::vector<Issue> list;
    SQLite::Statement q(db(), std::string(kIssueColumns) + "ORDER BY number");
    while (q.executeStep())
        list.push_back(issueOf(q));
    for (Issue& issue : list)
        fill(db(), issue, {});
    return list;
}

std::optional<Issue> Project::issue(const std::string& uuid, bool withSnapshots) const
{
    SQLite::Statement q(db(), std::string(kIssueColumns) + "WHERE uuid=?");
    q.bind(1, uuid);
    if (!q.executeStep())
        return {};
    Issue issue = issueOf(q);
    fill(db(), issue, withSnapshots ? std::optional(folder_ / "pictures") : std::nullopt);
    return issue;
}

Result<void> Project::keepPictures(const Issue& issue) const
{
    // Before the transaction: a picture nobody refers to is harmless, a reference to none is not.
    for (const issues::Viewpoint& v : issue.viewpoints)
        if (!v.snapshot.empty())
            if (auto written = writeFileWhole(folder_ / "pictures" / pictureName(v.snapshot), v.snapshot); !written)
                return written;
    return {};
}

void Project::writeViewpoint(SQLite::Database& db, const std::string& issue, int place, const issues::Viewpoint& v)
{
    run(db, "INSERT INTO viewpoints VALUES(?, ?, ?, ?, ?)", v.uuid, issue, place, viewToJson(v), pictureName(v.snapshot));
}

Result<std::string> Project::makeIssue(Issue issue, std::span<const std::string> pairIds, const WhoAndWhen& who)
{
    SQLite::Statement next(db(), "SELECT count(*) + 1 FROM issues");
    next.executeStep();
    issue.number = fmt::format("{}-{:03}", initials(name()), next.getColumn(0).getInt());
    next.reset();
    issue.uuid = issue.uuid.empty() ? newUuid() : issue.uuid;
    issue.createdBy = issue.modifiedBy = who.person;
    issue.createdAt = issue.modifiedAt = who.time;
    if (auto kept = keepPictures(issue); !kept)
        return fail(kept.error());
    auto done = store_->act("Issue made: " + issue.number + " " + issue.title, who, [&](SQLite::Database& db) {
        insertIssue(db, issue);
        int place = 0;
        for (const issues::Viewpoint& v : issue.viewpoints)
            writeViewpoint(db, issue.uuid, place++, v);
        for (const issues::Comment& c : issue.comments)
            insertComment(db, issue.uuid, c);
        for (const std::string& id : pairIds)
            run(db, "UPDATE pairs SET decision='fix', decidedBy=?, decidedAt=?, issue=? WHERE id=?", who.person,
                who.time, issue.uuid, id);
    });
    if (!done)
        return fail(done.error());
    return issue.number;
}

Result<void> Project::addComment(const std::string& uuid, const std::string& words, const WhoAndWhen& who)
{
    return store_->act("Comment: " + words.substr(0, 60), who, [&](SQLite::Database& db) {
        insertComment(db, uuid, {newUuid(), who.time, who.person, words, ""});
        run(db, "UPDATE issues SET modifiedBy=?, modifiedAt=? WHERE uuid=?", who.person, who.time, uuid);
    });
}

Result<void> Project::setStatus(const std::string& uuid, const std::string& status, const std::string& comment,
                                const WhoAndWhen& who)
{
    const auto before = issue(uuid, false);
    if (!before)
        return fail({kUnknown, "The issue is not in this project any more."});
    return store_->act(before->number + ": " + status, who, [&](SQLite::Database& db) {
        run(db, "UPDATE issues SET status=?, modifiedBy=?, modifiedAt=? WHERE uuid=?", status, who.person, who.time, uuid);
        if (!comment.empty())
            insertComment(db, uuid, {newUuid(), who.time, who.person, comment, ""});
    });
}

Result<std::string> Project::mergeIssues(std::span<const Issue> incoming, const WhoAndWhen& who)
{
    std::size_t added = 0, changed = 0, comments = 0;
    for (const Issue& issue : incoming)
        if (auto kept = keepPictures(issue); !kept)
            return fail(kept.error());
    SQLite::Statement count(db(), "SELECT count(*) FROM issues");
    count.executeStep();
    int number = count.getColumn(0).getInt();
    count.reset();
    auto done = store_->act("BCF taken over: " + counted(incoming.size(), "topic", "topics"), who, [&](SQLite::Database& db) {
        for (const Issue& theirs : incoming) {
            const auto ours = issue(theirs.uuid, false);
            if (!ours) {
                Issue fresh = theirs;
                fresh.number = fmt::format("{}-{:03}", initials(name()), ++number);
                insertIssue(db, fresh);
                ++added;
            } else {
                const bool differs = std::tie(ours->title, ours->status, ours->priority, ours->assignee, ours->stage,
                                              ours->description, ours->dueAt, ours->type, ours->labels) !=
                                     std::tie(theirs.title, theirs.status, theirs.priority, theirs.assignee, theirs.stage,
                                              theirs.description, theirs.dueAt, theirs.type, theirs.labels);
                // What was changed here after the file was written stays; the newer word counts.
                if (differs && theirs.modifiedAt >= ours->modifiedAt) {
                    run(db, "UPDATE issues SET title=?, status=?, priority=?, assignee=?, stage=?, description=?, dueAt=?, "
                            "type=?, labels=?, modifiedBy=?, modifiedAt=? WHERE uuid=?",
                        theirs.title, theirs.status, theirs.priority, theirs.assignee, theirs.stage, theirs.description,
                        theirs.dueAt, theirs.type, labelsToJson(theirs.labels), theirs.modifiedBy, theirs.modifiedAt,
                        theirs.uuid);
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
                    writeViewpoint(db, theirs.uuid, place++, v);
        }
    });
    if (!done)
        return fail(done.error());
    return counted(added, "new issue", "new issues") + ", " + std::to_string(changed) + " changed, " +
           counted(comments, "new comment", "new comments");
}

issues::Evidence Project::evidenceOf(const std::string& issueUuid) const
{
    std::vector<issues::PairEvidence> evidence;
    std::vector<std::pair<std::string, std::string>> elements; // guid and name, each once
    const auto list = pairsOf(issueUuid);
    const auto note = [&](const std::string& guid, const std::string& name) {
        if (std::none_of(elements.begin(), elements.end(), [&](const auto& e) { return e.first == guid; }))
            elements.emplace_back(guid, name);
    };
    // The element all pairs share is said once, in the title; a pair is named by its other one.
    const bool isLeftShared = std::all_of(list.begin(), list.end(), [&](const Pair& p) { return p.leftGuid == list[0].leftGuid; });
    for (const Pair& p : list) {
        issues::PairEvidence e;
        e.title = isLeftShared ? p.rightName : p.leftName;
        e.depth = p.depth;
        for (const auto& [run, state] : historyOf(p.id))
            e.states.push_back(state);
        evidence.push_back(std::move(e));
        note(p.leftGuid, p.leftName);
        note(p.rightGuid, p.rightName);
    }
    std::vector<issues::ElementEvidence> elementEvidence;
    for (const auto& [guid, name] : elements) {
        issues::ElementEvidence e{name, false, ""};
        for (const ChangeRecord& c : currentChangesOf(guid)) {
            e.isChanged = (c.kinds & (Added | Removed | Reshaped | Moved)) != 0;
            const auto to = delivery(c.to);
            const std::string in = " in " + (to ? to->revision : std::string());
            e.change = (c.kinds & Removed) != 0    ? "was removed" + in
                       : (c.kinds & Moved) != 0    ? "moved " + lengthInWords(Metres{length(c.shift)}) + in
                       : (c.kinds & Reshaped) != 0 ? "was reshaped" + in
                                                   : "was added" + in;
        }
        elementEvidence.push_back(std::move(e));
    }
    return issues::evidenceOf(std::move(evidence), std::move(elementEvidence));
}

} // namespace wendrix::project
