#include "core/project/schema.h"

#include "core/project/rows.h"

namespace wendrix::project {

namespace {

// The log and the numbers belong to the store itself.
constexpr const char* kStoreTables[] = {
    "CREATE TABLE events (id INTEGER PRIMARY KEY, time TEXT, person TEXT, books INTEGER, what TEXT, subject TEXT, step "
    "INTEGER, reverts INTEGER)",
    "CREATE INDEX eventsBySubject ON events(subject)",
    "CREATE TABLE steps (id INTEGER PRIMARY KEY, person TEXT, what TEXT, standing INTEGER, changes TEXT, size INTEGER)",
    "CREATE INDEX stepsByPerson ON steps(person, standing)",
    "CREATE TABLE counters (name TEXT PRIMARY KEY, value INTEGER)",
};

} // namespace

void makeTables(SQLite::Database& db, std::span<const Table> tables, std::span<const char* const> indexes)
{
    for (const char* sql : kStoreTables)
        db.exec(sql);
    for (const Table& table : tables)
        db.exec(std::string("CREATE TABLE ") + table.name + " (" + table.columns + ")");
    for (const char* sql : indexes)
        db.exec(sql);
}

std::vector<TableShape> shapesOf(SQLite::Database& db, std::span<const Table> tables)
{
    std::vector<TableShape> shapes;
    for (const Table& table : tables) {
        TableShape shape{table.name, table.book, table.keeping, {}, {}};
        std::vector<std::pair<int, std::size_t>> key; // place in the key, column
        SQLite::Statement q(db, std::string("PRAGMA table_info(") + table.name + ")");
        while (q.executeStep()) {
            if (const int place = q.getColumn(5).getInt(); place > 0)
                key.emplace_back(place, shape.columns.size());
            shape.columns.push_back(text(q, 1));
        }
        std::sort(key.begin(), key.end());
        for (const auto& [place, column] : key)
            shape.key.push_back(column);
        shapes.push_back(std::move(shape));
    }
    return shapes;
}

std::int64_t nextNumber(SQLite::Database& db, const std::string& of)
{
    SQLite::Statement q(
        db, "INSERT INTO counters VALUES(?, 1) ON CONFLICT(name) DO UPDATE SET value=counters.value+1 RETURNING value");
    q.bind(1, of);
    q.executeStep();
    const std::int64_t number = q.getColumn(0).getInt64();
    while (q.executeStep()) {
    }
    return number;
}

void skipNumbers(SQLite::Database& db, const std::string& of, std::int64_t upTo)
{
    run(db,
        "INSERT INTO counters VALUES(?, ?) ON CONFLICT(name) DO UPDATE SET value=excluded.value WHERE "
        "counters.value<excluded.value",
        of, upTo);
}

} // namespace wendrix::project
