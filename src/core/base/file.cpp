#include "core/base/file.h"

#include "core/base/descriptor.h"

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <fstream>

namespace wendrix {

namespace {

Error unreadable(const std::filesystem::path& path, const std::string& why)
{
    return {kFileUnreadable, "The file can not be read: " + why + ".", path.string()};
}

} // namespace

MappedFile::MappedFile(std::filesystem::path path, const char* data, std::size_t size)
    : path_(std::move(path)), data_(data), size_(size)
{
}

MappedFile::~MappedFile() { ::munmap(const_cast<char*>(data_), size_); }

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

Result<void> writeFileWhole(const std::filesystem::path& path, std::string_view bytes)
{
    const auto unwritable = [&](int error) {
        return fail({kFileUnwritable, std::string("The file can not be written: ") + std::strerror(error) + ".",
                     path.string()});
    };
    const std::filesystem::path temporary = path.string() + ".part";
    {
        const Descriptor file(::open(temporary.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644));
        if (!file.isOpen())
            return unwritable(errno);
        while (!bytes.empty()) {
            const ssize_t written = ::write(file.get(), bytes.data(), bytes.size());
            if (written < 0 && errno == EINTR)
                continue;
            if (written < 0) {
                const int error = errno;
                ::unlink(temporary.c_str());
                return unwritable(error);
            }
            bytes.remove_prefix(static_cast<std::size_t>(written));
        }
        if (::fsync(file.get()) != 0)
            return unwritable(errno);
    }
    if (::rename(temporary.c_str(), path.c_str()) != 0)
        return unwritable(errno);
    return {};
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
