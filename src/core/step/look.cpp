#include "core/step/look.h"

#include "core/base/descriptor.h"
#include "core/base/file.h"
#include "core/step/file.h"
#include "core/step/parse.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstring>

namespace wendrix::step {

namespace {

constexpr std::size_t kEndBytes = 4096;
// Smaller files may lie in a directory's own blocks.
constexpr std::uint64_t kLeastSparse = 16 << 20;
constexpr std::uint64_t kDiskBlock = 512; // of st_blocks, by POSIX

std::string piece(int file, std::uint64_t at)
{
    std::string bytes(kEndBytes, '\0');
    const ssize_t got = ::pread(file, bytes.data(), bytes.size(), static_cast<off_t>(at));
    bytes.resize(static_cast<std::size_t>(std::max<ssize_t>(0, got)));
    return bytes;
}

} // namespace

Result<void> lookAt(const std::filesystem::path& path)
{
    const auto unreadable = [&](const std::string& why) {
        return fail({kFileUnreadable, "The file can not be read: " + why + ".", path.string()});
    };
    const Descriptor file(::open(path.c_str(), O_RDONLY | O_NONBLOCK | O_CLOEXEC)); // a pipe would keep it waiting
    struct stat status {};
    if (!file.isOpen() || ::fstat(file.get(), &status) != 0)
        return unreadable(std::strerror(errno));
    if (!S_ISREG(status.st_mode))
        return unreadable("it is not a regular file");
    if (status.st_size == 0)
        return fail({kFileEmpty, "The file is empty; ask the sender for a whole one.", path.string()});
    const std::string first = piece(file.get(), 0);
    const std::string_view text =
        std::string_view(first).substr(skipBlank(first, first.starts_with("\xEF\xBB\xBF") ? 3 : 0));
    if (!first.starts_with("PK") && !text.starts_with("ISO-10303-21") && text.size() >= 12)
        return fail({kNotStep, "This is not a STEP file: it does not begin with ISO-10303-21. Export it again as .ifc.",
                     path.string(), "", 0});
    const auto size = static_cast<std::uint64_t>(status.st_size);
    const std::string last = piece(file.get(), size > kEndBytes ? size - kEndBytes : 0);
    const bool isNothing = std::all_of(last.begin(), last.end(), [](char c) { return c == '\0'; });
    if (isNothing || (size > kLeastSparse && static_cast<std::uint64_t>(status.st_blocks) * kDiskBlock < size / 2))
        return fail({kTruncated,
                     "Most of the file was never written: only its name and size have arrived. Wait until it is "
                     "copied, or ask the sender for the whole file.",
                     path.string(), "", size});
    return {};
}

} // namespace wendrix::step
