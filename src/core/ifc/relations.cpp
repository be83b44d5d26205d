#include "core/ifc/relations.h"

#include <algorithm>
#include <array>

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

/// Stable, in as many passes as the positions have eleven bits: each is short enough to look for a cancel between.
void sortByNear(std::vector<Link>& links, const Progress& progress)
{
    constexpr unsigned kBits = 11;
    std::uint32_t last = 0;
    for (const Link& link : links)
        last = std::max(last, link.near);
    std::vector<Link> other(links.size());
    for (unsigned shift = 0; shift < 32 && (last >> shift) > 0 && !progress.isCancelled(); shift += kBits) {
        std::array<std::size_t, (1u << kBits) + 1> starts{};
        const auto digit = [&](const Link& link) { return (link.near >> shift) & ((1u << kBits) - 1); };
        for (const Link& link : links)
            ++starts[digit(link) + 1];
        for (std::size_t i = 1; i < starts.size(); ++i)
            starts[i] += starts[i - 1];
        for (const Link& link : links)
            other[starts[digit(link)]++] = link;
        links.swap(other);
    }
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
    sortByNear(links, progress);
    links_ = std::move(links);
}

Relations::Relations(const Source& source, BinaryReader& in) : source_(source), links_(in.column<Link>())
{
    const std::size_t n = source.file().entities().all().size();
    const auto types = static_cast<std::int64_t>(source.schema().typeCount());
    for (std::size_t i = 0; i < links_.size(); ++i) {
        const Link& link = links_[i];
        if (link.near >= n || link.far >= n || link.relation >= n || link.type < 0 || link.type >= types ||
            (i > 0 && links_[i - 1].near > link.near)) {
            in.fail();
            return;
        }
    }
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
