#pragma once

#include "core/step/file.h"

namespace wendrix::step {

/// What one pass over a file's bytes finds.
struct Scan {
    Header header;
    EntityIndex index;
    std::vector<Diagnostic> diagnostics;
};

/// Finds every statement of a STEP file: sections, header, the place of each entity.
///
/// A statement that is not well formed is a diagnostic and passed over. A string that is never closed costs only
/// its own entity: where a line inside a string begins like an entity, the string is taken as ended before it.
/// @return kNotStep, kTruncated or kCancelled, with the byte and the last entity.
[[nodiscard]] Result<Scan> scan(std::string_view bytes, const std::string& name, Progress& progress);

} // namespace wendrix::step
