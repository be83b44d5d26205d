#include "clash.h"
#include "measure.h"

#include <CGAL/AABB_face_graph_triangle_primitive.h>
#include <CGAL/AABB_traits.h>
#include <CGAL/AABB_tree.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Side_of_triangle_mesh.h>
#include <CGAL/Surface_mesh.h>
#include <CGAL/box_intersection_d.h>
#include <tbb/parallel_for.h>

#include <atomic>
#include <memory>
#include <mutex>

namespace wendrix::bench {

namespace {

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Surface = CGAL::Surface_mesh<Kernel::Point_3>;
using Primitive = CGAL::AABB_face_graph_triangle_primitive<Surface>;
using Tree = CGAL::AABB_tree<CGAL::AABB_traits<Kernel, Primitive>>;
using Box = CGAL::Box_intersection_d::Box_with_info_d<double, 3, std::size_t>;

struct Body {
    explicit Body(const geometry::Mesh& m)
    {
        std::vector<Surface::Vertex_index> at;
        for (const Point3& p : m.points)
            at.push_back(surface.add_vertex({p.x, p.y, p.z}));
        for (const auto& t : m.triangles)
            surface.add_face(at[t[0]], at[t[1]], at[t[2]]);
        tree = std::make_unique<Tree>(faces(surface).first, faces(surface).second, surface);
        tree->build();
        side = std::make_unique<CGAL::Side_of_triangle_mesh<Surface, Kernel>>(*tree);
    }
    Surface surface;
    std::unique_ptr<Tree> tree;
    std::unique_ptr<CGAL::Side_of_triangle_mesh<Surface, Kernel>> side;
};

struct Set {
    explicit Set(const std::vector<geometry::Mesh>& m) : meshes(m), bodies(m.size()), once(m.size())
    {
        for (std::size_t i = 0; i < m.size(); ++i) {
            const Box3 b = geometry::boundsOf(m[i]);
            boxes.emplace_back(CGAL::Bbox_3(b.min.x, b.min.y, b.min.z, b.max.x, b.max.y, b.max.z), i);
        }
    }
    Body& body(std::size_t i)
    {
        std::call_once(once[i], [&] { bodies[i] = std::make_unique<Body>(meshes[i]); });
        return *bodies[i];
    }
    const std::vector<geometry::Mesh>& meshes;
    std::vector<Box> boxes;
    std::vector<std::unique_ptr<Body>> bodies;
    std::vector<std::once_flag> once;
};

} // namespace

Others hardWithCgal(const std::vector<geometry::Mesh>& left, const std::vector<geometry::Mesh>& right)
{
    std::atomic<std::size_t> pairs{0};
    const double ms = milliseconds(1, [&] {
        Set a(left), b(right);
        std::vector<std::pair<std::size_t, std::size_t>> candidates;
        CGAL::box_intersection_d(a.boxes.begin(), a.boxes.end(), b.boxes.begin(), b.boxes.end(),
                                 [&](const Box& x, const Box& y) { candidates.emplace_back(x.info(), y.info()); });
        tbb::parallel_for(std::size_t{0}, candidates.size(), [&](std::size_t k) {
            Body &x = a.body(candidates[k].first), &y = b.body(candidates[k].second);
            const auto isIn = [](const Body& one, const Body& other) {
                return (*other.side)(one.surface.point(*one.surface.vertices().begin())) == CGAL::ON_BOUNDED_SIDE;
            };
            if (x.tree->do_intersect(*y.tree) || isIn(x, y) || isIn(y, x))
                ++pairs;
        });
    });
    return {pairs, ms, "CGAL"};
}

} // namespace wendrix::bench
