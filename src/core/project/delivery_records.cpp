#include "core/base/file.h"
#include "core/base/hash.h"
#include "core/base/hashed_copy.h"
#include "core/base/text.h"
#include "core/project/project.h"
#include "core/project/rows.h"

#include <algorithm>
#include <unordered_map>

/// Deliveries: received, looked at, taken in, declined, held; and what was in use when.
namespace wendrix::project {

namespace fs = std::filesystem;

namespace {

constexpr const char* kDeliveryColumns =
    "SELECT d.id, d.discipline, d.revision, d.title, d.sender, d.cycle, d.time, d.fileName, d.sha256, d.projectGuid, d.schema, "
    "d.elements, d.declined, c.delivery, u.time, d.note, d.suitability, d.lookedAtBy, d.lookedAtAt, "
    "(SELECT COUNT(*) FROM documents WHERE delivery=d.id), h.until, h.discipline FROM deliveries d "
    "LEFT JOIN composition c ON c.discipline=d.discipline LEFT JOIN deliveries u ON u.id=c.delivery "
    "LEFT JOIN holds h ON h.discipline=d.discipline ";

Delivery deliveryOf(SQLite::Statement& q, const Timestamp& now)
{
    Delivery d;
    d.id = q.getColumn(0).getInt64();
    d.discipline = text(q, 1);
    d.revision = text(q, 2);
    d.title = text(q, 3);
    d.sender = text(q, 4);
    d.cycle = q.getColumn(5).getInt();
    d.time = text(q, 6);
    d.fileName = text(q, 7);
    d.sha256 = text(q, 8);
    d.projectGuid = text(q, 9);
    d.schema = text(q, 10);
    d.elements = static_cast<std::size_t>(q.getColumn(11).getInt64());
    d.declined = text(q, 12);
    d.note = text(q, 15);
    d.suitability = text(q, 16);
    d.lookedAt = {text(q, 17), text(q, 18)};
    d.documents = static_cast<std::size_t>(q.getColumn(19).getInt64());
    const bool hasInUse = !q.getColumn(13).isNull();
    if (hasInUse && q.getColumn(13).getInt64() == d.id) {
        const bool isHeld = !q.getColumn(21).isNull() && !Hold{{}, text(q, 20), {}, {}}.isOver(now);
        d.state = isHeld ? DeliveryState::Held : DeliveryState::InUse;
        d.heldUntil = isHeld ? text(q, 20) : "";
    } else if (!d.declined.empty()) {
        d.state = DeliveryState::Declined;
    } else if (hasInUse && d.time < text(q, 14)) {
        d.state = DeliveryState::Replaced;
    }
    return d;
}

} // namespace

std::vector<ModelFile> Delivery::models() const
{
    std::vector<ModelFile> all{{fileName, sha256, schema, elements}};
    for (const ModelFile& more : moreModels) {
        all.front().elements -= more.elements;
        all.push_back(more);
    }
    return all;
}

template <class... Values>
std::vector<Delivery> Project::deliveriesWhere(const std::string& where, const Values&... values) const
{
    std::vector<Delivery> list;
    std::unordered_map<DeliveryId, std::size_t> places;
    SQLite::Statement q(db(), kDeliveryColumns + where + " ORDER BY d.time, d.id");
    int at = 0;
    (bindOne(q, ++at, values), ...);
    const Timestamp now = currentTime();
    while (q.executeStep()) {
        list.push_back(deliveryOf(q, now));
        places[list.back().id] = list.size() - 1;
    }
    SQLite::Statement more(db(), list.size() == 1 ? "SELECT delivery, fileName, sha256, schema, elements FROM moreModels WHERE delivery=? ORDER BY place"
                                                  : "SELECT delivery, fileName, sha256, schema, elements FROM moreModels WHERE delivery>? ORDER BY delivery, place");
    more.bind(1, list.size() == 1 ? list[0].id : 0);
    while (more.executeStep())
        if (const auto place = places.find(more.getColumn(0).getInt64()); place != places.end())
            list[place->second].moreModels.push_back({text(more, 1), text(more, 2), text(more, 3), static_cast<std::size_t>(more.getColumn(4).getInt64())});
    return list;
}

std::vector<Delivery> Project::deliveries() const { return deliveriesWhere(""); }

std::optional<Delivery> Project::delivery(DeliveryId id) const
{
    auto found = deliveriesWhere("WHERE d.id=?", id);
    return found.empty() ? std::nullopt : std::optional(std::move(found[0]));
}

std::optional<Delivery> Project::inUse(const std::string& discipline) const
{
    auto found = deliveriesWhere("WHERE d.discipline=? AND c.delivery=d.id", discipline);
    return found.empty() ? std::nullopt : std::optional(std::move(found[0]));
}

std::size_t Project::waitingBehind(const std::string& discipline) const
{
    const auto all = deliveriesWhere("WHERE d.discipline=?", discipline);
    return static_cast<std::size_t>(std::count_if(all.begin(), all.end(), [](const Delivery& d) { return d.state == DeliveryState::Waiting; }));
}

fs::path Project::fileOf(const ModelFile& model) const { return folder_ / "deliveries" / (model.sha256 + ".ifc"); }

std::vector<Document> Project::documentsOf(DeliveryId delivery) const
{
    SQLite::Statement q(db(), "SELECT fileName, sha256 FROM documents WHERE delivery=? ORDER BY place");
    q.bind(1, delivery);
    std::vector<Document> list;
    while (q.executeStep())
        list.push_back({text(q, 0), text(q, 1)});
    return list;
}

fs::path Project::fileOf(const Document& document) const
{
    return folder_ / "deliveries" / (document.sha256 + lowerCase(fs::path(document.fileName).extension().string()));
}

std::optional<Hold> Project::hold(const std::string& discipline, const Timestamp& now) const
{
    SQLite::Statement q(db(), "SELECT until, reason, person, time FROM holds WHERE discipline=?");
    q.bind(1, discipline);
    if (!q.executeStep())
        return {};
    Hold hold{discipline, text(q, 0), text(q, 1), {text(q, 2), text(q, 3)}};
    return hold.isOver(now) ? std::nullopt : std::optional(std::move(hold));
}

int Project::lastCycleTaken() const
{
    SQLite::Statement q(db(), "SELECT IFNULL(MAX(cycle), 0) FROM taken");
    q.executeStep();
    return q.getColumn(0).getInt();
}

std::map<std::string, DeliveryId> Project::compositionOf(int cycle) const
{
    SQLite::Statement q(db(), "SELECT discipline, delivery FROM taken WHERE cycle<=? ORDER BY id");
    q.bind(1, cycle);
    std::map<std::string, DeliveryId> composition;
    while (q.executeStep())
        composition[text(q, 0)] = q.getColumn(1).getInt64(); // the last one stays
    return composition;
}

std::vector<std::pair<std::string, std::string>> Project::specifications() const
{
    SQLite::Statement q(db(), "SELECT name, text FROM specifications ORDER BY name");
    std::vector<std::pair<std::string, std::string>> list;
    while (q.executeStep())
        list.emplace_back(text(q, 0), text(q, 1));
    return list;
}

std::optional<Delivery> Project::withContent(const std::string& sha256) const
{
    auto found = deliveriesWhere("WHERE d.sha256=? OR d.id IN (SELECT delivery FROM moreModels WHERE sha256=?)", sha256, sha256);
    return found.empty() ? std::nullopt : std::optional(std::move(found[0]));
}

Result<DeliveryId> Project::addDelivery(const NewDelivery& d, const WhoAndWhen& who)
{
    if (d.models.empty())
        return fail({kUnknown, "A delivery needs a model; documents alone are kept with one."});
    if (!textOr(db(), "SELECT revision FROM deliveries WHERE discipline=? AND revision=?", d.discipline, d.revision).empty())
        return fail({kSameRevision, "There is a " + d.discipline + " " + d.revision + " already; give this one another revision."});
    HashedCopies copies(folder_ / "deliveries");
    Progress progress;
    std::vector<std::string> sums, documentSums;
    for (const NewDelivery::Model& model : d.models) {
        const auto sum = model.sha256.empty() ? copies.add(model.file, ".ifc", progress) : Result<std::string>(model.sha256);
        if (!sum)
            return fail(sum.error());
        if (const auto known = withContent(*sum))
            return fail({kSameDelivery, "The same file is already there as " + known->name() + ".", model.file.string()});
        if (std::find(sums.begin(), sums.end(), *sum) != sums.end())
            return fail({kSameDelivery, "The same file is twice in this delivery.", model.file.string()});
        sums.push_back(*sum);
    }
    for (const fs::path& document : d.documents) {
        const auto sum = copies.add(document, lowerCase(document.extension().string()), progress);
        if (!sum)
            return fail(sum.error());
        documentSums.push_back(*sum);
    }
    std::size_t elements = 0;
    for (const NewDelivery::Model& model : d.models)
        elements += model.elements;
    DeliveryId id = 0;
    auto done = store_->act("Delivery received: " + d.discipline + " " + d.revision, who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO deliveries(discipline, revision, title, cycle, time, sender, fileName, sha256, projectGuid, "
                "schema, elements, declined, note, suitability, lookedAtBy, lookedAtAt) VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, '', ?, ?, '', '')",
            d.discipline, d.revision, d.title, d.cycle, d.time, d.sender, d.models[0].file.filename().string(), sums[0],
            d.models[0].projectGuid, d.models[0].schema, static_cast<std::int64_t>(elements), d.note, d.suitability);
        id = db.getLastInsertRowid();
        for (std::size_t i = 1; i < sums.size(); ++i)
            run(db, "INSERT INTO moreModels VALUES(?, ?, ?, ?, ?, ?)", static_cast<std::int64_t>(id), static_cast<int>(i), d.models[i].file.filename().string(),
                sums[i], d.models[i].schema, static_cast<std::int64_t>(d.models[i].elements));
        for (std::size_t i = 0; i < documentSums.size(); ++i)
            run(db, "INSERT INTO documents VALUES(?, ?, ?, ?)", static_cast<std::int64_t>(id), static_cast<int>(i), d.documents[i].filename().string(), documentSums[i]);
    });
    if (!done)
        return fail(done.error());
    copies.keep();
    return id;
}

Result<void> Project::describe(DeliveryId id, const DeliveryWords& words, const WhoAndWhen& who)
{
    const auto d = delivery(id);
    if (!d)
        return fail({kUnknown, "The delivery is not in this project any more."});
    return store_->act("Described: " + d->name(), who, [&](SQLite::Database& db) {
        run(db, "UPDATE deliveries SET title=?, sender=?, suitability=?, note=? WHERE id=?", words.title, words.sender, words.suitability, words.note, id);
    });
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
        run(db, "DELETE FROM holds WHERE discipline=?", d->discipline); // it goes on with this one
        run(db, "INSERT INTO taken(discipline, delivery, cycle, person, time) VALUES(?, ?, ?, ?, ?)", d->discipline, d->id, std::max(d->cycle, lastCycleTaken()), who.person, who.time);
        SQLite::Statement change(db, "INSERT INTO changes VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, '', '', '') ON CONFLICT DO NOTHING");
        for (const ChangeRecord& c : t.changes)
            runAgain(change, c.discipline, c.from, c.to, c.guid, c.oldGuid, static_cast<int>(c.kinds), c.name, c.storey, c.shift.x,
                c.shift.y, c.shift.z, c.addedVolume, c.removedVolume, fieldsToJson(c.fields));
        if (t.hasRun)
            writeRun(db, t.findings, who);
    });
}

Result<void> Project::decline(DeliveryId id, const std::string& reason, const std::string& report, const WhoAndWhen& who)
{
    const auto d = delivery(id);
    if (!d)
        return fail({kUnknown, "The delivery is not in this project any more."});
    if (d->isUsed())
        return fail({kUnknown, d->name() + " is in use; take another one in first."});
    const std::string sum = wendrix::sha256(report);
    if (!report.empty())
        if (auto written = writeFileWhole(folder_ / "deliveries" / (sum + ".html"), report); !written)
            return written;
    return store_->act("Declined: " + d->name() + ", " + reason, who, [&](SQLite::Database& db) {
        run(db, "UPDATE deliveries SET declined=? WHERE id=?", reason, id);
        if (!report.empty())
            run(db, "INSERT INTO documents SELECT ?, IFNULL(MAX(place), -1) + 1, ?, ? FROM documents WHERE delivery=?", id,
                "Quality report " + d->name() + ".html", sum, id);
    });
}

Result<void> Project::hold(const Hold& hold, const WhoAndWhen& who)
{
    const auto used = inUse(hold.discipline);
    if (!used)
        return fail({kUnknown, "Nothing of " + hold.discipline + " is in use that could be held."});
    if (hold.isOver(who.time))
        return fail({kUnknown, "The day " + hold.until + " is over; choose a later one."});
    return store_->act("Held: " + used->name() + (hold.until.empty() ? "" : " until " + hold.until) + (hold.reason.empty() ? "" : ", " + hold.reason), who, [&](SQLite::Database& db) {
        run(db, "DELETE FROM holds WHERE discipline=?", hold.discipline); // to replace it would not be recorded for undo
        run(db, "INSERT INTO holds VALUES(?, ?, ?, ?, ?)", hold.discipline, hold.until, hold.reason, who.person, who.time);
    });
}

Result<void> Project::release(const std::string& discipline, const WhoAndWhen& who)
{
    const auto used = inUse(discipline);
    if (!used || !hold(discipline, who.time))
        return fail({kUnknown, discipline + " is not held."});
    return store_->act("Released: " + used->name(), who, [&](SQLite::Database& db) { run(db, "DELETE FROM holds WHERE discipline=?", discipline); });
}

Result<void> Project::lookedAt(DeliveryId id, const WhoAndWhen& who)
{
    const auto d = delivery(id);
    if (!d || !d->lookedAt.person.empty())
        return {};
    return store_->record("Looked into: " + d->name(), who, [&](SQLite::Database& db) {
        run(db, "UPDATE deliveries SET lookedAtBy=?, lookedAtAt=? WHERE id=?", who.person, who.time, id);
    });
}

Result<void> Project::setSpecification(const std::string& name, const std::string& text, const WhoAndWhen& who)
{
    return store_->act((text.empty() ? "Specification removed: " : "Specification: ") + name, who, [&](SQLite::Database& db) {
        run(db, "DELETE FROM specifications WHERE name=?", name);
        if (!text.empty())
            run(db, "INSERT INTO specifications VALUES(?, ?, ?, ?)", name, text, who.person, who.time);
    });
}

} // namespace wendrix::project
