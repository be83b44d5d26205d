#include "core/base/hashed_copy.h"

#include "core/base/descriptor.h"
#include "core/base/file.h"
#include "core/base/hash.h"

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

/// Removes a file unless it was put to use.
struct Part {
    fs::path path;
    ~Part()
    {
        std::error_code ignored;
        if (!path.empty())
            fs::remove(path, ignored);
    }
};

Error unreadable(const fs::path& file, const std::string& why)
{
    return {kFileUnreadable, "The file can not be read: " + why + ".", file.string()};
}

bool writeAll(int to, std::string_view bytes)
{
    while (!bytes.empty()) {
        const ssize_t written = ::write(to, bytes.data(), bytes.size());
        if (written < 0 && errno != EINTR)
            return false;
        bytes.remove_prefix(static_cast<std::size_t>(std::max<ssize_t>(0, written)));
    }
    return true;
}

} // namespace

class HashedCopies::Lock {
public:
    static Result<std::unique_ptr<Lock>> of(const fs::path& folder, const Progress& progress)
    {
        auto lock = std::make_unique<Lock>(folder);
        if (!lock->folder_.isOpen())
            return fail(
                {kFileUnwritable, std::string("No copy can be kept: ") + std::strerror(errno) + ".", folder.string()});
        while (::flock(lock->folder_.get(), LOCK_EX | LOCK_NB) != 0) {
            if (errno != EWOULDBLOCK && errno != EINTR)
                break; // a folder on a server that knows no locks
            if (progress.isCancelled())
                return fail({kCopyCancelled, "Cancelled; nothing was kept."});
            std::this_thread::sleep_for(std::chrono::milliseconds(20));
        }
        return lock;
    }
    explicit Lock(const fs::path& folder) : folder_(::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC)) {}

private:
    Descriptor folder_;
};

HashedCopies::HashedCopies(fs::path folder) : folder_(std::move(folder)) {}

HashedCopies::~HashedCopies()
{
    std::error_code ignored;
    for (const fs::path& one : made_)
        fs::remove(one, ignored);
}

Result<std::string> HashedCopies::add(const fs::path& file, const std::string& ending, Progress& progress)
{
    const Descriptor from(::open(file.c_str(), O_RDONLY | O_NONBLOCK | O_CLOEXEC)); // a pipe would keep it waiting
    struct stat status {};
    if (!from.isOpen() || ::fstat(from.get(), &status) != 0)
        return fail(unreadable(file, std::strerror(errno)));
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
    const auto temporary = makeTemporaryBeside(folder_ / "copy");
    if (!temporary)
        return fail(temporary.error());
    Part part{*temporary};
    const Descriptor to(::open(part.path.c_str(), O_WRONLY | O_CLOEXEC | O_NOFOLLOW));
    if (!to.isOpen())
        return unwritable();
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
        if (!writeAll(to.get(), bytes))
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
    std::error_code error;
    const bool wasThere = fs::exists(fs::symlink_status(target, error));
    if (wasThere && fs::is_regular_file(fs::symlink_status(target, error)))
        if (const auto there = sha256OfFile(target); there && *there == hash)
            return hash;
    if (::fsync(to.get()) != 0 || ::rename(part.path.c_str(), target.c_str()) != 0)
        return unwritable();
    part.path.clear();
    hasMade_ = true;
    if (!wasThere) // what was damaged is whole again, whatever becomes of the rest
        made_.push_back(target);
    return hash;
}

} // namespace wendrix
