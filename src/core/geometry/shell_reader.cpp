#include "core/geometry/shell_reader.h"

#include "core/geometry/cell_hash.h"
#include "core/geometry/flat_index.h"

#include <algorithm>
#include <cmath>

namespace wendrix::geometry {

using ifc::Entity;
using step::Value;

namespace {

using Loop = std::vector<std::uint32_t>;

struct EntityHash {
    std::size_t operator()(ifc::EntityId id) const { return (id * 0x9E3779B97F4A7C15ull) >> 20; }
};

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
        const auto [number, isNew] =
            known_.tryEmplace({cell(p.x), cell(p.y), cell(p.z)}, static_cast<std::uint32_t>(mesh_.points.size()));
        if (isNew)
            mesh_.points.push_back(p);
        return number;
    }
    void reserve(std::size_t n)
    {
        known_.reserve(n);
        mesh_.points.reserve(n);
    }

private:
    Mesh& mesh_;
    FlatIndex<Cell, CellHash> known_;
};

/// Without neighbours that are one point; a closing repetition of the first is no fault.
Loop withoutRepeats(Loop kept, bool mayClose, Repairs& repairs)
{
    const auto repeats = std::unique(kept.begin(), kept.end());
    const bool hadRepeats = repeats != kept.end();
    kept.erase(repeats, kept.end());
    std::size_t closing = 0;
    while (kept.size() > 1 && kept.front() == kept.back()) {
        kept.pop_back();
        ++closing;
    }
    if (hadRepeats || closing > (mayClose ? 1u : 0u))
        ++repairs.repeatedPoints;
    return kept;
}

void add(Mesh& mesh, std::vector<Loop> loops, Repairs& repairs)
{
    const auto done = addFace(mesh, std::move(loops));
    if (!done) {
        ++repairs.lostFaces;
        return;
    }
    repairs.flatFaces += done->isFlat ? 1 : 0;
    repairs.swappedBounds += done->isSwapped ? 1 : 0;
    repairs.collinearPoints += done->collinear;
    repairs.nonPlanarFaces += done->isNonPlanar ? 1 : 0;
}

/// Reads the faces of one shell down to their points. What most files have, plain faces with poly loops, is read as
/// the lists of references it is.
class FaceReader {
public:
    explicit FaceReader(const ifc::Source& source)
        : source_(source), face_(typeOf("IfcFace")), polyLoop_(typeOf("IfcPolyLoop")), bound_(typeOf("IfcFaceBound")),
          outerBound_(typeOf("IfcFaceOuterBound"))
    {
    }

    /// The bounds of a face.
    /// @return false where its surface is curved
    bool boundsOf(ifc::EntityId face, std::vector<ifc::EntityId>& bounds) const
    {
        if (const step::Entry* entry = source_.entry(face);
            entry != nullptr && source_.typeOf(*entry) == face_ && source_.references(*entry, bounds))
            return true;
        bounds.clear();
        const Entity e = source_.entity(face);
        for (const Value bound : e["Bounds"])
            bounds.push_back(bound.reference());
        return !e.isA("IfcFaceSurface") ||
               source_.schema().isA(source_.typeOf(e["FaceSurface"].reference()), "IfcPlane");
    }

    struct Bound {
        ifc::EntityId loop = 0;
        bool isOuter = false, isReversed = false;
    };
    Bound bound(ifc::EntityId id) const
    {
        const step::Entry* entry = source_.entry(id);
        if (const ifc::TypeId type = entry != nullptr ? source_.typeOf(*entry) : ifc::kUnknownType;
            entry != nullptr && (type == bound_ || type == outerBound_))
            if (const auto flagged = step::parseFlagged(source_.file().argumentsOf(*entry)))
                return {flagged->id, type == outerBound_, !flagged->isTrue};
        const Entity e = source_.entity(id);
        return {e["Bound"].reference(), e.isA("IfcFaceOuterBound"), e["Orientation"].enumeration() == "F"};
    }

    /// The points a loop runs through.
    /// @return false where one of its edges is curved
    bool pointsOf(ifc::EntityId loop, std::vector<ifc::EntityId>& points) const
    {
        if (const step::Entry* entry = source_.entry(loop);
            entry != nullptr && source_.typeOf(*entry) == polyLoop_ && source_.references(*entry, points))
            return true;
        points.clear();
        const Entity e = source_.entity(loop);
        for (const Value point : e["Polygon"])
            points.push_back(point.reference());
        for (const Value edge : e["EdgeList"]) {
            const Entity oriented = source_.entity(edge);
            const bool isForward = oriented["Orientation"].enumeration() != "F";
            const Entity inner = oriented.isA("IfcOrientedEdge") ? source_.entity(oriented["EdgeElement"]) : oriented;
            const ifc::TypeId curve = source_.typeOf(inner["EdgeGeometry"].reference());
            if (curve != ifc::kUnknownType && !source_.schema().isA(curve, "IfcLine"))
                return false;
            const Entity vertex = source_.entity(isForward ? inner["EdgeStart"] : inner["EdgeEnd"]);
            points.push_back(vertex["VertexGeometry"].reference());
        }
        return true;
    }

private:
    [[nodiscard]] ifc::TypeId typeOf(const char* name) const { return source_.schema().type(ifc::Name(name)); }

    const ifc::Source& source_;
    ifc::TypeId face_, polyLoop_, bound_, outerBound_;
};

} // namespace

std::optional<Mesh> readShell(const CurveReader& curves, const Entity& shell, Repairs& repairs)
{
    const ifc::Source& source = curves.source();
    Mesh mesh;
    PointSet points(mesh);
    Repairs met;
    FlatIndex<ifc::EntityId, EntityHash> byEntity; // numbers of `ofEntity`
    std::vector<std::uint32_t> ofEntity;           // points of the mesh
    const FaceReader reader(source);
    std::vector<ifc::EntityId> bounds, ofLoop;
    const Value faces = shell["CfsFaces"];
    points.reserve(faces.size());
    byEntity.reserve(faces.size());
    for (const Value faceReference : faces) {
        if (!reader.boundsOf(faceReference.reference(), bounds))
            return {};
        std::vector<Loop> loops;
        for (const ifc::EntityId boundId : bounds) {
            const FaceReader::Bound bound = reader.bound(boundId);
            if (!reader.pointsOf(bound.loop, ofLoop))
                return {};
            Loop indices;
            indices.reserve(ofLoop.size());
            for (const ifc::EntityId point : ofLoop) {
                const auto [number, isNew] = byEntity.tryEmplace(point, static_cast<std::uint32_t>(ofEntity.size()));
                if (isNew)
                    ofEntity.push_back(points.indexOf(curves.placements().point(point)));
                indices.push_back(ofEntity[number]);
            }
            if (bound.isReversed)
                std::reverse(indices.begin(), indices.end());
            indices = withoutRepeats(std::move(indices), true, met);
            if (indices.size() < 3)
                continue;
            // The outer bound comes first, wherever the file has it.
            loops.insert(bound.isOuter ? loops.begin() : loops.end(), std::move(indices));
        }
        add(mesh, std::move(loops), met);
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
        return withoutRepeats(std::move(loop), false, repairs);
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
            add(mesh, std::move(loops), repairs);
        }
    }
    if (outOfRange > 0)
        diagnostics.push_back({Severity::Error, "geometry.index", ifc::entityName(faceSet.id()),
                               "Faces refer to points that are not in the list; they were left out. Ask the sender to "
                               "export the body again."});
    return mesh;
}

} // namespace wendrix::geometry
