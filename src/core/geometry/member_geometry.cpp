#include "core/geometry/member_geometry.h"

#include "core/geometry/boolean.h"
#include "core/geometry/item_reader.h"

#include <tbb/parallel_for.h>

#include <numeric>
#include <unordered_map>

namespace wendrix::geometry {

using ifc::EntityId;

namespace {

// Below this, an edge between two faces is part of a smooth surface.
constexpr Radians kFeatureAngle = fromDegrees(25);
// Openings modelled flush with a face differ from it by rounding only; nearer than this is flush.
constexpr double kFlushMetres = 1e-6;

Shape shapeOf(std::vector<BodyPart> parts)
{
    Shape shape;
    shape.isClosed = !parts.empty();
    for (BodyPart& part : parts) {
        shape.colours.push_back({static_cast<std::uint32_t>(shape.mesh.triangles.size()), part.colour});
        shape.isClosed = shape.isClosed && part.isClosed;
        shape.volume += volumeOf(part.mesh);
        shape.area += areaOf(part.mesh);
        shape.mesh.append(part.mesh);
    }
    shape.edges = featureEdges(shape.mesh, kFeatureAngle);
    return shape;
}

/// Moves the tool's points that lie on the host's axis-parallel bounds, but for rounding, exactly onto them.
void makeFlush(Mesh& tool, const Box3& host)
{
    const auto snap = [](double& v, double a, double b) {
        if (std::abs(v - a) < kFlushMetres)
            v = a;
        else if (std::abs(v - b) < kFlushMetres)
            v = b;
    };
    for (Point3& p : tool.points) {
        snap(p.x, host.min.x, host.max.x);
        snap(p.y, host.min.y, host.max.y);
        snap(p.z, host.min.z, host.max.z);
    }
}

/// One element's bodies while they are being built.
struct Built {
    std::vector<ItemReader::Mapped> mapped; ///< shared shapes, or
    std::vector<Shape> own;                 ///< the element's own
    std::vector<Diagnostic> diagnostics;
};

class Builder {
public:
    Builder(const ifc::Model& model) : model_(model), reader_(model) {}

    [[nodiscard]] const ItemReader& reader() const { return reader_; }

    Built build(const ifc::Element& element) const
    {
        Built built;
        if (element.openings.empty() && element.representations.size() == 1)
            built.mapped = reader_.mappedItems(element.representations[0]);
        if (!built.mapped.empty())
            return built;
        std::vector<BodyPart> parts;
        for (const EntityId id : element.representations) {
            auto more = reader_.representation(id, built.diagnostics);
            std::move(more.begin(), more.end(), std::back_inserter(parts));
        }
        if (!element.openings.empty() && !parts.empty())
            subtractOpenings(element, parts, built.diagnostics);
        if (!parts.empty())
            built.own.push_back(shapeOf(std::move(parts)));
        return built;
    }

private:
    /// From the opening's frame to the host's; taken from the file where it says it directly, so that no
    /// rounding comes between faces that are meant to be flush.
    Transform toHost(const ifc::Entity& opening, const ifc::Element& host) const
    {
        const ifc::Source& source = model_.source();
        const ifc::Entity placement = source.entity(opening["ObjectPlacement"]);
        const EntityId hostPlacement = source.entity(host.entity)["ObjectPlacement"].reference();
        if (hostPlacement != 0 && placement["PlacementRelTo"].reference() == hostPlacement)
            return ifc::PlacementReader(source, model_.units().lengthToMetres)
                .axisPlacement(placement["RelativePlacement"]);
        return host.placement.inverse() * model_.placementOf(opening);
    }

    void subtractOpenings(const ifc::Element& element, std::vector<BodyPart>& parts,
                          std::vector<Diagnostic>& diagnostics) const
    {
        std::vector<Mesh> tools;
        std::vector<EntityId> toolOf;
        for (const EntityId id : element.openings) {
            const ifc::Entity opening = model_.source().entity(id);
            if (!opening)
                continue;
            const Transform map = toHost(opening, element);
            for (const EntityId representation : ifc::bodyRepresentations(model_.source(), opening))
                for (const BodyPart& part : reader_.representation(representation, diagnostics)) {
                    tools.push_back(transformed(part.mesh, map));
                    toolOf.push_back(id);
                }
        }
        for (BodyPart& part : parts) {
            const Box3 bounds = boundsOf(part.mesh);
            std::vector<Mesh> near;
            std::vector<EntityId> nearOf;
            for (std::size_t i = 0; i < tools.size(); ++i)
                if (bounds.overlaps(boundsOf(tools[i]))) {
                    near.push_back(tools[i]);
                    makeFlush(near.back(), bounds);
                    nearOf.push_back(toolOf[i]);
                }
            if (near.empty())
                continue;
            std::vector<std::size_t> leftOut;
            auto cut = subtractAll(part.mesh, near, leftOut);
            if (!cut) {
                diagnostics.push_back({Severity::Error, "geometry.opening", ifc::entityName(element.entity),
                                       "Openings were not subtracted: the body is open or cuts itself."});
                continue;
            }
            for (const std::size_t i : leftOut)
                diagnostics.push_back({Severity::Error, "geometry.opening", ifc::entityName(nearOf[i]),
                                       "The opening was not subtracted: its body is open or cuts itself."});
            part.mesh = std::move(*cut);
            part.isClosed = isClosed(part.mesh);
        }
        std::erase_if(parts, [](const BodyPart& p) { return p.mesh.isEmpty(); });
    }

    const ifc::Model& model_;
    ItemReader reader_;
};

} // namespace

Result<std::shared_ptr<const MemberGeometry>> MemberGeometry::build(const ifc::Model& model, Progress& progress)
{
    const auto& elements = model.elements();
    const Builder builder(model);
    std::vector<Built> built(elements.size());
    std::atomic<std::size_t> done{0};
    const std::string what = "Building " + std::filesystem::path(model.source().file().name()).filename().string();
    tbb::parallel_for(std::size_t{0}, elements.size(), [&](std::size_t i) {
        if (progress.isCancelled())
            return;
        built[i] = builder.build(elements[i]);
        progress.report(what, static_cast<double>(++done) / static_cast<double>(elements.size()));
    });

    auto geometry = std::make_shared<MemberGeometry>();
    // Shared shapes: each map once, in the order of first use, so that results are the same at any thread count.
    std::vector<EntityId> maps;
    std::unordered_map<EntityId, ShapeIndex> shapeOfMap;
    for (const Built& b : built)
        for (const ItemReader::Mapped& m : b.mapped)
            if (shapeOfMap.try_emplace(m.map, static_cast<ShapeIndex>(maps.size())).second)
                maps.push_back(m.map);
    geometry->shapes_.resize(maps.size());
    std::vector<std::vector<Diagnostic>> mapDiagnostics(maps.size());
    tbb::parallel_for(std::size_t{0}, maps.size(), [&](std::size_t i) {
        if (!progress.isCancelled())
            geometry->shapes_[i] = shapeOf(builder.reader().representationMap(maps[i], mapDiagnostics[i]));
    });
    if (progress.isCancelled())
        return fail({step::kCancelled, "Building was cancelled."});
    for (auto& list : mapDiagnostics)
        std::move(list.begin(), list.end(), std::back_inserter(geometry->diagnostics_));

    for (std::size_t i = 0; i < built.size(); ++i) {
        ElementShape shape;
        for (const ItemReader::Mapped& m : built[i].mapped)
            if (!geometry->shapes_[shapeOfMap[m.map]].mesh.isEmpty())
                shape.placed.push_back({shapeOfMap[m.map], elements[i].placement * m.placement});
        for (Shape& own : built[i].own) {
            shape.placed.push_back({static_cast<ShapeIndex>(geometry->shapes_.size()), elements[i].placement});
            geometry->shapes_.push_back(std::move(own));
        }
        shape.isClosed = !shape.placed.empty();
        for (const PlacedShape& placed : shape.placed) {
            const Shape& s = geometry->shapes_[placed.shape];
            const double factor = std::abs(placed.placement.determinant());
            shape.isClosed = shape.isClosed && s.isClosed;
            shape.volume += s.volume * factor;
            shape.area += std::abs(factor - 1) < 1e-12 ? s.area : areaOf(transformed(s.mesh, placed.placement));
            shape.triangles += s.mesh.triangles.size();
            for (const Point3 p : s.mesh.points)
                shape.bounds.add(placed.placement.apply(p));
        }
        std::move(built[i].diagnostics.begin(), built[i].diagnostics.end(),
                  std::back_inserter(geometry->diagnostics_));
        if (shape.placed.empty())
            geometry->diagnostics_.push_back({Severity::Error, "geometry.element", ifc::entityName(elements[i].entity),
                                              std::string(model.className(elements[i])) + " " + elements[i].guid +
                                                  " has no body that could be built."});
        geometry->bounds_.add(shape.bounds);
        geometry->elements_.push_back(std::move(shape));
    }
    return geometry;
}

Mesh MemberGeometry::meshOf(ifc::ElementIndex element) const
{
    Mesh mesh;
    for (const PlacedShape& placed : elements_[element].placed)
        mesh.append(transformed(shapes_[placed.shape].mesh, placed.placement));
    return mesh;
}

std::size_t MemberGeometry::triangleCount() const
{
    return std::accumulate(elements_.begin(), elements_.end(), std::size_t{0},
                           [](std::size_t n, const ElementShape& e) { return n + e.triangles; });
}

} // namespace wendrix::geometry
