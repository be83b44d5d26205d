#pragma once

#include "core/step/file.h"

#include <filesystem>
#include <map>
#include <string>
#include <vector>

namespace wendrix::step {

/// A STEP REAL (ISO 10303-21, 7.3.2) that reads back as exactly this number: "0.5", "1.E-05".
[[nodiscard]] std::string realText(double value);
/// A STEP STRING with its quotes; what is not printable ASCII is written as \X2\...\X0\.
[[nodiscard]] std::string stringText(const std::string& utf8);

/// Changes to a file, by offset: every byte that no change touches is written as it is, comments, line ends and
/// encodings included. Entities are added before the end of the data section.
class Patch {
public:
    /// The file outlives the patch.
    explicit Patch(const File& file);

    /// Puts another text in the place of one argument. Done twice, the last one counts.
    /// @return false where the entity has no such argument, or is not well formed
    [[nodiscard]] bool setArgument(EntityId id, std::size_t index, const std::string& text);
    /// Puts another keyword and arguments, "IFCDIRECTION((1.,0.))", in the place of an entity's.
    [[nodiscard]] bool setEntity(EntityId id, const std::string& text);
    [[nodiscard]] bool remove(EntityId id);
    /// @return its number, above all that the file has
    EntityId add(const std::string& text);
    [[nodiscard]] static std::string reference(EntityId id) { return "#" + std::to_string(id); }
    /// The text of an argument as the file has it; empty where there is none.
    [[nodiscard]] std::string argument(EntityId id, std::size_t index) const;
    /// The same of an entry, without reading what follows it.
    [[nodiscard]] std::string_view argumentText(const Entry& entry, std::size_t index) const;

    /// Writes the whole beside `path` and renames it there; the file that is read from is never written to.
    /// @return kFileUnwritable, kFileChanged where the target is the file itself
    [[nodiscard]] Result<void> write(const std::filesystem::path& path, Progress& progress) const;
    /// The same as text, for tests and small files.
    [[nodiscard]] std::string text() const;

private:
    struct Range {
        std::size_t from = 0, to = 0;
    };
    /// Each argument in turn, until one is enough (`each` gives false).
    /// @return false where the statement does not end
    template <class Each>
    bool forEachArgument(const Entry& entry, Each&& each) const;
    [[nodiscard]] std::vector<Range> argumentsOf(EntityId id) const;
    /// From the '#' to behind the ';'.
    [[nodiscard]] std::optional<Range> statementOf(EntityId id) const;
    /// From the first byte to the last: what is kept, from and to, and what is put between.
    template <class Keep, class Add>
    bool pass(Keep&& keep, Add&& add) const;

    const File& file_;
    std::map<std::size_t, std::pair<std::size_t, std::string>> changes_; ///< from, to, text; they do not overlap
    std::string added_;
    EntityId next_ = 1;
    std::size_t end_ = 0; ///< where entities are added
    std::string lineEnd_ = "\n";
};

} // namespace wendrix::step
