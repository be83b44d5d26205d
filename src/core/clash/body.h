#pragma once

#include "core/clash/oriented_box.h"
#include "core/clash/shape_index.h"
#include "core/clash/triangle_pair.h"

namespace wendrix::clash {

/// A shape where it stands, in the frame of a test. Copies share what was placed.
class PlacedPart {
public:
    PlacedPart(const ShapeIndex& shape, const Transform& at);

    [[nodiscard]] const ShapeIndex& shape() const { return *shape_; }
    [[nodiscard]] const Transform& at() const { return at_; }
    [[nodiscard]] const geometry::MiddleBox& bounds() const { return bounds_; }
    [[nodiscard]] const OrientedBox& oriented() const { return oriented_; }
    [[nodiscard]] geometry::MiddleBox boxOf(const geometry::CompactTree::Node& node) const;
    [[nodiscard]] std::size_t triangles() const { return shape_->mesh().triangles.size(); }
    [[nodiscard]] std::size_t points() const { return points_->size(); }
    [[nodiscard]] Point3 point(std::uint32_t i) const { return (*points_)[i] + shift_; }
    /// Facing outwards, also where the place mirrors.
    [[nodiscard]] Corners corners(std::uint32_t triangle) const
    {
        const geometry::Triangle& t = shape_->mesh().triangles[triangle];
        return {point(t[0]), point(t[isMirrored_ ? 2 : 1]), point(t[isMirrored_ ? 1 : 2])};
    }
    /// Its corners, faces and edges where it stands; nothing where it is not convex, or was moved.
    [[nodiscard]] const Convex* convex() const { return convex_.get(); }
    /// Whether to go through all triangles is faster than to make a tree of them.
    [[nodiscard]] bool isSmall() const { return triangles() <= kSmall; }

    /// Whether a point lies inside, exactly for where its corners are placed: how often the surface winds around it is
    /// counted straight up, so bodies that are doubled or cut themselves have an inside too. What is open has none. On
    /// the surface it may answer either way.
    [[nodiscard]] bool contains(const Point3& p) const;
    /// The place on the surface that is nearest, if no farther than `reach` metres.
    [[nodiscard]] std::optional<Point3> nearestTo(const Point3& p, double reach) const;
    [[nodiscard]] std::optional<double> distanceTo(const Point3& p, double reach) const
    {
        const auto nearest = nearestTo(p, reach);
        return nearest ? std::optional(length(*nearest - p)) : std::nullopt;
    }
    /// Triangles that may come into a box, and as near as `margin` metres to what stands askew in another.
    void trianglesIn(const geometry::MiddleBox& box, const OrientedBox& askew, double margin,
                     std::vector<std::uint32_t>& found) const;
    /// The same moved.
    [[nodiscard]] PlacedPart movedBy(Vector3 shift) const;

private:
    static constexpr std::size_t kSmall = 6'000;

    const ShapeIndex* shape_;
    Transform at_;
    bool isMirrored_, isUpright_; ///< upright: its axes are those of the frame, up to their lengths
    Vector3 shift_;               ///< moved by since it was placed
    geometry::MiddleBox bounds_;
    OrientedBox oriented_;
    std::shared_ptr<const std::vector<Point3>> points_; ///< those of the shape, placed
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

} // namespace wendrix::clash
