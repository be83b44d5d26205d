#include "scene/member_vertices.h"

#include <algorithm>
#include <numeric>

namespace wendrix::app {

namespace {

// Below this a shape is cheaper in the common list than with a call of its own.
constexpr std::size_t kFewestInstances = 6;

float f(double v) { return static_cast<float>(v); }

void addShape(MemberVertices& v, const geometry::Shape& shape, const Transform& map, float element)
{
    const bool isMirrored = map.determinant() < 0;
    std::vector<Vector3> at;
    at.reserve(shape.mesh.points.size());
    for (const Point3 p : shape.mesh.points)
        at.push_back(map.apply(p));
    for (geometry::Triangle t : shape.mesh.triangles) {
        if (isMirrored)
            std::swap(t[1], t[2]);
        const Vector3 n = normalised(cross(at[t[1]] - at[t[0]], at[t[2]] - at[t[0]]));
        for (const std::uint32_t i : t)
            v.faces.push_back({f(at[i].x), f(at[i].y), f(at[i].z), f(n.x), f(n.y), f(n.z), element});
    }
    for (const auto& edge : shape.edges)
        for (const std::uint32_t i : edge)
            v.edges.push_back({f(at[i].x), f(at[i].y), f(at[i].z), element});
}

} // namespace

MemberVertices verticesOf(const federation::Member& member)
{
    std::vector<ifc::ElementIndex> all(member.geometry->elements().size());
    std::iota(all.begin(), all.end(), ifc::ElementIndex{0});
    return verticesOf(member, all);
}

MemberVertices verticesOf(const federation::Member& member, std::span<const ifc::ElementIndex> some)
{
    MemberVertices v;
    const Transform fit = member.fit.transform();
    v.origin = fit.apply(member.geometry->bounds().isEmpty() ? Point3{} : member.geometry->bounds().centre());
    struct Use {
        std::uint32_t element;
        const geometry::PlacedShape* placed;
        float size;
    };
    const auto& shapes = member.geometry->shapes();
    const auto& elements = member.geometry->elements();
    std::vector<std::vector<Use>> uses(shapes.size());
    for (std::uint32_t i = 0; i < some.size(); ++i)
        for (const geometry::PlacedShape& placed : elements[some[i]].placed)
            uses[placed.shape].push_back({i, &placed, f(length(elements[some[i]].bounds.size()))});
    const auto bySize = [](const Use& a, const Use& b) { return a.size > b.size; };
    const auto mapOf = [&](const Use& use) {
        Transform map = fit * use.placed->placement;
        map.origin = map.origin - v.origin;
        return map;
    };

    std::vector<Use> singles;
    v.order.emplace_back();
    for (std::size_t s = 0; s < shapes.size(); ++s) {
        if (uses[s].size() < kFewestInstances) {
            singles.insert(singles.end(), uses[s].begin(), uses[s].end());
            continue;
        }
        MemberVertices::Group group;
        group.firstFace = static_cast<GLint>(v.faces.size());
        group.firstEdge = static_cast<GLint>(v.edges.size());
        group.firstInstance = v.instances.size();
        addShape(v, shapes[s], {}, 0);
        group.faces = static_cast<GLsizei>(v.faces.size()) - group.firstFace;
        group.edges = static_cast<GLsizei>(v.edges.size()) - group.firstEdge;
        std::stable_sort(uses[s].begin(), uses[s].end(), bySize);
        std::vector<view::DrawStep> order;
        for (const Use& use : uses[s]) {
            const Transform m = mapOf(use);
            v.instances.push_back({{f(m.x.x), f(m.y.x), f(m.z.x), f(m.origin.x), f(m.x.y), f(m.y.y), f(m.z.y),
                                    f(m.origin.y), f(m.x.z), f(m.y.z), f(m.z.z), f(m.origin.z)},
                                   static_cast<float>(use.element)});
            order.push_back({use.size, (order.size() + 1) * shapes[s].mesh.triangles.size()});
        }
        v.groups.push_back(group);
        v.order.push_back(std::move(order));
    }
    // The common list goes behind the shapes of the groups, so that one buffer holds both.
    std::stable_sort(singles.begin(), singles.end(), bySize);
    MemberVertices::Group common;
    common.firstFace = static_cast<GLint>(v.faces.size());
    common.firstEdge = static_cast<GLint>(v.edges.size());
    for (const Use& use : singles) {
        addShape(v, shapes[use.placed->shape], mapOf(use), static_cast<float>(use.element));
        v.order[0].push_back({use.size, (v.faces.size() - static_cast<std::size_t>(common.firstFace)) / 3});
        v.singleEdges.push_back(static_cast<GLsizei>(v.edges.size()) - common.firstEdge);
    }
    v.groups.insert(v.groups.begin(), common);
    return v;
}

MemberVertices verticesOf(const view::CutFaces& cut, Vector3 normal)
{
    // A hair behind the cut, or it would be cut away itself.
    constexpr double kBehindMetres = 2e-4;
    const Vector3 behind = -kBehindMetres * normal;
    MemberVertices v;
    v.origin = cut.outlines.empty() ? Point3{} : cut.outlines.front()[0];
    for (std::size_t i = 0; i < cut.faces.size(); ++i) {
        const view::CutFaces::Face& face = cut.faces[i];
        const bool isLast = i + 1 == cut.faces.size();
        const auto element = static_cast<float>(i);
        const std::size_t lastTriangle = isLast ? cut.fill.triangles.size() : cut.faces[i + 1].firstTriangle;
        for (std::size_t t = face.firstTriangle; t < lastTriangle; ++t)
            for (const Point3 p : cut.fill.corners(t)) {
                const Vector3 d = p + behind - v.origin;
                v.faces.push_back({f(d.x), f(d.y), f(d.z), f(normal.x), f(normal.y), f(normal.z), element});
            }
        const std::size_t lastLine = isLast ? cut.outlines.size() : cut.faces[i + 1].firstLine;
        for (std::size_t l = face.firstLine; l < lastLine; ++l)
            for (const Point3 p : cut.outlines[l]) {
                const Vector3 d = p + behind - v.origin;
                v.edges.push_back({f(d.x), f(d.y), f(d.z), element});
            }
    }
    v.groups.push_back({});
    v.order.push_back({{1e9f, v.faces.size() / 3}});
    v.singleEdges.push_back(static_cast<GLsizei>(v.edges.size()));
    return v;
}

} // namespace wendrix::app
