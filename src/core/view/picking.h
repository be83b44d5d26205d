#pragma once

#include "core/geometry/box_tree.h"
#include "core/geometry/plane_cut.h"
#include "core/view/camera.h"
#include "core/view/colours.h"

#include <functional>
#include <unordered_map>

namespace wendrix::view {

struct Picked {
    ElementKey element;
    Point3 place;            ///< federation frame
    Vector3 normal{0, 0, 1}; ///< unit, of the face there, towards the viewer
    friend bool operator==(const Picked&, const Picked&) = default;
};

/// Around one element, in the federation frame; needs nothing prepared.
[[nodiscard]] Box3 boundsOf(std::span<const federation::Member> members, const ElementKey& key);

/// Finds elements along rays, exact on their triangles. Shapes get their trees when first met.
class Picker {
public:
    explicit Picker(std::span<const federation::Member> members);

    /// What a question is about: elements whose colour has at least `leastAlpha`, of members that may be picked, and
    /// of them only what the cuts leave.
    struct Filter {
        float leastAlpha = 0.01f;
        std::vector<geometry::Plane> cuts;
        std::vector<bool> isMemberPickable;                         ///< those past its end are
        std::function<bool(const ElementKey&)> reachesThrough = {}; ///< elements that do not count; not set: none
        [[nodiscard]] bool shows(Point3 place) const;
        [[nodiscard]] bool takes(std::uint32_t member) const
        {
            return member >= isMemberPickable.size() || isMemberPickable[member];
        }
    };
    /// The nearest element along a ray, exact on its triangles; where a cut goes through a closed body, the cut face.
    [[nodiscard]] std::optional<Picked> pick(const Ray& ray, const Colours& colours, const Filter& filter);
    /// Elements seen in a rectangle of the window, hidden behind others or not: wholly inside it, or touching it.
    struct Rectangle {
        double left = 0, top = 0, right = 0, bottom = 0; ///< pixels
    };
    [[nodiscard]] std::set<ElementKey> within(const Camera& camera, Viewport viewport, const Rectangle& rectangle,
                                              bool isWhole, const Colours& colours, const Filter& filter);
    [[nodiscard]] Box3 boundsOf(const ElementKey& key) const { return view::boundsOf(members_, key); }
    /// Elements whose bounds reach into a box, in order.
    [[nodiscard]] std::vector<ElementKey> overlapping(const Box3& box) const;
    /// Whether nothing solid but the two elements themselves lies between two places.
    [[nodiscard]] bool isFree(Point3 from, Point3 to, std::span<const ElementKey> ignored);
    /// How far from a place the last face of some elements lies in a unit direction: so deep it is hidden in or behind
    /// them. 0 where there is none within `most` metres.
    [[nodiscard]] double lastOf(std::span<const ElementKey> elements, Point3 from, Vector3 direction, double most);

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
/// the freest wins, of equally free ones that which the elements it is about hide least, as a wall does seen from its
/// end, and that nearest to `preferred`.
[[nodiscard]] Vector3 freeDirection(Picker& picker, Point3 place, double reach, Vector3 preferred,
                                    std::span<const ElementKey> about);

/// What has to be cut away where a place lies so deep in the elements it is about that it can not be told from any
/// side: a plane through it, upright unless one looks steeply down or up, its normal towards the eye.
/// @param size  metres across of what is to be seen there; what reaches about as far as it is buried shows by itself
/// @param from  where one looks from, see freeDirection()
/// @return nothing where it is near enough to a face
[[nodiscard]] std::optional<geometry::Plane> planeThatOpens(Picker& picker, Point3 place, double size, Vector3 from,
                                                            std::span<const ElementKey> about);

} // namespace wendrix::view
