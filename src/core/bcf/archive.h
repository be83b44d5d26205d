#pragma once

#include "core/base/result.h"

#include <cstdint>
#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

struct zip;

namespace wendrix::bcf {

inline constexpr ErrorCode kNotAnArchive{"bcf.not-an-archive"};
inline constexpr ErrorCode kHostileArchive{"bcf.hostile-archive"};
inline constexpr ErrorCode kNoEntry{"bcf.no-entry"};
inline constexpr ErrorCode kUnwritable{"bcf.unwritable"};

/// A zip that is open: its entries are unpacked one at a time, in memory, never to the disk.
///
/// Nothing it claims is believed: bytes are counted while they are unpacked, and names that are absolute, climb out or
/// hold control characters are no entries but faults. `\` counts as `/`; one folder around everything is taken off.
/// Entries may share a name: each is its own, by number. Used from one thread at a time.
class Archive {
public:
    /// @return kNotAnArchive, or kHostileArchive where it holds more than any real file would
    [[nodiscard]] static Result<std::shared_ptr<const Archive>> open(const std::filesystem::path& path);
    [[nodiscard]] static Result<std::shared_ptr<const Archive>> ofBytes(std::string bytes);
    ~Archive();
    Archive(const Archive&) = delete;
    Archive& operator=(const Archive&) = delete;

    struct Entry {
        std::string name;
        std::uint64_t number; ///< within the zip
        std::uint64_t size;   ///< as the directory claims
    };
    /// By name, those of one name in the order of the zip; folders are none.
    [[nodiscard]] const std::vector<Entry>& entries() const { return entries_; }
    /// The first of that name; where none is written so, one that differs in case only.
    [[nodiscard]] const Entry* find(std::string_view name) const;
    [[nodiscard]] bool hasExactly(std::string_view name) const { return byName_.contains(std::string(name)); }
    /// Those of a folder and what is under it.
    [[nodiscard]] std::vector<const Entry*> under(std::string_view folder) const;
    /// @return kHostileArchive where it unpacks to too much, kNotAnArchive where it is damaged; both name it
    [[nodiscard]] Result<std::string> read(const Entry& entry) const;
    /// What is wrong with the archive itself, entry by entry.
    [[nodiscard]] const std::vector<Diagnostic>& faults() const { return faults_; }

private:
    Archive() = default;
    [[nodiscard]] static Result<std::shared_ptr<const Archive>> opened(std::shared_ptr<Archive> archive);
    /// @return how many entries are encrypted, and were passed over
    std::size_t list();
    void takeOffOuterFolder();

    std::string bytes_; ///< where it was not opened from a file
    zip* zip_ = nullptr;
    std::uint64_t packedSize_ = 0;
    mutable std::uint64_t unpacked_ = 0;
    std::vector<Entry> entries_;
    std::unordered_map<std::string, std::size_t> byName_, byLowerName_;
    std::vector<Diagnostic> faults_;
};

/// Bytes that are fetched when they are written.
struct Blob {
    std::uint64_t size = 0;
    std::function<Result<std::string>()> read;

    [[nodiscard]] static Blob of(std::string bytes);
    [[nodiscard]] static Blob of(std::shared_ptr<const Archive> archive, const Archive::Entry& entry);
    [[nodiscard]] static Blob of(const std::filesystem::path& file);
};

/// A zip that is being put together; nothing large is held until it is written. Equal content gives equal bytes: all
/// entries have the same time.
class ArchiveWriter {
public:
    /// The first of a name counts. @return whether it is new
    bool add(const std::string& name, Blob blob);
    bool add(const std::string& name, std::string bytes) { return add(name, Blob::of(std::move(bytes))); }
    [[nodiscard]] bool has(const std::string& name) const;
    /// To a temporary file beside it, then renamed: what stood there stays whole if anything fails.
    /// @return kUnwritable, or what a blob could not be fetched for
    [[nodiscard]] Result<void> write(const std::filesystem::path& path) const;
    [[nodiscard]] Result<std::string> bytes() const;

private:
    std::map<std::string, Blob> entries_;
    std::unordered_map<std::string, std::string> lowerNames_;
};

/// The files of a small zip by name, for tests and tools.
using Entries = std::map<std::string, std::string>;
[[nodiscard]] Result<Entries> unpack(std::string_view bytes);
[[nodiscard]] Result<std::string> pack(const Entries& entries);

} // namespace wendrix::bcf
