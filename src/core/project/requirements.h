#pragma once

#include "core/project/inside.h"

/// Issues that were made of findings: whether deliveries meet what they want.
namespace wendrix::project {

/// What a finding, or a specification that is not met, is called from delivery to delivery.
[[nodiscard]] std::string ruleOf(const checks::Finding& finding);
[[nodiscard]] std::string ruleOf(const checks::QualityReport::OfIds& ids, const checks::SpecificationResult& result);

/// What a delivery is to be asked; taken from the project, then worked on in any thread.
struct RequirementsOrder {
    InsideOrder inside;
    struct Asked {
        std::string issue, rule;
        std::set<std::string> elements; ///< GlobalIds of those the issue is about
        bool isOfItsOwn = false;        ///< only they have to meet it
    };
    std::vector<Asked> asked;
};
/// @return nothing where no issue wants anything of the delivery's discipline; what was found in a later one that is
///         not taken in yet is not asked of it
[[nodiscard]] Result<std::optional<RequirementsOrder>> requirementsOrderOf(const Project& project,
                                                                           const Delivery& delivery);

/// Reads what is not there, and checks the delivery's models.
[[nodiscard]] Result<issues::RequirementsMet> checkRequirements(const RequirementsOrder& order, const Workspace& have,
                                                                Progress& progress);
/// What reports of a delivery's models say of what is asked. A rule that no report tells of is met; a specification
/// that was not checked says nothing, and neither does a finding at more than it names, of one it does not name.
[[nodiscard]] issues::RequirementsMet requirementsIn(std::span<const checks::ModelReport> reports,
                                                     const Delivery& delivery,
                                                     std::span<const RequirementsOrder::Asked> asked);
/// Keeps what was found as one step; closed issues whose requirement is not met any more are opened again.
/// @return in words: "2 of 3 requirements are met in Ventilation P03"
[[nodiscard]] Result<std::string> recordRequirements(Project& project, const Delivery& delivery,
                                                     const issues::RequirementsMet& met, const WhoAndWhen& who);

} // namespace wendrix::project
