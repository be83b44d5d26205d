#include "core/project/whole_check.h"

#include "core/project/kept_files.h"
#include "core/project/project.h"
#include "core/project/rows.h"

#include <sqlite3.h>

#include <set>

namespace wendrix::project {

namespace {

constexpr int kStepsBetweenLooks = 10'000; // of SQLite's machine: some microseconds

const char* inWords(Book book)
{
    switch (book) {
    case Book::Setup:
        return "the set-up";
    case Book::Deliveries:
        return "the deliveries";
    case Book::Coordinates:
        return "the fits";
    case Book::Clashes:
        return "the clashes";
    case Book::Changes:
        return "the changes";
    case Book::Issues:
        return "the issues";
    default:
        return "the kept views";
    }
}

/// Whether every row of a table can be read.
bool isReadable(SQLite::Database& db, const TableShape& table)
{
    try {
        SQLite::Statement q(db, "SELECT * FROM \"" + table.name + "\"");
        while (q.executeStep())
            for (int i = 0; i < q.getColumnCount(); ++i)
                if (q.getColumn(i).getBytes() < 0)
                    return false;
        return true;
    } catch (const SQLite::Exception&) {
        return false;
    }
}

/// SQLite's own word on whether pages, rows and indexes fit together.
bool fitsTogether(SQLite::Database& db)
{
    try {
        SQLite::Statement q(db, "PRAGMA quick_check(1)");
        return q.executeStep() && text(q, 0) == "ok";
    } catch (const SQLite::Exception&) {
        return false;
    }
}

} // namespace

Result<std::vector<Unsound>> checkWhole(const std::filesystem::path& folder, const Progress& progress)
{
    const auto project = Project::open(folder, Project::Access::Read);
    if (!project)
        return fail(project.error());
    std::vector<Unsound> found;
    auto& store = (*project)->store();
    const auto damaged = store.read([&](SQLite::Database& db) {
        // One statement over a large database takes seconds, and whoever closes the project does not wait for it.
        sqlite3_progress_handler(
            db.getHandle(), kStepsBetweenLooks,
            [](void* wanted) { return static_cast<const Progress*>(wanted)->isCancelled() ? 1 : 0; },
            const_cast<Progress*>(&progress));
        std::set<Book> books;
        for (const TableShape& table : store.tables())
            if (!books.contains(table.book) && !isReadable(db, table))
                books.insert(table.book);
        return std::pair{books, fitsTogether(db)};
    });
    if (progress.isCancelled())
        return found;
    if (!damaged)
        return fail(damaged.error());
    for (const Book book : damaged->first)
        found.push_back(
            {0, std::string("Not all of ") + inWords(book) + " can be read: the database is damaged there."});
    if (found.empty() && !damaged->second)
        found.push_back({0, "The database is damaged: what stands in it does not fit together."});
    if (!found.empty())
        found.push_back({0, "Put back a backup from the start page; the rest stays usable meanwhile."});
    const auto deliveries = (*project)->deliveries().all();
    if (!deliveries)
        return found; // said already
    for (const Delivery& d : *deliveries)
        for (const ModelFile& model : d.models())
            if (const std::string why = whyNotSound((*project)->deliveries().fileOf(model), model.sha256, progress);
                !why.empty())
                found.push_back({d.id, d.name() + ": its file " + model.fileName + " " + why + "."});
    return progress.isCancelled() ? std::vector<Unsound>() : found;
}

} // namespace wendrix::project
