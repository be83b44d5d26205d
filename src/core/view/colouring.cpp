#include "core/view/colouring.h"

#include "core/base/text.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <functional>
#include <unordered_map>

namespace wendrix::view {

namespace {

// Clay and pigment tones that stay apart for colour-blind people too, by lightness as much as by hue.
constexpr const char* kPalette[] = {"#5F95A2", "#D8A868", "#9580AE", "#AEBB7C", "#C67F79", "#86A6CB",
                                    "#E2CA8C", "#79A688", "#BF93AC", "#A8978A", "#BCD5CD", "#74809A"};
constexpr std::size_t kPaletteSize = std::size(kPalette);
constexpr Colour kOthers{0.62f, 0.62f, 0.60f, 1}, kNothing{0.90f, 0.89f, 0.86f, 1};

struct Value {
    std::string words; ///< empty: none
    std::optional<double> number;
};

std::optional<double> numberIn(const std::string& text)
{
    double value = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
    return code == std::errc{} && end == text.data() + text.size() && std::isfinite(value) ? std::optional(value)
                                                                                           : std::nullopt;
}

Value propertyOf(const ifc::Model& model, const ifc::Element& e, const ColourRule& rule)
{
    for (const ifc::PropertySet& set : model.properties(e))
        if (set.name == rule.propertySet)
            for (const ifc::Property& p : set.properties)
                if (p.name == rule.property)
                    return {p.value + (p.unit.empty() || p.value.empty() ? "" : " " + p.unit), numberIn(p.value)};
    return {};
}

Value valueOf(const ifc::Model& model, const ifc::Element& e, const ColourRule& rule)
{
    switch (rule.by) {
    case ColourBy::Storey:
        return {e.storey == ifc::kNoStorey ? "" : model.storeys()[static_cast<std::size_t>(e.storey)].name, {}};
    case ColourBy::System:
        return {model.text(e.system), {}};
    case ColourBy::Class:
        return {classInWords(model.className(e)), {}};
    case ColourBy::Material:
        return {model.text(e.material), {}};
    case ColourBy::Property:
        return propertyOf(model, e, rule);
    default:
        return {};
    }
}

/// The colour that covers most of an element's surface, as its file says; nothing where it says none.
std::optional<Colour> ownColour(const geometry::MemberGeometry& geometry, const geometry::ElementShape& element)
{
    std::vector<std::pair<ifc::SurfaceColour, double>> areas;
    const auto add = [&](const std::optional<ifc::SurfaceColour>& colour, double area) {
        if (!colour)
            return;
        for (auto& [known, sum] : areas)
            if (known == *colour) {
                sum += area;
                return;
            }
        areas.emplace_back(*colour, area);
    };
    for (const geometry::PlacedShape& placed : element.placed) {
        const geometry::Shape& shape = geometry.shapes()[placed.shape];
        if (shape.colours.size() <= 1) {
            const auto own = shape.colours.empty() ? std::nullopt : shape.colours[0].colour;
            add(own ? own : placed.colour, shape.area);
            continue;
        }
        for (std::size_t r = 0; r < shape.colours.size(); ++r) {
            const std::size_t last =
                r + 1 < shape.colours.size() ? shape.colours[r + 1].firstTriangle : shape.mesh.triangles.size();
            double twice = 0;
            for (std::size_t t = shape.colours[r].firstTriangle; t < last; ++t) {
                const auto c = shape.mesh.corners(t);
                twice += length(cross(c[1] - c[0], c[2] - c[0]));
            }
            add(shape.colours[r].colour ? shape.colours[r].colour : placed.colour, twice / 2);
        }
    }
    const auto most =
        std::max_element(areas.begin(), areas.end(), [](const auto& a, const auto& b) { return a.second < b.second; });
    if (most == areas.end())
        return {};
    const ifc::SurfaceColour& c = most->first;
    return Colour{static_cast<float>(c.red), static_cast<float>(c.green), static_cast<float>(c.blue),
                  static_cast<float>(std::clamp(1 - c.transparency, 0.25, 1.0))};
}

Colour mixed(Colour a, Colour b, float f)
{
    return {a.red + f * (b.red - a.red), a.green + f * (b.green - a.green), a.blue + f * (b.blue - a.blue), 1};
}

using Counts = std::vector<std::pair<std::string, std::size_t>>;

/// Numbers of many values in equal steps.
std::vector<LegendLine> steps(double low, double high, const std::string& unit)
{
    constexpr int kSteps = 6;
    std::vector<LegendLine> lines;
    const Colour pale = colourOf("#E9D9A8"), dark = colourOf("#23485A");
    for (int i = 0; i < kSteps; ++i) {
        const double from = low + (high - low) * i / kSteps, to = low + (high - low) * (i + 1) / kSteps;
        lines.push_back(
            {plainNumber(std::round(from * 1000) / 1000) + " to " + plainNumber(std::round(to * 1000) / 1000) + unit,
             mixed(pale, dark, static_cast<float>(i) / (kSteps - 1)), 0});
    }
    return lines;
}

/// Elements by the first of some sets that picks them.
Colouring colouringBySets(const ColourRule& rule, std::span<const federation::Member> members,
                          const std::function<bool(std::size_t)>& isCounted)
{
    Colouring result;
    for (const federation::Member& m : members)
        result.colours.emplace_back(m.model->elements().size(), kNothing);
    const sets::Elements elements(members);
    for (std::size_t k = 0; k < rule.sets.size(); ++k) {
        const Colour colour = k < kPaletteSize ? colourOf(kPalette[k]) : kOthers;
        LegendLine& line = result.legend.emplace_back(LegendLine{rule.sets[k], colour, 0});
        const sets::Parsed parsed = sets::parse(rule.sets[k]);
        if (!parsed.expression)
            continue;
        const auto answer =
            elements.in(*parsed.expression, rule.knowledge != nullptr ? *rule.knowledge : sets::Knowledge{});
        for (std::size_t m = 0; m < members.size(); ++m)
            for (std::size_t e = 0; e < answer.picked[m].size(); ++e)
                if (answer.picked[m][e] != 0 && result.colours[m][e] == kNothing) {
                    result.colours[m][e] = colour;
                    line.count += isCounted(m) ? 1 : 0;
                }
    }
    std::size_t others = 0;
    for (std::size_t m = 0; m < members.size(); ++m)
        if (isCounted(m))
            others +=
                static_cast<std::size_t>(std::count(result.colours[m].begin(), result.colours[m].end(), kNothing));
    if (others > 0)
        result.legend.push_back({"in none of them", kNothing, others});
    return result;
}

} // namespace

std::size_t paletteSize() { return kPaletteSize; }

Colouring colouringBy(const ColourRule& rule, std::span<const federation::Member> members,
                      std::span<const MemberLook> looks)
{
    Colouring result;
    result.colours.resize(members.size());
    if (rule.by == ColourBy::Discipline)
        return result;
    const auto isCounted = [&](std::size_t m) { return looks[m].isShown && !looks[m].isOnlyPainted; };
    if (rule.by == ColourBy::Sets)
        return colouringBySets(rule, members, isCounted);
    if (rule.by == ColourBy::Uniform || rule.by == ColourBy::Own) {
        std::size_t without = 0;
        for (std::size_t m = 0; m < members.size(); ++m) {
            const auto& elements = members[m].geometry->elements();
            result.colours[m].resize(elements.size(), looks[m].colour);
            if (rule.by == ColourBy::Uniform)
                continue;
            for (std::size_t e = 0; e < elements.size(); ++e) {
                const auto own = ownColour(*members[m].geometry, elements[e]);
                result.colours[m][e] = own.value_or(kNothing);
                without += own || !isCounted(m) ? 0 : 1;
            }
        }
        if (without > 0)
            result.legend.push_back({"no colour in the file", kNothing, without});
        return result;
    }

    std::vector<std::vector<Value>> values(members.size());
    std::unordered_map<std::string, std::size_t> counts;
    std::size_t nothing = 0, numbers = 0, all = 0;
    double low = std::numeric_limits<double>::max(), high = -low;
    for (std::size_t m = 0; m < members.size(); ++m)
        for (const ifc::Element& e : members[m].model->elements()) {
            values[m].push_back(valueOf(*members[m].model, e, rule));
            const Value& v = values[m].back();
            if (!isCounted(m))
                continue;
            if (v.words.empty()) {
                ++nothing;
                continue;
            }
            ++all;
            ++counts[v.words];
            if (v.number) {
                ++numbers;
                low = std::min(low, *v.number);
                high = std::max(high, *v.number);
            }
        }
    const bool isStepped = numbers == all && counts.size() > kPaletteSize && high > low;
    std::unordered_map<std::string, std::size_t> lineOf;
    if (isStepped) {
        const std::string& any = counts.begin()->first;
        const std::size_t blank = any.find(' ');
        result.legend = steps(low, high, blank == std::string::npos ? "" : any.substr(blank));
    } else {
        Counts sorted(counts.begin(), counts.end());
        // Storeys stand in a legend as in the building, the topmost first.
        std::unordered_map<std::string, double> heights;
        if (rule.by == ColourBy::Storey)
            for (const federation::Member& member : members)
                for (const ifc::Storey& s : member.model->storeys())
                    heights.try_emplace(s.name, s.height.value);
        std::sort(sorted.begin(), sorted.end(), [&](const auto& a, const auto& b) {
            if (const double x = heights[a.first], y = heights[b.first]; x != y)
                return x > y;
            return a.second != b.second ? a.second > b.second : a.first < b.first;
        });
        for (std::size_t i = 0; i < sorted.size(); ++i) {
            if (i < kPaletteSize)
                result.legend.push_back({sorted[i].first, colourOf(kPalette[i]), 0});
            else if (i == kPaletteSize)
                result.legend.push_back({"others", kOthers, 0});
            lineOf[sorted[i].first] = std::min(i, kPaletteSize);
        }
    }
    for (std::size_t m = 0; m < members.size(); ++m)
        for (const Value& v : values[m]) {
            Colour colour = kNothing;
            if (!v.words.empty()) {
                std::size_t line = 0;
                if (isStepped) {
                    const double share =
                        (v.number.value_or(low) - low) / (high - low) * static_cast<double>(result.legend.size());
                    line = std::min(result.legend.size() - 1, static_cast<std::size_t>(std::max(0.0, share)));
                } else if (const auto found = lineOf.find(v.words); found != lineOf.end()) {
                    line = found->second;
                } else {
                    line = std::min(kPaletteSize, result.legend.size()); // only in a member that is not shown
                }
                if (line < result.legend.size()) {
                    colour = result.legend[line].colour;
                    result.legend[line].count += isCounted(m) ? 1 : 0;
                }
            }
            result.colours[m].push_back(colour);
        }
    if (nothing > 0)
        result.legend.push_back({"nothing said", kNothing, nothing});
    return result;
}

} // namespace wendrix::view
