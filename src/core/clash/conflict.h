#pragma once

#include "core/clash/passage.h"

namespace wendrix::clash {

/// What there is to be seen of two elements that clash, beside themselves. Federation frame, metres.
struct Conflict {
    Point3 origin;         ///< that the body is about
    geometry::Mesh shared; ///< the space both take; empty where there is none, or it can not be told
    bool isTold = true;    ///< else one of the two is open, or has too many faces, and what they share is not known
    std::optional<std::array<Point3, 2>> gap; ///< where the two are nearest, left to right; of clearances
    std::optional<Passage> passage;

    /// More triangles than this in both are not cut by exact booleans while a person waits.
    static constexpr std::size_t kMostTriangles = 60'000;
};

/// @param point  where the two clash; the rest is told about it
[[nodiscard]] Conflict conflictOf(std::span<const federation::Member> members, Part left, Part right,
                                  const Question& question, Point3 point);

} // namespace wendrix::clash
