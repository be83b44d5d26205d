#include "core/clash/hard.h"

#include "core/clash/separation.h"
#include "core/geometry/boolean.h"

#include <algorithm>
#include <limits>

namespace wendrix::clash {

namespace {

// A hair, so that faces in one plane and corners on faces are either in or out: a tenth of what counts as a depth.
constexpr Vector3 kHair{0.5773e-7, 0.8133e-7, 0.3711e-7};
constexpr std::size_t kMostCrossings = 2'000, kMostWays = 12, kMostPoints = 4'000;

/// The shortest vector that goes at least as far along each way as that way is long. By Hildreth's method, a row at a
/// time (C. Hildreth, Naval Research Logistics Quarterly 4, 1957).
Vector3 leastThatFrees(std::span<const Shift> ways)
{
    std::vector<double> factors(ways.size(), 0);
    Vector3 sum;
    for (int round = 0; round < 200; ++round)
        for (std::size_t i = 0; i < ways.size(); ++i) {
            const double next = std::max(0.0, factors[i] + ways[i].length - dot(ways[i].along, sum));
            sum = sum + (next - factors[i]) * ways[i].along;
            factors[i] = next;
        }
    return length(sum) < 1e6 ? sum : Vector3{}; // ways against each other have none in common
}

/// What is known of two parts.
struct Met {
    double depth = 0;        ///< no translation that is shorter separates them
    Point3 deepest;          ///< in both, or on both surfaces
    bool isCrossing = false; ///< the surfaces meet
    Box3 shared;             ///< what was seen of what they share
    std::vector<Shift> ways;      ///< what frees triangles that cross, the longest of each direction
    std::vector<Vector3> normals; ///< of triangles that cross, each direction once

    void deepen(double by, const Point3& at)
    {
        if (by > depth) {
            depth = by;
            deepest = at;
        }
    }
    void addWay(const Shift& shift)
    {
        for (Shift& way : ways)
            if (length(way.along - shift.along) < 1e-6) {
                way.length = std::max(way.length, shift.length);
                return;
            }
        if (ways.size() < kMostWays)
            ways.push_back(shift);
    }
    void addNormal(const Corners& t)
    {
        const Vector3 unit = normalised(cross(t[1] - t[0], t[2] - t[0]));
        const auto isSame = [&](Vector3 other) { return length(cross(other, unit)) < 1e-6; };
        if (normals.size() < kMostWays && length(unit) > 0 && std::none_of(normals.begin(), normals.end(), isSame))
            normals.push_back(unit);
    }
    /// Directions that may lead out: across the faces that meet, those ways, and the one that frees all that cross at
    /// once, as in a corner.
    [[nodiscard]] std::vector<Vector3> waysOut() const
    {
        std::vector<Vector3> directions = normals;
        for (const Shift& way : ways)
            directions.push_back(way.along);
        const Vector3 all = leastThatFrees(ways);
        if (length(all) > 0)
            directions.push_back(normalised(all));
        return directions;
    }
};

void addCrossings(const PlacedPart& a, const PlacedPart& b, double enough, bool isAll, Met& met)
{
    std::size_t count = 0;
    forNearTriangles(a, b, 0, [&](const Corners& s, const Corners& t) {
        const auto crossing = crossingOf(s, t);
        if (!crossing)
            return true;
        met.isCrossing = true;
        const Shift shift = leastShift(s, t);
        met.deepen(shift.length, 0.5 * (crossing->from + crossing->to));
        met.shared.add(crossing->from);
        met.shared.add(crossing->to);
        met.addWay(shift);
        if (isAll) {
            met.addNormal(s);
            met.addNormal(t);
        }
        return isAll ? ++count < kMostCrossings : met.depth <= enough;
    });
}

/// Where the middle of one's material, or one of its corners, lies in the other.
void addDeepPoints(const PlacedPart& one, const PlacedPart& other, double enough, bool withCorners, Met& met)
{
    if (!other.shape().isClosed())
        return;
    const double reach = 2 * other.bounds().extent();
    const auto look = [&](const Point3& p) {
        if (!other.contains(p))
            return;
        met.shared.add(p);
        met.deepen(other.distanceTo(p, reach).value_or(0), p);
    };
    for (const Point3& own : one.shape().innerPoints()) {
        const Point3 p = one.at().apply(own);
        look(p);
        // In the middle of its own material it is deep whatever the other is like.
        if (other.contains(p))
            met.deepen(one.distanceTo(p, reach).value_or(0), p);
        if (met.depth > enough)
            return;
    }
    if (!withCorners)
        return;
    const std::size_t count = one.shape().mesh().points.size(), step = 1 + count / kMostPoints;
    for (std::size_t i = 0; i < count && met.depth <= enough; i += step)
        look(one.point(static_cast<std::uint32_t>(i)));
}

bool isAnyPieceInside(const PlacedPart& one, const PlacedPart& other, Met& met)
{
    for (const std::uint32_t corner : one.shape().pieces()) {
        const Point3 p = one.point(corner);
        if (!other.contains(p))
            continue;
        met.shared.add(p);
        met.deepen(other.distanceTo(p, 2 * other.bounds().extent()).value_or(0), p);
        return true;
    }
    return false;
}

struct Verdict {
    bool isClash = false, isExact = false;
    Met met;
    Shift separation; ///< where it is exact
};

Verdict convexVerdict(const Convex& a, const Convex& b, double tolerance)
{
    Verdict verdict;
    verdict.isExact = true;
    verdict.separation = separationOf(a, b, tolerance);
    verdict.isClash = verdict.separation.length > tolerance;
    if (!verdict.isClash)
        return verdict;
    const std::vector<Point3> shared = sharedPoints(a, b);
    Point3 sum;
    for (const Point3& p : shared) {
        sum = sum + p;
        verdict.met.shared.add(p);
    }
    if (!shared.empty()) // a mean of places in a convex body lies in it
        verdict.met.deepest = (1.0 / static_cast<double>(shared.size())) * sum;
    verdict.met.depth = verdict.separation.length;
    return verdict;
}

Verdict verdictOf(const PlacedPart& a, const PlacedPart& b, double tolerance)
{
    if (a.convex() != nullptr && b.convex() != nullptr)
        return convexVerdict(*a.convex(), *b.convex(), tolerance);
    Verdict verdict;
    const PlacedPart moved = b.movedBy(kHair);
    Met& met = verdict.met;
    addCrossings(a, moved, tolerance, false, met);
    if (!met.isCrossing) {
        // Disjoint surfaces: one is inside the other, or they are apart.
        if (isAnyPieceInside(moved, a, met) || isAnyPieceInside(a, moved, met))
            verdict.isClash = separationAlong({{a}, true}, {{moved}, true}, {}).length > tolerance;
        return verdict;
    }
    // Nothing that crosses is deep; something in between may be.
    for (const bool withCorners : {false, true}) {
        if (met.depth <= tolerance)
            addDeepPoints(a, moved, tolerance, withCorners, met);
        if (met.depth <= tolerance)
            addDeepPoints(moved, a, tolerance, withCorners, met);
    }
    verdict.isClash = met.depth > tolerance;
    return verdict;
}

/// The middle of what is shared, if it lies in both; else the place on one's surface, inside the other, that is nearest
/// to it, as where something hollow is met; else where the two were seen to be deepest.
Point3 placeOf(const Body& a, const Body& b, const Met& met)
{
    if (met.shared.isEmpty())
        return met.deepest;
    const Point3 middle = met.shared.centre();
    if (a.contains(middle) && b.contains(middle))
        return middle;
    Point3 best = met.deepest;
    double nearest = length(best - middle);
    for (const auto& [one, other] : {std::pair{&a, &b}, std::pair{&b, &a}})
        for (const PlacedPart& part : one->parts)
            if (const auto at = part.nearestTo(middle, nearest); at && other->contains(*at)) {
                best = *at;
                nearest = length(best - middle);
            }
    return best;
}

} // namespace

std::optional<Overlap> overlapOf(const Body& a, const Body& b, double tolerance)
{
    const double least = std::max(tolerance, kLeastDepth);
    const bool isSingle = a.parts.size() == 1 && b.parts.size() == 1;
    std::optional<Verdict> worst;
    const PlacedPart *first = nullptr, *second = nullptr;
    for (const PlacedPart& pa : a.parts)
        for (const PlacedPart& pb : b.parts) {
            if (!pa.bounds().isWithin(pb.bounds(), -least))
                continue;
            Verdict verdict = verdictOf(pa, pb, least);
            if (!verdict.isClash || (worst && verdict.met.depth <= worst->met.depth))
                continue;
            worst = std::move(verdict);
            first = &pa;
            second = &pb;
        }
    if (!worst)
        return {};
    Overlap overlap;
    overlap.isOpen = !a.isClosed || !b.isClosed;
    if (worst->isExact && isSingle) {
        overlap.depth = worst->separation.length;
        overlap.point = placeOf(a, b, worst->met);
        return overlap;
    }
    Met& met = worst->met;
    if (worst->isExact) {
        met.addWay(worst->separation);
    } else {
        // All of where they cross, for its middle and the ways out.
        const PlacedPart moved = second->movedBy(kHair);
        addCrossings(*first, moved, least, true, met);
        addDeepPoints(*first, moved, std::numeric_limits<double>::infinity(), true, met);
        addDeepPoints(moved, *first, std::numeric_limits<double>::infinity(), true, met);
    }
    overlap.depth = std::max(met.depth, separationAlong(a, b, met.waysOut()).length);
    overlap.isApproximate = overlap.depth - met.depth > kLeastDepth;
    overlap.point = placeOf(a, b, met);
    return overlap;
}

std::optional<double> sharedVolume(const Body& a, const Body& b)
{
    double sum = 0;
    for (const PlacedPart& pa : a.parts)
        for (const PlacedPart& pb : b.parts) {
            if (!pa.bounds().isWithin(pb.bounds(), 0))
                continue;
            // About a place between them: far from the origin both would lose digits.
            const Transform about = Transform::translation(-pa.bounds().middle);
            const auto shared = geometry::combine(geometry::transformed(pa.shape().mesh(), about * pa.at()),
                                                  geometry::transformed(pb.shape().mesh(), about * pb.at()),
                                                  geometry::BooleanKind::Intersection);
            if (!shared)
                return {};
            sum += geometry::volumeOf(*shared);
        }
    return sum;
}

} // namespace wendrix::clash
