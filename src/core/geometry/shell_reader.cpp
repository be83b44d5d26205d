#include "core/geometry/shell_reader.h"

#include "core/geometry/cell_hash.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

namespace wendrix::geometry {

using ifc::Entity;
using step::Value;

namespace {

using Loop = std::vector<std::uint32_t>;

/// Joins points that are the same to a tenth of a micrometre: exporters write each face with its own.
class PointSet {
public:
    explicit PointSet(Mesh& mesh) : mesh_(mesh) {}
    std::uint32_t indexOf(Point3 p)
    {
        const auto cell = [](double v) {
            return std::isfinite(v) ? static_cast<std::int64_t>(std::llround(std::clamp(v, -1e11, 1e11) * 1e7))
                                    : INT64_MAX;
        };
        const auto [found, isNew] =
            known_.try_emplace({cell(p.x), cell(p.y), cell(p.z)}, static_cast<std::uint32_t>(mesh_.points.size()));
        if (isNew)
            mesh_.points.push_back(p);
        return found->second;
    }
    void reserve(std::size_t n)
    {
        known_.reserve(n);
        mesh_.points.reserve(n);
    }

private:
    Mesh& mesh_;
    std::unordered_map<Cell, std::uint32_t, CellHash> known_;
};

/// Without neighbours that are one point; a closing repetition of the first is no fault.
Loop withoutRepeats(const Loop& loop, bool mayClose, Repairs& repairs)
{
    Loop kept;
    for (const std::uint32_t i : loop)
        if (kept.empty() || kept.back() != i)
            kept.push_back(i);
    const bool hadRepeats = kept.size() != loop.size();
    std::size_t closing = 0;
    while (kept.size() > 1 && kept.front() == kept.back()) {
        kept.pop_back();
        ++closing;
    }
    if (hadRepeats || closing > (mayClose ? 1u : 0u))
        ++repairs.repeatedPoints;
    return kept;
}

void add(Mesh& mesh, const std::vector<Loop>& loops, Repairs& repairs)
{
    const auto done = addFace(mesh, loops);
    if (!done) {
        ++repairs.lostFaces;
        return;
    }
    repairs.flatFaces += done->isFlat ? 1 : 0;
    repairs.swappedBounds += done->isSwapped ? 1 : 0;
    repairs.collinearPoints += done->collinear;
    repairs.nonPlanarFaces += done->isNonPlanar ? 1 : 0;
}

bool isCurvedSurface(const ifc::Source& source, const Entity& face)
{
    return face.isA("IfcFaceSurface") &&
           !source.schema().isA(source.typeOf(face["FaceSurface"].reference()), "IfcPlane");
}

/// The points a loop runs through, as entities.
/// @return false where one of its edges is curved
bool pointsOfLoop(const ifc::Source& source, const Entity& loop, std::vector<ifc::EntityId>& points)
{
    points.clear();
    for (const Value point : loop["Polygon"])
        points.push_back(point.reference());
    for (const Value edge : loop["EdgeList"]) {
        const Entity oriented = source.entity(edge);
        const bool isForward = oriented["Orientation"].enumeration() != "F";
        const Entity inner = oriented.isA("IfcOrientedEdge") ? source.entity(oriented["EdgeElement"]) : oriented;
        const ifc::TypeId curve = source.typeOf(inner["EdgeGeometry"].reference());
        if (curve != ifc::kUnknownType && !source.schema().isA(curve, "IfcLine"))
            return false;
        const Entity vertex = source.entity(isForward ? inner["EdgeStart"] : inner["EdgeEnd"]);
        points.push_back(vertex["VertexGeometry"].reference());
    }
    return true;
}

} // namespace

std::optional<Mesh> readShell(const CurveReader& curves, const Entity& shell, Repairs& repairs)
{
    const ifc::Source& source = curves.source();
    Mesh mesh;
    PointSet points(mesh);
    Repairs met;
    std::unordered_map<ifc::EntityId, std::uint32_t> byEntity;
    std::vector<ifc::EntityId> ofLoop;
    for (const Value faceReference : shell["CfsFaces"]) {
        const Entity face = source.entity(faceReference);
        if (isCurvedSurface(source, face))
            return {};
        std::vector<Loop> loops;
        for (const Value boundReference : face["Bounds"]) {
            const Entity bound = source.entity(boundReference);
            if (!pointsOfLoop(source, source.entity(bound["Bound"]), ofLoop))
                return {};
            Loop indices;
            indices.reserve(ofLoop.size());
            for (const ifc::EntityId point : ofLoop) {
                const auto [known, isNew] = byEntity.try_emplace(point, 0u);
                if (isNew)
                    known->second = points.indexOf(curves.placements().point(source.entity(point)));
                indices.push_back(known->second);
            }
            if (bound["Orientation"].enumeration() == "F")
                std::reverse(indices.begin(), indices.end());
            indices = withoutRepeats(indices, true, met);
            if (indices.size() < 3)
                continue;
            // The outer bound comes first, wherever the file has it.
            loops.insert(bound.isA("IfcFaceOuterBound") ? loops.begin() : loops.end(), std::move(indices));
        }
        add(mesh, loops, met);
    }
    repairs = met;
    return mesh;
}

Mesh readTessellation(const ifc::Source& source, double lengthToMetres, const Entity& faceSet, Repairs& repairs,
                      std::vector<Diagnostic>& diagnostics)
{
    Mesh mesh;
    PointSet points(mesh);
    std::vector<std::uint32_t> coordinates; // of the file's list, in its order
    const Entity pointList = source.entity(faceSet["Coordinates"]);
    const Value list = pointList["CoordList"];
    points.reserve(list.size());
    coordinates.reserve(list.size());
    for (const Value p : list)
        coordinates.push_back(points.indexOf(
            {lengthToMetres * p[0].numberOr(0), lengthToMetres * p[1].numberOr(0), lengthToMetres * p[2].numberOr(0)}));
    std::vector<std::int64_t> renumbered; // by PnIndex
    for (const Value i : faceSet["PnIndex"])
        renumbered.push_back(i.integer().value_or(0));
    std::size_t outOfRange = 0;
    const auto loopOf = [&](Value indices) {
        Loop loop;
        for (const Value value : indices) {
            std::int64_t i = value.integer().value_or(0);
            if (!renumbered.empty())
                i = i >= 1 && static_cast<std::size_t>(i) <= renumbered.size()
                        ? renumbered[static_cast<std::size_t>(i - 1)]
                        : 0;
            if (i < 1 || static_cast<std::size_t>(i) > coordinates.size()) {
                ++outOfRange;
                return Loop{};
            }
            loop.push_back(coordinates[static_cast<std::size_t>(i - 1)]);
        }
        return withoutRepeats(loop, false, repairs);
    };
    if (faceSet.isA("IfcTriangulatedFaceSet")) {
        const Value triangles = faceSet["CoordIndex"], flags = faceSet["Flags"];
        mesh.triangles.reserve(triangles.size());
        auto flag = flags.begin();
        const auto lastFlag = flags.end();
        for (const Value triangle : triangles) {
            bool isVoid = false; // of a terrain: a triangle that is not there
            if (flag != lastFlag) {
                isVoid = (*flag).integer().value_or(0) < 0;
                ++flag;
            }
            if (isVoid)
                continue;
            const Loop loop = loopOf(triangle);
            if (loop.size() != 3) {
                ++repairs.lostFaces;
                continue;
            }
            const Vector3 u = mesh.points[loop[1]] - mesh.points[loop[0]],
                          v = mesh.points[loop[2]] - mesh.points[loop[0]];
            repairs.flatFaces += length(cross(u, v)) > 0 ? 0 : 1;
            mesh.triangles.push_back({loop[0], loop[1], loop[2]});
        }
    } else {
        for (const Value reference : faceSet["Faces"]) {
            const Entity face = source.entity(reference);
            std::vector<Loop> loops{loopOf(face["CoordIndex"])};
            for (const Value inner : face["InnerCoordIndices"])
                loops.push_back(loopOf(inner));
            add(mesh, loops, repairs);
        }
    }
    if (outOfRange > 0)
        diagnostics.push_back({Severity::Error, "geometry.index", ifc::entityName(faceSet.id()),
                               "Faces refer to points that are not in the list; they were left out. Ask the sender to "
                               "export the body again."});
    return mesh;
}

} // namespace wendrix::geometry
