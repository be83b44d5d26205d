#pragma once

#include "core/federation/fit.h"
#include "core/federation/plan_fit.h"
#include "core/geometry/member_geometry.h"
#include "core/ifc/model.h"

#include <optional>
#include <span>
#include <vector>

namespace wendrix::coordinates {

/// A turn and shift that most of many places share.
struct CommonMotion {
    federation::Fit motion; ///< takes the moving places onto the others; its scale is 1
    std::size_t alike = 0;  ///< places that it brings to within 5 mm
};

/// What most pairs of places moved by, whatever the rest of them did.
///
/// The shift alone is the middle of all shifts, axis by axis; where it does not hold for more than half, the turn is
/// the one that most directions between places share, to a hundredth of a degree, then least squares on those that
/// agree.
/// @return nothing for fewer than three, or where no motion holds for more than half
[[nodiscard]] std::optional<CommonMotion> commonMotion(std::span<const federation::PlacePair> places);

/// A revision as it was read; the geometry may be missing.
struct Revision {
    const ifc::Model& model;
    const geometry::MemberGeometry* geometry = nullptr;
};

/// Where the elements and grid crossings that two revisions share stand in each, in their own frames: `moving` in the
/// later one, `reference` in the earlier. Of files whose elements are all placed at one spot, where their bodies lie.
[[nodiscard]] std::vector<federation::PlacePair> placesInBoth(const Revision& earlier, const Revision& later);

} // namespace wendrix::coordinates
