#pragma once

#include "core/federation/grid_fit.h"
#include "core/federation/member.h"

#include <string>
#include <vector>

namespace wendrix::federation {

/// Why a member does not stand on the reference, as far as can be told.
enum class CauseKind {
    NoReferenceGrid,   ///< the reference has no grid to verify it by
    NoGrid,            ///< the member has none
    NoSharedGrid,      ///< fewer than two crossings of the same name
    GridsDiffer,       ///< they do not match even when laid over each other; `metres` is what is left at worst
    OwnOrigin,         ///< `metres` away in plan
    Turned,            ///< by `turn`
    HeightOffset,      ///< `metres` too high
    ConversionMissing, ///< the reference says where on the map it is, the member does not
};

enum class Remedy { None, FitByGrids, FitOtherwise, CheckUnit, AskForConversion };

struct Cause {
    CauseKind kind = CauseKind::NoGrid;
    Metres metres;
    Radians turn;
    Remedy remedy = Remedy::None;
    friend bool operator==(const Cause&, const Cause&) = default;
};

inline constexpr Metres kStandsRight{0.005}; ///< residuals up to this are the drawing's, not a fault of the place

/// How a member stands against the reference with the fit it has.
struct Standing {
    std::vector<Residual> residuals; ///< at shared crossings, with the member's present fit
    Metres mean, worst;              ///< of the residuals, in plan
    std::string worstAt;             ///< "C/5"
    std::vector<Cause> causes;       ///< empty where it stands right
    Metres limit = kStandsRight;     ///< that it was held against

    /// Every shared crossing and storey is where the reference has it.
    [[nodiscard]] bool isVerified() const { return causes.empty(); }
};

/// Measures how `member` stands on `reference`, and finds out why where it does not.
/// @param limit  residuals up to it are the drawing's
[[nodiscard]] Standing standingOf(const ifc::Model& reference, const Member& member, Metres limit = kStandsRight);

/// "Exported from an origin of its own and unturned: turned 17.30°, 34.2 m away. Its heights start 400 mm too low."
[[nodiscard]] std::string inWords(const std::vector<Cause>& causes);
/// Why it can not be tested yet, as part of a sentence: "its grids are off by 34.2 m".
[[nodiscard]] std::string whyNotVerified(const Standing& standing);

} // namespace wendrix::federation
