#include "core/clash/shape_index.h"

#include "core/geometry/edge_sides.h"
#include "core/geometry/triangle_tree.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <numeric>

namespace wendrix::clash {

using geometry::CompactTree;
using geometry::Mesh;

namespace {

// So many places inside tell of a body's whole material; more of them tell little more.
constexpr std::size_t kMostInner = 48;

Box3 boxOf(const std::array<Point3, 3>& t)
{
    Box3 box;
    for (const Point3& p : t)
        box.add(p);
    return box;
}

std::vector<std::uint32_t> piecesOf(const Mesh& mesh)
{
    std::vector<std::uint32_t> root(mesh.points.size());
    std::iota(root.begin(), root.end(), 0u);
    const auto rootOf = [&](std::uint32_t i) {
        while (root[i] != i)
            i = root[i] = root[root[i]];
        return i;
    };
    for (const geometry::Triangle& t : mesh.triangles)
        for (const std::uint32_t p : {t[1], t[2]}) {
            const std::uint32_t a = rootOf(t[0]), b = rootOf(p);
            root[std::max(a, b)] = std::min(a, b);
        }
    std::vector<std::uint32_t> pieces;
    for (const geometry::Triangle& t : mesh.triangles)
        pieces.push_back(rootOf(t[0]));
    std::sort(pieces.begin(), pieces.end());
    pieces.erase(std::unique(pieces.begin(), pieces.end()), pieces.end());
    return pieces;
}

/// Of each triangle, with the one it shares its longest edge with, where both are flat and convex together.
std::vector<std::array<std::uint32_t, 4>> facesOf(const Mesh& mesh)
{
    std::vector<std::array<std::uint32_t, 4>> faces;
    for (const geometry::Triangle& t : mesh.triangles)
        faces.push_back({t[0], t[1], t[2], t[2]});
    std::vector<double> longest(mesh.triangles.size(), 0);
    const auto sides = geometry::sortedSides(mesh);
    geometry::eachEdge(sides, [&](std::size_t i, std::size_t j) {
        if (j - i != 2)
            return;
        const auto &one = sides[i], &other = sides[i + 1];
        const geometry::Triangle &t = mesh.triangles[one.triangle], &u = mesh.triangles[other.triangle];
        // Around the face: from the edge's begin to its end by way of the other triangle's corner, then this one's.
        const std::array<std::uint32_t, 4> face{t[one.corner], u[(other.corner + 2) % 3], t[(one.corner + 1) % 3],
                                                t[(one.corner + 2) % 3]};
        const double size = length(mesh.points[face[0]] - mesh.points[face[2]]);
        const Vector3 normal =
            normalised(cross(mesh.points[t[1]] - mesh.points[t[0]], mesh.points[t[2]] - mesh.points[t[0]]));
        constexpr double kFlat = 1e-9;
        if (std::abs(dot(normal, mesh.points[face[1]] - mesh.points[face[0]])) > kFlat + kFlat * size)
            return;
        for (std::size_t k = 0; k < 4; ++k) {
            const Point3 &a = mesh.points[face[k]], &b = mesh.points[face[(k + 1) % 4]],
                         &c = mesh.points[face[(k + 2) % 4]];
            if (!(dot(cross(b - a, c - b), normal) > 0))
                return;
        }
        for (const std::uint32_t triangle : {one.triangle, other.triangle})
            if (size > longest[triangle]) {
                longest[triangle] = size;
                faces[triangle] = face;
            }
    });
    return faces;
}

/// The nearest triangle that a ray meets beyond `from`, in lengths of `direction`.
std::optional<double> firstHit(const Mesh& mesh, const CompactTree& tree, Point3 origin, Vector3 direction, double from)
{
    double nearest = std::numeric_limits<double>::infinity();
    std::vector<std::uint32_t> stack{0};
    while (!stack.empty()) {
        const std::uint32_t i = stack.back();
        stack.pop_back();
        const CompactTree::Node& node = tree.node(i);
        double near = 0, far = nearest;
        for (int axis = 0; axis < 3 && near <= far; ++axis) {
            const auto k = static_cast<std::size_t>(axis);
            const double low = node.min[k] + tree.centre()[axis], high = node.max[k] + tree.centre()[axis];
            if (direction[axis] == 0) {
                if (origin[axis] < low || origin[axis] > high)
                    far = -1;
                continue;
            }
            const double a = (low - origin[axis]) / direction[axis], b = (high - origin[axis]) / direction[axis];
            near = std::max(near, std::min(a, b));
            far = std::min(far, std::max(a, b));
        }
        if (near > far)
            continue;
        if (!node.isLeaf()) {
            stack.push_back(node.first);
            stack.push_back(i + 1);
            continue;
        }
        for (const std::uint32_t t : tree.items(node))
            if (const auto hit = geometry::meet(origin, direction, mesh.corners(t)); hit && hit->distance > from)
                nearest = std::min(nearest, hit->distance);
    }
    return nearest < std::numeric_limits<double>::infinity() ? std::optional(nearest) : std::nullopt;
}

} // namespace

const CompactTree& ShapeIndex::tree() const
{
    std::call_once(treeOnce_, [&] {
        Box3 bounds;
        for (const Point3& p : mesh().points)
            bounds.add(p);
        tree_ = CompactTree(mesh().triangles.size(), bounds, [&](std::uint32_t i) { return boxOf(mesh().corners(i)); });
    });
    return tree_;
}

const Convex* ShapeIndex::convex() const
{
    std::call_once(convexOnce_, [&] {
        if (isClosed())
            convex_ = convexOf(mesh());
    });
    return convex_ ? &*convex_ : nullptr;
}

const std::array<std::uint32_t, 4>& ShapeIndex::faceOf(std::uint32_t triangle) const
{
    std::call_once(facesOnce_, [&] { faces_ = facesOf(mesh()); });
    return faces_[triangle];
}

const std::vector<std::uint32_t>& ShapeIndex::pieces() const
{
    std::call_once(piecesOnce_, [&] { pieces_ = piecesOf(mesh()); });
    return pieces_;
}

const std::vector<Point3>& ShapeIndex::innerPoints() const
{
    std::call_once(innerOnce_, [&] {
        if (!isClosed())
            return;
        std::vector<std::pair<double, std::uint32_t>> largest;
        for (std::uint32_t i = 0; i < mesh().triangles.size(); ++i) {
            const auto t = mesh().corners(i);
            largest.emplace_back(-length(cross(t[1] - t[0], t[2] - t[0])), i);
        }
        const std::size_t count = std::min(kMostInner, largest.size());
        std::partial_sort(largest.begin(), largest.begin() + static_cast<std::ptrdiff_t>(count), largest.end());
        for (std::size_t k = 0; k < count; ++k) {
            const auto t = mesh().corners(largest[k].second);
            const Vector3 inwards = normalised(cross(t[2] - t[0], t[1] - t[0]));
            // Beside the middle, where a fan of triangles would meet the edge of what lies opposite.
            const Point3 p = 0.37 * t[0] + 0.34 * t[1] + 0.29 * t[2];
            if (length(inwards) > 0)
                if (const auto far = firstHit(mesh(), tree(), p, inwards, 1e-7))
                    inner_.push_back(p + (0.5 * *far) * inwards);
        }
    });
    return inner_;
}

std::size_t ShapeIndex::bytes() const
{
    return sizeof *this + tree_.bytes() + inner_.capacity() * sizeof(Point3) + faces_.capacity() * sizeof faces_[0] +
           pieces_.capacity() * sizeof(std::uint32_t) +
           (convex_ ? convex_->points.size() * sizeof(Point3) + convex_->faces.size() * sizeof(Convex::Face) +
                          convex_->edges.size() * sizeof(Vector3) + convex_->lines.size() * 8
                    : 0);
}

MemberIndex::MemberIndex(const geometry::MemberGeometry& geometry) : geometry_(geometry)
{
    shapes_.reserve(geometry.shapes().size());
    for (const geometry::Shape& shape : geometry.shapes())
        shapes_.push_back(std::make_unique<ShapeIndex>(shape));
}

std::shared_ptr<const MemberIndex> MemberIndex::of(const std::shared_ptr<const geometry::MemberGeometry>& geometry)
{
    const void* made = geometry->extension([&] { return std::make_shared<const MemberIndex>(*geometry); });
    return {geometry, static_cast<const MemberIndex*>(made)};
}

std::size_t MemberIndex::bytes() const
{
    std::size_t sum = 0;
    for (const auto& shape : shapes_)
        sum += shape->bytes();
    return sum;
}

const ExpectedMeetings& MemberIndex::meetings(const ifc::Model& model) const
{
    std::call_once(meetingsOnce_, [&] { meetings_ = std::make_unique<const ExpectedMeetings>(model); });
    return *meetings_;
}

const std::vector<ifc::ElementIndex>& MemberIndex::provisions(const ifc::Model& model) const
{
    std::call_once(provisionsOnce_, [&] {
        for (ifc::ElementIndex e = 0; e < model.elements().size(); ++e)
            if (!geometry_.elements()[e].placed.empty() && isProvision(model, model.elements()[e]))
                provisions_.push_back(e);
    });
    return provisions_;
}

const MemberIndex::ElementDigests& MemberIndex::digests(const ifc::Model& model) const
{
    std::call_once(digestsOnce_, [&] {
        const std::size_t count = geometry_.elements().size();
        digests_.refs.resize(count);
        digests_.bodies.resize(count);
        model.indexGuids();
        tbb::parallel_for(std::size_t{0}, count, [&](std::size_t i) {
            const auto element = static_cast<ifc::ElementIndex>(i);
            digests_.refs[i].add(std::string_view(model.elements()[element].guid));
            digests_.refs[i].add(static_cast<std::uint64_t>(model.ordinalOf(element)));
            digests_.bodies[i] = geometry_.digestOf(element);
        });
    });
    return digests_;
}

} // namespace wendrix::clash
