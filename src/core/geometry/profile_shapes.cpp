#include "core/geometry/profile_shapes.h"

#include <algorithm>
#include <numbers>

namespace wendrix::geometry {

using ifc::Entity;
using ifc::Name;

namespace {

constexpr double kPi = std::numbers::pi;

/// A corner of an outline and the radius it is rounded with.
struct Corner {
    Point2 at;
    double radius = 0;
};

/// Reads the parameters of one profile, and draws what they say; every length in metres, absent ones 0.
class Drawer {
public:
    Drawer(const Entity& e, double scale, double angle, const Fineness& fineness)
        : e_(e), scale_(scale), angle_(angle), fineness_(fineness)
    {
    }

    std::optional<Area> area() const;

private:
    double length(Name name) const { return scale_ * e_[name].numberOr(0); }
    double slope(Name name) const { return std::tan(angle_ * e_[name].numberOr(0)); }
    bool has(Name name) const { return e_[name].number().has_value(); }

    Ring rounded(const std::vector<Corner>& corners) const;
    Ring rectangle(double x, double y, double radius) const;
    Ring ellipse(double a, double b, int segments) const;
    Area hollowCircle() const;
    Area hollowRectangle() const;
    Ring iShape() const;
    Ring asymmetricIShape() const;
    Ring lShape() const;
    Ring uShape() const;
    Ring tShape() const;
    Ring zShape() const;
    Ring cShape() const;
    Ring trapezium() const;
    Ring craneRailA() const;
    Ring craneRailF() const;

    const Entity& e_;
    double scale_, angle_;
    const Fineness& fineness_;
};

/// Replaces each corner by its tangent arc; a radius that does not fit its edges is cut down to what does.
Ring Drawer::rounded(const std::vector<Corner>& corners) const
{
    Ring ring;
    const std::size_t n = corners.size();
    for (std::size_t i = 0; i < n; ++i) {
        const Point2 p = corners[i].at;
        const Vector2 in = corners[(i + n - 1) % n].at - p, out = corners[(i + 1) % n].at - p;
        const double lin = wendrix::length(in), lout = wendrix::length(out);
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
        // Where both ends of an edge are rounded, each may take its share of it.
        const auto share = [&](double edge, double other) {
            return edge * (other > 0 ? radius / (radius + other) : 1.0);
        };
        const double room =
            std::min(share(lin, corners[(i + n - 1) % n].radius), share(lout, corners[(i + 1) % n].radius));
        radius = std::min(radius, room * std::tan(half));
        const double reach = radius / std::tan(half);
        const Vector2 bisector = a + b;
        const Point2 centre = p + (radius / std::sin(half) / wendrix::length(bisector)) * bisector;
        const Point2 first = p + reach * a, last = p + reach * b;
        const double from = std::atan2(first.y - centre.y, first.x - centre.x);
        double sweep = std::atan2(last.y - centre.y, last.x - centre.x) - from;
        while (sweep > kPi)
            sweep -= 2 * kPi;
        while (sweep < -kPi)
            sweep += 2 * kPi;
        for (const Point2 q : arcPoints(centre, radius, Radians{from}, Radians{sweep}, fineness_))
            ring.push_back(q);
    }
    tidy(ring);
    return ring;
}

Ring Drawer::rectangle(double x, double y, double radius) const
{
    return rounded(
        {{{-x / 2, -y / 2}, radius}, {{x / 2, -y / 2}, radius}, {{x / 2, y / 2}, radius}, {{-x / 2, y / 2}, radius}});
}

Ring Drawer::ellipse(double a, double b, int n) const
{
    Ring ring;
    for (int i = 0; i < n; ++i)
        ring.push_back({a * std::cos(2 * kPi * i / n), b * std::sin(2 * kPi * i / n)});
    return ring;
}

Area Drawer::hollowCircle() const
{
    // Both circles in as many segments: then a thin wall is as near to its true area as a full disc.
    const double radius = length("Radius"), inner = radius - length("WallThickness");
    const int n = segmentsOfCircle(radius, fineness_);
    return inner > 0 ? Area{ellipse(radius, radius, n), {ellipse(inner, inner, n)}}
                     : Area{ellipse(radius, radius, n), {}};
}

Area Drawer::hollowRectangle() const
{
    const double x = length("XDim"), y = length("YDim"), wall = length("WallThickness");
    Area area{rectangle(x, y, length("OuterFilletRadius")), {}};
    if (x > 2 * wall && y > 2 * wall)
        area.holes.push_back(rectangle(x - 2 * wall, y - 2 * wall, length("InnerFilletRadius")));
    return area;
}

Ring Drawer::iShape() const
{
    const double x = length("OverallWidth") / 2, y = length("OverallDepth") / 2, s = length("WebThickness") / 2;
    const double t = length("FlangeThickness"), r = length("FilletRadius"), e = length("FlangeEdgeRadius");
    const double g = slope("FlangeSlope"), tip = t - x / 2 * g, root = t + (x / 2 - s) * g;
    return rounded({{{-x, -y}},
                    {{x, -y}},
                    {{x, -y + tip}, e},
                    {{s, -y + root}, r},
                    {{s, y - root}, r},
                    {{x, y - tip}, e},
                    {{x, y}},
                    {{-x, y}},
                    {{-x, y - tip}, e},
                    {{-s, y - root}, r},
                    {{-s, -y + root}, r},
                    {{-x, -y + tip}, e}});
}

Ring Drawer::asymmetricIShape() const
{
    // IFC2X3 makes it a kind of I shape, whose names then hold for the bottom.
    const bool isOld = !has("BottomFlangeWidth");
    const double b = (isOld ? length("OverallWidth") : length("BottomFlangeWidth")) / 2;
    const double tb = isOld ? length("FlangeThickness") : length("BottomFlangeThickness");
    const double rb = isOld ? length("FilletRadius") : length("BottomFlangeFilletRadius");
    const double w = length("TopFlangeWidth") / 2, tt = has("TopFlangeThickness") ? length("TopFlangeThickness") : tb;
    const double rt = length("TopFlangeFilletRadius"), y = length("OverallDepth") / 2, s = length("WebThickness") / 2;
    const double eb = length("BottomFlangeEdgeRadius"), et = length("TopFlangeEdgeRadius");
    const double gb = slope("BottomFlangeSlope"), gt = slope("TopFlangeSlope");
    const double tipB = tb - b / 2 * gb, rootB = tb + (b / 2 - s) * gb, tipT = tt - w / 2 * gt,
                 rootT = tt + (w / 2 - s) * gt;
    return rounded({{{-b, -y}},
                    {{b, -y}},
                    {{b, -y + tipB}, eb},
                    {{s, -y + rootB}, rb},
                    {{s, y - rootT}, rt},
                    {{w, y - tipT}, et},
                    {{w, y}},
                    {{-w, y}},
                    {{-w, y - tipT}, et},
                    {{-s, y - rootT}, rt},
                    {{-s, -y + rootB}, rb},
                    {{-b, -y + tipB}, eb}});
}

Ring Drawer::lShape() const
{
    const double h = length("Depth"), w = has("Width") ? length("Width") : h, t = length("Thickness");
    const double x = w / 2, y = h / 2, f = length("FilletRadius"), e = length("EdgeRadius"), g = slope("LegSlope");
    // The inner faces are the lines v = -y + t - g u of the lower leg and u = -x + t - g v of the upright one.
    const double footTip = -y + t - x * g, topTip = -x + t - y * g;
    const double cornerX = (-x + t + g * (y - t)) / (1 - g * g);
    const Point2 corner{cornerX, -y + t - g * cornerX};
    return rounded({{{-x, -y}}, {{x, -y}}, {{x, footTip}, e}, {corner, f}, {{topTip, y}, e}, {{-x, y}}});
}

Ring Drawer::uShape() const
{
    const double x = length("FlangeWidth") / 2, y = length("Depth") / 2, web = length("WebThickness");
    const double t = length("FlangeThickness"), f = length("FilletRadius"), e = length("EdgeRadius");
    const double g = slope("FlangeSlope"), tip = t - x * g, root = t + (x - web) * g;
    return rounded({{{-x, -y}},
                    {{x, -y}},
                    {{x, -y + tip}, e},
                    {{-x + web, -y + root}, f},
                    {{-x + web, y - root}, f},
                    {{x, y - tip}, e},
                    {{x, y}},
                    {{-x, y}}});
}

Ring Drawer::tShape() const
{
    const double x = length("FlangeWidth") / 2, y = length("Depth") / 2, s = length("WebThickness") / 2;
    const double t = length("FlangeThickness"), f = length("FilletRadius");
    const double fe = length("FlangeEdgeRadius"), we = length("WebEdgeRadius");
    const double g = slope("FlangeSlope"), k = slope("WebSlope");
    // Flange: under its lower face y(x) = y - t - (x/2 - |x|) g; web: its half width at height v is s + v k.
    const double tip = y - t + x / 2 * g;
    const double rootY = (y - t - (x / 2 - s) * g) / (1 - g * k), rootX = s + rootY * k;
    return rounded({{{-(s - y * k), -y}, we},
                    {{s - y * k, -y}, we},
                    {{rootX, rootY}, f},
                    {{x, tip}, fe},
                    {{x, y}},
                    {{-x, y}},
                    {{-x, tip}, fe},
                    {{-rootX, rootY}, f}});
}

Ring Drawer::zShape() const
{
    const double y = length("Depth") / 2, s = length("WebThickness") / 2, t = length("FlangeThickness");
    const double x = length("FlangeWidth") - s, f = length("FilletRadius"), e = length("EdgeRadius");
    return rounded({{{-s, -y}},
                    {{x, -y}},
                    {{x, -y + t}, e},
                    {{s, -y + t}, f},
                    {{s, y}},
                    {{-x, y}},
                    {{-x, y - t}, e},
                    {{-s, y - t}, f}});
}

Ring Drawer::cShape() const
{
    const double x = length("Width") / 2, y = length("Depth") / 2, t = length("WallThickness"), g = length("Girth");
    const double inner = length("InternalFilletRadius"), outer = inner > 0 ? inner + t : 0;
    return rounded({{{-x, -y}, outer},
                    {{x, -y}, outer},
                    {{x, -y + g}},
                    {{x - t, -y + g}},
                    {{x - t, -y + t}, inner},
                    {{-x + t, -y + t}, inner},
                    {{-x + t, y - t}, inner},
                    {{x - t, y - t}, inner},
                    {{x - t, y - g}},
                    {{x, y - g}},
                    {{x, y}, outer},
                    {{-x, y}, outer}});
}

Ring Drawer::trapezium() const
{
    const double b = length("BottomXDim") / 2, y = length("YDim") / 2, left = -b + length("TopXOffset");
    return {{-b, -y}, {b, -y}, {left + length("TopXDim"), y}, {left, y}};
}

Ring Drawer::craneRailA() const
{
    const double y = length("OverallHeight") / 2, head = length("HeadWidth") / 2, web = length("WebThickness") / 2;
    const double base = length("BaseWidth2") / 2, mid = length("BaseWidth4") / 2, r = length("Radius");
    const double b1 = -y + length("BaseDepth1"), b2 = -y + length("BaseDepth2"), b3 = -y + length("BaseDepth3");
    const double h2 = y - length("HeadDepth2"), h3 = y - length("HeadDepth3");
    return rounded({{{-base, -y}},
                    {{base, -y}},
                    {{base, b1}},
                    {{mid, b2}},
                    {{web, b3}},
                    {{web, h3}},
                    {{head, h2}},
                    {{head, y}, r},
                    {{-head, y}, r},
                    {{-head, h2}},
                    {{-web, h3}},
                    {{-web, b3}},
                    {{-mid, b2}},
                    {{-base, b1}}});
}

Ring Drawer::craneRailF() const
{
    const double y = length("OverallHeight") / 2, head = length("HeadWidth") / 2, web = length("WebThickness") / 2;
    const double r = length("Radius"), b1 = -y + length("BaseDepth1"), b2 = -y + length("BaseDepth2");
    const double h2 = y - length("HeadDepth2"), h3 = y - length("HeadDepth3");
    return rounded({{{-head, -y}},
                    {{head, -y}},
                    {{head, b1}},
                    {{web, b2}},
                    {{web, h3}},
                    {{head, h2}},
                    {{head, y}, r},
                    {{-head, y}, r},
                    {{-head, h2}},
                    {{-web, h3}},
                    {{-web, b2}},
                    {{-head, b1}}});
}

std::optional<Area> Drawer::area() const
{
    const auto simple = [](Ring outer) { return Area{std::move(outer), {}}; };
    const std::string_view kind = e_.typeName();
    if (kind == "IfcRectangleProfileDef")
        return simple(rectangle(length("XDim"), length("YDim"), 0));
    if (kind == "IfcCircleHollowProfileDef")
        return hollowCircle();
    if (kind == "IfcRectangleHollowProfileDef")
        return hollowRectangle();
    if (kind == "IfcCircleProfileDef")
        return simple(ellipse(length("Radius"), length("Radius"), segmentsOfCircle(length("Radius"), fineness_)));
    if (kind == "IfcIShapeProfileDef")
        return simple(iShape());
    if (kind == "IfcRoundedRectangleProfileDef")
        return simple(rectangle(length("XDim"), length("YDim"), length("RoundingRadius")));
    if (kind == "IfcEllipseProfileDef") {
        const double a = length("SemiAxis1"), b = length("SemiAxis2");
        return simple(ellipse(a, b, segmentsOfEllipse(a, b, fineness_)));
    }
    if (kind == "IfcAsymmetricIShapeProfileDef")
        return simple(asymmetricIShape());
    if (kind == "IfcLShapeProfileDef")
        return simple(lShape());
    if (kind == "IfcUShapeProfileDef")
        return simple(uShape());
    if (kind == "IfcTShapeProfileDef")
        return simple(tShape());
    if (kind == "IfcZShapeProfileDef")
        return simple(zShape());
    if (kind == "IfcCShapeProfileDef")
        return simple(cShape());
    if (kind == "IfcTrapeziumProfileDef")
        return simple(trapezium());
    if (kind == "IfcCraneRailAShapeProfileDef")
        return simple(craneRailA());
    if (kind == "IfcCraneRailFShapeProfileDef")
        return simple(craneRailF());
    return {};
}

} // namespace

std::optional<Area> parameterisedProfile(const Entity& profile, double lengthToMetres, double angleToRadians,
                                         const Fineness& fineness)
{
    return Drawer(profile, lengthToMetres, angleToRadians, fineness).area();
}

} // namespace wendrix::geometry
