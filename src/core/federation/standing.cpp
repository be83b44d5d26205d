#include "core/federation/standing.h"

#include "core/base/text.h"

#include <fmt/format.h>

#include <cmath>

namespace wendrix::federation {

namespace {

constexpr Metres kGridsMatch{0.05};
constexpr double kNoticed = 0.001; // metres or degrees: less is not worth a word

/// How much too high the fitted member's storeys are against those of the same name; nothing where none is shared.
std::optional<Metres> heightOffset(const ifc::Model& reference, const Member& member)
{
    double sum = 0;
    std::size_t shared = 0;
    for (const ifc::Storey& mine : reference.storeys())
        for (const ifc::Storey& theirs : member.model->storeys())
            if (mine.name == theirs.name && !mine.name.empty()) {
                sum += member.fit.scale * theirs.height.value + member.fit.translation.z - mine.height.value;
                ++shared;
            }
    return shared > 0 ? std::optional(Metres{sum / static_cast<double>(shared)}) : std::nullopt;
}

bool hasGrid(const ifc::Model& model) { return !gridCrossings(model.grids()).empty(); }

std::vector<Cause> causesOf(const ifc::Model& reference, const ifc::Model& moving)
{
    const auto fit = fitByGrids(reference, moving);
    if (!fit)
        return {{!hasGrid(reference) ? CauseKind::NoReferenceGrid
                 : !hasGrid(moving)  ? CauseKind::NoGrid
                                     : CauseKind::NoSharedGrid,
                 {},
                 {},
                 Remedy::FitOtherwise}};
    std::vector<Cause> causes;
    const Vector3 t = fit->fit.translation;
    const double shift = std::hypot(t.x, t.y);
    if (fit->worst > kGridsMatch)
        causes.push_back({CauseKind::GridsDiffer, fit->worst, {}, Remedy::CheckUnit});
    else {
        if (std::abs(toDegrees(fit->fit.rotation)) > kNoticed)
            causes.push_back({CauseKind::Turned, {}, fit->fit.rotation, Remedy::FitByGrids});
        if (shift > kNoticed)
            causes.push_back({CauseKind::OwnOrigin, Metres{shift}, {}, Remedy::FitByGrids});
    }
    if (std::abs(t.z) > kNoticed)
        causes.push_back({CauseKind::HeightOffset, Metres{-t.z}, {}, Remedy::FitByGrids});
    if (reference.georeference().eastings && !moving.georeference().eastings)
        causes.push_back({CauseKind::ConversionMissing, {}, {}, Remedy::AskForConversion});
    return causes;
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
    if (standing.residuals.empty() || standing.worst > limit)
        standing.causes = causesOf(reference, *member.model);
    else if (const auto height = heightOffset(reference, member); height && std::abs(height->value) > limit.value)
        standing.causes = {{CauseKind::HeightOffset, *height, {}, Remedy::FitByGrids}};
    return standing;
}

std::string inWords(const std::vector<Cause>& causes)
{
    const auto find = [&](CauseKind kind) {
        for (const Cause& c : causes)
            if (c.kind == kind)
                return &c;
        return static_cast<const Cause*>(nullptr);
    };
    const Cause *turned = find(CauseKind::Turned), *away = find(CauseKind::OwnOrigin);
    std::vector<std::string> sentences;
    if (turned != nullptr && away != nullptr)
        sentences.push_back(fmt::format("Exported from an origin of its own and unturned: turned {:.2f}°, {} away.",
                                        toDegrees(turned->turn), lengthInWords(away->metres)));
    else if (turned != nullptr)
        sentences.push_back(fmt::format("Turned by {:.2f}° about the shared origin.", toDegrees(turned->turn)));
    else if (away != nullptr)
        sentences.push_back("Exported from an origin of its own, " + lengthInWords(away->metres) + " away.");
    for (const Cause& c : causes)
        switch (c.kind) {
        case CauseKind::NoReferenceGrid:
            sentences.push_back("The reference has no grid with crossing axes to verify it by.");
            break;
        case CauseKind::NoGrid:
            sentences.push_back("It has no grid with crossing axes to verify it by.");
            break;
        case CauseKind::NoSharedGrid:
            sentences.push_back("It shares fewer than two grid crossings of the same name with the reference.");
            break;
        case CauseKind::GridsDiffer:
            sentences.push_back("The grids do not match even when laid over each other; its length unit may be wrong.");
            break;
        case CauseKind::HeightOffset:
            sentences.push_back("Its heights start " + lengthInWords(Metres{std::abs(c.metres.value)}) +
                                (c.metres.value < 0 ? " too low." : " too high."));
            break;
        case CauseKind::ConversionMissing:
            sentences.push_back("It has no map conversion.");
            break;
        case CauseKind::Turned:
        case CauseKind::OwnOrigin:
            break;
        }
    std::string words;
    for (const std::string& sentence : sentences)
        words += (words.empty() ? "" : " ") + sentence;
    return words;
}

std::string whyNotVerified(const Standing& standing)
{
    if (standing.isVerified())
        return {};
    if (!standing.residuals.empty() && standing.worst > standing.limit)
        return "its grid is off by " + lengthInWords(standing.worst) + " at " + standing.worstAt;
    for (const Cause& c : standing.causes)
        switch (c.kind) {
        case CauseKind::NoReferenceGrid:
            return "the reference has no grid to verify its place by";
        case CauseKind::NoGrid:
            return "it has no grid to verify its place by";
        case CauseKind::NoSharedGrid:
            return "it shares no grid with the reference to verify its place by";
        case CauseKind::HeightOffset:
            return "its storeys are off by " + lengthInWords(Metres{std::abs(c.metres.value)});
        default:
            break;
        }
    return "its place does not verify";
}

} // namespace wendrix::federation
