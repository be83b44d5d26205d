#pragma once

#include "core/federation/member.h"

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

} // namespace wendrix::changes
