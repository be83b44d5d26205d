#pragma once

#include "core/checks/ids.h"
#include "core/ifc/model.h"

#include <functional>

namespace wendrix::checks {

/// What a facet found at one entity.
struct Met {
    bool isThere = false; ///< there is something of the kind the facet speaks of
    bool isOk = false;    ///< and it is as asked
    std::string why;      ///< if not
};

/// Asks single entities of one model for what facets speak of.
class FacetReader {
public:
    explicit FacetReader(const ifc::Model& model) : model_(model), source_(model.source()) {}

    [[nodiscard]] Met check(const Facet& facet, const ifc::Entity& entity) const;
    /// The predefined type as IDS sees it: the type's before the occurrence's, and where that is user-defined, its
    /// words.
    [[nodiscard]] std::string predefinedType(const ifc::Entity& entity) const;

private:
    using Entity = ifc::Entity;
    using Value = ifc::Value;
    struct Found { ///< a property with all its values, as one or several candidates
        std::string set, name, dataType;
        std::vector<Candidate> values;
    };
    [[nodiscard]] bool isOfClass(const Facet& facet, const Entity& entity) const;
    [[nodiscard]] Met attribute(const Facet& facet, const Entity& entity) const;
    [[nodiscard]] Met classification(const Facet& facet, const Entity& entity) const;
    [[nodiscard]] Met property(const Facet& facet, const Entity& entity) const;
    [[nodiscard]] Met material(const Facet& facet, const Entity& entity) const;
    [[nodiscard]] Met partOf(const Facet& facet, const Entity& entity) const;
    [[nodiscard]] std::vector<Found> properties(const Facet& facet, const Entity& entity) const;
    void readSet(const Facet& facet, const Entity& set, std::vector<Found>& out) const;
    [[nodiscard]] std::optional<Candidate> candidate(const Value& value, std::string_view dataType,
                                                     const Entity& carrier) const;
    [[nodiscard]] Entity typeOf(const Entity& entity) const;

    const ifc::Model& model_;
    const ifc::Source& source_;
};

} // namespace wendrix::checks
