#include "core/coordinates/common_motion.h"

#include "core/base/transform.h"
#include "core/federation/grid_fit.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace wendrix::coordinates {

using federation::PlacePair;

namespace {

constexpr double kAlike = 0.005;      // metres
constexpr double kLeastBetween = 1.0; // metres between two places whose direction is to tell a turn
constexpr double kTurnStep = 0.01;    // degrees
constexpr std::size_t kMostDirections = 20'000;

double middleOf(std::vector<double>& values)
{
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

/// The middle of what is left between the two once the moving ones are turned, axis by axis.
Vector3 middleShift(std::span<const PlacePair> places, const Transform& turn)
{
    std::vector<double> x, y, z;
    for (const PlacePair& p : places) {
        const Vector3 d = p.reference - turn.turn(p.moving);
        x.push_back(d.x), y.push_back(d.y), z.push_back(d.z);
    }
    return {middleOf(x), middleOf(y), middleOf(z)};
}

std::vector<PlacePair> alikeOf(std::span<const PlacePair> places, const Transform& turn, Vector3 shift)
{
    std::vector<PlacePair> alike;
    for (const PlacePair& p : places)
        if (length(turn.turn(p.moving) + shift - p.reference) <= kAlike)
            alike.push_back(p);
    return alike;
}

/// The turn that most directions between places share; nothing where none tells.
std::optional<Radians> commonTurn(std::span<const PlacePair> places)
{
    std::map<int, std::vector<double>> byStep;
    std::size_t directions = 0;
    for (std::size_t stride = places.size() / 2; stride > 0 && directions < kMostDirections; stride /= 2)
        for (std::size_t i = 0; i + stride < places.size() && directions < kMostDirections; ++i) {
            const Vector3 a = places[i + stride].moving - places[i].moving,
                          b = places[i + stride].reference - places[i].reference;
            const double one = std::hypot(a.x, a.y), other = std::hypot(b.x, b.y);
            if (std::min(one, other) < kLeastBetween || std::abs(one - other) > kAlike)
                continue;
            const double turn = std::atan2(a.x * b.y - a.y * b.x, a.x * b.x + a.y * b.y);
            byStep[static_cast<int>(std::lround(toDegrees(Radians{turn}) / kTurnStep))].push_back(turn);
            ++directions;
        }
    const auto most = std::max_element(byStep.begin(), byStep.end(),
                                       [](const auto& a, const auto& b) { return a.second.size() < b.second.size(); });
    return most == byStep.end() ? std::nullopt : std::optional(Radians{middleOf(most->second)});
}

} // namespace

std::optional<CommonMotion> commonMotion(std::span<const PlacePair> places)
{
    if (places.size() < 3)
        return {};
    const Transform none;
    const Vector3 shift = middleShift(places, none);
    if (const std::size_t alike = alikeOf(places, none, shift).size(); 2 * alike > places.size())
        return CommonMotion{{1, {}, shift}, alike};
    const auto turn = commonTurn(places);
    if (!turn)
        return {};
    const Transform turned = Transform::rotationZ(*turn);
    // About a place of theirs, or a hundredth of a degree would be metres at map coordinates.
    const Point3 m = places.front().moving, r = places.front().reference;
    std::vector<PlacePair> near;
    for (const PlacePair& p : places)
        near.push_back({p.moving - m, p.reference - r});
    std::vector<PlacePair> held;
    const Vector3 middle = middleShift(near, turned);
    for (std::size_t i = 0; i < places.size(); ++i) {
        // What the step of the turn may leave grows with the distance; least squares then take it away.
        const double reach = kAlike + 2 * std::hypot(near[i].moving.x, near[i].moving.y) * fromDegrees(kTurnStep).value;
        if (length(turned.turn(near[i].moving) + middle - near[i].reference) <= reach)
            held.push_back(places[i]);
    }
    const auto fit = federation::fitInPlan(held);
    if (!fit)
        return {};
    const std::size_t alike = alikeOf(places, Transform::rotationZ(fit->rotation), fit->translation).size();
    return 2 * alike > places.size() ? std::optional(CommonMotion{{1, fit->rotation, fit->translation}, alike})
                                     : std::nullopt;
}

std::vector<PlacePair> placesInBoth(const Revision& earlier, const Revision& later)
{
    std::vector<PlacePair> placed, bodies;
    const auto& now = later.model.elements();
    const auto& then = earlier.model.elements();
    bool isPlacedApart = false;
    for (ifc::ElementIndex i = 0; i < now.size(); ++i) {
        if (now[i].guid.empty())
            continue;
        const auto before = earlier.model.find(now[i].guid, later.model.ordinalOf(i));
        if (!before)
            continue;
        placed.push_back({now[i].placement.origin, then[*before].placement.origin});
        isPlacedApart = isPlacedApart || length(placed.back().moving - placed.front().moving) > kLeastBetween;
        if (later.geometry == nullptr || earlier.geometry == nullptr)
            continue;
        const Box3 &a = later.geometry->elements()[i].bounds, &b = earlier.geometry->elements()[*before].bounds;
        if (!a.isEmpty() && !b.isEmpty())
            bodies.push_back({a.centre(), b.centre()});
    }
    std::vector<PlacePair> places = isPlacedApart || bodies.empty() ? std::move(placed) : std::move(bodies);
    for (const federation::Residual& g : federation::residualsOf(earlier.model, later.model, {}))
        places.push_back({g.fitted, g.reference});
    return places;
}

} // namespace wendrix::coordinates
