#include "core/base/folder_guard.h"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <map>
#include <mutex>

#include <dirent.h>
#include <fcntl.h>
#include <linux/openat2.h>
#include <sys/syscall.h>

namespace wendrix {

namespace fs = std::filesystem;

namespace {

std::mutex mutex;
/// By their places, also those whose handle is closed.
std::map<fs::path, std::weak_ptr<const FolderGuard>>& guards()
{
    static std::map<fs::path, std::weak_ptr<const FolderGuard>> all;
    return all;
}

fs::path plain(const fs::path& path)
{
    std::error_code code;
    fs::path whole = fs::absolute(path, code).lexically_normal();
    return whole.has_filename() ? whole : whole.parent_path();
}

int openRoot(const fs::path& folder) { return ::open(folder.c_str(), O_PATH | O_DIRECTORY | O_CLOEXEC); }

bool isSame(const FolderGuard& guard, const fs::path& folder)
{
    struct stat held {
    }, there{};
    return ::fstat(guard.handle(), &held) == 0 && ::stat(folder.c_str(), &there) == 0 && held.st_dev == there.st_dev &&
           held.st_ino == there.st_ino;
}

/// Where a path lies: beneath a guard, or anywhere.
struct Place {
    std::shared_ptr<const FolderGuard> guard; ///< null where it is not guarded
    fs::path path;                            ///< from the guard's folder, or from the root
};

Place placeOf(const fs::path& path)
{
    const std::lock_guard lock(mutex);
    if (guards().empty())
        return {nullptr, path};
    const fs::path whole = plain(path);
    for (fs::path at = whole;; at = at.parent_path()) {
        if (const auto found = guards().find(at); found != guards().end()) {
            auto guard = found->second.lock();
            if (guard == nullptr)
                guard = std::make_shared<const FolderGuard>(openRoot(at));
            const fs::path below = whole.lexically_relative(at);
            return {std::move(guard), below.empty() ? fs::path(".") : below};
        }
        if (at == at.parent_path())
            return {nullptr, path};
    }
}

/// Step by step, on systems older than openat2().
int openStepwise(int root, const fs::path& below, int flags, mode_t mode)
{
    Descriptor at(::fcntl(root, F_DUPFD_CLOEXEC, 0));
    for (auto part = below.begin(); part != below.end(); ++part) {
        if (*part == "..") {
            errno = EXDEV;
            return -1;
        }
        const bool isLast = std::next(part) == below.end();
        const int next = ::openat(at.get(), part->c_str(),
                                  isLast ? flags | O_NOFOLLOW : O_PATH | O_DIRECTORY | O_NOFOLLOW | O_CLOEXEC, mode);
        if (next < 0 || isLast)
            return next;
        at = Descriptor(next);
    }
    errno = ENOENT;
    return -1;
}

int openBeneath(int root, const fs::path& below, int flags, mode_t mode)
{
    open_how how{};
    how.flags = static_cast<__u64>(flags);
    how.mode = (flags & O_CREAT) != 0 ? mode : 0;
    how.resolve = RESOLVE_BENEATH | RESOLVE_NO_SYMLINKS | RESOLVE_NO_MAGICLINKS;
    const long got = ::syscall(SYS_openat2, root, below.c_str(), &how, sizeof how);
    if (got < 0 && (errno == ENOSYS || errno == EPERM)) // a sandbox may not know the call
        return openStepwise(root, below, flags, mode);
    return static_cast<int>(got);
}

Descriptor openFolder(const fs::path& path, int flags)
{
    const Place place = placeOf(path.empty() ? fs::path(".") : path);
    flags |= O_DIRECTORY | O_CLOEXEC;
    return Descriptor(place.guard ? openBeneath(place.guard->handle(), place.path, flags, 0)
                                  : ::open(place.path.c_str(), flags));
}

Descriptor parentOf(const fs::path& path) { return openFolder(path.parent_path(), O_PATH); }

} // namespace

std::shared_ptr<const FolderGuard> FolderGuard::of(const fs::path& folder)
{
    std::error_code code;
    const fs::path named = plain(folder), real = fs::canonical(folder, code);
    const std::lock_guard lock(mutex);
    auto guard = guards()[named].lock();
    if (guard == nullptr || !isSame(*guard, named))
        guard = std::make_shared<const FolderGuard>(openRoot(named));
    guards()[named] = guard;
    if (!code) // SQLite opens what it resolved
        guards()[real] = guard;
    return guard;
}

Descriptor openFile(const fs::path& path, int flags, mode_t mode)
{
    flags |= O_CLOEXEC | O_NONBLOCK | O_NOCTTY;
    const Place place = placeOf(path);
    if (place.guard == nullptr)
        return Descriptor(::open(place.path.c_str(), flags, mode));
    // Emptied only once it is known that it is no other file besides.
    Descriptor file(openBeneath(place.guard->handle(), place.path, flags & ~O_TRUNC, mode));
    struct stat status {};
    if (!file.isOpen() || ::fstat(file.get(), &status) != 0)
        return file;
    int refused = 0;
    if (S_ISREG(status.st_mode) && status.st_nlink > 1)
        refused = EMLINK;
    else if ((flags & O_TRUNC) != 0 && ::ftruncate(file.get(), 0) != 0)
        refused = errno;
    if (refused != 0) {
        file = Descriptor(-1);
        errno = refused;
    }
    return file;
}

std::optional<struct stat> statusOf(const fs::path& path)
{
    struct stat status {};
    const Descriptor parent = parentOf(path);
    if (!parent.isOpen() || ::fstatat(parent.get(), path.filename().c_str(), &status, AT_SYMLINK_NOFOLLOW) != 0)
        return {};
    return status;
}

bool isPlainFile(const fs::path& path)
{
    const auto status = statusOf(path);
    return status && S_ISREG(status->st_mode) && (status->st_nlink == 1 || placeOf(path).guard == nullptr);
}

bool makeFolder(const fs::path& path)
{
    const Descriptor parent = parentOf(path);
    if (!parent.isOpen())
        return false;
    if (::mkdirat(parent.get(), path.filename().c_str(), 0777) == 0)
        return true;
    const auto there = errno == EEXIST ? statusOf(path) : std::nullopt;
    return there && S_ISDIR(there->st_mode);
}

bool removeFile(const fs::path& path)
{
    const Descriptor parent = parentOf(path);
    return parent.isOpen() && ::unlinkat(parent.get(), path.filename().c_str(), 0) == 0;
}

void removeFolder(const fs::path& path)
{
    const Descriptor parent = parentOf(path);
    std::error_code ignored;
    if (parent.isOpen()) // by the handle, whatever its name leads to by now
        fs::remove_all(fs::path("/proc/self/fd") / std::to_string(parent.get()) / path.filename(), ignored);
}

bool renameFile(const fs::path& from, const fs::path& to)
{
    const Descriptor source = parentOf(from), target = parentOf(to);
    return source.isOpen() && target.isOpen() &&
           ::renameat(source.get(), from.filename().c_str(), target.get(), to.filename().c_str()) == 0;
}

std::vector<std::string> namesIn(const fs::path& folder)
{
    std::vector<std::string> names;
    Descriptor handle = openFolder(folder, O_RDONLY);
    DIR* const all = handle.isOpen() ? ::fdopendir(handle.get()) : nullptr;
    if (all == nullptr)
        return names;
    (void)handle.release(); // the stream's now
    while (const dirent* one = ::readdir(all))
        if (const std::string name = one->d_name; name != "." && name != "..")
            names.push_back(name);
    ::closedir(all);
    std::sort(names.begin(), names.end());
    return names;
}

std::string whyNotOpened()
{
    switch (errno) {
    case ELOOP:
    case EXDEV:
        return "a link leads elsewhere, and links in a project are not followed";
    case EMLINK:
        return "it has a second name elsewhere (a hard link), so it may be somebody else's";
    default:
        return std::strerror(errno);
    }
}

} // namespace wendrix
