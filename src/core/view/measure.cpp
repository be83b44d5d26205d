#include "core/view/measure.h"

#include "core/base/text.h"
#include "core/geometry/shortest_distance.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace wendrix::view {

namespace {

using geometry::Mesh;

Mesh meshOf(std::span<const federation::Member> members, ElementKey key)
{
    const federation::Member& member = members[key.member];
    return transformed(member.geometry->meshOf(key.element), member.fit.transform());
}

std::string fixed(double value, int decimals, const char* unit)
{
    char text[64];
    std::snprintf(text, sizeof text, "%.*f%s", decimals, value == 0 ? 0.0 : value, unit);
    return text;
}

/// The triangle of a body that a place lies on.
std::uint32_t triangleAt(const Mesh& mesh, const Picked& picked)
{
    std::uint32_t best = 0;
    double nearest = std::numeric_limits<double>::max();
    for (std::uint32_t t = 0; t < mesh.triangles.size(); ++t) {
        const auto c = mesh.corners(t);
        // Of two faces that meet at the place, the one that was looked at.
        const double turn = 1 - dot(normalised(cross(c[1] - c[0], c[2] - c[0])), picked.normal);
        const double d = length(geometry::nearestPoint(picked.place, c) - picked.place) + 1e-3 * turn;
        if (d < nearest) {
            nearest = d;
            best = t;
        }
    }
    return best;
}

} // namespace

std::string inWords(MeasureKind kind)
{
    static constexpr const char* kWords[] = {"distance", "perpendicular", "shortest distance", "opening",
                                             "angle",    "area",          "elevation"};
    return kWords[static_cast<int>(kind)];
}

std::string inWords(SnapKind kind)
{
    static constexpr const char* kWords[] = {"corner", "midpoint", "centre line", "edge", "face"};
    return kWords[static_cast<int>(kind)];
}

std::string measuredLength(double metres)
{
    const double tenths = std::round(std::abs(metres) * 1e4);
    const auto whole = static_cast<std::uint64_t>(tenths / 10);
    return (metres < 0 && tenths > 0 ? "\u2212" : "") + grouped(whole) + "." +
           std::to_string(static_cast<int>(tenths) % 10) + " mm";
}

Measurement distanceBetween(Point3 a, Point3 b)
{
    const Vector3 d = b - a;
    Measurement m{MeasureKind::Distance, {a, b}, measuredLength(length(d)), {}, length(d)};
    m.parts = {{"along X", measuredLength(d.x)},
               {"along Y", measuredLength(d.y)},
               {"upright", measuredLength(d.z)},
               {"level", measuredLength(std::hypot(d.x, d.y))}};
    if (const double level = std::hypot(d.x, d.y); level > 1e-9)
        m.parts.emplace_back("slope", fixed(std::atan2(d.z, level) * 180 / std::numbers::pi, 2, "°"));
    return m;
}

Measurement perpendicular(Point3 from, Point3 onFace, Vector3 normal)
{
    const Vector3 n = normalised(normal);
    const Point3 foot = from - dot(from - onFace, n) * n;
    Measurement m = distanceBetween(from, foot);
    m.kind = MeasureKind::Perpendicular;
    return m;
}

Result<Measurement> shortestBetween(std::span<const federation::Member> members, ElementKey a, ElementKey b)
{
    const auto nearest = geometry::shortestDistance(geometry::TriangleTree(meshOf(members, a)),
                                                    geometry::TriangleTree(meshOf(members, b)));
    if (!nearest)
        return fail({kCanNotMeasure, "One of the two elements has no body to measure from."});
    Measurement m = distanceBetween(nearest->a, nearest->b);
    m.kind = MeasureKind::Shortest;
    if (nearest->distance == 0)
        m.value = "0.0 mm, they meet";
    return m;
}

Result<Measurement> openingAt(std::span<const federation::Member> members, const Picked& picked)
{
    const Mesh mesh = meshOf(members, picked.element);
    if (mesh.isEmpty())
        return fail({kCanNotMeasure, "The element has no body to measure."});
    const geometry::FlatFace face = geometry::flatFace(mesh, triangleAt(mesh, picked));
    if (face.bounds.size() < 2)
        return fail(
            {kCanNotMeasure, "The face there has no opening; take hold of the wall's or slab's face beside it."});
    const std::vector<Point3>* nearest = nullptr;
    double least = std::numeric_limits<double>::max();
    for (std::size_t i = 1; i < face.bounds.size(); ++i)
        for (std::size_t k = 0; k < face.bounds[i].size(); ++k) {
            const auto& ring = face.bounds[i];
            const double d =
                geometry::betweenSegments(picked.place, picked.place, ring[k], ring[(k + 1) % ring.size()]).distance;
            if (d < least) {
                least = d;
                nearest = &ring;
            }
        }
    // Level and upright in a wall; in a slab along its longest side and across.
    Vector3 across = cross(Vector3{0, 0, 1}, face.normal);
    const bool isLevel = length(across) < 1e-6;
    if (isLevel)
        for (std::size_t k = 0; k < nearest->size(); ++k)
            if (const Vector3 side = (*nearest)[(k + 1) % nearest->size()] - (*nearest)[k];
                length(side) > length(across))
                across = side;
    across = normalised(across);
    const Vector3 up = cross(face.normal, across);
    double low[2] = {1e300, 1e300}, high[2] = {-1e300, -1e300};
    const Point3 o = nearest->front();
    for (const Point3 p : *nearest)
        for (int i = 0; i < 2; ++i) {
            const double d = dot(p - o, i == 0 ? across : up);
            low[i] = std::min(low[i], d);
            high[i] = std::max(high[i], d);
        }
    const double width = high[0] - low[0], height = high[1] - low[1];
    const auto at = [&](double u, double v) { return o + u * across + v * up; };
    Measurement m;
    m.kind = MeasureKind::Opening;
    m.places = {at(low[0], low[1]), at(high[0], low[1]), at(high[0], high[1]), at(low[0], high[1])};
    m.value = measuredLength(width) + " × " + measuredLength(height);
    m.parts = {{isLevel ? "length" : "width", measuredLength(width)},
               {isLevel ? "width" : "height", measuredLength(height)}};
    m.number = width;
    return m;
}

Measurement angleAt(Point3 a, Point3 corner, Point3 b)
{
    const Vector3 u = a - corner, v = b - corner;
    const double angle = std::atan2(length(cross(u, v)), dot(u, v));
    return {MeasureKind::Angle, {a, corner, b}, fixed(angle * 180 / std::numbers::pi, 2, "°"), {}, angle};
}

Measurement areaOf(std::span<const federation::Member> members, const Picked& picked)
{
    const Mesh mesh = meshOf(members, picked.element);
    Measurement m;
    m.kind = MeasureKind::Area;
    if (!mesh.isEmpty()) {
        const geometry::FlatFace face = geometry::flatFace(mesh, triangleAt(mesh, picked));
        m.places = face.bounds.empty() ? std::vector<Point3>{} : face.bounds.front();
        m.number = face.area;
        if (face.bounds.size() > 1)
            m.parts.emplace_back("without", counted(face.bounds.size() - 1, "hole", "holes"));
    }
    m.value = fixed(m.number, 4, " m²");
    return m;
}

Measurement elevationOf(Point3 place, const ifc::Georeference& georeference)
{
    Measurement m;
    m.kind = MeasureKind::Elevation;
    m.places = {place};
    m.number = place.z;
    m.value = elevationInWords(Metres{place.z}) + " m";
    m.parts.emplace_back("above the project's zero", elevationInWords(Metres{place.z}) + " m");
    const auto sea = georeference.height          ? georeference.height
                     : georeference.siteElevation ? std::optional(georeference.siteElevation->value)
                                                  : std::nullopt;
    m.parts.emplace_back("above sea level",
                         sea ? elevationInWords(Metres{place.z + *sea}) + " m" : "the reference does not say");
    return m;
}

const Snapper::Features& Snapper::featuresOf(ElementKey key)
{
    constexpr std::size_t kMostKept = 64;
    if (known_.size() > kMostKept)
        known_.clear();
    const auto [found, isNew] = known_.try_emplace(key);
    if (isNew) {
        const federation::Member& member = members_[key.member];
        for (const geometry::PlacedShape& placed : member.geometry->elements()[key.element].placed) {
            const geometry::Shape& shape = member.geometry->shapes()[placed.shape];
            const Transform map = member.fit.transform() * placed.placement;
            for (const auto& edge : shape.edges)
                found->second.edges.push_back(
                    {map.apply(shape.mesh.points[edge[0]]), map.apply(shape.mesh.points[edge[1]])});
        }
        found->second.centreLine = geometry::centreLine(meshOf(members_, key));
    }
    return found->second;
}

std::optional<Snap> Snapper::at(const Camera& camera, Viewport viewport, double x, double y, double reach,
                                const Colours& colours, const Picker::Filter& filter, SnapKinds kinds)
{
    const auto pickAt = [&](double px, double py) {
        return picker_.pick(rayThrough(camera, viewport, px, py), colours, filter);
    };
    auto under = pickAt(x, y);
    // Just beside a body its edge can still be held.
    for (int k = 0; k < 8 && !under; ++k)
        under = pickAt(x + reach * std::cos(k * std::numbers::pi / 4), y + reach * std::sin(k * std::numbers::pi / 4));
    if (!under)
        return {};
    Snap best{SnapKind::Face, *under, {}};
    double score = std::numeric_limits<double>::max();
    const auto pixels = [&](Point3 p) {
        const ScreenPlace s = project(camera, viewport, p);
        return s.isInFront ? std::hypot(s.x - x, s.y - y) : 1e9;
    };
    const auto isSeen = [&](Point3 p) {
        const ScreenPlace s = project(camera, viewport, p);
        const Ray ray = rayThrough(camera, viewport, s.x, s.y);
        const auto first = picker_.pick(ray, colours, filter);
        return !first || dot(first->place - ray.origin, ray.direction) > dot(p - ray.origin, ray.direction) - 2e-3;
    };
    const auto offer = [&](SnapKind kind, Point3 p, std::vector<Point3> line, bool mayBeInside) {
        if ((kinds & snapKinds(kind)) == 0)
            return;
        const double off = pixels(p);
        // A kind that is rarer counts as nearer; hidden places are not held.
        const double rated = off + reach * static_cast<int>(kind);
        if (off > reach || rated >= score || !filter.shows(p) || (!mayBeInside && !isSeen(p)))
            return;
        score = rated;
        best.kind = kind;
        best.picked.place = p;
        best.line = std::move(line);
    };
    const Ray ray = rayThrough(camera, viewport, x, y);
    const auto along = [&](Point3 a, Point3 b) {
        return geometry::betweenSegments(ray.origin, ray.origin + 2e4 * ray.direction, a, b).b;
    };
    const Features& features = featuresOf(under->element);
    for (const auto& [a, b] : features.edges) {
        const Point3 on = along(a, b);
        if (pixels(on) > reach)
            continue;
        offer(SnapKind::Corner, a, {}, false);
        offer(SnapKind::Corner, b, {}, false);
        offer(SnapKind::Midpoint, 0.5 * (a + b), {a, b}, false);
        offer(SnapKind::Edge, on, {a, b}, false);
    }
    if (features.centreLine) {
        const auto& [a, b] = *features.centreLine;
        offer(SnapKind::CentreLine, along(a, b), {a, b}, true);
    }
    if (best.kind == SnapKind::Face &&
        ((kinds & snapKinds(SnapKind::Face)) == 0 || pixels(under->place) > 1)) // beside the body there is no face
        return {};
    return best;
}

} // namespace wendrix::view
