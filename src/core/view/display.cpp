#include "core/view/display.h"

#include "core/base/text.h"

#include <charconv>

namespace wendrix::view {

std::optional<ElementKey> find(std::span<const federation::Member> members, const ElementRef& ref)
{
    std::optional<ElementKey> other;
    for (std::uint32_t m = 0; m < members.size(); ++m) {
        if (const auto element = members[m].find(ref))
            return ElementKey{m, *element};
        if (members[m].disciplineId == ref.discipline && !other)
            if (const auto element = members[m].model->find(ref.guid, ref.ordinal))
                other = ElementKey{m, *element};
    }
    return other;
}


namespace {

constexpr float kSpaceAlpha = 0.30f;
constexpr Colour kSelected{0.17f, 0.48f, 0.52f, 1};

/// Tones within one discipline, so that a wall reads apart from its window and floor.
Colour toned(Colour c, std::string_view ifcClass)
{
    const auto mix = [&](float to, float share) {
        return Colour{c.red + (to - c.red) * share, c.green + (to - c.green) * share, c.blue + (to - c.blue) * share, 1};
    };
    if (ifcClass == "IfcWindow" || ifcClass == "IfcPlate" || ifcClass == "IfcCurtainWall") {
        const Colour pale = mix(1.0f, 0.55f);
        return {pale.red * 0.90f, pale.green * 0.98f, pale.blue, 1};
    }
    if (ifcClass == "IfcDoor" || ifcClass == "IfcFurniture" || ifcClass == "IfcFurnishingElement")
        return mix(0.25f, 0.18f);
    if (ifcClass == "IfcSlab" || ifcClass == "IfcCovering" || ifcClass == "IfcRoof" || ifcClass == "IfcFooting")
        return mix(1.0f, 0.38f);
    if (ifcClass == "IfcWall" || ifcClass == "IfcWallStandardCase")
        return mix(1.0f, 0.45f);
    return mix(1.0f, 0.12f);
}

} // namespace

bool isUnbuilt(const ifc::Model& model, const ifc::Element& e)
{
    const ifc::Schema& schema = model.source().schema();
    return schema.isA(e.type, "IfcSpatialStructureElement") || schema.isA(e.type, "IfcSpatialElement") ||
           schema.isA(e.type, "IfcVirtualElement");
}

Colour colourOf(const std::string& hex, float alpha)
{
    unsigned value = 0x808080;
    if (hex.size() == 7)
        std::from_chars(hex.data() + 1, hex.data() + 7, value, 16);
    return {static_cast<float>(value >> 16 & 255) / 255, static_cast<float>(value >> 8 & 255) / 255,
            static_cast<float>(value & 255) / 255, alpha};
}

void Display::hideSelected()
{
    hidden.insert(selected.begin(), selected.end());
    if (only)
        for (const ElementKey& key : selected)
            only->erase(key);
    selected.clear();
}

void Display::showOnlySelected()
{
    if (!selected.empty())
        only = selected;
}

void Display::bringAllBack()
{
    isRestFaded = false;
    hidden.clear();
    only.reset();
}

std::string Display::inWords() const
{
    if (only)
        return "only " + counted(only->size(), "element", "elements") + " shown";
    if (!hidden.empty())
        return counted(hidden.size(), "element", "elements") + " hidden";
    return "";
}

std::vector<std::vector<Colour>> coloursOf(const Display& display, std::span<const federation::Member> members,
                                           std::span<const MemberLook> looks,
                                           const std::vector<std::vector<Colour>>& base)
{
    std::vector<std::vector<Colour>> all(members.size());
    for (std::uint32_t m = 0; m < members.size(); ++m) {
        const auto& elements = members[m].model->elements();
        all[m].resize(elements.size());
        for (ifc::ElementIndex e = 0; e < elements.size(); ++e) {
            const ElementKey key{m, e};
            Colour& colour = all[m][e];
            const auto painted = display.painted.find(key);
            const bool isPainted = painted != display.painted.end();
            colour.alpha = 0;
            if (!looks[m].isShown || display.hidden.contains(key) || (display.only && !display.only->contains(key)))
                continue;
            const bool isVolume = isUnbuilt(*members[m].model, elements[e]);
            if (!isPainted && (looks[m].isOnlyPainted || (isVolume && !looks[m].areSpacesShown)))
                continue;
            if (isPainted) {
                colour = painted->second;
            } else {
                const bool hasRule = m < base.size() && !base[m].empty();
                colour = hasRule ? base[m][e] : toned(looks[m].colour, members[m].model->className(elements[e]));
                colour.alpha = display.isRestFaded ? kFadedAlpha : isVolume ? kSpaceAlpha : colour.alpha * looks[m].alpha;
            }
            if (display.selected.contains(key) && !isPainted)
                colour = kSelected;
        }
    }
    return all;
}

} // namespace wendrix::view
