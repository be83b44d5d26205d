#include "core/bcf/archive.h"

#include "core/base/folder_guard.h"
#include "core/base/text.h"

#include <fcntl.h>
#include <zip.h>

#include <algorithm>

namespace wendrix::bcf {

namespace {

constexpr zip_int64_t kMostEntries = 500'000;
constexpr std::uint64_t kMostFileBytes = 8ull << 30;
constexpr std::size_t kMostEntryBytes = 256u << 20;
// PNG and XML stay far below; what is small may repeat itself as it likes.
constexpr std::uint64_t kMostInflation = 200, kSmall = 1u << 20;
constexpr std::size_t kMostFaults = 1000;

Error notAnArchive()
{
    return {kNotAnArchive,
            "This is not a BCF file: it is no zip archive, or a damaged one. Ask the sender to export it "
            "again."};
}

Error hostile(const std::string& entry, const std::string& why)
{
    return {kHostileArchive, why + " It was not read.", "", entry};
}

/// What is wrong with a name, or nothing.
std::string nameFault(std::string_view name)
{
    if (name.empty() || name.size() > 1000)
        return "The entry has no usable name.";
    if (std::any_of(name.begin(), name.end(), [](char c) { return static_cast<unsigned char>(c) < 32 || c == 127; }))
        return "The entry's name holds control characters.";
    if (name[0] == '/' || (name.size() > 1 && name[1] == ':'))
        return "The entry's name is an absolute path.";
    for (std::size_t at = 0; at <= name.size();) {
        const std::size_t end = std::min(name.find('/', at), name.size());
        if (name.substr(at, end - at) == "..")
            return "The entry's name leads out of the archive (..).";
        at = end + 1;
    }
    return {};
}

std::string printable(std::string name)
{
    for (char& c : name)
        if (static_cast<unsigned char>(c) < 32 || c == 127)
            c = '?';
    return name;
}

} // namespace

Archive::~Archive()
{
    if (zip_ != nullptr)
        zip_discard(zip_);
}

Result<std::shared_ptr<const Archive>> Archive::open(const std::filesystem::path& path)
{
    const Descriptor file = openFile(path, O_RDONLY);
    struct stat status {};
    if (!file.isOpen() || ::fstat(file.get(), &status) != 0 || !S_ISREG(status.st_mode))
        return fail({kNotAnArchive, "The file can not be read; look at its place and its permissions.", path.string()});
    std::shared_ptr<Archive> archive(new Archive);
    archive->packedSize_ = static_cast<std::uint64_t>(status.st_size);
    const auto tryOpening = [&](int flags) {
        int code = 0;
        Descriptor own(::fcntl(file.get(), F_DUPFD_CLOEXEC, 0));
        archive->zip_ = zip_fdopen(own.get(), flags, &code);
        if (archive->zip_ != nullptr)
            (void)own.release();
    };
    // libzip takes nothing at all for an archive without entries
    if (archive->packedSize_ > 0 && archive->packedSize_ <= kMostFileBytes) {
        tryOpening(ZIP_CHECKCONS);
        if (archive->zip_ == nullptr)
            // Two entries of one name are told; what is inconsistent otherwise shows where it is read.
            tryOpening(0);
    }
    auto done = opened(std::move(archive));
    if (!done) {
        Error why = done.error();
        why.file = path.string();
        return fail(std::move(why));
    }
    return done;
}

Result<std::shared_ptr<const Archive>> Archive::ofBytes(std::string bytes)
{
    std::shared_ptr<Archive> archive(new Archive);
    archive->bytes_ = std::move(bytes);
    archive->packedSize_ = archive->bytes_.size();
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* source = archive->bytes_.empty()
                               ? nullptr
                               : zip_source_buffer_create(archive->bytes_.data(), archive->bytes_.size(), 0, &error);
    if (source != nullptr) {
        archive->zip_ = zip_open_from_source(source, ZIP_RDONLY, &error);
        if (archive->zip_ == nullptr)
            zip_source_free(source);
    }
    return opened(std::move(archive));
}

Result<std::shared_ptr<const Archive>> Archive::opened(std::shared_ptr<Archive> archive)
{
    if (archive->zip_ == nullptr)
        return fail(notAnArchive());
    if (zip_get_num_entries(archive->zip_, 0) > kMostEntries)
        return fail(hostile("", "The archive holds more entries than any real file."));
    if (const std::size_t encrypted = archive->list(); encrypted > 0 && archive->entries_.empty())
        return fail({kNotAnArchive,
                     "Everything in this file is encrypted, so nothing of it can be read. Ask the sender for "
                     "one without a password."});
    return std::shared_ptr<const Archive>(std::move(archive));
}

std::size_t Archive::list()
{
    const auto note = [&](const std::string& entry, const std::string& what) {
        if (faults_.size() < kMostFaults)
            faults_.push_back({Severity::Error, "bcf.archive", printable(entry), what});
    };
    std::uint64_t packed = 0;
    std::size_t encrypted = 0;
    const zip_int64_t count = zip_get_num_entries(zip_, 0);
    for (zip_int64_t i = 0; i < count; ++i) {
        const auto number = static_cast<zip_uint64_t>(i);
        zip_stat_t stat;
        if (zip_stat_index(zip_, number, 0, &stat) != 0 || stat.name == nullptr) {
            note("", "An entry of the archive can not be read.");
            continue;
        }
        packed += (stat.valid & ZIP_STAT_COMP_SIZE) != 0 ? stat.comp_size : 0;
        std::string name = stat.name;
        if (name.find('\\') != std::string::npos) {
            note(name, "The entry's name holds a backslash; it is read as a folder's separator.");
            std::replace(name.begin(), name.end(), '\\', '/');
        }
        if (const std::string fault = nameFault(name); !fault.empty()) {
            note(name, fault + " It was passed over.");
            continue;
        }
        zip_uint8_t system = 0;
        zip_uint32_t attributes = 0;
        if (zip_file_get_external_attributes(zip_, number, 0, &system, &attributes) == 0 && system == ZIP_OPSYS_UNIX &&
            ((attributes >> 16) & 0170000u) == 0120000u) {
            note(name, "The entry is a symbolic link. It was passed over.");
            continue;
        }
        if (name.ends_with('/'))
            continue;
        if ((stat.valid & ZIP_STAT_ENCRYPTION_METHOD) != 0 && stat.encryption_method != ZIP_EM_NONE) {
            note(name, "The entry is encrypted. It was passed over.");
            ++encrypted;
            continue;
        }
        entries_.push_back({std::move(name), number, (stat.valid & ZIP_STAT_SIZE) != 0 ? stat.size : 0});
    }
    if (packed > packedSize_)
        note("", "Entries overlap: their packed sizes add up to more than the file.");
    std::stable_sort(entries_.begin(), entries_.end(), [](const Entry& a, const Entry& b) { return a.name < b.name; });
    takeOffOuterFolder();
    for (std::size_t i = 0; i < entries_.size(); ++i) {
        const std::string& name = entries_[i].name;
        if (!byName_.emplace(name, i).second)
            note(name, "The entry is there twice.");
        else if (const auto [other, isNew] = byLowerName_.emplace(lowerCase(name), i); !isNew)
            note(name, "The entry's name differs from " + entries_[other->second].name + " only in case.");
    }
    return encrypted;
}

void Archive::takeOffOuterFolder()
{
    const auto has = [&](const std::string& name) {
        return std::any_of(entries_.begin(), entries_.end(), [&](const Entry& e) { return e.name == name; });
    };
    if (entries_.empty() || has("bcf.version"))
        return;
    const std::string folder = entries_[0].name.substr(0, entries_[0].name.find('/') + 1);
    if (folder.empty() || !has(folder + "bcf.version") ||
        !std::all_of(entries_.begin(), entries_.end(), [&](const Entry& e) { return e.name.starts_with(folder); }))
        return;
    faults_.push_back({Severity::Warning, "bcf.archive", "bcf.version",
                       "The entry is not in the archive's root (there is " + folder +
                           "bcf.version); the folder around everything was taken off."});
    for (Entry& e : entries_)
        e.name.erase(0, folder.size());
}

const Archive::Entry* Archive::find(std::string_view name) const
{
    const std::string key(name);
    if (const auto exact = byName_.find(key); exact != byName_.end())
        return &entries_[exact->second];
    const auto alike = byLowerName_.find(lowerCase(key));
    return alike == byLowerName_.end() ? nullptr : &entries_[alike->second];
}

std::vector<const Archive::Entry*> Archive::under(std::string_view folder) const
{
    const std::string prefix = std::string(folder) + "/";
    std::vector<const Entry*> found;
    for (auto e = std::lower_bound(entries_.begin(), entries_.end(), prefix,
                                   [](const Entry&a, const std::string&b) { return a.name < b; });
         e != entries_.end() && e->name.starts_with(prefix); ++e)
        found.push_back(&*e);
    return found;
}

Result<std::string> Archive::read(const Entry& entry) const
{
    const std::unique_ptr<zip_file_t, int (*)(zip_file_t*)> file(zip_fopen_index(zip_, entry.number, 0), zip_fclose);
    if (!file)
        return fail({kNotAnArchive, "The entry can not be unpacked; it may be encrypted or damaged.", "", entry.name});
    std::string content;
    content.reserve(std::min<std::size_t>(entry.size, kSmall));
    char block[1 << 16];
    for (;;) {
        const zip_int64_t got = zip_fread(file.get(), block, sizeof block);
        if (got < 0)
            return fail({kNotAnArchive, "The entry is damaged.", "", entry.name});
        if (got == 0)
            break;
        content.append(block, static_cast<std::size_t>(got));
        unpacked_ += static_cast<std::uint64_t>(got);
        if (content.size() > kMostEntryBytes)
            return fail(hostile(entry.name,
                                "The entry unpacks to more than " + std::to_string(kMostEntryBytes >> 20) + " MiB."));
        if (content.size() > kSmall && content.size() / kMostInflation > packedSize_)
            return fail(hostile(entry.name, "The entry unpacks to more than any real file would hold."));
    }
    return content;
}

Result<Entries> unpack(std::string_view bytes)
{
    const auto archive = Archive::ofBytes(std::string(bytes));
    if (!archive)
        return fail(archive.error());
    Entries entries;
    for (const Archive::Entry& e : (*archive)->entries()) {
        auto content = (*archive)->read(e);
        if (!content)
            return fail(content.error());
        entries.emplace(e.name, std::move(*content));
    }
    return entries;
}

} // namespace wendrix::bcf
