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

Markup row(const std::string& name, const std::string& value, const std::string& now)
{
    return markup("<tr><td>{}</td><td align=\"right\"><b>{}</b></td><td align=\"right\">{}</td></tr>", name, value,
                  now);
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
    return words + ".";
}

/// What the member's export should declare to stand where the reference does, beside what it declares now; and how far
/// it is to be turned and moved.
Markup valuesOf(const Sheet& sheet)
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
    Markup html =
        markup("<tr><th></th><th align=\"right\">to type in</th><th align=\"right\">in the file now</th></tr>");
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

Markup planOf(const Sheet& sheet)
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
    Markup svg = markup("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{:.0f}\" height=\"{:.0f}\" viewBox=\"0 0 "
                        "{:.0f} {:.0f}\" font-family=\"sans-serif\" font-size=\"11\">",
                        kWide, high, kWide, high);
    for (const ifc::Grid& grid : sheet.referenceModel->grids())
        for (const ifc::GridAxis& axis : grid.axes) {
            std::string points;
            for (const Point3 p : axis.points(Metres{0.05})) {
                const auto [x, y] = at(p);
                points += fmt::format("{}{:.1f},{:.1f}", points.empty() ? "" : " ", x, y);
            }
            const auto [x, y] = at(axis.start);
            svg += markup("<polyline fill=\"none\" stroke=\"#9AA4A8\" stroke-width=\"0.8\" points=\"{}\"/>"
                          "<circle cx=\"{:.1f}\" cy=\"{:.1f}\" r=\"9\" fill=\"#FFFFFF\" stroke=\"#5F6B70\"/>"
                          "<text x=\"{:.1f}\" y=\"{:.1f}\" text-anchor=\"middle\" fill=\"#1F2B30\">{}</text>",
                          points, x, y, x, y + 4, axis.tag.substr(0, 6));
        }
    auto residuals = federation::residualsOf(*sheet.referenceModel, *sheet.memberModel, sheet.fit);
    std::stable_sort(residuals.begin(), residuals.end(),
                     [](const auto& a, const auto& b) { return a.distance > b.distance; });
    for (std::size_t i = 0; i < residuals.size(); ++i) {
        const federation::Residual& r = residuals[i];
        const auto [x, y] = at(r.reference);
        const bool isOff = r.distance.value > kStandsOff;
        const double radius = kSmallest + (kLargest - kSmallest) * std::min(1.0, r.distance.value / kFull);
        svg += markup("<circle cx=\"{:.1f}\" cy=\"{:.1f}\" r=\"{:.1f}\" fill=\"{}\"/>", x, y, radius,
                      isOff ? "#C8501E" : "#2B7A84");
        if (isOff && i < kNamed)
            svg += markup("<text x=\"{:.1f}\" y=\"{:.1f}\" fill=\"#C8501E\">{:.1f} mm</text>", x + radius + 2, y - 4,
                          toMillimetres(r.distance));
    }
    return svg + markup("</svg>");
}

} // namespace

std::string planSvg(const Sheet& sheet) { return planOf(sheet).text(); }

std::string toHtml(const Sheet& sheet, const std::string& planImage)
{
    Markup html = markup("<h1>Coordinates of {}</h1><p>{}, against {}. {}, {}.</p>", sheet.member, sheet.project,
                         sheet.reference, sheet.person, timeInWords(sheet.time));
    html += markup("<h2>Why it does not stand right</h2>");
    bool isAny = false;
    for (const Cause& cause : sheet.causes)
        if (cause.confidence >= kLikelyEnough) {
            html += markup("<p><b>{}</b> {}</p>", cause.sentence, cause.remedy);
            isAny = true;
        }
    if (!isAny)
        html += markup("<p>It stands right; nothing is to be mended.</p>");
    html += markup("<h2>Values to type in</h2><table>{}</table><h2>What the fit leaves, {}</h2>", valuesOf(sheet),
                   sheet.method);
    if (sheet.left.empty()) {
        html += markup("<p>Nothing that both have checks it.</p>");
    } else {
        const Markup plan = planOf(sheet);
        if (!planImage.empty() && !plan.isEmpty())
            html += markup("<p><img src=\"{}\"></p>", planImage);
        else
            html += plan;
        html += markup("<p>{}</p>", leftInWords(worstFirst(sheet.left)));
    }
    return pageOf("Coordinates of " + sheet.member, kSheetStyle, html);
}

} // namespace wendrix::coordinates
