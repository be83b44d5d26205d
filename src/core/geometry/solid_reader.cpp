#include "core/geometry/solid_reader.h"

#include "core/geometry/curved_shell.h"
#include "core/geometry/half_space.h"
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

// Shells of one body name the same points, each for itself.
constexpr Metres kSamePoint{1e-7};

const std::string kTooMuch = "its items are nested too deep, or in a circle, or are too many";

/// All solids of one operand as one mesh; operands of several bodies are rare and disjoint.
Mesh joined(const std::vector<Mesh>& meshes)
{
    Mesh all;
    for (const Mesh& m : meshes)
        all.append(m);
    return all;
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

std::vector<Mesh> SolidReader::meshes(const Entity& e, Diagnostics& diagnostics, const Effort& effort) const
{
    std::vector<Mesh> result = anyMeshes(e, diagnostics, effort);
    std::erase_if(result, [](const Mesh& m) { return m.isEmpty(); });
    const std::size_t count = result.size();
    std::erase_if(result, [](const Mesh& m) { return !isSomewhere(m); });
    if (result.size() < count)
        sayNotBuilt(diagnostics, e, "a point of it is missing, or no number, or farther out than a million kilometres");
    return result;
}

std::vector<Mesh> SolidReader::anyMeshes(const Entity& e, Diagnostics& diagnostics, const Effort& effort) const
{
    if (!e || !effort.spend()) {
        sayNotBuilt(diagnostics, e, e ? kTooMuch : "it is missing or not well formed");
        return {};
    }
    if (SweptReader::reads(e)) {
        std::string why;
        Repairs repairs;
        std::vector<Mesh> result = swept_.meshes(e, why, repairs);
        repairs.say(diagnostics, ifc::entityName(e.id()));
        if (result.empty())
            sayNotBuilt(diagnostics, e, why);
        return result;
    }
    if (e.isA("IfcManifoldSolidBrep") || e.isA("IfcShellBasedSurfaceModel") || e.isA("IfcFaceBasedSurfaceModel"))
        return shells(e, diagnostics);
    if (e.isA("IfcTessellatedFaceSet")) {
        Repairs repairs;
        Mesh mesh = readTessellation(source_, model_.units().lengthToMetres, e, repairs, diagnostics);
        if (isSomewhere(mesh))
            putInOrder(mesh, false, repairs);
        repairs.say(diagnostics, ifc::entityName(e.id()));
        return {std::move(mesh)};
    }
    if (e.isA("IfcBooleanResult"))
        return booleanResult(e, diagnostics, effort);
    if (e.isA("IfcCsgSolid"))
        return meshes(source_.entity(e["TreeRootExpression"]), diagnostics, effort.deeper());
    if (const auto mesh = primitive(e)) {
        if (mesh->isEmpty())
            sayNotBuilt(diagnostics, e, "a size of it is missing or not positive");
        return {*mesh};
    }
    sayNotBuilt(diagnostics, e, "this kind of item is no body that can be built");
    return {};
}

SolidReader::Shell SolidReader::shell(const Entity& item, const Entity& shell, bool isHollow,
                                      Diagnostics& diagnostics) const
{
    Repairs repairs;
    auto read = readShell(curves_, shell, repairs);
    if (!read) {
        std::string why;
        read = readCurvedShell(curves_, shell, why);
        if (!read) {
            sayNotBuilt(diagnostics, item, why);
            return {};
        }
    }
    Shell result{std::move(*read)};
    if (isSomewhere(result.mesh)) // else it is refused as it is
        result.isClosed = putInOrder(result.mesh, isHollow, repairs);
    repairs.say(diagnostics, ifc::entityName(shell ? shell.id() : item.id()));
    return result;
}

std::vector<Mesh> SolidReader::shells(const Entity& e, Diagnostics& diagnostics) const
{
    std::vector<Mesh> result;
    if (e.isA("IfcManifoldSolidBrep")) {
        Mesh mesh = shell(e, source_.entity(e["Outer"]), false, diagnostics).mesh;
        for (const Value hollow : e["Voids"])
            mesh.append(shell(e, source_.entity(hollow), true, diagnostics).mesh);
        result.push_back(std::move(mesh));
        return result;
    }
    bool isAnyOpen = false;
    for (const Value reference : e[e.isA("IfcShellBasedSurfaceModel") ? Name("SbsmBoundary") : Name("FbsmFaces")]) {
        Shell one = shell(e, source_.entity(reference), false, diagnostics);
        isAnyOpen = isAnyOpen || !one.isClosed;
        result.push_back(std::move(one.mesh));
    }
    // A body may be cut into several open shells that close only together.
    if (result.size() > 1 && isAnyOpen && std::all_of(result.begin(), result.end(), isSomewhere)) {
        Mesh whole = welded(joined(result), kSamePoint);
        Repairs repairs;
        if (putInOrder(whole, false, repairs))
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

std::optional<Solid> SolidReader::halfSpaceOf(const Entity& e, const Box3& around, Diagnostics& diagnostics) const
{
    std::string why;
    auto solid = readHalfSpace(curves_, e, around, why);
    if (!solid)
        sayNotBuilt(diagnostics, e, why);
    return solid;
}

bool SolidReader::makeExact(Operand& operand, Diagnostics& diagnostics)
{
    if (operand.exact)
        return true;
    auto solid = Solid::from(operand.mesh);
    if (!solid) {
        diagnostics.push_back({Severity::Error, std::string(solid.error().code.name), ifc::entityName(operand.of.id()),
                               solid.error().message});
        return false;
    }
    operand.exact = std::move(*solid);
    return true;
}

std::optional<SolidReader::Operand> SolidReader::operand(const Entity& e, Diagnostics& diagnostics,
                                                         const Effort& effort) const
{
    if (!effort.spend(e.isA("IfcBooleanResult") ? Effort::kBoolean : 1)) {
        sayNotBuilt(diagnostics, e, kTooMuch);
        return {};
    }
    if (e.isA("IfcCsgSolid"))
        return operand(source_.entity(e["TreeRootExpression"]), diagnostics, effort.deeper());
    if (!e.isA("IfcBooleanResult")) {
        Operand plain{joined(meshes(e, diagnostics, effort)), {}, e};
        return plain.mesh.isEmpty() ? std::nullopt : std::optional(std::move(plain));
    }
    const Entity first = source_.entity(e["FirstOperand"]), second = source_.entity(e["SecondOperand"]);
    const bool isHalfSpace = second.isA("IfcHalfSpaceSolid");
    auto left = operand(first, diagnostics, effort.deeper());
    if (!left)
        return {};
    const std::string_view op = e["Operator"].enumeration();
    const BooleanKind kind = op == "UNION"          ? BooleanKind::Union
                             : op == "INTERSECTION" ? BooleanKind::Intersection
                                                    : BooleanKind::Difference;
    if (isHalfSpace && !left->exact)
        if (auto clipped = clippedBy(curves_, second, left->mesh, kind))
            return Operand{std::move(*clipped), {}, e, true};
    if (!makeExact(*left, diagnostics))
        return {};
    left->isCut = true;
    std::optional<Solid> right;
    if (isHalfSpace) {
        right = halfSpaceOf(second, boundsOf(left->exact->mesh()), diagnostics);
    } else if (auto other = operand(second, diagnostics, effort.deeper()); other && makeExact(*other, diagnostics)) {
        right = std::move(other->exact);
    }
    if (!right) // why is said already
        return kind == BooleanKind::Intersection ? std::nullopt : std::move(left);
    if (const auto done = left->exact->combine(*right, kind); !done)
        diagnostics.push_back(
            {Severity::Error, std::string(done.error().code.name), ifc::entityName(e.id()), done.error().message});
    return left;
}

std::vector<Mesh> SolidReader::booleanResult(const Entity& e, Diagnostics& diagnostics, const Effort& effort) const
{
    auto body = operand(e, diagnostics, effort);
    if (!body || (!body->isCut && !makeExact(*body, diagnostics))) {
        // A body that only its first operand lacks an inside for is better shown uncut than not at all.
        const Entity first = source_.entity(e["FirstOperand"]);
        std::vector<Diagnostic> saidAlready;
        return meshes(first, saidAlready, effort.deeper());
    }
    Mesh mesh = body->take();
    if (mesh.isEmpty()) {
        sayNotBuilt(diagnostics, e, "nothing is left of it");
        return {};
    }
    return {std::move(mesh)};
}

} // namespace wendrix::geometry
