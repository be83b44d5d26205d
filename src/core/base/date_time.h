#pragma once

#include <cstdint>
#include <optional>
#include <string_view>

namespace wendrix {

/// Microseconds since the beginning of 1970 (UTC) of an xs:dateTime, the profile of ISO 8601 that BCF, IDS and IFC's
/// own times use: "2026-11-28T10:00:00.5+01:00". Without a zone it is UTC; 24:00:00 is the end of that day. Nothing
/// where it is none ("28.11.2026", "2026-02-30T00:00:00Z").
[[nodiscard]] std::optional<std::int64_t> microsecondsOf(std::string_view dateTime);

/// Whether two times are the same moment, whatever zone each is written in; texts that are no times are compared as
/// texts.
[[nodiscard]] bool isSameMoment(std::string_view a, std::string_view b);
/// Whether one comes before the other; what is no time comes before everything.
[[nodiscard]] bool isEarlier(std::string_view a, std::string_view b);

} // namespace wendrix
