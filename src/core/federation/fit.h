#pragma once

#include "core/base/quantity.h"
#include "core/base/transform.h"

namespace wendrix::federation {

/// What brings a member onto the reference: first the scale, then the turn about +Z, then the shift.
/// From the member's file frame to the reference member's, metres.
struct Fit {
    double scale = 1;
    Radians rotation; ///< counter-clockwise seen from above
    Vector3 translation;

    friend bool operator==(const Fit&, const Fit&) = default;
    [[nodiscard]] Transform transform() const
    {
        Transform t = Transform::rotationZ(rotation) * Transform::scaling(scale);
        t.origin = translation;
        return t;
    }
};

} // namespace wendrix::federation
