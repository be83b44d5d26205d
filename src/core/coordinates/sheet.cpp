#include "core/coordinates/sheet.h"

#include "core/base/html.h"
#include "core/base/text.h"
#include "core/base/who_and_when.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

namespace wendrix::coordinates {

namespace {

constexpr std::size_t kMostLeft = 6; // more do not fit on the page
constexpr double kStandsOff = 0.005; // metres: less is the drawing's
constexpr std::size_t kNamed = 3;

std::string metres(double v) { return fmt::format("{:.3f} m", std::round(v * 1000) / 1000 + 0.0); }
std::string degrees(double v) { return fmt::format("{:.6f}°", std::round(v * 1e6) / 1e6 + 0.0); }

std::string row(const std::string& name, const std::string& value, const std::string& now)
{
    return "<tr><td>" + escapedForHtml(name) + "</td><td align=\"right\"><b>" + escapedForHtml(value) +
           "</b></td><td align=\"right\">" + escapedForHtml(now) + "</td></tr>";
}

std::vector<Left> worstFirst(std::vector<Left> left)
{
    std::stable_sort(left.begin(), left.end(), [](const Left& a, const Left& b) { return a.distance > b.distance; });
    return left;
}

/// "33 places: 0.4 mm in the mean, 3.1 mm worst at C/4, then D/4 2.9 mm".
std::string leftInWords(const std::vector<Left>& worstFirst)
{
    double sum = 0;
    for (const Left& one : worstFirst)
        sum += one.distance.value;
    std::string words = fmt::format(
        "{}: {:.1f} mm in the mean, {:.1f} mm worst at {}", counted(worstFirst.size(), "place", "places"),
        1000 * sum / static_cast<double>(worstFirst.size()), toMillimetres(worstFirst[0].distance), worstFirst[0].at);
    for (std::size_t i = 1; i < std::min(worstFirst.size(), kMostLeft) && worstFirst[i].distance.value > kStandsOff;
         ++i)
        words += fmt::format("{} {} {:.1f} mm", i == 1 ? ", then" : ",", worstFirst[i].at,
                             toMillimetres(worstFirst[i].distance));
    return escapedForHtml(words + ".");
}

/// What the member's export should declare to stand where the reference does, beside what it declares now; and how far
/// it is to be turned and moved.
std::string valuesOf(const Sheet& sheet)
{
    static const std::set<std::string> typed{"Site latitude",
                                             "Site longitude",
                                             "Site elevation",
                                             "Map easting",
                                             "Map northing",
                                             "Map height",
                                             "Turn of +X from grid east",
                                             "Projected system",
                                             "True north from +Y"};
    std::string html = "<tr><th></th><th align=\"right\">to type in</th><th align=\"right\">in the file now</th></tr>";
    for (const Declared& d : sheet.declared)
        if (typed.contains(d.what))
            html += row(d.what, d.reference, d.moving);
    const Vector3 t = sheet.fit.translation;
    if (std::abs(sheet.fit.scale - 1) > 1e-12)
        html += row("Multiply its lengths by", fmt::format("{:g}", sheet.fit.scale), "");
    html += row("Turn it about its own origin, counter-clockwise", degrees(toDegrees(sheet.fit.rotation)), "") +
            row("Then move it in X, Y, Z", metres(t.x) + ", " + metres(t.y) + ", " + metres(t.z), "");
    return html;
}

} // namespace

std::string planSvg(const Sheet& sheet)
{
    constexpr double kWide = 420, kMostHigh = 210, kMargin = 34, kLargest = 9, kSmallest = 2,
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
        const bool isOff = r.distance.value > kStandsOff;
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
        "</title><style>body{font-family:'Public Sans',sans-serif;font-size:10pt;color:#1F2B30;margin:8mm}"
        "h1{font-size:15pt}h2{font-size:10.5pt;color:#5F6B70;margin-top:12px}table{border-collapse:collapse}"
        "td,th{padding:1px 8px;text-align:left}</style></head><body>";
    html += "<h1>Coordinates of " + escapedForHtml(sheet.member) + "</h1><p>" + escapedForHtml(sheet.project) +
            ", against " + escapedForHtml(sheet.reference) + ". " + escapedForHtml(sheet.person) + ", " +
            escapedForHtml(timeInWords(sheet.time)) + ".</p>";
    html += "<h2>Why it does not stand right</h2>";
    bool isAny = false;
    for (const Cause& cause : sheet.causes)
        if (cause.confidence >= kLikelyEnough) {
            html += "<p><b>" + escapedForHtml(cause.sentence) + "</b> " + escapedForHtml(cause.remedy) + "</p>";
            isAny = true;
        }
    if (!isAny)
        html += "<p>It stands right; nothing is to be mended.</p>";
    html += "<h2>Values to type in</h2><table>" + valuesOf(sheet) + "</table>";
    html += "<h2>What the fit leaves, " + escapedForHtml(sheet.method) + "</h2>";
    if (sheet.left.empty()) {
        html += "<p>Nothing that both have checks it.</p>";
    } else {
        const std::string svg = planSvg(sheet);
        if (!planImage.empty() && !svg.empty())
            html += "<p><img src=\"" + escapedForHtml(planImage) + "\"></p>";
        else
            html += svg;
        html += "<p>" + leftInWords(worstFirst(sheet.left)) + "</p>";
    }
    return html + "</body></html>\n";
}

} // namespace wendrix::coordinates
