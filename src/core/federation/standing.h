#pragma once

#include "core/federation/grid_fit.h"
#include "core/federation/member.h"

#include <string>
#include <vector>

namespace wendrix::federation {

/// How a member stands against the reference before or after its fit.
struct Standing {
    std::vector<Residual> residuals; ///< at shared crossings, with the member's present fit
    Metres mean, worst;              ///< of the residuals, in plan
    std::string worstAt;             ///< "C/5"
    std::string likelyCause;         ///< one sentence, empty where it stands right
};

/// Measures and says in words how `member` stands on `reference`.
[[nodiscard]] Standing standingOf(const ifc::Model& reference, const Member& member);

} // namespace wendrix::federation
