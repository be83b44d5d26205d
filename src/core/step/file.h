#pragma once

#include "core/base/file.h"
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/step/entity_index.h"
#include "core/step/value.h"

#include <memory>
#include <string>

namespace wendrix::step {

inline constexpr ErrorCode kNotStep{"step.not-step"};
inline constexpr ErrorCode kTruncated{"step.truncated"};
inline constexpr ErrorCode kCancelled{"step.cancelled"};
inline constexpr ErrorCode kArchive{"step.archive"};

/// What the HEADER section says.
struct Header {
    std::string schema; ///< as FILE_SCHEMA has it, upper case: "IFC2X3"
    std::string name;   ///< what the file was called when it was written
    std::string timeStamp;
    std::string author, organisation; ///< the first of each that FILE_NAME names
    std::string originatingSystem;
    std::string viewDefinition; ///< what FILE_DESCRIPTION names in "ViewDefinition [...]"; empty if nothing
};

/// A STEP file (ISO 10303-21): an index of its entities over the mapped bytes; arguments are read on demand.
///
/// Indexing is one pass, O(bytes). Reading an entity is thread-safe.
class File {
public:
    /// A plain file is mapped; a zip (.ifczip) is unpacked in memory and holds exactly one .ifc.
    /// @return kNotStep, kTruncated (no end of the data: a part of a model must not pass for the whole),
    ///         kArchive (a zip that is damaged, hostile or holds no model), kCancelled, or what MappedFile::open gives.
    [[nodiscard]] static Result<File> open(const std::filesystem::path& path, Progress& progress);
    [[nodiscard]] static Result<File> open(std::shared_ptr<const MappedFile> mapped, Progress& progress);
    /// The same over bytes in memory; `name` stands in messages. The bytes must outlive the File.
    [[nodiscard]] static Result<File> index(std::string_view bytes, const std::string& name, Progress& progress);

    void save(BinaryWriter& out) const;
    /// A plain file whose index was saved before; its bytes must be the same ones.
    [[nodiscard]] static File restore(std::shared_ptr<const MappedFile> mapped, BinaryReader& in);

    [[nodiscard]] const std::string& name() const { return name_; }
    [[nodiscard]] const Header& header() const { return header_; }
    [[nodiscard]] std::string_view bytes() const { return bytes_; }
    /// False once bytes were read that the file has no more, since another program shortened it.
    [[nodiscard]] bool isWhole() const { return !mapped_ || mapped_->isWhole(); }
    [[nodiscard]] const EntityIndex& entities() const { return index_; }
    /// The arguments; empty, with a diagnostic in `problem` if asked for, where they are not well formed.
    [[nodiscard]] Instance read(const Entry& entry, Diagnostic* problem = nullptr) const;
    /// The text of the arguments, from their '(' to the end of the file.
    [[nodiscard]] std::string_view argumentsOf(const Entry& entry) const { return bytes_.substr(entry.offset()); }

    [[nodiscard]] const std::vector<Diagnostic>& diagnostics() const { return diagnostics_; }

private:
    std::shared_ptr<const MappedFile> mapped_;    ///< where bytes_ are, or
    std::shared_ptr<const std::string> unpacked_; ///< where they are, where the File keeps them at all
    std::string_view bytes_;
    std::string name_;
    Header header_;
    EntityIndex index_;
    std::vector<Diagnostic> diagnostics_;
};

} // namespace wendrix::step
