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
    double weight = 1;
};

/// Takes the moving frame to the reference frame: first the scale, then the turn about +Z, then the shift.
struct PlanFit {
    double scale = 1;
    Radians rotation;    ///< counter-clockwise seen from above, in [-pi, pi]
    Vector3 translation; ///< metres
    Metres rms;          ///< of the residuals, in 3D, weighted
};

enum class Scale { IsOne, IsFree };

inline constexpr ErrorCode kTooFewPlaces{"fit.too-few-places"};
inline constexpr ErrorCode kPlacesCoincide{"fit.places-coincide"};

/// Weighted least-squares turn about the vertical and shift, and where it is free, one scale for plan and heights.
///
/// Tilt is left out on purpose: buildings stand upright, so a tilted member should show as residuals that a
/// person judges, not vanish into the fit.
/// @param places  two or more, over 1 mm apart in plan. O(n), allocates nothing.
/// @return        the fit, or kTooFewPlaces or kPlacesCoincide.
/// Source: S. Umeyama, IEEE TPAMI 13(4), 1991; the planar case with weights.
[[nodiscard]] Result<PlanFit> fitInPlan(std::span<const PlacePair> places, Scale scale = Scale::IsOne);

} // namespace wendrix::federation
