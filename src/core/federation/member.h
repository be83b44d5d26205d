#pragma once

#include "core/federation/fit.h"
#include "core/geometry/member_geometry.h"
#include "core/ifc/model.h"

#include <memory>
#include <string>

namespace wendrix::federation {

/// One discipline's model as it stands in a federation: what the file says, what it looks like, where it is
/// put. Model and geometry are shared and immutable; only the fit differs between federations.
struct Member {
    std::string discipline; ///< "Structure"
    std::string revision;   ///< "P02"
    std::shared_ptr<const ifc::Model> model;
    std::shared_ptr<const geometry::MemberGeometry> geometry;
    Fit fit; ///< file frame to the reference's

    [[nodiscard]] std::string title() const { return discipline + " " + revision; }
};

/// Reads and builds one file. Errors as ifc::Model::open and MemberGeometry::build give them.
[[nodiscard]] Result<Member> openMember(const std::filesystem::path& path, Progress& progress);

} // namespace wendrix::federation
