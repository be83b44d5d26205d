#pragma once

#include "core/base/result.h"
#include "core/federation/plan_fit.h"
#include "core/ifc/grid.h"

#include <string>
#include <vector>

namespace wendrix::coordinates {

inline constexpr ErrorCode kNoPattern{"fit.no-pattern"};
inline constexpr ErrorCode kAmbiguousPattern{"fit.ambiguous-pattern"};

/// An axis of one member that lies on an axis of the other.
struct AxisPair {
    std::string moving, reference; ///< their tags
};

/// A crossing that both grids have, whatever it is called in either.
struct PatternCrossing {
    std::string name;         ///< in the reference: "C/4"
    std::string inMoving;     ///< what the moving member calls it
    federation::PlacePair at; ///< heights 0
};

/// An axis that stands elsewhere although the rest fits.
struct StrayAxis {
    std::string moving, reference;
    Metres off; ///< along the reference's normal, moving less reference
};

/// How one grid lies on another by the distances between their axes alone.
struct GridPattern {
    Radians rotation;        ///< takes the moving frame's plan to the reference's
    Vector3 translation;     ///< z is 0
    std::size_t matched = 0; ///< axes
    std::vector<AxisPair> axes;
    std::vector<PatternCrossing> crossings;
    std::vector<StrayAxis> stray;
    std::vector<std::string> warnings; ///< whole sentences
};

/// Finds the turn and shift under which most axes of two members' grids coincide, straight ones by their spacing, those
/// around a centre by radius and angle. Names are not looked at. Axes that one member lacks, or that stand elsewhere,
/// do not disturb it as long as the rest tells one place from all others.
///
/// Each pair of directions gives a turn (both ways round); under it the shift along a direction is the one that most
/// differences of offsets share. O(r m log(r m)) of the axes in a direction, for each pair of directions.
/// @return kNoPattern where too few axes coincide anywhere; kAmbiguousPattern where several places are as good, with
///         what they are
[[nodiscard]] Result<GridPattern> matchPattern(const std::vector<ifc::Grid>& reference,
                                               const std::vector<ifc::Grid>& moving);

/// The shift that most differences b - a share, for two lists of numbers in any order; the best few, the best first.
struct Shift {
    double by = 0;
    std::size_t shared = 0;
    std::vector<std::pair<std::size_t, std::size_t>> pairs; ///< indices into a and b
};
[[nodiscard]] std::vector<Shift> bestShifts(const std::vector<double>& a, const std::vector<double>& b,
                                            double tolerance, std::size_t most);

} // namespace wendrix::coordinates
