#include "core/federation/member.h"

namespace wendrix::federation {

Result<Member> openMember(const std::filesystem::path& path, Progress& progress)
{
    auto model = ifc::Model::open(path, progress);
    if (!model)
        return fail(model.error());
    auto geometry = geometry::MemberGeometry::build(**model, progress);
    if (!geometry)
        return fail(geometry.error());
    Member member;
    member.model = *model;
    member.geometry = *geometry;
    return member;
}

} // namespace wendrix::federation
