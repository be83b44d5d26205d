#include "shell/element_details.h"

#include "shell/stage.h"

namespace wendrix::app {

void showElement(Details& d, const federation::Member& member, ifc::ElementIndex index)
{
    const ifc::Model& model = *member.model;
    const ifc::Element& e = model.elements()[index];
    const geometry::ElementShape& shape = member.geometry->elements()[index];
    d.clear();
    d.addCaption(q(member.title()) + " · " + q(std::string(model.className(e))));
    d.addTitle(q(model.displayName(e)));
    const auto fact = [&](const char* name, const std::string& value) {
        if (!value.empty())
            d.addFact(name, q(value));
    };
    if (e.storey != ifc::kNoStorey)
        fact("Storey", model.storeys()[static_cast<std::size_t>(e.storey)].name);
    fact("Type", model.text(e.typeName));
    fact("Material", model.text(e.material));
    fact("System", model.text(e.system));
    fact("GlobalId", e.guid);
    if (shape.isClosed)
        d.addFact("Volume", QString::number(shape.volume, 'f', 3) + " m³");
    d.addFact("Surface", QString::number(shape.area, 'f', 2) + " m²");
    for (const ifc::PropertySet& set : model.properties(e)) {
        d.addHeading(q(set.name));
        for (const ifc::Property& p : set.properties)
            d.addFact(q(p.name), q(p.value, "–") + (p.unit.empty() ? "" : " " + q(p.unit)));
    }
    d.finish();
}

} // namespace wendrix::app
