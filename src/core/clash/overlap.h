#pragma once

#include "core/geometry/triangle_tree.h"

#include <optional>

namespace wendrix::clash {

/// The part of space that two bodies share.
struct Overlap {
    /// How much material is in both, metres: the width of the shared part (of its deepest connected piece),
    /// but no more than twice what one surface comes into the other.
    double depth = 0;
    Point3 point;               ///< the middle of that piece
    bool isApproximate = false; ///< one body is open, so only the crossing surfaces could be measured
};

/// Whether two bodies share more than `tolerance` metres, and where. Touching, even along whole faces, is
/// no overlap.
///
/// Crossings of edges with faces and corners inside the other body bound the overlap from outside; if their
/// hull is thinner than the tolerance the answer is no. Otherwise the shared solid is built exactly and
/// measured.
[[nodiscard]] std::optional<Overlap> overlapOf(const geometry::TriangleTree& a, const geometry::TriangleTree& b,
                                               double tolerance);

} // namespace wendrix::clash
