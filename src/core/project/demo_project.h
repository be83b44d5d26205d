#pragma once

#include "core/base/progress.h"
#include "core/project/project.h"

namespace wendrix::project {

/// Makes a project from a folder of sample deliveries (its demo.json names them): disciplines, tests, and the
/// first cycle's deliveries received and taken in, unaligned as they came.
[[nodiscard]] Result<std::unique_ptr<Project>> makeDemoProject(const std::filesystem::path& demoData,
                                                               const std::filesystem::path& folder, Progress& progress);

/// Takes over the sample list of issues as it was sent to the teams, one of them taken up since; what one of the teams
/// sent back lies beside the deliveries, to be compared with it.
[[nodiscard]] Result<void> receiveDemoIssues(Project& project, const std::filesystem::path& demoData,
                                             Progress& progress);

/// Receives the sample deliveries of one cycle; they wait to be taken in.
[[nodiscard]] Result<void> receiveDemoCycle(Project& project, const std::filesystem::path& demoData, int cycle,
                                            Progress& progress);

} // namespace wendrix::project
