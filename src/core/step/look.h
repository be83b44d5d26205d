#pragma once

#include "core/base/result.h"

#include <filesystem>

namespace wendrix::step {

/// Looks at the two ends of a file that is said to be a model, before anything is done with all of it: whether it is a
/// plain file, begins like STEP or a zip archive, and was written whole. Costs some kilobytes of reading, however large
/// the file says it is.
/// @return kNotStep, kTruncated, or what MappedFile::open gives for what is no plain file
[[nodiscard]] Result<void> lookAt(const std::filesystem::path& file);

} // namespace wendrix::step
