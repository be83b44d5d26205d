#include "core/project/clashes_book.h"
#include "core/project/rows.h"

#include <algorithm>

/// How test sheets are kept.
namespace wendrix::project {

namespace {

constexpr const char* kSheetColumns = "SELECT v.body, s.isOn, v.version, v.person, v.time, v.sheet FROM sheetVersions "
                                      "v JOIN testSheets s ON s.name=v.sheet ";

KeptSheet sheetOf(SQLite::Statement& q)
{
    KeptSheet kept;
    // Another program may have written it; what can not be read is a sheet without tests, and its earlier versions are
    // there still.
    if (auto sheet = clash::sheetFromJson(text(q, 0)))
        kept.sheet = std::move(*sheet);
    kept.sheet.name = text(q, 5);
    kept.isOn = q.getColumn(1).getInt() != 0;
    kept.version = q.getColumn(2).getInt();
    kept.by = {text(q, 3), text(q, 4)};
    return kept;
}

Deed deed(std::string what) { return {Book::Clashes, std::move(what)}; }

void mustBeThere(SQLite::Database& db, const std::string& sheet)
{
    if (numberOr(db, "SELECT COUNT(*) FROM testSheets WHERE name=?", sheet) == 0)
        throw Refused{{clash::kBadSheet, "There is no test sheet called " + sheet + " any more."}};
}

} // namespace

Result<std::vector<KeptSheet>> ClashesBook::sheets() const
{
    return store_.read([](SQLite::Database& db) {
        return allRows(db, std::string(kSheetColumns) + "WHERE v.version=s.version ORDER BY s.place, s.name", sheetOf);
    });
}

Result<std::vector<KeptSheet>> ClashesBook::versionsOf(const std::string& sheet) const
{
    return store_.read([&](SQLite::Database& db) {
        return allRows(db, std::string(kSheetColumns) + "WHERE v.sheet=? ORDER BY v.version", sheetOf, sheet);
    });
}

Result<void> ClashesBook::keepSheet(const clash::TestSheet& sheet, const std::string& what, const WhoAndWhen& who)
{
    if (sheet.name.empty())
        return fail({clash::kBadSheet, "A test sheet needs a name."});
    return store_.act(deed(what), who, [&](SQLite::Database& db) {
        // What nobody ran and nobody else saw is not worth a version: a person goes on with it.
        const std::int64_t own =
            numberOr(db,
                     "SELECT v.version FROM sheetVersions v JOIN testSheets s ON s.name=v.sheet AND "
                     "s.version=v.version WHERE v.sheet=? AND v.person=? AND v.version=(SELECT MAX(version) FROM "
                     "sheetVersions WHERE sheet=v.sheet) AND NOT EXISTS (SELECT 1 FROM runs WHERE time>=v.time)",
                     sheet.name, who.person);
        if (own > 0) {
            run(db, "UPDATE sheetVersions SET body=?, time=? WHERE sheet=? AND version=?", clash::toJson(sheet),
                who.time, sheet.name, own);
            return;
        }
        const std::int64_t version =
            1 + numberOr(db, "SELECT COALESCE(MAX(version), 0) FROM sheetVersions WHERE sheet=?", sheet.name);
        run(db, "INSERT INTO sheetVersions VALUES(?, ?, ?, ?, ?)", sheet.name, version, clash::toJson(sheet),
            who.person, who.time);
        run(db,
            "INSERT INTO testSheets VALUES(?, (SELECT COALESCE(MAX(place), 0) + 1 FROM testSheets), 1, ?) ON "
            "CONFLICT(name) DO UPDATE SET version=excluded.version",
            sheet.name, version);
    });
}

Result<void> ClashesBook::switchSheet(const std::string& sheet, bool isOn, const WhoAndWhen& who)
{
    return store_.act(deed(std::string("Test sheet switched ") + (isOn ? "on: " : "off: ") + sheet), who,
                      [&](SQLite::Database& db) {
                          mustBeThere(db, sheet);
                          run(db, "UPDATE testSheets SET isOn=? WHERE name=?", isOn ? 1 : 0, sheet);
                      });
}

Result<void> ClashesBook::renameSheet(const std::string& from, const std::string& to, const WhoAndWhen& who)
{
    if (to.empty())
        return fail({clash::kBadSheet, "A test sheet needs a name."});
    return store_.act(deed("Test sheet renamed: " + from + " is " + to + " now"), who, [&](SQLite::Database& db) {
        mustBeThere(db, from);
        if (numberOr(db, "SELECT COUNT(*) FROM testSheets WHERE name=?", to) > 0)
            throw Refused{{clash::kBadSheet, "There is a test sheet called " + to + " already."}};
        run(db, "UPDATE testSheets SET name=? WHERE name=?", to, from);
        run(db, "UPDATE sheetVersions SET sheet=? WHERE sheet=?", to, from);
    });
}

Result<void> ClashesBook::removeSheet(const std::string& sheet, const WhoAndWhen& who)
{
    return store_.act(deed("Test sheet removed: " + sheet), who, [&](SQLite::Database& db) {
        mustBeThere(db, sheet);
        run(db, "DELETE FROM sheetVersions WHERE sheet=?", sheet);
        run(db, "DELETE FROM testSheets WHERE name=?", sheet);
    });
}

void ClashesBook::renameDiscipline(SQLite::Database& db, const std::string& from, const std::string& to)
{
    // Only what is in force: earlier versions say what was called so then.
    for (KeptSheet& kept : allRows(db, std::string(kSheetColumns) + "WHERE v.version=s.version", sheetOf)) {
        clash::renameDiscipline(kept.sheet, from, to);
        run(db, "UPDATE sheetVersions SET body=? WHERE sheet=? AND version=? AND body<>?", clash::toJson(kept.sheet),
            kept.sheet.name, kept.version, clash::toJson(kept.sheet));
    }
}

Result<std::vector<ExpectedPair>> ClashesBook::expected(std::size_t most) const
{
    return store_.read([&](SQLite::Database& db) {
        // After an undo the last run is another one, and nothing is known of what that left out.
        return allRows(
            db,
            "SELECT t.name, e.rule, a.discipline, a.part, a.guid, a.ordinal, a.name, a.class, b.discipline, b.part, "
            "b.guid, b.ordinal, b.name, b.class FROM expectedPairs e JOIN elements a ON a.id=e.leftElement JOIN "
            "elements b ON b.id=e.rightElement JOIN runTests t ON t.run=e.run AND t.place=e.test WHERE e.run=(SELECT "
            "MAX(id) FROM runs) ORDER BY e.id LIMIT ?",
            [](SQLite::Statement& q) {
                const auto element = [&](int first) {
                    return RunElement{{q.getColumn(first).getInt64(), text(q, first + 1), text(q, first + 2),
                                       static_cast<std::uint32_t>(q.getColumn(first + 3).getInt64())},
                                      text(q, first + 4),
                                      text(q, first + 5),
                                      {},
                                      {}};
                };
                return ExpectedPair{text(q, 0), static_cast<clash::Meeting>(q.getColumn(1).getInt()), element(2),
                                    element(8)};
            },
            static_cast<std::int64_t>(most));
    });
}

} // namespace wendrix::project
