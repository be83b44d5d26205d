#include "core/federation/member_cache.h"

#include "core/base/file.h"
#include "core/base/folder_guard.h"
#include "core/base/hash.h"
#include "core/base/temporary.h"
#include "core/base/verified_content.h"
#include "core/federation/reader_version.h"

#include <cstring>
#include <future>

namespace wendrix::federation {

namespace {

constexpr std::string_view kSuffix = ".member";

struct Head {
    char magic[8] = {'W', 'x', 'm', 'e', 'm', 'b', 'r', '2'};
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

std::optional<Member> MemberCache::find(std::shared_ptr<const MappedFile> delivery, const std::string& sha256) const
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
    auto model = ifc::Model::restore(std::move(delivery), in);
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
    for (const std::string& name : namesIn(folder_))
        if (name.ends_with(kSuffix) && folder_ / name != fileOf(name.substr(0, name.find('-'))))
            removeFile(folder_ / name);
    BinaryWriter out;
    member.model->save(out);
    member.geometry->save(out);
    Head head = headOf(sha256);
    head.size = out.bytes().size();
    head.sum = checksum(out.bytes());
    // Not flushed to the disk: what a power cut tears, the checksum finds.
    const std::filesystem::path file = fileOf(sha256);
    auto part = Temporary::fileBeside(file);
    if (part && part->append({reinterpret_cast<const char*>(&head), sizeof head}) && part->append(out.bytes()))
        part->putInPlaceUnflushed(file);
}

Result<Member> openMember(std::shared_ptr<const MappedFile> mapped, const std::string& sha256,
                          const std::vector<std::string>& leftOut, const MemberCache& cache, Progress& progress,
                          std::function<bool()> areThose)
{
    std::string key = sha256;
    for (const std::string& name : leftOut)
        key = wendrix::sha256(key + name);
    const std::filesystem::path path = mapped->path();
    return readAbandonably(path, progress,
                           [mapped = std::move(mapped), key, leftOut, cache,
                            areThose = std::move(areThose)](Progress& own) -> Result<Member> {
                               if (auto kept = cache.find(mapped, key))
                                   return std::move(*kept);
                               auto member = readMember(mapped, own, leftOut);
                               // An archive would have to be unpacked again anyway.
                               if (member && !own.isCancelled() &&
                                   mapped->bytes().size() == member->model->source().file().bytes().size() &&
                                   areThose() && mapped->isUnchanged())
                                   cache.keep(*member, key);
                               return member;
                           });
}

Result<Member> openMember(const std::filesystem::path& path, const std::string& sha256,
                          const std::vector<std::string>& leftOut, const MemberCache& cache, Progress& progress)
{
    auto opened = MappedFile::open(path);
    if (!opened)
        return fail(opened.error());
    const std::shared_ptr<const MappedFile> mapped = *opened;
    const std::shared_future<bool> areThose = std::async(std::launch::async, [mapped, sha256, &progress] {
                                                  return holdsContent(*mapped, sha256, progress);
                                              }).share();
    auto member = openMember(mapped, sha256, leftOut, cache, progress, [areThose] { return areThose.get(); });
    areThose.wait(); // it looks at `progress`
    if (member && !(areThose.get() && mapped->isUnchanged()) && !progress.isCancelled())
        return fail({kOtherContent, "The file is not the one that was received.", path.string()});
    return member;
}

} // namespace wendrix::federation
