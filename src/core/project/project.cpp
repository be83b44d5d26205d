#include "core/project/project.h"

#include "core/base/guid.h"
#include "core/base/hash.h"
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

std::vector<Discipline> Project::disciplines() const
{
    std::vector<Discipline> list;
    SQLite::Statement q(db(), "SELECT name, company, colour, isReference FROM disciplines ORDER BY isReference DESC, place");
    while (q.executeStep())
        list.push_back({text(q, 0), text(q, 1), text(q, 2), q.getColumn(3).getInt() != 0});
    return list;
}

std::string Project::reference() const
{
    return textOr(db(), "SELECT name FROM disciplines WHERE isReference=1");
}

std::vector<Delivery> Project::deliveries() const
{
    std::vector<Delivery> list;
    SQLite::Statement q(db(), "SELECT d.id, d.discipline, d.revision, d.title, d.sender, d.cycle, d.time, d.fileName, "
                              "d.sha256, d.projectGuid, d.schema, d.elements, d.declined, c.delivery, "
                              "(SELECT time FROM deliveries u WHERE u.id=c.delivery) FROM deliveries d "
                              "LEFT JOIN composition c ON c.discipline=d.discipline ORDER BY d.time, d.id");
    while (q.executeStep()) {
        Delivery d{q.getColumn(0).getInt64(), text(q, 1), text(q, 2), text(q, 3), text(q, 4), q.getColumn(5).getInt(),
                   text(q, 6), text(q, 7), text(q, 8), text(q, 9), text(q, 10),
                   static_cast<std::size_t>(q.getColumn(11).getInt64()), text(q, 12), {}};
        const bool hasInUse = !q.getColumn(13).isNull();
        if (hasInUse && q.getColumn(13).getInt64() == d.id)
            d.state = DeliveryState::InUse;
        else if (!d.declined.empty())
            d.state = DeliveryState::Declined;
        else if (hasInUse && d.time < text(q, 14))
            d.state = DeliveryState::Replaced;
        list.push_back(std::move(d));
    }
    return list;
}

std::optional<Delivery> Project::delivery(DeliveryId id) const
{
    for (Delivery& d : deliveries())
        if (d.id == id)
            return d;
    return {};
}

std::optional<Delivery> Project::inUse(const std::string& discipline) const
{
    for (Delivery& d : deliveries())
        if (d.discipline == discipline && d.state == DeliveryState::InUse)
            return d;
    return {};
}

std::size_t Project::waitingBehind(const std::string& discipline) const
{
    std::size_t n = 0;
    for (const Delivery& d : deliveries())
        n += d.discipline == discipline && d.state == DeliveryState::Waiting ? 1 : 0;
    return n;
}

fs::path Project::fileOf(const Delivery& delivery) const
{
    return folder_ / "deliveries" / (delivery.sha256 + ".ifc");
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
                                       "removedVolume, fields, review, discipline, toDelivery FROM changes ";

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

std::vector<HistoryLine> Project::history(int most) const
{
    std::vector<HistoryLine> lines;
    SQLite::Statement q(db(), "SELECT person, time, what FROM history ORDER BY id DESC LIMIT ?");
    q.bind(1, most);
    while (q.executeStep())
        lines.push_back({{text(q, 0), text(q, 1)}, text(q, 2)});
    return lines;
}

int Project::cycle() const
{
    SQLite::Statement q(db(), "SELECT coalesce(max(cycle), 1) FROM deliveries");
    q.executeStep();
    return q.getColumn(0).getInt();
}

Result<void> Project::addDiscipline(const Discipline& d, const WhoAndWhen& who)
{
    return store_->act("Discipline added: " + d.name, who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO disciplines SELECT ?, ?, ?, count(*), ? FROM disciplines", d.name, d.company, d.colour,
            d.isReference ? 1 : 0);
    });
}

Result<DeliveryId> Project::addDelivery(const NewDelivery& d, const WhoAndWhen& who)
{
    const auto sum = sha256OfFile(d.file);
    if (!sum)
        return fail(sum.error());
    if (const std::string known = textOr(db(), "SELECT discipline||' '||revision FROM deliveries WHERE sha256=?", *sum);
        !known.empty())
        return fail({kSameDelivery, "The same file is already there as " + known + ".", d.file.string()});
    const fs::path target = folder_ / "deliveries" / (*sum + ".ifc");
    const auto mapped = MappedFile::open(d.file);
    if (!mapped)
        return fail(mapped.error());
    if (auto written = writeFileWhole(target, (*mapped)->bytes()); !written)
        return fail(written.error());
    DeliveryId id = 0;
    auto done = store_->act("Delivery received: " + d.discipline + " " + d.revision, who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO deliveries(discipline, revision, title, cycle, time, sender, fileName, sha256, projectGuid, "
                "schema, elements, declined) VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, '')",
            d.discipline, d.revision, d.title, d.cycle, d.time, d.sender, d.file.filename().string(), *sum,
            d.projectGuid, d.schema, static_cast<std::int64_t>(d.elements));
        id = db.getLastInsertRowid();
    });
    if (!done)
        return fail(done.error());
    return id;
}

Result<void> Project::takeIn(const TakeIn& t, const WhoAndWhen& who)
{
    const auto d = delivery(t.delivery);
    if (!d)
        return fail({kUnknown, "The delivery is not in this project any more."});
    return store_->act("Taken in: " + d->name(), who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO composition VALUES(?, ?, ?, ?) ON CONFLICT(discipline) DO UPDATE SET "
                "delivery=excluded.delivery, takenBy=excluded.takenBy, takenAt=excluded.takenAt",
            d->discipline, d->id, who.person, who.time);
        run(db, "UPDATE deliveries SET declined='' WHERE id=?", d->id);
        for (const ChangeRecord& c : t.changes)
            run(db, "INSERT INTO changes VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, '', '', '') ON CONFLICT DO NOTHING",
                c.discipline, c.from, c.to, c.guid, c.oldGuid, static_cast<int>(c.kinds), c.name, c.storey, c.shift.x,
                c.shift.y, c.shift.z, c.addedVolume, c.removedVolume, fieldsToJson(c.fields));
        if (t.hasRun)
            writeRun(db, t.findings, who);
    });
}

Result<void> Project::decline(DeliveryId id, const std::string& reason, const WhoAndWhen& who)
{
    const auto d = delivery(id);
    if (!d)
        return fail({kUnknown, "The delivery is not in this project any more."});
    return store_->act("Declined: " + d->name() + ", " + reason, who, [&](SQLite::Database& db) {
        run(db, "UPDATE deliveries SET declined=? WHERE id=?", reason, id);
    });
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
