#pragma once

#include "core/geometry/shape.h"
#include "core/geometry/solid_reader.h"

#include <variant>

namespace wendrix::geometry {

/// A part of a body that is a shared shape in some place: a representation map, or a profile's prism of height 1.
struct SharedPart {
    std::variant<ifc::EntityId, std::vector<Area>> shape;
    Transform placement;
    std::optional<ifc::SurfaceColour> colour;
    ifc::EntityId item = 0;
};

/// Builds representations out of their items: mapped items, colours, what is shared and what is an element's own.
/// Safe to use from several threads, each with its own list of diagnostics.
class ItemReader {
public:
    ItemReader(const ifc::Model& model, const Fineness& fineness, const Progress& progress);

    /// Every part of a shape representation.
    [[nodiscard]] std::vector<BodyPart> representation(ifc::EntityId id, std::vector<Diagnostic>& diagnostics) const;
    /// The same as shared shapes in their places, if every item of it can be one; empty otherwise.
    [[nodiscard]] std::vector<SharedPart> sharedParts(ifc::EntityId representation,
                                                      std::vector<Diagnostic>& diagnostics) const;
    /// A representation map's parts, in the frame its mapping origin sets.
    [[nodiscard]] std::vector<BodyPart> representationMap(ifc::EntityId map,
                                                          std::vector<Diagnostic>& diagnostics) const;
    [[nodiscard]] const ifc::Styles& styles() const { return styles_; }

private:
    using Diagnostics = std::vector<Diagnostic>;
    [[nodiscard]] std::vector<BodyPart> items(const ifc::Entity& representation, Diagnostics& diagnostics,
                                              const Effort& effort) const;
    [[nodiscard]] std::vector<BodyPart> mapped(ifc::EntityId map, Diagnostics& diagnostics, const Effort& effort) const;
    [[nodiscard]] std::vector<BodyPart> item(const ifc::Entity& item, Diagnostics& diagnostics,
                                             const Effort& effort) const;

    const ifc::Source& source_;
    SolidReader solids_;
    ifc::Styles styles_;
};

/// The prism of height 1 over a profile's areas.
[[nodiscard]] std::vector<BodyPart> unitPrism(const std::vector<Area>& areas);

} // namespace wendrix::geometry
