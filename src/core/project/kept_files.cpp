#include "core/project/kept_files.h"

#include "core/base/descriptor.h"
#include "core/base/hash.h"
#include "core/base/hashed_copy.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <map>
#include <mutex>
#include <tuple>
#include <vector>

namespace wendrix::project {

namespace {

constexpr std::size_t kBlock = 1 << 20;
const std::string kReceiveAgain = "; receive the same file again and it is put back";

/// What a file has of its own that changes whenever its content does, whoever does it.
using Signs = std::tuple<dev_t, ino_t, off_t, std::int64_t, std::int64_t, std::int64_t, std::int64_t>;

Signs signsOf(const struct stat& s)
{
    return {s.st_dev, s.st_ino, s.st_size, s.st_mtim.tv_sec, s.st_mtim.tv_nsec, s.st_ctim.tv_sec, s.st_ctim.tv_nsec};
}

std::mutex mutex;
std::map<std::string, Signs>& verified() // by hash
{
    static std::map<std::string, Signs> all;
    return all;
}

} // namespace

std::string whyNotSound(const std::filesystem::path& kept, const std::string& sha256, const Progress& progress)
{
    const Descriptor file(::open(kept.c_str(), O_RDONLY | O_NONBLOCK | O_CLOEXEC | O_NOFOLLOW));
    struct stat status {};
    if (kept.empty() || (!file.isOpen() && errno == ENOENT))
        return "is missing from the project's folder" + kReceiveAgain;
    if (!file.isOpen() || ::fstat(file.get(), &status) != 0)
        return std::string("can not be read: ") + std::strerror(errno);
    if (!S_ISREG(status.st_mode))
        return "is no plain file in the project's folder" + kReceiveAgain;
    {
        const std::lock_guard lock(mutex);
        if (const auto known = verified().find(sha256); known != verified().end() && known->second == signsOf(status))
            return {};
    }
    Sha256 sum;
    std::vector<char> block(kBlock);
    for (;;) {
        if (progress.isCancelled())
            return {};
        const ssize_t got = ::read(file.get(), block.data(), block.size());
        if (got < 0 && errno == EINTR)
            continue;
        if (got < 0)
            return std::string("can not be read: ") + std::strerror(errno);
        if (got == 0)
            break;
        sum.add({block.data(), static_cast<std::size_t>(got)});
    }
    if (sum.finish() != sha256)
        return "is no longer what was received, since another program changed it" + kReceiveAgain;
    const std::lock_guard lock(mutex);
    verified()[sha256] = signsOf(status);
    return {};
}

Result<bool> heal(const std::filesystem::path& kept, const std::string& sha256, const std::filesystem::path& received,
                  Progress& progress)
{
    if (whyNotSound(kept, sha256, progress).empty())
        return false;
    HashedCopies copies(kept.parent_path());
    const auto done = copies.add(received, kept.extension().string(), progress);
    if (!done)
        return fail(done.error());
    if (*done != sha256)
        return fail({kNotSound, "The file was changed while it was looked at; try it again.", received.string()});
    copies.keep();
    return true;
}

} // namespace wendrix::project
