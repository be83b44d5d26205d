#pragma once

#include "core/base/progress.h"
#include "core/changes/extents.h"
#include "core/changes/fields.h"
#include "core/changes/motion.h"
#include "core/changes/rule.h"
#include "core/changes/split_merge.h"
#include "core/federation/member.h"
#include "core/sets/elements.h"

#include <string>
#include <vector>

namespace wendrix::changes {

inline constexpr ErrorCode kCancelled{"changes.cancelled"};

/// One element that is in both revisions and not the same in both.
struct Change {
    ifc::ElementIndex before = 0, after = 0;
    bool isReshaped = false, isMoved = false, isRedescribed = false;
    Motion motion;                            ///< file frame of the later revision; of a moved element
    std::string extents;                      ///< "120 mm narrower, 300 mm longer"; of a reshaped one
    double volumeBefore = 0, volumeAfter = 0; ///< m³, of a reshaped one; 0 where a body has no inside
    double areaBefore = 0, areaAfter = 0;     ///< m²
    std::vector<FieldChange> fields;

    [[nodiscard]] bool isAny() const { return isReshaped || isMoved || isRedescribed; }
};

struct Comparison {
    std::vector<ifc::ElementIndex> added;   ///< of the newer revision
    std::vector<ifc::ElementIndex> removed; ///< of the older one
    std::vector<Change> changed;            ///< in the newer revision's order, renewed ones too
    std::vector<Rekeyed> rekeyed;           ///< changed or not
    std::vector<Split> splits;              ///< neither added nor removed
    std::vector<Merge> merges;
    std::size_t unchanged = 0; ///< with the GlobalId they had
    std::size_t leftOut = 0;   ///< of the newer revision, that the rule says do not count
};

/// Compares two revisions of one member where the fits in force put them: matched by GlobalId, then as renewedIds() and
/// splitsAndMerges() do. Motions are in the file frame of the later one. How a shape is written does not matter, only
/// where its surface lies. What both say the same to the last bit is told by digests and never looked at.
/// @param knowledge  for sets that the rule's line of elements names
/// @return kCancelled or the comparison; the same at any thread count.
[[nodiscard]] Result<Comparison> compare(const federation::Member& before, const federation::Member& after,
                                         const ChangeRule& rule, Progress& progress,
                                         const sets::Knowledge& knowledge = {});

/// Two elements that are known to be the same thing, as where it went from one model of a delivery to another.
[[nodiscard]] Change compareElements(const federation::Member& before, ifc::ElementIndex was,
                                     const federation::Member& after, ifc::ElementIndex now, const ChangeRule& rule);

} // namespace wendrix::changes
