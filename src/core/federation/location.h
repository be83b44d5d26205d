#pragma once

#include "core/ifc/model.h"

#include <string>
#include <vector>

namespace wendrix::federation {

/// Where something is in words used on site.
struct Location {
    std::string storey; ///< "Level 2"; empty below or without any storey
    std::string bay;    ///< "C-D / 4"; empty without a grid
    [[nodiscard]] std::string inWords() const { return storey + (storey.empty() || bay.empty() ? "" : " · ") + bay; }
};

/// Names places by the reference member's storeys and grid, in its frame.
class Locator {
public:
    explicit Locator(const ifc::Model& reference);
    [[nodiscard]] Location at(Point3 place) const;
    /// Index into the reference's storeys of the highest one that is not above `height`;
    /// kNoStorey under all of them.
    [[nodiscard]] ifc::StoreyIndex storeyAt(Metres height) const;

private:
    struct Line {
        std::string tag;
        Point2 at;
        Vector2 normal; ///< unit
    };
    std::vector<ifc::Storey> storeys_;
    std::vector<std::vector<Line>> families_; ///< letters first, each sorted along its normal
};

} // namespace wendrix::federation
