#include "core/base/file.h"

#include "core/base/folder_guard.h"
#include "core/base/mapping_watch.h"
#include "core/base/temporary.h"

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>

namespace wendrix {

namespace {

Error unreadable(const std::filesystem::path& path, const std::string& why)
{
    return {kFileUnreadable, "The file can not be read: " + why + ".", path.string()};
}

} // namespace

FileState FileState::of(int descriptor)
{
    constexpr std::int64_t kSecond = 1'000'000'000;
    struct stat s {};
    if (::fstat(descriptor, &s) != 0)
        return {};
    return {s.st_dev, s.st_ino, static_cast<std::uint64_t>(s.st_size), s.st_mtim.tv_sec * kSecond + s.st_mtim.tv_nsec,
            s.st_ctim.tv_sec * kSecond + s.st_ctim.tv_nsec};
}

MappedFile::MappedFile(std::filesystem::path path, Descriptor file, const FileState& state, const char* data,
                       std::size_t size)
    : path_(std::move(path)), file_(std::move(file)), state_(state), data_(data), size_(size),
      watch_(watchMapping(data, size))
{
}

MappedFile::~MappedFile()
{
    unwatchMapping(watch_);
    ::munmap(const_cast<char*>(data_), size_);
}

bool MappedFile::isWhole() const { return !wasShortened(watch_); }

Result<std::shared_ptr<const MappedFile>> MappedFile::open(const std::filesystem::path& path)
{
    Descriptor file = openFile(path, O_RDONLY);
    if (!file.isOpen())
        return fail(unreadable(path, whyNotOpened()));
    struct stat status {};
    if (::fstat(file.get(), &status) != 0)
        return fail(unreadable(path, std::strerror(errno)));
    if (!S_ISREG(status.st_mode))
        return fail(unreadable(path, "it is not a regular file"));
    if (status.st_size == 0)
        return fail({kFileEmpty, "The file is empty; ask the sender for a whole one.", path.string()});
    const auto size = static_cast<std::size_t>(status.st_size);
    void* data = ::mmap(nullptr, size, PROT_READ, MAP_PRIVATE, file.get(), 0);
    if (data == MAP_FAILED)
        return fail(unreadable(path, std::strerror(errno)));
    const FileState state = FileState::of(file.get());
    return std::shared_ptr<const MappedFile>(
        new MappedFile(path, std::move(file), state, static_cast<const char*>(data), size));
}

Result<void> writeFileWhole(const std::filesystem::path& path, std::string_view bytes)
{
    auto temporary = Temporary::fileBeside(path);
    if (!temporary)
        return fail(temporary.error());
    if (!temporary->append(bytes))
        return fail({kFileUnwritable, std::string("The file can not be written: ") + std::strerror(errno) + ".",
                     path.string()});
    return temporary->putInPlace(path);
}

Result<std::string> readFileWhole(const std::filesystem::path& path, std::uintmax_t limit)
{
    const Descriptor file = openFile(path, O_RDONLY);
    struct stat status {};
    if (!file.isOpen() || ::fstat(file.get(), &status) != 0)
        return fail(unreadable(path, whyNotOpened()));
    if (!S_ISREG(status.st_mode))
        return fail(unreadable(path, "it is not a regular file"));
    const auto size = static_cast<std::uintmax_t>(status.st_size);
    if (size > limit)
        return fail(unreadable(path, "it has " + std::to_string(size) + " bytes, more than the allowed " +
                                         std::to_string(limit)));
    std::string bytes(size, '\0');
    for (std::size_t done = 0; done < bytes.size();) {
        const ssize_t got = ::read(file.get(), bytes.data() + done, bytes.size() - done);
        if (got < 0 && errno == EINTR)
            continue;
        if (got <= 0)
            return fail(unreadable(path, "reading stopped half way"));
        done += static_cast<std::size_t>(got);
    }
    return bytes;
}

} // namespace wendrix
