#include "core/project/changes_book.h"

#include "core/project/rows.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <set>
#include <unordered_map>

namespace wendrix::project {

namespace {

constexpr Table kTables[] = {
    {"comparisons",
     "id INTEGER PRIMARY KEY, discipline INTEGER, fromDelivery INTEGER, toDelivery INTEGER, tolerance REAL, fits TEXT, "
     "total INTEGER, unchanged INTEGER, person TEXT, time TEXT",
     Book::Changes},
    {"changes",
     "comparison INTEGER, number INTEGER, guid TEXT, part TEXT, ordinal INTEGER, oldGuid TEXT, oldPart TEXT, "
     "oldOrdinal INTEGER, kinds INTEGER, name TEXT, storey TEXT, sx REAL, sy REAL, sz REAL, "
     "addedVolume REAL, removedVolume REAL, fields TEXT, PRIMARY KEY (comparison, number)",
     Book::Changes, Keeping::Fact},
    // Every element that goes on under another name, changed or not.
    {"continuations",
     "comparison INTEGER, guid TEXT, part TEXT, ordinal INTEGER, oldGuid TEXT, oldPart TEXT, oldOrdinal INTEGER, "
     "PRIMARY KEY (comparison, guid, part, ordinal)",
     Book::Changes, Keeping::Fact},
    {"reviews",
     "comparison INTEGER, number INTEGER, review TEXT, person TEXT, time TEXT, PRIMARY KEY (comparison, number)",
     Book::Changes},
};
constexpr const char* kIndexes[] = {
    "CREATE INDEX comparisonsByDelivery ON comparisons(toDelivery)",
    // Holds all that is counted, so that counting a hundred thousand changes reads nothing else.
    "CREATE INDEX changesCounted ON changes(comparison, kinds)",
    "CREATE INDEX changesByGuid ON changes(guid)",
    "CREATE INDEX continuationsByGuid ON continuations(guid)",
    "CREATE INDEX changesByOldGuid ON changes(oldGuid)",
};

constexpr const char* kInForce =
    "(SELECT MAX(k.id) FROM comparisons k JOIN composition u ON u.delivery=k.toDelivery GROUP BY k.discipline)";

constexpr const char* kColumns =
    "SELECT c.comparison, c.guid, c.part, c.ordinal, c.oldGuid, c.oldPart, c.oldOrdinal, c.kinds, c.name, c.storey, "
    "c.sx, c.sy, c.sz, c.addedVolume, c.removedVolume, c.fields, "
    "COALESCE(r.review, ''), k.discipline, k.fromDelivery, k.toDelivery, d.name, c.number FROM changes c JOIN "
    "comparisons k ON k.id=c.comparison LEFT JOIN disciplines d ON d.id=k.discipline "
    "LEFT JOIN reviews r ON r.comparison=c.comparison AND r.number=c.number ";

ChangeRecord changeOf(SQLite::Statement& q)
{
    ChangeRecord c;
    c.comparison = q.getColumn(0).getInt64();
    const DisciplineId discipline = q.getColumn(17).getInt64();
    const auto ref = [&](int guid) {
        return ElementRef{discipline, text(q, guid + 1), text(q, guid),
                          static_cast<std::uint32_t>(q.getColumn(guid + 2).getInt64())};
    };
    c.element = ref(1);
    if (!text(q, 4).empty())
        c.continues = ref(4);
    c.kinds = static_cast<unsigned>(q.getColumn(7).getInt());
    c.name = text(q, 8);
    c.storey = text(q, 9);
    c.shift = point(q, 10);
    c.addedVolume = q.getColumn(13).getDouble();
    c.removedVolume = q.getColumn(14).getDouble();
    c.fields = fieldsFromJson(text(q, 15));
    c.review = text(q, 16);
    c.from = q.getColumn(18).getInt64();
    c.to = q.getColumn(19).getInt64();
    c.discipline = text(q, 20);
    c.number = q.getColumn(21).getInt64();
    return c;
}

using Json = nlohmann::json;

Json jsonOf(const federation::Fit& f)
{
    return {f.scale, f.rotation.value, f.translation.x, f.translation.y, f.translation.z};
}

federation::Fit fitFrom(const Json& json)
{
    if (!json.is_array() || json.size() != 5 ||
        !std::all_of(json.begin(), json.end(), [](const Json& n) { return n.is_number(); }))
        return {};
    return {json[0], Radians{json[1].get<double>()}, {json[2], json[3], json[4]}};
}

constexpr const char* kComparisons =
    "SELECT k.id, d.name, k.fromDelivery, k.toDelivery, k.tolerance, k.fits, k.unchanged, k.person, k.time FROM "
    "comparisons k LEFT JOIN disciplines d ON d.id=k.discipline ";

ComparisonRecord comparisonOf(SQLite::Statement& q)
{
    ComparisonRecord k;
    k.id = q.getColumn(0).getInt64();
    k.discipline = text(q, 1);
    k.from = q.getColumn(2).getInt64();
    k.to = q.getColumn(3).getInt64();
    k.tolerance = q.getColumn(4).getDouble();
    if (const Json fits = Json::parse(text(q, 5), nullptr, false); fits.is_array() && fits.size() == 2) {
        k.fromFit = fitFrom(fits[0]);
        k.toFit = fitFrom(fits[1]);
    }
    k.unchanged = count(q, 6);
    k.by = {text(q, 7), text(q, 8)};
    return k;
}

bool isSame(const ElementRef& a, const ElementRef& b)
{
    return a.guid == b.guid && a.part == b.part && a.ordinal == b.ordinal &&
           (a.discipline == b.discipline || a.discipline == 0 || b.discipline == 0);
}

} // namespace

std::span<const Table> ChangesBook::tables() { return kTables; }
std::span<const char* const> ChangesBook::indexes() { return kIndexes; }

Result<std::vector<ComparisonRecord>> ChangesBook::inForce() const
{
    return store_.read([](SQLite::Database& db) {
        return allRows(db, std::string(kComparisons) + "WHERE k.id IN " + kInForce + " ORDER BY d.place", comparisonOf);
    });
}

Result<std::vector<ComparisonRecord>> ChangesBook::comparisonsOf(DeliveryId to) const
{
    return store_.read([&](SQLite::Database& db) {
        return allRows(db, std::string(kComparisons) + "WHERE k.toDelivery=? ORDER BY k.id DESC", comparisonOf, to);
    });
}

Result<std::vector<ChangeRecord>> ChangesBook::changesOf(std::int64_t comparison) const
{
    return store_.read([&](SQLite::Database& db) {
        return allRows(db, std::string(kColumns) + "WHERE c.comparison=? ORDER BY c.number", changeOf, comparison);
    });
}

Result<std::vector<ChangeRecord>> ChangesBook::current() const
{
    return store_.read([](SQLite::Database& db) {
        return allRows(db, std::string(kColumns) + "WHERE c.comparison IN " + kInForce + " ORDER BY d.place, c.number",
                       changeOf);
    });
}

Result<std::vector<ChangeRecord>> ChangesBook::get(std::span<const ChangeKey> keys) const
{
    return store_.read([&](SQLite::Database& db) {
        std::vector<ChangeRecord> list;
        SQLite::Statement q(db, std::string(kColumns) + "WHERE c.comparison=? AND c.number=?");
        for (const ChangeKey& key : keys) {
            q.reset();
            q.bind(1, key.comparison);
            q.bind(2, key.number);
            if (q.executeStep())
                list.push_back(changeOf(q));
        }
        return list;
    });
}

Result<ChangeBriefs> ChangesBook::briefs() const
{
    return store_.read([](SQLite::Database& db) {
        ChangeBriefs all;
        all.comparisons =
            allRows(db, std::string(kComparisons) + "WHERE k.id IN " + kInForce + " ORDER BY d.place", comparisonOf);
        std::unordered_map<std::string, std::uint32_t> known;
        SQLite::Statement q(db,
                            "SELECT c.number, c.kinds, c.storey, r.review FROM changes c LEFT JOIN reviews r ON "
                            "r.comparison=c.comparison AND r.number=c.number WHERE c.comparison=? ORDER BY c.number");
        for (const ComparisonRecord& k : all.comparisons) {
            q.reset();
            q.bind(1, k.id);
            while (q.executeStep()) {
                const auto [at, isNew] =
                    known.try_emplace(q.getColumn(2).getText(""), static_cast<std::uint32_t>(all.storeys.size()));
                if (isNew)
                    all.storeys.push_back(at->first);
                all.changes.push_back({{k.id, q.getColumn(0).getInt64()},
                                       static_cast<unsigned>(q.getColumn(1).getInt()),
                                       at->second,
                                       q.getColumn(3).getText("")[0] != '\0'});
            }
        }
        return all;
    });
}

Result<std::map<ChangeKind, std::size_t>> ChangesBook::countsOf(std::int64_t comparison) const
{
    return store_.read([&](SQLite::Database& db) {
        SQLite::Statement q(db, "SELECT kinds, COUNT(*) FROM changes WHERE comparison=? GROUP BY kinds");
        q.bind(1, comparison);
        std::map<ChangeKind, std::size_t> counts;
        while (q.executeStep())
            for (const ChangeKind kind : {Added, Removed, Reshaped, Moved, Redescribed, Rekeyed})
                if ((q.getColumn(0).getInt() & static_cast<int>(kind)) != 0)
                    counts[kind] += count(q, 1);
        return counts;
    });
}

Result<std::size_t> ChangesBook::toReview() const
{
    return store_.read([](SQLite::Database& db) {
        const std::string in = std::string("IN ") + kInForce;
        return static_cast<std::size_t>(
            numberOr(db, ("SELECT COALESCE((SELECT SUM(total) FROM comparisons WHERE id " + in +
                          "), 0) - (SELECT COUNT(*) FROM reviews WHERE comparison " + in + ")")
                             .c_str()));
    });
}

Result<std::vector<ChangeRecord>> ChangesBook::historyOf(ElementRef element) const
{
    return store_.read([&](SQLite::Database& db) {
        std::set<ElementRef> names{element}; // a sender may go back to a name it had
        std::vector<ElementRef> open{element};
        SQLite::Statement before(db,
                                 "SELECT c.oldPart, c.oldGuid, c.oldOrdinal FROM continuations c JOIN comparisons k ON "
                                 "k.id=c.comparison WHERE c.guid=? AND c.part=? AND c.ordinal=? AND k.discipline=?");
        while (!open.empty()) {
            const ElementRef now = std::move(open.back());
            open.pop_back();
            before.reset();
            before.bind(1, now.guid);
            before.bind(2, now.part);
            before.bind(3, static_cast<std::int64_t>(now.ordinal));
            before.bind(4, now.discipline);
            while (before.executeStep())
                if (const ElementRef was{now.discipline, text(before, 0), text(before, 1),
                                         static_cast<std::uint32_t>(before.getColumn(2).getInt64())};
                    names.insert(was).second)
                    open.push_back(was);
        }
        std::vector<ChangeRecord> list;
        SQLite::Statement q(db,
                            std::string(kColumns) + "WHERE c.guid=? AND c.part=? AND c.ordinal=? AND k.discipline=?");
        for (const ElementRef& name : names) {
            q.reset();
            q.bind(1, name.guid);
            q.bind(2, name.part);
            q.bind(3, static_cast<std::int64_t>(name.ordinal));
            q.bind(4, name.discipline);
            while (q.executeStep())
                list.push_back(changeOf(q));
        }
        std::sort(list.begin(), list.end(),
                  [](const ChangeRecord& a, const ChangeRecord& b) { return a.comparison > b.comparison; });
        return list;
    });
}

Result<std::vector<ElementRef>> ChangesBook::elementsChangedSince(const std::string& since) const
{
    return store_.read([&](SQLite::Database& db) {
        const bool isCycle = since.find('-') == std::string::npos;
        return allRows(
            db,
            std::string("SELECT DISTINCT k.discipline, c.part, c.guid, c.ordinal FROM comparisons k JOIN changes c ON "
                        "c.comparison=k.id WHERE (c.kinds & ?)=0 AND k.toDelivery IN (SELECT delivery FROM taken "
                        "WHERE ") +
                (isCycle ? "cycle>=CAST(? AS INTEGER))" : "time>=?)"),
            [](SQLite::Statement& q) {
                return ElementRef{q.getColumn(0).getInt64(), text(q, 1), text(q, 2),
                                  static_cast<std::uint32_t>(q.getColumn(3).getInt64())};
            },
            static_cast<int>(Removed), since);
    });
}

Result<std::vector<ChangeRecord>> ChangesBook::currentOf(const ElementRef& element) const
{
    return store_.read([&](SQLite::Database& db) {
        auto list =
            allRows(db, std::string(kColumns) + "WHERE (c.guid=? OR c.oldGuid=?) AND c.comparison IN " + kInForce,
                    changeOf, element.guid, element.guid);
        std::erase_if(list, [&](const ChangeRecord& c) {
            return !isSame(c.element, element) && !(c.continues && isSame(*c.continues, element));
        });
        return list;
    });
}

std::vector<Continuation> ChangesBook::continuations(SQLite::Database& db) const
{
    return allRows(db,
                   "SELECT k.discipline, c.part, c.guid, c.ordinal, c.oldPart, c.oldGuid, c.oldOrdinal FROM "
                   "continuations c JOIN comparisons k ON k.id=c.comparison",
                   [](SQLite::Statement& q) {
                       const auto ref = [&](int part) {
                           return ElementRef{q.getColumn(0).getInt64(), text(q, part), text(q, part + 1),
                                             static_cast<std::uint32_t>(q.getColumn(part + 2).getInt64())};
                       };
                       return Continuation{ref(1), ref(4)};
                   });
}

Result<void> ChangesBook::review(std::span<const ChangeKey> changes, const std::string& review, const std::string& name,
                                 const WhoAndWhen& who)
{
    return store_.act({Book::Changes, "Change " + review + ": " + name}, who, [&](SQLite::Database& db) {
        SQLite::Statement q(db, "INSERT INTO reviews VALUES(?, ?, ?, ?, ?) ON CONFLICT(comparison, number) DO UPDATE "
                                "SET review=excluded.review, person=excluded.person, time=excluded.time");
        for (const ChangeKey& key : changes)
            runAgain(q, key.comparison, key.number, review, who.person, who.time);
    });
}

std::int64_t ChangesBook::write(SQLite::Database& db, const NewComparison& n, const WhoAndWhen& who) const
{
    const std::int64_t id = nextNumber(db, "comparison");
    const ComparisonRecord& k = n.record;
    run(db, "INSERT INTO comparisons VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", id, n.discipline, k.from, k.to, k.tolerance,
        Json{jsonOf(k.fromFit), jsonOf(k.toFit)}.dump(), static_cast<std::int64_t>(n.changes.size()),
        static_cast<std::int64_t>(k.unchanged), who.person, who.time);
    SQLite::Statement q(db, "INSERT INTO changes VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)");
    std::int64_t number = 0;
    for (const ChangeRecord& c : n.changes) {
        const ElementRef was = c.continues.value_or(ElementRef{});
        runAgain(q, id, number++, c.element.guid, c.element.part, static_cast<std::int64_t>(c.element.ordinal),
                 was.guid, was.part, static_cast<std::int64_t>(was.ordinal), static_cast<int>(c.kinds), c.name,
                 c.storey, c.shift.x, c.shift.y, c.shift.z, c.addedVolume, c.removedVolume,
                 c.fields.empty() ? std::string() : fieldsToJson(c.fields));
    }
    SQLite::Statement goesOn(db, "INSERT INTO continuations VALUES(?, ?, ?, ?, ?, ?, ?)");
    for (const Continuation& c : n.continuations)
        runAgain(goesOn, id, c.element.guid, c.element.part, static_cast<std::int64_t>(c.element.ordinal),
                 c.before.guid, c.before.part, static_cast<std::int64_t>(c.before.ordinal));
    return id;
}

void ChangesBook::tidy(SQLite::Database& db)
{
    for (const std::string table : {"changes", "continuations"}) {
        // From one comparison that has rows to the next by the index, instead of over all rows: usually none is too
        // many.
        const std::string lost = "WITH RECURSIVE k(id) AS (SELECT MIN(comparison) FROM " + table +
                                 " UNION ALL SELECT (SELECT MIN(comparison) FROM " + table +
                                 " WHERE comparison>k.id) FROM k WHERE k.id IS NOT NULL) SELECT COUNT(*) FROM k WHERE "
                                 "id IS NOT NULL AND id NOT IN (SELECT id FROM comparisons)";
        if (numberOr(db, lost.c_str()) > 0)
            db.exec("DELETE FROM " + table + " WHERE comparison NOT IN (SELECT id FROM comparisons)");
    }
}

} // namespace wendrix::project
