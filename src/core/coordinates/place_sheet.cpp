#include "core/coordinates/place_sheet.h"

#include "core/base/html.h"
#include "core/base/text.h"
#include "core/base/who_and_when.h"

#include <fmt/format.h>

#include <cmath>

namespace wendrix::coordinates {

namespace {

constexpr const char* kNone = "none";

std::string metres(const std::optional<double>& v)
{
    return v ? fmt::format("{:.3f} m", std::round(*v * 1000) / 1000 + 0.0) : kNone;
}
std::string degrees(const std::optional<Radians>& v)
{
    return v ? fmt::format("{:.6f}°", std::round(toDegrees(*v) * 1e6) / 1e6 + 0.0) : kNone;
}

} // namespace

std::vector<std::pair<std::string, std::string>> saidInWords(const ifc::Georeference& said)
{
    const auto earth = [](const std::optional<double>& v) { return v ? fmt::format("{:.8f}°", *v) : kNone; };
    std::string system = kNone;
    if (said.crs) {
        const auto crs = findCrs(*said.crs);
        system = crs ? crs->code + " " + crs->name : *said.crs + " (unknown to the EPSG register)";
    }
    return {{"Projected system", system},
            {"Map easting", metres(said.eastings)},
            {"Map northing", metres(said.northings)},
            {"Map height", metres(said.height)},
            {"Turn of +X from grid east", degrees(said.rotation)},
            {"True north from +Y", degrees(said.trueNorth)},
            {"Site latitude", earth(said.latitudeDegrees)},
            {"Site longitude", earth(said.longitudeDegrees)},
            {"Site elevation", metres(said.siteElevation ? std::optional(said.siteElevation->value) : std::nullopt)}};
}

std::string toHtml(const PlaceSheet& sheet)
{
    Markup html = markup("<h1>Coordinates of {}</h1><p>As {} says. {}, {}.</p><table>", sheet.project, sheet.from,
                         sheet.person, timeInWords(sheet.time));
    for (const auto& [what, value] : saidInWords(sheet.place.declared()))
        html += markup("<tr><td>{}</td><td align=\"right\"><b>{}</b></td></tr>", what, value);
    html += markup("</table><h2>Does every member agree?</h2><table><tr><th></th><th></th><th>Projected system</th>"
                   "<th>By its own declaration</th><th>Fit</th></tr>");
    for (const PlaceSheet::Line& line : sheet.members)
        html += markup("<tr><td>{}</td><td><b>{}</b></td><td>{}</td><td>{}</td><td>{}</td></tr>",
                       line.agreement.agrees() ? "✓" : "✗", line.member, line.system, line.agreement.words, line.fit);
    return pageOf("Coordinates of " + sheet.project, kSheetStyle, html + markup("</table>"));
}

} // namespace wendrix::coordinates
