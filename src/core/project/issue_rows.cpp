#include "core/project/issue_rows.h"

#include "core/base/hash.h"
#include "core/base/text.h"
#include "core/project/rows.h"

#include <nlohmann/json.hpp>

namespace wendrix::project {

using issues::Issue;
using Json = nlohmann::json;

namespace {

std::string joined(const std::vector<std::string>& list)
{
    std::string all;
    for (const std::string& one : list)
        all += (all.empty() ? "" : ", ") + one;
    return all;
}

/// What is seldom asked for, in one column.
std::string moreToJson(const Issue& i)
{
    Json json = Json::object();
    if (!i.serverId.empty())
        json["serverId"] = i.serverId;
    if (i.index)
        json["index"] = *i.index;
    if (!i.links.empty())
        json["links"] = i.links;
    if (!i.related.empty())
        json["related"] = i.related;
    for (const issues::DocumentReference& d : i.documents)
        json["documents"].push_back({{"uuid", d.uuid},
                                     {"external", d.isExternal},
                                     {"target", d.target},
                                     {"name", d.name},
                                     {"description", d.description},
                                     {"kept", d.kept}});
    if (i.snippet)
        json["snippet"] = {{"type", i.snippet->type},
                           {"reference", i.snippet->reference},
                           {"schema", i.snippet->schema},
                           {"external", i.snippet->isExternal}};
    for (const issues::ModelFile& f : i.files)
        json["files"].push_back({{"project", f.project},
                                 {"part", f.part},
                                 {"name", f.fileName},
                                 {"date", f.date},
                                 {"reference", f.reference},
                                 {"external", f.isExternal}});
    return json.dump(-1, ' ', false, Json::error_handler_t::replace);
}

void moreFromJson(Issue& i, const std::string& text)
{
    const Json json = Json::parse(text, nullptr, false);
    if (!json.is_object())
        return;
    using Texts = std::vector<std::string>;
    i.serverId = json.value("serverId", "");
    if (json.contains("index"))
        i.index = json["index"].get<int>();
    i.links = json.value("links", Texts());
    i.related = json.value("related", Texts());
    for (const Json& d : json.value("documents", Json::array()))
        i.documents.push_back({d.value("uuid", ""), d.value("external", false), d.value("target", ""),
                               d.value("name", ""), d.value("description", ""), d.value("kept", "")});
    if (json.contains("snippet")) {
        const Json& s = json["snippet"];
        i.snippet = issues::Snippet{s.value("type", ""), s.value("reference", ""), s.value("schema", ""),
                                    s.value("external", false)};
    }
    for (const Json& f : json.value("files", Json::array()))
        i.files.push_back({f.value("project", ""), f.value("part", ""), f.value("name", ""), f.value("date", ""),
                           f.value("reference", ""), f.value("external", true)});
}

std::string textsToJson(const std::map<std::string, std::string>& texts)
{
    return Json(texts).dump(-1, ' ', false, Json::error_handler_t::replace);
}

} // namespace

std::map<std::string, std::string> textsFromJson(const std::string& text)
{
    const Json json = Json::parse(text, nullptr, false);
    std::map<std::string, std::string> texts;
    if (json.is_object())
        for (const auto& [name, value] : json.items())
            if (value.is_string())
                texts[name] = value.get<std::string>();
    return texts;
}

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
    i.requestedBy = text(q, 16);
    i.cause = text(q, 17);
    i.startAt = text(q, 18);
    i.location = {text(q, 19), text(q, 20), text(q, 21)};
    i.custom = textsFromJson(text(q, 22));
    moreFromJson(i, text(q, 23));
    return i;
}

void insertIssueRow(SQLite::Database& db, const Issue& i, std::int64_t number, const std::string& prefix,
                    const std::string& madeFrom, const std::string& origins)
{
    run(db,
        "INSERT INTO issues(uuid, number, title, description, type, status, priority, stage, assignee, createdBy, "
        "createdAt, "
        "modifiedBy, modifiedAt, dueAt, labels, prefix, requestedBy, cause, startAt, storey, bay, space, custom, more, "
        "madeFrom, "
        "origins) VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        i.uuid, number, i.title, i.description, i.type, i.status, i.priority, i.stage, i.assignee, i.createdBy,
        i.createdAt, i.modifiedBy, i.modifiedAt, i.dueAt, labelsToJson(i.labels), prefix, i.requestedBy, i.cause,
        i.startAt, i.location.storey, i.location.bay, i.location.space, textsToJson(i.custom), moreToJson(i), madeFrom,
        origins);
}

void updateIssueRow(SQLite::Database& db, const Issue& i)
{
    run(db,
        "UPDATE issues SET title=?, description=?, type=?, status=?, priority=?, stage=?, assignee=?, createdBy=?, "
        "createdAt=?, "
        "modifiedBy=?, modifiedAt=?, dueAt=?, labels=?, requestedBy=?, cause=?, startAt=?, storey=?, bay=?, space=?, "
        "custom=?, more=? "
        "WHERE uuid=?",
        i.title, i.description, i.type, i.status, i.priority, i.stage, i.assignee, i.createdBy, i.createdAt,
        i.modifiedBy, i.modifiedAt, i.dueAt, labelsToJson(i.labels), i.requestedBy, i.cause, i.startAt,
        i.location.storey, i.location.bay, i.location.space, textsToJson(i.custom), moreToJson(i), i.uuid);
}

void insertCommentRow(SQLite::Database& db, const std::string& issue, const issues::Comment& c)
{
    run(db,
        "INSERT INTO comments(issue, uuid, time, author, text, viewpoint, place, modifiedAt, modifiedBy) VALUES(?, ?, "
        "?, ?, ?, ?, ?, ?, ?)",
        issue, c.uuid, c.time, c.author, c.text, c.viewpoint, nextNumber(db, "comment"), c.modifiedAt, c.modifiedBy);
}

std::string pictureName(const std::string& bytes)
{
    return bytes.empty() ? "" : sha256(bytes) + (bytes.starts_with("\xFF\xD8\xFF") ? ".jpg" : ".png");
}

void insertViewpointRow(SQLite::Database& db, const std::string& issue, int place, const issues::Viewpoint& v)
{
    run(db, "INSERT INTO viewpoints(issue, uuid, place, view, picture) VALUES(?, ?, ?, ?, ?)", issue, v.uuid, place,
        viewToJson(v), pictureName(v.snapshot));
    for (const ElementRef& e : v.selection)
        run(db, "INSERT INTO issueElements VALUES(?, ?, ?, ?, ?) ON CONFLICT DO NOTHING", issue, e.guid, e.discipline,
            e.part, static_cast<std::int64_t>(e.ordinal));
}

void fillIssue(SQLite::Database& db, Issue& issue)
{
    SQLite::Statement c(db, "SELECT uuid, time, author, text, viewpoint, modifiedAt, modifiedBy FROM comments WHERE "
                            "issue=? ORDER BY time, place");
    c.bind(1, issue.uuid);
    while (c.executeStep())
        issue.comments.push_back({text(c, 0), text(c, 1), text(c, 2), text(c, 3), text(c, 4), text(c, 5), text(c, 6)});
    SQLite::Statement v(db, "SELECT uuid, view FROM viewpoints WHERE issue=? ORDER BY place");
    v.bind(1, issue.uuid);
    while (v.executeStep())
        issue.viewpoints.push_back(viewFromJson(text(v, 0), text(v, 1)));
}

std::string originsToJson(std::span<const KeptIssue::Origin> origins)
{
    Json json = Json::array();
    for (const KeptIssue::Origin& o : origins)
        json.push_back({{"file", o.sha256}, {"topic", o.uuid}});
    return json.dump();
}

std::vector<KeptIssue::Origin> originsFromJson(const std::string& text)
{
    std::vector<KeptIssue::Origin> origins;
    const Json json = Json::parse(text, nullptr, false);
    if (json.is_array())
        for (const Json& o : json)
            if (o.is_object())
                origins.push_back({o.value("file", ""), o.value("topic", "")});
    return origins;
}

const std::vector<TrackedField>& trackedFields()
{
    static const std::vector<TrackedField> kFields{
        {"Title", [](const Issue& i) { return i.title; }},
        {"Description", [](const Issue& i) { return i.description; }},
        {"Type", [](const Issue& i) { return i.type; }},
        {"Status", [](const Issue& i) { return i.status; }},
        {"Priority", [](const Issue& i) { return i.priority; }},
        {"Stage", [](const Issue& i) { return i.stage; }},
        {"Assigned to", [](const Issue& i) { return i.assignee; }},
        {"Requested by", [](const Issue& i) { return i.requestedBy; }},
        {"Cause", [](const Issue& i) { return i.cause; }},
        {"Start", [](const Issue& i) { return i.startAt; }},
        {"Due", [](const Issue& i) { return i.dueAt; }},
        {"Labels", [](const Issue& i) { return joined(i.labels); }},
        {"Storey", [](const Issue& i) { return i.location.storey; }},
        {"Bay", [](const Issue& i) { return i.location.bay; }},
        {"Space", [](const Issue& i) { return i.location.space; }},
        {"Links", [](const Issue& i) { return joined(i.links); }},
        {"Related issues", [](const Issue& i) { return counted(i.related.size(), "issue", "issues"); }},
        {"Documents",
         [](const Issue& i) {
             std::string all;
             for (const issues::DocumentReference& d : i.documents)
                 all += (all.empty() ? "" : ", ") + (d.name.empty() ? d.target : d.name);
             return all;
         }},
        {"Snippet", [](const Issue& i) { return i.snippet ? i.snippet->reference : std::string(); }},
        {"Place among the others", [](const Issue& i) { return i.index ? std::to_string(*i.index) : std::string(); }},
        {"Number of a server", [](const Issue& i) { return i.serverId; }},
    };
    return kFields;
}

} // namespace wendrix::project
