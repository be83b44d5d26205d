#include "core/geometry/through_cut.h"

#include "core/geometry/plane_cells.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace wendrix::geometry {

namespace {

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

/// The edges that triangles of a mesh do not share among each other; nothing where one has more than two sides.
/// @param in  a corner in the plane the outline is wanted in
template <class In>
std::optional<Outline> borderOf(const Mesh& mesh, const std::vector<std::size_t>& triangles, In in)
{
    std::map<std::array<std::uint32_t, 2>, int> edges;
    for (const std::size_t t : triangles)
        for (std::size_t i = 0; i < 3; ++i)
            ++edges[{mesh.triangles[t][i], mesh.triangles[t][(i + 1) % 3]}];
    Outline outline;
    for (const auto& [edge, count] : edges) {
        const auto back = edges.find({edge[1], edge[0]});
        if (count > 1)
            return {};
        if (back == edges.end())
            outline.push_back({in(mesh.points[edge[0]]), in(mesh.points[edge[1]])});
    }
    return outline;
}

/// Which way the triangles of a body face, along one axis of its frame.
struct Faces {
    double low = 0, high = 0;                              ///< the two plane faces at the ends
    std::vector<std::size_t> atLow, atHigh, along, others; ///< along: parallel to the axis
};

Faces facesOf(const Mesh& mesh, int axis)
{
    Faces faces;
    const Box3 box = boundsOf(mesh);
    faces.low = part(box.min, axis);
    faces.high = part(box.max, axis);
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
        const auto c = mesh.corners(t);
        const auto areAllAt = [&](double level) {
            return std::all_of(c.begin(), c.end(),
                               [&](const Point3& p) { return std::abs(part(p, axis) - level) <= kSame; });
        };
        const Vector3 n = cross(c[1] - c[0], c[2] - c[0]);
        if (areAllAt(faces.high))
            faces.atHigh.push_back(t);
        else if (areAllAt(faces.low))
            faces.atLow.push_back(t);
        else if (std::abs(part(Point3{n.x, n.y, n.z}, axis)) <= kSame * length(n))
            faces.along.push_back(t);
        else
            faces.others.push_back(t);
    }
    return faces;
}

/// The profile of a straight extrusion along an axis that reaches from `low` to `high` or farther; nothing where it is
/// none.
std::optional<Outline> profileOf(const Mesh& tool, int axis, double low, double high)
{
    const Faces faces = facesOf(tool, axis);
    if (!faces.others.empty() || faces.low > low + kSame || faces.high < high - kSame || faces.atHigh.empty())
        return {};
    auto profile = borderOf(tool, faces.atHigh, [&](const Point3& p) { return across(p, axis); });
    if (!profile)
        return {};
    // Its sides stand over the profile and nothing else: then it holds what that does, times its height.
    const double volume = areaOf(*profile) * (faces.high - faces.low);
    if (!(volume > 0) || std::abs(volume - volumeOf(tool)) > 1e-9 * volume)
        return {};
    return profile;
}

struct Rectangle {
    Point2 min{1e300, 1e300}, max{-1e300, -1e300};
    void add(Point2 p)
    {
        min = {std::min(min.x, p.x), std::min(min.y, p.y)};
        max = {std::max(max.x, p.x), std::max(max.y, p.y)};
    }
};

/// Whether the inside of a triangle comes into that of a rectangle (separating axes).
bool overlap(const std::array<Point2, 3>& triangle, const Rectangle& r)
{
    Rectangle own;
    for (const Point2 p : triangle)
        own.add(p);
    if (own.max.x <= r.min.x + kSame || own.min.x >= r.max.x - kSame || own.max.y <= r.min.y + kSame ||
        own.min.y >= r.max.y - kSame)
        return false;
    const Point2 corners[] = {r.min, {r.max.x, r.min.y}, r.max, {r.min.x, r.max.y}};
    for (std::size_t i = 0; i < 3; ++i) {
        const Point2 a = triangle[i], b = triangle[(i + 1) % 3];
        const Vector2 normal{b.y - a.y, a.x - b.x};
        const double size = length(normal);
        if (!(size > 0))
            continue;
        const auto at = [&](Point2 p) { return dot(Vector2{p.x - a.x, p.y - a.y}, normal) / size; };
        const double third = at(triangle[(i + 2) % 3]);
        double nearest = 1e300;
        for (const Point2 c : corners)
            nearest = std::min(nearest, third < 0 ? -at(c) : at(c));
        const double reach = std::abs(third);
        double farthest = -1e300;
        for (const Point2 c : corners)
            farthest = std::max(farthest, third < 0 ? -at(c) : at(c));
        if (nearest >= reach - kSame || farthest <= kSame)
            return false;
    }
    return true;
}

bool hasTwoSidesEverywhere(const Mesh& mesh)
{
    std::map<std::array<std::uint32_t, 2>, int> edges;
    for (const Triangle& t : mesh.triangles)
        for (std::size_t i = 0; i < 3; ++i)
            if (++edges[{t[i], t[(i + 1) % 3]}] > 1)
                return false;
    return std::all_of(edges.begin(), edges.end(), [&](const auto& e) {
        return edges.contains({e.first[1], e.first[0]});
    });
}

/// Without points that no triangle uses.
Mesh used(const Mesh& mesh)
{
    Mesh result;
    std::vector<std::uint32_t> to(mesh.points.size(), ~0u);
    for (Triangle t : mesh.triangles) {
        for (std::uint32_t& i : t) {
            if (to[i] == ~0u) {
                to[i] = static_cast<std::uint32_t>(result.points.size());
                result.points.push_back(mesh.points[i]);
            }
            i = to[i];
        }
        result.triangles.push_back(t);
    }
    return result;
}

/// The cut along one axis.
class Cut {
public:
    Cut(const Mesh& host, const Faces& faces, int axis) : host_(host), faces_(faces), axis_(axis)
    {
        result_.points = host.points;
    }

    /// @return nothing where more than the two ends and what stands upright between them is concerned
    std::optional<Mesh> without(const std::vector<Outline>& tools)
    {
        for (const std::size_t t : faces_.others)
            if (isConcerned(t, tools))
                return {};
        const auto in = [&](const Point3& p) { return across(p, axis_); };
        const auto high = borderOf(host_, faces_.atHigh, in);
        auto low = borderOf(host_, faces_.atLow, in);
        if (!high || !low || high->empty() || low->empty())
            return {};
        const double taken = addEnd(*high, tools, true), takenBelow = addEnd(*low, tools, false);
        if (std::abs(taken - takenBelow) > kSame)
            return {};
        addSides();
        for (const std::size_t t : faces_.others)
            result_.triangles.push_back(host_.triangles[t]);
        const double wanted = volumeOf(host_) - taken * (faces_.high - faces_.low);
        Mesh whole = used(welded(result_, Metres{kSame}));
        if (whole.isEmpty())
            return std::abs(wanted) < kSame ? std::optional(Mesh()) : std::nullopt;
        if (!hasTwoSidesEverywhere(whole) || std::abs(volumeOf(whole) - wanted) > kSame * std::max(1.0, wanted))
            return {};
        return whole;
    }

private:
    bool isConcerned(std::size_t triangle, const std::vector<Outline>& tools) const
    {
        const auto c = host_.corners(triangle);
        const std::array<Point2, 3> flat{across(c[0], axis_), across(c[1], axis_), across(c[2], axis_)};
        return std::any_of(tools.begin(), tools.end(), [&](const Outline& tool) {
            Rectangle r;
            for (const auto& edge : tool)
                r.add(edge[0]);
            return overlap(flat, r);
        });
    }

    void add(const std::array<Point3, 3>& corners)
    {
        const auto first = static_cast<std::uint32_t>(result_.points.size());
        result_.points.insert(result_.points.end(), corners.begin(), corners.end());
        result_.triangles.push_back({first, first + 1, first + 2});
    }

    /// An upright face over the way from a to b, with the body to its left.
    void addUpright(Point2 a, Point2 b)
    {
        const Point3 p = placed(a, faces_.low, axis_), q = placed(b, faces_.low, axis_),
                     r = placed(b, faces_.high, axis_), s = placed(a, faces_.high, axis_);
        add({p, q, r});
        add({p, r, s});
    }

    /// One of the two plane faces, without the tools. @return the area they take
    double addEnd(const Outline& end, const std::vector<Outline>& tools, bool isHigh)
    {
        double taken = 0;
        for (const Cell& cell : cellsOf(end, tools)) {
            const auto [a, b, c] = cell.corners;
            const auto at = [&](Point2 p) { return placed(p, isHigh ? faces_.high : faces_.low, axis_); };
            if (cell.state == CellState::Left)
                add(isHigh ? std::array{at(a), at(b), at(c)} : std::array{at(a), at(c), at(b)});
            if (cell.state != CellState::Taken)
                continue;
            taken += 0.5 * cross(Vector2{b.x - a.x, b.y - a.y}, Vector2{c.x - a.x, c.y - a.y});
            for (std::size_t i = 0; i < 3 && isHigh; ++i) {
                const Point2 from = cell.corners[i], to = cell.corners[(i + 1) % 3];
                if (cell.beyond[i] == CellState::Left)
                    addUpright(to, from); // a reveal
                else if (cell.beyond[i] == CellState::Outside)
                    removed_.push_back({from, to}); // of the border, with what stood upright over it
            }
        }
        return taken;
    }

    void addSides()
    {
        std::vector<bool> isDone(host_.triangles.size(), false);
        for (const auto& line : removed_) {
            const Point2 a = line[0], b = line[1];
            const double size = std::hypot(b.x - a.x, b.y - a.y);
            const Vector2 e{(b.x - a.x) / size, (b.y - a.y) / size};
            const auto off = [&](Point2 p) { return cross(e, Vector2{p.x - a.x, p.y - a.y}); };
            std::vector<std::size_t> side;
            for (const std::size_t t : faces_.along) {
                const auto c = host_.corners(t);
                const Vector3 n = normalised(cross(c[1] - c[0], c[2] - c[0]));
                const Point2 facing = across(Point3{n.x, n.y, n.z}, axis_);
                if (!isDone[t] && facing.x * e.y - facing.y * e.x > 0.5 &&
                    std::all_of(c.begin(), c.end(),
                                [&](const Point3& p) { return std::abs(off(across(p, axis_))) <= kSame; }))
                    side.push_back(t);
            }
            const auto in = [&](const Point3& p) {
                const Point2 q = across(p, axis_);
                // At the ends exactly, so that the strips end on them instead of crossing them.
                const double v = part(p, axis_), end = std::abs(v - faces_.low) <= kSame    ? faces_.low
                                                       : std::abs(v - faces_.high) <= kSame ? faces_.high
                                                                                            : v;
                return Point2{dot(e, Vector2{q.x - a.x, q.y - a.y}), end};
            };
            const auto border = borderOf(host_, side, in);
            if (side.empty() || !border)
                continue; // then it does not come out closed
            std::vector<Outline> strips;
            for (const auto& [from, to] : removed_)
                if (std::abs(off(from)) <= kSame && std::abs(off(to)) <= kSame &&
                    dot(e, Vector2{to.x - from.x, to.y - from.y}) > 0) {
                    const double u = dot(e, Vector2{from.x - a.x, from.y - a.y}),
                                 v = dot(e, Vector2{to.x - a.x, to.y - a.y});
                    const double foot = faces_.low, top = faces_.high;
                    strips.push_back({{Point2{u, foot}, Point2{v, foot}},
                                      {Point2{v, foot}, Point2{v, top}},
                                      {Point2{v, top}, Point2{u, top}},
                                      {Point2{u, top}, Point2{u, foot}}});
                }
            for (const Cell& cell : cellsOf(*border, strips))
                if (cell.state == CellState::Left) {
                    const auto at = [&](Point2 p) { return placed({a.x + p.x * e.x, a.y + p.x * e.y}, p.y, axis_); };
                    add({at(cell.corners[0]), at(cell.corners[1]), at(cell.corners[2])});
                }
            for (const std::size_t t : side)
                isDone[t] = true;
        }
        for (const std::size_t t : faces_.along)
            if (!isDone[t])
                result_.triangles.push_back(host_.triangles[t]);
    }

    const Mesh& host_;
    const Faces& faces_;
    int axis_;
    Mesh result_; ///< the host's own corners first, so that those are kept where others come to lie on them
    std::vector<std::array<Point2, 2>> removed_;
};

} // namespace

std::optional<Mesh> throughCut(const Mesh& host, std::span<const Mesh> tools)
{
    for (int axis = 0; axis < 3; ++axis) {
        const Faces faces = facesOf(host, axis);
        if (faces.atLow.empty() || faces.atHigh.empty() || !(faces.high - faces.low > 1e-6))
            continue;
        std::vector<Outline> profiles;
        for (const Mesh& tool : tools) {
            auto profile = profileOf(tool, axis, faces.low, faces.high);
            if (!profile)
                break;
            profiles.push_back(std::move(*profile));
        }
        if (profiles.size() == tools.size())
            if (auto cut = Cut(host, faces, axis).without(profiles))
                return cut;
    }
    return {};
}

} // namespace wendrix::geometry
