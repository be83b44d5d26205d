#pragma once

#include "core/project/project.h"

/// Commands that span several books: taking in a delivery, and recording a run of the tests.
namespace wendrix::project {

/// What taking in a delivery changes, worked out beforehand so that it is recorded at once or not at all.
struct TakeIn {
    DeliveryId delivery = 0;
    std::optional<NewComparison> comparison;   ///< with the delivery in use; nothing for a first one
    std::optional<NewRun> run;                 ///< of the tests on the new composition, where they were run
    std::optional<StoredFit> fit = {};         ///< that it is taken in with, instead of the one in force
    issues::RequirementsMet requirements = {}; ///< what it makes of what issues want to be met
};

/// What was worked out does not hold for what is in use by now, since another window changed that meanwhile.
inline constexpr ErrorCode kCompositionChanged{"project.composition-changed"};

/// What is in force now, in order of the disciplines' names.
[[nodiscard]] Result<std::vector<InForce>> inForce(const Project& project);

/// Makes a delivery the one in use and keeps what changed and what the tests say; closed issues whose clash is back are
/// opened again.
/// @return what its run came to; kUnknown where the delivery is no longer there, kCompositionChanged
[[nodiscard]] Result<RunSummary> takeIn(Project& project, const TakeIn& takeIn, const WhoAndWhen& who);

/// Keeps a run, and opens closed issues again whose clash is back.
/// @return kCompositionChanged where the run was made for another composition; nothing is kept then
[[nodiscard]] Result<RunSummary> recordRun(Project& project, const NewRun& run, const WhoAndWhen& who);

} // namespace wendrix::project
