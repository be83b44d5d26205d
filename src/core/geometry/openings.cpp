#include "core/geometry/openings.h"

#include "core/geometry/item_reader.h"

namespace wendrix::geometry {

std::vector<OpeningBody> freeOpeningsOf(const ifc::Model& model, const ifc::Element& element, const Fineness& fineness)
{
    std::vector<OpeningBody> openings;
    if (element.openings.empty())
        return openings;
    const Progress progress;
    const ItemReader reader(model, fineness, progress);
    std::vector<Diagnostic> said; // when the element was built
    for (const ifc::EntityId id : element.openings) {
        const ifc::Entity opening = model.source().entity(id);
        if (!opening || model.relations().other(id, "IfcRelFillsElement", true) != 0)
            continue;
        const Transform place = model.placementOf(opening);
        Mesh mesh;
        for (const ifc::EntityId representation : ifc::bodyRepresentations(model.source(), opening))
            for (const BodyPart& part : reader.representation(representation, said))
                mesh.append(transformed(part.mesh, place));
        if (!mesh.isEmpty())
            openings.push_back({id, std::move(mesh)});
    }
    return openings;
}

} // namespace wendrix::geometry
