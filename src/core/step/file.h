#pragma once

#include "core/base/file.h"
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/step/value.h"

#include <memory>
#include <span>
#include <string>
#include <vector>

namespace wendrix::step {

inline constexpr ErrorCode kNotStep{"step.not-step"};
inline constexpr ErrorCode kTruncated{"step.truncated"};
inline constexpr ErrorCode kCancelled{"step.cancelled"};

/// A STEP file (ISO 10303-21): an index of its entities over the mapped bytes; arguments are read on demand.
///
/// Indexing is one pass, O(bytes), and keeps 24 bytes an entity. Reading an entity is thread-safe.
class File {
public:
    struct Entry {
        EntityId id;
        std::uint64_t offset;  ///< of the '(' that opens the arguments
        std::uint32_t keyword; ///< index into keywords()
    };

    /// @return kNotStep, kTruncated (no end of the data: a part of a model must not pass for the whole),
    ///         kCancelled, or what MappedFile::open gives.
    [[nodiscard]] static Result<File> open(const std::filesystem::path& path, Progress& progress);
    /// The same over bytes in memory; `name` stands in messages. The bytes must outlive the File.
    [[nodiscard]] static Result<File> index(std::string_view bytes, const std::string& name, Progress& progress);

    [[nodiscard]] const std::string& name() const { return name_; }
    /// As FILE_SCHEMA has it, upper case: "IFC2X3".
    [[nodiscard]] const std::string& schemaName() const { return schema_; }
    [[nodiscard]] const std::string& timeStamp() const { return timeStamp_; }
    [[nodiscard]] const std::string& originatingSystem() const { return originatingSystem_; }

    /// Sorted by id.
    [[nodiscard]] std::span<const Entry> entries() const { return entries_; }
    /// Upper case, as they came up.
    [[nodiscard]] std::span<const std::string> keywords() const { return keywords_; }
    [[nodiscard]] const Entry* find(EntityId id) const;
    /// The arguments; empty, with a diagnostic in `problem` if asked for, where they are not well formed.
    [[nodiscard]] Instance read(const Entry& entry, Diagnostic* problem = nullptr) const;

    [[nodiscard]] const std::vector<Diagnostic>& diagnostics() const { return diagnostics_; }

private:
    Result<void> scan(Progress& progress);
    void readHeader(std::string_view header);

    std::shared_ptr<const MappedFile> mapped_;
    std::string_view bytes_;
    std::string name_, schema_, timeStamp_, originatingSystem_;
    std::vector<Entry> entries_;
    std::vector<std::string> keywords_;
    std::vector<Diagnostic> diagnostics_;
};

} // namespace wendrix::step
