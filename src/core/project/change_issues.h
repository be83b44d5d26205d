#pragma once

#include "core/project/change_list.h"
#include "core/project/project.h"

namespace wendrix::project {

/// An issue that questions changes: what happened to each, for the discipline that made them.
/// @param title    as the list has it
/// @param changes  at least one
/// @param compared "P01 with P02"
[[nodiscard]] issues::Issue draftIssue(const std::string& title, std::span<const ChangeRecord> changes,
                                       const std::string& compared, const Timestamp& now,
                                       const issues::IssueTemplate& with);

/// Questions changes: reviews them so and makes an issue of each part, all as one step.
struct Question {
    issues::Issue issue;
    std::vector<ChangeKey> changes;
};
/// @return the issues' numbers, in this order
[[nodiscard]] Result<std::vector<std::string>> questionChanges(Project& project, std::vector<Question> several,
                                                               const WhoAndWhen& who);

} // namespace wendrix::project
