#pragma once

#include "core/federation/member.h"

#include <span>
#include <string_view>
#include <vector>

namespace wendrix::changes {

/// One element whose GlobalId was renewed.
struct Rekeyed {
    ifc::ElementIndex before = 0, after = 0;
    double confidence = 1; ///< that they are the same thing, 0 to 1
};

enum class Looking { ForTheSameBody, ForAnyLikeness };

/// Matches elements of two revisions that no GlobalId matches: of one class, by their bodies and places, tags, names
/// and types. Each is matched once, so that all together are as likely as can be; what is less likely than
/// kLeastConfidence is not matched.
///
/// The same body at the same place counts 0.9, a body of the same shape elsewhere the more the nearer it is, another
/// shape by how much of its bounds it shares; a tag or a name that no other of its class has 0.45 and 0.4, one that
/// several share little, the type 0.1; a tag, name or type that is another one counts against it.
/// @param removed,added  the elements without a match, of either revision
/// @param looking  whether only for the same bodies at the same places
/// @return by `after`
[[nodiscard]] std::vector<Rekeyed> renewedIds(const federation::Member& before,
                                              std::span<const ifc::ElementIndex> removed,
                                              const federation::Member& after, std::span<const ifc::ElementIndex> added,
                                              double tolerance, Looking looking);
inline constexpr double kLeastConfidence = 0.6;

/// A class as it is compared: "IfcWallStandardCase" is a wall, as releases differ in which of them they write.
[[nodiscard]] std::string_view plainClass(std::string_view className);

} // namespace wendrix::changes
