#pragma once

#include "core/project/project.h"

#include <set>

/// Deliveries that arrive by themselves in folders that are watched.
namespace wendrix::project {

/// Files that lie in a drop folder and belong together: what one delivery is made of.
struct Arrived {
    std::string discipline;
    std::vector<std::filesystem::path> models, documents; ///< by name; at least one model
};

/// By its ending: .ifc or .ifczip; .pdf.
[[nodiscard]] bool isModelFile(const std::filesystem::path& file);
[[nodiscard]] bool isDocumentFile(const std::filesystem::path& file);

/// A file as it lay there: what was looked at once need not be looked at again until it changes.
struct SeenFile {
    std::filesystem::path path;
    std::uintmax_t size = 0;
    std::int64_t time = 0; ///< of its last change, in the file system's own ticks
    auto operator<=>(const SeenFile&) const = default;
};
using SeenFiles = std::set<SeenFile>;

/// A drop folder's place: what is not absolute lies in the project's folder.
[[nodiscard]] std::filesystem::path dropFolderOf(const Discipline& discipline,
                                                 const std::filesystem::path& projectFolder);

/// What lies in the drop folders and was not seen yet.
///
/// A folder in a drop folder is one delivery; loose files are one where their names give the same revision. A file that
/// is still being written (changed within the last two seconds, or a model without its end within five minutes) is left
/// for the next time, and with it what belongs to it. Links and deeper folders are not followed.
[[nodiscard]] std::vector<Arrived> findArrived(const std::vector<Discipline>& disciplines,
                                               const std::filesystem::path& projectFolder, const SeenFiles& seen);

[[nodiscard]] SeenFile seenFile(const std::filesystem::path& file);

} // namespace wendrix::project
