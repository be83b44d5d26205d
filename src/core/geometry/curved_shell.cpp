#include "core/geometry/curved_shell.h"

#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <GeomAPI_ProjectPointOnCurve.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_BSplineSurface.hxx>
#include <Geom_Circle.hxx>
#include <Geom_CylindricalSurface.hxx>
#include <Geom_Ellipse.hxx>
#include <Geom_Line.hxx>
#include <Geom_Plane.hxx>
#include <Geom_SphericalSurface.hxx>
#include <Geom_SurfaceOfLinearExtrusion.hxx>
#include <Geom_SurfaceOfRevolution.hxx>
#include <Geom_ToroidalSurface.hxx>
#include <ShapeFix_Face.hxx>
#include <ShapeFix_Wire.hxx>
#include <Standard_Failure.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColStd_Array2OfReal.hxx>
#include <TColgp_Array1OfPnt.hxx>
#include <TColgp_Array2OfPnt.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Wire.hxx>
#include <gp_Ax3.hxx>

#include <cmath>
#include <mutex>
#include <unordered_map>

namespace wendrix::geometry {

using ifc::Entity;
using ifc::EntityId;
using step::Value;

namespace {

// Edges of real files leave their surfaces by as much.
constexpr double kTolerance = 1e-5;
// More poles than any surface has that a person drew; the grid is allocated as a whole.
constexpr std::uint32_t kMostPoles = 20'000;

/// Why a shell can not be built, thrown up to readCurvedShell: deep in a chain of curves there is nobody to ask.
struct CannotBuild {
    std::string why;
};

gp_Pnt toPoint(Point3 p)
{
    if (!std::isfinite(p.x) || !std::isfinite(p.y) || !std::isfinite(p.z))
        throw CannotBuild{"a point of it is missing or not well formed"};
    return {p.x, p.y, p.z};
}
gp_Dir toDirection(Vector3 v) { return {v.x, v.y, v.z}; }
gp_Ax3 toAxes(const Transform& t) { return {toPoint(t.origin), toDirection(t.z), toDirection(t.x)}; }

struct Knots {
    TColStd_Array1OfReal values;
    TColStd_Array1OfInteger counts;
};

/// Knots with their multiplicities, as both sides of a file and of the kernel have them.
Knots knotsOf(Value values, Value counts)
{
    const auto n = static_cast<int>(values.size());
    if (n < 2 || values.size() != counts.size())
        throw CannotBuild{"the knots of a spline do not fit"};
    Knots knots{TColStd_Array1OfReal(1, n), TColStd_Array1OfInteger(1, n)};
    for (int i = 1; i <= n; ++i) {
        knots.values.SetValue(i, values[static_cast<std::uint32_t>(i - 1)].numberOr(0));
        knots.counts.SetValue(i, static_cast<int>(counts[static_cast<std::uint32_t>(i - 1)].integer().value_or(1)));
    }
    return knots;
}

/// Builds one shell; edges and vertices are shared by its faces, so that their triangles share points.
class ShellBuilder {
public:
    explicit ShellBuilder(const CurveReader& curves)
        : curves_(curves), source_(curves.source()), scale_(curves.units().lengthToMetres)
    {
    }

    Mesh build(const Entity& shell)
    {
        TopoDS_Shell built;
        builder_.MakeShell(built);
        for (const Value reference : shell["CfsFaces"])
            builder_.Add(built, face(source_.entity(reference)));
        const Fineness& f = curves_.fineness();
        BRepMesh_IncrementalMesh(built, f.chordMetres, false, 2 * std::acos(1 - f.chordOfRadius), false);
        return trianglesOf(built);
    }

private:
    [[noreturn]] static void cannot(const std::string& what) { throw CannotBuild{what}; }

    Point3 pointOf(Value reference) const { return curves_.placements().point(reference); }

    Handle(Geom_Curve) spline(const Entity& e) const
    {
        const Value poles = e["ControlPointsList"];
        const auto n = static_cast<int>(poles.size());
        if (n < 2 || n > static_cast<int>(kMostPoles))
            cannot("a spline has no control points, or too many");
        TColgp_Array1OfPnt points(1, n);
        int i = 1;
        for (const Value p : poles)
            points.SetValue(i++, toPoint(pointOf(p)));
        const int degree = static_cast<int>(e["Degree"].integer().value_or(1));
        const Knots knots = knotsOf(e["Knots"], e["KnotMultiplicities"]);
        if (const Value weights = e["WeightsData"]; weights.size() == poles.size()) {
            TColStd_Array1OfReal w(1, n);
            i = 1;
            for (const Value v : weights)
                w.SetValue(i++, v.numberOr(1));
            return new Geom_BSplineCurve(points, w, knots.values, knots.counts, degree);
        }
        return new Geom_BSplineCurve(points, knots.values, knots.counts, degree);
    }

    /// Straight pieces as a spline of degree one.
    static Handle(Geom_Curve) polyline(const std::vector<Point3>& given)
    {
        std::vector<Point3> points;
        for (const Point3 p : given)
            if (points.empty() || length(p - points.back()) > 1e-7)
                points.push_back(p);
        const auto n = static_cast<int>(points.size());
        if (n < 2)
            cannot("an edge has no length");
        TColgp_Array1OfPnt poles(1, n);
        TColStd_Array1OfReal knots(1, n);
        TColStd_Array1OfInteger counts(1, n);
        for (int i = 1; i <= n; ++i) {
            poles.SetValue(i, toPoint(points[static_cast<std::size_t>(i - 1)]));
            knots.SetValue(i, i - 1);
            counts.SetValue(i, i == 1 || i == n ? 2 : 1);
        }
        return new Geom_BSplineCurve(poles, knots, counts, 1);
    }

    Handle(Geom_Curve) curve(const Entity& e, int depth = 0) const
    {
        if (!e || depth > 8)
            cannot("an edge has no curve");
        const ifc::PlacementReader& placements = curves_.placements();
        if (e.isA("IfcLine")) {
            const Entity vector = source_.entity(e["Dir"]);
            return new Geom_Line(toPoint(pointOf(e["Pnt"])),
                                 toDirection(placements.direction(vector["Orientation"], {1, 0, 0})));
        }
        if (e.isA("IfcCircle"))
            return new Geom_Circle(toAxes(placements.axisPlacement(e["Position"])).Ax2(),
                                   scale_ * e["Radius"].numberOr(0));
        if (e.isA("IfcEllipse")) {
            const double a = scale_ * e["SemiAxis1"].numberOr(0), b = scale_ * e["SemiAxis2"].numberOr(0);
            Transform frame = placements.axisPlacement(e["Position"]);
            if (a < b) // the kernel wants the larger axis first
                frame = {frame.y, -frame.x, frame.z, frame.origin};
            return new Geom_Ellipse(toAxes(frame).Ax2(), std::max(a, b), std::min(a, b));
        }
        if (e.isA("IfcBSplineCurve") && e["Knots"].isGiven())
            return spline(e);
        if (e.isA("IfcTrimmedCurve"))
            return curve(source_.entity(e["BasisCurve"]), depth + 1);
        if (e.isA("IfcSurfaceCurve"))
            return curve(source_.entity(e["Curve3D"]), depth + 1);
        std::string unsupported;
        const auto points = curves_.points(e, unsupported);
        if (!points)
            cannot("an edge is " + unsupported);
        return polyline(*points);
    }

    TopoDS_Vertex vertex(EntityId id)
    {
        if (const auto known = vertices_.find(id); known != vertices_.end())
            return known->second;
        const Entity e = source_.entity(id);
        TopoDS_Vertex v;
        builder_.MakeVertex(v, toPoint(pointOf(e["VertexGeometry"])), kTolerance);
        vertices_.emplace(id, v);
        return v;
    }

    static double parameterOn(const Handle(Geom_Curve) & c, const gp_Pnt& p)
    {
        GeomAPI_ProjectPointOnCurve projected(p, c);
        // Ends of an open curve are no feet of a perpendicular.
        double best = 1e300, at = 0;
        if (projected.NbPoints() > 0) {
            best = projected.LowerDistance();
            at = projected.LowerDistanceParameter();
        }
        for (const double end : {c->FirstParameter(), c->LastParameter()})
            if (std::abs(end) < 1e50 && c->Value(end).Distance(p) < best) {
                best = c->Value(end).Distance(p);
                at = end;
            }
        return at;
    }

    TopoDS_Edge edge(EntityId id)
    {
        if (const auto known = edges_.find(id); known != edges_.end())
            return known->second;
        const Entity e = source_.entity(id);
        const TopoDS_Vertex from = vertex(e["EdgeStart"].reference()), to = vertex(e["EdgeEnd"].reference());
        const gp_Pnt a = BRep_Tool::Pnt(from), b = BRep_Tool::Pnt(to);
        Handle(Geom_Curve) c;
        if (e["EdgeGeometry"].isGiven()) {
            c = curve(source_.entity(e["EdgeGeometry"]));
            if (e["SameSense"].enumeration() == "F")
                c = c->Reversed();
        } else {
            c = new Geom_Line(a, gp_Dir(gp_Vec(a, b)));
        }
        double first = parameterOn(c, a), last = parameterOn(c, b);
        const bool isWhole = from.IsSame(to) || a.Distance(b) < kTolerance;
        if (c->IsPeriodic()) {
            if (isWhole)
                last = first + c->Period();
            else if (last <= first)
                last += c->Period();
        } else if (isWhole || (c->IsClosed() && last <= first)) {
            // The seam of a closed curve is both its ends.
            if (isWhole || std::abs(first - c->LastParameter()) < 1e-9)
                first = c->FirstParameter();
            if (isWhole || std::abs(last - c->FirstParameter()) < 1e-9)
                last = c->LastParameter();
        }
        if (!(last > first))
            cannot("an edge runs against its curve");
        TopoDS_Edge made;
        const double off = std::max(c->Value(first).Distance(a), c->Value(last).Distance(b));
        if (off > 0.01)
            cannot("an edge ends more than 10 mm away from its curve");
        builder_.MakeEdge(made, c, std::max(kTolerance, off));
        builder_.UpdateVertex(from, std::max(kTolerance, off));
        builder_.UpdateVertex(to, std::max(kTolerance, off));
        builder_.Add(made, from.Oriented(TopAbs_FORWARD));
        builder_.Add(made, to.Oriented(TopAbs_REVERSED));
        builder_.Range(made, first, last);
        edges_.emplace(id, made);
        return made;
    }

    Handle(Geom_Surface) splineSurface(const Entity& e) const
    {
        const Value rows = e["ControlPointsList"];
        const std::uint32_t nu = rows.size(), nv = rows[0].size();
        if (nu < 2 || nv < 2 || nu * static_cast<std::uint64_t>(nv) > kMostPoles)
            cannot("a surface has no control points, or too many");
        TColgp_Array2OfPnt poles(1, static_cast<int>(nu), 1, static_cast<int>(nv));
        TColStd_Array2OfReal w(1, static_cast<int>(nu), 1, static_cast<int>(nv));
        w.Init(1.0);
        const Value weights = e["WeightsData"];
        int i = 1;
        for (const Value row : rows) {
            if (row.size() != nv)
                cannot("the rows of a surface's control points differ in length");
            int j = 1;
            for (const Value p : row)
                poles.SetValue(i, j++, toPoint(pointOf(p)));
            ++i;
        }
        if (weights.size() == nu) {
            i = 1;
            for (const Value row : weights) {
                int j = 1;
                for (const Value v : row)
                    if (j <= static_cast<int>(nv))
                        w.SetValue(i, j++, v.numberOr(1));
                ++i;
            }
        }
        const Knots u = knotsOf(e["UKnots"], e["UMultiplicities"]), v = knotsOf(e["VKnots"], e["VMultiplicities"]);
        return new Geom_BSplineSurface(poles, w, u.values, v.values, u.counts, v.counts,
                                       static_cast<int>(e["UDegree"].integer().value_or(1)),
                                       static_cast<int>(e["VDegree"].integer().value_or(1)));
    }

    Handle(Geom_Surface) surface(const Entity& e) const
    {
        const ifc::PlacementReader& placements = curves_.placements();
        const Transform position = placements.axisPlacement(e["Position"]);
        if (e.isA("IfcPlane"))
            return new Geom_Plane(toAxes(position));
        if (e.isA("IfcCylindricalSurface"))
            return new Geom_CylindricalSurface(toAxes(position), scale_ * e["Radius"].numberOr(0));
        if (e.isA("IfcSphericalSurface"))
            return new Geom_SphericalSurface(toAxes(position), scale_ * e["Radius"].numberOr(0));
        if (e.isA("IfcToroidalSurface"))
            return new Geom_ToroidalSurface(toAxes(position), scale_ * e["MajorRadius"].numberOr(0),
                                            scale_ * e["MinorRadius"].numberOr(0));
        if (e.isA("IfcSweptSurface")) {
            const Entity profile = source_.entity(e["SweptCurve"]);
            const Value inner = profile["Curve"].isGiven() ? profile["Curve"] : profile["OuterCurve"];
            Handle(Geom_Curve) c = curve(source_.entity(inner));
            gp_Trsf placed;
            placed.SetTransformation(toAxes(position), gp_Ax3());
            c = Handle(Geom_Curve)::DownCast(c->Transformed(placed));
            if (e.isA("IfcSurfaceOfLinearExtrusion"))
                return new Geom_SurfaceOfLinearExtrusion(
                    c, toDirection(position.turn(placements.direction(e["ExtrudedDirection"], {0, 0, 1}))));
            const Transform axis = position * placements.axisPlacement(e["AxisPosition"]);
            return new Geom_SurfaceOfRevolution(c, gp_Ax1(toPoint(axis.origin), toDirection(axis.z)));
        }
        if (e.isA("IfcBSplineSurface"))
            return splineSurface(e);
        cannot("a face lies on " + std::string(e ? e.typeName() : "a missing surface"));
    }

    TopoDS_Wire wire(const Entity& bound)
    {
        const Entity loop = source_.entity(bound["Bound"]);
        TopoDS_Wire made;
        builder_.MakeWire(made);
        if (loop.isA("IfcPolyLoop")) {
            std::vector<EntityId> points;
            for (const Value p : loop["Polygon"])
                points.push_back(p.reference());
            for (std::size_t i = 0; i < points.size(); ++i)
                builder_.Add(made, straight(points[i], points[(i + 1) % points.size()]));
        } else {
            for (const Value reference : loop["EdgeList"]) {
                const Entity oriented = source_.entity(reference);
                TopoDS_Edge e = edge(oriented["EdgeElement"].reference());
                if (oriented["Orientation"].enumeration() == "F")
                    e.Reverse();
                builder_.Add(made, e);
            }
        }
        if (bound["Orientation"].enumeration() == "F")
            made.Reverse();
        return made;
    }

    /// An edge of a poly loop, shared with the face that runs along it the other way.
    TopoDS_Edge straight(EntityId from, EntityId to)
    {
        const auto corner = [&](EntityId id) {
            const auto known = corners_.find(id);
            if (known != corners_.end())
                return known->second;
            TopoDS_Vertex v;
            builder_.MakeVertex(v, toPoint(curves_.placements().point(source_.entity(id))), kTolerance);
            corners_.emplace(id, v);
            return v;
        };
        const std::pair<EntityId, EntityId> key = std::minmax(from, to);
        auto known = straights_.find(key);
        if (known == straights_.end()) {
            const TopoDS_Vertex a = corner(key.first), b = corner(key.second);
            const gp_Pnt p = BRep_Tool::Pnt(a), q = BRep_Tool::Pnt(b);
            TopoDS_Edge made;
            builder_.MakeEdge(made, new Geom_Line(p, gp_Dir(gp_Vec(p, q))), kTolerance);
            builder_.Add(made, a.Oriented(TopAbs_FORWARD));
            builder_.Add(made, b.Oriented(TopAbs_REVERSED));
            builder_.Range(made, 0, p.Distance(q));
            known = straights_.emplace(key, made).first;
        }
        return from == key.first ? known->second : TopoDS::Edge(known->second.Reversed());
    }

    TopoDS_Face face(const Entity& e)
    {
        if (!e)
            cannot("a face is missing or not well formed");
        if (!e["FaceSurface"].isGiven())
            cannot("it mixes faces with and without a surface");
        TopoDS_Face made;
        builder_.MakeFace(made, surface(source_.entity(e["FaceSurface"])), kTolerance);
        const bool isSame = e["SameSense"].enumeration() != "F";
        for (const Value reference : e["Bounds"]) {
            TopoDS_Wire w = wire(source_.entity(reference));
            // Bounds are given about the face's own normal, the kernel wants them about the surface's.
            if (!isSame)
                w.Reverse();
            builder_.Add(made, w);
        }
        ShapeFix_Face fix(made);
        fix.SetPrecision(kTolerance);
        fix.FixWireMode() = 1;
        fix.FixOrientationMode() = 1;
        fix.FixMissingSeamMode() = 1;
        fix.FixSmallAreaWireMode() = 0;
        fix.Perform();
        TopoDS_Face fixed = fix.Face();
        if (!isSame)
            fixed.Reverse();
        return fixed;
    }

    static Mesh trianglesOf(const TopoDS_Shell& shell)
    {
        Mesh mesh;
        std::size_t faces = 0;
        for (TopExp_Explorer at(shell, TopAbs_FACE); at.More(); at.Next(), ++faces) {
            const TopoDS_Face& f = TopoDS::Face(at.Current());
            TopLoc_Location location;
            const Handle(Poly_Triangulation) triangles = BRep_Tool::Triangulation(f, location);
            if (triangles.IsNull())
                cannot("a face could not be cut into triangles");
            const auto first = static_cast<std::uint32_t>(mesh.points.size()) - 1;
            for (int i = 1; i <= triangles->NbNodes(); ++i) {
                const gp_Pnt p = triangles->Node(i).Transformed(location.Transformation());
                mesh.points.push_back({p.X(), p.Y(), p.Z()});
            }
            for (int i = 1; i <= triangles->NbTriangles(); ++i) {
                int a = 0, b = 0, c = 0;
                triangles->Triangle(i).Get(a, b, c);
                if (f.Orientation() == TopAbs_REVERSED)
                    std::swap(b, c);
                mesh.triangles.push_back({first + static_cast<std::uint32_t>(a), first + static_cast<std::uint32_t>(b),
                                          first + static_cast<std::uint32_t>(c)});
            }
        }
        if (faces == 0)
            cannot("it has no faces");
        return welded(mesh, Metres{1e-7});
    }

    struct PairHash {
        std::size_t operator()(const std::pair<EntityId, EntityId>& p) const
        {
            return p.first * 1099511628211ull ^ p.second;
        }
    };
    const CurveReader& curves_;
    const ifc::Source& source_;
    double scale_;
    BRep_Builder builder_;
    std::unordered_map<EntityId, TopoDS_Vertex> vertices_, corners_;
    std::unordered_map<EntityId, TopoDS_Edge> edges_;
    std::unordered_map<std::pair<EntityId, EntityId>, TopoDS_Edge, PairHash> straights_;
};

} // namespace

std::optional<Mesh> readCurvedShell(const CurveReader& curves, const Entity& shell, std::string& why)
{
    // The kernel's healing keeps state of its own between calls.
    static std::mutex one;
    const std::lock_guard lock(one);
    try {
        return ShellBuilder(curves).build(shell);
    } catch (const CannotBuild& problem) {
        why = problem.why;
    } catch (const Standard_Failure& failure) {
        why = "its surfaces and edges do not fit each other (" + std::string(failure.GetMessageString()) + ")";
    } catch (const std::exception& failure) {
        why = std::string("its surfaces and edges do not fit each other (") + failure.what() + ")";
    }
    return {};
}

} // namespace wendrix::geometry
