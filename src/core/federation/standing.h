#pragma once

#include "core/federation/grid_fit.h"
#include "core/federation/member.h"

#include <string>
#include <vector>

namespace wendrix::federation {

inline constexpr Metres kStandsRight{0.005}; ///< residuals up to this are the drawing's, not a fault of the place

/// How a member stands against the reference with the fit it has. Why it stands so, coordinates::diagnose() finds out.
struct Standing {
    enum class Verdict {
        Right,
        NoReferenceGrid, ///< the reference has no grid to verify it by
        NoGrid,          ///< the member has none
        NoSharedGrid,    ///< fewer than two crossings of the same name
        GridOff,         ///< a shared crossing is farther off than the limit
        StoreysOff       ///< the crossings are not, but a storey of the same name is
    };
    Verdict verdict = Verdict::Right;
    std::vector<Residual> residuals; ///< at shared crossings, with the member's present fit
    Metres mean, worst;              ///< of the residuals, in plan
    std::string worstAt;             ///< "C/5"
    Metres height;                   ///< how much too high the storey stands that is farthest off
    std::string storey;              ///< its name; empty where all are off by the same
    std::size_t storeys = 0;         ///< how many both have under one name
    std::size_t storeysOff = 0;      ///< and how many of them are farther off than the limit
    Metres limit = kStandsRight;     ///< that it was held against

    /// Every shared crossing and storey is where the reference has it.
    [[nodiscard]] bool isVerified() const { return verdict == Verdict::Right; }
};

/// Measures how `member` stands on `reference`.
/// @param limit  residuals up to it are the drawing's
[[nodiscard]] Standing standingOf(const ifc::Model& reference, const Member& member, Metres limit = kStandsRight);

/// Why it can not be tested yet, as part of a sentence: "its grid is off by 34.2 m at C/5"; empty where it stands
/// right.
[[nodiscard]] std::string whyNotVerified(const Standing& standing);
/// The whole of it, as part of a sentence: "its Level 08 stands 150 mm too high; the other 14 storeys and all 33
/// crossings fit". What whyNotVerified() gives where there is no more to say.
[[nodiscard]] std::string howItStands(const Standing& standing);

} // namespace wendrix::federation
