#include "core/geometry/boolean.h"

#include <CGAL/Exact_predicates_exact_constructions_kernel.h>
#include <CGAL/Polygon_mesh_processing/corefinement.h>
#include <CGAL/Polygon_mesh_processing/orientation.h>
#include <CGAL/Polygon_mesh_processing/polygon_soup_to_polygon_mesh.h>
#include <CGAL/Surface_mesh.h>

#include <optional>

namespace wendrix::geometry {

namespace {

namespace pmp = CGAL::Polygon_mesh_processing;
using Kernel = CGAL::Exact_predicates_exact_constructions_kernel;
using Solid = CGAL::Surface_mesh<Kernel::Point_3>;

std::optional<Solid> toSolid(const Mesh& mesh)
{
    std::vector<Kernel::Point_3> points;
    for (const Point3 p : mesh.points)
        points.emplace_back(p.x, p.y, p.z);
    std::vector<std::vector<std::size_t>> faces;
    for (const Triangle& t : mesh.triangles)
        faces.push_back({t[0], t[1], t[2]});
    if (!pmp::is_polygon_soup_a_polygon_mesh(faces) && !pmp::orient_polygon_soup(points, faces))
        return {};
    Solid solid;
    pmp::polygon_soup_to_polygon_mesh(points, faces, solid);
    if (solid.is_empty() || !CGAL::is_closed(solid))
        return {};
    if (!pmp::does_bound_a_volume(solid))
        pmp::orient_to_bound_a_volume(solid);
    return solid;
}

Mesh fromSolid(const Solid& solid)
{
    Mesh mesh;
    std::vector<std::uint32_t> index(solid.number_of_vertices() + solid.number_of_removed_vertices());
    for (const auto v : solid.vertices()) {
        index[v] = static_cast<std::uint32_t>(mesh.points.size());
        const auto& p = solid.point(v);
        mesh.points.push_back({CGAL::to_double(p.x()), CGAL::to_double(p.y()), CGAL::to_double(p.z())});
    }
    for (const auto f : solid.faces()) {
        Triangle t{};
        std::size_t i = 0;
        for (const auto v : solid.vertices_around_face(solid.halfedge(f)))
            t[i++] = index[v];
        mesh.triangles.push_back(t);
    }
    return mesh;
}

bool apply(Solid& a, Solid& b, BooleanKind kind, Solid& out)
{
    const auto strict = CGAL::parameters::throw_on_self_intersection(true);
    try {
        switch (kind) {
        case BooleanKind::Union:
            return pmp::corefine_and_compute_union(a, b, out, strict);
        case BooleanKind::Intersection:
            return pmp::corefine_and_compute_intersection(a, b, out, strict);
        case BooleanKind::Difference:
            return pmp::corefine_and_compute_difference(a, b, out, strict);
        }
    } catch (const std::exception&) { // CGAL says so when an operand cuts itself
    }
    return false;
}

Error notASolid()
{
    return {kNotASolid, "A boolean operand is open or cuts itself, so it has no inside; the body is left as it was."};
}

} // namespace

Result<Mesh> combine(const Mesh& a, const Mesh& b, BooleanKind kind)
{
    auto left = toSolid(a), right = toSolid(b);
    if (!left || !right)
        return fail(notASolid());
    Solid out;
    if (!apply(*left, *right, kind, out))
        return fail(notASolid());
    return fromSolid(out);
}

Result<Mesh> subtractAll(const Mesh& host, std::span<const Mesh> tools, std::vector<std::size_t>& leftOut)
{
    auto solid = toSolid(host);
    if (!solid)
        return fail(notASolid());
    for (std::size_t i = 0; i < tools.size(); ++i) {
        auto tool = toSolid(tools[i]);
        Solid before = *solid, out;
        if (tool && apply(before, *tool, BooleanKind::Difference, out))
            *solid = std::move(out);
        else
            leftOut.push_back(i);
        if (solid->is_empty())
            break;
    }
    solid->collect_garbage();
    return fromSolid(*solid);
}

} // namespace wendrix::geometry
