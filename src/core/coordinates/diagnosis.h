#pragma once

#include "core/base/box3.h"
#include "core/coordinates/alignment.h"

#include <map>
#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace wendrix::coordinates {

/// Why a member does not stand on the reference.
enum class CauseKind {
    OwnOrigin, ///< a shift with no other reason
    Turned,
    NorthReversed, ///< turned by twice the declared true north, or by it the wrong way
    UnitFactor,    ///< its lengths are to be multiplied by a factor
    UsSurveyFoot,  ///< feet of one kind read as the other
    AxesSwapped,   ///< eastings and northings changed places
    HeightOffset,
    StoreyOffset,
    Mirrored,
    ConversionMissing, ///< it has no map conversion where the reference has one
    ConversionTwice,   ///< map coordinates already, and a map conversion that moves them again
    CrsDiffers,
    OriginMoved,   ///< against the revision before
    FarFromOrigin, ///< its geometry lies over 10 km from its own origin
    GridDiffers    ///< an axis or more stands elsewhere although the rest fits
};

/// As data and reports name it: "own-origin".
[[nodiscard]] const char* nameOf(CauseKind kind);

struct Cause {
    CauseKind kind = CauseKind::OwnOrigin;
    double confidence = 0; ///< 0 to 1; from kLikelyEnough on it is told as what it is
    std::string sentence;  ///< what was found, in plain words
    std::string remedy;    ///< what to do, and whose turn it is
    /// Metres, degrees, factors, names. Metres and storeys say how far the member stands too far along the axis.
    std::map<std::string, std::variant<double, std::string>> measure;
};

inline constexpr double kLikelyEnough = 0.5; ///< a cause below is guessed beside a better one

struct Diagnosis {
    /// The two meet in their own coordinates, or where their declarations put them.
    bool isAligned = false;
    std::vector<Cause> causes; ///< the surest first; empty where it is aligned
    /// What the two map conversions say against each other although the bodies meet in their own coordinates: the
    /// member stands right until somebody federates by declaration.
    std::vector<Cause> contradictions;
    /// What brings the member onto the reference, where that can be told; a mirrored one can not be fitted.
    std::optional<Alignment> fit;
};

/// What is known of a member beside its file.
struct Facts {
    const ifc::Model& model;
    Box3 bounds; ///< of its geometry, metres, file frame; empty where it was not built
};

/// Tests hypotheses, alone and together, against the crossings, storeys, declarations and extents of two members. Under
/// a second for grids of 60 x 60.
/// @param previous  the revision before of the moving member, or null
[[nodiscard]] Diagnosis diagnose(const Facts& reference, const Facts& moving, const ifc::Model* previous = nullptr);

} // namespace wendrix::coordinates
