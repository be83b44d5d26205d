#pragma once

#include "core/ifc/model.h"

namespace wendrix::ifc {

/// An object that an element has to do with, and how.
struct Related {
    std::string how; ///< "type", "part of", "fills", "in system", "connected to"
    EntityId entity = 0;
    std::string className, name, guid; ///< guid is empty for what has none
};

struct MaterialPart {
    std::string name, category;
    std::optional<Metres> thickness; ///< of a layer
    std::optional<double> share;     ///< of a constituent, 0 to 1
};

struct ClassificationReference {
    std::string system, code, name;
};

/// Who made an element and when, as its owner history says.
struct Ownership {
    std::string person, organisation, application;
    std::optional<std::int64_t> created, changed; ///< seconds since 1970, UTC
};

/// Everything a file says about one element besides its shape.
struct ElementDetails {
    std::vector<Property> attributes; ///< its own: name, description, tag, predefined type, ...
    std::vector<PropertySet> sets;    ///< property and quantity sets, then those of its materials
    std::vector<Related> related;     ///< type, whole and parts, place, host and openings, systems, zones, groups,
                                      ///< ports, what it is connected to, coverings, actors, tasks
    std::vector<MaterialPart> materials;
    std::vector<ClassificationReference> classifications;
    std::vector<std::string> layers; ///< presentation layers of its body
    std::optional<Ownership> ownership;
};

/// Reads it from the file now: for one element a person looks at, not for all.
[[nodiscard]] ElementDetails readDetails(const Model& model, const Element& element);

} // namespace wendrix::ifc
