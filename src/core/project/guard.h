#pragma once

#include "core/base/folder_guard.h"
#include "core/base/result.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <filesystem>
#include <sys/types.h>

/// What keeps a project's database, which may come from anybody, from doing anything but hold rows.
namespace wendrix::project {

inline constexpr ErrorCode kForeignSchema{"project.foreign-schema"};
inline constexpr ErrorCode kDamaged{"project.damaged"};
inline constexpr ErrorCode kLost{"project.lost"};

/// Something in the folder leads out of it.
inline constexpr ErrorCode kForeignFiles{"project.foreign-files"};

/// Whether a project's folder, guarded from here on, has only folders of its own and a database of its own: looked at
/// before anything in it is opened. SQLite opens its files beneath the folder's handle from then on (its system calls
/// go through openFile()), the log that it writes first and its shared memory included.
/// @return kForeignFiles with what stands there
[[nodiscard]] Result<std::shared_ptr<const FolderGuard>> guardProject(const std::filesystem::path& folder,
                                                                      const std::filesystem::path& database);

/// From here on the connection runs no trigger and no view, attaches no other database, calls no function that reaches
/// out of it, and takes nothing in the file for trusted (SQLite, Defense Against The Dark Arts).
void makeDefensive(SQLite::Database& db);

/// Whether a database of this version holds what Wendrix makes and nothing else. Of earlier versions, which are copied
/// into tables of this one, triggers may stand there: they never run.
/// @return kDamaged where there is nothing in it, kForeignSchema with what stands there
[[nodiscard]] Result<void> checkSchema(SQLite::Database& db, int version);

/// The file that a connection has open, as it was when it was opened: whether it still is the one that stands there.
class DatabaseFile {
public:
    explicit DatabaseFile(std::filesystem::path path);
    /// Remembers that it has grown.
    void note();
    /// @return kLost where it was taken away, put in the place of another, emptied or cut short; what to do
    [[nodiscard]] Result<void> check() const;

private:
    std::filesystem::path path_;
    dev_t device_ = 0;
    ino_t inode_ = 0;
    off_t size_ = 0;
};

} // namespace wendrix::project
