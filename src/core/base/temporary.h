#pragma once

#include "core/base/descriptor.h"
#include "core/base/result.h"

#include <filesystem>
#include <string_view>

namespace wendrix {

/// What is being made, a file or a folder, beside the place where it will belong, under a name nobody has: ".wendrix-"
/// and what is random, ending in ".part". It goes away with this unless it is put in place. While this lives it is
/// locked, so that whoever tidies the folder leaves it; a program that ends half way leaves it unlocked.
class Temporary {
public:
    /// An empty file. @return kFileUnwritable
    [[nodiscard]] static Result<Temporary> fileBeside(const std::filesystem::path& path);
    /// A folder that only its owner may look into.
    [[nodiscard]] static Result<Temporary> folderBeside(const std::filesystem::path& path);
    ~Temporary();
    Temporary(Temporary&& other) noexcept;
    Temporary& operator=(Temporary&&) = delete;

    [[nodiscard]] const std::filesystem::path& path() const { return path_; }
    /// Of a file, to be written through.
    [[nodiscard]] int descriptor() const { return lock_.get(); }
    /// Writes all of it at the end of the file; false with the reason in errno.
    [[nodiscard]] bool append(std::string_view bytes) const;
    /// Flushes the file and its folder to the disk and gives it the name of `path`, which is replaced only where it is
    /// a plain file. @return kFileUnwritable; then the temporary one is gone with this
    [[nodiscard]] Result<void> putInPlace(const std::filesystem::path& path);
    /// The same without flushing, for what can be made again. @return whether it was done
    bool putInPlaceUnflushed(const std::filesystem::path& path);

private:
    Temporary(std::filesystem::path path, Descriptor lock, bool isFolder);
    static Result<Temporary> beside(const std::filesystem::path& path, bool isFolder);
    std::filesystem::path path_; ///< empty once it is in place
    Descriptor lock_;
    bool isFolder_;
};

/// Removes what others left in a folder when a program ended half way: nothing of another name, nothing that is being
/// written, and, on a disk that knows no locks, nothing younger than an hour.
void removeLeftOvers(const std::filesystem::path& folder);

} // namespace wendrix
