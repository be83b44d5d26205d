#include "core/ifc/schema.h"

#include "core/base/text.h"
#include "core/ifc/schema_tables.h"

namespace wendrix::ifc {

struct SchemaSet {
    std::vector<Schema> all;
    SchemaSet()
    {
        for (std::size_t i = 0; i < tables::schemas().size(); ++i)
            all.push_back(Schema(i));
    }
};

namespace {

const SchemaSet& schemaSet()
{
    static const SchemaSet set;
    return set;
}

} // namespace

Schema::Schema(std::size_t table)
{
    const tables::SchemaRow& row = tables::schemas()[table];
    name_ = row.name;
    for (const tables::EntityRow& entity : row.entities) {
        Entity e{entity.name, entity.parent, {}};
        if (entity.parent >= 0)
            e.attributes = entities_[static_cast<std::size_t>(entity.parent)].attributes;
        for (std::size_t i = 0; i < entity.attributeCount; ++i)
            e.attributes.push_back(row.attributes[entity.firstAttribute + i]);
        byUpperName_.emplace(entity.upperName, static_cast<TypeId>(entities_.size()));
        entities_.push_back(std::move(e));
    }
}

const Schema* Schema::forFile(std::string_view fileSchema)
{
    const std::string wanted = upperCase(fileSchema);
    const std::string_view table = wanted.starts_with("IFC2X") ? "IFC2X3"
                                   : wanted.starts_with("IFC4X") ? "IFC4X3"
                                   : wanted.starts_with("IFC4") ? "IFC4"
                                                                : "";
    for (const Schema& schema : schemaSet().all)
        if (schema.name() == table)
            return &schema;
    return nullptr;
}

TypeId Schema::type(std::string_view name) const
{
    const auto found = byUpperName_.find(upperCase(name));
    return found != byUpperName_.end() ? found->second : kUnknownType;
}

std::string_view Schema::typeName(TypeId type) const
{
    return type >= 0 ? entities_[static_cast<std::size_t>(type)].name : std::string_view{};
}

bool Schema::isA(TypeId type, TypeId ancestor) const
{
    if (ancestor < 0)
        return false;
    while (type >= 0 && type != ancestor)
        type = entities_[static_cast<std::size_t>(type)].parent;
    return type == ancestor;
}

std::optional<std::uint32_t> Schema::attributeIndex(TypeId type, std::string_view attribute) const
{
    if (type < 0)
        return {};
    const auto& names = entities_[static_cast<std::size_t>(type)].attributes;
    for (std::size_t i = 0; i < names.size(); ++i)
        if (names[i] == attribute)
            return static_cast<std::uint32_t>(i);
    return {};
}

} // namespace wendrix::ifc
