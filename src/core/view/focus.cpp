#include "core/view/focus.h"

#include "core/view/picking.h"

#include <algorithm>

namespace wendrix::view {

Focus focusOn(const Box3& box, std::span<const federation::Member> members, std::span<const MemberLook> looks,
              std::span<const ElementKey> about, const Picker* picker)
{
    constexpr std::uint64_t kMostTriangles = 250'000;
    constexpr double kHighStorey = 4.5, kSlab = 0.45; // metres
    Focus focus{box, box.min.z - kHighStorey, box.max.z + kHighStorey, {}};
    // Between the floor one would stand on there, with its slab, and the one above.
    for (const federation::Member& member : members)
        for (const ifc::Storey& storey : member.model->storeys()) {
            const double height = member.fit.transform().apply(Point3{0, 0, storey.height.value}).z;
            if (height <= box.min.z)
                focus.floor = std::max(focus.floor, height - kSlab);
            else if (height >= box.max.z)
                focus.ceiling = std::min(focus.ceiling, height);
        }
    const Box3 region = focus.region();
    struct Found {
        ElementKey key;
        double size = 0;
        std::uint64_t triangles = 0;
    };
    std::vector<Found> found;
    const std::vector<ElementKey> own = [&] {
        std::vector<ElementKey> sorted(about.begin(), about.end());
        std::sort(sorted.begin(), sorted.end());
        return sorted;
    }();
    const auto take = [&](const ElementKey& key) {
        const federation::Member& member = members[key.member];
        const MemberLook& look = looks[key.member];
        if (!look.isShown || look.isOnlyPainted || std::binary_search(own.begin(), own.end(), key) ||
            isUnbuilt(*member.model, member.model->elements()[key.element]))
            return;
        const geometry::ElementShape& shape = member.geometry->elements()[key.element];
        if (shape.placed.empty())
            return;
        std::uint64_t triangles = 0;
        for (const geometry::PlacedShape& placed : shape.placed)
            triangles += member.geometry->shapes()[placed.shape].mesh.triangles.size();
        found.push_back({key, length(shape.bounds.size()), triangles});
    };
    if (picker != nullptr)
        for (const ElementKey& key : picker->overlapping(region))
            take(key);
    std::sort(found.begin(), found.end(),
              [](const Found& a, const Found& b) { return a.size != b.size ? a.size > b.size : a.key < b.key; });
    std::uint64_t triangles = 0;
    for (const Found& f : found) {
        if (triangles + f.triangles > kMostTriangles)
            continue; // smaller ones may still have room
        triangles += f.triangles;
        focus.around.push_back(f.key);
    }
    std::sort(focus.around.begin(), focus.around.end());
    return focus;
}

} // namespace wendrix::view
