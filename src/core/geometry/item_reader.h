#pragma once

#include "core/geometry/curve_reader.h"
#include "core/geometry/mesh.h"
#include "core/ifc/model.h"
#include "core/ifc/styles.h"

#include <optional>
#include <vector>

namespace wendrix::geometry {

/// One solid or surface of a body, in the representation's own frame, metres.
struct BodyPart {
    Mesh mesh;
    bool isClosed = false;
    std::optional<ifc::SurfaceColour> colour;
};

/// Builds representation items. What can not be built becomes a diagnostic with its entity and the reason.
/// Safe to use from several threads, each with its own list of diagnostics.
class ItemReader {
public:
    explicit ItemReader(const ifc::Model& model);

    /// Every part of a shape representation.
    [[nodiscard]] std::vector<BodyPart> representation(ifc::EntityId id, std::vector<Diagnostic>& diagnostics) const;
    /// Every part of one item; several for a mapped item or a model of many shells.
    [[nodiscard]] std::vector<BodyPart> item(const ifc::Entity& item, std::vector<Diagnostic>& diagnostics,
                                             int depth = 0) const;
    /// If the representation is mapped items and nothing else: map and placement of each, in order.
    struct Mapped {
        ifc::EntityId map;
        Transform placement;
    };
    [[nodiscard]] std::vector<Mapped> mappedItems(ifc::EntityId representation) const;
    /// A representation map's parts, in the frame its mapping origin sets.
    [[nodiscard]] std::vector<BodyPart> representationMap(ifc::EntityId map, std::vector<Diagnostic>& diagnostics,
                                                          int depth = 0) const;

private:
    using Diagnostics = std::vector<Diagnostic>;
    [[nodiscard]] std::vector<Mesh> meshes(const ifc::Entity& item, Diagnostics& diagnostics, int depth) const;
    [[nodiscard]] std::vector<Mesh> sweptArea(const ifc::Entity& item, Diagnostics& diagnostics) const;
    [[nodiscard]] std::vector<Mesh> booleanResult(const ifc::Entity& item, Diagnostics& diagnostics, int depth) const;
    [[nodiscard]] std::vector<Mesh> halfSpace(const ifc::Entity& item, const Box3& around, Diagnostics& diagnostics) const;

    const ifc::Model& model_;
    const ifc::Source& source_;
    CurveReader curves_;
    ifc::Styles styles_;
};

} // namespace wendrix::geometry
