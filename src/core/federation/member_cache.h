#pragma once

#include "core/federation/member.h"

#include <filesystem>
#include <functional>
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
    /// @param delivery  its bytes; that they are what `sha256` says is the caller's to see to, here and when keeping
    [[nodiscard]] std::optional<Member> find(std::shared_ptr<const MappedFile> delivery,
                                             const std::string& sha256) const;
    [[nodiscard]] std::optional<Member> find(const std::filesystem::path& delivery, const std::string& sha256) const
    {
        auto mapped = MappedFile::open(delivery);
        return mapped ? find(std::move(*mapped), sha256) : std::nullopt;
    }
    /// Keeps a member; drops what older versions left. A disk that is full costs only the speed next time.
    void keep(const Member& member, const std::string& sha256) const;
    [[nodiscard]] std::filesystem::path fileOf(const std::string& sha256) const;

private:
    std::filesystem::path folder_;
};

inline constexpr ErrorCode kOtherContent{"member.other-content"};

/// As openMember, but through a cache. What is read is kept only where it was read from the bytes that `sha256` names:
/// the very mapping that is read is hashed beside the reading.
/// @param leftOut  classes that are not wanted; what was kept with others left out is another member
/// @return also kOtherContent, where the file holds something else
[[nodiscard]] Result<Member> openMember(const std::filesystem::path& path, const std::string& sha256,
                                        const std::vector<std::string>& leftOut, const MemberCache& cache,
                                        Progress& progress);

/// The same where somebody hashes the bytes already.
/// @param areThose  asked before anything is kept, and waits for the answer; called from any thread, also after this
///                  was cancelled, so it must own what it uses. What comes from the cache does not wait: the caller
///                  asks.
[[nodiscard]] Result<Member> openMember(std::shared_ptr<const MappedFile> mapped, const std::string& sha256,
                                        const std::vector<std::string>& leftOut, const MemberCache& cache,
                                        Progress& progress, std::function<bool()> areThose);

} // namespace wendrix::federation
