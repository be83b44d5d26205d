#pragma once

#include "core/checks/ids.h"
#include "core/ifc/model.h"

namespace wendrix::checks {

/// An entity that a requirement speaks of.
struct Concerned {
    ifc::EntityId entity = 0;
    std::string className, name, guid; ///< guid is empty for what has none
    std::string why;                   ///< one sentence: what is missing or wrong
};

enum class Verdict { Met, Unmet, NotForThisSchema };

struct SpecificationResult {
    std::string name, identifier, description, instructions;
    Verdict verdict = Verdict::Met;
    std::size_t applicable = 0; ///< entities it speaks of
    std::vector<Concerned> failed;
    std::string why; ///< where it fails as a whole: none or too many applicable
};

/// Checks a model against all specifications of an IDS, in their order.
///
/// Follows IDS 1.0: a class is meant without its subclasses; numbers are compared in SI; a property of an element goes
/// before that of its type, and so does a classification in the same system; what is empty counts as missing; an
/// attribute that is derived or inverse never satisfies. Without an entity facet every object, type and material is
/// asked.
/// @return step::kCancelled, or the results
[[nodiscard]] Result<std::vector<SpecificationResult>> checkIds(const Ids& ids, const ifc::Model& model,
                                                                Progress& progress);

} // namespace wendrix::checks
