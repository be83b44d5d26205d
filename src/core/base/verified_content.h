#pragma once

#include "core/base/file.h"
#include "core/base/progress.h"

#include <string>

/// Files that were held against a SHA-256. One that was is not hashed again until its state says that somebody touched
/// it.
namespace wendrix {

/// Whether mapped bytes are those of this SHA-256, and were so all the time since they were mapped.
/// @return false also where it was cancelled
[[nodiscard]] bool holdsContent(const MappedFile& mapped, const std::string& sha256, const Progress& progress);

[[nodiscard]] bool isKnownToHold(const FileState& state, const std::string& sha256);
void noteHolds(const FileState& state, const std::string& sha256);

} // namespace wendrix
