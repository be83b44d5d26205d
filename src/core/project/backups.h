#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"

#include <filesystem>
#include <string>
#include <vector>

namespace SQLite {
class Database;
}

namespace wendrix::project {

inline constexpr ErrorCode kNoBackup{"project.no-backup"}, kBackupCancelled{"project.backup-cancelled"};

/// A copy of a project's database in its folder "backups". The deliveries and pictures are never changed and not in it.
struct Backup {
    std::filesystem::path file;
    std::string time;   ///< UTC, "2026-11-28T20:14:05Z"
    std::string reason; ///< "opened", "before version 7", "kept", "replaced"
    int ofSecond = 0;   ///< of several in one second, the how many-th
    std::uintmax_t bytes = 0;
};

inline constexpr std::size_t kMostBackups = 5;

/// Copies the whole database, as it is with what is not yet in its file (SQLite's own backup), and lets go of the
/// oldest of those that were made for the same reason beyond kMostBackups.
/// @param folder  of the project
/// @return kNoBackup, kBackupCancelled
[[nodiscard]] Result<Backup> backUp(SQLite::Database& db, const std::filesystem::path& folder,
                                    const std::string& reason, Progress& progress);

/// Newest first; files that are none of ours are passed over.
[[nodiscard]] std::vector<Backup> backupsOf(const std::filesystem::path& folder);

/// Puts a backup in the place of the project's database. What stood there before is kept as a backup itself
/// ("replaced"), whatever it is. The project must not be open.
/// @return kNoBackup where the backup is no project that can be opened; then nothing was changed
[[nodiscard]] Result<void> putBack(const std::filesystem::path& folder, const Backup& backup);

} // namespace wendrix::project
