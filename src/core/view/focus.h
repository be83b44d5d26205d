#pragma once

#include "core/view/display.h"

namespace wendrix::view {

class Picker;

/// What there is around a place: elements that reach into the neighbourhood of `box` (Focus says how far), without
/// those in `about`; the largest first where there are more triangles than can be drawn at once.
/// @param box  of the place, federation frame
/// @param picker  of these members, finds what is there; null where it is not known yet, and then nothing stands around
[[nodiscard]] Focus focusOn(const Box3& box, std::span<const federation::Member> members,
                            std::span<const MemberLook> looks, std::span<const ElementKey> about, const Picker* picker);

} // namespace wendrix::view
