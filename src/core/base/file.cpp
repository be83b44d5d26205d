#include "core/base/file.h"

#include "core/base/descriptor.h"
#include "core/base/mapping_watch.h"

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <chrono>
#include <cstring>
#include <fstream>
#include <vector>

namespace wendrix {

namespace {

Error unreadable(const std::filesystem::path& path, const std::string& why)
{
    return {kFileUnreadable, "The file can not be read: " + why + ".", path.string()};
}

} // namespace

MappedFile::MappedFile(std::filesystem::path path, const char* data, std::size_t size)
    : path_(std::move(path)), data_(data), size_(size), watch_(watchMapping(data, size))
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
    const Descriptor file(::open(path.c_str(), O_RDONLY | O_NONBLOCK | O_CLOEXEC)); // a pipe would keep it waiting
    if (!file.isOpen())
        return fail(unreadable(path, std::strerror(errno)));
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
    return std::shared_ptr<const MappedFile>(new MappedFile(path, static_cast<const char*>(data), size));
}

namespace {

Error unwritable(const std::filesystem::path& path, const std::string& why)
{
    return {kFileUnwritable, "The file can not be written: " + why + ".", path.string()};
}

} // namespace

Result<std::filesystem::path> makeTemporaryBeside(const std::filesystem::path& path)
{
    std::string name = (path.parent_path() / ".wendrix-XXXXXX.part").string();
    const Descriptor file(::mkostemps(name.data(), 5, O_CLOEXEC));
    if (!file.isOpen())
        return fail(unwritable(path, std::strerror(errno)));
    ::fchmod(file.get(), 0644);
    return std::filesystem::path(name);
}

Result<std::filesystem::path> makeTemporaryFolderBeside(const std::filesystem::path& path)
{
    // mkdtemp() wants its letters at the end.
    for (int attempt = 0; attempt < 100; ++attempt) {
        const auto file = makeTemporaryBeside(path);
        if (!file)
            return file;
        ::unlink(file->c_str());
        if (::mkdir(file->c_str(), 0700) == 0)
            return file;
        if (errno != EEXIST)
            return fail(unwritable(path, std::strerror(errno)));
    }
    return fail(unwritable(path, "no name is free"));
}

void removeLeftOvers(const std::filesystem::path& folder)
{
    constexpr auto kYoungest = std::chrono::hours(1);
    std::error_code error;
    std::vector<std::filesystem::path> left;
    for (const auto& entry : std::filesystem::directory_iterator(folder, error)) {
        const std::string name = entry.path().filename().string();
        const bool isOurs = name.size() == std::strlen(".wendrix-XXXXXX.part") && name.starts_with(".wendrix-") &&
                            name.ends_with(".part") && (entry.is_regular_file(error) || entry.is_directory(error)) &&
                            !entry.is_symlink(error);
        if (isOurs && std::filesystem::file_time_type::clock::now() - entry.last_write_time(error) > kYoungest &&
            !error)
            left.push_back(entry.path());
    }
    for (const auto& one : left)
        std::filesystem::remove_all(one, error);
}

Result<void> putInPlace(const std::filesystem::path& temporary, const std::filesystem::path& path)
{
    const auto dropped = [&](const std::string& why) {
        ::unlink(temporary.c_str());
        return fail(unwritable(path, why));
    };
    struct stat there {};
    if (::lstat(path.c_str(), &there) == 0 && !S_ISREG(there.st_mode))
        return dropped("a folder, a link or a device of this name stands there; choose another name");
    {
        const Descriptor file(::open(temporary.c_str(), O_RDONLY | O_CLOEXEC | O_NOFOLLOW));
        if (!file.isOpen() || ::fsync(file.get()) != 0)
            return dropped(std::strerror(errno));
    }
    if (::rename(temporary.c_str(), path.c_str()) != 0)
        return dropped(std::strerror(errno));
    // Else the name may be lost with the power.
    const std::filesystem::path folder = path.has_parent_path() ? path.parent_path() : ".";
    if (const Descriptor parent(::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC)); parent.isOpen())
        (void)::fsync(parent.get());
    return {};
}

Result<void> writeFileWhole(const std::filesystem::path& path, std::string_view bytes)
{
    const auto temporary = makeTemporaryBeside(path);
    if (!temporary)
        return fail(temporary.error());
    {
        const Descriptor file(::open(temporary->c_str(), O_WRONLY | O_CLOEXEC | O_NOFOLLOW));
        const auto dropped = [&](int error) {
            ::unlink(temporary->c_str());
            return fail(unwritable(path, std::strerror(error)));
        };
        if (!file.isOpen())
            return dropped(errno);
        while (!bytes.empty()) {
            const ssize_t written = ::write(file.get(), bytes.data(), bytes.size());
            if (written < 0 && errno == EINTR)
                continue;
            if (written < 0)
                return dropped(errno);
            bytes.remove_prefix(static_cast<std::size_t>(written));
        }
    }
    return putInPlace(*temporary, path);
}

Result<std::string> readFileWhole(const std::filesystem::path& path, std::uintmax_t limit)
{
    std::error_code code;
    const auto size = std::filesystem::file_size(path, code);
    if (code)
        return fail(unreadable(path, code.message()));
    if (size > limit)
        return fail(unreadable(path, "it has " + std::to_string(size) + " bytes, more than the allowed " +
                                         std::to_string(limit)));
    std::ifstream in(path, std::ios::binary);
    std::string bytes(size, '\0');
    if (!in || !in.read(bytes.data(), static_cast<std::streamsize>(size)))
        return fail(unreadable(path, "reading stopped half way"));
    return bytes;
}

} // namespace wendrix
