#include "core/ifc/styles.h"

#include <tbb/parallel_for.h>

#include <algorithm>

namespace wendrix::ifc {

namespace {

constexpr int kDeepestStyle = 4;

double part(const Entity& e, Name name, double otherwise) { return std::clamp(e[name].numberOr(otherwise), 0.0, 1.0); }

} // namespace

/// Down from a styled item, style assignment or surface style to the first colour in it.
std::optional<SurfaceColour> Styles::colourOf(EntityId id, int depth)
{
    if (id == 0 || depth > kDeepestStyle)
        return {};
    if (const auto known = byStyle_.find(id); known != byStyle_.end())
        return known->second;
    const Entity style = source_.entity(id);
    std::optional<SurfaceColour> found;
    if (style.isA("IfcSurfaceStyleShading")) {
        if (const Entity rgb = source_.entity(style["SurfaceColour"]))
            found = SurfaceColour{part(rgb, "Red", 0.5), part(rgb, "Green", 0.5), part(rgb, "Blue", 0.5),
                                  part(style, "Transparency", 0)};
    } else {
        for (const Value inner : style["Styles"])
            if (!found)
                found = colourOf(inner.reference(), depth + 1);
    }
    byStyle_.emplace(id, found);
    return found;
}

Styles::Styles(const Source& source, const Progress& progress) : source_(source)
{
    struct Styled {
        EntityId item = 0;
        std::vector<EntityId> styles;
    };
    const std::vector<std::uint32_t> positions = source.positions("IfcStyledItem");
    std::vector<Styled> items(positions.size());
    byItem_.reserve(positions.size());
    tbb::parallel_for(std::size_t{0}, positions.size(), [&](std::size_t i) {
        const Entity styled = source.entity(source.file().entities().all()[positions[i]]);
        items[i].item = styled["Item"].reference();
        for (const Value style : styled["Styles"])
            items[i].styles.push_back(style.reference());
    });
    for (const Styled& styled : items) {
        if (styled.item == 0 || progress.isCancelled() || byItem_.contains(styled.item))
            continue;
        for (const EntityId style : styled.styles)
            if (const auto colour = colourOf(style)) {
                byItem_.emplace(styled.item, *colour);
                break;
            }
    }
    source.forEach("IfcMaterialDefinitionRepresentation", [&](const Entity& definition) {
        const EntityId material = definition["RepresentedMaterial"].reference();
        for (const Value representation : definition["Representations"])
            for (const Value item : source.entity(representation)["Items"])
                if (const auto colour = colourOf(item.reference()))
                    byMaterial_.try_emplace(material, *colour);
    });
}

std::optional<SurfaceColour> Styles::ofItem(EntityId item) const
{
    const auto found = byItem_.find(item);
    return found != byItem_.end() ? std::optional(found->second) : std::nullopt;
}

std::optional<SurfaceColour> Styles::ofMaterial(EntityId material) const
{
    return byMaterial_.empty() ? std::nullopt : ofMaterial(material, 0, true);
}

std::optional<SurfaceColour> Styles::ofMaterial(EntityId material, int depth, bool mayBeMany) const
{
    if (material == 0 || depth > kDeepestStyle)
        return {};
    if (const auto found = byMaterial_.find(material); found != byMaterial_.end())
        return found->second;
    const Entity e = source_.entity(material);
    for (const Name inner : {Name("ForLayerSet"), Name("ForProfileSet"), Name("Material")})
        if (const EntityId id = e[inner].reference(); id != 0)
            return ofMaterial(id, depth + 1, mayBeMany);
    if (!mayBeMany) // sets hold no sets
        return {};
    for (const Name list :
         {Name("MaterialLayers"), Name("MaterialProfiles"), Name("MaterialConstituents"), Name("Materials")})
        for (const Value one : e[list])
            if (const auto colour = ofMaterial(one.reference(), depth + 1, false))
                return colour;
    return {};
}

} // namespace wendrix::ifc
