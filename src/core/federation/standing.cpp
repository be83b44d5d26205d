#include "core/federation/standing.h"

#include "core/base/text.h"

#include <cmath>

namespace wendrix::federation {

namespace {

using Verdict = Standing::Verdict;

bool hasGrid(const ifc::Model& model) { return !gridCrossings(model.grids()).empty(); }

/// How much too high the fitted member's storeys stand against those of the same name.
void measureStoreys(const ifc::Model& reference, const Member& member, Standing& standing)
{
    double least = 0, most = 0;
    bool isFirst = true;
    for (const ifc::Storey& mine : reference.storeys())
        for (const ifc::Storey& theirs : member.model->storeys()) {
            if (mine.name != theirs.name || mine.name.empty())
                continue;
            const double off = member.fit.scale * theirs.height.value + member.fit.translation.z - mine.height.value;
            least = isFirst ? off : std::min(least, off);
            most = isFirst ? off : std::max(most, off);
            if (isFirst || std::abs(off) > std::abs(standing.height.value)) {
                standing.height = Metres{off};
                standing.storey = mine.name;
            }
            isFirst = false;
            ++standing.storeys;
            standing.storeysOff += std::abs(off) > standing.limit.value ? 1 : 0;
        }
    if (most - least <= standing.limit.value)
        standing.storey.clear();
}

} // namespace

Standing standingOf(const ifc::Model& reference, const Member& member, Metres limit)
{
    Standing standing;
    standing.limit = limit;
    standing.residuals = residualsOf(reference, *member.model, member.fit);
    double sum = 0;
    for (const Residual& r : standing.residuals) {
        sum += r.distance.value;
        if (standing.worstAt.empty() || r.distance > standing.worst) {
            standing.worst = r.distance;
            standing.worstAt = r.name();
        }
    }
    if (!standing.residuals.empty())
        standing.mean = Metres{sum / static_cast<double>(standing.residuals.size())};
    measureStoreys(reference, member, standing);
    if (standing.worst > limit)
        standing.verdict = Verdict::GridOff;
    else if (standing.residuals.size() < 2)
        standing.verdict = !hasGrid(reference)       ? Verdict::NoReferenceGrid
                           : !hasGrid(*member.model) ? Verdict::NoGrid
                                                     : Verdict::NoSharedGrid;
    else if (std::abs(standing.height.value) > limit.value)
        standing.verdict = Verdict::StoreysOff;
    return standing;
}

std::string whyNotVerified(const Standing& standing)
{
    const Metres height{std::abs(standing.height.value)};
    switch (standing.verdict) {
    case Verdict::Right:
        return {};
    case Verdict::NoReferenceGrid:
        return "the reference has no grid to verify its place by";
    case Verdict::NoGrid:
        return "it has no grid to verify its place by";
    case Verdict::NoSharedGrid:
        return "it shares fewer than two grid crossings with the reference to verify its place by";
    case Verdict::GridOff:
        return "its grid is off by " + lengthInWords(standing.worst) + " at " + standing.worstAt;
    case Verdict::StoreysOff:
        return standing.storey.empty() ? "its storeys are off by " + lengthInWords(height)
                                       : "its " + standing.storey + " is off by " + lengthInWords(height);
    }
    return {};
}

std::string howItStands(const Standing& standing)
{
    const std::string why = whyNotVerified(standing);
    if (standing.verdict != Verdict::StoreysOff || standing.storey.empty())
        return why;
    const std::size_t fit = standing.storeys - standing.storeysOff;
    std::string words = "its " + standing.storey + " stands " + lengthInWords(Metres{std::abs(standing.height.value)}) +
                        (standing.height.value > 0 ? " too high" : " too low");
    if (standing.storeysOff > 1)
        words += ", and " + counted(standing.storeysOff - 1, "more storey is", "more storeys are") + " off";
    const std::string crossings =
        "all " + counted(standing.residuals.size(), "crossing", "crossings") + " of the grid fit";
    return words + "; " +
           (fit == 0 ? crossings : "the other " + counted(fit, "storey", "storeys") + " and " + crossings);
}

} // namespace wendrix::federation
