#pragma once

#include "core/sets/language.h"

#include <string_view>

/// What relations of the language mean, for whoever asks them of something else than elements.
namespace wendrix::sets {

/// Of Equal to AtLeast.
[[nodiscard]] inline bool compares(double value, Relation relation, double with)
{
    switch (relation) {
    case Relation::Equal:
        return value == with;
    case Relation::Unequal:
        return value != with;
    case Relation::Less:
        return value < with;
    case Relation::AtMost:
        return value <= with;
    case Relation::More:
        return value > with;
    default:
        return value >= with;
    }
}

/// Of Is (and, to be turned round, IsNot), Has and StartsWith; both folded.
[[nodiscard]] inline bool matches(std::string_view value, Relation relation, std::string_view wanted)
{
    return relation == Relation::Has          ? value.find(wanted) != std::string_view::npos
           : relation == Relation::StartsWith ? value.starts_with(wanted)
                                              : value == wanted;
}

} // namespace wendrix::sets
