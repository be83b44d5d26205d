#pragma once

#include "core/base/result.h"

#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace wendrix::bcf {

inline constexpr ErrorCode kNotAnArchive{"bcf.not-an-archive"};
inline constexpr ErrorCode kHostileArchive{"bcf.hostile-archive"};

/// The files of a zip by name, unpacked in memory.
using Entries = std::map<std::string, std::string>;

/// Unpacks a zip from memory. Bounded: entries, bytes per entry and in all, and how far anything inflates are
/// counted while inflating, whatever the directory claims. Names that are absolute, climb out, hold control
/// characters or repeat are refused. `\` counts as `/`; one folder around everything is taken off.
/// @return kNotAnArchive or kHostileArchive, with the entry named.
[[nodiscard]] Result<Entries> unpack(std::string_view bytes);

/// Packs files into a zip, in the order of their names, all with the same time so that equal content gives
/// equal bytes.
[[nodiscard]] Result<std::string> pack(const Entries& entries);

} // namespace wendrix::bcf
