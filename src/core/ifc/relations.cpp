#include "core/ifc/relations.h"

#include <algorithm>

namespace wendrix::ifc {

namespace {

/// Calls `each(EntityId)` for the references of a value: one, a list, or a typed set of them.
template <class Each>
void eachReference(Value value, Each each)
{
    if (const EntityId id = value.reference(); id != 0)
        each(id);
    else
        for (const Value inner : value)
            eachReference(inner, each);
}

} // namespace

Relations::Relations(const Source& source, Progress& progress) : source_(source)
{
    std::vector<Link> links;
    for (const std::uint32_t position : source.positions("IfcRelationship")) {
        if (progress.isCancelled())
            return;
        if (const Entity relation = source.entity(source.file().entities().all()[position]))
            add(relation, position, links);
    }
    std::stable_sort(links.begin(), links.end(), [](const Link& a, const Link& b) { return a.near < b.near; });
    links.shrink_to_fit();
    links_ = std::move(links);
}

void Relations::add(const Entity& relation, std::uint32_t position, std::vector<Link>& links) const
{
    std::vector<std::uint32_t> relating, related;
    const step::Entry* const first = source_.file().entities().all().data();
    for (const Name attribute : source_.schema().attributes(relation.type())) {
        const bool isRelating = attribute.text().starts_with("Relating");
        if (!isRelating && !attribute.text().starts_with("Related"))
            continue;
        eachReference(relation[attribute], [&](EntityId id) {
            if (const step::Entry* entry = source_.file().entities().find(id))
                (isRelating ? relating : related).push_back(static_cast<std::uint32_t>(entry - first));
        });
    }
    // IfcRelCoversSpaces of IFC2X3 calls both its ends related: the space comes first.
    if (relating.empty() && related.size() > 1) {
        relating.push_back(related.front());
        related.erase(related.begin());
    }
    for (const std::uint32_t whole : relating)
        for (const std::uint32_t part : related) {
            links.push_back({part, whole, position, relation.type(), 0});
            links.push_back({whole, part, position, relation.type(), 1});
        }
}

std::span<const Link> Relations::of(EntityId object) const
{
    const step::Entry* entry = object != 0 ? source_.file().entities().find(object) : nullptr;
    if (entry == nullptr)
        return {};
    const auto near = static_cast<std::uint32_t>(entry - source_.file().entities().all().data());
    const auto first = std::lower_bound(links_.begin(), links_.end(), near,
                                        [](const Link& l, std::uint32_t wanted) { return l.near < wanted; });
    auto last = first;
    while (last != links_.end() && last->near == near)
        ++last;
    return links_.view().subspan(static_cast<std::size_t>(first - links_.begin()),
                                     static_cast<std::size_t>(last - first));
}

std::vector<EntityId> Relations::others(EntityId object, Name relationship, bool asRelating) const
{
    const TypeId wanted = source_.schema().type(relationship);
    std::vector<EntityId> found;
    for (const Link& link : of(object))
        if ((link.isRelating != 0) == asRelating && source_.schema().isA(link.type, wanted))
            found.push_back(idOf(link.far));
    return found;
}

EntityId Relations::other(EntityId object, Name relationship, bool asRelating) const
{
    const TypeId wanted = source_.schema().type(relationship);
    for (const Link& link : of(object))
        if ((link.isRelating != 0) == asRelating && source_.schema().isA(link.type, wanted))
            return idOf(link.far);
    return 0;
}

} // namespace wendrix::ifc
