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
    byName_.resize(4096); // at least twice the entities of any release
    for (const tables::EntityRow& entity : row.entities) {
        const auto type = static_cast<TypeId>(entities_.size());
        Entity e{entity.name, entity.lastDescendant, {}};
        if (entity.parent >= 0)
            e.attributes = entities_[static_cast<std::size_t>(entity.parent)].attributes;
        for (std::size_t i = 0; i < entity.attributeCount; ++i)
            e.attributes.emplace_back(row.attributes[entity.firstAttribute + i]);
        byKeyword_.emplace(entity.upperName, type);
        std::size_t slot = Name::hashOf(entity.name) & (byName_.size() - 1);
        while (byName_[slot].type != kUnknownType)
            slot = (slot + 1) & (byName_.size() - 1);
        byName_[slot] = {Name::hashOf(entity.name), type};
        entities_.push_back(std::move(e));
    }
}

const Schema* Schema::forFile(std::string_view fileSchema)
{
    const std::string wanted = upperCase(fileSchema);
    const std::string_view table = wanted.starts_with("IFC2X")   ? "IFC2X3"
                                   : wanted.starts_with("IFC4X") ? "IFC4X3"
                                   : wanted.starts_with("IFC4")  ? "IFC4"
                                                                 : "";
    for (const Schema& schema : schemaSet().all)
        if (schema.name() == table)
            return &schema;
    return nullptr;
}

TypeId Schema::type(Name name) const
{
    std::size_t slot = name.hash() & (byName_.size() - 1);
    while (byName_[slot].type != kUnknownType && byName_[slot].hash != name.hash())
        slot = (slot + 1) & (byName_.size() - 1);
    return byName_[slot].type;
}

TypeId Schema::typeOfKeyword(std::string_view keyword) const
{
    const auto found = byKeyword_.find(keyword);
    return found != byKeyword_.end() ? found->second : kUnknownType;
}

std::string_view Schema::typeName(TypeId type) const
{
    return type >= 0 ? entities_[static_cast<std::size_t>(type)].name : std::string_view{};
}

std::optional<std::uint32_t> Schema::attributeIndex(TypeId type, Name attribute) const
{
    const std::vector<Name>& names = attributes(type);
    for (std::size_t i = 0; i < names.size(); ++i)
        if (names[i].hash() == attribute.hash())
            return static_cast<std::uint32_t>(i);
    return {};
}

const std::vector<Name>& Schema::attributes(TypeId type) const
{
    static const std::vector<Name> none;
    return type >= 0 ? entities_[static_cast<std::size_t>(type)].attributes : none;
}

} // namespace wendrix::ifc
