#pragma once

#include "core/bcf/file.h"

namespace wendrix::bcf {

/// Puts a BCF file together, topic by topic; nothing large is held until it is written.
///
/// A topic that came from a file keeps what nobody here knows: its XML as it came, with what changed since laid over
/// it. A topic of the other version is converted, and what that had to map is told. What is written follows the
/// standard wherever what came did, or can be mended without a guess.
class Writer {
public:
    /// @param tell  of what had to be mapped, entry by entry
    explicit Writer(Version version, std::function<void(const std::string& entry, const std::string& what)> tell = {});

    void setProject(const std::string& id, const std::string& name);
    /// What the project allows; lists that are empty allow everything. Values in use are added to the others.
    void setExtensions(const Extensions& extensions) { extensions_ = extensions; }
    /// Goes on from what a file holds beside its topics: project, extensions, documents, and files nobody knows.
    void goOnFrom(const File& file);
    /// The files that another one holds beside its topics, where none of that name is there.
    void addRest(const File& file);
    /// @param asRead  what its XML says, where the issue was changed since
    void add(const Topic& topic, const issues::Issue& asRead);
    void add(const Topic& topic) { add(topic, topic.issue); }

    [[nodiscard]] Result<void> write(const std::filesystem::path& path);
    [[nodiscard]] Result<std::string> bytes();

private:
    [[nodiscard]] Telling telling(const std::string& entry) const;
    void note(const issues::Issue& issue);
    [[nodiscard]] std::string entryFor(const issues::DocumentReference& document);
    void addViewpoints(const Topic& topic, const issues::Issue& asRead, pugi::xml_document& markup,
                       const std::string& folder);
    void finish();
    void finishProject();
    void finishExtensions();
    void finishDocuments();

    Version version_;
    std::function<void(const std::string&, const std::string&)> tell_;
    ArchiveWriter archive_;
    std::string projectId_, projectName_;
    Extensions extensions_, used_;
    std::string versionXml_, projectXml_, extensionsXml_, documentsXml_; ///< as they came, of the same version
    std::string extensionsEntry_;
    std::map<std::string, InsideDocument> documents_;    ///< by uuid, those of 3.0
    std::map<std::string, std::string> documentEntries_; ///< by target, what it is called in what is written
    std::map<std::string, Blob> rest_;
    bool isFinished_ = false;
};

} // namespace wendrix::bcf
