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
    std::string html =
        "<!DOCTYPE html><html lang=\"en\"><head><meta charset=\"utf-8\"><title>Coordinates of " +
        escapedForHtml(sheet.project) +
        "</title><style>body{font-family:'Public Sans',sans-serif;font-size:10pt;color:#1F2B30;margin:8mm}"
        "h1{font-size:15pt}h2{font-size:10.5pt;color:#5F6B70;margin-top:12px}table{border-collapse:collapse}"
        "td,th{padding:2px 8px;text-align:left;vertical-align:top}</style></head><body>";
    html += "<h1>Coordinates of " + escapedForHtml(sheet.project) + "</h1><p>As " + escapedForHtml(sheet.from) +
            " says. " + escapedForHtml(sheet.person) + ", " + escapedForHtml(timeInWords(sheet.time)) + ".</p><table>";
    for (const auto& [what, value] : saidInWords(sheet.place.declared()))
        html += "<tr><td>" + escapedForHtml(what) + "</td><td align=\"right\"><b>" + escapedForHtml(value) +
                "</b></td></tr>";
    html += "</table><h2>Does every member agree?</h2><table><tr><th></th><th></th><th>Projected system</th>"
            "<th>By its own declaration</th><th>Fit</th></tr>";
    for (const PlaceSheet::Line& line : sheet.members)
        html += std::string("<tr><td>") + (line.agreement.agrees() ? "✓" : "✗") + "</td><td><b>" +
                escapedForHtml(line.member) + "</b></td><td>" + escapedForHtml(line.system) + "</td><td>" +
                escapedForHtml(line.agreement.words) + "</td><td>" + escapedForHtml(line.fit) + "</td></tr>";
    return html + "</table></body></html>\n";
}

} // namespace wendrix::coordinates
