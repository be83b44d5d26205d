#pragma once

#include "core/coordinates/alignment.h"

#include <optional>
#include <string>
#include <vector>

namespace wendrix::coordinates {

/// A grid crossing that both members have, in plan.
struct Crossing {
    std::string first, second; ///< the reference's tags
    Point3 moving, reference;
};

/// How the moving member's plan relates to the reference's: mirrored or not, then scaled, turned and shifted.
struct Relation {
    bool isMirrored = false; ///< x changed its sign first
    double scale = 1;
    Radians turn;
    Vector2 shift;
    double worst = 0;                    ///< metres left at what was kept
    std::vector<Crossing> kept, dropped; ///< dropped: what stands elsewhere although the rest fits

    [[nodiscard]] Point3 apply(Point3 p) const;
};

/// The crossings that two members share by name, or, where those do not lie on each other under any turn, shift, scale
/// and mirroring, by their pattern. Empty where neither tells.
[[nodiscard]] std::vector<Crossing> sharedCrossings(const ifc::Model& reference, const ifc::Model& moving);

/// The relation that most crossings share; those off by more than 10 mm and three times the median are dropped.
/// @return nothing for fewer than three places, or where less than half of them agree to 50 mm
[[nodiscard]] std::optional<Relation> relationOf(const std::vector<Crossing>& crossings);

/// Known ratios of units that are taken for each other: metres, millimetres, feet, inches.
inline constexpr double kUnitFactors[] = {0.001,  1000,       0.01,   100,        0.1,   10,
                                          0.3048, 1 / 0.3048, 0.0254, 1 / 0.0254, 12,    1.0 / 12,
                                          0.9144, 1 / 0.9144, 25.4,   1 / 25.4,   304.8, 1 / 304.8};

} // namespace wendrix::coordinates
