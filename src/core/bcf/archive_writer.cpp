#include "core/bcf/archive.h"

#include "core/base/file.h"
#include "core/base/folder_guard.h"
#include "core/base/temporary.h"
#include "core/base/text.h"

#include <zip.h>

#include <cstring>
#include <filesystem>

namespace wendrix::bcf {

namespace {

constexpr std::time_t kTimeOfAll = 1577880000;

/// A blob as libzip asks for it: fetched when it is opened, let go of when it is closed.
struct Fed {
    const Blob* blob;
    std::string bytes = {};
    std::size_t at = 0;
    std::optional<Error>* failure = nullptr;
};

zip_int64_t feed(void* state, void* data, zip_uint64_t length, zip_source_cmd_t command)
{
    Fed& fed = *static_cast<Fed*>(state);
    switch (command) {
    case ZIP_SOURCE_OPEN: {
        auto bytes = fed.blob->read();
        if (!bytes) {
            *fed.failure = bytes.error();
            return -1;
        }
        fed.bytes = std::move(*bytes);
        fed.at = 0;
        return 0;
    }
    case ZIP_SOURCE_READ: {
        const std::size_t count = std::min<std::size_t>(length, fed.bytes.size() - fed.at);
        std::memcpy(data, fed.bytes.data() + fed.at, count);
        fed.at += count;
        return static_cast<zip_int64_t>(count);
    }
    case ZIP_SOURCE_CLOSE:
        std::string().swap(fed.bytes);
        return 0;
    case ZIP_SOURCE_STAT: {
        auto* stat = static_cast<zip_stat_t*>(data);
        zip_stat_init(stat);
        stat->size = fed.blob->size;
        stat->mtime = kTimeOfAll;
        stat->valid = ZIP_STAT_SIZE | ZIP_STAT_MTIME;
        return sizeof *stat;
    }
    case ZIP_SOURCE_ERROR: {
        auto* codes = static_cast<int*>(data);
        codes[0] = ZIP_ER_READ;
        codes[1] = 0;
        return 2 * sizeof(int);
    }
    case ZIP_SOURCE_FREE:
        delete &fed;
        return 0;
    case ZIP_SOURCE_SUPPORTS:
        return zip_source_make_command_bitmap(ZIP_SOURCE_OPEN, ZIP_SOURCE_READ, ZIP_SOURCE_CLOSE, ZIP_SOURCE_STAT,
                                              ZIP_SOURCE_ERROR, ZIP_SOURCE_FREE, -1);
    default:
        return -1;
    }
}

Error unwritable(const std::string& what) { return {kUnwritable, "The BCF file could not be written: " + what + "."}; }

/// Adds all entries and closes; the archive is gone afterwards either way.
Result<void> fill(zip_t* archive, const std::map<std::string, Blob>& entries)
{
    std::optional<Error> failure;
    for (const auto& [name, blob] : entries) {
        auto* fed = new Fed{&blob, {}, 0, &failure};
        zip_source_t* source = zip_source_function(archive, feed, fed);
        if (source == nullptr) {
            delete fed;
            zip_discard(archive);
            return fail(unwritable("there may be too little memory"));
        }
        const zip_int64_t index = zip_file_add(archive, name.c_str(), source, ZIP_FL_ENC_UTF_8);
        if (index < 0) {
            zip_source_free(source);
            zip_discard(archive);
            return fail(unwritable("there may be too little memory"));
        }
        zip_file_set_mtime(archive, static_cast<zip_uint64_t>(index), kTimeOfAll, 0);
        const std::string lower = lowerCase(name);
        if (lower.ends_with(".png") || lower.ends_with(".jpg") || lower.ends_with(".jpeg"))
            zip_set_file_compression(archive, static_cast<zip_uint64_t>(index), ZIP_CM_STORE, 0);
    }
    if (zip_close(archive) == 0)
        return {};
    const std::string why = zip_strerror(archive);
    zip_discard(archive);
    return fail(failure ? *failure : unwritable(why));
}

} // namespace

Blob Blob::of(std::string bytes)
{
    const auto kept = std::make_shared<const std::string>(std::move(bytes));
    return {kept->size(), [kept]() -> Result<std::string> { return *kept; }};
}

Blob Blob::of(std::shared_ptr<const Archive> archive, const Archive::Entry& entry)
{
    return {entry.size, [archive = std::move(archive), entry] { return archive->read(entry); }};
}

Blob Blob::of(const std::filesystem::path& file)
{
    const auto status = statusOf(file);
    return {status ? static_cast<std::uint64_t>(status->st_size) : 0, [file] { return readFileWhole(file); }};
}

bool ArchiveWriter::add(const std::string& name, Blob blob)
{
    if (!lowerNames_.emplace(lowerCase(name), name).second)
        return false;
    return entries_.emplace(name, std::move(blob)).second;
}

bool ArchiveWriter::has(const std::string& name) const { return lowerNames_.contains(lowerCase(name)); }

Result<void> ArchiveWriter::write(const std::filesystem::path& path) const
{
    auto temporary = Temporary::fileBeside(path);
    if (!temporary)
        return fail(temporary.error());
    const auto discarded = [&](Error why) {
        why.file = path.string();
        return fail(std::move(why));
    };
    int code = 0;
    zip_t* archive = zip_open(temporary->path().c_str(), ZIP_CREATE | ZIP_TRUNCATE, &code);
    if (archive == nullptr)
        return discarded(unwritable("its place may be full or protected"));
    if (auto done = fill(archive, entries_); !done)
        return discarded(done.error());
    return temporary->putInPlace(path);
}

Result<std::string> ArchiveWriter::bytes() const
{
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* target = zip_source_buffer_create(nullptr, 0, 0, &error);
    if (target == nullptr)
        return fail(unwritable("there may be too little memory"));
    zip_source_keep(target);
    zip_t* archive = zip_open_from_source(target, ZIP_TRUNCATE, &error);
    if (archive == nullptr) {
        zip_source_free(target);
        return fail(unwritable("there may be too little memory"));
    }
    const std::unique_ptr<zip_source_t, void (*)(zip_source_t*)> freed(target, zip_source_free);
    if (auto done = fill(archive, entries_); !done)
        return fail(done.error());
    std::string bytes;
    zip_source_open(target);
    zip_source_seek(target, 0, SEEK_END);
    bytes.resize(static_cast<std::size_t>(zip_source_tell(target)));
    zip_source_seek(target, 0, SEEK_SET);
    const bool isWhole = zip_source_read(target, bytes.data(), bytes.size()) == static_cast<zip_int64_t>(bytes.size());
    zip_source_close(target);
    if (!isWhole)
        return fail(unwritable("there may be too little memory"));
    return bytes;
}

Result<std::string> pack(const Entries& entries)
{
    ArchiveWriter writer;
    for (const auto& [name, bytes] : entries)
        writer.add(name, bytes);
    return writer.bytes();
}

} // namespace wendrix::bcf
