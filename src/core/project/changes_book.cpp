#include "core/project/changes_book.h"

#include "core/project/change_rows.h"

#include <algorithm>
#include <set>
#include <unordered_map>

namespace wendrix::project {

namespace {

constexpr Table kTables[] = {
    {"comparisons",
     "id INTEGER PRIMARY KEY, discipline INTEGER, fromDelivery INTEGER, toDelivery INTEGER, rule TEXT, fits TEXT, "
     "total INTEGER, unchanged INTEGER, leftOut INTEGER, isAsked INTEGER, person TEXT, time TEXT",
     Book::Changes},
    {"changes",
     "comparison INTEGER, number INTEGER, guid TEXT, part TEXT, ordinal INTEGER, oldGuid TEXT, oldPart TEXT, "
     "oldOrdinal INTEGER, parts TEXT, kinds INTEGER, name TEXT, className TEXT, type TEXT, system TEXT, zone TEXT, "
     "phase TEXT, storey TEXT, sx REAL, sy REAL, sz REAL, turn REAL, ax REAL, ay REAL, az REAL, confidence REAL, "
     "extents TEXT, volumeBefore REAL, volumeAfter REAL, lowX REAL, lowY REAL, lowZ REAL, highX REAL, highY REAL, "
     "highZ REAL, fields TEXT, alike INTEGER, PRIMARY KEY (comparison, number)",
     Book::Changes, Keeping::Fact},
    // Every element that goes on under another name, changed or not.
    {"continuations",
     "comparison INTEGER, guid TEXT, part TEXT, ordinal INTEGER, oldGuid TEXT, oldPart TEXT, oldOrdinal INTEGER, "
     "PRIMARY KEY (comparison, guid, part, ordinal)",
     Book::Changes, Keeping::Fact},
    {"reviews",
     "comparison INTEGER, number INTEGER, review TEXT, person TEXT, time TEXT, PRIMARY KEY (comparison, number)",
     Book::Changes},
    // The one that was saved last is used.
    {"changeRules", "name TEXT PRIMARY KEY, rule TEXT, saved INTEGER", Book::Changes},
};
constexpr const char* kIndexes[] = {
    "CREATE INDEX comparisonsByDelivery ON comparisons(toDelivery)",
    // Holds all that is counted, so that counting a hundred thousand changes reads nothing else.
    "CREATE INDEX changesCounted ON changes(comparison, kinds)",
    "CREATE INDEX changesByGuid ON changes(guid)",
    "CREATE INDEX continuationsByGuid ON continuations(guid)",
    "CREATE INDEX changesByOldGuid ON changes(oldGuid)",
};

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
        return allRows(db,
                       std::string(kComparisonColumns) + "WHERE k.id IN " + kComparisonsInForce + " ORDER BY d.place",
                       comparisonOf);
    });
}

Result<std::vector<ComparisonRecord>> ChangesBook::comparisonsOf(DeliveryId to) const
{
    return store_.read([&](SQLite::Database& db) {
        return allRows(db, std::string(kComparisonColumns) + "WHERE k.toDelivery=? ORDER BY k.id DESC", comparisonOf,
                       to);
    });
}

Result<std::vector<ChangeRecord>> ChangesBook::changesOf(std::int64_t comparison) const
{
    return store_.read([&](SQLite::Database& db) {
        return allRows(db, std::string(kChangeColumns) + "WHERE c.comparison=? ORDER BY c.number", changeOf,
                       comparison);
    });
}

Result<std::vector<ChangeRecord>> ChangesBook::current() const
{
    return store_.read([](SQLite::Database& db) {
        return allRows(db,
                       std::string(kChangeColumns) + "WHERE c.comparison IN " + kComparisonsInForce +
                           " ORDER BY d.place, c.number",
                       changeOf);
    });
}

Result<std::vector<ChangeRecord>> ChangesBook::get(std::span<const ChangeKey> keys) const
{
    return store_.read([&](SQLite::Database& db) {
        std::vector<ChangeRecord> list;
        SQLite::Statement q(db, std::string(kChangeColumns) + "WHERE c.comparison=? AND c.number=?");
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

namespace {

std::vector<ComparisonRecord> comparisonsIn(SQLite::Database& db, std::span<const std::int64_t> ids)
{
    std::vector<ComparisonRecord> found;
    for (const std::int64_t id : ids)
        for (ComparisonRecord& k : allRows(db, std::string(kComparisonColumns) + "WHERE k.id=?", comparisonOf, id))
            found.push_back(std::move(k));
    return found;
}

} // namespace

Result<std::vector<ComparisonRecord>> ChangesBook::find(std::span<const std::int64_t> comparisons) const
{
    return store_.read([&](SQLite::Database& db) { return comparisonsIn(db, comparisons); });
}

Result<std::vector<ComparisonRecord>> ChangesBook::asked() const
{
    return store_.read([](SQLite::Database& db) {
        return allRows(db, std::string(kComparisonColumns) + "WHERE k.isAsked=1 ORDER BY k.id DESC", comparisonOf);
    });
}

Result<ChangeBriefs> ChangesBook::briefs(std::span<const std::int64_t> comparisons) const
{
    return store_.read([&](SQLite::Database& db) {
        ChangeBriefs all;
        all.comparisons = comparisons.empty() ? allRows(db,
                                                        std::string(kComparisonColumns) + "WHERE k.id IN " +
                                                            kComparisonsInForce + " ORDER BY d.place",
                                                        comparisonOf)
                                              : comparisonsIn(db, comparisons);
        std::unordered_map<std::string, std::uint32_t> known{{"", 0}};
        SQLite::Statement q(db, "SELECT c.number, c.kinds, c.storey, c.className, c.type, c.system, c.zone, c.phase, "
                                "COALESCE(r.review, ''), c.alike, c.lowX, c.lowY, c.lowZ, c.highX, c.highY, c.highZ, "
                                "c.guid, c.part, c.ordinal, k.discipline FROM changes c JOIN comparisons k ON "
                                "k.id=c.comparison LEFT JOIN reviews r ON r.comparison=c.comparison AND "
                                "r.number=c.number WHERE c.comparison=? ORDER BY c.number");
        const auto wordAt = [&](int column) {
            const auto [at, isNew] =
                known.try_emplace(q.getColumn(column).getText(""), static_cast<std::uint32_t>(all.words.size()));
            if (isNew)
                all.words.push_back(at->first);
            return at->second;
        };
        for (const ComparisonRecord& k : all.comparisons) {
            q.reset();
            q.bind(1, k.id);
            while (q.executeStep()) {
                ChangeBrief c;
                c.key = {k.id, q.getColumn(0).getInt64()};
                c.kinds = static_cast<unsigned>(q.getColumn(1).getInt());
                c.storey = wordAt(2);
                c.className = wordAt(3);
                c.type = wordAt(4);
                c.system = wordAt(5);
                c.zone = wordAt(6);
                c.phase = wordAt(7);
                c.review = wordAt(8);
                c.alike = q.getColumn(9).getInt64();
                if (!q.getColumn(10).isNull()) {
                    c.place.add(point(q, 10));
                    c.place.add(point(q, 13));
                }
                c.element = {q.getColumn(19).getInt64(), text(q, 17), text(q, 16),
                             static_cast<std::uint32_t>(q.getColumn(18).getInt64())};
                c.part = wordAt(17);
                all.changes.push_back(std::move(c));
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
            for (const ChangeKind kind : kAllChangeKinds)
                if ((q.getColumn(0).getInt() & static_cast<int>(kind)) != 0)
                    counts[kind] += count(q, 1);
        return counts;
    });
}

Result<std::size_t> ChangesBook::toReview() const
{
    return store_.read([](SQLite::Database& db) {
        const std::string in = std::string("IN ") + kComparisonsInForce;
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
        SQLite::Statement before(
            db, "SELECT c.oldPart, c.oldGuid, c.oldOrdinal FROM continuations c JOIN comparisons k ON "
                "k.id=c.comparison WHERE k.isAsked=0 AND c.guid=? AND c.part=? AND c.ordinal=? AND k.discipline=?");
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
        SQLite::Statement q(db, std::string(kChangeColumns) +
                                    "WHERE k.isAsked=0 AND c.guid=? AND c.part=? AND c.ordinal=? AND "
                                    "k.discipline=?");
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
                        "c.comparison=k.id WHERE k.isAsked=0 AND (c.kinds & ?)=0 AND k.toDelivery IN (SELECT delivery "
                        "FROM taken "
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
        auto list = allRows(db,
                            std::string(kChangeColumns) + "WHERE (c.guid=? OR c.oldGuid=?) AND c.comparison IN " +
                                kComparisonsInForce,
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
                   "continuations c JOIN comparisons k ON k.id=c.comparison WHERE k.isAsked=0",
                   [](SQLite::Statement& q) {
                       const auto ref = [&](int part) {
                           return ElementRef{q.getColumn(0).getInt64(), text(q, part), text(q, part + 1),
                                             static_cast<std::uint32_t>(q.getColumn(part + 2).getInt64())};
                       };
                       return Continuation{ref(1), ref(4)};
                   });
}

} // namespace wendrix::project
