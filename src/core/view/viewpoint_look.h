#pragma once

#include "core/issues/viewpoint.h"
#include "core/view/camera.h"
#include "core/view/cuts.h"
#include "core/view/display.h"
#include "core/view/signs.h"

/// Between a BCF viewpoint and what a scene shows.
namespace wendrix::view {

/// What a viewpoint shows in the members of today, beside where it looks from.
struct ViewpointLook {
    std::set<ElementKey> selected, hidden;
    std::optional<std::set<ElementKey>> only; ///< nothing else is shown
    std::map<ElementKey, Colour> painted;
    Cuts cuts;
    std::vector<issues::Line> lines;
    bool areSpacesShown = false;
    std::vector<ElementRef> missing;            ///< elements that no member has
    std::vector<issues::ForeignName> notByGuid; ///< that another program names by something else alone
};
/// @param viewpoint  in the project's coordinates
[[nodiscard]] ViewpointLook lookOf(const issues::Viewpoint& viewpoint, std::span<const federation::Member> members);

/// A viewpoint of what is seen: camera, selection, what is hidden and painted, cuts. Of what is shown and what is
/// hidden the shorter list is written (BCF's own advice).
[[nodiscard]] issues::Viewpoint viewpointOf(const Display& display, const Cuts& cuts, const Camera& camera,
                                            double aspect, std::span<const federation::Member> members);
/// A bitmap of a viewpoint as it stands in the scene. Where its up is not across its normal, the normal counts.
/// @param bytes         of its file
/// @param widthToHeight of its pixels
[[nodiscard]] StandingPicture standing(const issues::Bitmap& bitmap, std::shared_ptr<const std::string> bytes,
                                       double widthToHeight);
/// "FF0E8C86".
[[nodiscard]] std::string bcfColour(const Colour& colour);

} // namespace wendrix::view
