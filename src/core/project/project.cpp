#include "core/project/project.h"

#include "core/base/temporary.h"
#include "core/project/stored_files.h"

#include "core/project/rows.h"

#include <set>

namespace wendrix::project {

namespace fs = std::filesystem;

const std::vector<Table>& allTables()
{
    static const std::vector<Table> all = [] {
        std::vector<Table> tables;
        for (const auto& book :
             {SetupBook::tables(), DeliveriesBook::tables(), CoordinatesBook::tables(), ClashesBook::tables(),
              ChangesBook::tables(), IssuesBook::tables(), ViewsBook::tables()})
            tables.insert(tables.end(), book.begin(), book.end());
        return tables;
    }();
    return all;
}

const std::vector<const char*>& allIndexes()
{
    static const std::vector<const char*> all = [] {
        std::vector<const char*> indexes;
        for (const auto& book : {DeliveriesBook::indexes(), CoordinatesBook::indexes(), ClashesBook::indexes(),
                                 ChangesBook::indexes(), IssuesBook::indexes(), ViewsBook::indexes()})
            indexes.insert(indexes.end(), book.begin(), book.end());
        return indexes;
    }();
    return all;
}

Project::Project(fs::path folder, std::unique_ptr<Store> store)
    : folder_(std::move(folder)), store_(std::move(store)), setup_(*store_), deliveries_(*store_, folder_),
      coordinates_(*store_), clashes_(*store_), changes_(*store_), issues_(*store_, folder_), views_(*store_, folder_),
      log_(*store_)
{
    store_->setTidy([](SQLite::Database& db) {
        // Facts of somebody else's step that may still be done again stay.
        if (numberOr(db, "SELECT COUNT(*) FROM steps WHERE standing=2") > 0)
            return;
        ClashesBook::tidy(db);
        ChangesBook::tidy(db);
    });
}

bool Project::isProject(const fs::path& folder)
{
    std::error_code code;
    return fs::symlink_status(folder / "project.sqlite", code).type() == fs::file_type::regular;
}

Result<std::unique_ptr<Project>> Project::create(const fs::path& folder, const std::string& name, const WhoAndWhen& who)
{
    std::error_code code;
    if (fs::exists(folder, code) && !(fs::is_directory(folder, code) && fs::is_empty(folder, code)))
        return fail({kFolderInUse, "The folder already holds something; choose an empty one for a new project.",
                     folder.string()});
    for (const char* part : {"deliveries", "cache", "pictures", kExchanges})
        if (!fs::create_directories(folder / part, code) && code)
            return fail({kFolderInUse, "The folder can not be made: " + code.message() + ".", folder.string()});
    auto store = Store::open(folder / "project.sqlite", Access::Create);
    if (!store)
        return fail(store.error());
    std::unique_ptr<Project> project(new Project(folder, std::move(*store)));
    if (auto done = project->setup_.begin(name, who); !done)
        return fail(done.error());
    return project;
}

Result<std::unique_ptr<Project>> Project::open(const fs::path& folder, Access access)
{
    if (!isProject(folder))
        return fail(
            {kNoProject, "There is no Wendrix project in this folder: project.sqlite is missing.", folder.string()});
    auto store = Store::open(folder / "project.sqlite", access);
    if (!store)
        return fail(store.error());
    if (access == Access::Write)
        for (const fs::path& part : {folder, folder / "deliveries", folder / "cache", folder / "pictures",
                                     folder / kExchanges, folder / "backups"})
            removeLeftOvers(part);
    return std::unique_ptr<Project>(new Project(folder, std::move(*store)));
}

namespace {

/// Facts count while the row that names them is there: what is worked out from them follows it.
void settle(SQLite::Database& db, const std::vector<RowChange>& changes)
{
    std::set<RunId> runs;
    for (const RowChange& change : changes)
        if (change.table->name == "runs")
            if (const auto* id = std::get_if<std::int64_t>(&change.key.at("id")))
                runs.insert(*id);
    for (const RunId id : runs)
        ClashesBook::settle(db, id);
}

} // namespace

Result<void> Project::undo(const WhoAndWhen& who) { return log_.undo(who, settle); }
Result<void> Project::redo(const WhoAndWhen& who) { return log_.redo(who, settle); }
Result<Log::BroughtIn> Project::bringIn(const std::vector<KeptStep>& steps, const WhoAndWhen& who)
{
    return log_.bringIn(steps, who, settle);
}

} // namespace wendrix::project
