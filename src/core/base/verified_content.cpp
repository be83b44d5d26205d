#include "core/base/verified_content.h"

#include "core/base/hash.h"

#include <map>
#include <mutex>

namespace wendrix {

namespace {

constexpr std::size_t kBlock = 4 << 20; // between two looks at whether it was cancelled

std::mutex mutex;
std::map<std::string, FileState>& known() // by hash
{
    static std::map<std::string, FileState> all;
    return all;
}

} // namespace

bool isKnownToHold(const FileState& state, const std::string& sha256)
{
    const std::lock_guard lock(mutex);
    const auto found = known().find(sha256);
    return found != known().end() && found->second == state;
}

void noteHolds(const FileState& state, const std::string& sha256)
{
    const std::lock_guard lock(mutex);
    known()[sha256] = state;
}

bool holdsContent(const MappedFile& mapped, const std::string& sha256, const Progress& progress)
{
    if (isKnownToHold(mapped.state(), sha256))
        return mapped.isUnchanged();
    Sha256 sum;
    const std::string_view bytes = mapped.bytes();
    for (std::size_t at = 0; at < bytes.size(); at += kBlock) {
        if (progress.isCancelled())
            return false;
        sum.add(bytes.substr(at, kBlock));
    }
    if (sum.finish() != sha256 || !mapped.isUnchanged())
        return false;
    noteHolds(mapped.state(), sha256);
    return true;
}

} // namespace wendrix
