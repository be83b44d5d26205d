#pragma once

#include <filesystem>
#include <vector>

/// Which drop folders this machine's person has said are to be watched. A project names them, and it may come from
/// anybody; what arrives in one is copied into the project's folder. Kept with this person's settings, never in a
/// project.
namespace wendrix::app {

[[nodiscard]] bool isWatchedHere(const std::filesystem::path& project, const std::filesystem::path& dropFolder);
void watchHere(const std::filesystem::path& project, const std::vector<std::filesystem::path>& dropFolders);

} // namespace wendrix::app
