#pragma once

#include "core/base/result.h"
#include "core/federation/fit.h"
#include "core/federation/plan_fit.h"
#include "core/ifc/model.h"

#include <span>
#include <string>
#include <vector>

namespace wendrix::coordinates {

inline constexpr ErrorCode kNotDeclared{"fit.not-declared"};
inline constexpr ErrorCode kNoSharedStorey{"fit.no-shared-storey"};

/// What is left between the reference and the fitted member at one place.
struct Left {
    std::string at; ///< "C/4", "Level 2", "point 3"
    Metres distance;
};

/// A way to bring a member onto the reference, with what it leaves.
struct Alignment {
    federation::Fit fit;
    Metres rms;                        ///< of what is left
    std::vector<Left> left;            ///< empty: there is nothing in common to check it by
    std::vector<std::string> warnings; ///< whole sentences
    bool isDoubtful = false;           ///< never to be proposed; a warning says why
};

/// By what both files declare: map conversions, from one projected system to another where they differ; else
/// latitude, longitude, elevation and true north of their sites.
/// Source: ISO 16739-1, IfcMapConversion; between systems PROJ, whose turn and scale are fitted at the corners of a
/// square of 200 m about the moving member's grid or storeys.
/// @return kNotDeclared, or what CrsTransform gives
[[nodiscard]] Result<Alignment> alignByGeoreference(const ifc::Model& reference, const ifc::Model& moving);

/// The fit that two map conversions tell, which both have to be there.
/// @param middle  of the building, in the moving member's file frame: where the two systems are held against each other
/// @return kUnknownCrs, kNoWayBetween, kNotDeclared
[[nodiscard]] Result<federation::Fit> alignByConversions(const ifc::Georeference& reference,
                                                         const ifc::Georeference& moving, Point3 middle);

/// By grid crossings of the same name, heights by storeys. @return what fitByGrids gives
[[nodiscard]] Result<Alignment> alignByGrids(const ifc::Model& reference, const ifc::Model& moving);

/// By the spacing of the axes, whatever they are called; heights by storeys.
/// @return kNoPattern, kAmbiguousPattern
[[nodiscard]] Result<Alignment> alignByPattern(const ifc::Model& reference, const ifc::Model& moving);

/// Heights only: storeys of the same name, else those whose heights are spaced alike.
/// @return kNoSharedStorey
[[nodiscard]] Result<Alignment> alignByStoreys(const ifc::Model& reference, const ifc::Model& moving);

/// By picked places: one moves, two move and turn, three or more are least squares; heights by their mean.
/// @param scale  free: from two places on, the scale is found too
/// @return kTooFewPlaces, kPlacesCoincide
[[nodiscard]] Result<Alignment> alignByPoints(std::span<const federation::PlacePair> places, federation::Scale scale);

/// By numbers; what it leaves at crossings and storeys that both have.
[[nodiscard]] Alignment alignByValues(const ifc::Model& reference, const ifc::Model& moving,
                                      const federation::Fit& fit);

/// What a fit leaves at every crossing of the same name and every storey of the same name.
[[nodiscard]] std::vector<Left> leftAt(const ifc::Model& reference, const ifc::Model& moving,
                                       const federation::Fit& fit);

/// How much higher the reference's storeys are than the moving member's, scaled: those of the same name, else those
/// spaced alike. Nothing where neither can be told.
struct StoreyShift {
    Metres by;
    std::vector<std::pair<std::size_t, std::size_t>> pairs; ///< into the moving member's storeys and the reference's
    bool isByName = true;
};
[[nodiscard]] std::optional<StoreyShift> storeyShift(const ifc::Model& reference, const ifc::Model& moving,
                                                     double scale = 1);

} // namespace wendrix::coordinates
