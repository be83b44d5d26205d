#include "core/coordinates/correspondence.h"

#include "core/coordinates/grid_pattern.h"
#include "core/federation/grid_fit.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace wendrix::coordinates {

using federation::PlacePair;

namespace {

constexpr double kAgree = 0.05, kLeftOut = 0.010; // metres

double median(std::vector<double> values)
{
    if (values.empty())
        return 0;
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

std::vector<Crossing> byName(const ifc::Model& reference, const ifc::Model& moving)
{
    std::map<std::pair<std::string, std::string>, Point3> theirs;
    for (const federation::GridCrossing& c : federation::gridCrossings(moving.grids()))
        theirs.try_emplace({c.first, c.second}, c.place);
    std::vector<Crossing> shared;
    for (const federation::GridCrossing& c : federation::gridCrossings(reference.grids()))
        if (const auto found = theirs.find({c.first, c.second}); found != theirs.end())
            shared.push_back({c.first, c.second, {found->second.x, found->second.y, 0}, {c.place.x, c.place.y, 0}});
    return shared;
}

/// The grids with every place mapped, for trying other scales and mirrored ones.
std::vector<ifc::Grid> mapped(std::vector<ifc::Grid> grids, double scale, bool isMirrored)
{
    const auto map = [&](Vector3 p) { return Vector3{(isMirrored ? -scale : scale) * p.x, scale * p.y, p.z}; };
    for (ifc::Grid& grid : grids)
        for (ifc::GridAxis& axis : grid.axes) {
            axis.start = map(axis.start);
            axis.end = map(axis.end);
            if (axis.arc) {
                axis.arc->centre = map(axis.arc->centre);
                axis.arc->u = map(axis.arc->u);
                axis.arc->v = map(axis.arc->v);
            }
        }
    return grids;
}

/// All crossings of axes that a pattern takes for each other, those that stand elsewhere among them.
std::vector<Crossing> renamed(const ifc::Model& reference, const ifc::Model& moving, const GridPattern& pattern)
{
    std::map<std::string, std::string> theirs; // by the moving tag
    for (const AxisPair& axis : pattern.axes)
        theirs[axis.moving] = axis.reference;
    for (const StrayAxis& axis : pattern.stray)
        theirs.try_emplace(axis.moving, axis.reference);
    std::map<std::pair<std::string, std::string>, Point3> known;
    for (const federation::GridCrossing& c : federation::gridCrossings(reference.grids()))
        known.try_emplace({c.first, c.second}, c.place);
    std::vector<Crossing> shared;
    for (const federation::GridCrossing& c : federation::gridCrossings(moving.grids())) {
        const auto first = theirs.find(c.first), second = theirs.find(c.second);
        if (first == theirs.end() || second == theirs.end())
            continue;
        auto found = known.find({first->second, second->second});
        if (found == known.end())
            found = known.find({second->second, first->second});
        if (found != known.end())
            shared.push_back({found->first.first,
                              found->first.second,
                              {c.place.x, c.place.y, 0},
                              {found->second.x, found->second.y, 0}});
    }
    return shared;
}

std::vector<Crossing> byPattern(const ifc::Model& reference, const ifc::Model& moving)
{
    std::vector<double> scales{1};
    scales.insert(scales.end(), std::begin(kUnitFactors), std::end(kUnitFactors));
    std::vector<Crossing> best;
    std::size_t most = 0;
    for (const double scale : scales)
        for (const bool isMirrored : {false, true}) {
            const auto pattern = matchPattern(reference.grids(), mapped(moving.grids(), scale, isMirrored));
            if (!pattern || pattern->matched <= most)
                continue; // what explains it without a scale or a mirror goes before
            most = pattern->matched;
            best = renamed(reference, moving, *pattern);
            if (best.size() >= pattern->crossings.size())
                continue;
            best.clear(); // tags that several axes have
            for (const PatternCrossing& c : pattern->crossings) {
                const std::size_t slash = c.name.find('/');
                Point3 p = c.at.moving;
                p.x /= isMirrored ? -scale : scale;
                p.y /= scale;
                best.push_back({c.name.substr(0, slash), c.name.substr(slash + 1), p, c.at.reference});
            }
        }
    return best;
}

/// Crossings that lie on each other as they are, whatever they are called; empty where most of neither grid do.
std::vector<Crossing> byPlace(const ifc::Model& reference, const ifc::Model& moving)
{
    const auto mine = federation::gridCrossings(reference.grids()), theirs = federation::gridCrossings(moving.grids());
    // By columns of 50 mm, so that two grids of thousands of crossings are not held against each other one by one.
    std::map<std::pair<std::int64_t, std::int64_t>, std::vector<std::size_t>> cells;
    const auto cellOf = [](Point3 p) {
        return std::pair{static_cast<std::int64_t>(std::floor(p.x / kAgree)),
                         static_cast<std::int64_t>(std::floor(p.y / kAgree))};
    };
    const auto isSane = [](Point3 p) { return std::abs(p.x) < 1e12 && std::abs(p.y) < 1e12; };
    for (std::size_t i = 0; i < mine.size(); ++i)
        if (isSane(mine[i].place))
            cells[cellOf(mine[i].place)].push_back(i);
    std::vector<Crossing> shared;
    for (const federation::GridCrossing& c : theirs) {
        if (!isSane(c.place))
            continue;
        const auto [x, y] = cellOf(c.place);
        const federation::GridCrossing* nearest = nullptr;
        double best = kAgree;
        for (std::int64_t i = x - 1; i <= x + 1; ++i)
            for (std::int64_t j = y - 1; j <= y + 1; ++j)
                if (const auto cell = cells.find({i, j}); cell != cells.end())
                    for (const std::size_t k : cell->second)
                        if (const Vector3 d = c.place - mine[k].place; std::hypot(d.x, d.y) < best) {
                            best = std::hypot(d.x, d.y);
                            nearest = &mine[k];
                        }
        if (nearest != nullptr)
            shared.push_back(
                {nearest->first, nearest->second, {c.place.x, c.place.y, 0}, {nearest->place.x, nearest->place.y, 0}});
    }
    return 2 * shared.size() > std::min(mine.size(), theirs.size()) ? shared : std::vector<Crossing>();
}

std::optional<Relation> tried(const std::vector<Crossing>& crossings, bool isMirrored)
{
    const auto placeOf = [&](const Crossing& c) {
        return PlacePair{{isMirrored ? -c.moving.x : c.moving.x, c.moving.y, 0}, {c.reference.x, c.reference.y, 0}};
    };
    std::vector<std::size_t> kept(crossings.size());
    for (std::size_t i = 0; i < kept.size(); ++i)
        kept[i] = i;
    Relation relation;
    relation.isMirrored = isMirrored;
    // What most agree on is found first, by least absolute distances (weights 1/r, P. J. Huber, Robust Statistics,
    // 1981); a tenth of axes that stand elsewhere would pull least squares along.
    std::vector<double> off(crossings.size(), 0);
    constexpr int kRobustRounds = 24, kRounds = kRobustRounds + 6;
    for (int round = 0; round < kRounds; ++round) {
        const bool isRobust = round < kRobustRounds;
        std::vector<PlacePair> places;
        for (const std::size_t i : kept) {
            places.push_back(placeOf(crossings[i]));
            if (isRobust && round > 0)
                places.back().weight = 1 / std::max(off[i], 1e-5);
        }
        const auto plan = federation::fitInPlan(places, federation::Scale::IsFree);
        if (!plan || !(plan->scale > 0))
            return {};
        relation.scale = plan->scale;
        relation.turn = plan->rotation;
        relation.shift = {plan->translation.x, plan->translation.y};
        // A scale that is as good as none, or as a unit's, is that: the rest is finer then.
        double extent = 0;
        for (const PlacePair& p : places)
            extent = std::max(extent, length(p.reference - places[0].reference));
        double settled = 0;
        for (const double f : kUnitFactors)
            if (std::abs(plan->scale / f - 1) * extent < kLeftOut)
                settled = f;
        if (std::abs(plan->scale - 1) * extent < kLeftOut)
            settled = 1;
        if (settled > 0) {
            for (PlacePair& p : places)
                p.moving = settled * p.moving;
            const auto rigid = federation::fitInPlan(places);
            if (!rigid)
                return {};
            relation.scale = settled;
            relation.turn = rigid->rotation;
            relation.shift = {rigid->translation.x, rigid->translation.y};
        }
        for (std::size_t i = 0; i < crossings.size(); ++i) {
            const Vector3 d = relation.apply(crossings[i].moving) - crossings[i].reference;
            off[i] = std::hypot(d.x, d.y);
        }
        if (round + 1 < kRobustRounds)
            continue;
        const double limit = std::max(kLeftOut, 3 * median(off));
        std::vector<std::size_t> next;
        for (std::size_t i = 0; i < crossings.size(); ++i)
            if (off[i] <= limit)
                next.push_back(i);
        relation.kept.clear();
        relation.dropped.clear();
        relation.worst = 0;
        for (std::size_t i = 0; i < crossings.size(); ++i) {
            const bool isKept = off[i] <= limit;
            (isKept ? relation.kept : relation.dropped).push_back(crossings[i]);
            relation.worst = isKept ? std::max(relation.worst, off[i]) : relation.worst;
        }
        if (next == kept || next.size() < 3)
            break;
        kept = std::move(next);
    }
    if (relation.kept.size() < 3 || 2 * relation.kept.size() < crossings.size() || relation.worst > kAgree)
        return {};
    return relation;
}

} // namespace

Point3 Relation::apply(Point3 p) const
{
    const Vector3 turned =
        Transform::rotationZ(turn).turn(Vector3{scale * (isMirrored ? -p.x : p.x), scale * p.y, p.z});
    return {turned.x + shift.x, turned.y + shift.y, p.z};
}

std::optional<Relation> relationOf(const std::vector<Crossing>& crossings)
{
    if (crossings.size() < 3)
        return {};
    auto straight = tried(crossings, false), mirrored = tried(crossings, true);
    if (!straight || (mirrored && mirrored->kept.size() > straight->kept.size()))
        return mirrored;
    return straight;
}

std::vector<Crossing> sharedCrossings(const ifc::Model& reference, const ifc::Model& moving)
{
    auto named = byName(reference, moving);
    if (relationOf(named))
        return named;
    // Names and spacing may tell nothing (all bays alike, numbered otherwise): what lies on each other does.
    if (auto placed = byPlace(reference, moving); relationOf(placed))
        return placed;
    auto patterned = byPattern(reference, moving);
    return patterned.empty() && named.size() >= 3 ? named : patterned;
}

} // namespace wendrix::coordinates
