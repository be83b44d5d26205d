#include "core/federation/member.h"

#include "core/base/run_until_cancelled.h"
#include "core/step/file.h"

namespace wendrix::federation {

ElementRef Member::refOf(ifc::ElementIndex element) const
{
    return {disciplineId, part, model->elements()[element].guid, model->ordinalOf(element)};
}

std::optional<ifc::ElementIndex> Member::find(const ElementRef& ref) const
{
    if (ref.discipline != 0 && (ref.discipline != disciplineId || ref.part != part))
        return {};
    return model->find(ref.guid, ref.ordinal);
}

Result<Member> readMember(const std::filesystem::path& path, Progress& progress, std::span<const std::string> leftOut)
{
    auto mapped = MappedFile::open(path);
    return mapped ? readMember(std::move(*mapped), progress, leftOut) : fail(mapped.error());
}

Result<Member> readMember(std::shared_ptr<const MappedFile> mapped, Progress& progress,
                          std::span<const std::string> leftOut)
{
    const std::string name = mapped->path().string();
    auto model = ifc::Model::open(std::move(mapped), progress, leftOut);
    if (!model)
        return fail(model.error());
    auto geometry = geometry::MemberGeometry::build(**model, progress);
    if (!geometry)
        return fail(geometry.error());
    if (!(*model)->source().file().isWhole())
        return fail({kFileChanged,
                     "Another program shortened the file while it was read. Read it again when it is whole.", name});
    Member member;
    member.model = *model;
    member.geometry = *geometry;
    return member;
}

Result<Member> readAbandonably(const std::filesystem::path& path, Progress& progress,
                               std::function<Result<Member>(Progress&)> read)
{
    const auto result = std::make_shared<Result<Member>>();
    if (!runUntilCancelled(progress, [result, read = std::move(read)](Progress& own) { *result = read(own); }))
        return fail({step::kCancelled, "Reading was cancelled.", path.string()});
    return std::move(*result);
}

Result<Member> openMember(const std::filesystem::path& path, Progress& progress)
{
    return readAbandonably(path, progress, [path](Progress& own) { return readMember(path, own); });
}

} // namespace wendrix::federation
