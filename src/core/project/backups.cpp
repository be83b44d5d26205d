#include "core/project/backups.h"

#include "core/base/file.h"
#include "core/base/folder_guard.h"
#include "core/base/temporary.h"
#include "core/base/who_and_when.h"
#include "core/project/store.h"

#include <sqlite3.h>

#include <algorithm>
#include <cstring>
#include <regex>

namespace wendrix::project {

namespace fs = std::filesystem;

namespace {

constexpr const char* kEnding = ".sqlite";
constexpr std::size_t kLongestName = 80;
constexpr int kPagesAStep = 4096; // 16 MB, between two looks at whether it was cancelled

/// "2026-11-28T20-14-05Z opened.sqlite": no colons, which other systems' folders do not take. The second one of a
/// second has "+1" after the time.
fs::path nameOf(std::string time, const std::string& reason, int more)
{
    std::replace(time.begin(), time.end(), ':', '-');
    return time + (more > 0 ? "+" + std::to_string(more) : "") + " " + reason + kEnding;
}

std::optional<Backup> backupOf(const fs::path& file)
{
    static const std::regex ours(
        "(\\d{4}-\\d\\d-\\d\\dT\\d\\d)-(\\d\\d)-(\\d\\dZ)(?:\\+(\\d{1,4}))? ([a-z0-9 ]{1,40})\\.sqlite");
    const std::string name = file.filename().string();
    std::smatch parts;
    if (name.size() > kLongestName || !std::regex_match(name, parts, ours) || !isPlainFile(file))
        return {};
    const auto status = statusOf(file);
    return Backup{file, parts.str(1) + ":" + parts.str(2) + ":" + parts.str(3), parts.str(5),
                  parts.str(4).empty() ? 0 : std::stoi(parts.str(4)),
                  status ? static_cast<std::uintmax_t>(status->st_size) : 0};
}

fs::path nextName(const fs::path& folder, const std::string& reason)
{
    const std::string now = currentTime();
    int more = 0; // after the last one of this second, also where earlier ones are let go of
    for (const Backup& one : backupsOf(folder))
        if (one.time == now)
            more = std::max(more, one.ofSecond + 1);
    fs::path file;
    do
        file = folder / "backups" / nameOf(now, reason, more++);
    while (statusOf(file));
    return file;
}

Error notWritten(const fs::path& file, const std::string& why)
{
    return {kNoBackup, "No backup could be made: " + why + ".", file.string()};
}

Result<void> copyInto(const Temporary& target, const fs::path& file)
{
    const auto mapped = MappedFile::open(file);
    if (!mapped)
        return fail(mapped.error());
    if (!target.append((*mapped)->bytes()) || !(*mapped)->isWhole())
        return fail({kFileUnwritable, std::strerror(errno), target.path().string()});
    return {};
}

} // namespace

Result<Backup> backUp(SQLite::Database& db, const fs::path& folder, const std::string& reason, Progress& progress)
{
    makeFolder(folder / "backups"); // only where the project's folder still is
    const fs::path file = nextName(folder, reason);
    auto part = Temporary::fileBeside(file);
    if (!part)
        return fail(part.error());
    try {
        SQLite::Database copy(part->path().string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
        // As it is now, however long that takes and whoever writes meanwhile.
        SQLite::Transaction reading(db, SQLite::TransactionBehavior::DEFERRED);
        (void)db.execAndGet("SELECT COUNT(*) FROM sqlite_schema");
        int done = SQLITE_OK;
        sqlite3_backup* work = sqlite3_backup_init(copy.getHandle(), "main", db.getHandle(), "main");
        if (work == nullptr)
            throw std::runtime_error(copy.getErrorMsg());
        while (done == SQLITE_OK && !progress.isCancelled()) {
            done = sqlite3_backup_step(work, kPagesAStep);
            const int all = sqlite3_backup_pagecount(work);
            progress.report("Making a backup", all > 0 ? 1.0 - double(sqlite3_backup_remaining(work)) / all : 0);
        }
        const int finished = sqlite3_backup_finish(work); // also says what a step failed of
        if (progress.isCancelled())
            return fail({kBackupCancelled, "Cancelled; no backup was made.", file.string()});
        if (done != SQLITE_DONE || finished != SQLITE_OK)
            throw std::runtime_error(finished != SQLITE_OK ? sqlite3_errstr(finished) : sqlite3_errstr(done));
        makeDefensive(copy);
        // By itself, without files beside it.
        copy.exec("PRAGMA journal_mode=DELETE");
        if (const std::string fault = copy.execAndGet("PRAGMA quick_check(1)").getString(); fault != "ok")
            throw std::runtime_error(fault);
    } catch (const std::exception& e) {
        return fail(notWritten(file, e.what()));
    }
    if (const auto placed = part->putInPlace(file); !placed)
        return fail(notWritten(file, placed.error().message));
    std::size_t kept = 0;
    for (const Backup& one : backupsOf(folder))
        if (one.reason == reason && ++kept > kMostBackups)
            removeFile(one.file);
    return backupOf(file).value_or(Backup{file, {}, reason, 0, 0});
}

std::vector<Backup> backupsOf(const fs::path& folder)
{
    const auto guard = FolderGuard::of(folder);
    std::vector<Backup> all;
    for (const std::string& name : namesIn(folder / "backups"))
        if (auto backup = backupOf(folder / "backups" / name))
            all.push_back(std::move(*backup));
    std::sort(all.begin(), all.end(), [](const Backup& a, const Backup& b) {
        return a.time != b.time ? a.time > b.time : a.ofSecond > b.ofSecond;
    });
    return all;
}

Result<void> putBack(const fs::path& folder, const Backup& backup)
{
    const auto guard = FolderGuard::of(folder);
    const fs::path database = folder / "project.sqlite";
    auto part = Temporary::fileBeside(database);
    if (!part)
        return fail(part.error());
    // A copy is tried first: what can not be opened takes nobody's place.
    if (const auto copied = copyInto(*part, backup.file); !copied)
        return fail({kNoBackup, "The backup can not be read: " + copied.error().message, backup.file.string()});
    std::optional<Error> error;
    if (const auto tried = Store::open(part->path(), Store::Access::Read); !tried)
        error = tried.error();
    for (const char* ending : {"-wal", "-shm"})
        removeFile(fs::path(part->path()).concat(ending));
    if (error)
        return fail({kNoBackup, "The backup can not be put back: " + error->message, backup.file.string()});
    // With it goes what was not yet in the file: left there, it would be written into the backup.
    makeFolder(folder / "backups");
    const fs::path before = nextName(folder, "replaced");
    for (const char* ending : {"-wal", "-shm", ""})
        if (const fs::path from = fs::path(database).concat(ending); statusOf(from))
            if (!renameFile(from, fs::path(before).concat(ending)))
                return fail({kNoBackup,
                             std::string("What stands there can not be set aside: ") + std::strerror(errno) + ".",
                             database.string()});
    if (const auto placed = part->putInPlace(database); !placed)
        return fail({kNoBackup, "The backup can not be put in place: " + placed.error().message, database.string()});
    return {};
}

} // namespace wendrix::project
