#include "core/geometry/shell_reader.h"

#include "core/geometry/polygon.h"

#include <cmath>
#include <map>
#include <unordered_map>

namespace wendrix::geometry {

using ifc::Entity;
using step::Value;

namespace {

/// Joins points that are the same to a tenth of a micrometre: exporters write each face with its own.
class PointSet {
public:
    explicit PointSet(Mesh& mesh) : mesh_(mesh) {}
    std::uint32_t indexOf(Point3 p)
    {
        const auto cell = [](double v) { return static_cast<std::int64_t>(std::llround(std::clamp(v, -1e11, 1e11) * 1e7)); };
        const auto [found, isNew] =
            known_.try_emplace({cell(p.x), cell(p.y), cell(p.z)}, static_cast<std::uint32_t>(mesh_.points.size()));
        if (isNew)
            mesh_.points.push_back(p);
        return found->second;
    }

private:
    Mesh& mesh_;
    std::map<std::array<std::int64_t, 3>, std::uint32_t> known_;
};

std::vector<std::uint32_t> withoutRepeats(std::vector<std::uint32_t> loop)
{
    std::vector<std::uint32_t> kept;
    for (const std::uint32_t i : loop)
        if (kept.empty() || kept.back() != i)
            kept.push_back(i);
    while (kept.size() > 1 && kept.front() == kept.back())
        kept.pop_back();
    return kept;
}

void faceProblem(std::vector<Diagnostic>& diagnostics, ifc::EntityId id)
{
    diagnostics.push_back({Severity::Warning, "geometry.face", ifc::entityName(id),
                           "A face has no area or its outline crosses itself; it was left out."});
}

} // namespace

Mesh readShell(const ifc::Source& source, const ifc::PlacementReader& reader, const Entity& shell,
               std::vector<Diagnostic>& diagnostics)
{
    Mesh mesh;
    PointSet points(mesh);
    std::unordered_map<ifc::EntityId, std::uint32_t> byEntity;
    for (const Value faceReference : shell["CfsFaces"]) {
        const Entity face = source.entity(faceReference);
        std::vector<std::vector<std::uint32_t>> loops;
        for (const Value boundReference : face["Bounds"]) {
            const Entity bound = source.entity(boundReference);
            const Entity loop = source.entity(bound["Bound"]);
            std::vector<std::uint32_t> indices;
            for (const Value point : loop["Polygon"]) {
                const auto [known, isNew] = byEntity.try_emplace(point.reference(), 0u);
                if (isNew)
                    known->second = points.indexOf(reader.point(point));
                indices.push_back(known->second);
            }
            if (bound["Orientation"].enumeration() == "F")
                std::reverse(indices.begin(), indices.end());
            indices = withoutRepeats(std::move(indices));
            if (indices.size() < 3)
                continue;
            // The outer bound comes first, wherever the file has it.
            loops.insert(bound.isA("IfcFaceOuterBound") ? loops.begin() : loops.end(), std::move(indices));
        }
        if (!addFace(mesh, loops))
            faceProblem(diagnostics, face ? face.id() : shell.id());
    }
    return mesh;
}

Mesh readTessellation(const ifc::Source& source, double lengthToMetres, const Entity& faceSet,
                      std::vector<Diagnostic>& diagnostics)
{
    Mesh mesh;
    PointSet points(mesh);
    std::vector<std::uint32_t> coordinates; // of the file's list, in its order
    const Entity pointList = source.entity(faceSet["Coordinates"]);
    for (const Value p : pointList["CoordList"])
        coordinates.push_back(points.indexOf({lengthToMetres * p[0].numberOr(0), lengthToMetres * p[1].numberOr(0),
                                              lengthToMetres * p[2].numberOr(0)}));
    std::vector<std::int64_t> renumbered;
    for (const Value i : faceSet["PnIndex"])
        renumbered.push_back(i.integer().value_or(0));
    bool outOfRange = false;
    const auto loopOf = [&](Value indices) {
        std::vector<std::uint32_t> loop;
        for (const Value value : indices) {
            std::int64_t i = value.integer().value_or(0);
            if (!renumbered.empty())
                i = i >= 1 && static_cast<std::size_t>(i) <= renumbered.size()
                        ? renumbered[static_cast<std::size_t>(i - 1)] : 0;
            if (i < 1 || static_cast<std::size_t>(i) > coordinates.size()) {
                outOfRange = true;
                return std::vector<std::uint32_t>{};
            }
            loop.push_back(coordinates[static_cast<std::size_t>(i - 1)]);
        }
        return withoutRepeats(std::move(loop));
    };
    const auto add = [&](std::vector<std::vector<std::uint32_t>> loops, ifc::EntityId id) {
        if (!addFace(mesh, loops))
            faceProblem(diagnostics, id);
    };
    if (faceSet.isA("IfcTriangulatedFaceSet")) {
        for (const Value triangle : faceSet["CoordIndex"])
            add({loopOf(triangle)}, faceSet.id());
    } else {
        for (const Value reference : faceSet["Faces"]) {
            const Entity face = source.entity(reference);
            std::vector<std::vector<std::uint32_t>> loops{loopOf(face["CoordIndex"])};
            for (const Value inner : face["InnerCoordIndices"])
                loops.push_back(loopOf(inner));
            add(std::move(loops), face.id());
        }
    }
    if (outOfRange)
        diagnostics.push_back({Severity::Error, "geometry.index", ifc::entityName(faceSet.id()),
                               "Faces refer to points that are not in the list; they were left out."});
    return mesh;
}

} // namespace wendrix::geometry
