#pragma once

#include "support/change_ledger.h"

#include <functional>
#include <vector>

namespace wendrix::test {

/// Two revisions of a small building, what differs between them, and what is to be said of it.
struct VersionPair {
    std::string name;
    MadeModel before, after;
    Ledger wanted;
    changes::ChangeRule rule = {};
    std::string extents = {}; ///< of the one that was reshaped, where it is checked
};

[[nodiscard]] MadeModel smallBuilding();
[[nodiscard]] std::vector<VersionPair> versionPairs();

} // namespace wendrix::test
