#pragma once

#include "core/base/result.h"
#include "core/federation/fit.h"
#include "core/ifc/model.h"

#include <string>
#include <vector>

namespace wendrix::federation {

/// Where two grid axes of different families cross in plan: "C/4". Letters first.
struct GridCrossing {
    std::string first, second; ///< the tags
    Point3 place;              ///< metres, file frame; the height is the grid's own
    [[nodiscard]] std::string name() const { return first + "/" + second; }
};

/// What is left between the reference and the fitted member at one crossing.
struct Residual {
    std::string first, second; ///< the tags
    Point3 reference;          ///< metres, reference frame
    Point3 fitted;             ///< the moving member's, through the fit
    Metres distance;           ///< in plan
    [[nodiscard]] std::string name() const { return first + "/" + second; }
};

/// The same of a storey's height.
struct StoreyResidual {
    std::string storey;
    Metres difference; ///< fitted less reference
};

struct GridFit {
    Fit fit;
    Metres rms, worst; ///< of the crossings, in plan
    std::vector<Residual> residuals;
    std::vector<StoreyResidual> storeys;
    std::vector<std::string> warnings; ///< whole sentences: outliers, missing tags, storeys that disagree
    bool isDoubtful = false;           ///< most crossings are off by more than a drawing's error; a warning says why
};

inline constexpr ErrorCode kNoGrid{"fit.no-grid"};
inline constexpr ErrorCode kNoSharedGrid{"fit.no-shared-grid"};

/// Crossings of every two named axes of different families, in the order of their tags.
[[nodiscard]] std::vector<GridCrossing> gridCrossings(const std::vector<ifc::Grid>& grids);

/// Residuals of a fit, whoever made it, at every crossing both members have.
[[nodiscard]] std::vector<Residual> residualsOf(const ifc::Model& reference, const ifc::Model& moving, const Fit& fit);

/// The height that most of some differences agree on within 5 mm, as the mean of those that do: one storey that was
/// raised pulls nothing along. Where several heights have as many, the least of them: what stands stays.
/// @param differences  metres, one or more of them
[[nodiscard]] double commonHeight(std::vector<double> differences);

/// Brings `moving` onto `reference` by grid crossings of the same name (least squares in plan) and storeys of
/// the same name (commonHeight(); the grids' own height where no storey is shared).
/// Crossings that stand out by more than 3 times the median and 10 mm are named and left out of the fit. Where most
/// of them do not fit at all, as of a mirrored member, the fit says that it is doubtful, and why.
/// @return the fit, or kNoGrid, kNoSharedGrid or what fitInPlan gives.
[[nodiscard]] Result<GridFit> fitByGrids(const ifc::Model& reference, const ifc::Model& moving);

} // namespace wendrix::federation
