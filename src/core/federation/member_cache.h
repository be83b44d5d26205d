#pragma once

#include "core/federation/member.h"

#include <filesystem>
#include <string>

namespace wendrix::federation {

/// What was read and built of deliveries, kept beside them so that opening one again is a matter of mapping a file.
///
/// A file's name is the delivery's SHA-256 and the version of the code that reads; its content carries a checksum.
/// What is old, damaged or of another delivery counts as not there. Disposable at any time.
class MemberCache {
public:
    /// @param folder  empty: nothing is kept and nothing found
    explicit MemberCache(std::filesystem::path folder) : folder_(std::move(folder)) {}

    /// The member of this delivery as it was kept, if it was.
    [[nodiscard]] std::optional<Member> find(const std::filesystem::path& delivery, const std::string& sha256) const;
    /// Keeps a member; drops what older versions left. A disk that is full costs only the speed next time.
    void keep(const Member& member, const std::string& sha256) const;
    [[nodiscard]] std::filesystem::path fileOf(const std::string& sha256) const;

private:
    std::filesystem::path folder_;
};

/// As openMember, but through a cache.
/// @param leftOut  classes that are not wanted; what was kept with others left out is another member
[[nodiscard]] Result<Member> openMember(const std::filesystem::path& path, const std::string& sha256,
                                        const std::vector<std::string>& leftOut, const MemberCache& cache,
                                        Progress& progress);

} // namespace wendrix::federation
