#include "core/project/stored_files.h"

#include "core/base/file.h"
#include "core/base/folder_guard.h"
#include "core/bcf/archive.h"

#include <algorithm>

namespace wendrix::project {

namespace fs = std::filesystem;

namespace {

constexpr std::uint64_t kLargestPicture = 64 << 20;
constexpr std::size_t kLongestName = 120;

bool isDigit(char c) { return c >= '0' && c <= '9'; }
bool isLetter(char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z'); }

/// A place in a project's folder, unless something that may be somebody else's stands there.
fs::path ours(fs::path file)
{
    const auto status = statusOf(file);
    const bool isElsewhere = status && (S_ISLNK(status->st_mode) || (S_ISREG(status->st_mode) && status->st_nlink > 1));
    return isElsewhere ? fs::path() : file;
}

} // namespace

bool isHash(const std::string& name)
{
    return name.size() == 64 &&
           std::all_of(name.begin(), name.end(), [](char c) { return isDigit(c) || (c >= 'a' && c <= 'f'); });
}

fs::path deliveryFile(const fs::path& folder, const std::string& sha256, const std::string& ending)
{
    const bool isPlain = ending.size() <= 10 && (ending.empty() || ending[0] == '.') &&
                         std::all_of(ending.begin() + (ending.empty() ? 0 : 1), ending.end(),
                                     [](char c) { return isDigit(c) || isLetter(c); });
    if (!isHash(sha256) || !isPlain)
        return {};
    return ours(folder / "deliveries" / (sha256 + ending));
}

fs::path pictureFile(const fs::path& folder, const std::string& name)
{
    const bool isOurs =
        name.size() > 4 && name.size() <= kLongestName && (name.ends_with(".png") || name.ends_with(".jpg")) &&
        std::all_of(name.begin(), name.end() - 4, [](char c) { return isDigit(c) || isLetter(c) || c == '-'; });
    return isOurs ? ours(folder / "pictures" / name) : fs::path();
}

fs::path exchangeFile(const fs::path& folder, const std::string& sha256)
{
    return isHash(sha256) ? ours(folder / kExchanges / (sha256 + ".bcf")) : fs::path();
}

fs::path attachmentFile(const fs::path& folder, const std::string& sha256)
{
    return isHash(sha256) ? ours(folder / kExchanges / sha256) : fs::path();
}

std::string readPicture(const fs::path& folder, const std::string& name)
{
    if (const std::size_t slash = name.find('/'); slash != std::string::npos) {
        const fs::path kept = exchangeFile(folder, name.substr(0, slash));
        const auto archive =
            kept.empty() ? Result<std::shared_ptr<const bcf::Archive>>(fail({})) : bcf::Archive::open(kept);
        const auto* entry = archive ? (*archive)->find(name.substr(slash + 1)) : nullptr;
        return entry != nullptr ? (*archive)->read(*entry).value_or("") : std::string();
    }
    const fs::path file = pictureFile(folder, name);
    return file.empty() ? std::string() : readFileWhole(file, kLargestPicture).value_or("");
}

} // namespace wendrix::project
