#include "core/project/store.h"

#include <algorithm>
#include <utility>
#include <vector>

namespace wendrix::project {

namespace {

constexpr int kVersion = 6;

// Tables that actions change; each gets undo triggers.
struct Table {
    const char* name;
    const char* columns;
};
constexpr Table kTables[] = {
    {"meta", "key TEXT PRIMARY KEY, value TEXT"},
    {"disciplines", "name TEXT PRIMARY KEY, company TEXT, colour TEXT, place INTEGER, isReference INTEGER, people TEXT, dropFolder TEXT, leftOut TEXT"},
    {"personGroups", "name TEXT, person TEXT, PRIMARY KEY (name, person)"},
    {"federations", "name TEXT PRIMARY KEY, isRetired INTEGER, place INTEGER"},
    {"federationParts", "federation TEXT, discipline TEXT, isRetired INTEGER, PRIMARY KEY (federation, discipline)"},
    {"deliveries",
     "id INTEGER PRIMARY KEY, discipline TEXT, revision TEXT, title TEXT, cycle INTEGER, time TEXT, sender TEXT, "
     "fileName TEXT, sha256 TEXT, projectGuid TEXT, schema TEXT, elements INTEGER, declined TEXT, note TEXT, suitability TEXT, lookedAtBy TEXT, lookedAtAt TEXT"},
    {"documents", "delivery INTEGER, place INTEGER, fileName TEXT, sha256 TEXT, PRIMARY KEY (delivery, place)"},
    {"moreModels", "delivery INTEGER, place INTEGER, fileName TEXT, sha256 TEXT, schema TEXT, elements INTEGER, PRIMARY KEY (delivery, place)"},
    {"holds", "discipline TEXT PRIMARY KEY, until TEXT, reason TEXT, person TEXT, time TEXT"},
    // Every taking in, so that the composition of each cycle can be told.
    {"taken", "id INTEGER PRIMARY KEY, discipline TEXT, delivery INTEGER, cycle INTEGER, person TEXT, time TEXT"},
    {"specifications", "name TEXT PRIMARY KEY, text TEXT, person TEXT, time TEXT"},
    {"composition", "discipline TEXT PRIMARY KEY, delivery INTEGER, takenBy TEXT, takenAt TEXT"},
    {"fits", "discipline TEXT PRIMARY KEY, scale REAL, rotation REAL, x REAL, y REAL, z REAL, locked INTEGER, "
             "method TEXT, worst REAL, person TEXT, time TEXT"},
    {"tests", "name TEXT PRIMARY KEY, leftSide TEXT, rightSide TEXT, tolerance REAL, place INTEGER"},
    {"runs", "id INTEGER PRIMARY KEY, time TEXT, person TEXT, cycle INTEGER, composition TEXT"},
    {"pairs", "id TEXT PRIMARY KEY, test TEXT, leftGuid TEXT, rightGuid TEXT, leftName TEXT, rightName TEXT, "
              "leftRevision TEXT, rightRevision TEXT, state INTEGER, depth REAL, x REAL, y REAL, z REAL, storey TEXT, "
              "bay TEXT, firstRun INTEGER, decision TEXT, reason TEXT, decidedBy TEXT, decidedAt TEXT, issue TEXT"},
    {"pairRuns", "pair TEXT, run INTEGER, state INTEGER, depth REAL, PRIMARY KEY (pair, run)"},
    {"changes", "discipline TEXT, fromDelivery INTEGER, toDelivery INTEGER, guid TEXT, oldGuid TEXT, kinds TEXT, "
                "name TEXT, storey TEXT, sx REAL, sy REAL, sz REAL, addedVolume REAL, removedVolume REAL, fields TEXT, "
                "review TEXT, reviewedBy TEXT, reviewedAt TEXT, PRIMARY KEY (discipline, fromDelivery, toDelivery, guid)"},
    {"issues", "uuid TEXT PRIMARY KEY, number TEXT, title TEXT, description TEXT, type TEXT, status TEXT, "
               "priority TEXT, stage TEXT, assignee TEXT, createdBy TEXT, createdAt TEXT, modifiedBy TEXT, "
               "modifiedAt TEXT, dueAt TEXT, labels TEXT, storey TEXT, bay TEXT"},
    {"comments", "uuid TEXT PRIMARY KEY, issue TEXT, time TEXT, author TEXT, text TEXT, viewpoint TEXT"},
    {"keptViews", "uuid TEXT, version INTEGER, title TEXT, folder TEXT, description TEXT, isShared INTEGER, state TEXT, "
                  "picture TEXT, person TEXT, time TEXT, removed INTEGER, PRIMARY KEY (uuid, version)"},
    {"notes", "uuid TEXT PRIMARY KEY, number INTEGER, x REAL, y REAL, z REAL, state TEXT, picture TEXT, removed INTEGER"},
    {"noteWords", "id INTEGER PRIMARY KEY, note TEXT, status TEXT, words TEXT, person TEXT, time TEXT"},
    {"memberGroups", "name TEXT, discipline TEXT, PRIMARY KEY (name, discipline)"},
    {"viewpoints", "uuid TEXT PRIMARY KEY, issue TEXT, place INTEGER, view TEXT, picture TEXT"},
};

constexpr const char* kOwnTables[] = {
    "CREATE TABLE IF NOT EXISTS history (id INTEGER PRIMARY KEY, time TEXT, person TEXT, what TEXT)",
    "CREATE TABLE IF NOT EXISTS undoSteps (id INTEGER PRIMARY KEY, stack TEXT, what TEXT)",
    "CREATE TABLE IF NOT EXISTS undoLog (seq INTEGER PRIMARY KEY, step INTEGER, sql TEXT)",
    // The step being recorded; no row outside an action, and then triggers write nothing.
    "CREATE TABLE IF NOT EXISTS undoCurrent (step INTEGER)",
    "CREATE INDEX IF NOT EXISTS commentsByIssue ON comments(issue)",
    "CREATE INDEX IF NOT EXISTS wordsByNote ON noteWords(note)",
    "CREATE INDEX IF NOT EXISTS viewpointsByIssue ON viewpoints(issue)",
    "CREATE INDEX IF NOT EXISTS deliveriesByDiscipline ON deliveries(discipline)",
    "CREATE INDEX IF NOT EXISTS deliveriesBySum ON deliveries(sha256)",
    // Holds all that is counted, so that counting a hundred thousand changes reads nothing else.
    "DROP INDEX IF EXISTS changesByDelivery",
    "CREATE INDEX IF NOT EXISTS changesCounted ON changes(discipline, toDelivery, kinds, review)",
    "CREATE INDEX IF NOT EXISTS changesByGuid ON changes(guid)",
    "CREATE INDEX IF NOT EXISTS changesByOldGuid ON changes(oldGuid)",
    "CREATE INDEX IF NOT EXISTS pairsByIssue ON pairs(issue)",
    "CREATE INDEX IF NOT EXISTS undoLogByStep ON undoLog(step)",
};

struct Column {
    std::string name;
    bool isRowId; ///< INTEGER PRIMARY KEY: another name of the row's own number
};

std::vector<Column> columnsOf(SQLite::Database& db, const std::string& table)
{
    std::vector<Column> columns;
    SQLite::Statement query(db, "PRAGMA table_info(" + table + ")");
    while (query.executeStep())
        columns.push_back({query.getColumn(1).getString(),
                           query.getColumn(2).getString() == "INTEGER" && query.getColumn(5).getInt() == 1});
    return columns;
}

/// Adds the columns that a table of an older project lacks; they are always declared last.
void addColumns(SQLite::Database& db, const Table& table)
{
    std::vector<Column> there = columnsOf(db, table.name);
    const std::string declared = table.columns;
    for (std::size_t at = 0; at < declared.size();) {
        const std::size_t end = std::min(declared.find(',', at), declared.size());
        const std::string one = declared.substr(at, end - at);
        const std::size_t from = one.find_first_not_of(' '), to = one.find(' ', from);
        const std::string name = one.substr(from, to - from);
        if (name == "PRIMARY")
            return; // the key closes a declaration
        if (std::none_of(there.begin(), there.end(), [&](const Column& c) { return c.name == name; }))
            db.exec(std::string("ALTER TABLE ") + table.name + " ADD COLUMN " + one.substr(from) + " DEFAULT ''");
        at = end + 1;
    }
}

void makeTriggers(SQLite::Database& db, const std::string& table)
{
    // Each is an SQL expression that spells out the statement which puts the row back.
    std::string remove = "'DELETE FROM " + table + " WHERE rowid='||new.rowid";
    std::string update = "'UPDATE " + table + " SET '", names = "rowid", values = "old.rowid";
    bool isFirst = true;
    for (const Column& column : columnsOf(db, table)) {
        update += std::string("||'") + (isFirst ? "" : ",") + column.name + "='||quote(old." + column.name + ")";
        isFirst = false;
        if (column.isRowId)
            continue;
        names += "," + column.name;
        values += "||','||quote(old." + column.name + ")";
    }
    update += "||' WHERE rowid='||old.rowid";
    const std::string insert = "'INSERT INTO " + table + "(" + names + ") VALUES('||" + values + "||')'";
    for (const auto& [event, sql] : {std::pair<std::string, std::string>{"INSERT", remove}, {"UPDATE", update}, {"DELETE", insert}}) {
        db.exec("DROP TRIGGER IF EXISTS undo_" + table + "_" + event); // an older project has those of its time
        db.exec("CREATE TRIGGER undo_" + table + "_" + event + " AFTER " + event + " ON " + table +
                " WHEN EXISTS (SELECT 1 FROM undoCurrent) BEGIN INSERT INTO undoLog(step, sql) SELECT step, " + sql +
                " FROM undoCurrent; END");
    }
}

void writeHistory(SQLite::Database& db, const std::string& what, const WhoAndWhen& who)
{
    SQLite::Statement line(db, "INSERT INTO history(time, person, what) VALUES(?, ?, ?)");
    line.bind(1, who.time);
    line.bind(2, who.person);
    line.bind(3, what);
    line.exec();
}

Error storeError(const std::exception& e)
{
    return {kStoreFailed, std::string("The project could not be read or written: ") + e.what() + ". Nothing was changed."};
}

} // namespace

Store::Store(const std::filesystem::path& path)
    : database_(path.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE, 5000)
{
}

Result<std::unique_ptr<Store>> Store::open(const std::filesystem::path& path)
{
    try {
        std::unique_ptr<Store> store(new Store(path));
        store->database_.exec("PRAGMA journal_mode=WAL");
        // An action that is on the screen as done is on the disk, even if the power goes.
        store->database_.exec("PRAGMA synchronous=FULL");
        const int version = store->database_.execAndGet("PRAGMA user_version").getInt();
        if (version > kVersion)
            return fail({kStoreFailed, "The project was written by a newer Wendrix; open it with that one.", path.string()});
        store->makeTables();
        return store;
    } catch (const std::exception& e) {
        Error error = storeError(e);
        error.file = path.string();
        return fail(std::move(error));
    }
}

void Store::makeTables()
{
    SQLite::Transaction transaction(database_);
    const int before = database_.execAndGet("PRAGMA user_version").getInt();
    if (before != kVersion) {
        for (const Table& table : kTables) {
            database_.exec(std::string("CREATE TABLE IF NOT EXISTS ") + table.name + " (" + table.columns + ")");
            addColumns(database_, table);
        }
        for (const char* sql : kOwnTables)
            database_.exec(sql);
        for (const Table& table : kTables)
            makeTriggers(database_, table.name);
        if (before > 0 && before < 4) // what is in use was taken in at some time; since when it is the composition, is known
            database_.exec("INSERT INTO taken(discipline, delivery, cycle, person, time) SELECT c.discipline, c.delivery, d.cycle, "
                           "c.takenBy, c.takenAt FROM composition c JOIN deliveries d ON d.id=c.delivery");
        database_.exec("PRAGMA user_version=" + std::to_string(kVersion));
    }
    transaction.commit();
}

Result<void> Store::act(const std::string& what, const WhoAndWhen& who,
                        const std::function<void(SQLite::Database&)>& change)
{
    if (!isTogether_)
        return together(what, [&] { return act(what, who, change); });
    try {
        change(database_);
        writeHistory(database_, what, who);
        return {};
    } catch (const std::exception& e) {
        return fail(storeError(e));
    }
}

Result<void> Store::together(const std::string& what, const std::function<Result<void>()>& several)
{
    if (!readOnly_.empty())
        return fail({kReadOnly, readOnly_});
    try {
        SQLite::Transaction transaction(database_, SQLite::TransactionBehavior::IMMEDIATE);
        SQLite::Statement step(database_, "INSERT INTO undoSteps(stack, what) VALUES('undo', ?)");
        step.bind(1, what);
        step.exec();
        database_.exec("INSERT INTO undoCurrent SELECT max(id) FROM undoSteps");
        isTogether_ = true;
        Result<void> done;
        try {
            done = several();
        } catch (...) {
            isTogether_ = false;
            throw;
        }
        isTogether_ = false;
        if (!done)
            return done; // the transaction goes back
        database_.exec("DELETE FROM undoCurrent");
        // What was undone before can not be redone on top of something new.
        database_.exec("DELETE FROM undoLog WHERE step IN (SELECT id FROM undoSteps WHERE stack='redo')");
        database_.exec("DELETE FROM undoSteps WHERE stack='redo'");
        transaction.commit();
        return {};
    } catch (const std::exception& e) {
        return fail(storeError(e));
    }
}

Result<void> Store::record(const std::string& what, const WhoAndWhen& who, const std::function<void(SQLite::Database&)>& change)
{
    if (!readOnly_.empty())
        return fail({kReadOnly, readOnly_});
    try {
        SQLite::Transaction transaction(database_, SQLite::TransactionBehavior::IMMEDIATE);
        change(database_);
        writeHistory(database_, what, who);
        transaction.commit();
        return {};
    } catch (const std::exception& e) {
        return fail(storeError(e));
    }
}

Result<void> Store::stepBack(const char* from, const char* to, const char* verb, const WhoAndWhen& who)
{
    if (!readOnly_.empty())
        return fail({kReadOnly, readOnly_});
    try {
        SQLite::Transaction transaction(database_, SQLite::TransactionBehavior::IMMEDIATE);
        SQLite::Statement last(database_, "SELECT id, what FROM undoSteps WHERE stack=? ORDER BY id DESC LIMIT 1");
        last.bind(1, from);
        if (!last.executeStep())
            return {};
        const std::int64_t id = last.getColumn(0).getInt64();
        const std::string what = last.getColumn(1).getString();
        last.reset();
        std::vector<std::string> statements;
        SQLite::Statement log(database_, "SELECT sql FROM undoLog WHERE step=? ORDER BY seq DESC");
        log.bind(1, id);
        while (log.executeStep())
            statements.push_back(log.getColumn(0).getString());
        log.reset();
        // Taking back is recorded like any change, so that it can be taken back itself.
        SQLite::Statement step(database_, "INSERT INTO undoSteps(stack, what) VALUES(?, ?)");
        step.bind(1, to);
        step.bind(2, what);
        step.exec();
        database_.exec("INSERT INTO undoCurrent SELECT max(id) FROM undoSteps");
        for (const std::string& sql : statements)
            database_.exec(sql);
        database_.exec("DELETE FROM undoCurrent");
        database_.exec("DELETE FROM undoLog WHERE step=" + std::to_string(id));
        database_.exec("DELETE FROM undoSteps WHERE id=" + std::to_string(id));
        writeHistory(database_, std::string(verb) + what, who);
        transaction.commit();
        return {};
    } catch (const std::exception& e) {
        return fail(storeError(e));
    }
}

Result<void> Store::undo(const WhoAndWhen& who) { return stepBack("undo", "redo", "Undone: ", who); }
Result<void> Store::redo(const WhoAndWhen& who) { return stepBack("redo", "undo", "Done again: ", who); }

std::string Store::label(const char* stack) const
{
    SQLite::Statement last(database_, "SELECT what FROM undoSteps WHERE stack=? ORDER BY id DESC LIMIT 1");
    last.bind(1, stack);
    return last.executeStep() ? last.getColumn(0).getString() : std::string();
}

std::string Store::undoable() const { return label("undo"); }
std::string Store::redoable() const { return label("redo"); }

} // namespace wendrix::project
