#include "core/geometry/swept_reader.h"

#include "core/geometry/path_sweep.h"
#include "core/geometry/profile_reader.h"
#include "core/geometry/sweep.h"

#include <algorithm>

namespace wendrix::geometry {

using ifc::Entity;
using step::Value;

namespace {

const std::string kCrossed = "its outline crosses itself, or its sweep has no length";

std::optional<double> given(Value parameter) { return parameter.number(); }

/// What turns the profile of a sweep along a surface: the surface's normal where the path is.
ReferenceAt normalOf(const CurveReader& curves, const Entity& surface)
{
    const ifc::PlacementReader& placements = curves.placements();
    if (surface.isA("IfcPlane")) {
        const Vector3 n = placements.axisPlacement(surface["Position"]).z;
        return [n](Point3, Vector3) { return n; };
    }
    if (surface.isA("IfcCylindricalSurface")) {
        const Transform frame = placements.axisPlacement(surface["Position"]);
        return [frame](Point3 p, Vector3) {
            const Vector3 d = p - frame.origin;
            return d - dot(d, frame.z) * frame.z;
        };
    }
    if (surface.isA("IfcSphericalSurface")) {
        const Point3 centre = placements.axisPlacement(surface["Position"]).origin;
        return [centre](Point3 p, Vector3) { return p - centre; };
    }
    if (surface.isA("IfcSurfaceOfLinearExtrusion")) {
        const Transform frame = placements.axisPlacement(surface["Position"]);
        const Vector3 direction = frame.turn(placements.direction(surface["ExtrudedDirection"], {0, 0, 1}));
        return [direction](Point3, Vector3 along) { return cross(along, direction); };
    }
    return {};
}

} // namespace

bool SweptReader::reads(const Entity& e)
{
    return e.isA("IfcSweptAreaSolid") || e.isA("IfcSweptDiskSolid") || e.isA("IfcSectionedSpine") ||
           e.isA("IfcSectionedSolid");
}

std::vector<Mesh> SweptReader::meshes(const Entity& e, std::string& why, Repairs& repairs) const
{
    if (e.isA("IfcExtrudedAreaSolid"))
        return extrusion(e, why, repairs);
    if (e.isA("IfcRevolvedAreaSolid"))
        return revolution(e, why, repairs);
    if (e.isA("IfcSweptDiskSolid"))
        return disk(e, why);
    if (e.isA("IfcSweptAreaSolid"))
        return alongDirectrix(e, why, repairs);
    return sectioned(e, why, repairs);
}

std::optional<Prism> SweptReader::prism(const Entity& e, Repairs& repairs) const
{
    if (e.typeName() != "IfcExtrudedAreaSolid")
        return {};
    const Vector3 along = curves_.placements().direction(e["ExtrudedDirection"], {0, 0, 1});
    const double depth = curves_.units().lengthToMetres * e["Depth"].numberOr(0);
    if (along.x != 0 || along.y != 0 || !(along.z > 0) || !(depth > 1e-9) || !std::isfinite(depth))
        return {};
    std::string why;
    auto areas = readProfile(curves_, curves_.source().entity(e["SweptArea"]), why, repairs);
    if (!areas)
        return {};
    Transform placement = curves_.placements().axisPlacement(e["Position"]);
    placement.z = depth * placement.z;
    return Prism{std::move(*areas), placement};
}

std::optional<std::vector<Area>> SweptReader::endProfile(const CurveReader& curves, const Entity& e, std::size_t count,
                                                         std::string& why, Repairs& repairs)
{
    auto end = readProfile(curves, curves.source().entity(e["EndSweptArea"]), why, repairs);
    if (end && end->size() != count) {
        why = "its two ends have a different number of areas";
        return {};
    }
    return end;
}

std::vector<Mesh> SweptReader::extrusion(const Entity& e, std::string& why, Repairs& repairs) const
{
    const auto areas = readProfile(curves_, curves_.source().entity(e["SweptArea"]), why, repairs);
    if (!areas)
        return {};
    const Transform position = curves_.placements().axisPlacement(e["Position"]);
    const Vector3 along = normalised(curves_.placements().direction(e["ExtrudedDirection"], {0, 0, 1}));
    const Vector3 path = curves_.units().lengthToMetres * e["Depth"].numberOr(0) * along;
    const bool isTapered = e.isA("IfcExtrudedAreaSolidTapered");
    const auto ends = isTapered ? endProfile(curves_, e, areas->size(), why, repairs) : areas;
    if (!ends)
        return {};
    std::vector<Mesh> result;
    for (std::size_t i = 0; i < areas->size(); ++i) {
        std::optional<Mesh> mesh;
        if (!isTapered) {
            mesh = extruded((*areas)[i], path);
        } else if (std::abs(path.z) > 1e-12 && std::isfinite(length(path))) {
            const Area both[] = {(*areas)[i], (*ends)[i]};
            const Transform frames[] = {{}, Transform::translation(path)};
            mesh = lofted(both, frames);
        }
        if (!mesh) {
            why = kCrossed;
            return {};
        }
        result.push_back(transformed(*mesh, position));
    }
    return result;
}

std::vector<Mesh> SweptReader::revolution(const Entity& e, std::string& why, Repairs& repairs) const
{
    const auto areas = readProfile(bends_, curves_.source().entity(e["SweptArea"]), why, repairs);
    if (!areas)
        return {};
    const Transform position = curves_.placements().axisPlacement(e["Position"]);
    const Transform axis = curves_.placements().axisPlacement(e["Axis"]);
    const Radians angle{e["Angle"].numberOr(0) * curves_.units().angleToRadians};
    const bool isTapered = e.isA("IfcRevolvedAreaSolidTapered");
    const auto ends = isTapered ? endProfile(bends_, e, areas->size(), why, repairs) : areas;
    if (!ends)
        return {};
    std::vector<Mesh> result;
    for (std::size_t i = 0; i < areas->size(); ++i) {
        const auto mesh = isTapered
                              ? revolvedTapered((*areas)[i], (*ends)[i], axis.origin, axis.z, angle, bends_.fineness())
                              : revolved((*areas)[i], axis.origin, axis.z, angle, bends_.fineness());
        if (!mesh) {
            why = kCrossed;
            return {};
        }
        result.push_back(transformed(*mesh, position));
    }
    return result;
}

std::vector<Mesh> SweptReader::disk(const Entity& e, std::string& why) const
{
    std::string unsupported;
    auto path =
        bends_.part(curves_.source().entity(e["Directrix"]), given(e["StartParam"]), given(e["EndParam"]), unsupported);
    if (!path) {
        why = "its directrix is " + unsupported + ", which can not be built";
        return {};
    }
    const double scale = curves_.units().lengthToMetres;
    if (e.isA("IfcSweptDiskSolidPolygonal"))
        path = withRoundedCorners(*path, scale * e["FilletRadius"].numberOr(0), bends_.fineness());
    const auto mesh =
        sweptDisk(*path, scale * e["Radius"].numberOr(0), scale * e["InnerRadius"].numberOr(0), curves_.fineness());
    if (!mesh) {
        why = "its radii make no disk, or its directrix has no length or turns back on itself";
        return {};
    }
    return {*mesh};
}

std::vector<Mesh> SweptReader::alongDirectrix(const Entity& e, std::string& why, Repairs& repairs) const
{
    const ifc::Source& source = curves_.source();
    const auto areas = readProfile(bends_, source.entity(e["SweptArea"]), why, repairs);
    if (!areas)
        return {};
    std::string unsupported;
    const auto path =
        bends_.part(source.entity(e["Directrix"]), given(e["StartParam"]), given(e["EndParam"]), unsupported);
    if (!path) {
        why = "its directrix is " + unsupported + ", which can not be built";
        return {};
    }
    ReferenceAt reference;
    if (e["FixedReference"].isGiven()) {
        const Vector3 fixed = curves_.placements().direction(e["FixedReference"], {1, 0, 0});
        reference = [fixed](Point3, Vector3) { return fixed; };
    } else if (e["ReferenceSurface"].isGiven()) {
        const Entity surface = source.entity(e["ReferenceSurface"]);
        reference = normalOf(curves_, surface);
        if (!reference) {
            why = "its reference surface is " + std::string(surface ? surface.typeName() : "missing") +
                  ", which can not be followed";
            return {};
        }
    }
    const Transform position = curves_.placements().axisPlacement(e["Position"]);
    std::vector<Mesh> result;
    for (const Area& area : *areas) {
        const auto mesh = sweptAlong(area, *path, reference);
        if (!mesh) {
            why = "its outline crosses itself, or its directrix has no length or turns back on itself";
            return {};
        }
        result.push_back(transformed(*mesh, position));
    }
    return result;
}

std::optional<Transform> SweptReader::sectionFrame(const Entity& position, const Path& directrix) const
{
    if (!position.isA("IfcAxis2PlacementLinear") && !position.isA("IfcPointByDistanceExpression"))
        return position ? std::optional(curves_.placements().axisPlacement(position)) : std::nullopt;
    const ifc::Source& source = curves_.source();
    const Entity place = position.isA("IfcAxis2PlacementLinear") ? source.entity(position["Location"]) : position;
    if (!place.isA("IfcPointByDistanceExpression"))
        return {};
    const double scale = curves_.units().lengthToMetres;
    std::optional<Path> own;
    if (const Entity basis = source.entity(place["BasisCurve"])) {
        std::string unsupported;
        own = bends_.part(basis, {}, {}, unsupported);
    }
    const auto [at, along] = own.value_or(directrix).at(scale * place["DistanceAlong"].numberOr(0));
    // Up as far as the way allows, x to the left: then the profile faces along the way (ISO 16739-1:2024,
    // IfcAxis2PlacementLinear).
    Vector3 up =
        position["Axis"].isGiven() ? curves_.placements().direction(position["Axis"], {0, 0, 1}) : Vector3{0, 0, 1};
    up = up - dot(up, along) * along;
    up = length(up) > 1e-9 ? normalised(up) : anyPerpendicular(along);
    const Vector3 left = cross(up, along);
    const Point3 origin = at + scale * place["OffsetLateral"].numberOr(0) * left +
                          scale * place["OffsetVertical"].numberOr(0) * up +
                          scale * place["OffsetLongitudinal"].numberOr(0) * along;
    return Transform{left, up, along, origin};
}

std::vector<Mesh> SweptReader::sectioned(const Entity& e, std::string& why, Repairs& repairs) const
{
    const ifc::Source& source = curves_.source();
    std::vector<Area> areas;
    std::vector<Transform> frames;
    for (const Value reference : e["CrossSections"]) {
        const auto section = readProfile(curves_, source.entity(reference), why, repairs);
        if (!section)
            return {};
        if (section->size() != 1) {
            why = "a cross section has more than one area";
            return {};
        }
        areas.push_back(section->front());
    }
    std::string unsupported;
    const ifc::Name directrixName = e.isA("IfcSectionedSpine") ? ifc::Name("SpineCurve") : ifc::Name("Directrix");
    const Path directrix = bends_.part(source.entity(e[directrixName]), {}, {}, unsupported).value_or(Path{});
    for (const Value reference : e["CrossSectionPositions"]) {
        const auto frame = sectionFrame(source.entity(reference), directrix);
        if (!frame) {
            why = "the position of a cross section is missing or can not be worked out";
            return {};
        }
        frames.push_back(*frame);
    }
    const auto mesh = loftedAlong(areas, frames, directrix);
    if (!mesh) {
        why = "its cross sections do not match each other or their positions";
        return {};
    }
    return {*mesh};
}

} // namespace wendrix::geometry
