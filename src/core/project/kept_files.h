#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"

#include <filesystem>
#include <string>

/// What a project keeps of deliveries: files named by their SHA-256, which is what they are held against.
namespace wendrix::project {

/// A file that is kept is missing, or is not what was received.
inline constexpr ErrorCode kNotSound{"project.not-sound"};

/// What is wrong with a file that is kept, as the end of a sentence that names it: "is missing from the project's
/// folder; receive it again". A file that was held against its hash once is not read again until its size or times say
/// that somebody touched it.
/// @return empty where it is what was received, and where the work was cancelled
[[nodiscard]] std::string whyNotSound(const std::filesystem::path& kept, const std::string& sha256,
                                      const Progress& progress);

/// Puts what was received once more in the place of a kept file that is missing or damaged.
/// @param received  a file of which the SHA-256 is known to be this one
/// @return whether anything had to be done
[[nodiscard]] Result<bool> heal(const std::filesystem::path& kept, const std::string& sha256,
                                const std::filesystem::path& received, Progress& progress);

} // namespace wendrix::project
