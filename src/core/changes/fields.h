#pragma once

#include "core/ifc/described.h"

#include <string>
#include <vector>

namespace wendrix::changes {

/// One property or attribute that reads differently.
struct FieldChange {
    std::string set; ///< the property set's name; empty for the element's own attributes
    std::string name;
    std::string before, after; ///< with unit; empty where it was not there
};

/// What reads differently between two descriptions of an element, in the order of set and name. Where one holds a field
/// twice, the first counts.
/// @param number  numbers that differ by less than this part of themselves read the same
[[nodiscard]] std::vector<FieldChange> fieldChanges(const std::vector<ifc::Described>& before,
                                                    const std::vector<ifc::Described>& after, double number);

/// Whether two values are the same but for how their numbers, alone or in a row, were written. Texts that only look
/// like numbers ("01" and "1") are not.
[[nodiscard]] bool isSameReading(std::string_view a, std::string_view b, double number);

} // namespace wendrix::changes
