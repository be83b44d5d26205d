#include "core/project/kept_files.h"

#include "core/base/file.h"
#include "core/base/folder_guard.h"
#include "core/base/hash.h"
#include "core/base/hashed_copy.h"
#include "core/base/verified_content.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <vector>

namespace wendrix::project {

namespace {

constexpr std::size_t kBlock = 1 << 20;
const std::string kReceiveAgain = "; receive the same file again and it is put back";

} // namespace

std::string whyNotSound(const std::filesystem::path& kept, const std::string& sha256, const Progress& progress)
{
    const Descriptor file = openFile(kept, O_RDONLY | O_NOFOLLOW);
    if (kept.empty() || (!file.isOpen() && errno == ENOENT))
        return "is missing from the project's folder" + kReceiveAgain;
    if (!file.isOpen())
        return "can not be read: " + whyNotOpened();
    struct stat status {};
    if (::fstat(file.get(), &status) != 0 || !S_ISREG(status.st_mode))
        return "is no plain file in the project's folder" + kReceiveAgain;
    const FileState state = FileState::of(file.get());
    if (isKnownToHold(state, sha256))
        return {};
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
    if (FileState::of(file.get()) == state)
        noteHolds(state, sha256);
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
