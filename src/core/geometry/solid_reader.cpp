#include "core/geometry/solid_reader.h"

#include "core/geometry/boolean.h"
#include "core/geometry/curved_shell.h"
#include "core/geometry/primitives.h"
#include "core/geometry/shell_reader.h"
#include "core/geometry/sweep.h"

#include <algorithm>
#include <cmath>

namespace wendrix::geometry {

using ifc::Entity;
using ifc::Name;
using step::Value;

namespace {

// Deeper boolean trees do not occur; a bound, since items may refer in a circle.
constexpr int kDeepestItem = 200;
// Farther out nothing is built on this earth, and a double no longer tells tenths of a millimetre apart.
constexpr double kFarthestMetres = 1e9;

/// All solids of one operand as one mesh; operands of several bodies are rare and disjoint.
Mesh joined(const std::vector<Mesh>& meshes)
{
    Mesh all;
    for (const Mesh& m : meshes)
        all.append(m);
    return all;
}

bool isSomewhere(const Mesh& mesh)
{
    return std::all_of(mesh.points.begin(), mesh.points.end(), [](Point3 p) {
        return std::abs(p.x) < kFarthestMetres && std::abs(p.y) < kFarthestMetres && std::abs(p.z) < kFarthestMetres;
    });
}

} // namespace

SolidReader::SolidReader(const ifc::Model& model, const Fineness& fineness)
    : model_(model), source_(model.source()), curves_(model.source(), model.units(), fineness), swept_(curves_)
{
}

void SolidReader::sayNotBuilt(Diagnostics& diagnostics, const Entity& item, const std::string& why)
{
    diagnostics.push_back({Severity::Error, "geometry.not-built", item ? ifc::entityName(item.id()) : "",
                           (item ? std::string(item.typeName()) : "An item") + " was not built: " + why + "."});
}

std::vector<Mesh> SolidReader::meshes(const Entity& e, Diagnostics& diagnostics, int depth) const
{
    std::vector<Mesh> result = anyMeshes(e, diagnostics, depth);
    std::erase_if(result, [](const Mesh& m) { return m.isEmpty(); });
    const std::size_t count = result.size();
    std::erase_if(result, [](const Mesh& m) { return !isSomewhere(m); });
    if (result.size() < count)
        sayNotBuilt(diagnostics, e, "a point of it is missing, or no number, or farther out than a million kilometres");
    return result;
}

std::vector<Mesh> SolidReader::anyMeshes(const Entity& e, Diagnostics& diagnostics, int depth) const
{
    if (!e || depth > kDeepestItem) {
        sayNotBuilt(diagnostics, e, e ? "its items are nested too deep or in a circle" : "it is missing or not well formed");
        return {};
    }
    if (SweptReader::reads(e)) {
        std::string why;
        std::vector<Mesh> result = swept_.meshes(e, why);
        if (result.empty())
            sayNotBuilt(diagnostics, e, why);
        return result;
    }
    if (e.isA("IfcManifoldSolidBrep") || e.isA("IfcShellBasedSurfaceModel") || e.isA("IfcFaceBasedSurfaceModel"))
        return shells(e, diagnostics);
    if (e.isA("IfcTessellatedFaceSet")) {
        Repairs repairs;
        Mesh mesh = readTessellation(source_, model_.units().lengthToMetres, e, repairs, diagnostics);
        putInOrder(mesh, false, repairs);
        repairs.say(diagnostics, ifc::entityName(e.id()));
        return {std::move(mesh)};
    }
    if (e.isA("IfcBooleanResult"))
        return booleanResult(e, diagnostics, depth);
    if (e.isA("IfcCsgSolid"))
        return meshes(source_.entity(e["TreeRootExpression"]), diagnostics, depth + 1);
    if (const auto mesh = primitive(e)) {
        if (mesh->isEmpty())
            sayNotBuilt(diagnostics, e, "a size of it is missing or not positive");
        return {*mesh};
    }
    sayNotBuilt(diagnostics, e, "this kind of item is no body that can be built");
    return {};
}

Mesh SolidReader::shell(const Entity& item, const Entity& shell, bool isHollow, Diagnostics& diagnostics) const
{
    Repairs repairs;
    Mesh mesh;
    if (isCurvedShell(source_, shell)) {
        std::string why;
        auto curved = readCurvedShell(curves_, shell, why);
        if (!curved) {
            sayNotBuilt(diagnostics, item, why);
            return {};
        }
        mesh = std::move(*curved);
    } else {
        mesh = readShell(curves_, shell, repairs);
    }
    putInOrder(mesh, isHollow, repairs);
    repairs.say(diagnostics, ifc::entityName(shell ? shell.id() : item.id()));
    return mesh;
}

std::vector<Mesh> SolidReader::shells(const Entity& e, Diagnostics& diagnostics) const
{
    std::vector<Mesh> result;
    if (e.isA("IfcManifoldSolidBrep")) {
        Mesh mesh = shell(e, source_.entity(e["Outer"]), false, diagnostics);
        for (const Value hollow : e["Voids"])
            mesh.append(shell(e, source_.entity(hollow), true, diagnostics));
        result.push_back(std::move(mesh));
        return result;
    }
    for (const Value reference : e[e.isA("IfcShellBasedSurfaceModel") ? Name("SbsmBoundary") : Name("FbsmFaces")])
        result.push_back(shell(e, source_.entity(reference), false, diagnostics));
    // A body may be cut into several open shells that close only together.
    const bool isAnyOpen = std::any_of(result.begin(), result.end(), [](const Mesh& m) { return !isClosed(m); });
    if (result.size() > 1 && isAnyOpen) {
        Mesh whole = joined(result);
        Repairs repairs;
        putInOrder(whole, false, repairs);
        if (isClosed(whole))
            return {std::move(whole)};
    }
    return result;
}

std::optional<Mesh> SolidReader::primitive(const Entity& e) const
{
    const double s = model_.units().lengthToMetres;
    const auto size = [&](Name name) { return s * e[name].numberOr(0); };
    std::optional<Mesh> mesh;
    if (e.isA("IfcBlock"))
        mesh = blockMesh(size("XLength"), size("YLength"), size("ZLength"));
    else if (e.isA("IfcRectangularPyramid"))
        mesh = pyramidMesh(size("XLength"), size("YLength"), size("Height"));
    else if (e.isA("IfcRightCircularCone"))
        mesh = coneMesh(size("BottomRadius"), size("Height"), curves_.fineness());
    else if (e.isA("IfcRightCircularCylinder"))
        mesh = cylinderMesh(size("Radius"), size("Height"), curves_.fineness());
    else if (e.isA("IfcSphere"))
        mesh = sphereMesh(size("Radius"), curves_.fineness());
    if (mesh)
        mesh = transformed(*mesh, curves_.placements().axisPlacement(e["Position"]));
    return mesh;
}

std::vector<Mesh> SolidReader::halfSpace(const Entity& e, const Box3& around, Diagnostics& diagnostics) const
{
    const Entity surface = source_.entity(e["BaseSurface"]);
    if (!surface.isA("IfcPlane")) {
        sayNotBuilt(diagnostics, e, "a half space is bounded by something other than a plane");
        return {};
    }
    const Transform plane = curves_.placements().axisPlacement(surface["Position"]);
    // With agreement the material lies on the side the normal points away from (ISO 10303-42, half_space_solid).
    const bool below = e["AgreementFlag"].enumeration() != "F";
    // A box that reaches past all there is, and whose faces but one meet nothing.
    const double reach = 1.0 + 0.01 * length(around.size());
    const auto block = [&](const Box3& what) {
        Box3 box = plane.inverse().apply(what.grownBy(reach));
        box.min.z = below ? std::min(box.min.z, -1.0) : 0;
        box.max.z = below ? 0 : std::max(box.max.z, 1.0);
        return transformed(boxMesh(box), plane);
    };
    if (!e.isA("IfcPolygonalBoundedHalfSpace"))
        return {block(around)};
    std::string unsupported;
    auto outline = curves_.ring(source_.entity(e["PolygonalBoundary"]), unsupported);
    if (!outline || outline->size() < 3) {
        sayNotBuilt(diagnostics, e, "the outline of a half space can not be read");
        return {};
    }
    if (signedArea(*outline) < 0)
        std::reverse(outline->begin(), outline->end());
    const Transform frame = curves_.placements().axisPlacement(e["Position"]);
    const Box3 inFrame = frame.inverse().apply(around.grownBy(reach));
    auto prism = extruded({*outline, {}}, {0, 0, inFrame.size().z});
    if (!prism) {
        sayNotBuilt(diagnostics, e, "the outline of a half space crosses itself");
        return {};
    }
    const Mesh placed = transformed(*prism, frame * Transform::translation({0, 0, inFrame.min.z}));
    auto bounded = combine(placed, block(boundsOf(placed)), BooleanKind::Intersection);
    if (!bounded) {
        sayNotBuilt(diagnostics, e, "the outline of a half space touches itself");
        return {};
    }
    return {*bounded};
}

std::vector<Mesh> SolidReader::booleanResult(const Entity& e, Diagnostics& diagnostics, int depth) const
{
    const Entity first = source_.entity(e["FirstOperand"]), second = source_.entity(e["SecondOperand"]);
    const std::vector<Mesh> left = meshes(first, diagnostics, depth + 1);
    if (left.empty())
        return {};
    const Mesh host = joined(left);
    const std::vector<Mesh> right = second.isA("IfcHalfSpaceSolid")
                                        ? halfSpace(second, boundsOf(host), diagnostics)
                                        : meshes(second, diagnostics, depth + 1);
    const Mesh tool = joined(right);
    const std::string_view op = e["Operator"].enumeration();
    const BooleanKind kind = op == "UNION"          ? BooleanKind::Union
                             : op == "INTERSECTION" ? BooleanKind::Intersection
                                                    : BooleanKind::Difference;
    if (tool.isEmpty()) // already said why, or the half space lies beside the solid
        return kind == BooleanKind::Intersection ? std::vector<Mesh>{} : left;
    auto result = combine(host, tool, kind);
    if (!result) {
        diagnostics.push_back({Severity::Error, std::string(result.error().code.name), ifc::entityName(e.id()),
                               result.error().message});
        return left;
    }
    if (result->isEmpty()) {
        sayNotBuilt(diagnostics, e, "nothing is left of it");
        return {};
    }
    return {*result};
}

} // namespace wendrix::geometry
