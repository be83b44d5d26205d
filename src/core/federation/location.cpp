#include "core/federation/location.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace wendrix::federation {

namespace {

constexpr double kOnAxisMetres = 0.6; // half a usual column with its cladding: people call that "at 4"

} // namespace

Locator::Locator(const ifc::Model& reference) : storeys_(reference.storeys())
{
    std::map<char, std::vector<Line>> families;
    if (!reference.grids().empty())
        for (const ifc::GridAxis& axis : reference.grids()[0].axes) {
            const Vector2 along{axis.end.x - axis.start.x, axis.end.y - axis.start.y};
            const double l = length(along);
            if (l > 0 && !axis.tag.empty() && !axis.arc) // bays lie between straight axes
                families[axis.family].push_back({axis.tag, {axis.start.x, axis.start.y}, {-along.y / l, along.x / l}});
        }
    for (auto& [family, lines] : families) {
        const Vector2 normal = lines[0].normal;
        for (Line& line : lines)
            if (dot(line.normal, normal) < 0) // axes may be drawn either way
                line.normal = -1.0 * line.normal;
        std::sort(lines.begin(), lines.end(),
                  [&](const Line& a, const Line& b) { return dot(a.at, normal) < dot(b.at, normal); });
        // Counted upwards, whichever way the axes were drawn: "4-5", never "5-4".
        const std::string &first = lines.front().tag, &last = lines.back().tag;
        if (first.size() > last.size() || (first.size() == last.size() && first > last)) {
            std::reverse(lines.begin(), lines.end());
            for (Line& line : lines)
                line.normal = -1.0 * line.normal;
        }
        families_.push_back(std::move(lines));
    }
    std::stable_sort(families_.begin(), families_.end(), [](const auto& a, const auto& b) {
        return std::isalpha(static_cast<unsigned char>(a[0].tag[0])) >
               std::isalpha(static_cast<unsigned char>(b[0].tag[0]));
    });
}

ifc::StoreyIndex Locator::storeyAt(Metres height) const
{
    ifc::StoreyIndex found = ifc::kNoStorey;
    for (std::size_t i = 0; i < storeys_.size(); ++i)
        if (storeys_[i].height.value <= height.value + 1e-6)
            found = static_cast<ifc::StoreyIndex>(i);
    return found;
}

Location Locator::at(Point3 place) const
{
    Location location;
    if (const auto storey = storeyAt(Metres{place.z}); storey != ifc::kNoStorey)
        location.storey = storeys_[static_cast<std::size_t>(storey)].name;
    else if (!storeys_.empty())
        location.storey = "below " + storeys_[0].name;
    for (const auto& lines : families_) {
        const Line *before = nullptr, *after = nullptr, *on = nullptr;
        for (const Line& line : lines) {
            const double distance = dot(Point2{place.x, place.y} - line.at, line.normal);
            if (std::abs(distance) <= kOnAxisMetres)
                on = &line;
            if (distance >= 0)
                before = &line;
            else if (after == nullptr)
                after = &line;
        }
        std::string words;
        if (on != nullptr)
            words = on->tag;
        else if (before != nullptr && after != nullptr)
            words = before->tag + "-" + after->tag;
        else if (before != nullptr)
            words = "past " + before->tag;
        else if (after != nullptr)
            words = "before " + after->tag;
        location.bay += (location.bay.empty() ? "" : " / ") + words;
    }
    return location;
}

} // namespace wendrix::federation
