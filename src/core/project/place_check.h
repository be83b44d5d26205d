#pragma once

#include "core/coordinates/diagnosis.h"
#include "core/project/records.h"

#include <optional>
#include <span>

namespace wendrix::project {

/// A delivery that no longer stands where the fit of its discipline puts it: why, and the fit that would.
struct MovedPlace {
    DeliveryId delivery = 0;
    std::string title;                      ///< of the model that is off most: "Structure P03"
    bool isReference = false;               ///< everything else would stand elsewhere
    std::string standing;                   ///< how it stands with the fit in force, as part of a sentence
    std::vector<coordinates::Cause> causes; ///< the surest first
    StoredFit inForce;
    Metres worst; ///< what the fit in force leaves; 0 where no grid is shared
    /// To be locked; nothing where none is found. Never one that puts more crossings and storeys farther off than
    /// nearer.
    std::optional<StoredFit> proposed;
};

/// Whether a delivery stands as the one before it did. Only what stood right, or what somebody fitted or accepted as it
/// stood, can have moved.
/// @param before    members of the discipline as they are in use, with their fits
/// @param after     those of the delivery, with the fit in force for it
/// @param reference the reference beside them, or the one in use where the delivery is the reference's
/// @param limit      what stands off by less stands right
/// @return nothing where it stands as before
[[nodiscard]] std::optional<MovedPlace> whyMoved(std::span<const federation::Member> before,
                                                 std::span<const federation::Member> after,
                                                 const federation::Member& reference, const StoredFit& inForce,
                                                 Metres limit);

} // namespace wendrix::project
