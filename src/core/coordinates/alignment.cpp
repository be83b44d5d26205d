#include "core/coordinates/alignment.h"

#include "core/base/text.h"
#include "core/coordinates/crs.h"
#include "core/coordinates/grid_pattern.h"
#include "core/federation/grid_fit.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace wendrix::coordinates {

using federation::Fit;
using federation::PlacePair;

namespace {

constexpr double kNoticed = 0.001; // metres

/// The middle of what a file has in plan: of its grids, else of where its elements are placed.
Point3 middleOf(const ifc::Model& model)
{
    std::vector<Point3> places;
    for (const federation::GridCrossing& c : federation::gridCrossings(model.grids()))
        places.push_back(c.place);
    if (places.empty())
        for (const ifc::Element& e : model.elements())
            places.push_back(e.placement.origin);
    if (places.empty())
        return {};
    Vector3 sum;
    for (const Point3 p : places)
        sum = sum + (p - places[0]);
    return places[0] + (1.0 / static_cast<double>(places.size())) * sum;
}

void measure(Alignment& a)
{
    double squares = 0;
    for (const Left& left : a.left)
        squares += left.distance.value * left.distance.value;
    a.rms = Metres{a.left.empty() ? 0 : std::sqrt(squares / static_cast<double>(a.left.size()))};
}

/// Both in the same system: in closed form, differences first, so that millions of metres cost no digits.
Fit sameSystem(const ifc::Georeference& r, const ifc::Georeference& m)
{
    Fit fit;
    const double rs = r.scale.value_or(1), ms = m.scale.value_or(1);
    fit.scale = ms / rs;
    fit.rotation = Radians{std::remainder(m.rotation.value_or(Radians{}).value - r.rotation.value_or(Radians{}).value,
                                          2 * std::numbers::pi)};
    const Vector3 between{*m.eastings - *r.eastings, *m.northings - *r.northings,
                          m.height.value_or(0) - r.height.value_or(0)};
    const Vector3 turned = Transform::rotationZ(-r.rotation.value_or(Radians{})).turn(between);
    fit.translation = {turned.x / rs, turned.y / rs, turned.z / rs};
    return fit;
}

Transform mapOf(const ifc::Georeference& g)
{
    Transform t = Transform::rotationZ(g.rotation.value_or(Radians{})) * Transform::scaling(g.scale.value_or(1));
    t.origin = {*g.eastings, *g.northings, g.height.value_or(0)};
    return t;
}

Result<Alignment> byConversions(const ifc::Georeference& r, const ifc::Georeference& m, Point3 middle)
{
    Alignment a;
    const std::string mine = r.crs.value_or(""), theirs = m.crs.value_or("");
    const auto codeOf = [](const std::string& name) {
        const auto crs = findCrs(name);
        return crs ? crs->code : upperCase(name);
    };
    if (mine.empty() || theirs.empty())
        a.warnings.push_back(std::string("The ") + (mine.empty() ? "reference" : "member") +
                             " does not name its projected system; it was taken for the other's.");
    if (mine.empty() || theirs.empty() || codeOf(mine) == codeOf(theirs)) {
        a.fit = sameSystem(r, m);
    } else {
        const auto way = CrsTransform::between(theirs, mine);
        if (!way)
            return fail(way.error());
        a.warnings = way->warnings();
        const Transform toMap = mapOf(m), fromMap = mapOf(r).inverse();
        constexpr double kHalf = 100;
        std::vector<PlacePair> places;
        for (const Vector3 corner :
             {Vector3{-kHalf, -kHalf, 0}, {kHalf, -kHalf, 0}, {kHalf, kHalf, 0}, {-kHalf, kHalf, 0}}) {
            const Point3 there = way->apply(toMap.apply(middle + corner));
            if (!std::isfinite(there.x))
                return fail(
                    {kNotDeclared, "The member's place lies outside what " + mine + " and " + theirs + " cover."});
            places.push_back({middle + corner, fromMap.apply(there)});
        }
        const auto plan = federation::fitInPlan(places, federation::Scale::IsFree);
        if (!plan)
            return fail(plan.error());
        a.fit = {plan->scale, plan->rotation, plan->translation};
        if (plan->rms.value > kNoticed)
            a.warnings.push_back("Within the building the two systems differ by " + lengthInWords(plan->rms) +
                                 " from a turn, a scale and a shift.");
    }
    if (std::abs(a.fit.scale - 1) > 1e-9)
        a.warnings.push_back(fmt::format("The declared scales make the member {:.6f} times as large.", a.fit.scale));
    return a;
}

/// Metres of a degree of latitude and longitude (WGS 84).
Vector2 metresOfDegree(double latitudeDegrees)
{
    constexpr double kMajor = 6'378'137.0, kEccentricity2 = 0.00669437999014;
    const double latitude = fromDegrees(latitudeDegrees).value, s = std::sin(latitude);
    const double w2 = 1 - kEccentricity2 * s * s, w = std::sqrt(w2);
    const double perRadian = kMajor / w, meridian = kMajor * (1 - kEccentricity2) / (w2 * w);
    return {fromDegrees(perRadian * std::cos(latitude)).value, fromDegrees(meridian).value};
}

Result<Alignment> bySites(const ifc::Georeference& r, const ifc::Georeference& m)
{
    constexpr double kMostDegrees = 0.5;
    const double north = *m.latitudeDegrees - *r.latitudeDegrees, east = *m.longitudeDegrees - *r.longitudeDegrees;
    if (std::abs(north) > kMostDegrees || std::abs(east) > kMostDegrees)
        return fail(
            {kNotDeclared, fmt::format("The latitudes and longitudes of the two sites lie {:.1f}° apart: at least one "
                                       "is not where the building is.",
                                       std::hypot(north, east))});
    const Vector2 degree = metresOfDegree((*m.latitudeDegrees + *r.latitudeDegrees) / 2);
    Alignment a;
    const double mine = r.trueNorth.value_or(Radians{}).value, theirs = m.trueNorth.value_or(Radians{}).value;
    // True north is at +Y turned by the angle; the member's is to come to lie on the reference's.
    a.fit.rotation = Radians{std::remainder(mine - theirs, 2 * std::numbers::pi)};
    const Vector3 shift = Transform::rotationZ(Radians{mine}).turn(Vector3{east * degree.x, north * degree.y, 0});
    a.fit.translation = {shift.x, shift.y,
                         m.siteElevation.value_or(Metres{}).value - r.siteElevation.value_or(Metres{}).value};
    a.warnings.push_back(
        "Only the latitude, longitude and elevation of the sites are declared by both; these are often "
        "written to the metre at best. Check it by grids or points.");
    return a;
}

} // namespace

Result<Fit> alignByConversions(const ifc::Georeference& reference, const ifc::Georeference& moving, Point3 middle)
{
    const auto a = byConversions(reference, moving, middle);
    return a ? Result<Fit>(a->fit) : fail(a.error());
}

std::vector<Left> leftAt(const ifc::Model& reference, const ifc::Model& moving, const Fit& fit)
{
    std::vector<Left> left;
    for (const federation::Residual& r : federation::residualsOf(reference, moving, fit))
        left.push_back({r.name(), r.distance});
    for (const ifc::Storey& theirs : moving.storeys())
        for (const ifc::Storey& mine : reference.storeys())
            if (mine.name == theirs.name && !mine.name.empty())
                left.push_back({mine.name, Metres{std::abs(fit.scale * theirs.height.value + fit.translation.z -
                                                           mine.height.value)}});
    return left;
}

std::optional<StoreyShift> storeyShift(const ifc::Model& reference, const ifc::Model& moving, double scale)
{
    const auto &mine = reference.storeys(), &theirs = moving.storeys();
    StoreyShift shift;
    std::vector<double> differences;
    for (std::size_t i = 0; i < theirs.size(); ++i)
        for (std::size_t j = 0; j < mine.size(); ++j)
            if (mine[j].name == theirs[i].name && !mine[j].name.empty()) {
                shift.pairs.emplace_back(i, j);
                differences.push_back(mine[j].height.value - scale * theirs[i].height.value);
            }
    if (!shift.pairs.empty()) {
        shift.by = Metres{federation::commonHeight(std::move(differences))};
        return shift;
    }
    std::vector<double> a, b;
    for (const ifc::Storey& s : theirs)
        a.push_back(scale * s.height.value);
    for (const ifc::Storey& s : mine)
        b.push_back(s.height.value);
    const auto found = bestShifts(a, b, 0.01, 2);
    // Two that are spaced alike, and no other shift as good.
    if (found.empty() || found[0].shared < 2 || (found.size() > 1 && found[1].shared == found[0].shared))
        return {};
    return StoreyShift{Metres{found[0].by}, found[0].pairs, false};
}

Result<Alignment> alignByGeoreference(const ifc::Model& reference, const ifc::Model& moving)
{
    const ifc::Georeference &r = reference.georeference(), &m = moving.georeference();
    const auto hasSite = [](const ifc::Georeference& g) { return g.latitudeDegrees && g.longitudeDegrees; };
    Result<Alignment> a = [&]() -> Result<Alignment> {
        if (r.eastings && r.northings && m.eastings && m.northings)
            return byConversions(r, m, middleOf(moving));
        if (hasSite(r) && hasSite(m))
            return bySites(r, m);
        const bool isMine = !(r.eastings && r.northings) && !hasSite(r);
        return fail({kNotDeclared,
                     std::string("The ") + (isMine ? "reference" : "member") +
                         " does not declare where on earth it is; fit it by grids or points instead.",
                     (isMine ? reference : moving).source().file().name()});
    }();
    if (!a)
        return a;
    a->left = leftAt(reference, moving, a->fit);
    measure(*a);
    if (a->left.empty())
        a->warnings.emplace_back("Neither a grid crossing nor a storey has the same name in both: nothing checks it.");
    return a;
}

Result<Alignment> alignByGrids(const ifc::Model& reference, const ifc::Model& moving)
{
    auto fit = federation::fitByGrids(reference, moving);
    if (!fit)
        return fail(fit.error());
    Alignment a{fit->fit, fit->rms, {}, std::move(fit->warnings), fit->isDoubtful};
    for (const federation::Residual& r : fit->residuals)
        a.left.push_back({r.name(), r.distance});
    return a;
}

Result<Alignment> alignByPattern(const ifc::Model& reference, const ifc::Model& moving)
{
    auto pattern = matchPattern(reference.grids(), moving.grids());
    if (!pattern)
        return fail(pattern.error());
    Alignment a;
    a.fit = {1, pattern->rotation, pattern->translation};
    a.warnings = std::move(pattern->warnings);
    if (const auto heights = storeyShift(reference, moving)) {
        a.fit.translation.z = heights->by.value;
        for (const auto& [i, j] : heights->pairs)
            if (const Metres off{heights->by.value + moving.storeys()[i].height.value -
                                 reference.storeys()[j].height.value};
                std::abs(off.value) > kNoticed)
                a.warnings.push_back("Storey " + reference.storeys()[j].name + " is off by " + lengthInWords(off) +
                                     ".");
    } else {
        a.warnings.emplace_back("No storey tells the height; it was left as it is.");
    }
    const Transform map = a.fit.transform();
    for (const PatternCrossing& c : pattern->crossings) {
        const Vector3 d = map.apply(c.at.moving) - c.at.reference;
        a.left.push_back({c.name, Metres{std::hypot(d.x, d.y)}});
    }
    measure(a);
    return a;
}

Result<Alignment> alignByStoreys(const ifc::Model& reference, const ifc::Model& moving)
{
    const auto shift = storeyShift(reference, moving);
    if (!shift)
        return fail(
            {kNoSharedStorey,
             "No storey has the same name in both, and their heights are not spaced alike in one way only; give "
             "the height by numbers or points instead.",
             moving.source().file().name()});
    Alignment a;
    a.fit.translation.z = shift->by.value;
    if (!shift->isByName)
        a.warnings.emplace_back("No storey has the same name in both; those spaced alike were taken for each other.");
    for (const auto& [i, j] : shift->pairs) {
        const Metres off{moving.storeys()[i].height.value + shift->by.value - reference.storeys()[j].height.value};
        a.left.push_back({reference.storeys()[j].name, Metres{std::abs(off.value)}});
        if (std::abs(off.value) > kNoticed)
            a.warnings.push_back("Storey " + reference.storeys()[j].name + " is off by " + lengthInWords(off) + ".");
    }
    measure(a);
    return a;
}

Result<Alignment> alignByPoints(std::span<const PlacePair> places, federation::Scale scale)
{
    for (const PlacePair& p : places)
        if (!(p.weight > 0) || !std::isfinite(p.weight))
            return fail({federation::kTooFewPlaces, "Each pair of places needs a weight over 0."});
    Alignment a;
    if (places.size() == 1) {
        a.fit.translation = places[0].reference - places[0].moving;
        a.warnings.emplace_back("One place moves and does not turn; pick another one to check it.");
    } else {
        const auto plan = federation::fitInPlan(places, scale);
        if (!plan)
            return fail(plan.error());
        a.fit = {plan->scale, plan->rotation, plan->translation};
        if (places.size() == 2)
            a.warnings.emplace_back("Two places tell the turn, and nothing checks it; pick a third one.");
    }
    const Transform map = a.fit.transform();
    for (std::size_t i = 0; i < places.size(); ++i) {
        const Vector3 d = map.apply(places[i].moving) - places[i].reference;
        a.left.push_back({"point " + std::to_string(i + 1), Metres{length(d)}});
    }
    double squares = 0, weights = 0;
    for (std::size_t i = 0; i < places.size(); ++i) {
        squares += places[i].weight * a.left[i].distance.value * a.left[i].distance.value;
        weights += places[i].weight;
    }
    a.rms = Metres{std::sqrt(squares / weights)};
    return a;
}

Alignment alignByValues(const ifc::Model& reference, const ifc::Model& moving, const Fit& fit)
{
    Alignment a{fit, {}, leftAt(reference, moving, fit), {}};
    measure(a);
    if (a.left.empty())
        a.warnings.emplace_back("Neither a grid crossing nor a storey has the same name in both: nothing checks it.");
    return a;
}

} // namespace wendrix::coordinates
