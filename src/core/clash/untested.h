#pragma once

#include "core/federation/member.h"

#include <string>
#include <vector>

namespace wendrix::clash {

/// An element that somebody builds and that no test can look at.
struct NotTestable {
    std::string guid, name, why;
};

/// All of a member, in the file's order: those whose body could not be built, and those that have none in the file nor
/// parts with one. Classes that are left out of a member are not looked at.
[[nodiscard]] std::vector<NotTestable> notTestable(const federation::Member& member);

} // namespace wendrix::clash
