#pragma once

#include "core/coordinates/project_place.h"

#include <string>
#include <utility>
#include <vector>

namespace wendrix::coordinates {

/// What a declaration says, name and value, in the order people read it: system, easting, northing, height, turns,
/// latitude, longitude, elevation. "none" where it says nothing.
[[nodiscard]] std::vector<std::pair<std::string, std::string>> saidInWords(const ifc::Georeference& said);

/// Whether every member agrees with the project's coordinates, on one page.
struct PlaceSheet {
    std::string project, from, person, time; ///< from: whose coordinates they are
    ProjectPlace place{{}};
    struct Line {
        std::string member, system;
        Agreement agreement;
        std::string fit; ///< how it is brought onto the reference: "by grids, locked"
    };
    std::vector<Line> members;
};

/// Needs nothing beside it; all text from models is escaped.
[[nodiscard]] std::string toHtml(const PlaceSheet& sheet);

} // namespace wendrix::coordinates
