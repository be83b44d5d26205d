#pragma once

#include <filesystem>
#include <string>

/// Where a project keeps files. Their names stand in its database, which may come from anybody: what is no name that
/// Wendrix gives names no file.
namespace wendrix::project {

/// SHA-256 in lower case hex.
[[nodiscard]] bool isHash(const std::string& name);

/// "deliveries/<hash><ending>". Empty where the hash is none, the ending no plain one, or what stands there may be
/// somebody else's (a link, a second name of a file elsewhere): whoever opens that is told that the file is missing.
[[nodiscard]] std::filesystem::path deliveryFile(const std::filesystem::path& folder, const std::string& sha256,
                                                 const std::string& ending);

/// The folder of BCF files that were sent and that came.
inline constexpr const char* kExchanges = "exchanges";
/// "exchanges/<hash>.bcf". Empty where the hash is none or what stands there may be somebody else's.
[[nodiscard]] std::filesystem::path exchangeFile(const std::filesystem::path& folder, const std::string& sha256);
/// "exchanges/<hash>", what somebody attached to an issue; empty as above.
[[nodiscard]] std::filesystem::path attachmentFile(const std::filesystem::path& folder, const std::string& sha256);

/// "pictures/<name>". Empty where the name is not one of ours: letters, digits and dashes before ".png" or ".jpg", or
/// as above.
[[nodiscard]] std::filesystem::path pictureFile(const std::filesystem::path& folder, const std::string& name);

/// A picture as it is kept, in a file of its own or, as "<hash>/<entry>", in a BCF file that came; empty where it is
/// missing, a link, or larger than any picture.
[[nodiscard]] std::string readPicture(const std::filesystem::path& folder, const std::string& name);

} // namespace wendrix::project
