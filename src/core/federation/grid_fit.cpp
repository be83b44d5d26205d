#include "core/federation/grid_fit.h"

#include "core/base/text.h"
#include "core/federation/plan_fit.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

namespace wendrix::federation {

namespace {

constexpr double kDrawnOff = 0.05; // metres; no grid is drawn worse than that

bool startsWithLetter(const std::string& tag)
{
    return !tag.empty() && std::isalpha(static_cast<unsigned char>(tag[0])) != 0;
}

/// "2" before "10": numbers by value, the rest as text.
bool tagBefore(const std::string& a, const std::string& b)
{
    const bool numbers = !a.empty() && !b.empty() && std::isdigit(static_cast<unsigned char>(a[0])) != 0 &&
                         std::isdigit(static_cast<unsigned char>(b[0])) != 0;
    if (numbers && a.size() != b.size())
        return a.size() < b.size();
    return a < b;
}

/// Where a straight axis meets one along a circle in plan: where it is drawn, rather than where it would be if it went
/// on. Nothing where there is no such place, or two that are as good.
std::optional<Point3> crossingOnCircle(const ifc::GridAxis& line, const ifc::GridArc& arc)
{
    const Vector2 d{line.end.x - line.start.x, line.end.y - line.start.y},
        w{line.start.x - arc.centre.x, line.start.y - arc.centre.y};
    const double a = dot(d, d), b = dot(d, w), c = dot(w, w) - arc.radius() * arc.radius(), root = b * b - a * c;
    if (!(a > 0) || root < 0)
        return {};
    std::optional<Point3> best;
    double nearest = std::numeric_limits<double>::infinity();
    for (const double t : {(-b - std::sqrt(root)) / a, (-b + std::sqrt(root)) / a}) {
        const Point3 p = line.start + t * (line.end - line.start);
        const Vector3 out = p - arc.centre;
        if (!arc.reaches(std::atan2(dot(out, arc.v), dot(out, arc.u))))
            continue;
        const double off = std::max({0.0, -t, t - 1}) * std::sqrt(a);
        if (off < nearest - 1e-6)
            best = p;
        else if (off < nearest + 1e-6 && root > 0)
            best.reset();
        nearest = std::min(nearest, off);
    }
    return best;
}

/// Where two axes cross in plan; nothing where they run parallel.
std::optional<Point3> crossing(const ifc::GridAxis& a, const ifc::GridAxis& b)
{
    if (a.arc || b.arc)
        return a.arc && b.arc ? std::nullopt : a.arc ? crossingOnCircle(b, *a.arc) : crossingOnCircle(a, *b.arc);
    const Vector2 u{a.end.x - a.start.x, a.end.y - a.start.y}, v{b.end.x - b.start.x, b.end.y - b.start.y};
    const double d = cross(u, v);
    if (std::abs(d) < 1e-6 * length(u) * length(v))
        return {};
    const Vector2 w{b.start.x - a.start.x, b.start.y - a.start.y};
    return a.start + (cross(w, v) / d) * (a.end - a.start);
}

using CrossingMap = std::map<std::pair<std::string, std::string>, Point3>;

CrossingMap byName(const std::vector<ifc::Grid>& grids)
{
    CrossingMap map;
    for (const GridCrossing& c : gridCrossings(grids))
        map.try_emplace({c.first, c.second}, c.place);
    return map;
}

double median(std::vector<double> values)
{
    if (values.empty())
        return 0;
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

/// What the storeys with the same name agree on, and what each differs by.
std::optional<double> storeyShift(const ifc::Model& reference, const ifc::Model& moving,
                                  std::vector<std::pair<std::string, double>>& differences)
{
    for (const ifc::Storey& a : moving.storeys())
        for (const ifc::Storey& b : reference.storeys())
            if (a.name == b.name && !a.name.empty())
                differences.emplace_back(a.name, b.height.value - a.height.value);
    if (differences.empty())
        return {};
    std::vector<double> all;
    for (const auto& [name, d] : differences)
        all.push_back(d);
    return commonHeight(std::move(all));
}

/// Why crossings of the same name can not be brought together, if a mirror image would.
bool fitsMirrored(std::vector<PlacePair> places, double limit)
{
    for (PlacePair& p : places)
        p.moving.x = -p.moving.x;
    const auto plan = fitInPlan(places);
    if (!plan)
        return false;
    const Transform map = Fit{1, plan->rotation, plan->translation}.transform();
    std::vector<double> distances;
    for (const PlacePair& p : places)
        distances.push_back(length(map.apply(p.moving) - p.reference));
    return median(std::move(distances)) <= limit;
}

} // namespace

double commonHeight(std::vector<double> differences)
{
    constexpr double kAlike = 0.005;
    std::sort(differences.begin(), differences.end());
    std::size_t most = 0;
    double best = 0;
    for (std::size_t from = 0, to = 0; from < differences.size(); ++from) {
        while (to < differences.size() && differences[to] - differences[from] <= kAlike)
            ++to;
        double sum = 0;
        for (std::size_t i = from; i < to; ++i)
            sum += differences[i];
        const double mean = sum / static_cast<double>(to - from);
        if (to - from > most || (to - from == most && std::abs(mean) < std::abs(best))) {
            most = to - from;
            best = mean;
        }
    }
    return best;
}

std::vector<GridCrossing> gridCrossings(const std::vector<ifc::Grid>& grids)
{
    std::vector<GridCrossing> crossings;
    for (const ifc::Grid& grid : grids)
        for (std::size_t i = 0; i < grid.axes.size(); ++i)
            for (std::size_t j = i + 1; j < grid.axes.size(); ++j) {
                const ifc::GridAxis *a = &grid.axes[i], *b = &grid.axes[j];
                if (a->family == b->family || a->tag.empty() || b->tag.empty())
                    continue;
                if (startsWithLetter(b->tag) && !startsWithLetter(a->tag))
                    std::swap(a, b);
                if (const auto place = crossing(*a, *b))
                    crossings.push_back({a->tag, b->tag, *place});
            }
    std::stable_sort(crossings.begin(), crossings.end(), [](const GridCrossing& a, const GridCrossing& b) {
        return a.first != b.first ? tagBefore(a.first, b.first) : tagBefore(a.second, b.second);
    });
    return crossings;
}

std::vector<Residual> residualsOf(const ifc::Model& reference, const ifc::Model& moving, const Fit& fit)
{
    const CrossingMap theirs = byName(moving.grids());
    const Transform map = fit.transform();
    std::vector<Residual> residuals;
    for (const GridCrossing& c : gridCrossings(reference.grids()))
        if (const auto found = theirs.find({c.first, c.second}); found != theirs.end()) {
            Residual r{c.first, c.second, c.place, map.apply(found->second), {}};
            r.distance = Metres{std::hypot(r.fitted.x - r.reference.x, r.fitted.y - r.reference.y)};
            residuals.push_back(std::move(r));
        }
    return residuals;
}

Result<GridFit> fitByGrids(const ifc::Model& reference, const ifc::Model& moving)
{
    const auto mine = gridCrossings(reference.grids());
    const CrossingMap theirs = byName(moving.grids());
    if (mine.empty() || theirs.empty())
        return fail({kNoGrid,
                     std::string("The ") + (mine.empty() ? "reference" : "member") +
                         " has no grid with crossing axes; fit it by picked points instead.",
                     (mine.empty() ? reference : moving).source().file().name()});
    std::vector<PlacePair> places;
    std::vector<std::string> names;
    for (const GridCrossing& c : mine)
        if (const auto found = theirs.find({c.first, c.second}); found != theirs.end()) {
            // Heights come from the storeys; in plan each crossing counts the same.
            places.push_back({{found->second.x, found->second.y, 0}, {c.place.x, c.place.y, 0}});
            names.push_back(c.name());
        }
    if (places.size() < 2)
        return fail({kNoSharedGrid,
                     "The two members share fewer than two grid crossings of the same name; fit by "
                     "picked points instead.",
                     moving.source().file().name()});
    auto plan = fitInPlan(places);
    if (!plan)
        return fail(plan.error());

    GridFit result;
    // One wrong axis would turn the whole building a little: name such crossings and fit again without them.
    for (int round = 0; round < 3; ++round) {
        const Transform map = Fit{1, plan->rotation, plan->translation}.transform();
        std::vector<double> distances;
        for (const PlacePair& p : places)
            distances.push_back(length(map.apply(p.moving) - p.reference));
        const double limit = std::max(0.010, 3 * median(distances));
        std::vector<PlacePair> kept;
        std::vector<std::string> keptNames;
        for (std::size_t i = 0; i < places.size(); ++i) {
            if (distances[i] <= limit) {
                kept.push_back(places[i]);
                keptNames.push_back(names[i]);
            } else {
                result.warnings.push_back("Crossing " + names[i] + " is off by " + lengthInWords(Metres{distances[i]}) +
                                          " from the others and was left out of the fit.");
            }
        }
        if (kept.size() == places.size() || kept.size() < 2)
            break;
        auto again = fitInPlan(kept);
        if (!again)
            break;
        plan = again;
        places = std::move(kept);
        names = std::move(keptNames);
    }
    result.fit = {1, plan->rotation, plan->translation};
    std::vector<double> off;
    for (const PlacePair& p : places)
        off.push_back(length(result.fit.transform().apply(p.moving) - p.reference));
    if (const double middle = median(off); middle > kDrawnOff) {
        result.isDoubtful = true;
        result.warnings.push_back(
            "Most crossings of the same name can not be brought together: half of them stay over " +
            lengthInWords(Metres{middle}) + " apart. " +
            (fitsMirrored(places, kDrawnOff)
                 ? "The member is mirrored against the reference, and no turn and shift mends that."
                 : "Their spacing differs: look at the unit, the scale, and which names stand for "
                   "the same axis."));
    }

    std::vector<std::pair<std::string, double>> differences;
    if (const auto shift = storeyShift(reference, moving, differences)) {
        result.fit.translation.z = *shift;
    } else {
        result.fit.translation.z = mine[0].place.z - theirs.begin()->second.z;
        result.warnings.push_back("No storey has the same name in both; the height was taken from the grids.");
    }
    for (const auto& [name, d] : differences) {
        const Metres difference{result.fit.translation.z - d};
        result.storeys.push_back({name, difference});
        if (std::abs(difference.value) > 0.001)
            result.warnings.push_back("Storey " + name + " is off by " + lengthInWords(difference) + ".");
    }
    result.residuals = residualsOf(reference, moving, result.fit);
    double squares = 0;
    for (const Residual& r : result.residuals) {
        squares += r.distance.value * r.distance.value;
        result.worst = std::max(result.worst, r.distance);
    }
    result.rms = Metres{std::sqrt(squares / static_cast<double>(std::max<std::size_t>(1, result.residuals.size())))};
    return result;
}

} // namespace wendrix::federation
