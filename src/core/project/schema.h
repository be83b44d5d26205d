#pragma once

#include <SQLiteCpp/SQLiteCpp.h>

#include <span>
#include <string>
#include <vector>

/// The tables of a project, as its books declare them.
namespace wendrix::project {

/// The parts of a project's state, one book each.
enum class Book : unsigned {
    Setup = 1,
    Deliveries = 2,
    Coordinates = 4,
    Clashes = 8,
    Changes = 16,
    Issues = 32,
    Views = 64
};

/// How what happens to the rows of a table is kept.
enum class Keeping {
    Undoable, ///< every change, for undo and in the file of steps
    /// Facts are written once under an id of their own (what a run found) and never changed: no undo touches them, and
    /// they count while the row of another table that names them is there.
    Fact,
    Derived ///< worked out from others: not at all
};

/// What a book declares of a table of its own.
struct Table {
    const char* name;
    const char* columns; ///< as in CREATE TABLE; every table has a PRIMARY KEY
    Book book;
    Keeping keeping = Keeping::Undoable;
};

/// A table as the database has it.
struct TableShape {
    std::string name;
    Book book = Book::Setup;
    Keeping keeping = Keeping::Undoable;
    std::vector<std::string> columns;
    std::vector<std::size_t> key; ///< into columns
};

inline constexpr int kSchemaVersion = 12;

/// Makes the tables and indexes in an empty database, inside the caller's transaction.
void makeTables(SQLite::Database& db, std::span<const Table> tables, std::span<const char* const> indexes);
[[nodiscard]] std::vector<TableShape> shapesOf(SQLite::Database& db, std::span<const Table> tables);

/// A number that is given once, whatever is undone: of issues, notes, runs.
[[nodiscard]] std::int64_t nextNumber(SQLite::Database& db, const std::string& of);
/// Numbers up to this one are taken.
void skipNumbers(SQLite::Database& db, const std::string& of, std::int64_t upTo);

} // namespace wendrix::project
