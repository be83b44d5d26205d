#include "core/view/cut_faces.h"

#include <tbb/parallel_for.h>

namespace wendrix::view {

namespace {

/// Whether a plane goes through a box.
bool crosses(const geometry::Plane& plane, const Box3& box)
{
    if (box.isEmpty())
        return false;
    const Vector3 half = 0.5 * box.size(), n = plane.normal;
    const double reach = half.x * std::abs(n.x) + half.y * std::abs(n.y) + half.z * std::abs(n.z);
    return std::abs(plane.distance(box.centre())) <= reach + 1e-9;
}

struct Cut {
    ElementKey element;
    geometry::CutOutline outline;
    geometry::Mesh fill;
};

} // namespace

CutFaces cutFaces(std::span<const federation::Member> members, const Colours& colours, const geometry::Plane& plane)
{
    std::vector<Cut> cuts;
    std::vector<Transform> fits;
    for (const federation::Member& member : members)
        fits.push_back(member.fit.transform());
    colours.forEachDrawn([&](const ElementKey& key, const Colour&) {
        if (crosses(plane, fits[key.member].apply(members[key.member].geometry->elements()[key.element].bounds)))
            cuts.push_back({key, {}, {}});
    });
    tbb::parallel_for(std::size_t{0}, cuts.size(), [&](std::size_t i) {
        Cut& cut = cuts[i];
        const federation::Member& member = members[cut.element.member];
        const geometry::ElementShape& element = member.geometry->elements()[cut.element.element];
        const geometry::Mesh mesh = transformed(member.geometry->meshOf(cut.element.element), member.fit.transform());
        cut.outline = cutOutline(mesh, plane);
        if (element.isClosed)
            cut.fill = filled(cut.outline, plane);
    });
    CutFaces result;
    for (Cut& cut : cuts) {
        if (cut.outline.isEmpty())
            continue;
        result.faces.push_back({cut.element, static_cast<std::uint32_t>(result.fill.triangles.size()),
                                static_cast<std::uint32_t>(result.outlines.size())});
        result.fill.append(cut.fill);
        const auto addPieces = [&](const std::vector<Point3>& points, bool isRing) {
            for (std::size_t i = 0; i + 1 < points.size(); ++i)
                result.outlines.push_back({points[i], points[i + 1]});
            if (isRing)
                result.outlines.push_back({points.back(), points.front()});
        };
        for (const auto& ring : cut.outline.rings)
            addPieces(ring, true);
        for (const auto& line : cut.outline.lines)
            addPieces(line, false);
    }
    return result;
}

} // namespace wendrix::view
