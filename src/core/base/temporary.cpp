#include "core/base/temporary.h"

#include "core/base/file.h"
#include "core/base/folder_guard.h"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <ctime>
#include <random>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>

namespace wendrix {

namespace fs = std::filesystem;

namespace {

constexpr std::string_view kBegin = ".wendrix-", kEnd = ".part";
constexpr std::size_t kRandomLetters = 6;
constexpr int kMostAttempts = 100;
constexpr std::time_t kYoungestSeconds = 3600;

std::string randomName()
{
    static constexpr std::string_view kLetters = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789";
    std::random_device random;
    std::string name(kBegin);
    for (std::size_t i = 0; i < kRandomLetters; ++i)
        name += kLetters[random() % kLetters.size()];
    return name + std::string(kEnd);
}

Error unwritable(const fs::path& path, const std::string& why)
{
    return {kFileUnwritable, "The file can not be written: " + why + ".", path.string()};
}

bool isSamePlace(int descriptor, const fs::path& path)
{
    struct stat held {};
    const auto there = statusOf(path);
    return ::fstat(descriptor, &held) == 0 && there && there->st_ino == held.st_ino && there->st_dev == held.st_dev;
}

} // namespace

Temporary::Temporary(fs::path path, Descriptor lock, bool isFolder)
    : path_(std::move(path)), lock_(std::move(lock)), isFolder_(isFolder)
{
}

Temporary::Temporary(Temporary&& other) noexcept
    : path_(std::exchange(other.path_, {})), lock_(std::move(other.lock_)), isFolder_(other.isFolder_)
{
}

Temporary::~Temporary()
{
    if (path_.empty())
        return;
    if (isFolder_)
        removeFolder(path_);
    else
        removeFile(path_);
}

Result<Temporary> Temporary::fileBeside(const fs::path& path) { return beside(path, false); }
Result<Temporary> Temporary::folderBeside(const fs::path& path) { return beside(path, true); }

Result<Temporary> Temporary::beside(const fs::path& path, bool isFolder)
{
    for (int attempt = 0; attempt < kMostAttempts; ++attempt) {
        const fs::path name = path.parent_path() / randomName();
        if (isFolder && (statusOf(name) || !makeFolder(name))) {
            if (errno != EEXIST)
                return fail(unwritable(path, std::strerror(errno)));
            continue;
        }
        Descriptor made = openFile(name, isFolder ? O_RDONLY | O_DIRECTORY : O_RDWR | O_CREAT | O_EXCL, 0644);
        if (!made.isOpen()) {
            if (errno != EEXIST)
                return fail(unwritable(path, whyNotOpened()));
            continue;
        }
        if (isFolder)
            (void)::fchmod(made.get(), 0700);
        // Whoever tidied the folder between the making and this has it locked, or gone already.
        const bool isTaken = ::flock(made.get(), LOCK_SH | LOCK_NB) != 0 && errno == EWOULDBLOCK;
        if (!isTaken && isSamePlace(made.get(), name))
            return Temporary(name, std::move(made), isFolder);
    }
    return fail(unwritable(path, "no name is free"));
}

bool Temporary::append(std::string_view bytes) const
{
    while (!bytes.empty()) {
        const ssize_t written = ::write(lock_.get(), bytes.data(), bytes.size());
        if (written < 0 && errno == EINTR)
            continue;
        if (written < 0)
            return false;
        bytes.remove_prefix(static_cast<std::size_t>(written));
    }
    return true;
}

Result<void> Temporary::putInPlace(const fs::path& path)
{
    if (const auto there = statusOf(path); there && !S_ISREG(there->st_mode))
        return fail(unwritable(path, "a folder, a link or a device of this name stands there; choose another name"));
    // By its name: a library may have put another file there.
    const Descriptor file = openFile(path_, O_RDONLY | O_NOFOLLOW);
    if (!file.isOpen() || ::fsync(file.get()) != 0)
        return fail(unwritable(path, std::strerror(errno)));
    if (!renameFile(path_, path))
        return fail(unwritable(path, std::strerror(errno)));
    path_.clear();
    // Else the name may be lost with the power.
    const fs::path folder = path.has_parent_path() ? path.parent_path() : ".";
    if (const Descriptor parent = openFile(folder, O_RDONLY | O_DIRECTORY); parent.isOpen())
        (void)::fsync(parent.get());
    return {};
}

bool Temporary::putInPlaceUnflushed(const fs::path& path)
{
    if (!renameFile(path_, path))
        return false;
    path_.clear();
    return true;
}

void removeLeftOvers(const fs::path& folder)
{
    for (const std::string& name : namesIn(folder)) {
        const fs::path path = folder / name;
        if (name.size() != kBegin.size() + kRandomLetters + kEnd.size() || !name.starts_with(kBegin) ||
            !name.ends_with(kEnd))
            continue;
        const auto status = statusOf(path);
        if (!status || !(S_ISREG(status->st_mode) || S_ISDIR(status->st_mode)))
            continue;
        const Descriptor left = openFile(path, O_RDONLY | O_NOFOLLOW);
        const bool isLocked = left.isOpen() && ::flock(left.get(), LOCK_EX | LOCK_NB) != 0;
        if (isLocked && (errno == EWOULDBLOCK || std::time(nullptr) - status->st_mtime < kYoungestSeconds))
            continue;
        if (S_ISDIR(status->st_mode))
            removeFolder(path);
        else
            removeFile(path);
    }
}

} // namespace wendrix
