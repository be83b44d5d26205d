#include "core/federation/standing.h"

#include "core/base/text.h"

#include <fmt/format.h>

#include <cmath>

namespace wendrix::federation {

namespace {

constexpr Metres kStandsRight{0.005};

std::string cause(const ifc::Model& reference, const ifc::Model& moving)
{
    const auto fit = fitByGrids(reference, moving);
    if (!fit)
        return fit.error().message;
    const Vector3 t = fit->fit.translation;
    const double turn = toDegrees(fit->fit.rotation), shift = std::hypot(t.x, t.y);
    std::string words;
    if (fit->worst > Metres{0.05})
        words = "The grids do not match even when laid over each other; its length unit may be wrong.";
    else if (std::abs(turn) > 0.001 && shift > 0.001)
        words = fmt::format("Exported from an origin of its own and unturned: turned {:.2f}°, {} away.", turn,
                            lengthInWords(Metres{shift}));
    else if (std::abs(turn) > 0.001)
        words = fmt::format("Turned by {:.2f}° about the shared origin.", turn);
    else
        words = "Exported from an origin of its own, " + lengthInWords(Metres{shift}) + " away.";
    if (std::abs(t.z) > 0.001)
        words += " Its heights start " + lengthInWords(Metres{t.z}) + (t.z > 0 ? " too low." : " too high.");
    if (reference.georeference().eastings && !moving.georeference().eastings)
        words += " It has no map conversion.";
    return words;
}

} // namespace

Standing standingOf(const ifc::Model& reference, const Member& member)
{
    Standing standing;
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
    if (standing.residuals.empty() || standing.worst > kStandsRight)
        standing.likelyCause = cause(reference, *member.model);
    return standing;
}

} // namespace wendrix::federation
