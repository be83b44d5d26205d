#include "core/geometry/item_reader.h"

#include "core/geometry/boolean.h"
#include "core/geometry/profile_reader.h"
#include "core/geometry/shell_reader.h"
#include "core/geometry/sweep.h"

namespace wendrix::geometry {

using ifc::Entity;
using step::Value;

namespace {

// Deeper boolean trees and mapped items do not occur; a bound, since items may refer in a circle.
constexpr int kDeepestItem = 200;

void notBuilt(std::vector<Diagnostic>& diagnostics, const Entity& item, const std::string& why)
{
    diagnostics.push_back({Severity::Error, "geometry.not-built", ifc::entityName(item.id()),
                           std::string(item.typeName()) + " was not built: " + why + "."});
}

/// All solids of one operand as one mesh; operands of several bodies are rare and disjoint.
Mesh joined(const std::vector<Mesh>& meshes)
{
    Mesh all;
    for (const Mesh& m : meshes)
        all.append(m);
    return all;
}

Mesh shellSolid(Mesh mesh, bool isVoid)
{
    if (isClosed(mesh) && (volumeOf(mesh) < 0) != isVoid)
        turnOver(mesh);
    return mesh;
}

} // namespace

ItemReader::ItemReader(const ifc::Model& model)
    : model_(model), source_(model.source()), curves_(model.source(), model.units()), styles_(model.source())
{
}

std::vector<BodyPart> ItemReader::representation(ifc::EntityId id, Diagnostics& diagnostics) const
{
    std::vector<BodyPart> parts;
    for (const Value reference : source_.entity(id)["Items"]) {
        const Entity e = source_.entity(reference);
        if (!e) {
            diagnostics.push_back({Severity::Error, "geometry.missing-item", ifc::entityName(reference.reference()),
                                   "The body refers to an item that is missing or not well formed."});
            continue;
        }
        auto more = item(e, diagnostics);
        std::move(more.begin(), more.end(), std::back_inserter(parts));
    }
    return parts;
}

std::vector<BodyPart> ItemReader::item(const Entity& e, Diagnostics& diagnostics, int depth) const
{
    std::vector<BodyPart> parts;
    const auto colour = styles_.ofItem(e.id());
    if (e.isA("IfcMappedItem")) {
        parts = representationMap(e["MappingSource"].reference(), diagnostics, depth + 1);
        const Transform to = curves_.placements().transformationOperator(source_.entity(e["MappingTarget"]));
        for (BodyPart& part : parts) {
            part.mesh = transformed(part.mesh, to);
            part.colour = part.colour ? part.colour : colour;
        }
        return parts;
    }
    for (Mesh& mesh : meshes(e, diagnostics, depth)) {
        const bool closed = isClosed(mesh);
        // A clipped operand carries the style of what it was clipped from.
        auto own = colour;
        for (Entity first = source_.entity(e["FirstOperand"]); !own && first;
             first = source_.entity(first["FirstOperand"]))
            own = styles_.ofItem(first.id());
        parts.push_back({std::move(mesh), closed, own});
    }
    return parts;
}

std::vector<ItemReader::Mapped> ItemReader::mappedItems(ifc::EntityId representation) const
{
    std::vector<Mapped> mapped;
    for (const Value reference : source_.entity(representation)["Items"]) {
        const Entity e = source_.entity(reference);
        if (!e.isA("IfcMappedItem") || styles_.ofItem(e.id()))
            return {};
        mapped.push_back({e["MappingSource"].reference(),
                          curves_.placements().transformationOperator(source_.entity(e["MappingTarget"]))});
    }
    return mapped;
}

std::vector<BodyPart> ItemReader::representationMap(ifc::EntityId id, Diagnostics& diagnostics, int depth) const
{
    const Entity map = source_.entity(id);
    if (!map || depth > kDeepestItem) {
        diagnostics.push_back({Severity::Error, "geometry.missing-item", ifc::entityName(id),
                               "A mapped shape refers to a map that is missing or contains itself."});
        return {};
    }
    std::vector<BodyPart> parts;
    for (const Value reference : source_.entity(map["MappedRepresentation"])["Items"])
        if (const Entity e = source_.entity(reference)) {
            auto more = item(e, diagnostics, depth + 1);
            std::move(more.begin(), more.end(), std::back_inserter(parts));
        }
    // The map's origin is where a mapped item's target lands (ISO 16739, IfcRepresentationMap).
    const Transform origin = curves_.placements().axisPlacement(map["MappingOrigin"]).inverse();
    if (!(origin == Transform{}))
        for (BodyPart& part : parts)
            part.mesh = transformed(part.mesh, origin);
    return parts;
}

std::vector<Mesh> ItemReader::meshes(const Entity& e, Diagnostics& diagnostics, int depth) const
{
    std::vector<Mesh> result;
    if (depth > kDeepestItem) {
        notBuilt(diagnostics, e, "its items are nested too deep or in a circle");
    } else if (e.isA("IfcExtrudedAreaSolid") || e.isA("IfcRevolvedAreaSolid")) {
        return sweptArea(e, diagnostics);
    } else if (e.isA("IfcFacetedBrep")) {
        Mesh mesh = shellSolid(readShell(source_, curves_.placements(), source_.entity(e["Outer"]), diagnostics), false);
        for (const Value shell : e["Voids"])
            mesh.append(shellSolid(readShell(source_, curves_.placements(), source_.entity(shell), diagnostics), true));
        result.push_back(std::move(mesh));
    } else if (e.isA("IfcShellBasedSurfaceModel") || e.isA("IfcFaceBasedSurfaceModel")) {
        for (const Value shell : e[e.isA("IfcShellBasedSurfaceModel") ? ifc::Name("SbsmBoundary") : ifc::Name("FbsmFaces")])
            result.push_back(
                shellSolid(readShell(source_, curves_.placements(), source_.entity(shell), diagnostics), false));
    } else if (e.isA("IfcTessellatedFaceSet")) {
        result.push_back(shellSolid(readTessellation(source_, model_.units().lengthToMetres, e, diagnostics), false));
    } else if (e.isA("IfcBooleanResult")) {
        return booleanResult(e, diagnostics, depth);
    } else if (e.isA("IfcCsgSolid")) {
        return meshes(source_.entity(e["TreeRootExpression"]), diagnostics, depth + 1);
    } else if (e.isA("IfcBlock")) {
        const double s = model_.units().lengthToMetres;
        Box3 box;
        box.add(Point3{});
        box.add(Point3{s * e["XLength"].numberOr(0), s * e["YLength"].numberOr(0), s * e["ZLength"].numberOr(0)});
        result.push_back(transformed(boxMesh(box), curves_.placements().axisPlacement(e["Position"])));
    } else {
        notBuilt(diagnostics, e, e ? "this kind of item is not read yet" : "the item is missing");
    }
    std::erase_if(result, [](const Mesh& m) { return m.isEmpty(); });
    return result;
}

std::vector<Mesh> ItemReader::sweptArea(const Entity& e, Diagnostics& diagnostics) const
{
    std::string why;
    const auto areas = readProfile(curves_, source_.entity(e["SweptArea"]), why);
    if (!areas) {
        notBuilt(diagnostics, e, why);
        return {};
    }
    if (e.isA("IfcExtrudedAreaSolidTapered") || e.isA("IfcRevolvedAreaSolidTapered")) {
        notBuilt(diagnostics, e, "tapered sweeps are not read yet");
        return {};
    }
    const Transform position = curves_.placements().axisPlacement(e["Position"]);
    const double scale = model_.units().lengthToMetres;
    std::vector<Mesh> result;
    for (const Area& area : *areas) {
        std::optional<Mesh> mesh;
        if (e.isA("IfcExtrudedAreaSolid")) {
            const Vector3 along = normalised(curves_.placements().direction(e["ExtrudedDirection"], {0, 0, 1}));
            mesh = extruded(area, scale * e["Depth"].numberOr(0) * along);
        } else {
            const Transform axis = curves_.placements().axisPlacement(e["Axis"]);
            mesh = revolved(area, axis.origin, axis.z, Radians{e["Angle"].numberOr(0) * model_.units().angleToRadians});
        }
        if (mesh)
            result.push_back(transformed(*mesh, position));
        else
            notBuilt(diagnostics, e, "its outline crosses itself, or its sweep has no length");
    }
    return result;
}

std::vector<Mesh> ItemReader::halfSpace(const Entity& e, const Box3& around, Diagnostics& diagnostics) const
{
    const Entity surface = source_.entity(e["BaseSurface"]);
    if (!surface.isA("IfcPlane")) {
        notBuilt(diagnostics, e, "a half space is bounded by something other than a plane");
        return {};
    }
    const Transform plane = curves_.placements().axisPlacement(surface["Position"]);
    // With agreement the material lies on the side the normal points away from (ISO 10303-42, half_space_solid).
    const bool below = e["AgreementFlag"].enumeration() != "F";
    const Box3 local = plane.inverse().apply(around.grownBy(1.0 + 0.01 * length(around.size())));
    Box3 block = local;
    block.min.z = below ? std::min(local.min.z, -1.0) : 0;
    block.max.z = below ? 0 : std::max(local.max.z, 1.0);
    Mesh mesh = transformed(boxMesh(block), plane);
    if (!e.isA("IfcPolygonalBoundedHalfSpace"))
        return {mesh};
    std::string unsupported;
    auto outline = curves_.ring(source_.entity(e["PolygonalBoundary"]), unsupported);
    if (!outline || outline->size() < 3) {
        notBuilt(diagnostics, e, "the outline of a half space can not be read");
        return {};
    }
    if (signedArea(*outline) < 0)
        std::reverse(outline->begin(), outline->end());
    const Transform frame = curves_.placements().axisPlacement(e["Position"]);
    const Box3 inFrame = frame.inverse().apply(around.grownBy(1.0));
    auto prism = extruded({*outline, {}}, {0, 0, inFrame.size().z});
    if (!prism) {
        notBuilt(diagnostics, e, "the outline of a half space crosses itself");
        return {};
    }
    const Mesh placed = transformed(*prism, frame * Transform::translation({0, 0, inFrame.min.z}));
    // The block must reach past the prism too, or it would cut the prism on its sides.
    Box3 wide = plane.inverse().apply(boundsOf(placed)).grownBy(1.0);
    wide.min.z = below ? std::min(wide.min.z, -1.0) : 0;
    wide.max.z = below ? 0 : std::max(wide.max.z, 1.0);
    auto bounded = combine(placed, transformed(boxMesh(wide), plane), BooleanKind::Intersection);
    if (!bounded) {
        notBuilt(diagnostics, e, bounded.error().message);
        return {};
    }
    return {*bounded};
}

std::vector<Mesh> ItemReader::booleanResult(const Entity& e, Diagnostics& diagnostics, int depth) const
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
    if (result->isEmpty())
        return {};
    return {*result};
}

} // namespace wendrix::geometry
