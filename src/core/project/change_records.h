#pragma once

#include "core/project/workspace.h"

/// What comparing two models found, as the project keeps it.
namespace wendrix::project {

/// One record of every element that changed; one of all parts of what was cut up or joined. Without `alike`.
[[nodiscard]] std::vector<ChangeRecord> recordsOf(const changes::Comparison& comparison,
                                                  const federation::Member& before, const federation::Member& after,
                                                  const ComparisonOrder& order);

/// Gives records to which the same happened the same number: moved by one vector and turn, one type reshaped alike or
/// given the same values, elements of one type added or removed in one storey. Shifts that are apart by no more than
/// half a millimetre are the same.
void markAlike(std::vector<ChangeRecord>& records);

} // namespace wendrix::project
