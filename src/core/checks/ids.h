#pragma once

#include "core/checks/restriction.h"

#include <filesystem>
#include <limits>

namespace wendrix::checks {

inline constexpr ErrorCode kNoIds{"ids.unreadable"};

enum class FacetKind { Entity, Attribute, Classification, Property, Material, PartOf };
enum class Cardinality { Required, Optional, Prohibited };

/// One facet of an IDS specification; of each kind only its own fields are set.
struct Facet {
    FacetKind kind = FacetKind::Entity;
    Cardinality cardinality = Cardinality::Required;
    std::optional<Restriction> name;           ///< entity: its class in capitals; attribute: its name
    std::optional<Restriction> predefinedType; ///< of an entity, also of the whole of "part of"
    std::optional<Restriction> propertySet, baseName;
    std::string dataType; ///< of a property, in capitals: "IFCLABEL"; empty for any
    std::optional<Restriction> value, system;
    std::vector<std::string> relations; ///< of "part of", in capitals; none for any
    std::string instructions;           ///< what the author says of it
};

struct Specification {
    std::string name, identifier, description, instructions;
    std::vector<std::string> schemas; ///< "IFC4", "IFC4X3_ADD2"
    /// How many elements must be applicable: at least so many; `most` 0 where there must be none.
    std::size_t least = 1, most = std::numeric_limits<std::size_t>::max();
    std::vector<Facet> applicability, requirements;
};

/// An information delivery specification of buildingSMART, version 1.0.
struct Ids {
    std::string title, copyright, version, description, author, date, purpose, milestone;
    std::vector<Specification> specifications;
    std::vector<Diagnostic> notes; ///< what of the file can not be followed, and where
};

/// @return the specifications; kNoIds where the file is no IDS. A facet that is not understood is a note, and its
///         specification is left out, since without it others would be asked for than were meant.
[[nodiscard]] Result<Ids> readIds(const std::filesystem::path& file);
[[nodiscard]] Result<Ids> readIdsText(const std::string& xml, const std::string& name);

} // namespace wendrix::checks
