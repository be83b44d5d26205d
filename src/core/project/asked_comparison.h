#pragma once

#include "core/project/workspace.h"

/// Comparisons that somebody asks for: of any two deliveries of a discipline, of whole compositions, or of what is in
/// use once more under another rule.
namespace wendrix::project {

struct DeliveryPair {
    DeliveryId from = 0, to = 0;
    friend bool operator==(const DeliveryPair&, const DeliveryPair&) = default;
};

/// What has to be read for one; taken from the project, then worked on in any thread.
struct AskedComparison {
    WorkspaceOrder before, after; ///< all models of either delivery, in the fits in force for them
    ComparisonOrder order;
    bool isAsked = true;
};

/// Of each pair; the rule in use is theirs. @return kUnknown where a delivery is not there any more
[[nodiscard]] Result<std::vector<AskedComparison>> askedComparisons(const Project& project,
                                                                    std::span<const DeliveryPair> pairs);
/// Of what is in use with what it replaced, as the comparisons in force are, to take their places.
[[nodiscard]] Result<std::vector<AskedComparison>> comparisonsInForceAnew(const Project& project);

/// Of every discipline the delivery that was in use at the end of one cycle with the one at the end of another, where
/// they are two.
[[nodiscard]] Result<std::vector<DeliveryPair>> betweenCycles(const Project& project, int from, int to);

/// Reads what is not held and compares, one after the other.
/// @return step::kCancelled or changes::kCancelled; kNotSound where a file can not be opened
[[nodiscard]] Result<std::vector<NewComparison>> compareAll(std::span<const AskedComparison> asked,
                                                            const Workspace& have, Progress& progress);

} // namespace wendrix::project
