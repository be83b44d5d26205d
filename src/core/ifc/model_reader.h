#pragma once

#include "core/ifc/model.h"

#include <unordered_map>

namespace wendrix::ifc {

/// Fills a Model from its Source: relationships, placements, then the products on all cores.
class ModelReader {
public:
    ModelReader(Model& model, Progress& progress, std::span<const std::string> leftOut = {});
    [[nodiscard]] Result<void> read();

private:
    /// What one product says by itself, before names are shared.
    struct Product {
        Element element;
        std::string name, tag;
        EntityId system = 0;
        bool hasNoContext = false, isNested = true;
    };
    void sayUnknownEntities();
    void readStoreys();
    [[nodiscard]] Product readProduct(const step::Entry& entry) const;
    [[nodiscard]] Result<void> readElements();
    void take(Product product);
    [[nodiscard]] Result<void> describeElements();
    void sayRepeatedIds();
    void readGrids();
    /// Follows assembly, container and host up to a storey; `isNested` turns false where that never ends.
    [[nodiscard]] StoreyIndex storeyOf(EntityId product, bool& isNested) const;
    void collectOpenings(EntityId product, std::vector<EntityId>& openings) const;
    [[nodiscard]] std::string materialName(EntityId material, int depth = 0, bool mayBeMany = true) const;
    void say(Severity severity, const char* code, EntityId entity, std::string message);

    Model& model_;
    const Source& source_;
    const Relations* relations_ = nullptr;
    Progress& progress_;
    std::span<const std::string> leftOut_;
    PlacementReader reader_;
    std::unordered_map<EntityId, StoreyIndex> storeys_;
    std::unordered_map<EntityId, StringId> typeNames_, materialNames_, systemNames_;
};

} // namespace wendrix::ifc
