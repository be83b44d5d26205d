#pragma once

#include "core/base/progress.h"
#include "core/federation/member.h"
#include "core/geometry/mesh.h"

#include <vector>

namespace wendrix::changes {

/// What was added to a body and what was taken away from it.
struct VolumeChange {
    geometry::Mesh added, removed;             ///< where not exact: the faces that lie apart, open
    double addedVolume = 0, removedVolume = 0; ///< m³; 0 where not exact
    bool isExact = true;                  ///< false: one of the two has no inside, so only surfaces could be compared
    double areaBefore = 0, areaAfter = 0; ///< m², of the surfaces
    double farthest = 0; ///< metres that a corner of either lies off the other's surface; only where not exact
};

/// By exact boolean difference where both are closed solids, else by the distance of the surfaces.
/// @param tolerance  metres: faces nearer than this are not apart
[[nodiscard]] VolumeChange volumeChange(const geometry::Mesh& was, const geometry::Mesh& now, double tolerance);

/// A part of one element that no element of the other revision fills.
struct UnmatchedVolume {
    ifc::ElementIndex element = 0;
    geometry::Mesh body; ///< of the later revision's file frame
    double volume = 0;   ///< m³
};
struct MemberVolumes {
    std::vector<UnmatchedVolume> added, removed;                  ///< by element
    std::vector<ifc::ElementIndex> notSolidAfter, notSolidBefore; ///< left out: they have no inside
};

/// What all elements of one revision fill and none of the other does, both ways: for revisions whose elements cannot be
/// matched with each other. Parts thinner than `tolerance` metres do not count.
/// @return changes.cancelled or the volumes
[[nodiscard]] Result<MemberVolumes> volumesBetween(const federation::Member& before, const federation::Member& after,
                                                   double tolerance, Progress& progress);

} // namespace wendrix::changes
