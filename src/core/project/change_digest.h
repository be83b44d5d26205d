#pragma once

#include "core/project/change_context.h"
#include "core/project/change_list.h"

/// What the changes of a delivery mean for one discipline, on a page that is read in two minutes.
namespace wendrix::project {

struct ChangeDigest {
    /// A row of the list, and why it concerns the discipline.
    struct Line {
        std::string title, measure, where;
        std::size_t count = 1;
        std::vector<std::string> why; ///< "2 new clashes with its elements", "40 mm from Beam B-12", ...
        std::size_t caused = 0, cured = 0;
        double weight = 0; ///< what comes first
    };
    std::string project, discipline; ///< whom it is for
    std::vector<std::string> compared;
    double distance = 0; ///< metres: what is near
    std::vector<Line> lines;
    std::size_t changes = 0, concerning = 0; ///< of all, and of those that concern it
    std::size_t caused = 0, cured = 0;       ///< clashes with its elements
    std::vector<std::string> leftBehind;     ///< holes and supports of its own that lost what they were for
    std::vector<std::string> issues;         ///< that are assigned to its company or people and that changes touch
    WhoAndWhen by;

    static constexpr std::size_t kMostLines = 25; ///< more is not read in two minutes
    std::size_t linesLeftOut = 0;
};

/// Changes of all members that are near the discipline's elements, caused or cured clashes with them, left its holes or
/// supports, or touch issues that are for it; the heaviest first. Its own changes concern it where they do so to
/// others.
[[nodiscard]] Result<ChangeDigest> digestFor(const Project& project, const ChangeList& list,
                                             const std::string& discipline, const Surroundings& surroundings,
                                             double distance, const WhoAndWhen& by, Progress& progress);

/// One HTML page that needs nothing beside it; all text from models is escaped.
[[nodiscard]] std::string toHtml(const ChangeDigest& digest);

} // namespace wendrix::project
