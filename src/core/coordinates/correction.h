#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/federation/fit.h"
#include "core/ifc/model.h"

#include <filesystem>
#include <string>
#include <vector>

namespace wendrix::coordinates {

inline constexpr ErrorCode kNotCorrectable{"correction.impossible"};

struct Correction {
    std::size_t placements = 0;        ///< at the root, that were turned and shifted
    std::vector<std::string> warnings; ///< whole sentences: what could not be written as the reference has it
};

/// Writes the moving member's file with a fit written into it: its own coordinates then coincide with the reference's,
/// and its georeference says what the reference's says.
///
/// The placements that stand under no other are turned and shifted; a product with a shape and no placement gets one. A
/// scale goes into the length unit. The map conversion becomes the reference's (before IFC4 by property sets,
/// buildingSMART, User Guide for Geo-referencing in IFC, 2020), as do the site's latitude, longitude and elevation and
/// true north. Whatever has nothing to do with place or georeference keeps its bytes. Streaming: O(bytes), no more
/// memory than what is added.
/// @return kNotCorrectable where its units or placements can not be found, or what Patch::write gives
[[nodiscard]] Result<Correction> writeCorrected(const ifc::Model& reference, const ifc::Model& moving,
                                                const federation::Fit& fit, const std::filesystem::path& target,
                                                Progress& progress);

} // namespace wendrix::coordinates
