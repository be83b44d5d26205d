#include "core/coordinates/sheet.h"

#include "core/base/html.h"
#include "core/base/text.h"
#include "core/base/who_and_when.h"
#include "core/coordinates/crs.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace wendrix::coordinates {

namespace {

constexpr double kSure = 0.5;         // below, a cause is guessed beside a better one
constexpr std::size_t kMostLeft = 12; // more do not fit on the page
constexpr std::size_t kNamed = 3;

std::string metres(double v) { return fmt::format("{:.3f} m", std::round(v * 1000) / 1000 + 0.0); }
std::string degrees(double v) { return fmt::format("{:.6f}°", std::round(v * 1e6) / 1e6 + 0.0); }

std::string row(const std::string& name, const std::string& value)
{
    return "<tr><td>" + escapedForHtml(name) + "</td><td align=\"right\"><b>" + escapedForHtml(value) +
           "</b></td></tr>";
}

std::vector<Left> worstFirst(std::vector<Left> left)
{
    std::stable_sort(left.begin(), left.end(), [](const Left& a, const Left& b) { return a.distance > b.distance; });
    return left;
}

/// What the member's export should declare to stand where the reference does.
std::string valuesOf(const Sheet& sheet)
{
    const ifc::Georeference& g = sheet.referenceModel->georeference();
    std::string html;
    if (g.crs) {
        const auto crs = findCrs(*g.crs);
        html += row("Projected system", crs ? crs->code + ", " + crs->name : *g.crs);
    }
    if (g.eastings)
        html += row("Eastings of the shared origin", metres(*g.eastings));
    if (g.northings)
        html += row("Northings", metres(*g.northings));
    if (g.height)
        html += row("Height", metres(*g.height));
    if (g.rotation)
        html += row("Turn of the X axis from grid east, counter-clockwise", degrees(toDegrees(*g.rotation)));
    if (g.latitudeDegrees)
        html += row("Latitude of the site", fmt::format("{:.8f}°", *g.latitudeDegrees));
    if (g.longitudeDegrees)
        html += row("Longitude", fmt::format("{:.8f}°", *g.longitudeDegrees));
    if (g.siteElevation)
        html += row("Elevation of the site", metres(g.siteElevation->value));
    if (g.trueNorth)
        html += row("True north from the Y axis, counter-clockwise", degrees(toDegrees(*g.trueNorth)));
    html += row("Turn the model about its own origin, counter-clockwise", degrees(toDegrees(sheet.fit.rotation)));
    const Vector3 t = sheet.fit.translation;
    html += row("Then move it in X", metres(t.x)) + row("in Y", metres(t.y)) + row("in Z", metres(t.z));
    if (std::abs(sheet.fit.scale - 1) > 1e-12)
        html += row("First multiply its lengths by", fmt::format("{:g}", sheet.fit.scale));
    return html;
}

} // namespace

std::string planSvg(const Sheet& sheet)
{
    constexpr double kWide = 420, kMostHigh = 300, kMargin = 34, kLargest = 9, kSmallest = 2,
                     kFull = 0.05; // 50 mm: largest
    Box3 box;
    for (const ifc::Grid& grid : sheet.referenceModel->grids())
        for (const ifc::GridAxis& axis : grid.axes)
            for (const Point3 p : axis.points(Metres{0.05}))
                box.add(p);
    if (box.isEmpty())
        return {};
    const Vector3 size = box.size();
    const double scale =
        std::min((kWide - 2 * kMargin) / std::max(size.x, 1e-3), (kMostHigh - 2 * kMargin) / std::max(size.y, 1e-3));
    const double high = size.y * scale + 2 * kMargin;
    const auto at = [&](Point3 p) {
        return std::pair{kMargin + (p.x - box.min.x) * scale + (kWide - 2 * kMargin - size.x * scale) / 2,
                         high - kMargin - (p.y - box.min.y) * scale};
    };
    std::string svg =
        fmt::format("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0:.0f}\" height=\"{1:.0f}\" viewBox=\"0 0 "
                    "{0:.0f} {1:.0f}\" font-family=\"sans-serif\" font-size=\"11\">",
                    kWide, high);
    for (const ifc::Grid& grid : sheet.referenceModel->grids())
        for (const ifc::GridAxis& axis : grid.axes) {
            std::string points;
            for (const Point3 p : axis.points(Metres{0.05})) {
                const auto [x, y] = at(p);
                points += fmt::format("{}{:.1f},{:.1f}", points.empty() ? "" : " ", x, y);
            }
            const auto [x, y] = at(axis.start);
            svg += "<polyline fill=\"none\" stroke=\"#9AA4A8\" stroke-width=\"0.8\" points=\"" + points + "\"/>" +
                   fmt::format("<circle cx=\"{0:.1f}\" cy=\"{1:.1f}\" r=\"9\" fill=\"#FFFFFF\" "
                               "stroke=\"#5F6B70\"/><text x=\"{0:.1f}\" "
                               "y=\"{2:.1f}\" text-anchor=\"middle\" fill=\"#1F2B30\">{3}</text>",
                               x, y, y + 4, escapedForHtml(axis.tag.substr(0, 6)));
        }
    auto residuals = federation::residualsOf(*sheet.referenceModel, *sheet.memberModel, sheet.fit);
    std::stable_sort(residuals.begin(), residuals.end(),
                     [](const auto& a, const auto& b) { return a.distance > b.distance; });
    for (std::size_t i = 0; i < residuals.size(); ++i) {
        const federation::Residual& r = residuals[i];
        const auto [x, y] = at(r.reference);
        const bool isOff = r.distance.value > 0.005;
        const double radius = kSmallest + (kLargest - kSmallest) * std::min(1.0, r.distance.value / kFull);
        svg += fmt::format("<circle cx=\"{:.1f}\" cy=\"{:.1f}\" r=\"{:.1f}\" fill=\"{}\"/>", x, y, radius,
                           isOff ? "#C8501E" : "#2B7A84");
        if (isOff && i < kNamed)
            svg += fmt::format("<text x=\"{:.1f}\" y=\"{:.1f}\" fill=\"#C8501E\">{:.1f} mm</text>", x + radius + 2,
                               y - 4, toMillimetres(r.distance));
    }
    return svg + "</svg>";
}

std::string toHtml(const Sheet& sheet, const std::string& planImage)
{
    std::string html =
        "<!DOCTYPE html><html lang=\"en\"><head><meta charset=\"utf-8\"><title>Coordinates of " +
        escapedForHtml(sheet.member) +
        "</title><style>body{font-family:'Public Sans',sans-serif;font-size:10pt;color:#1F2B30;margin:14mm}"
        "h1{font-size:15pt}h2{font-size:11pt;color:#5F6B70}table{border-collapse:collapse}"
        "td,th{padding:2px 8px;text-align:left}</style></head><body>";
    html += "<h1>Coordinates of " + escapedForHtml(sheet.member) + "</h1><p>" + escapedForHtml(sheet.project) +
            ", against " + escapedForHtml(sheet.reference) + ". " + escapedForHtml(sheet.person) + ", " +
            escapedForHtml(timeInWords(sheet.time)) + ".</p>";
    html += "<h2>Why it does not stand right</h2>";
    bool isAny = false;
    for (const Cause& cause : sheet.causes)
        if (cause.confidence >= kSure) {
            html += "<p><b>" + escapedForHtml(cause.sentence) + "</b> " + escapedForHtml(cause.remedy) + "</p>";
            isAny = true;
        }
    if (!isAny)
        html += "<p>It stands right; nothing is to be mended.</p>";
    html += "<h2>Values to type in</h2><table>" + valuesOf(sheet) + "</table>";
    const auto left = worstFirst(sheet.left);
    html += "<h2>What the fit leaves, " + escapedForHtml(sheet.method) + "</h2>";
    if (left.empty()) {
        html += "<p>Nothing that both have checks it.</p>";
    } else {
        const std::string svg = planSvg(sheet);
        if (!planImage.empty() && !svg.empty())
            html += "<p><img src=\"" + escapedForHtml(planImage) + "\"></p>";
        else
            html += svg;
        html += "<table>";
        for (std::size_t i = 0; i < std::min(left.size(), kMostLeft); ++i)
            html += row(left[i].at, fmt::format("{:.1f} mm", toMillimetres(left[i].distance)));
        html += "</table>";
        if (left.size() > kMostLeft)
            html += fmt::format("<p>The worst {} of {} places.</p>", kMostLeft, left.size());
    }
    html += "<h2>What the two files declare</h2><table><tr><th></th><th>" + escapedForHtml(sheet.reference) +
            "</th><th>" + escapedForHtml(sheet.member) + "</th></tr>";
    for (const Declared& d : sheet.declared)
        html += "<tr><td>" + escapedForHtml(d.what) + "</td><td>" + escapedForHtml(d.reference) + "</td><td>" +
                (d.difference.empty() ? "" : "≠ ") + escapedForHtml(d.moving) + "</td></tr>";
    return html + "</table></body></html>\n";
}

} // namespace wendrix::coordinates
