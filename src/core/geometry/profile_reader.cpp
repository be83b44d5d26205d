#include "core/geometry/profile_reader.h"

#include "core/geometry/profile_shapes.h"

#include <algorithm>

namespace wendrix::geometry {

using ifc::Entity;

namespace {

constexpr int kDeepestProfile = 8;
constexpr std::size_t kMostAreas = 10'000; // a profile may hold one profile many times over, at every level

void place(Ring& ring, const Transform& frame)
{
    for (Point2& q : ring) {
        const Point3 moved = frame.apply(Point3{q.x, q.y, 0});
        q = {moved.x, moved.y};
    }
}

void place(std::vector<Area>& areas, const Transform& frame)
{
    for (Area& area : areas) {
        place(area.outer, frame);
        for (Ring& hole : area.holes)
            place(hole, frame);
    }
}

/// Corners that an outline comes back to are counted.
void clean(Ring& ring, Repairs& repairs)
{
    tidy(ring);
    std::vector<std::pair<double, double>> corners;
    for (const Point2 p : ring)
        corners.emplace_back(p.x, p.y);
    std::sort(corners.begin(), corners.end());
    if (std::adjacent_find(corners.begin(), corners.end()) != corners.end())
        ++repairs.touchingOutlines;
}

bool orient(Area& area, Repairs& repairs)
{
    clean(area.outer, repairs);
    const double enclosed = signedArea(area.outer);
    if (area.outer.size() < 3 || !(std::abs(enclosed) > 1e-12) || !std::isfinite(enclosed))
        return false;
    if (enclosed < 0)
        std::reverse(area.outer.begin(), area.outer.end());
    for (Ring& hole : area.holes) {
        clean(hole, repairs);
        if (signedArea(hole) > 0)
            std::reverse(hole.begin(), hole.end());
    }
    std::erase_if(area.holes, [](const Ring& r) { return r.size() < 3 || !(std::abs(signedArea(r)) > 1e-12); });
    // A hole that is larger than the outline was written in its place.
    for (Ring& hole : area.holes)
        if (-signedArea(hole) > signedArea(area.outer)) {
            ++repairs.swappedBounds;
            std::swap(hole, area.outer);
            std::reverse(hole.begin(), hole.end());
            std::reverse(area.outer.begin(), area.outer.end());
        }
    return true;
}

class Reader {
public:
    Reader(const CurveReader& curves, std::string& why, Repairs& repairs)
        : curves_(curves), source_(curves.source()), why_(why), repairs_(repairs)
    {
    }

    std::optional<std::vector<Area>> read(const Entity& e, int depth)
    {
        why_ = !e                        ? "the profile is missing or not well formed"
               : depth > kDeepestProfile ? "its profiles are nested too deep or in a circle"
                                         : "the profile kind " + std::string(e.typeName()) + " can not be built";
        if (!e || depth > kDeepestProfile)
            return {};
        std::vector<Area> areas;
        if (auto area = parameterisedProfile(e, curves_.units().lengthToMetres, curves_.units().angleToRadians,
                                             curves_.fineness())) {
            areas.push_back(std::move(*area));
            place(areas, curves_.placements().axisPlacement(e["Position"]));
        } else if (e.isA("IfcArbitraryClosedProfileDef")) {
            if (!closed(e, areas))
                return {};
        } else if (e.isA("IfcCenterLineProfileDef")) {
            if (!centreLine(e, areas))
                return {};
        } else if (e.isA("IfcCompositeProfileDef")) {
            for (const step::Value part : e["Profiles"]) {
                auto inner = read(source_.entity(part), depth + 1);
                if (!inner)
                    return {};
                areas.insert(areas.end(), inner->begin(), inner->end());
                if (areas.size() > kMostAreas) {
                    why_ = "its profile is made of too many areas";
                    return {};
                }
            }
        } else if (e.isA("IfcDerivedProfileDef")) {
            auto inner = read(source_.entity(e["ParentProfile"]), depth + 1);
            if (!inner)
                return {};
            areas = std::move(*inner);
            const Entity op = source_.entity(e["Operator"]);
            // Mirrored about its own Y axis; files give the operator too, or leave it derived (ISO 16739).
            place(areas, e.isA("IfcMirroredProfileDef") && !op ? Transform{{-1, 0, 0}, {0, 1, 0}, {0, 0, 1}, {}}
                                                               : curves_.placements().transformationOperator(op));
        } else {
            return {};
        }
        const bool isOwn = !e.isA("IfcCompositeProfileDef") && !e.isA("IfcDerivedProfileDef");
        Repairs countedAlready;
        for (Area& area : areas)
            if (!orient(area, isOwn ? repairs_ : countedAlready)) {
                why_ = "its profile encloses no area";
                return {};
            }
        return areas;
    }

private:
    std::optional<Ring> ring(step::Value curve)
    {
        std::string unsupported;
        const Entity e = source_.entity(curve);
        auto outline = curves_.ring(e, unsupported);
        if (e.isA("IfcPolyline") && outline) { // where pieces of a composite meet, points stand twice by rights
            const step::Value points = e["Points"];
            for (std::uint32_t i = 1; i < points.size(); ++i)
                if (points[i].reference() == points[i - 1].reference()) {
                    ++repairs_.repeatedPoints;
                    break;
                }
        }
        // Of the sender's own corners only: a curve cut into pieces may run straight by rights.
        if (outline && (e.isA("IfcPolyline") || e.isA("IfcIndexedPolyCurve")))
            repairs_.collinearPoints += dropCollinear(*outline);
        if (!outline)
            why_ = "its profile is bounded by " + unsupported + ", which can not be built";
        return outline;
    }

    bool closed(const Entity& e, std::vector<Area>& areas)
    {
        auto outer = ring(e["OuterCurve"]);
        if (!outer)
            return false;
        Area area{std::move(*outer), {}};
        for (const step::Value inner : e["InnerCurves"]) {
            auto hole = ring(inner);
            if (!hole)
                return false;
            area.holes.push_back(std::move(*hole));
        }
        areas.push_back(std::move(area));
        return true;
    }

    /// A line with a thickness: half of it to each side, ends cut square.
    bool centreLine(const Entity& e, std::vector<Area>& areas)
    {
        std::string unsupported;
        const auto line = curves_.points(source_.entity(e["Curve"]), unsupported);
        if (!line || line->size() < 2) {
            why_ = "its centre line is " + unsupported + ", which can not be built";
            return false;
        }
        const double half = curves_.units().lengthToMetres * e["Thickness"].numberOr(0) / 2;
        const auto side = [&](double distance) {
            Ring ring;
            for (const Point3 p : offsetPolyline(*line, distance, {0, 0, 1}))
                ring.push_back({p.x, p.y});
            return ring;
        };
        Ring left = side(half), right = side(-half);
        if (line->size() > 3 && length(line->front() - line->back()) < 1e-6) {
            const bool leftIsOuter = std::abs(signedArea(left)) > std::abs(signedArea(right));
            areas.push_back(leftIsOuter ? Area{left, {right}} : Area{right, {left}});
        } else {
            right.insert(right.end(), left.rbegin(), left.rend());
            areas.push_back({std::move(right), {}});
        }
        return true;
    }

    const CurveReader& curves_;
    const ifc::Source& source_;
    std::string& why_;
    Repairs& repairs_;
};

} // namespace

std::optional<std::vector<Area>> readProfile(const CurveReader& curves, const Entity& profile, std::string& why,
                                             Repairs& repairs)
{
    return Reader(curves, why, repairs).read(profile, 0);
}

} // namespace wendrix::geometry
