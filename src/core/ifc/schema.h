#pragma once

#include "core/ifc/name.h"

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
    /// kUnknownType if this release has no such entity.
    [[nodiscard]] TypeId type(Name name) const;
    /// @param keyword  as files have it, upper case: "IFCWALL"
    [[nodiscard]] TypeId typeOfKeyword(std::string_view keyword) const;
    [[nodiscard]] std::size_t typeCount() const { return entities_.size(); }
    [[nodiscard]] std::string_view typeName(TypeId type) const;
    [[nodiscard]] bool isA(TypeId type, TypeId ancestor) const
    {
        // Types are numbered so that the descendants of one follow it without a gap.
        return type >= ancestor && ancestor >= 0 &&
               type <= entities_[static_cast<std::size_t>(ancestor)].lastDescendant;
    }
    [[nodiscard]] bool isA(TypeId type, Name ancestor) const { return isA(type, this->type(ancestor)); }
    /// The argument's place among an instance's arguments; nothing if the entity has no such attribute.
    [[nodiscard]] std::optional<std::uint32_t> attributeIndex(TypeId type, Name attribute) const;
    /// All attributes of an entity, inherited ones first.
    [[nodiscard]] const std::vector<Name>& attributes(TypeId type) const;

private:
    friend struct SchemaSet;
    explicit Schema(std::size_t table);

    struct Entity {
        std::string_view name;
        TypeId lastDescendant;
        std::vector<Name> attributes; ///< inherited ones first
    };
    struct Slot {
        std::uint32_t hash = 0;
        TypeId type = kUnknownType;
    };
    std::string_view name_;
    std::vector<Entity> entities_;
    std::vector<Slot> byName_; ///< open addressing; a power of two
    std::unordered_map<std::string_view, TypeId> byKeyword_;
};

} // namespace wendrix::ifc
