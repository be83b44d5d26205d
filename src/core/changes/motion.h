#pragma once

#include "core/base/quantity.h"
#include "core/geometry/mesh.h"

#include <optional>
#include <span>

namespace wendrix::changes {

/// How a body was moved without being changed.
struct Motion {
    Vector3 shift; ///< of the middle of its volume, metres
    Radians turn;  ///< about `axis` through that middle; about +Z counter-clockwise seen from above, within (-pi, pi]
    Vector3 axis{0, 0, 1};

    [[nodiscard]] bool isTurned() const { return turn.value != 0; }
};

/// The turn that the linear part of a rigid map is, its axis upwards. Source: O. Rodrigues' formula, read backwards.
[[nodiscard]] Motion motionOf(const Transform& rigid, Point3 middleBefore, Point3 middleAfter);

/// The rigid motion that carries one body onto another, if there is one: a shift alone where that does, else the map of
/// `hints` that does, else the least turn that lays corners on corners.
/// @param hints  maps that are likely, as what became of the element's own frame
/// @param tolerance  metres that the surfaces may then still be apart
[[nodiscard]] std::optional<Motion> motionBetween(const geometry::Mesh& was, const geometry::Mesh& now,
                                                  std::span<const Transform> hints, double tolerance);

} // namespace wendrix::changes
