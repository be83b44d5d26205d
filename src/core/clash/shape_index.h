#pragma once

#include "core/base/digest.h"
#include "core/clash/convex.h"
#include "core/clash/expected.h"
#include "core/geometry/compact_tree.h"
#include "core/geometry/member_geometry.h"

#include <memory>
#include <mutex>

/// What questions of place need of shapes: made once for each shape, however often it is placed, and kept as long as
/// its member is.
namespace wendrix::clash {

/// One shape, in its own frame. Every part is made when it is first asked for; safe to share.
class ShapeIndex {
public:
    explicit ShapeIndex(const geometry::Shape& shape) : shape_(shape) {}

    [[nodiscard]] const geometry::Mesh& mesh() const { return shape_.mesh; }
    [[nodiscard]] bool isClosed() const { return shape_.isClosed; }
    [[nodiscard]] double volume() const { return shape_.volume; }
    [[nodiscard]] double area() const { return shape_.area; }
    /// Over its triangles.
    [[nodiscard]] const geometry::CompactTree& tree() const;
    /// Nothing where it is open or not convex.
    [[nodiscard]] const Convex* convex() const;
    /// The flat convex face of four corners that a triangle is half of, in order; of others the triangle, its last
    /// corner twice.
    [[nodiscard]] const std::array<std::uint32_t, 4>& faceOf(std::uint32_t triangle) const;
    /// A corner of each of its connected pieces.
    [[nodiscard]] const std::vector<std::uint32_t>& pieces() const;
    /// Places inside a closed shape, half way from some of its triangles to what lies opposite; the largest triangles
    /// first.
    [[nodiscard]] const std::vector<Point3>& innerPoints() const;
    /// Of its points and triangles.
    [[nodiscard]] const Digest& digest() const { return shape_.digest; }
    /// What is kept by now, in bytes.
    [[nodiscard]] std::size_t bytes() const;

private:
    const geometry::Shape& shape_;
    mutable std::once_flag treeOnce_, convexOnce_, piecesOnce_, innerOnce_, facesOnce_;
    mutable std::vector<std::array<std::uint32_t, 4>> faces_;
    mutable geometry::CompactTree tree_;
    mutable std::optional<Convex> convex_;
    mutable std::vector<std::uint32_t> pieces_;
    mutable std::vector<Point3> inner_;
};

/// All shapes of a member.
class MemberIndex {
public:
    /// The index of a member's geometry: the same one for every test and run, gone with the geometry, which it keeps
    /// as long as it is held. From any thread.
    [[nodiscard]] static std::shared_ptr<const MemberIndex>
    of(const std::shared_ptr<const geometry::MemberGeometry>& geometry);

    explicit MemberIndex(const geometry::MemberGeometry& geometry);
    [[nodiscard]] const geometry::MemberGeometry& geometry() const { return geometry_; }
    [[nodiscard]] const ShapeIndex& shape(geometry::ShapeIndex i) const { return *shapes_[i]; }
    /// Of every element: its GlobalId and which of those it is, and its shapes with their places in the file.
    struct ElementDigests {
        std::vector<Digest> refs, bodies;
    };
    [[nodiscard]] const ElementDigests& digests(const ifc::Model& model) const;
    /// What the relations say of the file that the geometry is of.
    [[nodiscard]] const ExpectedMeetings& meetings(const ifc::Model& model) const;
    /// The elements that keep room for a hole, see isProvision(), and have a body.
    [[nodiscard]] const std::vector<ifc::ElementIndex>& provisions(const ifc::Model& model) const;
    [[nodiscard]] std::size_t bytes() const; ///< of shapes

private:
    const geometry::MemberGeometry& geometry_;
    std::vector<std::unique_ptr<ShapeIndex>> shapes_;
    mutable std::once_flag meetingsOnce_, digestsOnce_, provisionsOnce_;
    mutable std::vector<ifc::ElementIndex> provisions_;
    mutable ElementDigests digests_;
    mutable std::unique_ptr<const ExpectedMeetings> meetings_;
};

} // namespace wendrix::clash
