#include "core/project/guard.h"

#include "core/project/books.h"
#include "core/project/rows.h"
#include "core/project/schema.h"

#include <sqlite3.h>
#include <sys/stat.h>

#include <cstring>
#include <map>

namespace wendrix::project {

namespace {

constexpr int kLongestValueBytes = 256 << 20;
constexpr const char* kFoldersOfProject[] = {"deliveries", "cache", "pictures", "exchanges", "backups"};
constexpr const char* kPragmas[] = {"journal_mode", "synchronous", "cache_size",  "query_only",
                                    "user_version", "table_info",  "quick_check", "integrity_check",
                                    "data_version", "page_count",  "page_size",   "wal_checkpoint"};

int allow(void*, int action, const char* first, const char* second, const char*, const char*)
{
    const auto isOneOf = [](const char* name, const auto& all) {
        return name != nullptr && std::any_of(std::begin(all), std::end(all),
                                              [&](const char* one) { return std::strcmp(name, one) == 0; });
    };
    switch (action) {
    case SQLITE_ATTACH:
    case SQLITE_CREATE_TRIGGER:
    case SQLITE_CREATE_TEMP_TRIGGER:
    case SQLITE_CREATE_VIEW:
    case SQLITE_CREATE_TEMP_VIEW:
    case SQLITE_CREATE_VTABLE:
        return SQLITE_DENY;
    case SQLITE_PRAGMA:
        return isOneOf(first, kPragmas) ? SQLITE_OK : SQLITE_DENY;
    case SQLITE_FUNCTION: {
        static constexpr const char* kReachingOut[] = {"load_extension", "readfile", "writefile", "edit",
                                                       "fts3_tokenizer"};
        return isOneOf(second, kReachingOut) ? SQLITE_DENY : SQLITE_OK;
    }
    default:
        return SQLITE_OK;
    }
}

/// Name and text of everything in a schema but what SQLite makes for itself.
std::map<std::string, std::string> schemaOf(SQLite::Database& db)
{
    std::map<std::string, std::string> all;
    SQLite::Statement q(
        db, "SELECT type || ' ' || name, COALESCE(sql, '') FROM sqlite_schema WHERE name NOT LIKE 'sqlite\\_%' "
            "ESCAPE '\\'");
    while (q.executeStep())
        all[text(q, 0)] = text(q, 1);
    return all;
}

const std::map<std::string, std::string>& ourSchema()
{
    static const std::map<std::string, std::string> ours = [] {
        SQLite::Database db(":memory:", SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
        makeTables(db, allTables(), allIndexes());
        return schemaOf(db);
    }();
    return ours;
}

Result<void> foreign(const std::string& what)
{
    return fail(
        {kForeignSchema,
         "The project's database holds " + what.substr(0, 200) +
             ", which Wendrix did not make. Nothing of it was run or changed. Ask whoever sent the folder, or put "
             "back a backup."});
}

/// As posix: the whole of it, for the calls that SQLite makes.
int openForSqlite(const char* path, int flags, int mode)
{
    return openFile(path, flags, static_cast<mode_t>(mode)).release();
}

void takeOverOpening()
{
    static const bool isDone = [] {
        sqlite3_vfs* system = sqlite3_vfs_find(nullptr);
        return system != nullptr && system->iVersion >= 3 && system->xSetSystemCall != nullptr &&
               system->xSetSystemCall(system, "open", reinterpret_cast<sqlite3_syscall_ptr>(&openForSqlite)) ==
                   SQLITE_OK;
    }();
    if (!isDone)
        throw std::logic_error("this SQLite does not let its files be opened by us");
}

} // namespace

Result<std::shared_ptr<const FolderGuard>> guardProject(const std::filesystem::path& folder,
                                                        const std::filesystem::path& database)
{
    takeOverOpening();
    auto guard = FolderGuard::of(folder);
    const auto foreign = [&](const std::string& name, const std::string& what) {
        return fail({kForeignFiles,
                     "In the project's folder '" + name + "' is " + what +
                         ". Nothing of it was opened or changed. Ask whoever sent the folder for a plain copy.",
                     (folder / name).string()});
    };
    for (const char* name : kFoldersOfProject)
        if (const auto status = statusOf(folder / name); status && !S_ISDIR(status->st_mode))
            return foreign(name, S_ISLNK(status->st_mode) ? "a link that leads elsewhere" : "no folder");
    for (const char* ending : {"", "-wal", "-shm", "-journal"}) {
        const auto file = std::filesystem::path(database).concat(ending);
        if (const auto status = statusOf(file); status && !isPlainFile(file))
            return foreign(file.filename().string(), S_ISLNK(status->st_mode) ? "a link that leads elsewhere"
                                                     : S_ISREG(status->st_mode)
                                                         ? "a file that has a second name elsewhere (a hard link)"
                                                         : "no plain file");
    }
    return guard;
}

void makeDefensive(SQLite::Database& db)
{
    sqlite3* handle = db.getHandle();
    for (const auto& [option, value] : {std::pair{SQLITE_DBCONFIG_DEFENSIVE, 1},
                                        {SQLITE_DBCONFIG_TRUSTED_SCHEMA, 0},
                                        {SQLITE_DBCONFIG_ENABLE_TRIGGER, 0},
                                        {SQLITE_DBCONFIG_ENABLE_VIEW, 0},
                                        {SQLITE_DBCONFIG_ENABLE_LOAD_EXTENSION, 0}})
        sqlite3_db_config(handle, option, value, nullptr);
    sqlite3_limit(handle, SQLITE_LIMIT_ATTACHED, 0);
    sqlite3_limit(handle, SQLITE_LIMIT_LENGTH, kLongestValueBytes);
    sqlite3_set_authorizer(handle, &allow, nullptr);
}

Result<void> checkSchema(SQLite::Database& db, int version)
{
    const auto there = schemaOf(db);
    if (there.empty())
        return fail({kDamaged,
                     "The project's database is empty: it was cut short, or never written to its end. Put back a "
                     "backup, or the file as it was."});
    if (version < kSchemaVersion) {
        for (const auto& [name, sql] : there)
            if (name.starts_with("view ") || lowerCase(sql).find("create virtual") != std::string::npos)
                return foreign("the " + name);
        return {};
    }
    for (const auto& [name, sql] : there)
        if (const auto ours = ourSchema().find(name); ours == ourSchema().end())
            return foreign("the " + name);
        else if (ours->second != sql)
            return foreign("another " + name);
    for (const auto& [name, sql] : ourSchema())
        if (!there.contains(name))
            return fail({kDamaged, "The project's database lacks the " + name + ". Put back a backup."});
    return {};
}

DatabaseFile::DatabaseFile(std::filesystem::path path) : path_(std::move(path))
{
    if (const auto info = statusOf(path_)) {
        device_ = info->st_dev;
        inode_ = info->st_ino;
        size_ = info->st_size;
    }
}

void DatabaseFile::note()
{
    if (const auto info = statusOf(path_); info && info->st_ino == inode_)
        size_ = std::max(size_, info->st_size);
}

Result<void> DatabaseFile::check() const
{
    struct stat info {};
    const bool isThere = stat(path_.c_str(), &info) == 0;
    const char* what = !isThere                                          ? "is no longer there"
                       : info.st_dev != device_ || info.st_ino != inode_ ? "was replaced by another one"
                       : info.st_size == 0                               ? "was emptied"
                       : info.st_size < size_                            ? "was cut short"
                                                                         : nullptr;
    if (what == nullptr)
        return {};
    return fail(
        {kLost,
         std::string("The project's database ") + what +
             " while it was open, as a program that synchronises folders or puts back backups does. Nothing more is "
             "written to it. Close this project, look after the folder, and open it again.",
         path_.string()});
}

} // namespace wendrix::project
