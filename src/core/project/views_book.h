#pragma once

#include "core/project/setup_book.h"

#include <filesystem>

namespace wendrix::project {

/// Kept views with their versions, and numbered notes at places of the model.
class ViewsBook {
public:
    ViewsBook(Store& store, std::filesystem::path folder) : store_(store), folder_(std::move(folder)) {}
    static std::span<const Table> tables();
    static std::span<const char* const> indexes();

    /// The newest version of each kept view that this person may see, by folder and title.
    [[nodiscard]] Result<std::vector<KeptView>> views(const std::string& person) const;
    [[nodiscard]] Result<std::vector<KeptView>> versionsOf(const std::string& viewUuid) const; ///< newest first
    [[nodiscard]] Result<std::vector<Note>> notes() const;                                     ///< by number

    /// Keeps a view, or with a uuid that is there already its next version. @return its uuid
    [[nodiscard]] Result<std::string> keep(const KeptView& view, const std::string& picturePng, const WhoAndWhen& who);
    [[nodiscard]] Result<void> remove(const std::string& uuid, const WhoAndWhen& who);
    /// Writes the next note; its first words are those of `said`. @return its number
    [[nodiscard]] Result<int> addNote(const Note& note, const std::string& picturePng, const WhoAndWhen& who);
    /// Says something to a note, or sets how it stands, or both.
    [[nodiscard]] Result<void> sayToNote(const std::string& uuid, const std::string& status, const std::string& words,
                                         const WhoAndWhen& who);
    [[nodiscard]] Result<void> removeNote(const std::string& uuid, const WhoAndWhen& who);

private:
    [[nodiscard]] Result<std::string> keepPicture(const std::string& name, const std::string& png) const;
    [[nodiscard]] Result<std::string> numberOf(const std::string& noteUuid) const;
    Store& store_;
    std::filesystem::path folder_;
};

} // namespace wendrix::project
