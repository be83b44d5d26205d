#include "core/geometry/boolean.h"

#include <CGAL/Exact_predicates_exact_constructions_kernel.h>
#include <CGAL/Polygon_mesh_processing/corefinement.h>
#include <CGAL/Polygon_mesh_processing/orientation.h>
#include <CGAL/Polygon_mesh_processing/polygon_soup_to_polygon_mesh.h>
#include <CGAL/Surface_mesh.h>

#include <cmath>
#include <optional>

namespace wendrix::geometry {

namespace {

namespace pmp = CGAL::Polygon_mesh_processing;
using Kernel = CGAL::Exact_predicates_exact_constructions_kernel;
using Surface = CGAL::Surface_mesh<Kernel::Point_3>;

std::optional<Surface> toSurface(const Mesh& mesh)
{
    // Only points that are used: an isolated vertex has no face, and CGAL asks each for one.
    std::vector<Kernel::Point_3> points;
    std::vector<std::size_t> to(mesh.points.size(), mesh.points.size());
    std::vector<std::vector<std::size_t>> faces;
    for (const Triangle& t : mesh.triangles) {
        for (const std::uint32_t i : t) {
            const Point3 p = mesh.points[i];
            if (!std::isfinite(p.x) || !std::isfinite(p.y) || !std::isfinite(p.z))
                return {};
            if (to[i] == mesh.points.size()) {
                to[i] = points.size();
                points.emplace_back(p.x, p.y, p.z);
            }
        }
        faces.push_back({to[t[0]], to[t[1]], to[t[2]]});
    }
    if (!pmp::is_polygon_soup_a_polygon_mesh(faces) && !pmp::orient_polygon_soup(points, faces))
        return {};
    Surface solid;
    pmp::polygon_soup_to_polygon_mesh(points, faces, solid);
    if (solid.is_empty() || !CGAL::is_closed(solid))
        return {};
    if (!pmp::does_bound_a_volume(solid))
        pmp::orient_to_bound_a_volume(solid);
    return solid;
}

Mesh rounded(const Surface& solid)
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

bool apply(Surface& a, Surface& b, BooleanKind kind, Surface& out)
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

struct Solid::Body {
    Surface surface;
};

Solid::Solid(std::unique_ptr<Body> body) : body_(std::move(body)) {}
Solid::Solid(Solid&&) noexcept = default;
Solid& Solid::operator=(Solid&&) noexcept = default;
Solid::~Solid() = default;

Result<Solid> Solid::from(const Mesh& mesh)
{
    try {
        if (auto surface = toSurface(mesh))
            return Solid(std::make_unique<Body>(Body{std::move(*surface)}));
    } catch (const std::exception&) { // what its faces make is no surface
    }
    return fail(notASolid());
}

Result<void> Solid::combine(const Solid& other, BooleanKind kind)
{
    // Corefinement changes both operands.
    Surface a = body_->surface, b = other.body_->surface, out;
    if (a.is_empty() || b.is_empty()) {
        if (kind == BooleanKind::Intersection)
            body_->surface.clear();
        else if (kind == BooleanKind::Union && a.is_empty())
            body_->surface = b;
        return {};
    }
    if (!apply(a, b, kind, out))
        return fail(notASolid());
    out.collect_garbage();
    body_->surface = std::move(out);
    return {};
}

bool Solid::isEmpty() const { return body_->surface.is_empty(); }

Mesh Solid::mesh() const { return rounded(body_->surface); }

Result<Mesh> combine(const Mesh& a, const Mesh& b, BooleanKind kind)
{
    auto left = Solid::from(a);
    const auto right = Solid::from(b);
    if (!left || !right)
        return fail(notASolid());
    if (const auto done = left->combine(*right, kind); !done)
        return fail(done.error());
    return left->mesh();
}

Result<Mesh> subtractAll(const Mesh& host, std::span<const Mesh> tools, std::vector<std::size_t>& leftOut)
{
    auto solid = Solid::from(host);
    if (!solid)
        return fail(notASolid());
    for (std::size_t i = 0; i < tools.size() && !solid->isEmpty(); ++i) {
        const auto tool = Solid::from(tools[i]);
        if (!tool || !solid->combine(*tool, BooleanKind::Difference))
            leftOut.push_back(i);
    }
    return solid->mesh();
}

} // namespace wendrix::geometry
