#include "core/project/whole_check.h"

#include "core/project/kept_files.h"
#include "core/project/project.h"
#include "core/project/rows.h"

#include <set>

namespace wendrix::project {

namespace {

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
bool isReadable(SQLite::Database& db, const TableShape& table, const Progress& progress)
{
    try {
        SQLite::Statement q(db, "SELECT * FROM \"" + table.name + "\"");
        while (q.executeStep())
            for (int i = 0; i < q.getColumnCount(); ++i)
                if (q.getColumn(i).getBytes() < 0 || progress.isCancelled())
                    return true;
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

Result<std::vector<std::string>> checkWhole(const std::filesystem::path& folder, const Progress& progress)
{
    const auto project = Project::open(folder, Project::Access::Read);
    if (!project)
        return fail(project.error());
    std::vector<std::string> found;
    auto& store = (*project)->store();
    const auto damaged = store.read([&](SQLite::Database& db) {
        std::set<Book> books;
        for (const TableShape& table : store.tables())
            if (!books.contains(table.book) && !isReadable(db, table, progress))
                books.insert(table.book);
        return std::pair{books, progress.isCancelled() || fitsTogether(db)};
    });
    if (!damaged)
        return fail(damaged.error());
    for (const Book book : damaged->first)
        found.push_back(std::string("Not all of ") + inWords(book) + " can be read: the database is damaged there.");
    if (found.empty() && !damaged->second)
        found.emplace_back("The database is damaged: what stands in it does not fit together.");
    if (!found.empty())
        found.emplace_back("Put back a backup from the start page; the rest stays usable meanwhile.");
    const auto deliveries = (*project)->deliveries().all();
    if (!deliveries)
        return found; // said already
    for (const Delivery& d : *deliveries)
        for (const ModelFile& model : d.models())
            if (const std::string why = whyNotSound((*project)->deliveries().fileOf(model), model.sha256, progress);
                !why.empty())
                found.push_back(d.name() + ": its file " + model.fileName + " " + why + ".");
    return found;
}

} // namespace wendrix::project
