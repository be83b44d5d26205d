#include "core/federation/plan_fit.h"

#include "core/base/transform.h"

#include <cmath>

namespace wendrix::federation {

namespace {

constexpr Metres kSamePlace{1e-3}; // finer than setting-out on site, coarser than file rounding

Point3 centroid(std::span<const PlacePair> places, Point3 PlacePair::*side)
{
    // About the first place: northings run to millions, and a plain sum would lose digits.
    const Point3 first = places[0].*side;
    Vector3 sum;
    double weights = 0;
    for (const PlacePair& pair : places) {
        sum = sum + pair.weight * (pair.*side - first);
        weights += pair.weight;
    }
    return first + (1.0 / weights) * sum;
}

} // namespace

Result<PlanFit> fitInPlan(std::span<const PlacePair> places, Scale scale)
{
    if (places.size() < 2)
        return fail({kTooFewPlaces, "A turn needs two places; pick one more in both members."});

    // Centre first: northings run to millions of metres, and products of such numbers would cost the angle
    // its last millimetres across a site.
    const Point3 m = centroid(places, &PlacePair::moving);
    const Point3 r = centroid(places, &PlacePair::reference);

    double along = 0, across = 0, spread = 0, squaresOfMoving = 0, weights = 0;
    for (const auto& [a, b, w] : places) {
        const double ax = a.x - m.x, ay = a.y - m.y, bx = b.x - r.x, by = b.y - r.y;
        along += w * (ax * bx + ay * by);
        across += w * (ax * by - ay * bx);
        squaresOfMoving += w * (ax * ax + ay * ay);
        weights += w;
        spread = std::max(spread, std::min(std::hypot(ax, ay), std::hypot(bx, by)));
    }
    if (Metres{2 * spread} <= kSamePlace) // in either member: atan2(0, 0) would answer 0
        return fail({kPlacesCoincide, "The places are one spot in plan; pick some further apart."});

    PlanFit fit;
    fit.rotation = Radians{std::atan2(across, along)};
    if (scale == Scale::IsFree)
        fit.scale = std::hypot(along, across) / squaresOfMoving;
    const Transform turn = Transform::rotationZ(fit.rotation) * Transform::scaling(fit.scale);
    fit.translation = r - turn.apply(m);
    double squares = 0;
    for (const auto& [a, b, w] : places) {
        // Residuals about the centroids too, for the same reason.
        const Vector3 left = (b - r) - turn.turn(a - m);
        squares += w * dot(left, left);
    }
    fit.rms = Metres{std::sqrt(squares / weights)};
    return fit;
}

} // namespace wendrix::federation
