#include "core/geometry/half_space.h"

#include "core/geometry/plane_clip.h"
#include "core/geometry/primitives.h"
#include "core/geometry/sweep.h"
#include "core/geometry/wedge_cut.h"

#include <algorithm>

namespace wendrix::geometry {

using ifc::Entity;

namespace {

constexpr double kSameLineMetres = 1e-7, kInPlaneMetres = 1e-8;

std::optional<Solid> solidOf(const Mesh& mesh)
{
    auto solid = Solid::from(mesh);
    return solid ? std::optional(std::move(*solid)) : std::nullopt;
}

/// The box on one side of the plane z = 0 of a frame that holds all of `what` there; its other faces meet nothing.
Mesh blockBeside(const Transform& plane, bool isBelow, const Box3& what, double reach)
{
    Box3 box = plane.inverse().apply(what.grownBy(reach));
    box.min.z = isBelow ? std::min(box.min.z, -1.0) : 0;
    box.max.z = isBelow ? 0 : std::max(box.max.z, 1.0);
    return transformed(boxMesh(box), plane);
}

/// What a closed surface encloses, as far as `around` reaches; empty for a surface of another kind or without a size.
Mesh insideOf(const CurveReader& curves, const Entity& surface, const Transform& frame, const Box3& around,
              double reach)
{
    const double scale = curves.units().lengthToMetres;
    const double radius = scale * surface["Radius"].numberOr(0);
    if (surface.isA("IfcCylindricalSurface")) {
        const Box3 box = frame.inverse().apply(around.grownBy(reach));
        return transformed(cylinderMesh(radius, box.size().z, curves.fineness()),
                           frame * Transform::translation({0, 0, box.min.z}));
    }
    if (surface.isA("IfcSphericalSurface"))
        return transformed(sphereMesh(radius, curves.fineness()), frame);
    if (surface.isA("IfcToroidalSurface"))
        return transformed(torusMesh(scale * surface["MajorRadius"].numberOr(0),
                                     scale * surface["MinorRadius"].numberOr(0), curves.fineness()),
                           frame);
    return {};
}

/// The corners of the part of a body behind a plane; none where nothing of it lies there.
std::vector<Point3> cornersBehind(const Mesh& body, const Plane& plane)
{
    std::vector<Point3> corners;
    bool isAnyBehind = false;
    for (const Triangle& t : body.triangles)
        for (std::size_t i = 0; i < 3; ++i) {
            const Point3 a = body.points[t[i]], b = body.points[t[(i + 1) % 3]];
            const double from = plane.distance(a), to = plane.distance(b);
            isAnyBehind = isAnyBehind || from < -kInPlaneMetres;
            if (from <= kInPlaneMetres)
                corners.push_back(a);
            if (std::min(from, to) < -kInPlaneMetres && std::max(from, to) > kInPlaneMetres)
                corners.push_back(a + from / (from - to) * (b - a));
        }
    return isAnyBehind ? corners : std::vector<Point3>{};
}

/// The edges of an outline, counter-clockwise, that points lie beyond; planes and outlines of one gable meet in a line
/// that rounding has moved, which is not beyond.
std::vector<std::size_t> edgesCrossed(const Ring& ring, const Ring& points)
{
    std::vector<std::size_t> crossed;
    for (std::size_t i = 0; i < ring.size(); ++i) {
        const Point2 a = ring[i], along = ring[(i + 1) % ring.size()] - a;
        if (std::any_of(points.begin(), points.end(),
                        [&](Point2 p) { return cross(along, p - a) < -kSameLineMetres * length(along); }))
            crossed.push_back(i);
    }
    return crossed;
}

} // namespace

std::optional<Solid> readHalfSpace(const CurveReader& curves, const Entity& e, const Box3& around, std::string& why)
{
    const auto cannot = [&](const char* reason) {
        why = reason;
        return std::nullopt;
    };
    const Entity surface = curves.source().entity(e["BaseSurface"]);
    const Transform base = curves.placements().axisPlacement(surface["Position"]);
    if (!(length(around.size()) < kFarthestMetres) || !(length(base.origin) < kFarthestMetres))
        return cannot("it lies nowhere on earth");
    const bool isBehind = e["AgreementFlag"].enumeration() != "F";
    const double reach = 1.0 + 0.01 * length(around.size());
    if (!surface.isA("IfcPlane")) {
        const Mesh mesh = insideOf(curves, surface, base, around, reach);
        if (mesh.isEmpty() || !isSomewhere(mesh) || e.isA("IfcPolygonalBoundedHalfSpace"))
            return cannot("a half space is bounded by something other than a plane, a cylinder, a sphere or a torus");
        auto inside = solidOf(mesh);
        if (!inside || isBehind)
            return inside;
        auto outside = solidOf(boxMesh(around.grownBy(reach)));
        if (!outside || !outside->combine(*inside, BooleanKind::Difference))
            return cannot("what is outside of its surface can not be built");
        return outside;
    }
    if (!e.isA("IfcPolygonalBoundedHalfSpace"))
        return solidOf(blockBeside(base, isBehind, around, reach));
    std::string unsupported;
    auto outline = curves.ring(curves.source().entity(e["PolygonalBoundary"]), unsupported);
    if (!outline || outline->size() < 3)
        return cannot("the outline of a half space can not be read");
    if (signedArea(*outline) < 0)
        std::reverse(outline->begin(), outline->end());
    const Transform frame = curves.placements().axisPlacement(e["Position"]);
    const Box3 inFrame = frame.inverse().apply(around.grownBy(reach));
    const auto prism = extruded({*outline, {}}, {0, 0, inFrame.size().z});
    if (!prism)
        return cannot("the outline of a half space crosses itself");
    const Mesh placed = transformed(*prism, frame * Transform::translation({0, 0, inFrame.min.z}));
    if (!isSomewhere(placed))
        return cannot("it lies nowhere on earth");
    if (const auto cut = clippedBehind(placed, {base.origin, isBehind ? base.z : -base.z}); cut && !cut->isEmpty())
        if (auto quick = solidOf(*cut))
            return quick;
    auto bounded = solidOf(placed);
    const auto half = solidOf(blockBeside(base, isBehind, boundsOf(placed), reach));
    if (!bounded || !half || !bounded->combine(*half, BooleanKind::Intersection))
        return cannot("the outline of a half space touches itself");
    return bounded;
}

std::optional<Mesh> clippedBy(const CurveReader& curves, const Entity& e, const Mesh& body, BooleanKind kind)
{
    const Entity surface = curves.source().entity(e["BaseSurface"]);
    const Transform base = curves.placements().axisPlacement(surface["Position"]);
    if (!surface.isA("IfcPlane") || kind == BooleanKind::Union || !(length(base.origin) < kFarthestMetres))
        return {};
    const bool isBehind = e["AgreementFlag"].enumeration() != "F";
    const Plane in{base.origin, isBehind ? base.z : -base.z}, out{base.origin, -in.normal}; // material is behind `in`
    if (!e.isA("IfcPolygonalBoundedHalfSpace"))
        return clippedBehind(body, kind == BooleanKind::Difference ? out : in);
    const std::vector<Point3> within = cornersBehind(body, in);
    if (within.empty())
        return kind == BooleanKind::Difference ? body : Mesh{};
    std::string unsupported;
    auto outline = curves.ring(curves.source().entity(e["PolygonalBoundary"]), unsupported);
    if (!outline || outline->size() < 3)
        return {};
    if (signedArea(*outline) < 0)
        std::reverse(outline->begin(), outline->end());
    const Transform frame = curves.placements().axisPlacement(e["Position"]);
    const Transform toFrame = frame.inverse();
    Ring flat;
    for (const Point3 p : within)
        flat.push_back({toFrame.apply(p).x, toFrame.apply(p).y});
    const std::vector<std::size_t> crossed = edgesCrossed(*outline, flat);
    if (crossed.empty())
        return clippedBehind(body, kind == BooleanKind::Difference ? out : in);
    // Where an outline ends within the body, it does at one edge: the ridge of a roof over a gable. Only of a convex
    // outline, no corner of which lies beyond an edge, is what is beyond that one all that is outside.
    if (crossed.size() > 1 || kind != BooleanKind::Difference || !edgesCrossed(*outline, *outline).empty())
        return {};
    const Point2 a = (*outline)[crossed.front()], b = (*outline)[(crossed.front() + 1) % outline->size()];
    const Vector3 inward = normalised(frame.turn(Vector3{a.y - b.y, b.x - a.x, 0}));
    return withoutWedge(body, out, {frame.apply(Point3{a.x, a.y, 0}), inward});
}

} // namespace wendrix::geometry
