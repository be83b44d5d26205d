#pragma once

#include "core/geometry/box_tree.h"
#include "core/view/camera.h"
#include "core/view/display.h"

#include <unordered_map>

namespace wendrix::view {

struct Picked {
    ElementKey element;
    Point3 place; ///< federation frame
};

/// Finds elements along rays, exact on their triangles. Shapes get their trees when first met.
class Picker {
public:
    explicit Picker(std::span<const federation::Member> members);

    /// The nearest element whose colour has at least `leastAlpha`, between the heights given.
    /// @param colours  as coloursOf gives them
    [[nodiscard]] std::optional<Picked> pick(const Ray& ray, const std::vector<std::vector<Colour>>& colours,
                                             float leastAlpha, double lowest, double highest);
    [[nodiscard]] Box3 boundsOf(const ElementKey& key) const;
    /// Whether nothing solid but the two elements themselves lies between two places.
    [[nodiscard]] bool isFree(Point3 from, Point3 to, std::span<const ElementKey> ignored);

private:
    struct Item {
        ElementKey key;
        geometry::ShapeIndex shape;
        Transform toWorld, toShape;
    };
    [[nodiscard]] const geometry::BoxTree& treeOf(const Item& item);

    std::vector<federation::Member> members_;
    std::vector<Item> items_;
    geometry::BoxTree tree_;
    std::unordered_map<std::uint64_t, geometry::BoxTree> shapeTrees_;
};

/// A direction from which a place can be seen: towards the eye. Tried around the compass, from above and level;
/// the freest wins, and of equally free ones that nearest to `preferred`.
[[nodiscard]] Vector3 freeDirection(Picker& picker, Point3 place, double reach, Vector3 preferred,
                                    std::span<const ElementKey> about);

} // namespace wendrix::view
