#include "core/clash/untested.h"

#include "core/clash/engine.h"

#include <algorithm>

namespace wendrix::clash {

std::vector<NotTestable> notTestable(const federation::Member& member)
{
    const ifc::Model& model = *member.model;
    const ifc::Source& source = model.source();
    const ifc::Schema& schema = source.schema();
    std::vector<std::pair<ifc::EntityId, NotTestable>> found;
    std::vector<ifc::EntityId> read;
    read.reserve(model.elements().size());
    for (ifc::ElementIndex e = 0; e < model.elements().size(); ++e) {
        const ifc::Element& element = model.elements()[e];
        read.push_back(element.entity);
        if (auto why = whyNotTestable(member, e))
            found.push_back({element.entity, {element.guid, model.displayName(element), std::move(*why)}});
    }
    std::sort(read.begin(), read.end());
    const auto all = source.file().entities().all();
    for (const std::uint32_t position : source.positions("IfcElement")) {
        const ifc::EntityId id = all[position].id();
        const ifc::TypeId type = source.typeOf(all[position]);
        // Voids and additions are of their hosts, and nobody builds what is virtual.
        if (std::binary_search(read.begin(), read.end(), id) || schema.isA(type, "IfcFeatureElement") ||
            schema.isA(type, "IfcVirtualElement"))
            continue;
        const ifc::Entity e = source.entity(id);
        const auto hasParts = [&](const char* relation) {
            return model.relations().other(id, ifc::Name(std::string_view(relation)), true) != 0;
        };
        if (!ifc::bodyRepresentations(source, e).empty() || hasParts("IfcRelAggregates") || hasParts("IfcRelNests"))
            continue;
        std::string name = e["Name"].text();
        found.push_back({id,
                         {e["GlobalId"].text(), name.empty() ? std::string(schema.typeName(type)) : std::move(name),
                          "It has no body in the file."}});
    }
    std::sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    std::vector<NotTestable> list;
    for (auto& [id, one] : found)
        list.push_back(std::move(one));
    return list;
}

} // namespace wendrix::clash
