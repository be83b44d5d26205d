#include "core/project/migration.h"

#include "core/project/books.h"
#include "core/project/rows.h"

#include <algorithm>
#include <map>
#include <set>

namespace wendrix::project {

namespace {

/// The tables of the version before, out of the way of those of this one.
constexpr const char* kBefore = "before_";

std::vector<std::string> namesOf(SQLite::Database& db, const char* kind)
{
    return allRows(
        db, "SELECT name FROM sqlite_master WHERE type=? AND name NOT LIKE 'sqlite_%'",
        [](SQLite::Statement& q) { return text(q, 0); }, std::string(kind));
}

std::set<std::string> columnsOf(SQLite::Database& db, const std::string& table)
{
    std::set<std::string> columns;
    SQLite::Statement q(db, "PRAGMA table_info(" + table + ")");
    while (q.executeStep())
        columns.insert(text(q, 1));
    return columns;
}

/// A name from the file as SQL has names; what stands in it is never read as anything else.
std::string quoted(const std::string& name)
{
    std::string text = "\"";
    for (const char c : name)
        text += c == '"' ? std::string("\"\"") : std::string(1, c);
    return text + "\"";
}

class Migration {
public:
    Migration(SQLite::Database& db, int version) : db_(db), version_(version) {}

    void run()
    {
        putAside({"pairRuns", "history", "changes", "tests"});
        for (const char* table :
             {"meta", "personGroups", "federations", "federationParts", "specifications", "memberGroups", "deliveries",
              "documents", "moreModels", "holds", "taken", "composition", "keptViews", "notes", "noteWords"})
            copy(table);
        disciplines();
        deliveries();
        fits();
        issues();
        runs();
        comparisons();
        plainComparisons();
        plainIssues();
        db_.exec("UPDATE decisions SET seen=(SELECT COALESCE(MAX(id), 0) FROM comparisons)");
        history();
        dropBefore();
        for (const char* table : {"undoSteps", "undoLog", "undoCurrent"})
            db_.exec(std::string("DROP TABLE IF EXISTS ") + table);
        skipNumbers(db_, "delivery", numberOr(db_, "SELECT COALESCE(MAX(id), 0) FROM deliveries"));
        skipNumbers(db_, "note", numberOr(db_, "SELECT COALESCE(MAX(number), 0) FROM notes"));
    }

    /// Version 11 knew of no requirements that issues want to be met.
    void runFromEleven()
    {
        putAside({"events", "steps", "counters"});
        for (const Table& table : allTables())
            copy(table.name);
        for (const char* table : {"events", "steps", "counters"})
            copy(table);
        dropBefore();
    }

    /// Version 10 had issues of fewer fields, and comments and viewpoints that were nobody else's.
    void runFromTen()
    {
        putAside({"events", "steps", "counters"});
        for (const Table& table : allTables())
            copy(table.name);
        for (const char* table : {"events", "steps", "counters"})
            copy(table);
        plainIssues();
        dropBefore();
    }

    /// Version 9 had comparisons that said less: how far surfaces may lie apart instead of a rule, and nothing of kinds
    /// and places to narrow by.
    void runFromNine()
    {
        putAside({"events", "steps", "counters"});
        for (const Table& table : allTables())
            copy(table.name);
        for (const char* table : {"events", "steps", "counters"})
            copy(table);
        plainComparisons();
        plainIssues();
        dropBefore();
    }

    /// Version 8 had all of it but tests that stay as they were run before, and templates of issues.
    void runFromEight()
    {
        putAside({"events", "steps", "counters"});
        for (const Table& table : allTables())
            copy(table.name);
        for (const char* table : {"events", "steps", "counters"})
            copy(table);
        db_.exec("UPDATE runTests SET askedIn=run");
        plainComparisons();
        plainIssues();
        dropBefore();
    }

    /// Version 7 had no test sheets either.
    void runFromSeven()
    {
        putAside({"events", "steps", "counters", "tests"});
        for (const Table& table : allTables())
            copy(table.name);
        for (const char* table : {"events", "steps", "counters"})
            copy(table);
        sheetOfTests();
        for (const char* table : {"runTests", "present", "findings"})
            for (const char* column : {"clearance", "direction", "joint", "distance", "isOpen"})
                if (columnsOf(db_, table).contains(column))
                    db_.exec(std::string("UPDATE ") + table + " SET " + column + "=0");
        linesOfSides();
        db_.exec("UPDATE runTests SET askedIn=run");
        db_.exec("UPDATE decisions SET seen=(SELECT COALESCE(MAX(id), 0) FROM comparisons)");
        db_.exec("UPDATE steps SET standing=0, changes='', size=0 WHERE changes LIKE '%\"tests\"%'");
        plainComparisons();
        plainIssues();
        dropBefore();
    }

private:
    /// What earlier issues did not say.
    void plainIssues()
    {
        for (const char* column :
             {"requestedBy", "cause", "startAt", "storey", "bay", "space", "custom", "more", "madeFrom", "origins"})
            db_.exec(std::string("UPDATE issues SET ") + column + "='' WHERE " + column + " IS NULL");
        for (const char* column : {"modifiedAt", "modifiedBy"})
            db_.exec(std::string("UPDATE comments SET ") + column + "='' WHERE " + column + " IS NULL");
        db_.exec("UPDATE issues SET madeFrom='clash' WHERE uuid IN (SELECT issue FROM decisions)");
        // Their rows have other columns now, so these steps can no longer be taken back.
        if (before_.contains("steps"))
            for (const char* table : {"issues", "comments", "viewpoints"})
                db_.exec(std::string("UPDATE steps SET standing=0, changes='', size=0 WHERE changes LIKE '%\"") +
                         table + "\"%'");
    }

    /// What earlier comparisons did not say; none of them was asked for.
    void plainComparisons()
    {
        db_.exec("UPDATE comparisons SET isAsked=0, leftOut=0, rule=''");
        if (has("comparisons") && before_["comparisons"].contains("tolerance"))
            db_.exec(
                "UPDATE comparisons SET rule='{\"distanceMetres\":' || (SELECT b.tolerance FROM before_comparisons "
                "b WHERE b.id=comparisons.id) || '}'");
        for (const char* column : {"parts", "className", "type", "system", "zone", "phase", "extents"})
            db_.exec(std::string("UPDATE changes SET ") + column + "=''");
        for (const char* column : {"lowX", "lowY", "lowZ", "highX", "highY", "highZ"})
            db_.exec(std::string("UPDATE changes SET ") + column + "=NULL");
        // Their rows have other columns now, so these steps can no longer be taken back.
        if (before_.contains("steps"))
            db_.exec("UPDATE steps SET standing=0, changes='', size=0 WHERE changes LIKE '%\"comparisons\"%'");
        db_.exec("UPDATE changes SET turn=0, ax=0, ay=0, az=1, confidence=1, volumeBefore=0, volumeAfter=0, alike=0");
    }

    /// The tables of then out of the way, those of now made.
    void putAside(std::set<std::string> known)
    {
        for (const std::string& trigger : namesOf(db_, "trigger"))
            db_.exec("DROP TRIGGER " + quoted(trigger));
        for (const std::string& index : namesOf(db_, "index"))
            db_.exec("DROP INDEX " + quoted(index));
        for (const Table& table : allTables())
            known.insert(table.name);
        for (const std::string& table : namesOf(db_, "table"))
            if (known.contains(table)) {
                db_.exec("ALTER TABLE " + table + " RENAME TO " + kBefore + table);
                before_[table] = columnsOf(db_, kBefore + table);
            }
        makeTables(db_, allTables(), allIndexes());
    }
    void dropBefore()
    {
        for (const auto& [table, columns] : before_)
            db_.exec(std::string("DROP TABLE ") + kBefore + table);
    }

    /// Tests were between two disciplines; together they are a sheet.
    void sheetOfTests()
    {
        if (!has("tests"))
            return;
        clash::TestSheet sheet;
        sheet.name = "Tests";
        SQLite::Statement q(db_, "SELECT name, leftSide, rightSide, tolerance FROM before_tests ORDER BY place");
        while (q.executeStep()) {
            clash::Test test;
            test.name = text(q, 0);
            test.left = clash::lineOfDiscipline(text(q, 1));
            test.right = clash::lineOfDiscipline(text(q, 2));
            test.tolerance = q.getColumn(3).getDouble();
            test.ignored = clash::Meetings::none(); // as it was tested
            sheet.tests.push_back(std::move(test));
        }
        if (sheet.tests.empty())
            return;
        wendrix::project::run(db_, "INSERT INTO sheetVersions VALUES(?, 1, ?, '', '')", sheet.name,
                              clash::toJson(sheet));
        wendrix::project::run(db_, "INSERT INTO testSheets VALUES(?, 1, 1, 1)", sheet.name);
    }
    /// The sides of a run's tests were disciplines, too.
    void linesOfSides()
    {
        for (const char* side : {"leftSide", "rightSide"})
            for (const std::string& name : allRows(db_, std::string("SELECT DISTINCT ") + side + " FROM runTests",
                                                   [](SQLite::Statement& q) { return text(q, 0); }))
                wendrix::project::run(db_,
                                      (std::string("UPDATE runTests SET ") + side + "=? WHERE " + side + "=?").c_str(),
                                      clash::lineOfDiscipline(name), name);
        db_.exec("UPDATE runTests SET ignored='none', expected='', why=''");
    }

    [[nodiscard]] bool has(const std::string& table) const { return before_.contains(table); }

    /// The columns that both versions have; others are empty, as a new row of then would have been.
    void copy(const std::string& table)
    {
        if (!has(table))
            return;
        std::string to, from;
        const std::set<std::string> there = columnsOf(db_, table);
        for (const std::string& column : there) {
            to += (to.empty() ? "" : ", ") + column;
            from += (from.empty() ? "" : ", ") + (before_[table].contains(column) ? column : "''");
        }
        db_.exec("INSERT INTO " + table + "(" + to + ") SELECT " + from + " FROM " + kBefore + table);
    }

    void disciplines()
    {
        copy("disciplines");
        const auto names = allRows(db_, "SELECT name FROM disciplines ORDER BY place",
                                   [](SQLite::Statement& q) { return text(q, 0); });
        for (const std::string& name : names) {
            disciplines_[name] = nextNumber(db_, "discipline");
            wendrix::project::run(db_, "UPDATE disciplines SET id=? WHERE name=?", disciplines_[name], name);
        }
    }

    void deliveries()
    {
        if (version_ < 4) // what is in use was taken in at some time; since when it is the composition, is known
            db_.exec("INSERT INTO taken(discipline, delivery, cycle, person, time) SELECT c.discipline, c.delivery, "
                     "d.cycle, c.takenBy, c.takenAt FROM composition c JOIN deliveries d ON d.id=c.delivery");
    }

    void fits()
    {
        if (!has("fits"))
            return;
        // One fit held for every delivery of a discipline: it was made before all of them.
        SQLite::Statement q(db_, "SELECT discipline, scale, rotation, x, y, z, locked, method, worst, person, time "
                                 "FROM before_fits ORDER BY time, discipline");
        while (q.executeStep())
            wendrix::project::run(db_, "INSERT INTO fits VALUES(?, ?, 0, ?, ?, ?, ?, ?, ?, 0, ?, ?, '[]', ?, ?)",
                                  nextNumber(db_, "fit"), text(q, 0), q.getColumn(1).getDouble(),
                                  q.getColumn(2).getDouble(), q.getColumn(3).getDouble(), q.getColumn(4).getDouble(),
                                  q.getColumn(5).getDouble(), q.getColumn(6).getInt(), text(q, 7),
                                  q.getColumn(8).getDouble(), text(q, 9), text(q, 10));
    }

    void issues()
    {
        if (!has("issues"))
            return;
        SQLite::Statement q(
            db_, "SELECT uuid, number, title, description, type, status, priority, stage, assignee, createdBy, "
                 "createdAt, modifiedBy, modifiedAt, dueAt, labels FROM before_issues ORDER BY rowid");
        while (q.executeStep()) {
            const std::string number = text(q, 1);
            const std::size_t dash = number.rfind('-');
            const std::int64_t value = dash == std::string::npos ? 0 : std::atoll(number.c_str() + dash + 1);
            skipNumbers(db_, "issue", value);
            wendrix::project::run(
                db_,
                "INSERT INTO issues(uuid, number, prefix, title, description, type, status, priority, stage, "
                "assignee, createdBy, createdAt, modifiedBy, modifiedAt, dueAt, labels) VALUES(?, ?, ?, ?, ?, ?, ?, ?, "
                "?, ?, ?, ?, ?, ?, ?, ?)",
                text(q, 0), value, number.substr(0, dash), text(q, 2), text(q, 3), text(q, 4), text(q, 5), text(q, 6),
                text(q, 7), text(q, 8), text(q, 9), text(q, 10), text(q, 11), text(q, 12), text(q, 13), text(q, 14));
        }
        copy("viewpoints");
        if (has("comments"))
            db_.exec("INSERT INTO comments(uuid, issue, time, author, text, viewpoint, place) SELECT uuid, issue, "
                     "time, author, text, "
                     "viewpoint, rowid FROM before_comments");
        skipNumbers(db_, "comment", numberOr(db_, "SELECT COALESCE(MAX(place), 0) FROM comments"));
        SQLite::Statement views(db_, "SELECT issue, uuid, view FROM viewpoints");
        while (views.executeStep())
            for (const ElementRef& e : viewFromJson(text(views, 1), text(views, 2)).selection)
                wendrix::project::run(db_, "INSERT INTO issueElements VALUES(?, ?, ?, ?, ?) ON CONFLICT DO NOTHING",
                                      text(views, 0), e.guid, e.discipline, e.part,
                                      static_cast<std::int64_t>(e.ordinal));
    }

    /// An element of a pair of then: which of several models it is of, was not kept.
    std::int64_t element(const std::string& discipline, const std::string& guid, const std::string& name)
    {
        SQLite::Statement q(
            db_,
            "INSERT INTO elements(discipline, part, guid, ordinal, name, class, isOld) VALUES(?, '', ?, 0, ?, '', 1) "
            "ON CONFLICT(guid, discipline, part, ordinal) DO UPDATE SET name=excluded.name RETURNING id");
        q.bind(1, disciplines_[discipline]);
        q.bind(2, guid);
        q.bind(3, name);
        q.executeStep();
        const std::int64_t id = q.getColumn(0).getInt64();
        while (q.executeStep()) {
        }
        return id;
    }

    void runs()
    {
        struct Test {
            int place = 0;
            std::string left, right;
            double tolerance = 0;
        };
        std::map<std::string, Test> tests;
        if (has("tests")) {
            sheetOfTests();
            SQLite::Statement q(db_, "SELECT name, leftSide, rightSide, tolerance FROM before_tests ORDER BY place");
            while (q.executeStep())
                tests[text(q, 0)] = {static_cast<int>(tests.size()), text(q, 1), text(q, 2),
                                     q.getColumn(3).getDouble()};
        }
        if (!has("runs") || !has("pairs") || !has("pairRuns"))
            return;
        std::map<std::string, DeliveryId> deliveries; // by the name a run's composition calls it
        SQLite::Statement named(db_, "SELECT id, discipline, revision FROM deliveries");
        while (named.executeStep())
            deliveries[text(named, 1) + " " + text(named, 2)] = named.getColumn(0).getInt64();
        SQLite::Statement q(db_, "SELECT id, time, person, cycle, composition FROM before_runs ORDER BY id");
        std::vector<RunId> all;
        while (q.executeStep()) {
            const RunId id = q.getColumn(0).getInt64();
            all.push_back(id);
            wendrix::project::run(db_,
                                  "INSERT INTO runs VALUES(?, ?, ?, ?, (SELECT COUNT(*) FROM before_pairRuns WHERE "
                                  "run=? AND state<>2), 0, 0)",
                                  id, text(q, 1), text(q, 2), q.getColumn(3).getInt(), id);
            members(id, text(q, 4), deliveries);
            for (const auto& [name, t] : tests)
                wendrix::project::run(
                    db_,
                    "INSERT INTO runTests VALUES(?, ?, ?, ?, ?, 1, ?, 0, 0, 0, 0, 0, 'none', 0, '', '', ?, '', '')", id,
                    t.place, name, clash::lineOfDiscipline(t.left), clash::lineOfDiscipline(t.right), t.tolerance, id);
            skipNumbers(db_, "run", id);
        }
        SQLite::Statement pairs(db_,
                                "SELECT id, test, leftGuid, rightGuid, leftName, rightName, depth, x, y, z, storey, "
                                "bay, decision, reason, decidedBy, decidedAt, issue FROM before_pairs ORDER BY rowid");
        SQLite::Statement moments(db_, "SELECT run, state, depth FROM before_pairRuns WHERE pair=?");
        while (pairs.executeStep()) {
            const auto test = tests.find(text(pairs, 1));
            if (test == tests.end())
                continue; // without its sides nobody can tell whose elements they are
            const std::int64_t left = element(test->second.left, text(pairs, 2), text(pairs, 4)),
                               right = element(test->second.right, text(pairs, 3), text(pairs, 5));
            SQLite::Statement key(db_, "INSERT INTO pairs(kind, first, second) VALUES(1, ?, ?) ON CONFLICT(first, "
                                       "second, kind) DO UPDATE SET kind=excluded.kind RETURNING id");
            key.bind(1, std::min(left, right));
            key.bind(2, std::max(left, right));
            key.executeStep();
            const PairId id = key.getColumn(0).getInt64();
            while (key.executeStep()) {
            }
            moments.reset();
            moments.bind(1, text(pairs, 0));
            while (moments.executeStep()) {
                const bool isGone = moments.getColumn(1).getInt() == 2;
                wendrix::project::run(
                    db_,
                    "INSERT INTO findings VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 0, 0, 0) ON CONFLICT DO NOTHING",
                    id, moments.getColumn(0).getInt64(), isGone ? 2 : 1, isGone ? -1 : test->second.place,
                    isGone ? std::int64_t{0} : left, isGone ? std::int64_t{0} : right, moments.getColumn(2).getDouble(),
                    pairs.getColumn(7).getDouble(), pairs.getColumn(8).getDouble(), pairs.getColumn(9).getDouble(),
                    text(pairs, 10), text(pairs, 11));
            }
            if (!text(pairs, 12).empty() || !text(pairs, 16).empty())
                wendrix::project::run(
                    db_, "INSERT INTO decisions VALUES(?, ?, ?, ?, ?, ?, '', '', 0) ON CONFLICT DO NOTHING", id,
                    text(pairs, 12), text(pairs, 13), text(pairs, 14), text(pairs, 15), text(pairs, 16));
        }
        for (const RunId id : all)
            ClashesBook::settle(db_, id);
    }

    void members(RunId runId, const std::string& composition, const std::map<std::string, DeliveryId>& deliveries)
    {
        int place = 0;
        for (std::size_t at = 0; at < composition.size();) {
            const std::size_t end = std::min(composition.find(", ", at), composition.size());
            if (const auto found = deliveries.find(composition.substr(at, end - at)); found != deliveries.end()) {
                SQLite::Statement q(db_, "SELECT discipline, revision FROM deliveries WHERE id=?");
                q.bind(1, found->second);
                q.executeStep();
                wendrix::project::run(db_, "INSERT INTO runMembers VALUES(?, ?, ?, ?, ?, '', ?, 1, 0, 0, 0, 0, 1, '')",
                                      runId, place++, disciplines_[text(q, 0)], text(q, 0), text(q, 1), found->second);
            }
            at = end + 2;
        }
    }

    void comparisons()
    {
        if (!has("changes"))
            return;
        SQLite::Statement q(db_, "SELECT discipline, fromDelivery, toDelivery, COUNT(*) FROM before_changes GROUP BY "
                                 "discipline, fromDelivery, toDelivery ORDER BY toDelivery, fromDelivery");
        while (q.executeStep()) {
            const std::int64_t id = nextNumber(db_, "comparison"), from = q.getColumn(1).getInt64(),
                               to = q.getColumn(2).getInt64();
            const std::string discipline = text(q, 0);
            wendrix::project::run(db_, "INSERT INTO comparisons VALUES(?, ?, ?, ?, '', '[]', ?, 0, 0, 0, '', '')", id,
                                  disciplines_[discipline], from, to, q.getColumn(3).getInt64());
            wendrix::project::run(db_,
                                  "INSERT INTO changes(comparison, number, guid, part, ordinal, oldGuid, oldPart, "
                                  "oldOrdinal, kinds, name, storey, sx, sy, sz, fields) SELECT ?, ROW_NUMBER() OVER "
                                  "(ORDER BY rowid) - 1, guid, '', 0, oldGuid, '', 0, CAST(kinds AS INTEGER), name, "
                                  "storey, sx, sy, sz, fields FROM before_changes "
                                  "WHERE discipline=? AND fromDelivery=? AND toDelivery=?",
                                  id, discipline, from, to);
            wendrix::project::run(db_,
                                  "INSERT INTO continuations SELECT comparison, guid, '', 0, oldGuid, '', 0 FROM "
                                  "changes WHERE comparison=? AND oldGuid>''",
                                  id);
            wendrix::project::run(
                db_,
                "INSERT INTO reviews SELECT c.comparison, c.number, b.review, b.reviewedBy, b.reviewedAt FROM changes "
                "c JOIN before_changes b ON b.guid=c.guid "
                "WHERE c.comparison=? AND b.discipline=? AND b.fromDelivery=? AND b.toDelivery=? AND b.review>''",
                id, discipline, from, to);
        }
    }

    void history()
    {
        if (!has("history"))
            return;
        const auto deliveries =
            allRows(db_, "SELECT id, discipline, revision FROM deliveries", [](SQLite::Statement& q) {
                return std::pair(q.getColumn(0).getInt64(), ": " + text(q, 1) + " " + text(q, 2));
            });
        SQLite::Statement q(db_, "SELECT time, person, what FROM before_history ORDER BY id");
        SQLite::Statement write(
            db_, "INSERT INTO events(time, person, books, what, subject, step, reverts) VALUES(?, ?, ?, ?, ?, 0, 0)");
        while (q.executeStep()) {
            const std::string what = text(q, 2);
            std::string subject;
            // A line began with what was done, a colon, and the name: P02 is not P021 or P02.01.
            for (const auto& [id, name] : deliveries)
                if (const std::size_t at = what.find(name); at != std::string::npos && subject.empty()) {
                    const std::size_t end = at + name.size();
                    if (end == what.size() || what[end] == ' ' || what[end] == ',')
                        subject = DeliveriesBook::subjectOf(id);
                }
            runAgain(write, text(q, 0), text(q, 1), static_cast<int>(subject.empty() ? Book::Setup : Book::Deliveries),
                     what, subject);
        }
    }

    SQLite::Database& db_;
    int version_;
    std::map<std::string, std::set<std::string>> before_; ///< columns by table
    std::map<std::string, std::int64_t> disciplines_;
};

} // namespace

void migrate(SQLite::Database& db, int version)
{
    Migration migration(db, version);
    if (version == 11)
        migration.runFromEleven();
    else if (version == 10)
        migration.runFromTen();
    else if (version == 9)
        migration.runFromNine();
    else if (version == 8)
        migration.runFromEight();
    else if (version == 7)
        migration.runFromSeven();
    else
        migration.run();
}

} // namespace wendrix::project
