#include "core/base/hashed_copy.h"

#include "core/base/file.h"
#include "core/base/folder_guard.h"
#include "core/base/hash.h"
#include "core/base/temporary.h"

#include <algorithm>
#include <cerrno>
#include <chrono>
#include <cstring>
#include <thread>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <sys/statvfs.h>
#include <unistd.h>

namespace wendrix {

namespace fs = std::filesystem;

namespace {

constexpr std::size_t kBlock = 1 << 20;

Error unreadable(const fs::path& file, const std::string& why)
{
    return {kFileUnreadable, "The file can not be read: " + why + ".", file.string()};
}

} // namespace

class HashedCopies::Lock {
public:
    static Result<std::unique_ptr<Lock>> of(const fs::path& folder, const Progress& progress)
    {
        auto lock = std::make_unique<Lock>(folder);
        if (!lock->folder_.isOpen())
            return fail({kFileUnwritable, "No copy can be kept: " + whyNotOpened() + ".", folder.string()});
        while (::flock(lock->folder_.get(), LOCK_EX | LOCK_NB) != 0) {
            if (errno != EWOULDBLOCK && errno != EINTR)
                break; // a folder on a server that knows no locks
            if (progress.isCancelled())
                return fail({kCopyCancelled, "Cancelled; nothing was kept."});
            std::this_thread::sleep_for(std::chrono::milliseconds(20));
        }
        return lock;
    }
    explicit Lock(const fs::path& folder) : folder_(openFile(folder, O_RDONLY | O_DIRECTORY)) {}

private:
    Descriptor folder_;
};

HashedCopies::HashedCopies(fs::path folder) : folder_(std::move(folder)) {}

HashedCopies::~HashedCopies()
{
    for (const fs::path& one : made_)
        removeFile(one);
}

Result<std::string> HashedCopies::add(const fs::path& file, const std::string& ending, Progress& progress)
{
    const Descriptor from = openFile(file, O_RDONLY);
    struct stat status {};
    if (!from.isOpen() || ::fstat(from.get(), &status) != 0)
        return fail(unreadable(file, whyNotOpened()));
    if (!S_ISREG(status.st_mode))
        return fail(unreadable(file, "it is not a regular file"));
    const auto total = static_cast<std::uint64_t>(status.st_size);
    const auto unwritable = [&] {
        return fail(
            {kFileUnwritable, std::string("No copy can be kept: ") + std::strerror(errno) + ".", folder_.string()});
    };
    struct statvfs disk {};
    const auto megabytes = [](std::uint64_t bytes) { return std::to_string((bytes + 999'999) / 1'000'000) + " MB"; };
    if (::statvfs(folder_.c_str(), &disk) == 0 && disk.f_bavail * disk.f_frsize < total)
        return fail({kFileUnwritable,
                     "The disk has no room for a copy: it would take " + megabytes(total) + ", and " +
                         megabytes(disk.f_bavail * disk.f_frsize) + " are free.",
                     folder_.string()});
    auto part = Temporary::fileBeside(folder_ / "copy");
    if (!part)
        return fail(part.error());
    Sha256 sum;
    std::vector<char> block(kBlock);
    std::uint64_t done = 0;
    for (;;) {
        if (progress.isCancelled())
            return fail({kCopyCancelled, "Cancelled; nothing was kept."});
        const ssize_t read = ::read(from.get(), block.data(), block.size());
        if (read < 0 && errno == EINTR)
            continue;
        if (read < 0)
            return fail(unreadable(file, std::strerror(errno)));
        if (read == 0)
            break;
        const std::string_view bytes(block.data(), static_cast<std::size_t>(read));
        sum.add(bytes);
        if (!part->append(bytes))
            return unwritable();
        done += bytes.size();
        progress.reportBytes("Copying " + file.filename().string(), done, std::max(done, total));
    }
    if (done == 0)
        return fail({kFileEmpty, "The file is empty; ask the sender for a whole one.", file.string()});
    const std::string hash = sum.finish();
    const fs::path target = pathOf(hash, ending);
    if (!lock_) {
        auto lock = Lock::of(folder_, progress);
        if (!lock)
            return fail(lock.error());
        lock_ = std::move(*lock);
    }
    const bool wasThere = statusOf(target).has_value();
    if (wasThere && isPlainFile(target))
        if (const auto there = sha256OfFile(target); there && *there == hash)
            return hash;
    // A link or a second name of a file elsewhere gives way; a folder of this name does not.
    if (::fsync(part->descriptor()) != 0 || !part->putInPlaceUnflushed(target))
        return unwritable();
    hasMade_ = true;
    if (!wasThere) // what was damaged is whole again, whatever becomes of the rest
        made_.push_back(target);
    return hash;
}

} // namespace wendrix
