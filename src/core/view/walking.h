#pragma once

#include "core/view/picking.h"

namespace wendrix::view {

inline constexpr double kEyeHeightMetres = 1.65;

/// One step through the building: not through anything solid but doors, up steps and kerbs up to 0.6 m, and with
/// gravity down to whatever one then stands on. Where there is no way, the camera comes back as it was.
class Walker {
public:
    /// @param colours  what is not drawn is not in the way
    Walker(Picker& picker, std::span<const federation::Member> members, const Colours& colours);
    /// @param ahead, aside  metres, on the level
    [[nodiscard]] Camera step(const Camera& camera, double ahead, double aside, bool hasGravity) const;
    /// Onto the floor under the eye; as it was where there is none.
    [[nodiscard]] Camera onFloor(const Camera& camera) const;

private:
    [[nodiscard]] std::optional<double> floorUnder(Point3 eye) const;

    Picker& picker_;
    Colours colours_;
    Picker::Filter solid_; ///< without doors
};

} // namespace wendrix::view
