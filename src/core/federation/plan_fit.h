#pragma once

#include "core/base/quantity.h"
#include "core/base/result.h"
#include "core/base/vector3.h"

#include <span>

namespace wendrix::federation {

/// One place found in two members: a grid crossing, a survey mark, a column corner.
struct PlacePair {
    Point3 moving;    ///< metres, in the moving member's file frame
    Point3 reference; ///< metres, in the reference member's frame
};

/// Takes the moving frame to the reference frame: first the turn about +Z, then the shift.
struct PlanFit {
    Radians rotation;    ///< counter-clockwise seen from above, in [-pi, pi]
    Vector3 translation; ///< metres
    Metres rms;          ///< of the residuals, in 3D
};

inline constexpr ErrorCode kTooFewPlaces{"fit.too-few-places"};
inline constexpr ErrorCode kPlacesCoincide{"fit.places-coincide"};

/// Least-squares turn about the vertical and shift; the scale stays 1.
///
/// Tilt is left out on purpose: buildings stand upright, so a tilted member should show as residuals that a
/// person judges, not vanish into the fit.
/// @param places  two or more, over 1 mm apart in plan. O(n), allocates nothing.
/// @return        the fit, or kTooFewPlaces or kPlacesCoincide.
/// Source: S. Umeyama, IEEE TPAMI 13(4), 1991; the planar case, scale fixed.
[[nodiscard]] Result<PlanFit> fitInPlan(std::span<const PlacePair> places);

} // namespace wendrix::federation
