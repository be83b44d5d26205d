#pragma once

#include "core/base/progress.h"
#include "core/clash/clearance.h"
#include "core/clash/expected.h"
#include "core/clash/identity.h"
#include "core/federation/member.h"

#include <span>
#include <string>
#include <vector>

namespace wendrix::clash {

inline constexpr ErrorCode kCancelled{"clash.cancelled"};

class Memory;

/// One element that takes part: which member, which element of it.
struct Part {
    std::uint32_t member = 0; ///< index into the members given
    ifc::ElementIndex element = 0;
    friend bool operator==(const Part&, const Part&) = default;
    friend auto operator<=>(const Part&, const Part&) = default;
};

/// What is asked of every pair.
struct Question {
    Kind kind = Kind::Hard;
    double tolerance = 0.001; ///< metres: what is freed by moving this far only touches; how far doubles may differ
    double clearance = 0;     ///< metres: the free distance that is wanted
    Direction direction = Direction::Any;
    /// Depths and places of what is not convex are looked for briefly at first. Where that are no more clashes than
    /// so many, they are then looked for thoroughly, as they may be later for the one that a person looks at.
    std::size_t mostThorough = 1'000;
    Meetings ignored = Meetings::none(); ///< expected meetings that are no clash
    /// Metres: pieces of one system may reach so far into each other at an end of one; 0: they may not.
    double joint = 0;
    bool withVolumes = false; ///< the volume that hard clashes share; costs an exact boolean each
};

/// Two elements that do not keep what is asked.
struct Clash {
    Part left, right;
    double depth = 0;             ///< metres: what it takes to separate them, as Overlap says; 0 for clearances
    double distance = 0;          ///< metres: the gap there is, or how far apart two doubles are; 0 for hard clashes
    Point3 point;                 ///< in the federation's frame
    bool isApproximate = false;   ///< the depth is a bound from above
    bool isOpen = false;          ///< one body has no inside: only its surface was tested
    std::optional<double> volume; ///< m³, where it was asked for and both are solids
};

/// A pair that would be a clash, were it not expected.
struct Expected {
    Meeting rule = Meeting::Openings;
    Part left, right;
    friend bool operator==(const Expected&, const Expected&) = default;
    friend auto operator<=>(const Expected&, const Expected&) = default;
};

struct Findings {
    std::vector<Expected> expected; ///< what was left out, in order of rule, then part
    std::vector<Clash> clashes;     ///< sorted by left, then right GlobalId, then by their places in their files
    std::size_t remembered = 0;     ///< of the clashes and expected pairs, those that did not have to be tested again
    std::size_t pairsTested = 0;    ///< pairs whose bounds came near enough to look at what is inside
    double seconds = 0;
    bool isPartial = false; ///< cancelled: what was found by then
};

/// Whether an element takes part in tests: it has a body, and somebody builds it.
[[nodiscard]] bool isTestable(const federation::Member& member, ifc::ElementIndex element);

/// Why an element that somebody builds can not be tested; nothing where it can, or where nobody builds it.
[[nodiscard]] std::optional<std::string> whyNotTestable(const federation::Member& member, ifc::ElementIndex element);

/// Asks of every element of `left` against every one of `right`, in their fitted places, on all cores. Pairs are
/// tested as they are found. Spaces and other volumes nobody builds (IfcSpace, IfcSpatialZone, virtual elements) take
/// no part. Trees over shapes are kept with their member for the next question.
/// @param members      what the indices in the result refer to; provided holes of all of them are known, also of those
/// that take no part
/// @param left, right  what takes part, each once; the same parts on both sides are tested each pair once, and nothing
/// against itself
/// @param memory  what this question found before, and keeps of it: only pairs with an element whose shape or place has
/// changed since are tested again. The findings are those of a full run, but for rounding.
/// @return the findings, the same at any thread count; cancelled, within a fifth of a second, those there are
[[nodiscard]] Findings findClashes(std::span<const federation::Member> members, std::span<const Part> left,
                                   std::span<const Part> right, const Question& question, Progress& progress,
                                   Memory* memory = nullptr);

/// All that takes part of some members.
/// @param which  member indices
[[nodiscard]] std::vector<Part> partsOf(std::span<const federation::Member> members,
                                        std::span<const std::uint32_t> which);

/// What takes part of the members that do, where it is picked.
/// @param doTakePart  by member
/// @param picked      by member and element; not 0: it is
[[nodiscard]] std::vector<Part> partsOf(std::span<const federation::Member> members,
                                        const std::vector<bool>& doTakePart,
                                        const std::vector<std::vector<std::uint8_t>>& picked);

} // namespace wendrix::clash
