#include "core/geometry/curve_reader.h"

#include <algorithm>
#include <numbers>

namespace wendrix::geometry {

using ifc::Entity;
using step::Value;

namespace {

constexpr double kFullTurn = 2 * std::numbers::pi;

/// The arc through three points, the first and last included; straight where they are in line.
std::vector<Point3> arcThrough(Point3 a, Point3 b, Point3 c)
{
    const Vector3 u = b - a, v = c - a, n = cross(u, v);
    if (length(n) < 1e-12)
        return {a, b, c};
    // Centre of the circle through three points in space.
    const double uu = dot(u, u), vv = dot(v, v), nn = dot(n, n);
    const Point3 centre = a + (0.5 / nn) * (uu * cross(v, n) + vv * cross(n, u));
    const double radius = length(a - centre);
    const Vector3 x = normalised(a - centre), y = normalised(cross(n, x));
    double sweep = std::atan2(dot(c - centre, y), dot(c - centre, x));
    if (sweep <= 0)
        sweep += kFullTurn;
    std::vector<Point3> points;
    for (const Point2 p : arcPoints({0, 0}, radius, Radians{0}, Radians{sweep}))
        points.push_back(centre + p.x * x + p.y * y);
    points.front() = a;
    points.back() = c;
    return points;
}

} // namespace

std::vector<Point3> CurveReader::conic(const Entity& e, double from, double to) const
{
    const Transform frame = placements_.axisPlacement(e["Position"]);
    const double scale = units_.lengthToMetres;
    const double a = scale * (e.isA("IfcCircle") ? e["Radius"] : e["SemiAxis1"]).numberOr(0);
    const double b = e.isA("IfcCircle") ? a : scale * e["SemiAxis2"].numberOr(0);
    const double sweep = to - from;
    const int n = std::max(1, static_cast<int>(std::ceil(std::abs(sweep) / kFullTurn *
                                                             segmentsOfCircle(std::max(a, b)) - 1e-9)));
    std::vector<Point3> points;
    for (int i = 0; i <= n; ++i) {
        const double t = from + sweep * i / n;
        points.push_back(frame.apply(Point3{a * std::cos(t), b * std::sin(t), 0}));
    }
    return points;
}

std::optional<std::vector<Point3>> CurveReader::trimmed(const Entity& curve, std::string& unsupported) const
{
    const Entity basis = source_.entity(curve["BasisCurve"]);
    const bool preferPoints = curve["MasterRepresentation"].enumeration() == "CARTESIAN";
    const bool sameSense = curve["SenseAgreement"].enumeration() != "F";
    struct Trim {
        std::optional<Point3> point;
        std::optional<double> parameter;
    };
    const auto trim = [&](Value values) {
        Trim t;
        for (const Value v : values)
            if (const Entity p = source_.entity(v))
                t.point = placements_.point(p);
            else if (v.number())
                t.parameter = v.number();
        return t;
    };
    const Trim start = trim(curve["Trim1"]), end = trim(curve["Trim2"]);
    if (basis.isA("IfcLine")) {
        const Point3 origin = placements_.point(basis["Pnt"]);
        const Entity vector = source_.entity(basis["Dir"]);
        const Vector3 step = vector["Magnitude"].numberOr(1) * units_.lengthToMetres *
                             normalised(placements_.direction(vector["Orientation"], {1, 0, 0}));
        const auto at = [&](const Trim& t) {
            if (t.point && (preferPoints || !t.parameter))
                return *t.point;
            return origin + t.parameter.value_or(0) * step;
        };
        return std::vector<Point3>{at(start), at(end)};
    }
    if (basis.isA("IfcConic") && (basis.isA("IfcCircle") || basis.isA("IfcEllipse"))) {
        const Transform toFrame = placements_.axisPlacement(basis["Position"]).inverse();
        const double a = (basis.isA("IfcCircle") ? basis["Radius"] : basis["SemiAxis1"]).numberOr(1);
        const double b = basis.isA("IfcCircle") ? a : basis["SemiAxis2"].numberOr(1);
        const auto angle = [&](const Trim& t) {
            if (t.point && (preferPoints || !t.parameter)) {
                const Point3 p = toFrame.apply(*t.point);
                return std::atan2(p.y / b, p.x / a);
            }
            return t.parameter.value_or(0) * units_.angleToRadians;
        };
        double from = angle(start), to = angle(end);
        if (sameSense && to <= from + 1e-12)
            to += kFullTurn * std::ceil((from + 1e-12 - to) / kFullTurn);
        if (!sameSense && to >= from - 1e-12)
            to -= kFullTurn * std::ceil((to - from + 1e-12) / kFullTurn);
        std::vector<Point3> points = conic(basis, from, to);
        if (start.point)
            points.front() = *start.point;
        if (end.point)
            points.back() = *end.point;
        return points;
    }
    unsupported = std::string(basis.typeName());
    return {};
}

std::optional<std::vector<Point3>> CurveReader::indexed(const Entity& curve) const
{
    std::vector<Point3> all, points;
    const double s = units_.lengthToMetres;
    for (const Value p : source_.entity(curve["Points"])["CoordList"])
        all.push_back({s * p[0].numberOr(0), s * p[1].numberOr(0), s * p[2].numberOr(0)});
    const Value segments = curve["Segments"];
    if (!segments.isGiven())
        return all;
    const auto add = [&](const std::vector<Point3>& more) {
        points.insert(points.end(), more.begin() + (points.empty() ? 0 : 1), more.end());
    };
    for (const Value segment : segments) {
        std::vector<Point3> corners;
        for (const Value index : segment[0]) {
            const auto i = index.integer().value_or(0);
            if (i < 1 || static_cast<std::size_t>(i) > all.size())
                return {};
            corners.push_back(all[static_cast<std::size_t>(i - 1)]);
        }
        if (corners.size() < 2)
            return {};
        if (segment.typeName() == "IFCARCINDEX" && corners.size() == 3)
            add(arcThrough(corners[0], corners[1], corners[2]));
        else
            add(corners);
    }
    return points;
}

std::optional<std::vector<Point3>> CurveReader::points(const Entity& curve, std::string& unsupported, int depth) const
{
    constexpr int kDeepestCurve = 16;
    unsupported = curve ? std::string(curve.typeName()) : "a missing curve";
    if (depth > kDeepestCurve)
        return {};
    if (curve.isA("IfcPolyline")) {
        std::vector<Point3> points;
        for (const Value p : curve["Points"])
            points.push_back(placements_.point(p));
        return points;
    }
    if (curve.isA("IfcIndexedPolyCurve"))
        return indexed(curve);
    if (curve.isA("IfcCircle") || curve.isA("IfcEllipse"))
        return conic(curve, 0, kFullTurn);
    if (curve.isA("IfcTrimmedCurve"))
        return trimmed(curve, unsupported);
    if (curve.isA("IfcCompositeCurve")) {
        std::vector<Point3> all;
        for (const Value reference : curve["Segments"]) {
            const Entity segment = source_.entity(reference);
            auto part = points(source_.entity(segment["ParentCurve"]), unsupported, depth + 1);
            if (!part)
                return {};
            if (segment["SameSense"].enumeration() == "F")
                std::reverse(part->begin(), part->end());
            all.insert(all.end(), part->begin(), part->end());
        }
        return all;
    }
    return {};
}

std::optional<Ring> CurveReader::ring(const Entity& curve, std::string& unsupported) const
{
    const auto inSpace = points(curve, unsupported);
    if (!inSpace)
        return {};
    Ring ring;
    for (const Point3 p : *inSpace)
        ring.push_back({p.x, p.y});
    tidy(ring);
    return ring;
}

} // namespace wendrix::geometry
