#include "core/ifc/source.h"

namespace wendrix::ifc {

Source::Source(step::File file, const Schema& schema) : file_(std::move(file)), schema_(&schema)
{
    for (const std::string& keyword : file_.keywords())
        keywordTypes_.push_back(schema_->type(keyword));
}

Entity Source::entity(EntityId id) const
{
    const step::File::Entry* entry = id != 0 ? file_.find(id) : nullptr;
    return entry != nullptr ? entity(*entry) : Entity{};
}

Entity Source::entity(const step::File::Entry& entry) const
{
    const TypeId type = typeOf(entry);
    if (type == kUnknownType)
        return {};
    step::Instance instance = file_.read(entry);
    if (instance.nodes.empty())
        return {};
    return {*schema_, entry.id, type, std::move(instance)};
}

} // namespace wendrix::ifc
