#include "core/view/display.h"

#include <algorithm>

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
        return Colour{c.red + (to - c.red) * share, c.green + (to - c.green) * share, c.blue + (to - c.blue) * share,
                      1};
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
    focus.reset();
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

namespace {

/// The part of a sorted set or map that is of one member.
template <class Keys>
struct OfMember {
    OfMember(const Keys& keys, std::uint32_t member)
        : first(keys.lower_bound(ElementKey{member, 0})), last(keys.lower_bound(ElementKey{member + 1, 0}))
    {
    }
    [[nodiscard]] auto begin() const { return first; }
    [[nodiscard]] auto end() const { return last; }
    [[nodiscard]] bool empty() const { return first == last; }
    typename Keys::const_iterator first, last;
};

/// What an element looks like while nothing is asked of it in particular; alpha 0 where it is not drawn then.
class Plain {
public:
    Plain(const federation::Member& member, const MemberLook& look, const std::vector<Colour>* base, float fadedAlpha)
        : member_(member), look_(look), base_(base), fadedAlpha_(fadedAlpha)
    {
        // Of each class once: a million elements have a few dozen.
        classes_.resize(member.model->source().schema().typeCount() + 1);
    }
    [[nodiscard]] Colour of(ifc::ElementIndex e)
    {
        const ifc::Element& element = member_.model->elements()[e];
        Class& own = classes_[element.type < 0 ? classes_.size() - 1 : static_cast<std::size_t>(element.type)];
        if (!own.isKnown)
            own = {toned(look_.colour, member_.model->className(element)), isUnbuilt(*member_.model, element), true};
        if (look_.isOnlyPainted || (own.isVolume && !look_.areSpacesShown))
            return {0, 0, 0, 0};
        Colour colour = base_ != nullptr ? (*base_)[e] : own.colour;
        colour.alpha = fadedAlpha_ < 1 ? fadedAlpha_ : own.isVolume ? kSpaceAlpha : colour.alpha * look_.alpha;
        return colour;
    }

private:
    struct Class {
        Colour colour;
        bool isVolume = false, isKnown = false;
    };
    const federation::Member& member_;
    const MemberLook& look_;
    const std::vector<Colour>* base_;
    float fadedAlpha_; ///< 1 where nothing is faded
    std::vector<Class> classes_;
};

} // namespace

namespace {

constexpr Colour kNothing{0, 0, 0, 0};

/// One element with all that is asked of it.
Colour colourNow(const Display& display, const ElementKey& key, const MemberLook& look, Plain& plain)
{
    const auto painted = display.painted.find(key);
    if (!look.isShown || display.hidden.contains(key) || (display.only && !display.only->contains(key)))
        return kNothing;
    if (painted != display.painted.end())
        return painted->second;
    Colour colour = plain.of(key.element);
    return colour.alpha > 0 && display.selected.contains(key) ? kSelected : colour;
}

float fadedAlphaOf(const Display& display) { return display.isRestFaded ? kFadedAlpha : 1; }

const std::vector<Colour>* baseOf(const std::vector<std::vector<Colour>>& base, std::size_t member)
{
    return member < base.size() && !base[member].empty() ? &base[member] : nullptr;
}

} // namespace

std::vector<std::vector<Colour>> coloursOf(const Display& display, std::span<const federation::Member> members,
                                           std::span<const MemberLook> looks,
                                           const std::vector<std::vector<Colour>>& base)
{
    std::vector<std::vector<Colour>> all(members.size());
    for (std::uint32_t m = 0; m < members.size(); ++m) {
        std::vector<Colour>& colours = all[m];
        const auto count = static_cast<ifc::ElementIndex>(members[m].model->elements().size());
        colours.assign(count, kNothing);
        if (!looks[m].isShown)
            continue;
        Plain plain(members[m], looks[m], baseOf(base, m), fadedAlphaOf(display));
        if (display.only)
            for (const ElementKey& key : OfMember(*display.only, m))
                colours[key.element] = plain.of(key.element);
        else
            for (ifc::ElementIndex e = 0; e < count; ++e)
                colours[e] = plain.of(e);
        for (const auto* keys : {&display.selected, &display.hidden})
            for (const ElementKey& key : OfMember(*keys, m))
                colours[key.element] = colourNow(display, key, looks[m], plain);
        for (const auto& [key, colour] : OfMember(display.painted, m))
            colours[key.element] = colourNow(display, key, looks[m], plain);
    }
    return all;
}

std::vector<ElementKey> updateColours(std::vector<std::vector<Colour>>& colours, const std::set<ElementKey>& touched,
                                      const Display& display, std::span<const federation::Member> members,
                                      std::span<const MemberLook> looks, const std::vector<std::vector<Colour>>& base)
{
    std::vector<ElementKey> changed;
    for (std::uint32_t m = 0; m < members.size(); ++m) {
        const auto own = OfMember(touched, m);
        if (own.empty() || !looks[m].isShown)
            continue;
        Plain plain(members[m], looks[m], baseOf(base, m), fadedAlphaOf(display));
        for (const ElementKey& key : own)
            if (const Colour colour = colourNow(display, key, looks[m], plain); colour != colours[m][key.element]) {
                colours[m][key.element] = colour;
                changed.push_back(key);
            }
    }
    return changed;
}

std::vector<std::pair<ElementKey, Colour>> coloursInFocusOf(const Display& display,
                                                            std::span<const federation::Member> members,
                                                            std::span<const MemberLook> looks,
                                                            const std::vector<std::vector<Colour>>& base)
{
    std::vector<ElementKey> shown;
    for (const auto& [key, colour] : display.painted)
        shown.push_back(key);
    if (display.focus)
        shown.insert(shown.end(), display.focus->around.begin(), display.focus->around.end());
    std::sort(shown.begin(), shown.end());
    shown.erase(std::unique(shown.begin(), shown.end()), shown.end());
    std::vector<std::pair<ElementKey, Colour>> colours;
    std::optional<Plain> plain;
    for (std::size_t i = 0; i < shown.size(); ++i) {
        const std::uint32_t m = shown[i].member;
        if (i == 0 || shown[i - 1].member != m)
            plain.emplace(members[m], looks[m], baseOf(base, m), kFadedAlpha);
        if (const Colour colour = colourNow(display, shown[i], looks[m], *plain); colour.alpha > 0)
            colours.emplace_back(shown[i], colour);
    }
    return colours;
}

} // namespace wendrix::view
