#include "core/clash/hard.h"

#include "core/clash/convex_depth.h"
#include "core/clash/near_triangles.h"
#include "core/geometry/thickness.h"

#include <algorithm>
#include <limits>

namespace wendrix::clash {

namespace {

// A hair, so that faces in one plane and corners on faces are either in or out: a tenth of what counts as a depth.
constexpr Vector3 kHair{0.5773e-7, 0.8133e-7, 0.3711e-7};
constexpr double kRounding = 1e-9;

/// How much is looked at for the depth and the place of a clash. Whether it is one at all is looked for to the end.
struct Limits {
    std::size_t crossings, ways, crossed, corners;
    bool withFaces;
};
constexpr Limits kBrief{96, 4, 4, 0, false}, kThorough{4'000, 12, 8, 64, true};

/// The shortest vector that goes at least as far along each way as that way is long. By Hildreth's method, a row at a
/// time (C. Hildreth, Naval Research Logistics Quarterly 4, 1957).
Vector3 leastThatFrees(std::span<const Shift> ways)
{
    std::vector<double> factors(ways.size(), 0);
    Vector3 sum;
    for (int round = 0; round < 200; ++round) {
        double change = 0;
        for (std::size_t i = 0; i < ways.size(); ++i) {
            const double next = std::max(0.0, factors[i] + ways[i].length - dot(ways[i].along, sum));
            sum = sum + (next - factors[i]) * ways[i].along;
            change = std::max(change, std::abs(next - factors[i]));
            factors[i] = next;
        }
        if (change < 1e-9)
            break;
    }
    return length(sum) < 1e6 ? sum : Vector3{}; // ways against each other have none in common
}

/// What is known of two parts.
struct Met {
    Limits limits = kBrief;
    double depth = 0;                 ///< no translation that is shorter separates them
    Point3 deepest;                   ///< in both, or on both surfaces
    bool isCrossing = false;          ///< the surfaces meet
    Box3 shared;                      ///< what was seen of what they share
    std::vector<Point3> places;       ///< where the surfaces cross
    std::vector<Shift> ways;          ///< what frees triangles that cross, the longest of each direction
    std::vector<Vector3> normals;     ///< of triangles that cross, each direction once
    std::vector<CrossedPair> crossed; ///< those that are deepest in each other

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
        if (ways.size() < limits.ways)
            ways.push_back(shift);
    }
    void addCrossed(const Corners& a, const Corners& b, double shift)
    {
        if (crossed.size() < limits.crossed) {
            crossed.push_back({a, b, shift});
            return;
        }
        const auto least =
            std::min_element(crossed.begin(), crossed.end(),
                             [](const CrossedPair& x, const CrossedPair& y) { return x.shift < y.shift; });
        if (least->shift < shift)
            *least = {a, b, shift};
    }
    void addNormal(const Corners& t)
    {
        const Vector3 unit = normalised(cross(t[1] - t[0], t[2] - t[0]));
        const auto isSame = [&](Vector3 other) { return length(cross(other, unit)) < 1e-6; };
        if (normals.size() < limits.ways && length(unit) > 0 && std::none_of(normals.begin(), normals.end(), isSame))
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

/// What crosses: as many as the limits say, and on from there until one takes more than `least` to come free, or there
/// are no more.
void addCrossings(const PlacedPart& a, const PlacedPart& b, double least, Met& met)
{
    std::size_t count = 0;
    // Whole faces take more to come free of each other than their halves do.
    const auto faceOf = [](const PlacedPart& part, std::uint32_t triangle, std::array<Point3, 4>& corners) {
        const auto& face = part.shape().faceOf(triangle);
        for (std::size_t k = 0; k < 4; ++k)
            corners[k] = part.point(face[k]);
        return std::span<const Point3>(corners).first(face[2] == face[3] ? 3 : 4);
    };
    forNearTriangles<true>(a, b, 0, [&](const Corners& s, const Corners& t, std::uint32_t i, std::uint32_t j) {
        const auto crossing = crossingOf(s, t);
        if (!crossing)
            return true;
        const bool isEnough = count++ >= met.limits.crossings; // for depth and place
        Shift shift = leastShift(s, t);
        if (met.limits.withFaces || (met.depth <= least && shift.length <= least)) {
            std::array<Point3, 4> first, second;
            if (const Shift ofFaces = leastShift(faceOf(a, i, first), faceOf(b, j, second));
                ofFaces.length > shift.length)
                shift = ofFaces;
        }
        met.isCrossing = true;
        met.deepen(shift.length, 0.5 * (crossing->from + crossing->to));
        if (isEnough && shift.length <= least)
            return true;
        met.shared.add(crossing->from);
        met.shared.add(crossing->to);
        met.places.push_back(0.5 * (crossing->from + crossing->to));
        met.addWay(shift);
        met.addNormal(s);
        met.addNormal(t);
        met.addCrossed(s, t, shift.length);
        return count < met.limits.crossings || met.depth <= least;
    });
}

/// Where the middle of one's material lies in the other.
void addInnerPoints(const PlacedPart& one, const PlacedPart& other, double enough, Met& met)
{
    if (!other.shape().isClosed())
        return;
    const double reach = 2 * other.bounds().extent();
    for (const Point3& own : one.shape().innerPoints()) {
        const Point3 p = one.at().apply(own);
        if (!other.contains(p))
            continue;
        met.shared.add(p);
        met.deepen(other.distanceTo(p, reach).value_or(0), p);
        // In the middle of its own material it is deep whatever the other is like.
        met.deepen(one.distanceTo(p, reach).value_or(0), p);
        if (met.depth > enough)
            return;
    }
}

/// Corners of one that lie in the other. @param most  of those in what both boxes share, spread evenly; 0: all
void addCorners(const PlacedPart& one, const PlacedPart& other, double enough, std::size_t most, bool withDepth,
                Met& met)
{
    if (!other.shape().isClosed())
        return;
    const geometry::MiddleBox common = commonBox(one.bounds(), other.bounds(), 0);
    std::vector<Point3> there;
    for (std::uint32_t i = 0; i < one.points(); ++i)
        if (const Point3 p = one.point(i); common.isWithin({p, {}}, 0))
            there.push_back(p);
    const std::size_t step = most == 0 ? 1 : 1 + there.size() / most;
    for (std::size_t i = 0; i < there.size() && met.depth <= enough; i += step) {
        if (!other.contains(there[i]))
            continue;
        met.shared.add(there[i]);
        if (withDepth)
            met.deepen(other.distanceTo(there[i], 2 * other.bounds().extent()).value_or(0), there[i]);
    }
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

Verdict verdictOf(const PlacedPart& a, const PlacedPart& b, double tolerance, const Limits& limits)
{
    if (a.convex() != nullptr && b.convex() != nullptr)
        return convexVerdict(*a.convex(), *b.convex(), tolerance);
    Verdict verdict;
    const PlacedPart moved = b.movedBy(kHair);
    Met& met = verdict.met;
    met.limits = limits;
    addCrossings(a, moved, tolerance, met);
    if (!met.isCrossing) {
        // Disjoint surfaces: one is inside the other, or they are apart.
        if (isAnyPieceInside(moved, a, met) || isAnyPieceInside(a, moved, met))
            verdict.isClash = separationBeyond({{a}, true}, {{moved}, true}, {}).length > tolerance;
        return verdict;
    }
    // Nothing that crosses is deep; something in between may be.
    for (const auto& [one, other] : {std::pair{&a, &moved}, std::pair{&moved, &a}})
        if (met.depth <= tolerance)
            addInnerPoints(*one, *other, tolerance, met);
    for (const auto& [one, other] : {std::pair{&a, &moved}, std::pair{&moved, &a}})
        if (met.depth <= tolerance)
            addCorners(*one, *other, tolerance, 0, true, met);
    verdict.isClash = met.depth > tolerance;
    return verdict;
}

/// The directions that most of a surface faces, the largest first.
std::vector<Vector3> mainNormals(const PlacedPart& part)
{
    constexpr std::size_t kMostTriangles = 5'000, kMain = 6;
    std::vector<std::pair<double, Vector3>> found;
    for (std::uint32_t i = 0; i < std::min(part.triangles(), kMostTriangles); ++i) {
        const Corners t = part.corners(i);
        const Vector3 n = cross(t[1] - t[0], t[2] - t[0]), unit = normalised(n);
        const auto same = std::find_if(found.begin(), found.end(),
                                       [&](const auto& f) { return length(cross(f.second, unit)) < 1e-6; });
        if (same != found.end())
            same->first += length(n);
        else if (found.size() < 64 && length(n) > 0)
            found.emplace_back(length(n), unit);
    }
    std::sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
    std::vector<Vector3> normals;
    for (std::size_t k = 0; k < std::min(kMain, found.size()); ++k)
        normals.push_back(found[k].second);
    return normals;
}

/// Of where the surfaces cross, what is nearest to the middle of it all.
Point3 nearMiddle(const Met& met)
{
    if (met.places.empty())
        return met.deepest;
    const Point3 middle = met.shared.centre();
    return *std::min_element(met.places.begin(), met.places.end(),
                             [&](const Point3& p, const Point3& q) { return length(p - middle) < length(q - middle); });
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

std::optional<Overlap> overlapOf(const Body& a, const Body& b, double tolerance, Effort effort)
{
    const double least = std::max(tolerance, kLeastDepth);
    const Limits& limits = effort == Effort::Brief ? kBrief : kThorough;
    const bool isSingle = a.parts.size() == 1 && b.parts.size() == 1;
    std::optional<Verdict> worst;
    const PlacedPart *first = nullptr, *second = nullptr;
    for (const PlacedPart& pa : a.parts)
        for (const PlacedPart& pb : b.parts) {
            if (!pa.bounds().isWithin(pb.bounds(), -least))
                continue;
            Verdict verdict = verdictOf(pa, pb, least, limits);
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
        const Point3 middle = worst->met.shared.centre();
        const bool isInBoth =
            first->convex()->contains(middle, kRounding) && second->convex()->contains(middle, kRounding);
        overlap.point = isInBoth ? middle : worst->met.deepest;
        return overlap;
    }
    Met& met = worst->met;
    if (worst->isExact) {
        met.addWay(worst->separation);
    } else if (limits.corners > 0) {
        // For the middle of what they share.
        constexpr double kAll = std::numeric_limits<double>::infinity();
        const PlacedPart moved = second->movedBy(kHair);
        addCorners(*first, moved, kAll, limits.corners, false, met);
        addCorners(moved, *first, kAll, limits.corners, false, met);
    }
    // Round bodies are convex with too many faces to look along each.
    if (effort == Effort::Thorough && isSingle && isConvexBody(first->shape()) && isConvexBody(second->shape()))
        if (const auto exact = convexSeparation(*first, *second)) {
            overlap.depth = exact->length;
            overlap.point = placeOf(a, b, met);
            return overlap;
        }
    std::vector<Vector3> ways = met.waysOut();
    if (effort == Effort::Thorough)
        for (const PlacedPart* part : {first, second})
            for (const Vector3& normal : mainNormals(*part))
                ways.push_back(normal);
    const Shift bound =
        effort == Effort::Brief ? separationBeyond(a, b, ways) : separationAlong(a, b, ways, met.crossed);
    overlap.depth = std::max(met.depth, bound.length);
    overlap.isApproximate = overlap.depth - met.depth > kLeastDepth;
    overlap.isBrief = effort == Effort::Brief;
    overlap.point = effort == Effort::Brief && !worst->isExact ? nearMiddle(met) : placeOf(a, b, met);
    return overlap;
}

} // namespace wendrix::clash
