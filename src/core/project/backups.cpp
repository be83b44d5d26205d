#include "core/project/backups.h"

#include "core/base/file.h"
#include "core/base/who_and_when.h"
#include "core/project/store.h"

#include <sqlite3.h>

#include <algorithm>
#include <regex>

namespace wendrix::project {

namespace fs = std::filesystem;

namespace {

constexpr const char* kEnding = ".sqlite";
constexpr std::size_t kLongestName = 80;

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
    std::error_code code;
    if (name.size() > kLongestName || !std::regex_match(name, parts, ours) ||
        fs::symlink_status(file, code).type() != fs::file_type::regular)
        return {};
    return Backup{file, parts.str(1) + ":" + parts.str(2) + ":" + parts.str(3), parts.str(5),
                  parts.str(4).empty() ? 0 : std::stoi(parts.str(4)), fs::file_size(file, code)};
}

fs::path nextName(const fs::path& folder, const std::string& reason)
{
    const std::string now = currentTime();
    int more = 0; // after the last one of this second, also where earlier ones are let go of
    for (const Backup& one : backupsOf(folder))
        if (one.time == now)
            more = std::max(more, one.ofSecond + 1);
    std::error_code code;
    fs::path file;
    do
        file = folder / "backups" / nameOf(now, reason, more++);
    while (fs::symlink_status(file, code).type() != fs::file_type::not_found);
    return file;
}

Error notWritten(const fs::path& file, const std::string& why)
{
    return {kNoBackup, "No backup could be made: " + why + ".", file.string()};
}

} // namespace

Result<Backup> backUp(SQLite::Database& db, const fs::path& folder, const std::string& reason)
{
    std::error_code code;
    fs::create_directory(folder / "backups", code); // only where the project's folder still is
    const fs::path file = nextName(folder, reason);
    const auto temporary = makeTemporaryBeside(file);
    if (!temporary)
        return fail(temporary.error());
    const fs::path& part = *temporary;
    try {
        SQLite::Database copy(part.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
        sqlite3_backup* work = sqlite3_backup_init(copy.getHandle(), "main", db.getHandle(), "main");
        if (work == nullptr)
            throw std::runtime_error(copy.getErrorMsg());
        (void)sqlite3_backup_step(work, -1);
        if (sqlite3_backup_finish(work) != SQLITE_OK)
            throw std::runtime_error(copy.getErrorMsg());
        makeDefensive(copy);
        // By itself, without files beside it.
        copy.exec("PRAGMA journal_mode=DELETE");
        if (const std::string fault = copy.execAndGet("PRAGMA quick_check(1)").getString(); fault != "ok")
            throw std::runtime_error(fault);
    } catch (const std::exception& e) {
        fs::remove(part, code);
        return fail(notWritten(file, e.what()));
    }
    if (fs::rename(part, file, code); code) {
        fs::remove(part, code);
        return fail(notWritten(file, code.message()));
    }
    std::size_t kept = 0;
    for (const Backup& one : backupsOf(folder))
        if (one.reason == reason && ++kept > kMostBackups)
            fs::remove(one.file, code);
    return backupOf(file).value_or(Backup{file, {}, reason, 0, 0});
}

std::vector<Backup> backupsOf(const fs::path& folder)
{
    std::vector<Backup> all;
    std::error_code code;
    for (fs::directory_iterator it(folder / "backups", code), end; !code && it != end; it.increment(code))
        if (auto backup = backupOf(it->path()))
            all.push_back(std::move(*backup));
    std::sort(all.begin(), all.end(), [](const Backup& a, const Backup& b) {
        return a.time != b.time ? a.time > b.time : a.ofSecond > b.ofSecond;
    });
    return all;
}

Result<void> putBack(const fs::path& folder, const Backup& backup)
{
    std::error_code code;
    const fs::path database = folder / "project.sqlite";
    const auto temporary = makeTemporaryBeside(database);
    if (!temporary)
        return fail(temporary.error());
    const fs::path& part = *temporary;
    // A copy is tried first: what can not be opened takes nobody's place.
    if (!fs::copy_file(backup.file, part, fs::copy_options::overwrite_existing, code))
        return fs::remove(part),
               fail({kNoBackup, "The backup can not be read: " + code.message() + ".", backup.file.string()});
    std::optional<Error> error;
    if (const auto tried = Store::open(part, Store::Access::Read); !tried)
        error = tried.error();
    const auto drop = [&] {
        for (const char* ending : {"", "-wal", "-shm"})
            fs::remove(fs::path(part).concat(ending), code);
    };
    if (error) {
        drop();
        return fail({kNoBackup, "The backup can not be put back: " + error->message, backup.file.string()});
    }
    // With it goes what was not yet in the file: left there, it would be written into the backup.
    const fs::path before = nextName(folder, "replaced");
    for (const char* ending : {"-wal", "-shm", ""})
        if (const fs::path from = fs::path(database).concat(ending); fs::exists(fs::symlink_status(from, code)))
            if (fs::rename(from, fs::path(before).concat(ending), code); code) {
                drop();
                return fail(
                    {kNoBackup, "What stands there can not be set aside: " + code.message() + ".", database.string()});
            }
    for (const char* ending : {"-wal", "-shm"})
        fs::remove(fs::path(part).concat(ending), code);
    if (fs::rename(part, database, code); code)
        return fail({kNoBackup, "The backup can not be put in place: " + code.message() + ".", database.string()});
    return {};
}

} // namespace wendrix::project
