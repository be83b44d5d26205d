#pragma once

#include "core/geometry/item_reader.h"

#include <functional>
#include <memory>
#include <mutex>
#include <unordered_map>
#include <vector>

namespace wendrix::geometry {

/// What elements share: one entry for each representation map, for each profile that is extruded, and for each body
/// that is the same to the last bit. Elements are added from several threads; shapes are built afterwards, each once.
class ShapePool {
public:
    struct Entry {
        std::variant<ifc::EntityId, std::vector<Area>, Shape> source;
        Shape shape;
        std::vector<Diagnostic> diagnostics;
        ShapeIndex index = kUnused;
    };
    static constexpr ShapeIndex kUnused = ~ShapeIndex{0};

    /// The entry of a shared part; made if it is the first.
    [[nodiscard]] Entry* entryOf(std::variant<ifc::EntityId, std::vector<Area>> source);
    /// The entry of a body of an element's own; the same body of another element is the same entry.
    [[nodiscard]] Entry* entryOf(Shape own);

private:
    Entry* find(std::uint64_t hash, Entry made);

    static constexpr std::size_t kShards = 64; // threads seldom meet in one
    struct Shard {
        std::mutex mutex;
        std::unordered_multimap<std::uint64_t, std::unique_ptr<Entry>> entries;
    };
    Shard shards_[kShards];
};

} // namespace wendrix::geometry
