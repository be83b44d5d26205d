#include "core/project/place_check.h"

#include "core/coordinates/common_motion.h"
#include "core/federation/standing.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace wendrix::project {

using federation::Member;

namespace {

std::optional<coordinates::CommonMotion> motionOf(const Member& before, const Member& after)
{
    return coordinates::commonMotion(
        coordinates::placesInBoth({*before.model, before.geometry.get()}, {*after.model, after.geometry.get()}));
}

/// The model of the same name before; the first where it had another.
const Member& sameBefore(std::span<const Member> before, const Member& after)
{
    const auto found =
        std::find_if(before.begin(), before.end(), [&](const Member& m) { return m.part == after.part; });
    return found != before.end() ? *found : before.front();
}

/// Whether a motion takes what is built more than the drawing's own error away.
bool isNoticed(const coordinates::CommonMotion& motion, const Member& member, Metres limit)
{
    const Transform back = motion.motion.transform();
    const Point3 place = member.geometry->bounds().isEmpty() ? Point3{} : member.geometry->bounds().centre();
    return length(back.apply(place) - place) > limit.value;
}

/// Whether a fit puts a member where it stands now.
bool isSame(const federation::Fit& fit, const Member& member, Metres limit)
{
    const Box3 box = member.geometry->bounds();
    if (box.isEmpty())
        return fit == member.fit;
    const Transform a = fit.transform(), b = member.fit.transform();
    return length(a.apply(box.min) - b.apply(box.min)) <= limit.value &&
           length(a.apply(box.max) - b.apply(box.max)) <= limit.value;
}

/// Whether a fit puts more of what both have, crossings and storeys, farther off than nearer.
bool isWorseForMost(const Member& reference, const Member& member, const federation::Fit& fit)
{
    constexpr double kNoticed = 0.0005; // metres
    const auto before = coordinates::leftAt(*reference.model, *member.model, member.fit),
               after = coordinates::leftAt(*reference.model, *member.model, fit);
    std::size_t worse = 0, better = 0;
    for (std::size_t i = 0; i < before.size() && i < after.size(); ++i) {
        worse += after[i].distance.value > before[i].distance.value + kNoticed ? 1 : 0;
        better += after[i].distance.value < before[i].distance.value - kNoticed ? 1 : 0;
    }
    return worse > better;
}

/// The fit that puts the delivery where the one before stood.
std::optional<StoredFit> proposalFor(const Member& reference, const Member& before, const Member& after,
                                     const StoredFit& inForce, Metres limit)
{
    const auto stored = [&](const federation::Fit& fit, const char* method) {
        StoredFit s;
        s.fit = fit;
        s.isLocked = true;
        s.method = method;
        s.residuals = federation::residualsOf(*reference.model, *after.model, fit);
        for (const federation::Residual& r : s.residuals)
            s.worst = std::max(s.worst, r.distance.value);
        return s;
    };
    const auto standsRight = [&](const federation::Fit& fit) {
        Member fitted = after;
        fitted.fit = fit;
        return federation::standingOf(*reference.model, fitted, limit).isVerified();
    };
    if (const auto byName = coordinates::alignByGrids(*reference.model, *after.model);
        byName && standsRight(byName->fit))
        return stored(byName->fit, "grids");
    // By what both revisions have, where no grid tells; the drawing's own errors stay as they were.
    if (const auto motion = motionOf(before, after)) {
        federation::Fit fit = before.fit;
        fit.rotation =
            Radians{std::remainder(fit.rotation.value + motion->motion.rotation.value, 2 * std::numbers::pi)};
        fit.translation = before.fit.transform().apply(motion->motion.translation);
        StoredFit same = stored(fit, "revision");
        same.isAccepted = inForce.isAccepted; // said of the place, and that is the same
        return same;
    }
    if (const auto pattern = coordinates::alignByPattern(*reference.model, *after.model);
        pattern && !pattern->isDoubtful)
        return stored(pattern->fit, "pattern");
    return {};
}

} // namespace

std::optional<MovedPlace> whyMoved(std::span<const Member> before, std::span<const Member> after,
                                   const Member& reference, const StoredFit& inForce, Metres limit)
{
    if (before.empty() || after.empty())
        return {};
    std::optional<MovedPlace> worst;
    for (const Member& now : after) {
        const Member& then = sameBefore(before, now);
        const bool isReference = now.discipline == reference.discipline;
        const auto standing = federation::standingOf(*reference.model, now, limit);
        if (!isReference && standing.isVerified())
            continue; // what most deliveries do; no element has to be looked at
        const auto motion = motionOf(then, now);
        const bool hasMoved = motion && isNoticed(*motion, now, limit);
        MovedPlace moved;
        moved.title = now.title();
        moved.inForce = inForce;
        moved.isReference = isReference;
        if (isReference) {
            if (!hasMoved)
                continue;
            const Transform back = motion->motion.transform();
            const Point3 place = now.geometry->bounds().centre();
            moved.worst = Metres{length(back.apply(place) - place)};
        } else {
            const bool stoodRight = federation::standingOf(*reference.model, then, limit).isVerified();
            const bool isSomebodys = inForce.id != 0;
            if (!stoodRight && !(isSomebodys && hasMoved))
                continue;
            moved.worst = standing.worst;
            moved.proposed = proposalFor(reference, then, now, inForce, limit);
            moved.standing = federation::howItStands(standing);
            // As where an axis is drawn or a storey stands elsewhere: no fit mends that.
            if (moved.proposed &&
                (isSame(moved.proposed->fit, now, limit) || isWorseForMost(reference, now, moved.proposed->fit)))
                moved.proposed.reset();
        }
        if (worst && worst->worst >= moved.worst)
            continue;
        moved.causes = coordinates::diagnose({moved.isReference ? *then.model : *reference.model, {}},
                                             {*now.model, now.geometry->bounds()}, then.model.get())
                           .causes;
        worst = std::move(moved);
    }
    return worst;
}

} // namespace wendrix::project
