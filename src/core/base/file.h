#pragma once

#include "core/base/result.h"

#include <filesystem>
#include <memory>
#include <string>
#include <string_view>

namespace wendrix {

inline constexpr ErrorCode kFileUnreadable{"file.unreadable"};
inline constexpr ErrorCode kFileEmpty{"file.empty"};
inline constexpr ErrorCode kFileUnwritable{"file.unwritable"};
inline constexpr ErrorCode kFileChanged{"file.changed"};

/// A file's bytes mapped for reading; they stay where they are while this lives. Where another program shortens the
/// file meanwhile, what is gone reads as zeros, and isWhole() is false from then on.
class MappedFile {
public:
    /// @return kFileUnreadable (missing, a folder, no permission) or kFileEmpty.
    [[nodiscard]] static Result<std::shared_ptr<const MappedFile>> open(const std::filesystem::path& path);
    ~MappedFile();
    MappedFile(const MappedFile&) = delete;
    MappedFile& operator=(const MappedFile&) = delete;

    [[nodiscard]] std::string_view bytes() const { return {data_, size_}; }
    [[nodiscard]] const std::filesystem::path& path() const { return path_; }
    /// Whether everything that was read so far was there.
    [[nodiscard]] bool isWhole() const;

private:
    MappedFile(std::filesystem::path path, const char* data, std::size_t size);
    std::filesystem::path path_;
    const char* data_;
    std::size_t size_;
    std::size_t watch_;
};

/// Makes an empty file beside `path` under a name nobody has: ".wendrix-" and what is random, ending in ".part". The
/// caller writes it and renames or removes it. @return kFileUnwritable.
[[nodiscard]] Result<std::filesystem::path> makeTemporaryBeside(const std::filesystem::path& path);
/// The same, a folder that only its owner may look into.
[[nodiscard]] Result<std::filesystem::path> makeTemporaryFolderBeside(const std::filesystem::path& path);
/// Removes what makeTemporaryBeside() and makeTemporaryFolderBeside() left in a folder when a program ended half way:
/// nothing of another name, and nothing younger than an hour, which another window may be writing.
void removeLeftOvers(const std::filesystem::path& folder);
/// Flushes a temporary file and its folder to the disk and gives it the name of `path`, which is replaced only where it
/// is a plain file; where that fails the temporary one is gone. @return kFileUnwritable.
[[nodiscard]] Result<void> putInPlace(const std::filesystem::path& temporary, const std::filesystem::path& path);

/// Writes to a temporary file beside the target, flushes it and its folder to the disk, then renames: the old file
/// stays whole if anything fails. Only a plain file is ever replaced, never a link, a device or a folder.
/// @return kFileUnwritable.
[[nodiscard]] Result<void> writeFileWhole(const std::filesystem::path& path, std::string_view bytes);
/// @param limit  bytes; a larger file is refused.
[[nodiscard]] Result<std::string> readFileWhole(const std::filesystem::path& path, std::uintmax_t limit = 1u << 30);

} // namespace wendrix
