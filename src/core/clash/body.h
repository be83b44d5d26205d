#pragma once

#include "core/clash/shape_index.h"
#include "core/clash/triangle_pair.h"

namespace wendrix::clash {

/// A shape where it stands, in the frame of a test.
class PlacedPart {
public:
    PlacedPart(const ShapeIndex& shape, const Transform& at);

    [[nodiscard]] const ShapeIndex& shape() const { return *shape_; }
    [[nodiscard]] const Transform& at() const { return at_; }
    [[nodiscard]] const geometry::MiddleBox& bounds() const { return bounds_; }
    [[nodiscard]] geometry::MiddleBox boxOf(const geometry::CompactTree::Node& node) const;
    /// Facing outwards, also where the place mirrors.
    [[nodiscard]] Corners corners(std::uint32_t triangle) const
    {
        const geometry::Triangle& t = shape_->mesh().triangles[triangle];
        const auto& points = shape_->mesh().points;
        if (isMirrored_)
            return {at_.apply(points[t[0]]), at_.apply(points[t[2]]), at_.apply(points[t[1]])};
        return {at_.apply(points[t[0]]), at_.apply(points[t[1]]), at_.apply(points[t[2]])};
    }
    [[nodiscard]] Point3 point(std::uint32_t i) const { return at_.apply(shape_->mesh().points[i]); }
    /// Its corners, faces and edges where it stands; nothing where it is not convex.
    [[nodiscard]] const Convex* convex() const { return convex_.get(); }

    /// Whether a point lies inside: how often the surface winds around it is counted along a ray, so bodies that are
    /// doubled or cut themselves have an inside too. What is open has none. On the surface it may answer either way.
    [[nodiscard]] bool contains(const Point3& p) const;
    /// The place on the surface that is nearest, if no farther than `reach` metres.
    [[nodiscard]] std::optional<Point3> nearestTo(const Point3& p, double reach) const;
    [[nodiscard]] std::optional<double> distanceTo(const Point3& p, double reach) const
    {
        const auto nearest = nearestTo(p, reach);
        return nearest ? std::optional(length(*nearest - p)) : std::nullopt;
    }
    /// The same moved; its surface only, not as a convex body.
    [[nodiscard]] PlacedPart movedBy(Vector3 shift) const;

private:
    const ShapeIndex* shape_;
    Transform at_, back_;
    bool isMirrored_, isUpright_; ///< upright: its axes are those of the frame, up to their lengths
    geometry::MiddleBox bounds_;
    std::shared_ptr<const Convex> convex_;
};

/// The parts of one element.
struct Body {
    std::vector<PlacedPart> parts;
    bool isClosed = true; ///< all of them

    [[nodiscard]] bool contains(const Point3& p) const
    {
        return std::any_of(parts.begin(), parts.end(), [&](const PlacedPart& part) { return part.contains(p); });
    }
};

/// @param at  from the file's world frame to the frame of the test
[[nodiscard]] Body bodyOf(const MemberIndex& member, ifc::ElementIndex element, const Transform& at);

/// Triangles of two parts whose boxes are no farther apart than `margin` metres.
/// @param each  bool(Corners of a, Corners of b); false ends it
template <class Each>
void forNearTriangles(const PlacedPart& a, const PlacedPart& b, double margin, Each each)
{
    using geometry::CompactTree;
    using geometry::MiddleBox;
    const CompactTree &ta = a.shape().tree(), &tb = b.shape().tree();
    const auto isNear = [&](const MiddleBox& x, const MiddleBox& y) { return x.isWithin(y, margin); };
    geometry::walkTogether(
        ta, tb, [&](const CompactTree::Node& n) { return a.boxOf(n); },
        [&](const CompactTree::Node& n) { return b.boxOf(n); }, isNear,
        [&](const CompactTree::Node& x, const CompactTree::Node& y) {
            std::array<Corners, CompactTree::kLeafSize> theirs;
            std::size_t count = 0;
            for (const std::uint32_t j : tb.items(y))
                theirs[count++] = b.corners(j);
            for (const std::uint32_t i : ta.items(x)) {
                const Corners mine = a.corners(i);
                for (std::size_t k = 0; k < count; ++k)
                    if (areNear(mine, theirs[k], margin) && !each(mine, theirs[k]))
                        return false;
            }
            return true;
        });
}

} // namespace wendrix::clash
