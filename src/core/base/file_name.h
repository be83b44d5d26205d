#pragma once

#include <filesystem>
#include <string>

namespace wendrix {

/// A file's name for people and for what is recorded: UTF-8, whatever bytes the name is made of. Bytes that are none
/// are taken as Latin-1, which is what old programs wrote. The path itself stays as it is, so that the file is found.
[[nodiscard]] std::string nameInUtf8(const std::filesystem::path& file);

/// The file that a text names. A toolkit that knows only UTF-8 hands over names in which U+FFFD stands for other bytes:
/// where nothing has such a name, what reads so is taken, the first by name of several.
[[nodiscard]] std::filesystem::path fileNamed(const std::string& text);

} // namespace wendrix
