#include "core/coordinates/grid_pattern.h"

#include "core/base/text.h"
#include "core/base/transform.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <optional>

namespace wendrix::coordinates {

namespace {

constexpr double kSameDirection = 2e-4; // radians: 12 mm over 60 m
constexpr double kCoincide = 0.010;     // metres up to which an axis lies on another
constexpr double kStrayAtMost = 1.0;    // metres: further off it is another axis
constexpr double kSameTurn = 1e-3, kSamePlace = 0.05;
constexpr std::size_t kMostShifts = 6;
constexpr double kPi = std::numbers::pi;

/// A straight axis by its distance from the middle of its member's grids.
struct Line {
    std::string tag;
    Point2 at;    ///< a point on it, about the middle
    double angle; ///< of its normal, in [0, pi)
};

/// Axes in one direction.
struct Family {
    double angle = 0; ///< of the normal, in [0, pi)
    std::vector<Line> lines;
};

/// Axes around a centre.
struct Radial {
    Point2 centre;
    std::vector<std::pair<std::string, double>> radii, angles; ///< tag; angles as the axis runs outwards
};

struct Axes {
    Point3 middle;
    std::vector<Family> families;
    std::vector<Radial> radials;
    std::size_t count = 0;
};

Vector2 normalOf(double angle) { return {std::cos(angle), std::sin(angle)}; }

double inHalfTurn(double angle)
{
    angle = std::fmod(angle, kPi);
    return angle < 0 ? angle + kPi : angle;
}
/// How far two directions of lines are from each other.
double between(double a, double b)
{
    const double d = std::abs(inHalfTurn(a) - inHalfTurn(b));
    return std::min(d, kPi - d);
}

void addRadials(Axes& axes, const std::vector<ifc::Grid>& grids, Point3 middle)
{
    for (const ifc::Grid& grid : grids)
        for (const ifc::GridAxis& axis : grid.axes) {
            if (!axis.arc)
                continue;
            const Point2 centre{axis.arc->centre.x - middle.x, axis.arc->centre.y - middle.y};
            auto known = std::find_if(axes.radials.begin(), axes.radials.end(),
                                      [&](const Radial& r) { return length(r.centre - centre) < kCoincide; });
            if (known == axes.radials.end())
                known = axes.radials.insert(axes.radials.end(), Radial{centre, {}, {}});
            known->radii.emplace_back(axis.tag, axis.arc->radius());
        }
    for (Radial& radial : axes.radials)
        for (const ifc::Grid& grid : grids)
            for (const ifc::GridAxis& axis : grid.axes) {
                if (axis.arc)
                    continue;
                const Point2 a{axis.start.x - middle.x, axis.start.y - middle.y},
                    b{axis.end.x - middle.x, axis.end.y - middle.y};
                const Vector2 along = b - a;
                if (length(along) < kCoincide || std::abs(cross(along, radial.centre - a)) / length(along) > kCoincide)
                    continue;
                const Vector2 out =
                    length(a - radial.centre) > length(b - radial.centre) ? a - radial.centre : b - radial.centre;
                radial.angles.emplace_back(axis.tag, std::atan2(out.y, out.x));
            }
}

Axes axesOf(const std::vector<ifc::Grid>& grids)
{
    Axes axes;
    Vector3 sum;
    std::size_t ends = 0;
    std::optional<Point3> first;
    for (const ifc::Grid& grid : grids)
        for (const ifc::GridAxis& axis : grid.axes)
            for (const Point3 p : {axis.start, axis.end}) {
                if (!first)
                    first = p;
                sum = sum + (p - *first); // about the first: they may lie millions of metres away
                ++ends;
            }
    if (ends == 0)
        return axes;
    axes.middle = *first + (1.0 / static_cast<double>(ends)) * sum;
    for (const ifc::Grid& grid : grids)
        for (const ifc::GridAxis& axis : grid.axes) {
            ++axes.count;
            const Vector2 along{axis.end.x - axis.start.x, axis.end.y - axis.start.y};
            if (axis.arc || length(along) < kCoincide)
                continue;
            const Line line{axis.tag,
                            {axis.start.x - axes.middle.x, axis.start.y - axes.middle.y},
                            inHalfTurn(std::atan2(along.y, along.x) + kPi / 2)};
            auto family = std::find_if(axes.families.begin(), axes.families.end(),
                                       [&](const Family& f) { return between(f.angle, line.angle) < kSameDirection; });
            if (family == axes.families.end())
                family = axes.families.insert(axes.families.end(), Family{line.angle, {}});
            family->lines.push_back(line);
        }
    addRadials(axes, grids, axes.middle);
    return axes;
}

struct Matched {
    const Line *moving, *reference;
    double angle; ///< of the reference's normal
};

/// One way to lay the moving grid onto the reference's, about their middles.
struct Candidate {
    double turn = 0;
    Vector2 shift;
    std::size_t matched = 0;
    double squares = 0; ///< of what is left at matched axes
    std::vector<Matched> lines;
    std::vector<std::pair<std::string, std::string>> around; ///< matched axes around a centre: moving, reference
    std::vector<federation::PlacePair> places;               ///< about the middles, for those around a centre
    std::vector<std::pair<std::string, std::string>> placeNames;
};

Point2 turned(Point2 p, double by)
{
    return {std::cos(by) * p.x - std::sin(by) * p.y, std::sin(by) * p.x + std::cos(by) * p.y};
}

/// Offsets of a family's lines along a normal after a turn.
std::vector<double> offsets(const Family& family, double turn, Vector2 normal)
{
    std::vector<double> all;
    for (const Line& line : family.lines)
        all.push_back(dot(turned(line.at, turn), normal));
    return all;
}

/// With the shift known, which axes lie on which: each once, the nearest.
void matchLines(Candidate& c, const Axes& reference, const Axes& moving)
{
    c.lines.clear();
    c.matched = 0;
    c.squares = 0;
    for (const Family& mine : reference.families)
        for (const Family& theirs : moving.families) {
            if (between(mine.angle, theirs.angle + c.turn) > kSameDirection)
                continue;
            const Vector2 normal = normalOf(mine.angle);
            const auto a = offsets(theirs, c.turn, normal), b = offsets(mine, 0, normal);
            const double by = dot(c.shift, normal);
            std::vector<bool> isTaken(b.size(), false);
            for (std::size_t i = 0; i < a.size(); ++i) {
                std::optional<std::size_t> nearest;
                for (std::size_t j = 0; j < b.size(); ++j)
                    if (!isTaken[j] && std::abs(a[i] + by - b[j]) <= kCoincide &&
                        (!nearest || std::abs(a[i] + by - b[j]) < std::abs(a[i] + by - b[*nearest])))
                        nearest = j;
                if (!nearest)
                    continue;
                isTaken[*nearest] = true;
                const double left = a[i] + by - b[*nearest];
                c.squares += left * left;
                ++c.matched;
                c.lines.push_back({&theirs.lines[i], &mine.lines[*nearest], mine.angle});
            }
        }
}

/// Two directions at least, with two axes in each, and most of what the poorer grid has there.
bool isEnough(const Candidate& c, const Axes& reference, const Axes& moving)
{
    std::vector<std::pair<double, std::size_t>> directions;
    for (const Matched& m : c.lines) {
        auto known = std::find_if(directions.begin(), directions.end(),
                                  [&](const auto& d) { return between(d.first, m.angle) < kSameDirection; });
        if (known == directions.end())
            directions.emplace_back(m.angle, 1);
        else
            ++known->second;
    }
    std::size_t good = 0;
    for (const auto& [angle, count] : directions) {
        const auto sizeOf = [&](const Axes& axes, double turn) {
            for (const Family& f : axes.families)
                if (between(f.angle + turn, angle) < kSameDirection)
                    return f.lines.size();
            return std::size_t{0};
        };
        const std::size_t fewer = std::min(sizeOf(reference, 0), sizeOf(moving, c.turn));
        good += count >= 2 && (2 * count > fewer || fewer == 2) ? 1 : 0;
    }
    return good >= 2;
}

void addStraight(std::vector<Candidate>& candidates, const Axes& reference, const Axes& moving)
{
    std::vector<double> turns;
    for (const Family& mine : reference.families)
        for (const Family& theirs : moving.families)
            for (const double half : {0.0, kPi}) {
                const double turn = std::remainder(mine.angle - theirs.angle + half, 2 * kPi);
                if (mine.lines.size() >= 2 && theirs.lines.size() >= 2 &&
                    std::none_of(turns.begin(), turns.end(), [&](double t) {
                        return std::abs(std::remainder(t - turn, 2 * kPi)) < kSameDirection;
                    }))
                    turns.push_back(turn);
            }
    for (const double turn : turns) {
        struct Along {
            Vector2 normal;
            std::vector<Shift> shifts;
        };
        std::vector<Along> directions;
        for (const Family& mine : reference.families)
            for (const Family& theirs : moving.families) {
                if (between(mine.angle, theirs.angle + turn) > kSameDirection)
                    continue;
                const Vector2 normal = normalOf(mine.angle);
                auto shifts =
                    bestShifts(offsets(theirs, turn, normal), offsets(mine, 0, normal), kCoincide, kMostShifts);
                std::erase_if(shifts, [](const Shift& s) { return s.shared < 2; });
                if (!shifts.empty())
                    directions.push_back({normal, std::move(shifts)});
            }
        std::sort(directions.begin(), directions.end(),
                  [](const Along& a, const Along& b) { return a.shifts[0].shared > b.shifts[0].shared; });
        if (directions.size() < 2)
            continue;
        const Along& first = directions[0];
        for (std::size_t other = 1; other < std::min<std::size_t>(directions.size(), 3); ++other) {
            const Along& second = directions[other];
            const double det = cross(first.normal, second.normal);
            if (std::abs(det) < 0.05)
                continue;
            for (const Shift& s : first.shifts)
                for (const Shift& t : second.shifts) {
                    Candidate c;
                    c.turn = turn;
                    c.shift = {(s.by * second.normal.y - t.by * first.normal.y) / det,
                               (t.by * first.normal.x - s.by * second.normal.x) / det};
                    matchLines(c, reference, moving);
                    if (isEnough(c, reference, moving))
                        candidates.push_back(std::move(c));
                }
        }
    }
}

void addRadial(std::vector<Candidate>& candidates, const Axes& reference, const Axes& moving)
{
    constexpr double kAngle = 1e-4;
    for (const Radial& mine : reference.radials)
        for (const Radial& theirs : moving.radials) {
            std::vector<std::pair<std::string, std::string>> rings;
            for (const auto& [tag, radius] : theirs.radii)
                for (const auto& [ours, other] : mine.radii)
                    if (std::abs(radius - other) <= kCoincide)
                        rings.emplace_back(tag, ours);
            std::vector<double> a, b;
            for (const auto& [tag, angle] : theirs.angles)
                a.push_back(angle);
            // Once around twice, so that a shift may go over the end.
            for (const double round : {-2 * kPi, 0.0, 2 * kPi})
                for (const auto& [tag, angle] : mine.angles)
                    b.push_back(angle + round);
            for (const Shift& s : bestShifts(a, b, kAngle, kMostShifts)) {
                if (s.by <= -kPi || s.by > kPi || s.shared < 2 || rings.empty() ||
                    2 * s.shared < std::min(mine.angles.size(), theirs.angles.size()))
                    continue;
                Candidate c;
                c.turn = s.by;
                c.shift = mine.centre - turned(theirs.centre, c.turn);
                matchLines(c, reference, moving);
                c.lines.clear();
                c.around = rings;
                for (const auto& [i, j] : s.pairs)
                    c.around.emplace_back(theirs.angles[i].first, mine.angles[j % mine.angles.size()].first);
                c.matched = c.around.size();
                for (const auto& [ring, ours] : rings) {
                    const auto radiusOf = [](const Radial& r, const std::string& tag) {
                        return std::find_if(r.radii.begin(), r.radii.end(),
                                            [&](const auto& x) { return x.first == tag; })
                            ->second;
                    };
                    for (const auto& [i, j] : s.pairs) {
                        const auto& [axis, theirAngle] = theirs.angles[i];
                        const auto& [ourAxis, ourAngle] = mine.angles[j % mine.angles.size()];
                        const Point2 p = theirs.centre + radiusOf(theirs, ring) * normalOf(theirAngle),
                                     q = mine.centre + radiusOf(mine, ours) * normalOf(ourAngle);
                        c.places.push_back({{p.x, p.y, 0}, {q.x, q.y, 0}});
                        c.placeNames.emplace_back(ring + "/" + axis, ours + "/" + ourAxis);
                    }
                }
                candidates.push_back(std::move(c));
            }
        }
}

bool isSame(const Candidate& a, const Candidate& b)
{
    return std::abs(std::remainder(a.turn - b.turn, 2 * kPi)) < kSameTurn && length(a.shift - b.shift) < kSamePlace;
}

bool isLetter(const std::string& tag) { return !tag.empty() && std::isalpha(static_cast<unsigned char>(tag[0])) != 0; }

/// The crossings of matched straight axes, named as people do: letters first.
void addCrossings(Candidate& c)
{
    for (std::size_t i = 0; i < c.lines.size(); ++i)
        for (std::size_t j = i + 1; j < c.lines.size(); ++j) {
            const Matched *a = &c.lines[i], *b = &c.lines[j];
            if (between(a->angle, b->angle) < 0.02)
                continue;
            if (isLetter(b->reference->tag) && !isLetter(a->reference->tag))
                std::swap(a, b);
            const auto cross2 = [](const Line& l, const Line& m) {
                const Vector2 n = normalOf(l.angle), k = normalOf(m.angle);
                const double p = dot(l.at, n), q = dot(m.at, k), det = cross(n, k);
                return Point2{(p * k.y - q * n.y) / det, (q * n.x - p * k.x) / det};
            };
            const Point2 mine = cross2(*a->reference, *b->reference), theirs = cross2(*a->moving, *b->moving);
            c.places.push_back({{theirs.x, theirs.y, 0}, {mine.x, mine.y, 0}});
            c.placeNames.emplace_back(a->moving->tag + "/" + b->moving->tag,
                                      a->reference->tag + "/" + b->reference->tag);
        }
}

/// Axes between matched ones that both members have, but not at the same place.
std::vector<StrayAxis> strayOf(const Candidate& c, const Axes& reference, const Axes& moving)
{
    std::vector<StrayAxis> stray;
    for (const Family& mine : reference.families)
        for (const Family& theirs : moving.families) {
            if (between(mine.angle, theirs.angle + c.turn) > kSameDirection)
                continue;
            const Vector2 normal = normalOf(mine.angle);
            const double by = dot(c.shift, normal);
            for (const Line& line : theirs.lines) {
                if (std::any_of(c.lines.begin(), c.lines.end(), [&](const Matched& m) { return m.moving == &line; }))
                    continue;
                const Line* nearest = nullptr;
                double off = kStrayAtMost;
                for (const Line& other : mine.lines) {
                    const double d = dot(turned(line.at, c.turn), normal) + by - dot(other.at, normal);
                    const bool isTaken = std::any_of(c.lines.begin(), c.lines.end(),
                                                     [&](const Matched& m) { return m.reference == &other; });
                    if (!isTaken && std::abs(d) < std::abs(off)) {
                        off = d;
                        nearest = &other;
                    }
                }
                if (nearest != nullptr)
                    stray.push_back({line.tag, nearest->tag, Metres{off}});
            }
        }
    return stray;
}

/// About the middle of its grid, as a person would turn and push it.
std::string inWords(const Candidate& c)
{
    const std::string turn = fmt::format("turned by {:.1f}°", c.turn * 180 / kPi);
    return length(c.shift) < kSamePlace ? turn : turn + " and moved on by " + lengthInWords(Metres{length(c.shift)});
}

} // namespace

std::vector<Shift> bestShifts(const std::vector<double>& a, const std::vector<double>& b, double tolerance,
                              std::size_t most)
{
    struct Difference {
        double by;
        std::size_t i, j;
    };
    std::vector<Difference> all;
    all.reserve(a.size() * b.size());
    for (std::size_t i = 0; i < a.size(); ++i)
        for (std::size_t j = 0; j < b.size(); ++j)
            all.push_back({b[j] - a[i], i, j});
    std::sort(all.begin(), all.end(), [](const Difference& x, const Difference& y) { return x.by < y.by; });
    std::vector<Shift> found;
    for (std::size_t from = 0, to = 0; from < all.size(); ++from) {
        to = std::max(to, from);
        while (to < all.size() && all[to].by - all[from].by <= 2 * tolerance)
            ++to;
        // Only where the window can not be better a step further on.
        if (from > 0 && all[from].by - all[from - 1].by <= 0 && to - from < 2)
            continue;
        Shift s;
        double sum = 0;
        std::vector<bool> usedA(a.size(), false), usedB(b.size(), false);
        for (std::size_t k = from; k < to; ++k) {
            if (usedA[all[k].i] || usedB[all[k].j])
                continue;
            usedA[all[k].i] = usedB[all[k].j] = true;
            sum += all[k].by;
            s.pairs.emplace_back(all[k].i, all[k].j);
        }
        s.shared = s.pairs.size();
        s.by = sum / static_cast<double>(s.shared);
        const auto near = std::find_if(found.begin(), found.end(),
                                       [&](const Shift& f) { return std::abs(f.by - s.by) <= 2 * tolerance; });
        if (near != found.end()) {
            if (near->shared < s.shared)
                *near = std::move(s);
            continue;
        }
        found.push_back(std::move(s));
        if (found.size() > 4 * most) {
            std::nth_element(found.begin(), found.begin() + static_cast<std::ptrdiff_t>(most), found.end(),
                             [](const Shift& x, const Shift& y) { return x.shared > y.shared; });
            found.resize(most);
        }
    }
    std::stable_sort(found.begin(), found.end(), [](const Shift& x, const Shift& y) { return x.shared > y.shared; });
    if (found.size() > most)
        found.resize(most);
    return found;
}

Result<GridPattern> matchPattern(const std::vector<ifc::Grid>& reference, const std::vector<ifc::Grid>& moving)
{
    const Axes mine = axesOf(reference), theirs = axesOf(moving);
    std::vector<Candidate> candidates;
    addStraight(candidates, mine, theirs);
    addRadial(candidates, mine, theirs);
    if (candidates.empty())
        return fail({kNoPattern,
                     "The distances between the axes of the two grids have too little in common to lay one on "
                     "the other; fit by picked points instead."});
    std::stable_sort(candidates.begin(), candidates.end(), [](const Candidate& a, const Candidate& b) {
        return a.matched != b.matched ? a.matched > b.matched : a.squares < b.squares;
    });
    Candidate best = candidates[0];
    GridPattern result;
    for (const Candidate& other : candidates) {
        if (isSame(other, best) || other.matched + 1 < best.matched)
            continue;
        if (other.matched == best.matched)
            return fail(
                {kAmbiguousPattern,
                 fmt::format("The grids fit onto each other in more than one way: {} or {}, {} axes each. Fit by "
                             "picked points, or by the names of the axes, instead.",
                             inWords(best), inWords(other), best.matched)});
        result.warnings.push_back(fmt::format("Only one axis tells this place from another one ({}); look at it before "
                                              "it is used.",
                                              inWords(other)));
        break;
    }
    addCrossings(best);
    const auto plan = federation::fitInPlan(best.places);
    if (!plan)
        return fail(plan.error());
    // Back from the middles to the files' own origins.
    result.rotation = plan->rotation;
    const Transform turn = Transform::rotationZ(plan->rotation);
    const Vector3 shift = (mine.middle - turn.apply(theirs.middle)) + plan->translation;
    result.translation = {shift.x, shift.y, 0};
    result.matched = best.matched;
    for (const Matched& m : best.lines)
        result.axes.push_back({m.moving->tag, m.reference->tag});
    for (const auto& [theirTag, ourTag] : best.around)
        result.axes.push_back({theirTag, ourTag});
    for (std::size_t i = 0; i < best.places.size(); ++i) {
        federation::PlacePair at = best.places[i];
        at.moving = {at.moving.x + theirs.middle.x, at.moving.y + theirs.middle.y, 0};
        at.reference = {at.reference.x + mine.middle.x, at.reference.y + mine.middle.y, 0};
        result.crossings.push_back({best.placeNames[i].second, best.placeNames[i].first, at});
    }
    result.stray = strayOf(best, mine, theirs);
    for (const StrayAxis& s : result.stray)
        result.warnings.push_back(fmt::format("Axis {}{} stands {} from where the reference has it.", s.moving,
                                              s.moving == s.reference ? "" : " (" + s.reference + " there)",
                                              lengthInWords(Metres{std::abs(s.off.value)})));
    if (best.matched < std::min(mine.count, theirs.count))
        result.warnings.push_back(
            fmt::format("{} of {} axes lie on each other.", best.matched, std::min(mine.count, theirs.count)));
    return result;
}

} // namespace wendrix::coordinates
