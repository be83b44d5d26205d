#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"

#include <memory>
#include <string>
#include <string_view>

namespace wendrix::step {

/// The one .ifc of a zip archive (.ifczip), unpacked in memory. Bounded: what it inflates to is counted while
/// inflating, whatever the directory claims; the entry's name is never used as a path.
/// @return File's kArchive (damaged, encrypted, no model or several in it, unpacks to more than a model would),
///         or kCancelled.
[[nodiscard]] Result<std::shared_ptr<const std::string>> unzipModel(std::string_view archive, const std::string& name,
                                                                    Progress& progress);

} // namespace wendrix::step
