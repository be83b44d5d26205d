#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

namespace wendrix {

inline constexpr ErrorCode kCopyCancelled{"copy.cancelled"};

/// Copies of files in a folder, each under its SHA-256; what was copied goes away again unless it is kept. From the
/// first copy on the folder is locked against others, in this program and in any, so that nobody relies on a file that
/// is about to go away.
class HashedCopies {
public:
    explicit HashedCopies(std::filesystem::path folder);
    ~HashedCopies();
    HashedCopies(const HashedCopies&) = delete;
    HashedCopies& operator=(const HashedCopies&) = delete;

    /// Copies a file, flushed to the disk; one whose content is there already stays as it is, and one that is damaged
    /// is put back.
    ///
    /// What is hashed is what is copied, in one pass, so that of a file somebody still writes one state is kept and
    /// never half of two. Links are followed: a person may have named one.
    /// @param ending  of the copy's name: ".ifc"
    /// @return  the hash; or kFileUnreadable, kFileEmpty, kFileUnwritable, kCopyCancelled
    [[nodiscard]] Result<std::string> add(const std::filesystem::path& file, const std::string& ending,
                                          Progress& progress);
    [[nodiscard]] std::filesystem::path pathOf(const std::string& sha256, const std::string& ending) const
    {
        return folder_ / (sha256 + ending);
    }
    void keep() { made_.clear(); }
    /// Whether a file was put in its place: it was not there, or not whole.
    [[nodiscard]] bool hasMade() const { return hasMade_; }

private:
    class Lock;
    std::filesystem::path folder_;
    std::unique_ptr<Lock> lock_;
    bool hasMade_ = false;
    std::vector<std::filesystem::path> made_;
};

} // namespace wendrix
