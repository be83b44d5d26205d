#pragma once

#include "core/bcf/extensions.h"
#include "core/bcf/topic.h"

#include <filesystem>
#include <map>
#include <memory>
#include <optional>

namespace wendrix::bcf {

inline constexpr ErrorCode kNotBcf{"bcf.not-bcf"};
inline constexpr ErrorCode kBrokenTopic{"bcf.broken-topic"};

/// A document that an archive holds once for all topics.
struct InsideDocument {
    std::string uuid, name, description;
    std::string entry; ///< of the archive
};

/// A BCF file that is open, 2.1 or 3.0: its topics are read one at a time, so that the largest needs no more memory
/// than its largest topic. What is wrong is told entry by entry and costs only what it is wrong with.
class File {
public:
    /// @return kNotBcf, or what Archive::open gives
    [[nodiscard]] static Result<std::unique_ptr<File>> open(const std::filesystem::path& path);
    [[nodiscard]] static Result<std::unique_ptr<File>> ofBytes(std::string bytes);

    [[nodiscard]] Version version() const { return version_; }
    [[nodiscard]] const std::string& projectId() const { return projectId_; }
    [[nodiscard]] const std::string& projectName() const { return projectName_; }
    [[nodiscard]] const Extensions& extensions() const { return extensions_; }
    [[nodiscard]] const std::map<std::string, InsideDocument>& documents() const { return documents_; } ///< by uuid

    [[nodiscard]] std::size_t topicCount() const { return topics_.size(); }
    /// Topics that share a GUID are each given one of its own, but the first; the same each time.
    /// @return kBrokenTopic where its markup can not be read, which is told under diagnostics() too
    [[nodiscard]] Result<Topic> topic(std::size_t index);
    /// The uuids of all topics, empty where one can not be read. The whole file is gone through for them, once.
    [[nodiscard]] const std::vector<std::string>& uuids();
    [[nodiscard]] std::optional<std::size_t> find(const std::string& uuid);

    /// Tells something of an entry, once.
    void note(Severity severity, const std::string& entry, const std::string& message);
    /// What was found so far, each once.
    [[nodiscard]] const std::vector<Diagnostic>& diagnostics() const { return diagnostics_; }
    [[nodiscard]] const std::shared_ptr<const Archive>& archive() const { return archive_; }
    /// XML of the archive's own: "project.bcfp", "extensions.xsd", ...; empty where it has none or a broken one.
    [[nodiscard]] std::string root(const std::string& entry) const;
    [[nodiscard]] const std::string& extensionsEntry() const { return extensionsEntry_; }
    /// Files that are neither the archive's own XML nor in a topic's folder, by name.
    [[nodiscard]] std::map<std::string, Blob> rest() const;

private:
    File() = default;
    [[nodiscard]] static Result<std::unique_ptr<File>> opened(std::shared_ptr<const Archive> archive);
    void tellFoldersWithoutMarkup();
    [[nodiscard]] Telling telling(const std::string& entry);
    [[nodiscard]] Xml read(const Archive::Entry& entry, const char* root);
    void readRoot();
    void readViewpoint(Topic& topic, pugi::xml_node view, issues::Viewpoint& viewpoint, std::set<std::string>& used);
    void readDocuments(Topic& topic);
    [[nodiscard]] std::string uuidFor(std::size_t index, const std::string& given);

    std::shared_ptr<const Archive> archive_;
    Version version_ = Version::V21;
    std::string projectId_, projectName_, extensionsEntry_;
    Extensions extensions_;
    std::map<std::string, InsideDocument> documents_;
    std::vector<const Archive::Entry*> topics_;      ///< their markups
    std::unordered_map<std::string, int> sameNames_; ///< of markups, whatever their capitals
    std::map<std::string, std::size_t> owners_;      ///< by uuid, which topic keeps it; once the file was gone through
    std::vector<std::string> uuids_;
    std::vector<Diagnostic> diagnostics_;
    std::set<std::string> told_;
};

} // namespace wendrix::bcf
