#pragma once

#include "core/base/element_ref.h"
#include "core/federation/fit.h"
#include "core/geometry/member_geometry.h"
#include "core/ifc/model.h"

#include <functional>
#include <memory>
#include <string>

namespace wendrix::federation {

/// One discipline's model as it stands in a federation: what the file says, what it looks like, where it is
/// put. Model and geometry are shared and immutable; only the fit differs between federations.
struct Member {
    DisciplineId disciplineId = 0;
    std::string discipline; ///< "Structure"
    std::string revision;   ///< "P02"
    std::string part;       ///< which of several models of the delivery; empty where it has one
    std::shared_ptr<const ifc::Model> model;
    std::shared_ptr<const geometry::MemberGeometry> geometry;
    Fit fit; ///< file frame to the reference's

    [[nodiscard]] std::string delivery() const { return discipline + " " + revision; }
    [[nodiscard]] ElementRef refOf(ifc::ElementIndex element) const;
    /// The element of this name; a name without a discipline, as files have it, may be any member's.
    [[nodiscard]] std::optional<ifc::ElementIndex> find(const ElementRef& ref) const;
    [[nodiscard]] std::string title() const { return delivery() + (part.empty() ? "" : " " + part); }
};

/// Reads and builds one file, on the calling thread. Errors as ifc::Model::open and MemberGeometry::build give them.
/// @param leftOut  classes that are not wanted, as ifc::Model::open takes them
[[nodiscard]] Result<Member> readMember(const std::filesystem::path& path, Progress& progress,
                                        std::span<const std::string> leftOut = {});
[[nodiscard]] Result<Member> readMember(std::shared_ptr<const MappedFile> mapped, Progress& progress,
                                        std::span<const std::string> leftOut = {});

/// The same, but a cancel is answered at once at any size of file: what was read is freed behind the caller's back.
[[nodiscard]] Result<Member> openMember(const std::filesystem::path& path, Progress& progress);

/// A way of reading, left at once on a cancel. `read` must own what it uses.
[[nodiscard]] Result<Member> readAbandonably(const std::filesystem::path& path, Progress& progress,
                                             std::function<Result<Member>(Progress&)> read);

} // namespace wendrix::federation
