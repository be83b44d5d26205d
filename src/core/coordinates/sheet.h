#pragma once

#include "core/coordinates/declared.h"
#include "core/federation/grid_fit.h"

#include <string>
#include <vector>

namespace wendrix::coordinates {

/// What a team needs to mend its export, on one page: why its model stands wrong, by how much, and the values to type
/// in.
struct Sheet {
    std::string project, reference, member; ///< "Architecture P01"
    std::string person, time;
    const ifc::Model* referenceModel = nullptr;
    const ifc::Model* memberModel = nullptr;
    std::vector<Cause> causes;
    federation::Fit fit;    ///< that brings it onto the reference
    std::string method;     ///< "by grids"
    std::vector<Left> left; ///< with the fit
    std::vector<Declared> declared;
};

/// The reference's grid as an SVG with what is left at each crossing as a dot, the larger the farther off; the worst
/// three are written out. Empty where the reference has no grid.
[[nodiscard]] std::string planSvg(const Sheet& sheet);

/// One page that needs nothing beside it; all text from models is escaped.
/// @param planImage  what the page shows for the plan, as an img's source; empty: the SVG itself
[[nodiscard]] std::string toHtml(const Sheet& sheet, const std::string& planImage = {});

} // namespace wendrix::coordinates
