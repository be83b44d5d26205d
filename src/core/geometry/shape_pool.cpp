#include "core/geometry/shape_pool.h"

#include <cstring>

namespace wendrix::geometry {

namespace {

class Hasher {
public:
    void add(std::uint64_t v) { hash_ = (hash_ ^ v) * 0x9E3779B97F4A7C15ull ^ (hash_ >> 31); }
    void add(double v)
    {
        std::uint64_t bits = 0;
        std::memcpy(&bits, &v, sizeof bits);
        add(bits);
    }
    void add(const Ring& ring)
    {
        add(static_cast<std::uint64_t>(ring.size()));
        for (const Point2 p : ring) {
            add(p.x);
            add(p.y);
        }
    }
    [[nodiscard]] std::uint64_t value() const { return hash_ ^ (hash_ >> 29); }

private:
    std::uint64_t hash_ = 0x243F6A8885A308D3ull;
};

std::uint64_t hashOf(const Shape& shape)
{
    Hasher h;
    h.add(static_cast<std::uint64_t>(shape.mesh.triangles.size()));
    for (const Point3 p : shape.mesh.points) {
        h.add(p.x);
        h.add(p.y);
        h.add(p.z);
    }
    return h.value();
}

bool isSame(const Shape& a, const Shape& b)
{
    return a.mesh.points == b.mesh.points && a.mesh.triangles == b.mesh.triangles && a.colours == b.colours &&
           a.isClosed == b.isClosed;
}

bool isSame(const std::vector<Area>& a, const std::vector<Area>& b)
{
    return a.size() == b.size() && std::equal(a.begin(), a.end(), b.begin(), [](const Area& p, const Area& q) {
               return p.outer == q.outer && p.holes == q.holes;
           });
}

bool isSame(ifc::EntityId a, ifc::EntityId b) { return a == b; }

} // namespace

ShapePool::Entry* ShapePool::find(std::uint64_t hash, Entry made)
{
    Shard& shard = shards_[hash % kShards];
    const std::lock_guard lock(shard.mutex);
    const auto [first, last] = shard.entries.equal_range(hash);
    for (auto at = first; at != last; ++at)
        if (at->second->source.index() == made.source.index() &&
            std::visit(
                [&](const auto& known) { return isSame(known, std::get<std::decay_t<decltype(known)>>(made.source)); },
                at->second->source))
            return at->second.get();
    return shard.entries.emplace(hash, std::make_unique<Entry>(std::move(made)))->second.get();
}

ShapePool::Entry* ShapePool::entryOf(std::variant<ifc::EntityId, std::vector<Area>> source)
{
    Hasher h;
    Entry made;
    if (const auto* map = std::get_if<ifc::EntityId>(&source)) {
        h.add(*map);
        made.source = *map;
    } else {
        for (const Area& area : std::get<std::vector<Area>>(source)) {
            h.add(area.outer);
            for (const Ring& hole : area.holes)
                h.add(hole);
        }
        made.source = std::move(std::get<std::vector<Area>>(source));
    }
    return find(h.value(), std::move(made));
}

ShapePool::Entry* ShapePool::entryOf(Shape own)
{
    const std::uint64_t hash = hashOf(own);
    Entry made;
    made.source = std::move(own);
    return find(hash, std::move(made));
}

} // namespace wendrix::geometry
