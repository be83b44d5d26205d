#include "core/geometry/curve_reader.h"

#include <algorithm>
#include <numbers>

namespace wendrix::geometry {

using ifc::Entity;
using step::Value;

namespace {

constexpr double kFullTurn = 2 * std::numbers::pi;
constexpr int kDeepestCurve = 16;
constexpr std::size_t kMostPoints = 2'000'000; // a curve may hold one curve many times over, at every level
// More than any real spline has; the file's own list bounds it anyway, its multiplicities do not.
constexpr std::int64_t kMostKnots = 1'000'000;

/// The arc through three points, the first and last included; straight where they are in line.
Path arcThrough(Point3 a, Point3 b, Point3 c, const Fineness& fineness)
{
    const Vector3 u = b - a, v = c - a, n = cross(u, v);
    if (!(length(n) > 1e-12))
        return std::vector{a, b, c};
    // Centre of the circle through three points in space.
    const double uu = dot(u, u), vv = dot(v, v), nn = dot(n, n);
    const Point3 centre = a + (0.5 / nn) * (uu * cross(v, n) + vv * cross(n, u));
    const double radius = length(a - centre);
    const Vector3 x = normalised(a - centre), y = normalised(cross(n, x));
    double sweep = std::atan2(dot(c - centre, y), dot(c - centre, x));
    if (sweep <= 0)
        sweep += kFullTurn;
    Path path;
    for (const Point2 p : arcPoints({0, 0}, radius, Radians{0}, Radians{sweep}, fineness)) {
        const Vector3 direction = (1 / radius) * (p.x * y - p.y * x);
        path.add(centre + p.x * x + p.y * y, direction, direction);
    }
    path.points.front() = a;
    path.points.back() = c;
    return path;
}

bool isConic(const Entity& e) { return e.isA("IfcCircle") || e.isA("IfcEllipse"); }

/// One point for each step of the parameter: how polylines are parameterised.
Sampled counted(const Path& path)
{
    Sampled s;
    for (std::size_t i = 0; i < path.points.size(); ++i)
        s.add(path.points[i], static_cast<double>(i), path.in[i], path.out[i]);
    return s;
}

} // namespace

Sampled CurveReader::conic(const Entity& e, double from, double to) const
{
    const Transform frame = placements_.axisPlacement(e["Position"]);
    const double scale = units_.lengthToMetres;
    const double a = scale * (e.isA("IfcCircle") ? e["Radius"] : e["SemiAxis1"]).numberOr(0);
    const double b = e.isA("IfcCircle") ? a : scale * e["SemiAxis2"].numberOr(0);
    const double sweep = std::clamp(to - from, -kFullTurn, kFullTurn);
    const int full = segmentsOfEllipse(a, b, fineness_);
    const int n = std::max(1, static_cast<int>(std::ceil(std::abs(sweep) / kFullTurn * full - 1e-9)));
    Sampled s;
    for (int i = 0; i <= n; ++i) {
        const double t = from + sweep * i / n;
        const Vector3 direction =
            std::copysign(1.0, sweep) * normalised(frame.turn(Vector3{-a * std::sin(t), b * std::cos(t), 0}));
        s.add(frame.apply(Point3{a * std::cos(t), b * std::sin(t), 0}), t / units_.angleToRadians, direction,
              direction);
    }
    return s;
}

CurveReader::MaybeSampled CurveReader::trimmed(const Entity& curve, std::string& unsupported, int depth) const
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
    const auto byPoint = [&](const Trim& t) { return t.point && (preferPoints || !t.parameter); };
    if (basis.isA("IfcLine")) {
        const Point3 origin = placements_.point(basis["Pnt"]);
        const Entity vector = source_.entity(basis["Dir"]);
        const Vector3 step = vector["Magnitude"].numberOr(1) * units_.lengthToMetres *
                             normalised(placements_.direction(vector["Orientation"], {1, 0, 0}));
        const auto parameter = [&](const Trim& t) {
            return byPoint(t) ? (dot(step, step) > 0 ? dot(*t.point - origin, step) / dot(step, step) : 0)
                              : t.parameter.value_or(0);
        };
        Sampled s;
        for (const Trim& t : {start, end})
            s.add(byPoint(t) ? *t.point : origin + t.parameter.value_or(0) * step, parameter(t));
        return s;
    }
    if (isConic(basis)) {
        const Transform toFrame = placements_.axisPlacement(basis["Position"]).inverse();
        const double scale = units_.lengthToMetres;
        const double a = scale * (basis.isA("IfcCircle") ? basis["Radius"] : basis["SemiAxis1"]).numberOr(1);
        const double b = basis.isA("IfcCircle") ? a : scale * basis["SemiAxis2"].numberOr(1);
        const auto angle = [&](const Trim& t) {
            if (byPoint(t)) {
                const Point3 p = toFrame.apply(*t.point);
                return std::atan2(p.y / b, p.x / a);
            }
            return t.parameter.value_or(0) * units_.angleToRadians;
        };
        const double from = angle(start);
        double to = angle(end);
        if (!std::isfinite(from) || !std::isfinite(to))
            return {};
        if (sameSense && to <= from + 1e-12)
            to += kFullTurn * std::ceil((from + 1e-12 - to) / kFullTurn);
        if (!sameSense && to >= from - 1e-12)
            to -= kFullTurn * std::ceil((to - from + 1e-12) / kFullTurn);
        Sampled s = conic(basis, from, to);
        if (start.point && byPoint(start))
            s.points.front() = *start.point;
        if (end.point && byPoint(end))
            s.points.back() = *end.point;
        return s;
    }
    const auto whole = sample(basis, unsupported, depth + 1);
    if (!whole || whole->points.size() < 2)
        return {};
    const auto parameter = [&](const Trim& t) {
        return byPoint(t) ? nearestParameter(*whole, *t.point) : t.parameter.value_or(0);
    };
    const double from = parameter(start), to = parameter(end);
    if (const auto s = spline(basis); s && basis.isA("IfcBSplineCurve"))
        return sampled(*s, std::clamp(from, s->first(), s->last()), std::clamp(to, s->first(), s->last()), fineness_);
    return cut(*whole, from, to);
}

CurveReader::MaybeSampled CurveReader::indexed(const Entity& curve) const
{
    std::vector<Point3> all;
    const double s = units_.lengthToMetres;
    const Entity list = source_.entity(curve["Points"]);
    for (const Value p : list["CoordList"])
        all.push_back({s * p[0].numberOr(0), s * p[1].numberOr(0), s * p[2].numberOr(0)});
    const Value segments = curve["Segments"];
    if (!segments.isGiven())
        return counted(all);
    Path path;
    const auto add = [&](const Path& more) {
        if (!path.points.empty())
            path.out.back() = more.out.front(); // where one segment ends the next begins
        for (std::size_t i = path.points.empty() ? 0 : 1; i < more.points.size(); ++i)
            path.add(more.points[i], more.in[i], more.out[i]);
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
            add(arcThrough(corners[0], corners[1], corners[2], fineness_));
        else
            add(corners);
    }
    return counted(path);
}

CurveReader::MaybeSampled CurveReader::composite(const Entity& curve, std::string& unsupported, int depth) const
{
    Sampled all;
    double reached = 0;
    for (const Value reference : curve["Segments"]) {
        const Entity segment = source_.entity(reference);
        auto part = sample(source_.entity(segment["ParentCurve"]), unsupported, depth + 1);
        if (!part || part->points.empty())
            return {};
        if (segment["SameSense"].enumeration() == "F")
            part->reverse();
        // Each segment adds the length of its own parameter range (ISO 10303-42, composite_curve).
        const double start = part->parameters.front();
        for (std::size_t i = 0; i < part->points.size(); ++i)
            all.add(part->points[i], reached + std::abs(part->parameters[i] - start), part->in[i], part->out[i]);
        reached = all.parameters.back();
        if (all.points.size() > kMostPoints)
            return {};
    }
    return all;
}

std::optional<Spline> CurveReader::spline(const Entity& curve) const
{
    Spline s;
    s.degree = static_cast<int>(std::clamp<std::int64_t>(curve["Degree"].integer().value_or(0), 0, 1000));
    for (const Value p : curve["ControlPointsList"])
        s.poles.push_back(placements_.point(p));
    for (const Value w : curve["WeightsData"])
        s.weights.push_back(w.numberOr(0));
    if (const Value knots = curve["Knots"]; knots.isGiven()) {
        const Value counts = curve["KnotMultiplicities"];
        for (std::uint32_t i = 0; i < knots.size(); ++i) {
            const std::int64_t n = counts[i].integer().value_or(1);
            if (n < 1 || n > kMostKnots || s.knots.size() > static_cast<std::size_t>(kMostKnots))
                return {};
            s.knots.insert(s.knots.end(), static_cast<std::size_t>(n), knots[i].numberOr(0));
        }
    } else if (s.degree > 0) {
        // A Bezier curve, of one or more pieces.
        const auto degree = static_cast<std::size_t>(s.degree);
        const std::size_t pieces = s.poles.size() > 1 ? (s.poles.size() - 1) / degree : 0;
        for (std::size_t i = 0; i <= pieces; ++i)
            s.knots.insert(s.knots.end(), degree + (i == 0 || i == pieces ? 1 : 0), static_cast<double>(i));
    }
    for (const Point3 p : s.poles)
        if (!std::isfinite(length(p)))
            return {};
    return s.isWellFormed() ? std::optional(std::move(s)) : std::nullopt;
}

CurveReader::MaybeSampled CurveReader::offset(const Entity& curve, std::string& unsupported, int depth) const
{
    auto basis = sample(source_.entity(curve["BasisCurve"]), unsupported, depth + 1);
    if (!basis)
        return {};
    const double distance = units_.lengthToMetres * curve["Distance"].numberOr(0);
    const Vector3 up = curve.isA("IfcOffsetCurve3D")
                           ? normalised(placements_.direction(curve["RefDirection"], {0, 0, 1}))
                           : Vector3{0, 0, 1};
    basis->points = offsetPolyline(basis->points, distance, up);
    if (basis->points.size() != basis->parameters.size())
        return counted(std::move(basis->points));
    return basis; // parallel to its curve, it goes the same way
}

CurveReader::MaybeSampled CurveReader::sample(const Entity& curve, std::string& unsupported, int depth) const
{
    unsupported = curve ? std::string(curve.typeName()) : "a missing curve";
    if (depth > kDeepestCurve)
        return {};
    if (curve.isA("IfcPolyline")) {
        std::vector<Point3> points;
        for (const Value p : curve["Points"])
            points.push_back(placements_.point(p));
        return counted(std::move(points));
    }
    if (curve.isA("IfcIndexedPolyCurve"))
        return indexed(curve);
    if (isConic(curve)) {
        Sampled s = conic(curve, 0, kFullTurn);
        s.points.back() = s.points.front();
        return s;
    }
    if (curve.isA("IfcTrimmedCurve"))
        return trimmed(curve, unsupported, depth);
    if (curve.isA("IfcCompositeCurve") && !curve.isA("IfcGradientCurve") && !curve.isA("IfcSegmentedReferenceCurve"))
        return composite(curve, unsupported, depth);
    if (curve.isA("IfcBSplineCurve")) {
        const auto s = spline(curve);
        return s ? MaybeSampled(sampled(*s, s->first(), s->last(), fineness_)) : std::nullopt;
    }
    if (curve.isA("IfcOffsetCurve2D") || curve.isA("IfcOffsetCurve3D"))
        return offset(curve, unsupported, depth);
    if (curve.isA("IfcSurfaceCurve"))
        return sample(source_.entity(curve["Curve3D"]), unsupported, depth + 1);
    if (curve.isA("IfcLine")) { // without trimming: one length of its vector
        const Point3 origin = placements_.point(curve["Pnt"]);
        const Entity vector = source_.entity(curve["Dir"]);
        const Vector3 step = vector["Magnitude"].numberOr(1) * units_.lengthToMetres *
                             normalised(placements_.direction(vector["Orientation"], {1, 0, 0}));
        return counted(std::vector{origin, origin + step});
    }
    return {};
}

std::optional<std::vector<Point3>> CurveReader::points(const Entity& curve, std::string& unsupported) const
{
    auto s = sample(curve, unsupported, 0);
    return s ? std::optional(std::move(s->points)) : std::nullopt;
}

std::optional<Path> CurveReader::part(const Entity& curve, std::optional<double> from, std::optional<double> to,
                                      std::string& unsupported) const
{
    if (isConic(curve) && (from || to)) {
        const double a = from.value_or(0) * units_.angleToRadians;
        return conic(curve, a, to ? *to * units_.angleToRadians : a + kFullTurn);
    }
    if (curve.isA("IfcLine") && (from || to)) {
        auto s = sample(curve, unsupported, 0);
        const Vector3 step = s->points[1] - s->points[0];
        return std::vector{s->points[0] + from.value_or(0) * step, s->points[0] + to.value_or(1) * step};
    }
    auto s = sample(curve, unsupported, 0);
    if (!s)
        return {};
    if (s->points.size() < 2 || (!from && !to))
        return std::move(*s);
    const double first = s->parameters.front(), last = s->parameters.back();
    const double a = from.value_or(first), b = to.value_or(last);
    // Many exporters trim a polyline from 0 to 1, or by lengths; what lies outside the range is the whole curve.
    const bool isInside = a >= first - 1e-6 && b <= last + 1e-6 && b - a > 1e-9;
    return isInside ? cut(*s, a, b) : std::move(*s);
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

std::vector<Point3> offsetPolyline(const std::vector<Point3>& given, double distance, Vector3 up)
{
    std::vector<Point3> points;
    for (const Point3 p : given)
        if (points.empty() || length(p - points.back()) > 1e-9)
            points.push_back(p);
    const std::size_t n = points.size();
    if (n < 2)
        return points;
    const bool isClosed = n > 3 && length(points.front() - points.back()) < 1e-6;
    const auto left = [&](std::size_t i) { return normalised(cross(up, points[i + 1] - points[i])); };
    std::vector<Point3> moved;
    for (std::size_t i = 0; i < n; ++i) {
        const bool isFirst = i == 0, isLast = i + 1 == n;
        const Vector3 before = isFirst ? (isClosed ? left(n - 2) : left(0)) : left(i - 1);
        const Vector3 after = isLast ? (isClosed ? left(0) : left(n - 2)) : left(i);
        const Vector3 middle = normalised(before + after);
        // A hairpin has no mitre: it is cut at four times the distance.
        const double stretch = 1 / std::max(0.25, dot(middle, before));
        moved.push_back(points[i] + (distance * stretch) * middle);
    }
    return moved;
}

} // namespace wendrix::geometry
