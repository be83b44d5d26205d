#pragma once

#include <cstdint>
#include <span>
#include <string_view>

/// What tools/schema_tables.py generates from schema/*.json at build time.
namespace wendrix::ifc::tables {

struct EntityRow {
    std::string_view name;       ///< "IfcWall"
    std::string_view upperName;  ///< "IFCWALL", as files have it
    std::int16_t parent;         ///< index of the supertype, before this one; -1 at a root
    std::int16_t lastDescendant; ///< the entities from this one to that are its subtypes, and no others
    std::uint16_t firstAttribute, attributeCount; ///< its own, not the inherited ones
};

struct SchemaRow {
    std::string_view name;
    std::span<const EntityRow> entities;
    std::span<const std::string_view> attributes;
};

[[nodiscard]] std::span<const SchemaRow> schemas();

} // namespace wendrix::ifc::tables
