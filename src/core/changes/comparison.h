#pragma once

#include "core/base/progress.h"
#include "core/federation/member.h"

#include <string>
#include <vector>

namespace wendrix::changes {

inline constexpr ErrorCode kCancelled{"changes.cancelled"};

/// One property or attribute that reads differently.
struct FieldChange {
    std::string set; ///< the property set's name; empty for the element's own attributes
    std::string name;
    std::string before, after; ///< with unit; empty where it was not there
};

/// One element that is in both revisions and not the same in both.
struct Change {
    ifc::ElementIndex before = 0, after = 0;
    bool isReshaped = false, isMoved = false, isRedescribed = false;
    Vector3 shift;                             ///< metres, file frame; of a moved element
    double addedVolume = 0, removedVolume = 0; ///< m³; of a reshaped closed element
    std::vector<FieldChange> fields;
};

/// One element whose GlobalId was renewed while its class, shape and place stayed.
struct Rekeyed {
    ifc::ElementIndex before = 0, after = 0;
};

struct Comparison {
    std::vector<ifc::ElementIndex> added;   ///< of the newer revision
    std::vector<ifc::ElementIndex> removed; ///< of the older one
    std::vector<Change> changed;            ///< in the newer revision's order
    std::vector<Rekeyed> rekeyed;
    std::size_t unchanged = 0;
};

struct CompareOptions {
    double tolerance = 0.001; ///< metres: surfaces nearer than this everywhere are the same
};

/// Compares two revisions of one member where the fits in force put them, matched by GlobalId, then by class, shape and
/// place. Shifts are in the file frame of the later one. How a shape is written does not matter, only where its surface
/// lies.
/// @return kCancelled or the comparison; the same at any thread count.
[[nodiscard]] Result<Comparison> compare(const federation::Member& before, const federation::Member& after,
                                         const CompareOptions& options, Progress& progress);

/// Two elements that are known to be the same thing, as where it went from one model of a delivery to another.
[[nodiscard]] Change compareElements(const federation::Member& before, ifc::ElementIndex was,
                                     const federation::Member& after, ifc::ElementIndex now,
                                     const CompareOptions& options);

} // namespace wendrix::changes
