#include "core/coordinates/project_place.h"

#include "core/base/text.h"
#include "core/ifc/model.h"

#include <fmt/format.h>

#include <cmath>
#include <numbers>

namespace wendrix::coordinates {

namespace {

constexpr double kAgrees = 0.005, kAgreesDegrees = 0.001; // metres; degrees
// WGS 84: half axis in metres, and the square of the first eccentricity.
constexpr double kHalfAxis = 6'378'137.0, kEccentricity2 = 0.00669437999014;

bool hasMap(const ifc::Georeference& g) { return g.eastings && g.northings; }

Transform toMap(const ifc::Georeference& g)
{
    Transform t = Transform::rotationZ(g.rotation.value_or(Radians{})) * Transform::scaling(g.scale.value_or(1));
    t.origin = {g.eastings.value_or(0), g.northings.value_or(0), g.height.value_or(0)};
    return t;
}

std::optional<Radians> turnedBy(const std::optional<Radians>& angle, Radians by)
{
    return angle ? std::optional(Radians{std::remainder(angle->value + by.value, 2 * std::numbers::pi)}) : std::nullopt;
}

} // namespace

ifc::Georeference seenFromReference(const ifc::Georeference& declared, const federation::Fit& fit)
{
    ifc::Georeference seen = declared;
    const Transform back = fit.transform().inverse();
    if (hasMap(declared)) {
        const Point3 origin = toMap(declared).apply(back.apply(Point3{}));
        seen.eastings = origin.x;
        seen.northings = origin.y;
        if (declared.height)
            seen.height = origin.z;
        seen.rotation = turnedBy(declared.rotation.value_or(Radians{}), -fit.rotation);
        if (declared.scale || fit.scale != 1)
            seen.scale = declared.scale.value_or(1) / fit.scale;
    }
    seen.trueNorth = turnedBy(declared.trueNorth, fit.rotation);
    return seen;
}

ProjectPlace::ProjectPlace(ifc::Georeference declared, Point3 siteOrigin)
    : declared_(std::move(declared)), siteOrigin_(siteOrigin)
{
    if (hasMap(declared_) && declared_.crs)
        if (auto transform = CrsTransform::toLongitudeLatitude(*declared_.crs))
            toEarth_ = std::move(*transform);
}

std::optional<Point3> ProjectPlace::onMap(Point3 place) const
{
    return hasMap(declared_) ? std::optional(toMap(declared_).apply(place)) : std::nullopt;
}

std::optional<LatitudeLongitude> ProjectPlace::onEarth(Point3 place) const
{
    if (toEarth_) {
        const Point3 at = toEarth_->apply(*onMap(place));
        if (std::isfinite(at.x) && std::isfinite(at.y))
            return LatitudeLongitude{at.y, at.x};
    }
    if (!declared_.latitudeDegrees || !declared_.longitudeDegrees)
        return {};
    // Level about the site: y towards true north, x towards east.
    const double north = declared_.trueNorth.value_or(Radians{}).value;
    const Vector3 d = place - siteOrigin_;
    const double toNorth = -std::sin(north) * d.x + std::cos(north) * d.y,
                 toEast = std::cos(north) * d.x + std::sin(north) * d.y;
    const double latitude = fromDegrees(*declared_.latitudeDegrees).value;
    const double w = std::sqrt(1 - kEccentricity2 * std::sin(latitude) * std::sin(latitude));
    const double alongMeridian = kHalfAxis * (1 - kEccentricity2) / (w * w * w), across = kHalfAxis / w;
    return LatitudeLongitude{*declared_.latitudeDegrees + toDegrees(Radians{toNorth / alongMeridian}),
                             *declared_.longitudeDegrees + toDegrees(Radians{toEast / (across * std::cos(latitude))})};
}

std::optional<Metres> ProjectPlace::elevation(Point3 place) const
{
    if (declared_.height)
        return Metres{*declared_.height + declared_.scale.value_or(1) * place.z};
    if (declared_.siteElevation)
        return Metres{declared_.siteElevation->value + place.z - siteOrigin_.z};
    return {};
}

Point3 siteOriginOf(const ifc::Model& model)
{
    std::optional<Point3> origin;
    model.source().forEach(ifc::Name(std::string_view("IfcSite")), [&](const ifc::Entity& e) {
        if (!origin)
            origin = model.placementOf(e).origin;
    });
    return origin.value_or(Point3{});
}

bool Agreement::agrees() const
{
    return isDeclared && inPlan.value <= kAgrees && std::abs(inHeight.value) <= kAgrees &&
           std::abs(toDegrees(turn)) <= kAgreesDegrees;
}

Agreement agreementOf(const ifc::Georeference& project, const ifc::Georeference& declared, const federation::Fit& fit,
                      Point3 place)
{
    Agreement a;
    if (!hasMap(project)) {
        a.words = "The project says no map coordinates to hold it against.";
        return a;
    }
    if (!hasMap(declared)) {
        a.words = "It declares no map conversion.";
        return a;
    }
    a.isDeclared = true;
    const Transform theirs = toMap(declared), ours = toMap(project);
    const Transform back = fit.transform().inverse();
    Point3 theirPlace = theirs.apply(back.apply(place));
    double theirTurn = declared.rotation.value_or(Radians{}).value - fit.rotation.value;
    std::string system;
    if (declared.crs && project.crs && *declared.crs != *project.crs) {
        const auto between = CrsTransform::between(*declared.crs, *project.crs);
        if (!between) {
            a.isDeclared = false;
            a.words =
                "Its map coordinates are of " + *declared.crs + ", which can not be taken into " + *project.crs + ".";
            return a;
        }
        // The turn between the systems here: a metre to the east in theirs, seen in the project's.
        const Point3 here = between->apply(theirPlace), east = between->apply(theirPlace + Vector3{1, 0, 0});
        theirTurn += std::atan2(east.y - here.y, east.x - here.x);
        theirPlace = here;
        system = " (taken from " + *declared.crs + ")";
    }
    const Vector3 off = theirPlace - ours.apply(place);
    a.inPlan = Metres{std::hypot(off.x, off.y)};
    a.inHeight = Metres{declared.height && project.height ? off.z : 0};
    a.turn = Radians{std::remainder(theirTurn - project.rotation.value_or(Radians{}).value, 2 * std::numbers::pi)};
    if (a.agrees()) {
        a.words = "It declares the same place" + system + ".";
        return a;
    }
    std::vector<std::string> parts;
    if (a.inPlan.value > kAgrees)
        parts.push_back(lengthInWords(a.inPlan) + " off in plan");
    if (std::abs(a.inHeight.value) > kAgrees)
        parts.push_back(lengthInWords(Metres{std::abs(a.inHeight.value)}) +
                        (a.inHeight.value > 0 ? " too high" : " too low"));
    if (std::abs(toDegrees(a.turn)) > kAgreesDegrees)
        parts.push_back(fmt::format("turned by {:.4f}°", toDegrees(a.turn)));
    a.words = "By its own declaration it would stand ";
    for (std::size_t i = 0; i < parts.size(); ++i)
        a.words += (i > 0 ? ", " : "") + parts[i];
    a.words += system + ".";
    return a;
}

std::string inWords(LatitudeLongitude p)
{
    return fmt::format("{:.7f}° {} {:.7f}° {}", std::abs(p.latitude), p.latitude < 0 ? "S" : "N", std::abs(p.longitude),
                       p.longitude < 0 ? "W" : "E");
}

} // namespace wendrix::coordinates
