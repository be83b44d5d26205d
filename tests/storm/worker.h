#pragma once

#include <filesystem>
#include <string>

/// What runs in processes of its own while the storm does things to it. Everything is said by one line on a descriptor,
/// before the next command begins: what is on its way, what is done, what could not be done.
namespace wendrix::storm {

enum class Pace { AsFastAsItCan, OneByOne };

/// Opens the project and makes random commands until it is killed, or has made so many that failed.
/// With Pace::OneByOne it waits for a byte on `asked` before each.
/// Lines: "trying WHAT MARKER [PAIR]", then "done WHAT MARKER [PAIR]" or "failed CODE MESSAGE".
[[noreturn]] void work(const std::filesystem::path& folder, int number, unsigned seed, int said, int asked, Pace pace);

/// Opens the project and reads everything in it. Exits with 0 where it could, or was told in words why not.
[[noreturn]] void readAll(const std::filesystem::path& folder, int said);

/// A project with disciplines, deliveries, a run with pairs and an issue to comment on.
void makeProject(const std::filesystem::path& folder);

inline constexpr const char* kFirstIssue = "what everybody comments on";

} // namespace wendrix::storm
