#include "core/ifc/styles.h"

namespace wendrix::ifc {

namespace {

/// Down from a style assignment or surface style to the first colour in it.
std::optional<SurfaceColour> colourOf(const Source& source, const Entity& style, int depth = 0)
{
    if (depth > 4)
        return {};
    if (style.isA("IfcSurfaceStyleShading")) {
        const Entity rgb = source.entity(style["SurfaceColour"]);
        if (!rgb)
            return {};
        return SurfaceColour{rgb["Red"].numberOr(0.5), rgb["Green"].numberOr(0.5), rgb["Blue"].numberOr(0.5),
                             style["Transparency"].numberOr(0)};
    }
    for (const Value inner : style["Styles"])
        if (auto colour = colourOf(source, source.entity(inner), depth + 1))
            return colour;
    return {};
}

} // namespace

Styles::Styles(const Source& source)
{
    source.forEach("IfcStyledItem", [&](const Entity& styled) {
        const EntityId item = styled["Item"].reference();
        if (item == 0)
            return;
        for (const Value style : styled["Styles"])
            if (const auto colour = colourOf(source, source.entity(style))) {
                byItem_.try_emplace(item, *colour);
                break;
            }
    });
}

std::optional<SurfaceColour> Styles::ofItem(EntityId item) const
{
    const auto found = byItem_.find(item);
    return found != byItem_.end() ? std::optional(found->second) : std::nullopt;
}

} // namespace wendrix::ifc
