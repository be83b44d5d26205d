#pragma once

#include "core/base/descriptor.h"
#include "core/base/result.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include <sys/stat.h>

/// Folders that somebody else may have prepared, as a project is. Whatever this program opens, makes, renames or
/// removes beneath one, by the calls below, is reached beneath the folder's own handle: no link on the way is followed,
/// nothing leads out of it, and a file that has a second name elsewhere (a hard link) is not opened. Everywhere else
/// the calls do what the system's do. All of them leave the reason in errno.
namespace wendrix {

/// Keeps the handle of a guarded folder open while it lives.
class FolderGuard {
public:
    /// Guards a folder from here on, for as long as the program runs: what still works on it when its project was
    /// closed is guarded, too. The folder itself may be reached through links, since a person named it.
    [[nodiscard]] static std::shared_ptr<const FolderGuard> of(const std::filesystem::path& folder);
    [[nodiscard]] int handle() const { return handle_.get(); }

    explicit FolderGuard(int handle) : handle_(handle) {}

private:
    Descriptor handle_;
};

/// open(2), closing on exec. Never waits for a pipe. @return one that is not open, with ELOOP (a link) or EMLINK (a
/// second name) among the reasons
[[nodiscard]] Descriptor openFile(const std::filesystem::path& path, int flags, mode_t mode = 0644);
/// Its status, links not followed; nothing where it can not be reached.
[[nodiscard]] std::optional<struct stat> statusOf(const std::filesystem::path& path);
/// Whether it is a plain file, and of this one name where it is guarded.
[[nodiscard]] bool isPlainFile(const std::filesystem::path& path);
/// A name in a folder that is there. @return whether the folder is there now
bool makeFolder(const std::filesystem::path& path);
/// Removes a file or a link, never what it leads to.
bool removeFile(const std::filesystem::path& path);
/// Removes a folder with all that is in it, links in it not followed.
void removeFolder(const std::filesystem::path& path);
bool renameFile(const std::filesystem::path& from, const std::filesystem::path& to);
/// The names in a folder, in order; empty where it can not be read.
[[nodiscard]] std::vector<std::string> namesIn(const std::filesystem::path& folder);
/// What errno says of a file that could not be opened, in words.
[[nodiscard]] std::string whyNotOpened();

} // namespace wendrix
