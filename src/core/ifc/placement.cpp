#include "core/ifc/placement.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <limits>
#include <unordered_map>

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
    if (!e) {
        constexpr double kNowhere = std::numeric_limits<double>::quiet_NaN();
        return {kNowhere, kNowhere, kNowhere};
    }
    const Value c = e["Coordinates"];
    return {scale_ * c[0].numberOr(0), scale_ * c[1].numberOr(0), scale_ * c[2].numberOr(0)};
}

Point3 PlacementReader::point(EntityId id) const
{
    const step::Entry* entry = source_.entry(id);
    std::array<double, 3> c;
    // Nothing is read as often, so what all files have is read without a node for each number.
    if (entry != nullptr && source_.typeOf(*entry) == point_ &&
        step::parseNumbers(source_.file().argumentsOf(*entry), c))
        return {scale_ * c[0], scale_ * c[1], scale_ * c[2]};
    return point(entry != nullptr ? source_.entity(*entry) : Entity{});
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
    const Entity location = source_.entity(e["Location"]);
    const Point3 origin = location && location["Coordinates"].isList() ? point(location) : Point3{};
    if (e.isA("IfcAxis2Placement2D"))
        return frame(origin, {0, 0, 1}, direction(e["RefDirection"], {1, 0, 0}));
    const Vector3 axis = direction(e["Axis"], {0, 0, 1});
    return frame(origin, axis, direction(e["RefDirection"], {1, 0, 0}));
}

Transform PlacementReader::transformationOperator(const Entity& e) const
{
    // ISO 16739, IfcBaseAxis: each axis that is left out has a default of its own, whatever the others are.
    const bool is2D = e.isA("IfcCartesianTransformationOperator2D");
    const Vector3 none{0, 0, 0}, axis1 = direction(e["Axis1"], none), axis2 = direction(e["Axis2"], none);
    const double scale = e["Scale"].numberOr(1);
    Transform t;
    t.z = is2D ? Vector3{0, 0, 1} : normalised(direction(e["Axis3"], {0, 0, 1}));
    // In the plane the one axis that is given settles both; in space the first is x, or y where z is x.
    Vector3 first = axis1;
    if (length(axis1) == 0)
        first = is2D && length(axis2) > 0     ? Vector3{axis2.y, -axis2.x, 0}
                : std::abs(t.z.x) > 1 - 1e-12 ? Vector3{0, 1, 0}
                                              : Vector3{1, 0, 0};
    const Vector3 second = length(axis2) > 0 ? axis2 : is2D ? cross(t.z, first) : Vector3{0, 1, 0};
    Vector3 x = first - dot(first, t.z) * t.z;
    x = length(x) > 1e-9 ? normalised(x) : anyPerpendicular(t.z);
    Vector3 y = second - dot(second, t.z) * t.z - dot(second, x) * x;
    // Axis2 may make the system left-handed: that is how files mirror a shape.
    y = length(y) > 1e-9 ? normalised(y) : cross(t.z, x);
    t.x = scale * x;
    t.y = e["Scale2"].numberOr(scale) * y;
    t.z = (is2D ? 1.0 : e["Scale3"].numberOr(scale)) * t.z;
    t.origin = point(e["LocalOrigin"]);
    return t;
}

namespace {

/// A straight grid axis in its grid's plane.
struct PlaneLine {
    Point2 start, direction;
};

std::optional<PlaneLine> axisLine(const Source& source, const PlacementReader& reader, const Entity& axis)
{
    const Entity curve = source.entity(axis["AxisCurve"]);
    const Value points = curve["Points"];
    if (!curve.isA("IfcPolyline") || points.size() < 2)
        return {};
    const Point3 a = reader.point(points[0]), b = reader.point(points[points.size() - 1]);
    const Point2 d{b.x - a.x, b.y - a.y};
    if (!(length(d) > 0))
        return {};
    const double sense = axis["SameSense"].enumeration() == "F" ? -1 : 1;
    return PlaneLine{{a.x, a.y}, (sense / length(d)) * d};
}

/// Where two grid axes cross, offset to the left of each (ISO 16739, IfcVirtualGridIntersection).
std::optional<Point3> crossing(const Source& source, const PlacementReader& reader, const Entity& intersection)
{
    const Value axes = intersection["IntersectingAxes"], offsets = intersection["OffsetDistances"];
    if (axes.size() != 2)
        return {};
    const auto a = axisLine(source, reader, source.entity(axes[0])),
               b = axisLine(source, reader, source.entity(axes[1]));
    if (!a || !b || std::abs(cross(a->direction, b->direction)) < 1e-9)
        return {};
    const double scale = reader.lengthToMetres();
    const auto shifted = [&](const PlaneLine& line, double offset) {
        return line.start + scale * offset * Point2{-line.direction.y, line.direction.x};
    };
    const Point2 p = shifted(*a, offsets[0].numberOr(0)), q = shifted(*b, offsets[1].numberOr(0));
    const double along = cross(q - p, b->direction) / cross(a->direction, b->direction);
    const Point2 at = p + along * a->direction;
    return Point3{at.x, at.y, scale * offsets[2].numberOr(0)};
}

/// Which grid an axis belongs to.
std::unordered_map<EntityId, EntityId> gridsOfAxes(const Source& source)
{
    std::unordered_map<EntityId, EntityId> grids;
    source.forEach("IfcGrid", [&](const Entity& grid) {
        for (const Name family : {Name("UAxes"), Name("VAxes"), Name("WAxes")})
            for (const Value axis : grid[family])
                grids.try_emplace(axis.reference(), grid.id());
    });
    return grids;
}

} // namespace

ObjectPlacements::ObjectPlacements(const Source& source, const PlacementReader& reader,
                                   std::vector<Diagnostic>& diagnostics, const Progress& progress)
{
    const auto positions = source.positions("IfcObjectPlacement");
    const auto all = source.file().entities().all();
    std::vector<Placed> placed(positions.size());
    std::vector<char> isOther(positions.size(), 0);
    tbb::parallel_for(std::size_t{0}, positions.size(), [&](std::size_t i) {
        if (progress.isCancelled())
            return;
        Placed& one = placed[i];
        one.id = all[positions[i]].id();
        const Entity e = source.entity(all[positions[i]]);
        one.relativeTo = e["PlacementRelTo"].reference();
        if (e.isA("IfcLocalPlacement"))
            one.transform = reader.axisPlacement(e["RelativePlacement"]);
        else
            isOther[i] = 1;
    });

    std::unordered_map<EntityId, EntityId> grids;
    for (std::size_t i = 0; i < positions.size(); ++i) {
        if (isOther[i] == 0)
            continue;
        const Entity e = source.entity(placed[i].id);
        if (e.isA("IfcLinearPlacement") && e["CartesianPosition"].reference() != 0) {
            placed[i].transform = reader.axisPlacement(e["CartesianPosition"]);
            continue;
        }
        if (e.isA("IfcGridPlacement")) {
            if (grids.empty())
                grids = gridsOfAxes(source);
            const Entity at = source.entity(e["PlacementLocation"]);
            if (const auto point = crossing(source, reader, at)) {
                Vector3 x{1, 0, 0};
                const Entity towards = source.entity(e["PlacementRefDirection"]);
                if (towards.isA("IfcVirtualGridIntersection"))
                    x = crossing(source, reader, towards).value_or(*point + x) - *point;
                else if (towards)
                    x = reader.direction(e["PlacementRefDirection"], x);
                placed[i].transform = frame(*point, {0, 0, 1}, x);
                const auto grid = grids.find(at["IntersectingAxes"][0].reference());
                if (placed[i].relativeTo == 0 && grid != grids.end())
                    placed[i].relativeTo = source.entity(grid->second)["ObjectPlacement"].reference();
                continue;
            }
        }
        diagnostics.push_back(
            {Severity::Warning, "ifc.placement-kind", entityName(placed[i].id),
             "This " + std::string(e ? e.typeName() : "placement") +
                 " can not be worked out and carries no Cartesian fallback; it is taken as the origin "
                 "it is relative to. Ask for local placements."});
    }

    // From the root down, each once: 0 waits, 1 is being worked out, 2 is done.
    std::vector<char> state(placed.size(), 0);
    std::vector<std::size_t> chain;
    const auto find = [&](EntityId id) -> std::size_t {
        const auto at = std::lower_bound(placed.begin(), placed.end(), id,
                                         [](const Placed& p, EntityId wanted) { return p.id < wanted; });
        return id != 0 && at != placed.end() && at->id == id ? static_cast<std::size_t>(at - placed.begin())
                                                             : placed.size();
    };
    for (std::size_t i = 0; i < placed.size() && !progress.isCancelled(); ++i) {
        chain.clear();
        Transform base;
        for (std::size_t at = i; at < placed.size(); at = find(placed[at].relativeTo)) {
            if (state[at] == 2) {
                base = placed[at].transform;
                break;
            }
            if (state[at] == 1) {
                diagnostics.push_back({Severity::Error, "ifc.circular-placement", entityName(placed[at].id),
                                       "The placement refers back to itself; it is taken as relative to the world."});
                break;
            }
            state[at] = 1;
            chain.push_back(at);
        }
        for (auto link = chain.rbegin(); link != chain.rend(); ++link) {
            base = base * placed[*link].transform;
            placed[*link].transform = base;
            state[*link] = 2;
        }
    }
    placed_ = std::move(placed);
}

Transform ObjectPlacements::of(EntityId placement) const
{
    const auto at = std::lower_bound(placed_.begin(), placed_.end(), placement,
                                     [](const Placed& p, EntityId wanted) { return p.id < wanted; });
    return placement != 0 && at != placed_.end() && at->id == placement ? at->transform : Transform{};
}

} // namespace wendrix::ifc
