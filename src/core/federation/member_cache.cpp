#include "core/federation/member_cache.h"

#include "core/base/file.h"
#include "core/base/hash.h"
#include "core/federation/reader_version.h"

#include <fstream>

namespace wendrix::federation {

namespace {

constexpr std::string_view kSuffix = ".member";

struct Head {
    char magic[8] = {'W', 'x', 'm', 'e', 'm', 'b', 'e', 'r'};
    std::uint64_t version = kReaderVersion;
    char sha256[64] = {};
    std::uint64_t size = 0, sum = 0; ///< of what follows
};
static_assert(sizeof(Head) == 96, "the payload starts aligned to 16 bytes");

Head headOf(const std::string& sha256)
{
    Head head;
    std::copy_n(sha256.begin(), std::min(sha256.size(), sizeof head.sha256), head.sha256);
    return head;
}

} // namespace

std::filesystem::path MemberCache::fileOf(const std::string& sha256) const
{
    char version[17];
    std::snprintf(version, sizeof version, "%016llx", static_cast<unsigned long long>(kReaderVersion));
    return folder_ / (sha256 + "-" + version + std::string(kSuffix));
}

std::optional<Member> MemberCache::find(const std::filesystem::path& delivery, const std::string& sha256) const
{
    if (folder_.empty())
        return {};
    const auto mapped = MappedFile::open(fileOf(sha256));
    if (!mapped || (*mapped)->bytes().size() < sizeof(Head))
        return {};
    Head head;
    std::memcpy(&head, (*mapped)->bytes().data(), sizeof head);
    const Head expected = headOf(sha256);
    const std::string_view payload = (*mapped)->bytes().substr(sizeof head);
    if (std::memcmp(head.magic, expected.magic, sizeof head.magic) != 0 || head.version != expected.version ||
        std::memcmp(head.sha256, expected.sha256, sizeof head.sha256) != 0 || head.size != payload.size() ||
        head.sum != checksum(payload))
        return {};
    BinaryReader in(payload, *mapped);
    auto model = ifc::Model::restore(delivery, in);
    if (!model)
        return {};
    Member member;
    member.model = *model;
    member.geometry = geometry::MemberGeometry::restore(in, (*model)->elements().size());
    if (!in.isSound() || !in.isAtEnd() || !(*mapped)->isWhole() || !member.model->source().file().isWhole())
        return {};
    return member;
}

void MemberCache::keep(const Member& member, const std::string& sha256) const
{
    if (folder_.empty()) // else it would be the working folder
        return;
    std::error_code ignored;
    for (const auto& entry : std::filesystem::directory_iterator(folder_, ignored)) {
        const std::string name = entry.path().filename().string();
        if (name.ends_with(kSuffix) && entry.path() != fileOf(name.substr(0, name.find('-'))))
            std::filesystem::remove(entry.path(), ignored);
    }
    BinaryWriter out;
    member.model->save(out);
    member.geometry->save(out);
    Head head = headOf(sha256);
    head.size = out.bytes().size();
    head.sum = checksum(out.bytes());
    // Not flushed to the disk: what a power cut tears, the checksum finds.
    const std::filesystem::path file = fileOf(sha256);
    const auto part = makeTemporaryBeside(file);
    if (!part)
        return;
    std::ofstream stream(*part, std::ios::binary);
    stream.write(reinterpret_cast<const char*>(&head), sizeof head);
    stream.write(out.bytes().data(), static_cast<std::streamsize>(out.bytes().size()));
    stream.close();
    if (stream)
        std::filesystem::rename(*part, file, ignored);
    if (!stream || ignored)
        std::filesystem::remove(*part, ignored);
}

Result<Member> openMember(const std::filesystem::path& path, const std::string& sha256,
                          const std::vector<std::string>& leftOut, const MemberCache& cache, Progress& progress)
{
    std::string key = sha256;
    for (const std::string& name : leftOut)
        key = wendrix::sha256(key + name);
    return readAbandonably(path, progress, [path, key, leftOut, cache](Progress& own) -> Result<Member> {
        if (auto kept = cache.find(path, key))
            return std::move(*kept);
        auto member = readMember(path, own, leftOut);
        // An archive would have to be unpacked again anyway.
        std::error_code error;
        if (member && !own.isCancelled() &&
            std::filesystem::file_size(path, error) == member->model->source().file().bytes().size())
            cache.keep(*member, key);
        return member;
    });
}

} // namespace wendrix::federation
