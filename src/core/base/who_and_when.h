#pragma once

#include <string>

namespace wendrix {

/// A time as ISO 8601 in UTC, "2026-11-16T17:42:00Z": what is stored, and what BCF writes.
using Timestamp = std::string;

/// Who does a thing and when. Comes in from outside, so that tests are repeatable.
struct WhoAndWhen {
    std::string person;
    Timestamp time;
};

/// Now, in UTC, to the second.
[[nodiscard]] Timestamp currentTime();
/// "2026-11-16T17:42:00Z" as "16 Nov 17:42"; a text that is no time is given back as it is.
[[nodiscard]] std::string timeInWords(const Timestamp& time);
/// "16 Nov".
[[nodiscard]] std::string dayInWords(const Timestamp& time);
/// The same time `days` days later.
[[nodiscard]] Timestamp daysLater(const Timestamp& time, int days);

} // namespace wendrix
