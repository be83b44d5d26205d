#pragma once

#include "core/ifc/model.h"

#include <unordered_map>

namespace wendrix::ifc {

/// Fills a Model from its Source: one pass over the relations, one over the products.
class ModelReader {
public:
    ModelReader(Model& model, Progress& progress);
    [[nodiscard]] Result<void> read();

private:
    void readRelations();
    void readStoreys();
    void readElements();
    void readGrids();
    [[nodiscard]] StoreyIndex storeyOf(EntityId product) const;
    void collectOpenings(EntityId product, std::vector<EntityId>& openings) const;
    [[nodiscard]] std::string materialName(EntityId material, int depth = 0) const;

    Model& model_;
    const Source& source_;
    Progress& progress_;
    PlacementReader reader_;
    ObjectPlacements placements_;
    std::unordered_map<EntityId, EntityId> parent_; ///< part to whole
    std::unordered_map<EntityId, EntityId> host_;   ///< filling to its opening, opening to what it voids
    std::unordered_map<EntityId, EntityId> container_; ///< product to its spatial structure element
    std::unordered_map<EntityId, EntityId> typeOf_;
    std::unordered_map<EntityId, EntityId> materialOf_;
    std::unordered_map<EntityId, EntityId> systemOf_;
    std::unordered_map<EntityId, std::vector<EntityId>> openingsOf_;
    std::unordered_map<EntityId, std::vector<EntityId>> setsOf_;
    std::unordered_map<EntityId, StoreyIndex> storeys_;
};

} // namespace wendrix::ifc
