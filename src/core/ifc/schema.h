#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace wendrix::ifc {

using TypeId = std::int16_t; ///< index of an entity in its schema
inline constexpr TypeId kUnknownType = -1;

/// One release of IFC: its entities, who descends from whom, and where an attribute stands.
class Schema {
public:
    /// The table for a FILE_SCHEMA name: IFC2X3 (and its drafts), IFC4, IFC4X3 (and its addenda); IFC4X1 and
    /// IFC4X2 are read with IFC4X3's as a best effort. Null for anything else.
    [[nodiscard]] static const Schema* forFile(std::string_view fileSchema);

    [[nodiscard]] std::string_view name() const { return name_; }
    /// @param name  in any case; kUnknownType if this release has no such entity
    [[nodiscard]] TypeId type(std::string_view name) const;
    [[nodiscard]] std::string_view typeName(TypeId type) const;
    [[nodiscard]] bool isA(TypeId type, TypeId ancestor) const;
    [[nodiscard]] bool isA(TypeId type, std::string_view ancestor) const { return isA(type, this->type(ancestor)); }
    /// The argument's place among an instance's arguments; nothing if the entity has no such attribute.
    [[nodiscard]] std::optional<std::uint32_t> attributeIndex(TypeId type, std::string_view attribute) const;

private:
    friend struct SchemaSet;
    explicit Schema(std::size_t table);

    struct Entity {
        std::string_view name;
        TypeId parent;
        std::vector<std::string_view> attributes; ///< inherited ones first
    };
    std::string_view name_;
    std::vector<Entity> entities_;
    std::unordered_map<std::string_view, TypeId> byUpperName_;
};

} // namespace wendrix::ifc
