#pragma once

#include "core/clash/separation.h"

namespace wendrix::clash {

/// Below this a depth is rounding, whatever the tolerance: bodies that touch are not told from it. Metres.
inline constexpr double kLeastDepth = 1e-6;

/// The part of space that two bodies share.
struct Overlap {
    /// The least translation of one that separates it from the other, in metres. Between two convex bodies, of
    /// however many faces, it is exact but for rounding (looked for thoroughly, where they are round). Otherwise it is
    /// found along the faces that meet and along the axes, so it does separate, and nothing proves that no other
    /// direction takes less: a bound from above. Where what lies deepest says the same from below, it is exact again.
    double depth = 0;
    Point3 point; ///< in both bodies, or on both surfaces; in the middle of what they share where it can be
    bool isApproximate = false; ///< the depth is only known not to be more than this
    bool isBrief = false;       ///< depth and place would be better if they were looked for thoroughly
    bool isOpen = false;        ///< a body has no inside, so that only crossing surfaces count
};

/// Whether two bodies share space that is not freed by moving by `tolerance` metres; touching and grazing do not count.
///
/// Convex parts are separated along their faces and edges. Others clash where two triangles cross that take more than
/// the tolerance to come free of each other, where a corner or the middle of one's material lies deeper than that
/// inside the other, or where one is wholly inside the other. A surface that winds around the other and comes nowhere
/// deeper than the tolerance, as the lining of a hole does, only touches it.
/// Whether it is a clash is looked for to the end: of bodies that graze each other every crossing and every corner.
/// @param effort  for the depth of what is not convex; whether it is a clash does not depend on it
[[nodiscard]] std::optional<Overlap> overlapOf(const Body& a, const Body& b, double tolerance,
                                               Effort effort = Effort::Thorough);

} // namespace wendrix::clash
