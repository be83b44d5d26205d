#include "core/step/patch.h"

#include "core/base/temporary.h"
#include "core/step/statement.h"

#include <fmt/format.h>
#include <tbb/blocked_range.h>
#include <tbb/parallel_reduce.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdio>
#include <fcntl.h>
#include <sys/stat.h>
#include <sys/sysmacros.h>
#include <unistd.h>

namespace wendrix::step {

namespace {

constexpr std::size_t kBlock = 8u << 20, kLeastCopied = 1u << 20, kCopied = 64u << 20;

bool isBlank(char c) { return c == ' ' || c == '\t' || c == '\r' || c == '\n'; }

/// Behind the string or comment that begins at `at`; `at` itself where neither does.
std::size_t skipped(std::string_view bytes, std::size_t at)
{
    if (bytes[at] == '\'') {
        for (std::size_t i = at + 1; i < bytes.size(); ++i)
            if (bytes[i] == '\'') {
                if (i + 1 < bytes.size() && bytes[i + 1] == '\'')
                    ++i;
                else
                    return i + 1;
            }
        return bytes.size();
    }
    if (bytes[at] == '/' && at + 1 < bytes.size() && bytes[at + 1] == '*') {
        const std::size_t end = bytes.find("*/", at + 2);
        return end == std::string_view::npos ? bytes.size() : end + 2;
    }
    return at;
}

/// Back over blanks and comments that end before `at`.
std::size_t backOverBlanks(std::string_view bytes, std::size_t at)
{
    for (;;) {
        while (at > 0 && isBlank(bytes[at - 1]))
            --at;
        if (at < 4 || bytes.substr(at - 2, 2) != "*/")
            return at;
        const std::size_t begin = bytes.rfind("/*", at - 4);
        if (begin == std::string_view::npos)
            return at;
        at = begin;
    }
}

/// The '#' of the statement whose arguments open at `at`: back over its keyword, '=' and number.
std::optional<std::size_t> beginOf(std::string_view bytes, std::size_t at)
{
    const auto back = [&](auto&& belongs) {
        while (at > 0 && belongs(bytes[at - 1]))
            --at;
    };
    const auto isDigit = [](char c) { return c >= '0' && c <= '9'; };
    at = backOverBlanks(bytes, at);
    back([&](char c) { return isDigit(c) || c == '_' || (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z'); });
    at = backOverBlanks(bytes, at);
    if (at == 0 || bytes[at - 1] != '=')
        return {};
    const std::size_t end = at = backOverBlanks(bytes, at - 1);
    back(isDigit);
    return at > 0 && at < end && bytes[at - 1] == '#' ? std::optional(at - 1) : std::nullopt;
}

/// The file that bytes are mapped from, opened for reading; -1 where they are not mapped whole from the one that stands
/// under this name now.
int sourceOf(std::string_view bytes, const std::string& name)
{
    const int source = ::open(name.c_str(), O_RDONLY | O_CLOEXEC);
    struct stat status {};
    if (source < 0 || ::fstat(source, &status) != 0 || !S_ISREG(status.st_mode) ||
        static_cast<std::size_t>(status.st_size) != bytes.size()) {
        if (source >= 0)
            ::close(source);
        return -1;
    }
    const auto begin = reinterpret_cast<std::uintptr_t>(bytes.data());
    std::FILE* maps = std::fopen("/proc/self/maps", "re");
    bool isSame = false;
    char line[4352];
    while (maps != nullptr && !isSame && std::fgets(line, sizeof line, maps) != nullptr) {
        unsigned long from = 0, to = 0, offset = 0, inode = 0;
        unsigned major = 0, minor = 0;
        isSame = std::sscanf(line, "%lx-%lx %*4s %lx %x:%x %lu", &from, &to, &offset, &major, &minor, &inode) == 6 &&
                 from == begin && offset == 0 && begin + bytes.size() <= to && inode == status.st_ino &&
                 major == ::gnu_dev_major(status.st_dev) && minor == ::gnu_dev_minor(status.st_dev);
    }
    if (maps != nullptr)
        std::fclose(maps);
    if (isSame)
        return source;
    ::close(source);
    return -1;
}

} // namespace

std::string realText(double value)
{
    char digits[32];
    const auto [end, error] = std::to_chars(digits, digits + sizeof digits, value);
    std::string text(digits, end);
    const std::size_t exponent = text.find('e');
    std::string mantissa = text.substr(0, exponent);
    if (mantissa.find('.') == std::string::npos)
        mantissa += '.';
    return exponent == std::string::npos ? mantissa : mantissa + "E" + text.substr(exponent + 1);
}

std::string stringText(const std::string& utf8)
{
    std::string text = "'";
    for (std::size_t i = 0; i < utf8.size();) {
        const auto a = static_cast<unsigned char>(utf8[i]);
        if (a >= 0x20 && a < 0x7F) {
            text += utf8[i++];
            if (a == '\'' || a == '\\')
                text += static_cast<char>(a);
            continue;
        }
        const int more = a >= 0xF0 ? 3 : a >= 0xE0 ? 2 : a >= 0xC2 ? 1 : 0;
        char32_t sign = more == 3 ? a & 7 : more == 2 ? a & 15 : more == 1 ? a & 31 : a;
        ++i;
        for (int k = 0; k < more && i < utf8.size(); ++k)
            sign = sign << 6 | (static_cast<unsigned char>(utf8[i++]) & 63);
        text += sign > 0xFFFF ? fmt::format("\\X4\\{:08X}\\X0\\", static_cast<std::uint32_t>(sign))
                              : fmt::format("\\X2\\{:04X}\\X0\\", static_cast<std::uint32_t>(sign));
    }
    return text + "'";
}

Patch::Patch(const File& file) : file_(file)
{
    const std::string_view bytes = file.bytes();
    const auto all = file.entities().all(); // sorted by id, which need not be the order of the file
    next_ = all.empty() ? 1 : all.back().id() + 1;
    const std::size_t last = tbb::parallel_reduce(
        tbb::blocked_range<std::size_t>(0, all.size(), 1u << 16), std::size_t{0},
        [&](const auto& range, std::size_t so) {
            for (std::size_t i = range.begin(); i < range.end(); ++i)
                so = std::max<std::size_t>(so, all[i].offset());
            return so;
        },
        [](std::size_t a, std::size_t b) { return std::max(a, b); });
    const Statement statement = statementFrom(bytes, last);
    end_ = statement.end == std::string_view::npos ? bytes.size() : std::min(statement.end + 1, bytes.size());
    if (const std::size_t line = bytes.find('\n');
        line != std::string_view::npos && line > 0 && bytes[line - 1] == '\r')
        lineEnd_ = "\r\n";
}

template <class Each>
bool Patch::forEachArgument(const Entry& entry, Each&& each) const
{
    const std::string_view bytes = file_.bytes();
    std::size_t at = entry.offset() + 1, from = at;
    int depth = 0;
    bool isAny = false;
    const auto close = [&](std::size_t to) {
        while (from < to && isBlank(bytes[from]))
            ++from;
        while (to > from && isBlank(bytes[to - 1]))
            --to;
        isAny = true;
        return each(Range{from, to});
    };
    while (at < bytes.size()) {
        if (const std::size_t next = skipped(bytes, at); next != at) {
            at = next;
            continue;
        }
        const char c = bytes[at];
        if (c == '(')
            ++depth;
        else if (c == ')' && depth-- == 0) {
            if (isAny || from < at)
                (void)close(at);
            return true;
        } else if (c == ',' && depth == 0) {
            if (!close(at))
                return true;
            from = at + 1;
        }
        ++at;
    }
    return false;
}

std::vector<Patch::Range> Patch::argumentsOf(EntityId id) const
{
    std::vector<Range> ranges;
    const Entry* entry = file_.entities().find(id);
    const auto keep = [&](Range range) {
        ranges.push_back(range);
        return true;
    };
    return entry != nullptr && forEachArgument(*entry, keep) ? ranges : std::vector<Range>();
}

std::optional<Patch::Range> Patch::statementOf(EntityId id) const
{
    const Entry* entry = file_.entities().find(id);
    if (entry == nullptr)
        return {};
    const std::string_view bytes = file_.bytes();
    const Statement statement = statementFrom(bytes, entry->offset());
    const auto from = beginOf(bytes, entry->offset());
    if (!from || statement.end == std::string_view::npos || statement.isBroken)
        return {};
    return Range{*from, statement.end + 1};
}

bool Patch::setArgument(EntityId id, std::size_t index, const std::string& text)
{
    const auto arguments = argumentsOf(id);
    if (index >= arguments.size())
        return false;
    changes_[arguments[index].from] = {arguments[index].to, text};
    return true;
}

bool Patch::setEntity(EntityId id, const std::string& text)
{
    const auto statement = statementOf(id);
    if (!statement)
        return false;
    changes_.erase(changes_.lower_bound(statement->from), changes_.lower_bound(statement->to));
    changes_[statement->from] = {statement->to, "#" + std::to_string(id) + "=" + text + ";"};
    return true;
}

bool Patch::remove(EntityId id)
{
    auto statement = statementOf(id);
    if (!statement)
        return false;
    const std::string_view bytes = file_.bytes();
    // With its line, where it has one of its own.
    const bool isOwnLine = statement->from == 0 || bytes[statement->from - 1] == '\n';
    if (isOwnLine && bytes.substr(statement->to, lineEnd_.size()) == lineEnd_)
        statement->to += lineEnd_.size();
    changes_.erase(changes_.lower_bound(statement->from), changes_.lower_bound(statement->to));
    changes_[statement->from] = {statement->to, ""};
    return true;
}

EntityId Patch::add(const std::string& text)
{
    added_ += lineEnd_ + "#" + std::to_string(next_) + "=" + text + ";";
    return next_++;
}

std::string_view Patch::argumentText(const Entry& entry, std::size_t index) const
{
    std::string_view text;
    std::size_t at = 0;
    (void)forEachArgument(entry, [&](Range range) {
        if (at++ < index)
            return true;
        text = at == index + 1 ? file_.bytes().substr(range.from, range.to - range.from) : text;
        return false;
    });
    return text;
}

std::string Patch::argument(EntityId id, std::size_t index) const
{
    const auto arguments = argumentsOf(id);
    return index < arguments.size()
               ? std::string(file_.bytes().substr(arguments[index].from, arguments[index].to - arguments[index].from))
               : std::string();
}

template <class Keep, class Add>
bool Patch::pass(Keep&& keep, Add&& add) const
{
    std::size_t at = 0;
    const auto upTo = [&](std::size_t to) {
        const bool isKept = at >= to || keep(at, to);
        at = std::max(at, to);
        return isKept;
    };
    bool isAdded = false;
    const auto addNow = [&] {
        isAdded = true;
        return upTo(end_) && add(std::string_view(added_));
    };
    for (const auto& [from, change] : changes_) {
        if (!isAdded && from >= end_ && !addNow())
            return false;
        if (!upTo(from) || !add(std::string_view(change.second)))
            return false;
        at = change.first;
    }
    if (!isAdded && at <= end_ && !addNow())
        return false;
    if (!isAdded && !add(std::string_view(added_))) // the last entity itself was changed
        return false;
    return upTo(file_.bytes().size());
}

std::string Patch::text() const
{
    std::string all;
    pass(
        [&](std::size_t from, std::size_t to) {
            all += file_.bytes().substr(from, to - from);
            return true;
        },
        [&](std::string_view part) {
            all += part;
            return true;
        });
    return all;
}

Result<void> Patch::write(const std::filesystem::path& path, Progress& progress) const
{
    const auto unwritable = [&](const std::string& why) {
        return fail({kFileUnwritable, "The file can not be written: " + why + ".", path.string()});
    };
    std::error_code code;
    if (std::filesystem::equivalent(path, file_.name(), code))
        return fail({kFileChanged, "The sender's own file is never written to; name another one.", path.string()});
    if (const auto status = std::filesystem::symlink_status(path, code);
        std::filesystem::exists(status) && !std::filesystem::is_regular_file(status))
        return unwritable("something that is no plain file stands there");
    auto temporary = Temporary::fileBeside(path);
    if (!temporary)
        return fail(temporary.error());
    const int descriptor = temporary->descriptor();
    const std::string_view bytes = file_.bytes();
    const int source = sourceOf(bytes, file_.name());
    const double all = static_cast<double>(std::max<std::size_t>(1, bytes.size()));
    double done = 0;
    const auto goOn = [&](std::size_t written) {
        done += static_cast<double>(written);
        progress.report("Writing", done / all);
        return !progress.isCancelled();
    };
    const auto add = [&](std::string_view part) {
        while (!part.empty()) {
            const ssize_t n = ::write(descriptor, part.data(), std::min(part.size(), kBlock));
            if (n < 0 && errno == EINTR)
                continue;
            if (n <= 0 || !goOn(static_cast<std::size_t>(n)))
                return false;
            part.remove_prefix(static_cast<std::size_t>(n));
        }
        return true;
    };
    // What no change touches goes from file to file without passing through this program, where the system can.
    bool canCopy = source >= 0;
    const auto keep = [&](std::size_t from, std::size_t to) {
        while (canCopy && to - from >= kLeastCopied) {
            auto offset = static_cast<off64_t>(from);
            const ssize_t n = ::copy_file_range(source, &offset, descriptor, nullptr, std::min(to - from, kCopied), 0);
            if (n < 0 && errno == EINTR)
                continue;
            canCopy = n > 0; // else through memory, which also tells of a file that was shortened
            if (!canCopy)
                break;
            // The disk begins with what is there, so that it has little left to do at the end.
            (void)::sync_file_range(descriptor, 0, 0, SYNC_FILE_RANGE_WRITE);
            if (!goOn(static_cast<std::size_t>(n)))
                return false;
            from += static_cast<std::size_t>(n);
        }
        return add(bytes.substr(from, to - from));
    };
    const bool isWritten = pass(keep, add) && file_.isWhole();
    const int why = errno;
    if (source >= 0)
        ::close(source);
    if (isWritten)
        return temporary->putInPlace(path);
    return unwritable(progress.isCancelled() ? "it was cancelled"
                      : !file_.isWhole()     ? "the file it is made from was shortened meanwhile"
                                             : std::generic_category().message(why));
}

} // namespace wendrix::step
