#include "core/ifc/placement.h"

#include <unordered_set>

namespace wendrix::ifc {

namespace {

/// A right-handed frame with +Z along `axis` and +X as near `ref` as possible (ISO 16739, IfcBuildAxes).
Transform frame(Point3 origin, Vector3 axis, Vector3 ref)
{
    const Vector3 z = normalised(axis);
    Vector3 x = ref - dot(ref, z) * z;
    x = length(x) > 1e-9 * length(ref) ? normalised(x) : anyPerpendicular(z);
    return {x, cross(z, x), z, origin};
}

} // namespace

Point3 PlacementReader::point(const Entity& e) const
{
    const Value c = e["Coordinates"];
    return {scale_ * c[0].numberOr(0), scale_ * c[1].numberOr(0), scale_ * c[2].numberOr(0)};
}

Vector3 PlacementReader::direction(Value reference, Vector3 otherwise) const
{
    const Entity e = source_.entity(reference);
    if (!e)
        return otherwise;
    const Value r = e["DirectionRatios"];
    const Vector3 d{r[0].numberOr(0), r[1].numberOr(0), r[2].numberOr(0)};
    return length(d) > 0 && std::isfinite(length(d)) ? d : otherwise;
}

Transform PlacementReader::axisPlacement(const Entity& e) const
{
    if (!e)
        return {};
    const Point3 origin = point(e["Location"]);
    if (e.isA("IfcAxis2Placement2D"))
        return frame(origin, {0, 0, 1}, direction(e["RefDirection"], {1, 0, 0}));
    const Vector3 axis = direction(e["Axis"], {0, 0, 1});
    return frame(origin, axis, direction(e["RefDirection"], {1, 0, 0}));
}

Transform PlacementReader::transformationOperator(const Entity& e) const
{
    const bool is2D = e.isA("IfcCartesianTransformationOperator2D");
    const Vector3 axis1 = direction(e["Axis1"], {1, 0, 0}), axis2 = direction(e["Axis2"], {0, 1, 0});
    const double scale = e["Scale"].numberOr(1);
    Transform t;
    t.z = is2D ? Vector3{0, 0, 1} : normalised(direction(e["Axis3"], cross(axis1, axis2)));
    if (length(t.z) == 0)
        t.z = {0, 0, 1};
    Vector3 x = axis1 - dot(axis1, t.z) * t.z;
    x = length(x) > 1e-9 ? normalised(x) : anyPerpendicular(t.z);
    Vector3 y = axis2 - dot(axis2, t.z) * t.z - dot(axis2, x) * x;
    // Axis2 may make the system left-handed: that is how files mirror a shape.
    y = length(y) > 1e-9 ? normalised(y) : cross(t.z, x);
    t.x = scale * x;
    t.y = e["Scale2"].numberOr(scale) * y;
    t.z = (is2D ? 1.0 : e["Scale3"].numberOr(scale)) * t.z;
    t.origin = point(e["LocalOrigin"]);
    return t;
}

Transform ObjectPlacements::of(EntityId placement)
{
    std::vector<std::pair<EntityId, Transform>> chain; // innermost first
    std::unordered_set<EntityId> seen;
    Transform base;
    for (EntityId at = placement; at != 0;) {
        if (const auto found = known_.find(at); found != known_.end()) {
            base = found->second;
            break;
        }
        if (!seen.insert(at).second) {
            diagnostics_.push_back({Severity::Error, "ifc.circular-placement", entityName(at),
                                    "The placement refers back to itself; it is taken as relative to the world."});
            break;
        }
        const Entity e = source_.entity(at);
        if (!e)
            break;
        chain.emplace_back(at, e.isA("IfcLocalPlacement") ? reader_.axisPlacement(e["RelativePlacement"])
                                                          : Transform{});
        if (!e.isA("IfcLocalPlacement"))
            diagnostics_.push_back({Severity::Warning, "ifc.placement-kind", entityName(at),
                                    "Only local placements are read; this " + std::string(e.typeName()) +
                                        " is taken as the origin it is relative to."});
        at = e["PlacementRelTo"].reference();
    }
    for (auto link = chain.rbegin(); link != chain.rend(); ++link) {
        base = base * link->second;
        known_[link->first] = base;
    }
    return base;
}

} // namespace wendrix::ifc
