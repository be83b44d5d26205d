#include "core/geometry/prism_cut.h"

#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Constrained_triangulation_face_base_2.h>
#include <CGAL/Exact_predicates_exact_constructions_kernel.h>
#include <CGAL/Triangulation_face_base_with_info_2.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>

#include <algorithm>
#include <cmath>
#include <map>

namespace wendrix::geometry {

namespace {

using Kernel = CGAL::Exact_predicates_exact_constructions_kernel;
struct FaceInfo {
    int region = -1; ///< faces that no outline parts
    bool isLeft = false; ///< of the host
};
using VertexBase = CGAL::Triangulation_vertex_base_with_info_2<std::uint32_t, Kernel>;
using FaceBase = CGAL::Constrained_triangulation_face_base_2<Kernel, CGAL::Triangulation_face_base_with_info_2<FaceInfo, Kernel>>;
using Cdt = CGAL::Constrained_Delaunay_triangulation_2<Kernel, CGAL::Triangulation_data_structure_2<VertexBase, FaceBase>, CGAL::Exact_intersections_tag>;

constexpr double kSame = 1e-9; // metres: what rounding may part

double& part(Point3& p, int axis) { return axis == 0 ? p.x : axis == 1 ? p.y : p.z; }
double part(const Point3& p, int axis) { return axis == 0 ? p.x : axis == 1 ? p.y : p.z; }

/// The other two coordinates, in an order that keeps the frame right-handed.
Point2 across(const Point3& p, int axis) { return {part(p, (axis + 1) % 3), part(p, (axis + 2) % 3)}; }
Point3 placed(Point2 p, double along, int axis)
{
    Point3 q;
    part(q, axis) = along;
    part(q, (axis + 1) % 3) = p.x;
    part(q, (axis + 2) % 3) = p.y;
    return q;
}

/// An extrusion along one axis: the edges of its profile.
struct Prism {
    double low = 0, high = 0;
    std::vector<std::array<Point2, 2>> outline; ///< each with the inside to its left
};

/// The mesh as an extrusion along an axis; nothing where it is none.
std::optional<Prism> asPrism(const Mesh& mesh, int axis)
{
    Prism prism;
    const Box3 box = boundsOf(mesh);
    prism.low = part(box.min, axis);
    prism.high = part(box.max, axis);
    if (!(prism.high - prism.low > 1e-6))
        return {};
    const auto isHigh = [&](std::uint32_t i) { return prism.high - part(mesh.points[i], axis) <= kSame; };
    std::vector<Point2> top, foot;
    for (std::uint32_t i = 0; i < mesh.points.size(); ++i) {
        if (isHigh(i))
            top.push_back(across(mesh.points[i], axis));
        else if (part(mesh.points[i], axis) - prism.low <= kSame)
            foot.push_back(across(mesh.points[i], axis));
        else
            return {}; // a corner between the two ends
    }
    // Each corner of one end stands over one of the other.
    if (top.size() != foot.size() || top.size() > 2000)
        return {};
    const auto before = [](Point2 a, Point2 b) { return a.x != b.x ? a.x < b.x : a.y < b.y; };
    std::sort(top.begin(), top.end(), before);
    std::sort(foot.begin(), foot.end(), before);
    for (std::size_t i = 0; i < top.size(); ++i)
        if (std::hypot(top[i].x - foot[i].x, top[i].y - foot[i].y) > kSame)
            return {};
    // The border of the triangles at the high end, which face along the axis; all others are ends or sides.
    std::map<std::array<std::uint32_t, 2>, int> edges;
    for (const Triangle& t : mesh.triangles) {
        const int high = isHigh(t[0]) + isHigh(t[1]) + isHigh(t[2]);
        if (high == 3)
            for (int i = 0; i < 3; ++i)
                ++edges[{t[static_cast<std::size_t>(i)], t[static_cast<std::size_t>((i + 1) % 3)]}];
    }
    for (const auto& [edge, count] : edges) {
        const auto back = edges.find({edge[1], edge[0]});
        if (count > 1 || (back != edges.end() && back->second > 1))
            return {};
        if (back == edges.end())
            prism.outline.push_back({across(mesh.points[edge[0]], axis), across(mesh.points[edge[1]], axis)});
    }
    if (prism.outline.empty())
        return {};
    // Its sides are upright over the outline and nothing else: then it holds what its outline does, times its height.
    double twice = 0;
    for (const auto& [a, b] : prism.outline)
        twice += (a.x - prism.outline[0][0].x) * (b.y - prism.outline[0][0].y) - (a.y - prism.outline[0][0].y) * (b.x - prism.outline[0][0].x);
    const double volume = 0.5 * twice * (prism.high - prism.low), held = volumeOf(mesh);
    if (!(volume > 0) || std::abs(volume - held) > 1e-9 * volume)
        return {};
    return prism;
}

/// Whether a place lies inside outlines, which it does not lie on; exact.
bool holds(const std::vector<std::array<Kernel::Point_2, 2>>& outline, const Kernel::Point_2& p)
{
    bool isInside = false;
    for (const auto& [a, b] : outline) {
        const bool isAbove = CGAL::compare_y(a, p) == CGAL::LARGER, isOtherAbove = CGAL::compare_y(b, p) == CGAL::LARGER;
        if (isAbove != isOtherAbove && (CGAL::orientation(a, b, p) == CGAL::LEFT_TURN) == isOtherAbove)
            isInside = !isInside;
    }
    return isInside;
}

/// The host's profile without those of the tools: triangles of what is left, and where no outline crosses.
class Profile {
public:
    void add(const Prism& prism)
    {
        std::vector<std::array<Kernel::Point_2, 2>> exact;
        for (const auto& [a, b] : prism.outline) {
            exact.push_back({Kernel::Point_2(a.x, a.y), Kernel::Point_2(b.x, b.y)});
            if (exact.back()[0] != exact.back()[1])
                cdt_.insert_constraint(exact.back()[0], exact.back()[1]);
        }
        outlines_.push_back(std::move(exact));
    }

    /// What is inside the first outline that was added and in none of the others, extruded.
    [[nodiscard]] Mesh extruded(double low, double high, int axis)
    {
        mark();
        Mesh mesh;
        // Where parts of what is left meet in one corner only, each has a corner of its own: else four sides would share an edge.
        std::map<std::pair<Cdt::Face_handle, int>, std::uint32_t> cornerOf;
        for (const Cdt::Face_handle face : cdt_.finite_face_handles())
            for (int i = 0; i < 3 && face->info().isLeft; ++i) {
                if (cornerOf.contains({face, i}))
                    continue;
                const auto number = static_cast<std::uint32_t>(mesh.points.size() / 2);
                const Point2 p{CGAL::to_double(face->vertex(i)->point().x()), CGAL::to_double(face->vertex(i)->point().y())};
                mesh.points.push_back(placed(p, low, axis));
                mesh.points.push_back(placed(p, high, axis));
                fan(face, face->vertex(i), number, cornerOf);
            }
        const auto at = [&](const Cdt::Face_handle& face, int i, bool isHigh) { return 2 * cornerOf.at({face, i}) + (isHigh ? 1u : 0u); };
        for (const Cdt::Face_handle face : cdt_.finite_face_handles()) {
            if (!face->info().isLeft)
                continue;
            mesh.triangles.push_back({at(face, 0, true), at(face, 1, true), at(face, 2, true)});
            mesh.triangles.push_back({at(face, 0, false), at(face, 2, false), at(face, 1, false)});
            for (int i = 0; i < 3; ++i) {
                if (face->neighbor(i)->info().isLeft)
                    continue;
                const int a = Cdt::ccw(i), b = Cdt::cw(i); // with what is left to the left
                mesh.triangles.push_back({at(face, a, false), at(face, b, false), at(face, b, true)});
                mesh.triangles.push_back({at(face, a, false), at(face, b, true), at(face, a, true)});
            }
        }
        return mesh;
    }

private:
    void mark()
    {
        int regions = 0;
        for (const Cdt::Face_handle start : cdt_.finite_face_handles()) {
            if (start->info().region >= 0)
                continue;
            const auto middle = CGAL::centroid(start->vertex(0)->point(), start->vertex(1)->point(), start->vertex(2)->point());
            bool isLeft = holds(outlines_[0], middle);
            for (std::size_t k = 1; k < outlines_.size() && isLeft; ++k)
                isLeft = !holds(outlines_[k], middle);
            std::vector<Cdt::Face_handle> queue{start};
            while (!queue.empty()) {
                const Cdt::Face_handle face = queue.back();
                queue.pop_back();
                if (face->info().region >= 0 || cdt_.is_infinite(face))
                    continue;
                face->info() = {regions, isLeft};
                for (int i = 0; i < 3; ++i)
                    if (!face->is_constrained(i))
                        queue.push_back(face->neighbor(i));
            }
            ++regions;
        }
    }

    /// Gives one corner to all faces of what is left that hang together about a vertex.
    static void fan(const Cdt::Face_handle& face, const Cdt::Vertex_handle& vertex, std::uint32_t number, std::map<std::pair<Cdt::Face_handle, int>, std::uint32_t>& cornerOf)
    {
        std::vector<Cdt::Face_handle> queue{face};
        while (!queue.empty()) {
            const Cdt::Face_handle one = queue.back();
            queue.pop_back();
            const int i = one->index(vertex);
            if (!one->info().isLeft || !cornerOf.try_emplace({one, i}, number).second)
                continue;
            queue.push_back(one->neighbor(Cdt::ccw(i)));
            queue.push_back(one->neighbor(Cdt::cw(i)));
        }
    }

    Cdt cdt_;
    std::vector<std::vector<std::array<Kernel::Point_2, 2>>> outlines_;
};

} // namespace

std::optional<Mesh> prismCut(const Mesh& host, std::span<const Mesh> tools)
{
    for (int axis = 0; axis < 3; ++axis) {
        const auto whole = asPrism(host, axis);
        if (!whole)
            continue;
        Profile profile;
        profile.add(*whole);
        const bool areAllThrough = std::all_of(tools.begin(), tools.end(), [&](const Mesh& tool) {
            const auto prism = asPrism(tool, axis);
            if (!prism || prism->low > whole->low + kSame || prism->high < whole->high - kSame)
                return false;
            profile.add(*prism);
            return true;
        });
        if (areAllThrough)
            return profile.extruded(whole->low, whole->high, axis);
    }
    return {};
}

} // namespace wendrix::geometry
