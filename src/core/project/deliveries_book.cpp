#include "core/project/deliveries_book.h"

#include "core/base/file.h"
#include "core/base/file_name.h"
#include "core/base/hash.h"
#include "core/base/hashed_copy.h"
#include "core/base/text.h"
#include "core/project/rows.h"
#include "core/project/stored_files.h"
#include "core/step/look.h"

#include <algorithm>
#include <unordered_map>

namespace wendrix::project {

namespace fs = std::filesystem;

namespace {

constexpr Table kTables[] = {
    {"deliveries",
     "id INTEGER PRIMARY KEY, discipline TEXT, revision TEXT, title TEXT, cycle INTEGER, time TEXT, sender TEXT, "
     "fileName TEXT, sha256 TEXT, projectGuid TEXT, schema TEXT, elements INTEGER, declined TEXT, note TEXT, "
     "suitability TEXT, lookedAtBy TEXT, lookedAtAt TEXT",
     Book::Deliveries},
    {"documents", "delivery INTEGER, place INTEGER, fileName TEXT, sha256 TEXT, PRIMARY KEY (delivery, place)",
     Book::Deliveries},
    {"moreModels",
     "delivery INTEGER, place INTEGER, fileName TEXT, sha256 TEXT, schema TEXT, elements INTEGER, PRIMARY KEY "
     "(delivery, place)",
     Book::Deliveries},
    {"holds", "discipline TEXT PRIMARY KEY, until TEXT, reason TEXT, person TEXT, time TEXT", Book::Deliveries},
    // Every taking in, so that the composition of each cycle can be told.
    {"taken", "id INTEGER PRIMARY KEY, discipline TEXT, delivery INTEGER, cycle INTEGER, person TEXT, time TEXT",
     Book::Deliveries},
    {"composition", "discipline TEXT PRIMARY KEY, delivery INTEGER, takenBy TEXT, takenAt TEXT", Book::Deliveries},
};
constexpr const char* kIndexes[] = {
    "CREATE INDEX deliveriesByDiscipline ON deliveries(discipline)",
    "CREATE INDEX deliveriesBySum ON deliveries(sha256)",
};

Deed deed(std::string what, DeliveryId subject)
{
    return {Book::Deliveries, std::move(what), DeliveriesBook::subjectOf(subject)};
}
Error isNotThere() { return {kUnknown, "The delivery is not in this project any more."}; }

constexpr const char* kDeliveryColumns =
    "SELECT d.id, d.discipline, d.revision, d.title, d.sender, d.cycle, d.time, d.fileName, d.sha256, d.projectGuid, "
    "d.schema, "
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

std::span<const Table> DeliveriesBook::tables() { return kTables; }
std::span<const char* const> DeliveriesBook::indexes() { return kIndexes; }

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
Result<std::vector<Delivery>> DeliveriesBook::where(const std::string& condition, const Values&... values) const
{
    return store_.read([&](SQLite::Database& db) {
        const Timestamp now = currentTime();
        std::vector<Delivery> list = allRows(
            db, kDeliveryColumns + condition + " ORDER BY d.time, d.id",
            [&](SQLite::Statement& q) { return deliveryOf(q, now); }, values...);
        std::unordered_map<DeliveryId, std::size_t> places;
        for (std::size_t i = 0; i < list.size(); ++i)
            places[list[i].id] = i;
        SQLite::Statement more(
            db,
            list.size() == 1
                ? "SELECT delivery, fileName, sha256, schema, elements FROM moreModels WHERE delivery=? ORDER BY place"
                : "SELECT delivery, fileName, sha256, schema, elements FROM moreModels WHERE delivery>? ORDER BY "
                  "delivery, place");
        more.bind(1, list.size() == 1 ? list[0].id : 0);
        while (more.executeStep())
            if (const auto place = places.find(more.getColumn(0).getInt64()); place != places.end())
                list[place->second].moreModels.push_back({text(more, 1), text(more, 2), text(more, 3), count(more, 4)});
        return list;
    });
}

namespace {

Result<std::optional<Delivery>> firstOf(Result<std::vector<Delivery>> found)
{
    if (!found)
        return fail(found.error());
    return found->empty() ? std::nullopt : std::optional(std::move(found->front()));
}

} // namespace

Result<std::vector<Delivery>> DeliveriesBook::all() const { return where(""); }
Result<std::vector<Delivery>> DeliveriesBook::allInUse() const { return where("WHERE c.delivery=d.id"); }
Result<std::optional<Delivery>> DeliveriesBook::find(DeliveryId id) const { return firstOf(where("WHERE d.id=?", id)); }

Result<Delivery> DeliveriesBook::get(DeliveryId id) const
{
    auto found = find(id);
    if (!found)
        return fail(found.error());
    return *found ? Result<Delivery>(std::move(**found)) : fail(isNotThere());
}

Result<std::optional<Delivery>> DeliveriesBook::inUse(const std::string& discipline) const
{
    return firstOf(where("WHERE d.discipline=? AND c.delivery=d.id", discipline));
}

Result<std::optional<Delivery>> DeliveriesBook::withContent(const std::string& sha256) const
{
    return firstOf(
        where("WHERE d.sha256=? OR d.id IN (SELECT delivery FROM moreModels WHERE sha256=?)", sha256, sha256));
}

Result<std::size_t> DeliveriesBook::waitingBehind(const std::string& discipline) const
{
    return store_.read([&](SQLite::Database& db) {
        return static_cast<std::size_t>(
            numberOr(db,
                     "SELECT COUNT(*) FROM deliveries d LEFT JOIN composition c ON c.discipline=d.discipline LEFT JOIN "
                     "deliveries u ON u.id=c.delivery "
                     "WHERE d.discipline=? AND d.declined='' AND (u.id IS NULL OR (d.id<>u.id AND d.time>=u.time))",
                     discipline));
    });
}

fs::path DeliveriesBook::fileOf(const ModelFile& model) const { return deliveryFile(folder_, model.sha256, ".ifc"); }

Result<std::vector<Document>> DeliveriesBook::documentsOf(DeliveryId delivery) const
{
    return store_.read([&](SQLite::Database& db) {
        return allRows(
            db, "SELECT fileName, sha256 FROM documents WHERE delivery=? ORDER BY place",
            [](SQLite::Statement& q) {
                return Document{text(q, 0), text(q, 1)};
            },
            delivery);
    });
}

fs::path DeliveriesBook::fileOf(const Document& document) const
{
    return deliveryFile(folder_, document.sha256, lowerCase(fs::path(document.fileName).extension().string()));
}

Result<std::optional<Hold>> DeliveriesBook::hold(const std::string& discipline, const Timestamp& now) const
{
    return store_.read([&](SQLite::Database& db) -> std::optional<Hold> {
        SQLite::Statement q(db, "SELECT until, reason, person, time FROM holds WHERE discipline=?");
        q.bind(1, discipline);
        if (!q.executeStep())
            return {};
        Hold hold{discipline, text(q, 0), text(q, 1), {text(q, 2), text(q, 3)}};
        return hold.isOver(now) ? std::nullopt : std::optional(std::move(hold));
    });
}

Result<std::map<std::string, DeliveryId>> DeliveriesBook::compositionOf(int cycle) const
{
    return store_.read([&](SQLite::Database& db) {
        SQLite::Statement q(db, "SELECT discipline, delivery FROM taken WHERE cycle<=? ORDER BY id");
        q.bind(1, cycle);
        std::map<std::string, DeliveryId> composition;
        while (q.executeStep())
            composition[text(q, 0)] = q.getColumn(1).getInt64(); // the last one stays
        return composition;
    });
}

Result<int> DeliveriesBook::cycle() const
{
    return store_.read([](SQLite::Database& db) {
        return static_cast<int>(numberOr(db, "SELECT COALESCE(MAX(cycle), 1) FROM deliveries"));
    });
}

Result<DeliveryId> DeliveriesBook::add(const NewDelivery& d, const WhoAndWhen& who)
{
    if (d.models.empty())
        return fail({kUnknown, "A delivery needs a model; documents alone are kept with one."});
    const auto isTaken = [&](SQLite::Database& db) {
        return !textOr(db, "SELECT revision FROM deliveries WHERE discipline=? AND revision=?", d.discipline,
                       d.revision)
                    .empty();
    };
    const Error sameRevision{kSameRevision, "There is a " + d.discipline + " " + d.revision +
                                                " already; give this one another revision."};
    if (const auto taken = store_.read(isTaken); !taken || *taken)
        return fail(taken ? sameRevision : taken.error());
    HashedCopies copies(folder_ / "deliveries");
    Progress progress;
    std::vector<std::string> sums, documentSums = d.documentSums;
    for (const NewDelivery::Model& model : d.models) {
        if (const auto looked = step::lookAt(model.file); model.sha256.empty() && !looked)
            return fail(looked.error());
        const auto sum =
            model.sha256.empty() ? copies.add(model.file, ".ifc", progress) : Result<std::string>(model.sha256);
        if (!sum)
            return fail(sum.error());
        const auto known = withContent(*sum);
        if (!known || *known)
            return fail(known ? Error{kSameDelivery, "The same file is already there as " + (*known)->name() + ".",
                                      model.file.string()}
                              : known.error());
        if (std::find(sums.begin(), sums.end(), *sum) != sums.end())
            return fail({kSameDelivery, "The same file is twice in this delivery.", model.file.string()});
        sums.push_back(*sum);
    }
    for (std::size_t i = documentSums.size(); i < d.documents.size(); ++i) {
        const fs::path& document = d.documents[i];
        const auto sum = copies.add(document, lowerCase(document.extension().string()), progress);
        if (!sum)
            return fail(sum.error());
        documentSums.push_back(*sum);
    }
    std::size_t elements = 0;
    for (const NewDelivery::Model& model : d.models)
        elements += model.elements;
    DeliveryId id = 0;
    Deed received = deed("Delivery received: " + d.discipline + " " + d.revision, 0);
    auto done = store_.act(received, who, [&](SQLite::Database& db) {
        if (isTaken(db)) // by somebody else, meanwhile
            throw Refused{sameRevision};
        for (std::size_t i = 0; i < sums.size(); ++i) {
            const std::string name =
                textOr(db,
                       "SELECT discipline || ' ' || revision FROM deliveries WHERE sha256=?1 OR id IN (SELECT delivery "
                       "FROM moreModels WHERE sha256=?1) LIMIT 1",
                       sums[i]);
            if (!name.empty())
                throw Refused{
                    {kSameDelivery, "The same file is already there as " + name + ".", d.models[i].file.string()}};
        }
        id = nextNumber(db, "delivery");
        received.subject = subjectOf(id);
        run(db,
            "INSERT INTO deliveries(id, discipline, revision, title, cycle, time, sender, fileName, sha256, "
            "projectGuid, "
            "schema, elements, declined, note, suitability, lookedAtBy, lookedAtAt) VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, "
            "?, ?, ?, '', ?, ?, '', '')",
            id, d.discipline, d.revision, d.title, d.cycle, d.time, d.sender, nameInUtf8(d.models[0].file), sums[0],
            d.models[0].projectGuid, d.models[0].schema, static_cast<std::int64_t>(elements), d.note, d.suitability);
        for (std::size_t i = 1; i < sums.size(); ++i)
            run(db, "INSERT INTO moreModels VALUES(?, ?, ?, ?, ?, ?)", static_cast<std::int64_t>(id),
                static_cast<int>(i), nameInUtf8(d.models[i].file), sums[i], d.models[i].schema,
                static_cast<std::int64_t>(d.models[i].elements));
        for (std::size_t i = 0; i < documentSums.size(); ++i)
            run(db, "INSERT INTO documents VALUES(?, ?, ?, ?)", static_cast<std::int64_t>(id), static_cast<int>(i),
                nameInUtf8(d.documents[i]), documentSums[i]);
    });
    if (!done)
        return fail(done.error());
    copies.keep();
    return id;
}

Result<void> DeliveriesBook::describe(DeliveryId id, const DeliveryWords& words, const WhoAndWhen& who)
{
    const auto d = get(id);
    if (!d)
        return fail(d.error());
    return store_.act(deed("Described: " + d->name(), id), who, [&](SQLite::Database& db) {
        run(db, "UPDATE deliveries SET title=?, sender=?, suitability=?, note=? WHERE id=?", words.title, words.sender,
            words.suitability, words.note, id);
    });
}

void DeliveriesBook::use(SQLite::Database& db, const Delivery& d, const WhoAndWhen& who) const
{
    run(db,
        "INSERT INTO composition VALUES(?, ?, ?, ?) ON CONFLICT(discipline) DO UPDATE SET "
        "delivery=excluded.delivery, takenBy=excluded.takenBy, takenAt=excluded.takenAt",
        d.discipline, d.id, who.person, who.time);
    run(db, "UPDATE deliveries SET declined='' WHERE id=?", d.id);
    run(db, "DELETE FROM holds WHERE discipline=?", d.discipline); // it goes on with this one
    const int lastCycle = static_cast<int>(numberOr(db, "SELECT COALESCE(MAX(cycle), 0) FROM taken"));
    run(db, "INSERT INTO taken(discipline, delivery, cycle, person, time) VALUES(?, ?, ?, ?, ?)", d.discipline, d.id,
        std::max(d.cycle, lastCycle), who.person, who.time);
}

Result<void> DeliveriesBook::decline(DeliveryId id, const std::string& reason, const std::string& report,
                                     const WhoAndWhen& who)
{
    const auto d = get(id);
    if (!d)
        return fail(d.error());
    if (d->isUsed())
        return fail({kUnknown, d->name() + " is in use; take another one in first."});
    const std::string sum = wendrix::sha256(report);
    if (!report.empty())
        if (auto written = writeFileWhole(folder_ / "deliveries" / (sum + ".html"), report); !written)
            return written;
    return store_.act(deed("Declined: " + d->name() + ", " + reason, id), who, [&](SQLite::Database& db) {
        run(db, "UPDATE deliveries SET declined=? WHERE id=?", reason, id);
        if (!report.empty())
            run(db,
                "INSERT INTO documents SELECT ?, COALESCE(MAX(place), -1) + 1, ?, ? FROM documents WHERE delivery=?",
                id, "Quality report " + d->name() + ".html", sum, id);
    });
}

Result<void> DeliveriesBook::hold(const Hold& hold, const WhoAndWhen& who)
{
    const auto used = inUse(hold.discipline);
    if (!used)
        return fail(used.error());
    if (!*used)
        return fail({kUnknown, "Nothing of " + hold.discipline + " is in use that could be held."});
    if (hold.isOver(who.time))
        return fail({kUnknown, "The day " + hold.until + " is over; choose a later one."});
    const std::string what = "Held: " + (*used)->name() + (hold.until.empty() ? "" : " until " + hold.until) +
                             (hold.reason.empty() ? "" : ", " + hold.reason);
    return store_.act(deed(what, (*used)->id), who, [&](SQLite::Database& db) {
        run(db,
            "INSERT INTO holds VALUES(?, ?, ?, ?, ?) ON CONFLICT(discipline) DO UPDATE SET until=excluded.until, "
            "reason=excluded.reason, person=excluded.person, time=excluded.time",
            hold.discipline, hold.until, hold.reason, who.person, who.time);
    });
}

Result<void> DeliveriesBook::release(const std::string& discipline, const WhoAndWhen& who)
{
    const auto used = inUse(discipline);
    const auto held = hold(discipline, who.time);
    if (!used || !held)
        return fail(used ? held.error() : used.error());
    if (!*used || !*held)
        return fail({kUnknown, discipline + " is not held."});
    return store_.act(deed("Released: " + (*used)->name(), (*used)->id), who,
                      [&](SQLite::Database& db) { run(db, "DELETE FROM holds WHERE discipline=?", discipline); });
}

Result<void> DeliveriesBook::lookedAt(DeliveryId id, const WhoAndWhen& who)
{
    const auto d = find(id);
    if (!d)
        return fail(d.error());
    if (!*d || !(*d)->lookedAt.person.empty())
        return {};
    Deed looked = deed("Looked into: " + (*d)->name(), id);
    looked.isUndoable = false;
    return store_.act(looked, who, [&](SQLite::Database& db) {
        run(db, "UPDATE deliveries SET lookedAtBy=?, lookedAtAt=? WHERE id=?", who.person, who.time, id);
    });
}

} // namespace wendrix::project
