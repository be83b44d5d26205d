#pragma once

#include "core/federation/member.h"

#include <algorithm>

/// Two revisions laid on each other where the fits in force put them: in the file frame of the later one.
namespace wendrix::changes {

/// From the file frame of the revision before to that of the one after.
[[nodiscard]] inline Transform frameBetween(const federation::Member& before, const federation::Member& after)
{
    return before.fit == after.fit ? Transform{} : after.fit.transform().inverse() * before.fit.transform();
}

/// A body of the revision before, as it lies in the frame of the one after.
[[nodiscard]] inline geometry::Mesh bodyBefore(const federation::Member& before, ifc::ElementIndex was,
                                               const federation::Member& after)
{
    geometry::Mesh body = before.geometry->meshOf(was);
    return before.fit == after.fit ? body : geometry::transformed(body, frameBetween(before, after));
}

/// Whether two bodies are written the same to the last bit, and stand at the same place: most do, and then nothing has
/// to be laid on anything.
[[nodiscard]] inline bool isWrittenTheSame(const federation::Member& before, ifc::ElementIndex was,
                                           const federation::Member& after, ifc::ElementIndex now)
{
    return before.fit == after.fit && before.geometry->digestOf(was) == after.geometry->digestOf(now);
}

/// What two boxes share of what they fill together, 0 to 1.
[[nodiscard]] inline double sharedPart(const Box3& a, const Box3& b)
{
    constexpr double kThin = 1e-3; // metres: flat boxes have no volume
    double both = 1, one = 1, other = 1;
    for (int axis = 0; axis < 3; ++axis) {
        both *= std::max(std::min(a.max[axis], b.max[axis]) - std::max(a.min[axis], b.min[axis]) + kThin, 0.0);
        one *= a.max[axis] - a.min[axis] + kThin;
        other *= b.max[axis] - b.min[axis] + kThin;
    }
    return both / (one + other - both);
}

} // namespace wendrix::changes
