#include "coordinates/coordinates_stage.h"

#include "coordinates/lengths.h"
#include "shell/theme.h"

#include <algorithm>
#include <cmath>

/// The stage's scene: both grids, the residuals as arrows, and the member where it is to be shown.
namespace wendrix::app {

namespace {

constexpr double kArrowShare = 0.08;                         // of the grid's extent, the longest arrow
constexpr double kLeastArrow = 0.0005, kMostStretched = 1.0; // metres

} // namespace

double arrowStretch(const std::vector<federation::Residual>& residuals)
{
    Box3 extent;
    double worst = 0;
    for (const federation::Residual& r : residuals) {
        extent.add(r.reference);
        worst = std::max(worst, r.distance.value);
    }
    if (worst < kLeastArrow || worst > kMostStretched)
        return 1;
    const double wanted = kArrowShare * std::hypot(extent.size().x, extent.size().y) / worst;
    // A round number, so that one can read a length off it.
    const double ten = std::pow(10, std::floor(std::log10(std::max(wanted, 1.0))));
    for (const double step : {5.0, 2.0, 1.0})
        if (step * ten <= wanted)
            return step * ten;
    return 1;
}

federation::Fit CoordinatesStage::fitLookedAt(const federation::Member& member,
                                              const federation::Member& reference) const
{
    const WayToFit* way = isLocked(member) ? nullptr : chosenWay(member, reference);
    return way != nullptr ? way->found->fit : member.fit;
}

void CoordinatesStage::showScene(const federation::Member& member, const federation::Member& reference)
{
    placeMembers();
    federation::Member shown = member;
    shown.fit = shownFit(member, member, reference);
    const bool isByAxes = placement_ == Placement::Beside || hand_->kind() == HandTool::Kind::Axes;
    const auto mine = gridLinesOf(reference, QColor(0x5F, 0x6B, 0x70, 170), true, storey_),
               theirs = gridLinesOf(shown, QColor(0xC2, 0x3B, 0x72, 230), true, storey_);
    std::vector<HandTool::Axis> axes;
    view::Subject subject;
    for (const view::GridLine& line : mine) {
        subject.grid.push_back(line);
        axes.push_back({true, line});
    }
    for (view::GridLine line : theirs) {
        axes.push_back({false, line});
        if (!isByAxes)
            line.tag.clear(); // one name at each axis is enough where both have the same
        subject.grid.push_back(std::move(line));
    }
    hand_->setAxes(std::move(axes));
    if (placement_ != Placement::Beside) {
        const federation::Fit fit = placement_ == Placement::Fitted ? fitLookedAt(member, reference) : member.fit;
        const auto residuals = federation::residualsOf(*reference.model, *member.model, fit);
        const double stretch = arrowStretch(residuals), height = mine.empty() ? 0 : mine[0].start.z,
                     theirHeight = theirs.empty() ? height : theirs[0].start.z;
        // Where the whole member stands elsewhere, its crossings say so better than arrows would.
        const bool isFarOff = std::any_of(residuals.begin(), residuals.end(),
                                          [](const auto& r) { return r.distance.value > kMostStretched; });
        for (const federation::Residual& r : residuals) {
            Point3 from = r.reference, to = r.fitted;
            from.z = to.z = height;
            if (!isFarOff && r.distance.value >= kLeastArrow)
                subject.arrows.push_back(
                    {from, from + stretch * (to - from),
                     r.distance > at_.session.standsRight() ? millimetresInWords(r.distance) : std::string(),
                     toColour(theme::kMoved)});
            else
                subject.markers.push_back({{r.fitted.x, r.fitted.y, isFarOff ? theirHeight : height},
                                           "",
                                           toColour(theme::kPanel),
                                           toColour(theme::kMoved),
                                           true});
        }
    }
    // Once it stands right or nearly so, what matters is whether axis lies on axis: the model steps back. Where
    // something is to be taken hold of, it is what one looks at.
    subject.isRestFaded = (standingOf(member).isVerified() || !subject.arrows.empty()) && at_.scene.tool() != hand_;
    at_.scene.change([&](view::Scene& scene) { scene.show(std::move(subject)); });
}

} // namespace wendrix::app
