#include "core/project/project.h"

#include "core/base/guid.h"
#include "core/project/rows.h"

namespace wendrix::project {

namespace fs = std::filesystem;

Project::Project(fs::path folder, std::unique_ptr<Store> store) : folder_(std::move(folder)), store_(std::move(store)) {}

bool Project::isProject(const fs::path& folder)
{
    std::error_code code;
    return fs::is_regular_file(folder / "project.sqlite", code);
}

Result<std::unique_ptr<Project>> Project::create(const fs::path& folder, const std::string& name, const WhoAndWhen& who)
{
    std::error_code code;
    if (fs::exists(folder, code) && !(fs::is_directory(folder, code) && fs::is_empty(folder, code)))
        return fail({kFolderInUse, "The folder already holds something; choose an empty one for a new project.",
                     folder.string()});
    for (const char* part : {"deliveries", "cache", "pictures"})
        if (!fs::create_directories(folder / part, code) && code)
            return fail({kFolderInUse, "The folder can not be made: " + code.message() + ".", folder.string()});
    auto store = Store::open(folder / "project.sqlite");
    if (!store)
        return fail(store.error());
    std::unique_ptr<Project> project(new Project(folder, std::move(*store)));
    auto done = project->store_->act("Project made: " + name, who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO meta VALUES('name', ?)", name);
        run(db, "INSERT INTO meta VALUES('id', ?)", newUuid());
    });
    if (!done)
        return fail(done.error());
    return project;
}

Result<std::unique_ptr<Project>> Project::open(const fs::path& folder)
{
    if (!isProject(folder))
        return fail({kNoProject, "There is no Wendrix project in this folder: project.sqlite is missing.",
                     folder.string()});
    auto store = Store::open(folder / "project.sqlite");
    if (!store)
        return fail(store.error());
    return std::unique_ptr<Project>(new Project(folder, std::move(*store)));
}

std::string Project::meta(const std::string& key) const
{
    return textOr(db(), "SELECT value FROM meta WHERE key=?", key);
}

StoredFit Project::fit(const std::string& discipline) const
{
    StoredFit stored;
    SQLite::Statement q(db(), "SELECT scale, rotation, x, y, z, locked, method, worst, person, time FROM fits WHERE discipline=?");
    q.bind(1, discipline);
    if (q.executeStep()) {
        stored.fit = {q.getColumn(0).getDouble(), Radians{q.getColumn(1).getDouble()},
                      {q.getColumn(2).getDouble(), q.getColumn(3).getDouble(), q.getColumn(4).getDouble()}};
        stored.isLocked = q.getColumn(5).getInt() != 0;
        stored.method = text(q, 6);
        stored.worst = q.getColumn(7).getDouble();
        stored.by = {text(q, 8), text(q, 9)};
    }
    return stored;
}

namespace {

constexpr const char* kChangeColumns = "SELECT fromDelivery, guid, oldGuid, kinds, name, storey, sx, sy, sz, addedVolume, "
                                       "removedVolume, fields, review, changes.discipline, toDelivery FROM changes ";

std::vector<ChangeRecord> changesOf(SQLite::Statement& q)
{
    std::vector<ChangeRecord> list;
    while (q.executeStep()) {
        ChangeRecord c;
        c.from = q.getColumn(0).getInt64();
        c.guid = text(q, 1);
        c.oldGuid = text(q, 2);
        c.kinds = static_cast<unsigned>(q.getColumn(3).getInt());
        c.name = text(q, 4);
        c.storey = text(q, 5);
        c.shift = {q.getColumn(6).getDouble(), q.getColumn(7).getDouble(), q.getColumn(8).getDouble()};
        c.addedVolume = q.getColumn(9).getDouble();
        c.removedVolume = q.getColumn(10).getDouble();
        c.fields = fieldsFromJson(text(q, 11));
        c.review = text(q, 12);
        c.discipline = text(q, 13);
        c.to = q.getColumn(14).getInt64();
        list.push_back(std::move(c));
    }
    return list;
}

} // namespace

std::vector<ChangeRecord> Project::changesOf(const std::string& discipline, DeliveryId to) const
{
    SQLite::Statement q(db(), std::string(kChangeColumns) + "WHERE discipline=? AND toDelivery=? ORDER BY rowid");
    q.bind(1, discipline);
    q.bind(2, to);
    return project::changesOf(q);
}

std::vector<ChangeRecord> Project::changesOfElement(const std::string& discipline, std::string guid) const
{
    SQLite::Statement q(db(), std::string(kChangeColumns) + "WHERE discipline=? ORDER BY toDelivery DESC, fromDelivery DESC");
    q.bind(1, discipline);
    std::vector<ChangeRecord> list;
    for (ChangeRecord& change : project::changesOf(q))
        if (change.guid == guid) {
            if (!change.oldGuid.empty())
                guid = change.oldGuid; // what it was called before that
            list.push_back(std::move(change));
        }
    return list;
}

std::vector<ChangeRecord> Project::currentChangesOf(const std::string& guid) const
{
    SQLite::Statement q(db(), std::string(kChangeColumns) + "JOIN composition u ON u.discipline=changes.discipline AND u.delivery=toDelivery WHERE guid=? OR (oldGuid=? AND oldGuid<>'')");
    q.bind(1, guid);
    q.bind(2, guid);
    return project::changesOf(q);
}

std::vector<ChangeRecord> Project::currentChanges() const
{
    std::vector<ChangeRecord> all;
    for (const Discipline& d : disciplines())
        if (const auto used = inUse(d.name)) {
            auto more = changesOf(d.name, used->id);
            std::move(more.begin(), more.end(), std::back_inserter(all));
        }
    return all;
}

std::map<ChangeKind, std::size_t> Project::changeCounts(const std::string& discipline, DeliveryId to) const
{
    SQLite::Statement q(db(), "SELECT kinds, count(*) FROM changes WHERE discipline=? AND toDelivery=? GROUP BY kinds");
    q.bind(1, discipline);
    q.bind(2, to);
    std::map<ChangeKind, std::size_t> counts;
    while (q.executeStep())
        for (const ChangeKind kind : {Added, Removed, Reshaped, Moved, Redescribed, Rekeyed})
            if ((q.getColumn(0).getInt() & static_cast<int>(kind)) != 0)
                counts[kind] += static_cast<std::size_t>(q.getColumn(1).getInt64());
    return counts;
}

std::size_t Project::changesToReview() const
{
    // Asked for each delivery in use: a join would be looked up for each change.
    SQLite::Statement q(db(), "SELECT IFNULL(SUM((SELECT count(*) FROM changes WHERE discipline=u.discipline AND toDelivery=u.delivery AND review='')), 0) FROM composition u");
    q.executeStep();
    return static_cast<std::size_t>(q.getColumn(0).getInt64());
}

std::vector<DeliveryId> Project::comparedWith() const
{
    SQLite::Statement q(db(), "SELECT DISTINCT fromDelivery FROM changes JOIN composition u ON u.discipline=changes.discipline AND u.delivery=changes.toDelivery ORDER BY 1");
    std::vector<DeliveryId> list;
    while (q.executeStep())
        list.push_back(q.getColumn(0).getInt64());
    return list;
}

std::vector<HistoryLine> Project::history(int most) const
{
    std::vector<HistoryLine> lines;
    SQLite::Statement q(db(), "SELECT person, time, what FROM history ORDER BY id DESC LIMIT ?");
    q.bind(1, most);
    while (q.executeStep())
        lines.push_back({{text(q, 0), text(q, 1)}, text(q, 2)});
    return lines;
}

std::vector<HistoryLine> Project::historyOf(const Delivery& delivery) const
{
    // A line begins with what was done, a colon, and the name; in a reason it may stand elsewhere.
    const std::string name = ": " + delivery.name();
    std::vector<HistoryLine> lines;
    SQLite::Statement q(db(), "SELECT person, time, what FROM history WHERE instr(what, ?)>0 ORDER BY id DESC");
    q.bind(1, name);
    while (q.executeStep()) {
        const std::string what = text(q, 2);
        const std::size_t end = what.find(name) + name.size();
        if (end == what.size() || what[end] == ' ' || what[end] == ',') // P02 is not P021 or P02.01
            lines.push_back({{text(q, 0), text(q, 1)}, what});
    }
    return lines;
}

int Project::cycle() const
{
    SQLite::Statement q(db(), "SELECT coalesce(max(cycle), 1) FROM deliveries");
    q.executeStep();
    return q.getColumn(0).getInt();
}

Result<void> Project::setFit(const std::string& discipline, const StoredFit& f, const WhoAndWhen& who)
{
    return store_->act((f.isLocked ? "Fit applied and locked: " : "Fit changed: ") + discipline, who,
                       [&](SQLite::Database& db) {
        const Vector3 t = f.fit.translation;
        run(db, "INSERT INTO fits VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT(discipline) DO UPDATE SET "
                "scale=excluded.scale, rotation=excluded.rotation, x=excluded.x, y=excluded.y, z=excluded.z, "
                "locked=excluded.locked, method=excluded.method, worst=excluded.worst, person=excluded.person, "
                "time=excluded.time",
            discipline, f.fit.scale, f.fit.rotation.value, t.x, t.y, t.z, f.isLocked ? 1 : 0, f.method, f.worst,
            who.person, who.time);
    });
}

Result<void> Project::review(const ChangeRecord& c, const std::string& review, const WhoAndWhen& who)
{
    return store_->act("Change " + review + ": " + c.name, who, [&](SQLite::Database& db) {
        run(db, "UPDATE changes SET review=?, reviewedBy=?, reviewedAt=? WHERE discipline=? AND fromDelivery=? AND "
                "toDelivery=? AND guid=?",
            review, who.person, who.time, c.discipline, c.from, c.to, c.guid);
    });
}

std::string Project::compositionInWords() const
{
    std::string words;
    for (const Discipline& d : disciplines())
        if (const auto used = inUse(d.name))
            words += (words.empty() ? "" : ", ") + used->name();
    return words;
}

} // namespace wendrix::project
