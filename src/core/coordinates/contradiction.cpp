#include "core/coordinates/contradiction.h"

#include "core/base/text.h"

#include <fmt/format.h>

#include <cmath>

namespace wendrix::coordinates {

namespace {

constexpr double kDeclaredTo = 0.05; // metres; conversions are written to the millimetre, and rounded by some
constexpr double kSure = 0.97;
constexpr const char* kUntil =
    " It stands right in its own coordinates; whoever federates by declaration puts it elsewhere.";

std::string away(double metres) { return lengthInWords(Metres{std::abs(metres)}); }

/// How far a declaration puts the building from where the reference's does, where it is most; nothing where the two can
/// not be held against each other.
std::optional<double> declaredAway(const ifc::Georeference& reference, const ifc::Georeference& moving,
                                   std::span<const Point3> places)
{
    const auto fit = alignByConversions(reference, moving, places.front());
    if (!fit)
        return {};
    const Transform map = fit->transform();
    double most = 0;
    for (const Point3 p : places)
        most = std::max(most, length(map.apply(p) - p));
    return most;
}

} // namespace

std::vector<Cause> contradictionsOf(const ifc::Georeference& reference, const ifc::Georeference& moving,
                                    std::span<const Point3> places)
{
    if (places.empty())
        return {};
    const auto agrees = [&](const ifc::Georeference& theirs) {
        const auto off = declaredAway(reference, theirs, places);
        return off && *off <= kDeclaredTo;
    };
    if (agrees(moving))
        return {};
    const auto told = [](CauseKind kind, const std::string& sentence, std::string remedy,
                         std::map<std::string, std::variant<double, std::string>> measure = {}) {
        return std::vector<Cause>{{kind, kSure, sentence + kUntil, std::move(remedy), std::move(measure)}};
    };
    ifc::Georeference swapped = moving, ours = moving, turned = moving, level = moving;
    std::swap(swapped.eastings, swapped.northings);
    ours.crs = reference.crs;
    turned.rotation = reference.rotation;
    level.height = reference.height;
    const std::string mine = reference.crs.value_or(""), theirs = moving.crs.value_or("");
    const double turn = toDegrees(moving.rotation.value_or(Radians{})),
                 wanted = toDegrees(reference.rotation.value_or(Radians{})),
                 higher = moving.height.value_or(0) - reference.height.value_or(0);
    const std::string ask = "Ask its team to write the map conversion of the reference.",
                      askName = "Ask its team to name " + mine + " as the projected system.";
    if (agrees(swapped))
        return told(CauseKind::AxesSwapped, "The eastings and northings of its map conversion changed places.",
                    "Ask its team to put eastings in the first place and northings in the second.");
    if (!mine.empty() && !theirs.empty() && mine != theirs && agrees(ours))
        return told(CauseKind::CrsDiffers,
                    "Its map conversion has the numbers of the reference's, of " + theirs + " instead of " + mine + ".",
                    askName, {{"reference", mine}, {"moving", theirs}});
    if (agrees(turned))
        return told(
            CauseKind::Turned,
            fmt::format(
                "Its map conversion turns it by {:.2f}° where the reference's turns by {:.2f}°, counter-clockwise.",
                turn, wanted),
            ask, {{"degrees", wanted - turn}});
    if (agrees(level))
        return told(CauseKind::HeightOffset,
                    "The height of its map conversion is not the reference's: " + away(higher) + " apart.", ask,
                    {{"metres", higher}});
    const auto off = declaredAway(reference, moving, places);
    if (!off)
        return told(CauseKind::CrsDiffers,
                    "Its projected system " + theirs + " can not be brought onto " + mine + " at this place.", askName,
                    {{"reference", mine}, {"moving", theirs}});
    return told(CauseKind::OwnOrigin, "Its map conversion puts it " + away(*off) + " from where the reference's does.",
                ask, {{"metres", *off}});
}

} // namespace wendrix::coordinates
