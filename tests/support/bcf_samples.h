#pragma once

#include "core/bcf/archive.h"
#include "core/bcf/version.h"

#include <filesystem>
#include <string>

/// BCF archives that use every element of the standard, as files by name.
namespace wendrix::test {

inline constexpr const char* kTopic = "11111111-2222-3333-4444-555555555555";
inline constexpr const char* kOther = "11111111-2222-3333-4444-666666666666";
inline constexpr const char* kView = "aaaaaaaa-0000-0000-0000-000000000001";
inline constexpr const char* kSecondView = "aaaaaaaa-0000-0000-0000-000000000002";
inline constexpr const char* kComment = "bbbbbbbb-0000-0000-0000-000000000001";
inline constexpr const char* kDocument = "cccccccc-0000-0000-0000-000000000001";
inline constexpr const char* kElement = "0$aZ_9bcdefghijklmnopq";

/// Two topics, the first with all that a topic may have, the second with no more than it must.
[[nodiscard]] bcf::Entries wholeBcf(bcf::Version version);
/// A grey PNG, a JPEG of 2 x 2 pixels.
[[nodiscard]] std::string png(int width = 2, int height = 2);
[[nodiscard]] std::string jpeg();
/// Files as a zip, whatever they are called.
void zipTo(const bcf::Entries& entries, const std::filesystem::path& path);
/// What the standard has against a file, one fault a line with its entry.
[[nodiscard]] std::string problems(const std::filesystem::path& file);
/// Replaces the first `from` in an entry; aborts where it is not there, so that no test edits nothing.
void edit(bcf::Entries& entries, const std::string& entry, const std::string& from, const std::string& to);
[[nodiscard]] inline std::string markupOf(const char* topic) { return std::string(topic) + "/markup.bcf"; }

} // namespace wendrix::test
