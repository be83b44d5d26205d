#include "core/view/viewpoint_look.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace wendrix::view {

namespace {

ElementRef refOf(std::span<const federation::Member> members, const ElementKey& key)
{
    return members[key.member].refOf(key.element);
}

/// "RRGGBB" or "AARRGGBB".
Colour colourFrom(const std::string& bcf)
{
    const bool hasAlpha = bcf.size() == 8;
    if (bcf.size() != 6 && !hasAlpha)
        return {1, 0.5f, 0, 1};
    const float alpha = hasAlpha ? static_cast<float>(std::strtol(bcf.substr(0, 2).c_str(), nullptr, 16)) / 255 : 1;
    return colourOf("#" + bcf.substr(bcf.size() - 6), alpha);
}

} // namespace

std::string bcfColour(const Colour& c)
{
    const auto part = [](float v) { return static_cast<int>(std::lround(std::clamp(v, 0.0f, 1.0f) * 255)); };
    return fmt::format("{:02X}{:02X}{:02X}{:02X}", part(c.alpha), part(c.red), part(c.green), part(c.blue));
}

StandingPicture standing(const issues::Bitmap& b, std::shared_ptr<const std::string> bytes, double widthToHeight)
{
    constexpr double kLeast = 1e-9;
    const auto unit = [](Vector3 v, Vector3 instead) { return length(v) < kLeast ? instead : normalised(v); };
    const Vector3 normal = unit(b.normal, {0, 0, 1});
    // Who looks along against the normal has what is right of them where up crosses it.
    const Vector3 upright = std::abs(normal.z) > 0.999 ? Vector3{0, 1, 0} : Vector3{0, 0, 1};
    const Vector3 right = unit(cross(unit(b.up, upright), normal), unit(cross(upright, normal), {1, 0, 0}));
    const Vector3 along = b.heightMetres * widthToHeight * right, up = b.heightMetres * cross(normal, right);
    return {std::move(bytes), b.location - 0.5 * along - 0.5 * up, along, up};
}

ViewpointLook lookOf(const issues::Viewpoint& v, std::span<const federation::Member> members)
{
    ViewpointLook look;
    const auto found = [&](const std::vector<ElementRef>& refs) {
        std::set<ElementKey> keys;
        for (const ElementRef& ref : refs) {
            if (const auto key = find(members, ref))
                keys.insert(*key);
            else if (std::find(look.missing.begin(), look.missing.end(), ref) == look.missing.end())
                look.missing.push_back(ref);
        }
        return keys;
    };
    look.selected = found(v.selection);
    std::set<ElementKey> exceptions = found(v.exceptions);
    if (v.saysVisibility && v.isDefaultVisible) {
        look.hidden = std::move(exceptions);
        for (const ElementKey& key : look.selected) // what is pointed at is seen
            look.hidden.erase(key);
    } else if (v.saysVisibility && !(exceptions.empty() && v.exceptions.empty() && look.selected.empty())) {
        exceptions.insert(look.selected.begin(), look.selected.end());
        look.only = std::move(exceptions);
    }
    for (const issues::Colouring& c : v.colouring)
        for (const ElementKey& key : found(c.elements))
            look.painted[key] = colourFrom(c.colour);
    look.cuts = fromClippingPlanes(v.planes);
    look.lines = v.lines;
    look.areSpacesShown = v.hints.spaces;
    for (const issues::ForeignName& name : v.foreign)
        if (name.guid.empty())
            look.notByGuid.push_back(name);
    return look;
}

issues::Viewpoint viewpointOf(const Display& display, const Cuts& cuts, const Camera& camera, double aspect,
                              std::span<const federation::Member> members)
{
    issues::Viewpoint v;
    v.camera = toViewpoint(camera, aspect);
    v.planes = toClippingPlanes(cuts);
    for (const ElementKey& key : display.selected)
        v.selection.push_back(refOf(members, key));
    std::set<ElementKey> hidden = display.hidden;
    std::size_t all = 0;
    for (const federation::Member& m : members)
        all += m.model->elements().size();
    if (display.only) {
        v.isDefaultVisible = false;
        for (const ElementKey& key : *display.only)
            if (!hidden.contains(key))
                v.exceptions.push_back(refOf(members, key));
    } else if (hidden.size() > all / 2) {
        v.isDefaultVisible = false;
        for (std::uint32_t m = 0; m < members.size(); ++m)
            for (ifc::ElementIndex e = 0; e < members[m].model->elements().size(); ++e)
                if (!hidden.contains({m, e}))
                    v.exceptions.push_back(members[m].refOf(e));
    } else {
        for (const ElementKey& key : hidden)
            v.exceptions.push_back(refOf(members, key));
    }
    std::map<std::string, std::vector<ElementRef>> byColour;
    for (const auto& [key, colour] : display.painted)
        byColour[bcfColour(colour)].push_back(refOf(members, key));
    for (auto& [colour, elements] : byColour)
        v.colouring.push_back({colour, std::move(elements)});
    return v;
}

} // namespace wendrix::view
