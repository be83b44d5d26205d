#pragma once

#include "core/base/vector3.h"

#include <array>
#include <span>

namespace wendrix::clash {

/// A box that stands as what it holds does: tight around what is long and lies askew.
struct OrientedBox {
    Point3 centre;
    std::array<Vector3, 3> axes{{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}}; ///< of length 1, at right angles
    std::array<double, 3> half{0, 0, 0};

    /// Whether no axis of either shows a gap of more than `margin` metres between the two; true does not say that they
    /// meet.
    [[nodiscard]] bool mayMeet(const OrientedBox& other, double margin) const;
};

/// Along the directions in which points are spread most and least.
[[nodiscard]] OrientedBox orientedBoxOf(std::span<const Point3> points);

} // namespace wendrix::clash
