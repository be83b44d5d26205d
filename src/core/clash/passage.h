#pragma once

#include "core/clash/engine.h"
#include "core/clash/oriented_box.h"
#include "core/geometry/mesh.h"

namespace wendrix::clash {

/// A hole of a wall, slab or beam, provided for by another team or cut out already, that is near to what passes.
struct NearHole {
    std::uint32_t member = 0;                 ///< whose it is
    std::optional<ifc::ElementIndex> element; ///< a provided hole that is an element; else an opening of the host
    std::string name;
    OrientedBox box; ///< its axes are those of the passage, federation frame
    /// From its middle to the middle of what passes, across and along the height of the passage, metres.
    double across = 0, along = 0;
    /// How much wider and higher it would have to be, were it in the right place; 0: it is large enough. Metres.
    double tooNarrow = 0, tooLow = 0;
    [[nodiscard]] Vector3 shift() const { return across * box.axes[0] + along * box.axes[1]; }
};

/// Where something passes through a wall, a slab or a beam.
struct Passage {
    /// What passes, tight, federation frame. Axes: 0 across and level, 1 the height (of a slab level too), 2 the way
    /// through.
    OrientedBox needed;
    Part host;
    std::optional<NearHole> hole;         ///< the nearest one that nothing else uses, and no farther than kReach
    static constexpr double kReach = 1.0; ///< metres between the two, in the face of the host
};

/// Where one of two elements passes through the other: a part of a run (IfcDistributionElement) through a wall, slab,
/// roof, beam, footing or plate, within its face and not along it.
/// @param members  what the parts refer to; holes of all of them are looked for
/// @param shared   what the two share, about `origin`
/// @return nothing where they are not such two, or the one runs within the other
[[nodiscard]] std::optional<Passage> passageOf(std::span<const federation::Member> members, Part left, Part right,
                                               const geometry::Mesh& shared, Point3 origin);

/// "no hole is provided near by; 620 x 370 mm pass through", "provided hole PH-3 is 210 mm beside and 45 mm below what
/// passes, and 60 mm too narrow".
[[nodiscard]] std::string inWords(const Passage& passage);

} // namespace wendrix::clash
