#include "core/coordinates/declared.h"

#include "core/base/text.h"
#include "core/coordinates/crs.h"

#include <fmt/format.h>

#include <cmath>

namespace wendrix::coordinates {

namespace {

constexpr double kSameMetres = 0.0005, kSameDegrees = 0.0005, kSameOnEarth = 1e-8; // degrees: a millimetre
constexpr const char* kNone = "none";

std::string metres(double v)
{
    const double shown = std::round(v * 1000) / 1000 + 0.0; // what rounds to nothing has no sign
    return fmt::format("{:.3f} m", shown);
}
std::string degrees(double v) { return fmt::format("{:.6f}°", std::round(v * 1e6) / 1e6 + 0.0); }
std::string place(Point3 p) { return fmt::format("{:.2f}, {:.2f}, {:.2f}", p.x + 0.0, p.y + 0.0, p.z + 0.0); }

class Comparison {
public:
    Comparison(const Facts& reference, const Facts& moving)
        : a_(reference), b_(moving), r_(reference.model.georeference()), m_(moving.model.georeference())
    {
    }

    std::vector<Declared> made()
    {
        unit();
        site();
        conversion();
        north();
        placement("IfcSite", "Site placement");
        placement("IfcBuilding", "Building placement");
        grids();
        storeys();
        geometry();
        return std::move(rows_);
    }

private:
    void add(std::string what, std::string reference, std::string moving, std::string difference = {})
    {
        rows_.push_back({std::move(what), std::move(reference), std::move(moving), std::move(difference)});
    }
    /// Two numbers that may not be there.
    void number(const char* what, std::optional<double> a, std::optional<double> b, double same,
                std::string (*inWords)(double), const std::string& differs)
    {
        std::string difference;
        if (a && !b)
            difference = "It does not say it, the reference does.";
        else if (!a && b)
            difference = "It says it, the reference does not.";
        else if (a && b && std::abs(*a - *b) > same)
            difference = differs;
        add(what, a ? inWords(*a) : kNone, b ? inWords(*b) : kNone, std::move(difference));
    }
    static std::optional<double> degreesOf(const std::optional<Radians>& angle)
    {
        return angle ? std::optional(toDegrees(*angle)) : std::nullopt;
    }
    static std::optional<double> metresOf(const std::optional<Metres>& length)
    {
        return length ? std::optional(length->value) : std::nullopt;
    }

    void unit()
    {
        const ifc::Units &a = a_.model.units(), &b = b_.model.units();
        add("Length unit", a.lengthName, b.lengthName,
            a.lengthToMetres == b.lengthToMetres
                ? ""
                : "Another unit is no fault by itself: lengths are taken over in metres.");
    }

    void site()
    {
        const auto earth = [](double v) { return fmt::format("{:.8f}°", v); };
        number("Site latitude", r_.latitudeDegrees, m_.latitudeDegrees, kSameOnEarth, earth,
               "The two sites lie at different latitudes.");
        number("Site longitude", r_.longitudeDegrees, m_.longitudeDegrees, kSameOnEarth, earth,
               "The two sites lie at different longitudes.");
        const auto a = metresOf(r_.siteElevation), b = metresOf(m_.siteElevation);
        number("Site elevation", a, b, kSameMetres, metres,
               a && b ? "Its site lies " + lengthInWords(Metres{std::abs(*b - *a)}) + (*b > *a ? " higher." : " lower.")
                      : "");
    }

    void conversion()
    {
        const auto off = [](std::optional<double> a, std::optional<double> b, const char* more, const char* less) {
            return a && b ? "Its origin is declared " + lengthInWords(Metres{std::abs(*b - *a)}) +
                                (*b > *a ? more : less) +
                                " the reference's; that is right where its own origin lies there."
                          : std::string();
        };
        number("Map easting", r_.eastings, m_.eastings, kSameMetres, metres,
               off(r_.eastings, m_.eastings, " east of", " west of"));
        number("Map northing", r_.northings, m_.northings, kSameMetres, metres,
               off(r_.northings, m_.northings, " north of", " south of"));
        number("Map height", r_.height, m_.height, kSameMetres, metres, off(r_.height, m_.height, " above", " below"));
        number("Turn of +X from grid east", degreesOf(r_.rotation), degreesOf(m_.rotation), kSameDegrees, degrees,
               "Its X axis points elsewhere on the map; that is right where it is turned by as much.");
        const auto called = [](const std::optional<std::string>& name) {
            if (!name || name->empty())
                return std::string(kNone);
            const auto crs = findCrs(*name);
            return crs ? crs->code + " " + crs->name : *name + " (unknown to the EPSG register)";
        };
        const std::string a = called(r_.crs), b = called(m_.crs);
        add("Projected system", a, b,
            a == b       ? ""
            : b == kNone ? "It names none, the reference does."
            : a == kNone ? "It names one, the reference does not."
                         : "Its map coordinates are of another system; they are taken into the reference's.");
    }

    void north()
    {
        number("True north from +Y", degreesOf(r_.trueNorth), degreesOf(m_.trueNorth), kSameDegrees, degrees,
               "North is elsewhere in its drawing: one of the two is in project north.");
    }

    void placement(const char* type, const char* what)
    {
        const auto of = [&](const ifc::Model& model) -> std::optional<Transform> {
            std::optional<Transform> found;
            model.source().forEach(ifc::Name(std::string_view(type)), [&](const ifc::Entity& e) {
                if (!found)
                    found = model.placementOf(e);
            });
            return found;
        };
        const auto a = of(a_.model), b = of(b_.model);
        const auto words = [](const std::optional<Transform>& t) {
            if (!t)
                return std::string(kNone);
            const double turn = std::atan2(t->x.y, t->x.x) * 180 / std::numbers::pi;
            return place(t->origin) + (std::abs(turn) > kSameDegrees ? ", turned " + degrees(turn) : "");
        };
        const bool isSame = a.has_value() == b.has_value() &&
                            (!a || (length(a->origin - b->origin) <= kSameMetres && length(a->x - b->x) < 1e-6));
        add(what, words(a), words(b),
            isSame ? ""
                   : std::string("Its ") + (type == std::string("IfcSite") ? "site" : "building") +
                         " is placed elsewhere in its own coordinates.");
    }

    void grids()
    {
        const auto words = [](const ifc::Model& model) {
            std::size_t axes = 0;
            for (const ifc::Grid& grid : model.grids())
                axes += grid.axes.size();
            return axes == 0
                       ? std::string(kNone)
                       : counted(axes, "axis", "axes") +
                             (model.grids().size() > 1 ? " in " + std::to_string(model.grids().size()) + " grids" : "");
        };
        const std::string a = words(a_.model), b = words(b_.model);
        add("Grid", a, b,
            a == b       ? ""
            : b == kNone ? "It has no grid to prove its place by."
                         : "The two do not have the same axes.");
    }

    void storeys()
    {
        const auto &a = a_.model.storeys(), &b = b_.model.storeys();
        const auto words = [](const std::vector<ifc::Storey>& storeys) {
            return storeys.empty() ? std::string(kNone)
                                   : storeys.front().name + ", " + metres(storeys.front().height.value);
        };
        std::string difference;
        if (a.empty() != b.empty())
            difference = b.empty() ? "It has no storeys." : "The reference has no storeys.";
        else if (!a.empty() && std::abs(a.front().height.value - b.front().height.value) > kSameMetres)
            difference = "Its lowest storey stands " +
                         lengthInWords(Metres{std::abs(b.front().height.value - a.front().height.value)}) +
                         (b.front().height > a.front().height ? " higher." : " lower.");
        add("Lowest storey", words(a), words(b), std::move(difference));
    }

    void geometry()
    {
        const auto centre = [](const Box3& box) { return box.isEmpty() ? std::string(kNone) : place(box.centre()); };
        const auto size = [](const Box3& box) {
            const Vector3 s = box.size();
            return box.isEmpty() ? std::string(kNone) : fmt::format("{:.1f} × {:.1f} × {:.1f} m", s.x, s.y, s.z);
        };
        std::string away, other;
        if (!a_.bounds.isEmpty() && !b_.bounds.isEmpty()) {
            const Vector3 d = b_.bounds.centre() - a_.bounds.centre(), s = a_.bounds.size(), t = b_.bounds.size();
            if (std::hypot(d.x, d.y) > 0.5 * std::hypot(s.x, s.y))
                away = "Its middle lies " + lengthInWords(Metres{std::hypot(d.x, d.y)}) + " from the reference's.";
            if (const double ratio = std::hypot(t.x, t.y) / std::max(1e-9, std::hypot(s.x, s.y));
                ratio > 5 || ratio < 0.2)
                other = fmt::format("It is {:.3g} times as wide as the reference: its unit may be wrong.", ratio);
        }
        add("Middle of the geometry", centre(a_.bounds), centre(b_.bounds), std::move(away));
        add("Extent", size(a_.bounds), size(b_.bounds), std::move(other));
    }

    const Facts &a_, &b_;
    const ifc::Georeference &r_, &m_;
    std::vector<Declared> rows_;
};

} // namespace

std::vector<Declared> compareDeclared(const Facts& reference, const Facts& moving)
{
    return Comparison(reference, moving).made();
}

} // namespace wendrix::coordinates
