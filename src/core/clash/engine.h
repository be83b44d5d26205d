#pragma once

#include "core/base/progress.h"
#include "core/federation/member.h"

#include <span>
#include <string>
#include <vector>

namespace wendrix::clash {

inline constexpr ErrorCode kCancelled{"clash.cancelled"};

/// One element that takes part: which member, which element of it.
struct Part {
    std::uint32_t member = 0; ///< index into the members given
    ifc::ElementIndex element = 0;
    friend bool operator==(const Part&, const Part&) = default;
    friend auto operator<=>(const Part&, const Part&) = default;
};

/// Two elements that share space.
struct Clash {
    Part left, right;
    double depth = 0; ///< metres, as overlapOf measures it
    Point3 point;     ///< in the federation's frame
    bool isApproximate = false;
};

struct HardTest {
    double tolerance = 0.001; ///< metres; shared material no thicker than this does not count
};

struct Findings {
    std::vector<Clash> clashes;  ///< sorted by left, then right GlobalId, then by their places in their files
    std::size_t pairsTested = 0; ///< pairs whose bounds came near enough to look at triangles
    double seconds = 0;
};

/// Whether an element takes part in tests: it has a body, and somebody builds it.
[[nodiscard]] bool isTestable(const federation::Member& member, ifc::ElementIndex element);

/// Tests every element of `left` against every one of `right`, in their fitted places, on all cores.
/// Spaces and other volumes nobody builds (IfcSpace, IfcSpatialZone, virtual elements) take no part.
/// @param members  what the indices in the result refer to
/// @param left, right  member indices; the same index on both sides tests a member against itself
/// @return kCancelled or the findings, the same at any thread count.
[[nodiscard]] Result<Findings> findHard(std::span<const federation::Member> members,
                                        std::span<const std::uint32_t> left, std::span<const std::uint32_t> right,
                                        const HardTest& test, Progress& progress);

} // namespace wendrix::clash
