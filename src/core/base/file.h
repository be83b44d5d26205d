#pragma once

#include "core/base/descriptor.h"
#include "core/base/result.h"

#include <cstdint>
#include <filesystem>
#include <memory>
#include <string>
#include <string_view>

namespace wendrix {

inline constexpr ErrorCode kFileUnreadable{"file.unreadable"};
inline constexpr ErrorCode kFileEmpty{"file.empty"};
inline constexpr ErrorCode kFileUnwritable{"file.unwritable"};
inline constexpr ErrorCode kFileChanged{"file.changed"};

/// What a file has of its own that changes whenever its content does, whoever does it.
struct FileState {
    std::uint64_t device = 0, inode = 0, bytes = 0;
    std::int64_t changed = 0, stated = 0; ///< nanoseconds: of its content, of anything about it
    bool operator==(const FileState&) const = default;
    /// Of an open file; nothing where they can not be had.
    [[nodiscard]] static FileState of(int descriptor);
};

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
    /// As it was when it was opened.
    [[nodiscard]] const FileState& state() const { return state_; }
    /// Whether nobody wrote to it since it was opened: all that was read of it was there together.
    [[nodiscard]] bool isUnchanged() const { return isWhole() && FileState::of(file_.get()) == state_; }

private:
    MappedFile(std::filesystem::path path, Descriptor file, const FileState& state, const char* data, std::size_t size);
    std::filesystem::path path_;
    Descriptor file_;
    FileState state_;
    const char* data_;
    std::size_t size_;
    std::size_t watch_;
};

/// Writes to a temporary file beside the target, flushes it and its folder to the disk, then renames: the old file
/// stays whole if anything fails. Only a plain file is ever replaced, never a link, a device or a folder.
/// @return kFileUnwritable.
[[nodiscard]] Result<void> writeFileWhole(const std::filesystem::path& path, std::string_view bytes);
/// @param limit  bytes; a larger file is refused.
[[nodiscard]] Result<std::string> readFileWhole(const std::filesystem::path& path, std::uintmax_t limit = 1u << 30);

} // namespace wendrix
