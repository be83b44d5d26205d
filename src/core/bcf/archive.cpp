#include "core/bcf/archive.h"

#include "core/base/text.h"

#include <zip.h>

#include <algorithm>
#include <memory>
#include <set>

namespace wendrix::bcf {

namespace {

constexpr zip_int64_t kMostEntries = 100'000;
constexpr std::size_t kMostEntryBytes = 256u << 20;
constexpr std::size_t kMostBytes = 2'000u << 20;
constexpr std::size_t kMostInflation = 200; // PNG and XML stay far below

struct Discard {
    void operator()(zip_t* archive) const { zip_discard(archive); }
    void operator()(zip_file_t* file) const { zip_fclose(file); }
};

Error hostile(const std::string& entry, const std::string& why)
{
    return {kHostileArchive, why + " The file was not opened.", "", entry};
}

bool isSafeName(const std::string& name)
{
    if (name.empty() || name[0] == '/' || name.size() > 1000 || (name.size() > 1 && name[1] == ':'))
        return false;
    if (std::any_of(name.begin(), name.end(), [](char c) { return static_cast<unsigned char>(c) < 32 || c == 127; }))
        return false;
    for (std::size_t at = 0; at <= name.size();) {
        const std::size_t end = std::min(name.find('/', at), name.size());
        if (name.substr(at, end - at) == "..")
            return false;
        at = end + 1;
    }
    return true;
}

/// Some writers put everything into one outer folder.
void takeOffOuterFolder(Entries& entries)
{
    if (entries.contains("bcf.version") || entries.empty())
        return;
    const std::string first = entries.begin()->first;
    const std::string folder = first.substr(0, first.find('/') + 1);
    if (folder.empty() || !entries.contains(folder + "bcf.version"))
        return;
    if (!std::all_of(entries.begin(), entries.end(), [&](const auto& e) { return e.first.starts_with(folder); }))
        return;
    Entries inner;
    for (auto& [name, bytes] : entries)
        inner.emplace(name.substr(folder.size()), std::move(bytes));
    entries = std::move(inner);
}

} // namespace

Result<Entries> unpack(std::string_view bytes)
{
    const Error notAnArchive{kNotAnArchive,
                             "This is not a BCF file: it is no zip archive, or a damaged one. Ask the sender "
                             "to export it again."};
    if (bytes.empty()) // libzip takes nothing at all for an archive without entries
        return fail(notAnArchive);
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
    const std::unique_ptr<zip_t, Discard> archive(
        source != nullptr ? zip_open_from_source(source, ZIP_RDONLY | ZIP_CHECKCONS, &error) : nullptr);
    if (!archive) {
        if (source != nullptr)
            zip_source_free(source);
        return fail(notAnArchive);
    }
    const zip_int64_t count = zip_get_num_entries(archive.get(), 0);
    if (count > kMostEntries)
        return fail(hostile("", "The archive holds more entries than any real file."));
    Entries entries;
    std::set<std::string> lowerNames;
    std::size_t total = 0;
    for (zip_int64_t i = 0; i < count; ++i) {
        zip_stat_t stat;
        if (zip_stat_index(archive.get(), static_cast<zip_uint64_t>(i), 0, &stat) != 0)
            return fail(hostile("", "An entry of the archive can not be read."));
        std::string name = stat.name;
        std::replace(name.begin(), name.end(), '\\', '/');
        if (!isSafeName(name))
            return fail(hostile(name, "The entry's name leads out of the archive."));
        if (name.ends_with('/'))
            continue;
        if (!lowerNames.insert(lowerCase(name)).second)
            return fail(hostile(name, "The entry is there twice."));
        const std::unique_ptr<zip_file_t, Discard> file(
            zip_fopen_index(archive.get(), static_cast<zip_uint64_t>(i), 0));
        if (!file)
            return fail(hostile(name, "The entry can not be unpacked; it may be encrypted or damaged."));
        std::string content;
        char block[1 << 16];
        for (;;) {
            const zip_int64_t got = zip_fread(file.get(), block, sizeof block);
            if (got < 0)
                return fail(hostile(name, "The entry is damaged."));
            if (got == 0)
                break;
            content.append(block, static_cast<std::size_t>(got));
            total += static_cast<std::size_t>(got);
            if (content.size() > kMostEntryBytes || total > kMostBytes ||
                (content.size() > (1u << 20) && content.size() / kMostInflation > bytes.size()))
                return fail(hostile(name, "The entry unpacks to more than any real file would hold."));
        }
        entries.emplace(std::move(name), std::move(content));
    }
    takeOffOuterFolder(entries);
    return entries;
}

Result<std::string> pack(const Entries& entries)
{
    const auto failed = [] {
        return fail({kNotAnArchive, "The archive could not be put together; there may be too little memory."});
    };
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* target = zip_source_buffer_create(nullptr, 0, 0, &error);
    if (target == nullptr)
        return failed();
    zip_source_keep(target);
    zip_t* archive = zip_open_from_source(target, ZIP_TRUNCATE, &error);
    if (archive == nullptr)
        return failed();
    for (const auto& [name, bytes] : entries) {
        zip_source_t* source = zip_source_buffer(archive, bytes.data(), bytes.size(), 0);
        const zip_int64_t index = zip_file_add(archive, name.c_str(), source, ZIP_FL_ENC_UTF_8);
        if (index < 0) {
            zip_source_free(source);
            zip_discard(archive);
            return failed();
        }
        zip_file_set_mtime(archive, static_cast<zip_uint64_t>(index), 1577880000, 0);
        if (name.ends_with(".png"))
            zip_set_file_compression(archive, static_cast<zip_uint64_t>(index), ZIP_CM_STORE, 0);
    }
    if (zip_close(archive) != 0) {
        zip_discard(archive);
        zip_source_free(target);
        return failed();
    }
    std::string bytes;
    zip_source_open(target);
    zip_source_seek(target, 0, SEEK_END);
    bytes.resize(static_cast<std::size_t>(zip_source_tell(target)));
    zip_source_seek(target, 0, SEEK_SET);
    const bool isWhole = zip_source_read(target, bytes.data(), bytes.size()) == static_cast<zip_int64_t>(bytes.size());
    zip_source_close(target);
    zip_source_free(target);
    if (!isWhole)
        return failed();
    return bytes;
}

} // namespace wendrix::bcf
