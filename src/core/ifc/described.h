#pragma once

#include "core/base/digest.h"
#include "core/ifc/model.h"

namespace wendrix::ifc {

/// One thing that a file says of an element in words or numbers.
struct Described {
    std::string set; ///< the property set's name; empty for attributes and relations of the element itself
    std::string name;
    std::string value; ///< in SI where it is a measure
    std::string unit;  ///< "m"; empty where none
};

/// Everything a file says about an element but its shape, its number and when and by whom it was written: class, name,
/// attributes, type, material with the thickness of its layers, system, storey and classification by name, then its
/// property and quantity sets.
[[nodiscard]] std::vector<Described> descriptionOf(const Model& model, const Element& element);

/// Of all that, in whatever order a file writes it.
[[nodiscard]] Digest digestOfDescription(const Model& model, const Element& element);

} // namespace wendrix::ifc
