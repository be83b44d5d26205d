#include "core/geometry/profile_reader.h"

#include <algorithm>
#include <numbers>

namespace wendrix::geometry {

using ifc::Entity;

namespace {

constexpr double kPi = std::numbers::pi;

/// A corner of an outline and the radius it is rounded with.
struct Corner {
    Point2 at;
    double radius = 0;
};

/// Replaces each corner by its tangent arc; a radius that does not fit its edges is cut down to what does.
Ring rounded(const std::vector<Corner>& corners)
{
    Ring ring;
    const std::size_t n = corners.size();
    for (std::size_t i = 0; i < n; ++i) {
        const Point2 p = corners[i].at;
        const Vector2 in = corners[(i + n - 1) % n].at - p, out = corners[(i + 1) % n].at - p;
        const double lin = length(in), lout = length(out);
        double radius = corners[i].radius;
        if (!(radius > 0) || lin == 0 || lout == 0) {
            ring.push_back(p);
            continue;
        }
        const Vector2 a = (1 / lin) * in, b = (1 / lout) * out;
        const double half = std::acos(std::clamp(dot(a, b), -1.0, 1.0)) / 2;
        if (half > kPi / 2 - 1e-9 || half < 1e-9) {
            ring.push_back(p);
            continue;
        }
        radius = std::min(radius, 0.5 * std::min(lin, lout) * std::tan(half) * 2);
        const double reach = radius / std::tan(half);
        const Vector2 bisector = a + b;
        const Point2 centre = p + (radius / std::sin(half) / length(bisector)) * bisector;
        const Point2 first = p + reach * a, last = p + reach * b;
        const double from = std::atan2(first.y - centre.y, first.x - centre.x);
        double sweep = std::atan2(last.y - centre.y, last.x - centre.x) - from;
        while (sweep > kPi)
            sweep -= 2 * kPi;
        while (sweep < -kPi)
            sweep += 2 * kPi;
        for (const Point2 q : arcPoints(centre, radius, Radians{from}, Radians{sweep}))
            ring.push_back(q);
    }
    tidy(ring);
    return ring;
}

Ring rectangle(double x, double y, double radius = 0)
{
    return rounded({{{-x / 2, -y / 2}, radius}, {{x / 2, -y / 2}, radius}, {{x / 2, y / 2}, radius},
                    {{-x / 2, y / 2}, radius}});
}

Ring ellipse(double a, double b)
{
    const int n = segmentsOfCircle(std::max(a, b));
    Ring ring;
    for (int i = 0; i < n; ++i)
        ring.push_back({a * std::cos(2 * kPi * i / n), b * std::sin(2 * kPi * i / n)});
    return ring;
}

/// Reads the parameters of one profile; every length in metres, absent ones 0.
class Parameters {
public:
    Parameters(const Entity& e, double scale) : e_(e), scale_(scale) {}
    double operator()(ifc::Name name) const { return scale_ * e_[name].numberOr(0); }
    bool has(ifc::Name name) const { return e_[name].number().has_value(); }

private:
    const Entity& e_;
    double scale_;
};

Ring iShape(const Parameters& p)
{
    const double w = p("OverallWidth"), h = p("OverallDepth"), web = p("WebThickness"), t = p("FlangeThickness");
    const double r = p("FilletRadius"), x = w / 2, y = h / 2, s = web / 2;
    return rounded({{{-x, -y}}, {{x, -y}}, {{x, -y + t}}, {{s, -y + t}, r}, {{s, y - t}, r}, {{x, y - t}},
                    {{x, y}}, {{-x, y}}, {{-x, y - t}}, {{-s, y - t}, r}, {{-s, -y + t}, r}, {{-x, -y + t}}});
}

Ring asymmetricIShape(const Parameters& p)
{
    const ifc::Name bottomWidth = p.has("BottomFlangeWidth") ? ifc::Name("BottomFlangeWidth") : ifc::Name("OverallWidth");
    const ifc::Name bottomThickness = p.has("BottomFlangeThickness") ? ifc::Name("BottomFlangeThickness") : ifc::Name("FlangeThickness");
    const double b = p(bottomWidth) / 2, t = p("TopFlangeWidth") / 2, y = p("OverallDepth") / 2;
    const double tb = p(bottomThickness), tt = p.has("TopFlangeThickness") ? p("TopFlangeThickness") : tb;
    const double s = p("WebThickness") / 2;
    return rounded({{{-b, -y}}, {{b, -y}}, {{b, -y + tb}}, {{s, -y + tb}}, {{s, y - tt}}, {{t, y - tt}}, {{t, y}},
                    {{-t, y}}, {{-t, y - tt}}, {{-s, y - tt}}, {{-s, -y + tb}}, {{-b, -y + tb}}});
}

Ring lShape(const Parameters& p)
{
    const double h = p("Depth"), w = p.has("Width") ? p("Width") : h, t = p("Thickness");
    const double x = w / 2, y = h / 2, f = p("FilletRadius"), e = p("EdgeRadius");
    return rounded({{{-x, -y}}, {{x, -y}}, {{x, -y + t}, e}, {{-x + t, -y + t}, f}, {{-x + t, y}, e}, {{-x, y}}});
}

Ring uShape(const Parameters& p)
{
    const double x = p("FlangeWidth") / 2, y = p("Depth") / 2, web = p("WebThickness"), t = p("FlangeThickness");
    const double f = p("FilletRadius"), e = p("EdgeRadius");
    return rounded({{{-x, -y}}, {{x, -y}}, {{x, -y + t}, e}, {{-x + web, -y + t}, f}, {{-x + web, y - t}, f},
                    {{x, y - t}, e}, {{x, y}}, {{-x, y}}});
}

Ring tShape(const Parameters& p)
{
    const double x = p("FlangeWidth") / 2, y = p("Depth") / 2, s = p("WebThickness") / 2, t = p("FlangeThickness");
    const double f = p("FilletRadius");
    return rounded({{{-s, -y}}, {{s, -y}}, {{s, y - t}, f}, {{x, y - t}}, {{x, y}}, {{-x, y}}, {{-x, y - t}},
                    {{-s, y - t}, f}});
}

Ring zShape(const Parameters& p)
{
    const double y = p("Depth") / 2, s = p("WebThickness") / 2, t = p("FlangeThickness"), x = p("FlangeWidth") - s;
    const double f = p("FilletRadius"), e = p("EdgeRadius");
    return rounded({{{-s, -y}}, {{x, -y}}, {{x, -y + t}, e}, {{s, -y + t}, f}, {{s, y}}, {{-x, y}},
                    {{-x, y - t}, e}, {{-s, y - t}, f}});
}

Ring cShape(const Parameters& p)
{
    const double x = p("Width") / 2, y = p("Depth") / 2, t = p("WallThickness"), g = p("Girth");
    const double inner = p("InternalFilletRadius"), outer = inner > 0 ? inner + t : 0;
    return rounded({{{-x, -y}, outer}, {{x, -y}, outer}, {{x, -y + g}}, {{x - t, -y + g}}, {{x - t, -y + t}, inner},
                    {{-x + t, -y + t}, inner}, {{-x + t, y - t}, inner}, {{x - t, y - t}, inner}, {{x - t, y - g}},
                    {{x, y - g}}, {{x, y}, outer}, {{-x, y}, outer}});
}

Ring trapezium(const Parameters& p)
{
    const double b = p("BottomXDim") / 2, y = p("YDim") / 2, left = -b + p("TopXOffset");
    return {{-b, -y}, {b, -y}, {left + p("TopXDim"), y}, {left, y}};
}

Area simple(Ring outer) { return {std::move(outer), {}}; }

/// The parameterised kinds, about the profile's own origin; nothing for other kinds.
std::optional<Area> parameterised(const Entity& e, const Parameters& p)
{
    const std::string_view kind = e.typeName();
    const double wall = p("WallThickness");
    if (kind == "IfcRectangleProfileDef")
        return simple(rectangle(p("XDim"), p("YDim")));
    if (kind == "IfcRoundedRectangleProfileDef")
        return simple(rectangle(p("XDim"), p("YDim"), p("RoundingRadius")));
    if (kind == "IfcRectangleHollowProfileDef")
        return Area{rectangle(p("XDim"), p("YDim"), p("OuterFilletRadius")),
                    {rectangle(p("XDim") - 2 * wall, p("YDim") - 2 * wall, p("InnerFilletRadius"))}};
    if (kind == "IfcCircleProfileDef")
        return simple(ellipse(p("Radius"), p("Radius")));
    if (kind == "IfcCircleHollowProfileDef")
        return Area{ellipse(p("Radius"), p("Radius")), {ellipse(p("Radius") - wall, p("Radius") - wall)}};
    if (kind == "IfcEllipseProfileDef")
        return simple(ellipse(p("SemiAxis1"), p("SemiAxis2")));
    if (kind == "IfcIShapeProfileDef")
        return simple(iShape(p));
    if (kind == "IfcAsymmetricIShapeProfileDef")
        return simple(asymmetricIShape(p));
    if (kind == "IfcLShapeProfileDef")
        return simple(lShape(p));
    if (kind == "IfcUShapeProfileDef")
        return simple(uShape(p));
    if (kind == "IfcTShapeProfileDef")
        return simple(tShape(p));
    if (kind == "IfcZShapeProfileDef")
        return simple(zShape(p));
    if (kind == "IfcCShapeProfileDef")
        return simple(cShape(p));
    if (kind == "IfcTrapeziumProfileDef")
        return simple(trapezium(p));
    return {};
}

void place(Ring& ring, const Transform& frame)
{
    for (Point2& q : ring) {
        const Point3 moved = frame.apply(Point3{q.x, q.y, 0});
        q = {moved.x, moved.y};
    }
}

bool orient(Area& area)
{
    tidy(area.outer);
    if (area.outer.size() < 3 || std::abs(signedArea(area.outer)) < 1e-12)
        return false;
    if (signedArea(area.outer) < 0)
        std::reverse(area.outer.begin(), area.outer.end());
    for (Ring& hole : area.holes) {
        tidy(hole);
        if (signedArea(hole) > 0)
            std::reverse(hole.begin(), hole.end());
    }
    std::erase_if(area.holes, [](const Ring& r) { return r.size() < 3; });
    return true;
}

std::optional<std::vector<Area>> read(const CurveReader& curves, const Entity& e, std::string& why, int depth)
{
    const ifc::Source& source = curves.source();
    why = e ? "the profile kind " + std::string(e.typeName()) + " is not read yet" : "the profile is missing";
    if (!e || depth > 8)
        return {};
    std::vector<Area> areas;
    if (auto area = parameterised(e, Parameters(e, curves.units().lengthToMetres))) {
        const Transform frame = curves.placements().axisPlacement(e["Position"]);
        place(area->outer, frame);
        for (Ring& hole : area->holes)
            place(hole, frame);
        areas.push_back(std::move(*area));
    } else if (e.isA("IfcArbitraryClosedProfileDef")) {
        std::string unsupported;
        Area arbitrary;
        auto outer = curves.ring(source.entity(e["OuterCurve"]), unsupported);
        bool whole = outer.has_value();
        if (whole)
            arbitrary.outer = std::move(*outer);
        for (const step::Value inner : e["InnerCurves"]) {
            auto hole = whole ? curves.ring(source.entity(inner), unsupported) : std::nullopt;
            whole = whole && hole.has_value();
            if (hole)
                arbitrary.holes.push_back(std::move(*hole));
        }
        if (!whole) {
            why = "its profile is bounded by " + unsupported + ", which is not read yet";
            return {};
        }
        areas.push_back(std::move(arbitrary));
    } else if (e.isA("IfcCompositeProfileDef")) {
        for (const step::Value part : e["Profiles"]) {
            auto inner = read(curves, source.entity(part), why, depth + 1);
            if (!inner)
                return {};
            areas.insert(areas.end(), inner->begin(), inner->end());
        }
    } else if (e.isA("IfcDerivedProfileDef") && !e.isA("IfcMirroredProfileDef")) {
        auto inner = read(curves, source.entity(e["ParentProfile"]), why, depth + 1);
        if (!inner)
            return {};
        const Transform frame = curves.placements().transformationOperator(source.entity(e["Operator"]));
        areas = std::move(*inner);
        for (Area& derived : areas) {
            place(derived.outer, frame);
            for (Ring& hole : derived.holes)
                place(hole, frame);
        }
    } else {
        return {};
    }
    for (Area& area : areas)
        if (!orient(area)) {
            why = "its profile encloses no area";
            return {};
        }
    return areas;
}

} // namespace

std::optional<std::vector<Area>> readProfile(const CurveReader& curves, const Entity& profile, std::string& why)
{
    return read(curves, profile, why, 0);
}

} // namespace wendrix::geometry
