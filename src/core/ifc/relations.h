#pragma once

#include "core/ifc/source.h"

#include <span>
#include <vector>

namespace wendrix::ifc {

/// One end of a relationship entity (IfcRelAggregates, ...), seen from the object at the other end.
struct Link {
    std::uint32_t near = 0;      ///< position of the object asked about
    std::uint32_t far = 0;       ///< position of the object at the other end
    std::uint32_t relation = 0;  ///< position of the relationship entity itself
    TypeId type = kUnknownType;  ///< of the relationship
    std::int16_t isRelating = 0; ///< 1: the object asked about is the "Relating" end: the whole, the host, the group
};

/// Every relationship of a file, by the objects it relates. Immutable, thread-safe.
///
/// Which end is which is read off the attribute names: "Relating..." and "Related...", in every release.
class Relations {
public:
    Relations(const Source& source, Progress& progress);
    Relations(const Source& source, BinaryReader& in);
    void save(BinaryWriter& out) const { out.column(links_.view()); }

    /// All links of an object, in the order of the relationship entities.
    [[nodiscard]] std::span<const Link> of(EntityId object) const;
    /// The objects at the other end of one kind of relationship.
    /// @param asRelating  whether `object` is the relating end
    [[nodiscard]] std::vector<EntityId> others(EntityId object, Name relationship, bool asRelating) const;
    /// The first of others(), 0 if there is none.
    [[nodiscard]] EntityId other(EntityId object, Name relationship, bool asRelating) const;
    [[nodiscard]] EntityId idOf(std::uint32_t position) const { return source_.file().entities().all()[position].id(); }
    [[nodiscard]] const Source& source() const { return source_; }

private:
    void add(const Entity& relation, std::uint32_t position, std::vector<Link>& links) const;

    const Source& source_;
    Column<Link> links_; ///< by `near`
};

} // namespace wendrix::ifc
