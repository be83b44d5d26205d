#include "core/geometry/member_geometry.h"

#include "core/geometry/boolean.h"
#include "core/geometry/item_reader.h"
#include "core/geometry/shape_pool.h"
#include "core/geometry/through_cut.h"

#include <tbb/parallel_for.h>

#include <numeric>

namespace wendrix::geometry {

using ifc::EntityId;

namespace {

// Openings modelled flush with a face differ from it by rounding only; nearer than this is flush.
constexpr double kFlushMetres = 1e-6;

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
    struct Use {
        ShapePool::Entry* entry;
        Transform placement; ///< to the element's frame
        std::optional<ifc::SurfaceColour> colour;
        EntityId item = 0;
    };
    std::vector<Use> uses;
    std::vector<Diagnostic> diagnostics;
};

class Builder {
public:
    Builder(const ifc::Model& model, const Fineness& fineness, const Progress& progress)
        : model_(model), reader_(model, fineness, progress)
    {
    }

    [[nodiscard]] const ItemReader& reader() const { return reader_; }

    Built build(const ifc::Element& element)
    {
        Built built;
        std::vector<BodyPart> parts;
        for (const EntityId id : element.representations) {
            std::vector<SharedPart> shared;
            if (element.openings.empty())
                shared = reader_.sharedParts(id, built.diagnostics);
            for (SharedPart& part : shared)
                built.uses.push_back({pool_.entryOf(std::move(part.shape)), part.placement, part.colour, part.item});
            if (!shared.empty())
                continue;
            auto more = reader_.representation(id, built.diagnostics);
            std::move(more.begin(), more.end(), std::back_inserter(parts));
        }
        if (!element.openings.empty() && !parts.empty())
            subtractOpenings(element, parts, built.diagnostics);
        if (!parts.empty())
            built.uses.push_back({pool_.entryOf(shapeOf(std::move(parts))), {}, {}, 0});
        return built;
    }

    /// Builds what the pool has only noted so far.
    void finish(ShapePool::Entry& entry) const
    {
        if (auto* own = std::get_if<Shape>(&entry.source)) {
            entry.shape = std::move(*own);
        } else if (const auto* areas = std::get_if<std::vector<Area>>(&entry.source)) {
            entry.shape = shapeOf(unitPrism(*areas));
            entry.source = EntityId{0};
        } else {
            entry.shape = shapeOf(reader_.representationMap(std::get<EntityId>(entry.source), entry.diagnostics));
        }
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
            auto cut = Result<Mesh>(Mesh());
            if (auto quick = throughCut(part.mesh, near))
                cut = std::move(*quick);
            else
                cut = subtractAll(part.mesh, near, leftOut);
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
    ShapePool pool_;
};

/// One body that a library of ours gives up on must not cost the others.
Diagnostic internalFailure(EntityId entity, const std::exception& failure)
{
    return {Severity::Error, "geometry.internal", entity != 0 ? ifc::entityName(entity) : "",
            std::string("Building the body failed inside: ") + failure.what() + ". Please report it with the file."};
}

/// The area of a shape where it stands; stretched shapes need their triangles for it.
double areaIn(const Shape& shape, const Transform& placement)
{
    const double stretch = length(placement.x);
    const bool isRigid = std::abs(length(placement.y) - stretch) < 1e-12 * stretch &&
                         std::abs(length(placement.z) - stretch) < 1e-12 * stretch;
    if (isRigid)
        return shape.area * stretch * stretch;
    double twice = 0;
    for (const Triangle& t : shape.mesh.triangles) {
        const Vector3 u = placement.turn(shape.mesh.points[t[1]] - shape.mesh.points[t[0]]);
        const Vector3 v = placement.turn(shape.mesh.points[t[2]] - shape.mesh.points[t[0]]);
        twice += length(cross(u, v));
    }
    return twice / 2;
}

/// Bounds and measures of an element out of its placed shapes.
void measure(ElementShape& element, const std::vector<Shape>& shapes)
{
    element.isClosed = !element.placed.empty();
    for (const PlacedShape& placed : element.placed) {
        const Shape& s = shapes[placed.shape];
        element.isClosed = element.isClosed && s.isClosed;
        element.volume += s.volume * std::abs(placed.placement.determinant());
        element.area += areaIn(s, placed.placement);
        element.triangles += s.mesh.triangles.size();
        for (const Point3 p : s.mesh.points)
            element.bounds.add(placed.placement.apply(p));
    }
}

} // namespace

Result<std::shared_ptr<const MemberGeometry>> MemberGeometry::build(const ifc::Model& model, Progress& progress,
                                                                    const Fineness& fineness)
{
    const auto& elements = model.elements();
    Builder builder(model, fineness, progress);
    std::vector<Built> built(elements.size());
    std::atomic<std::size_t> done{0};
    const std::string what = "Building " + std::filesystem::path(model.source().file().name()).filename().string();
    const auto step = [&] { // one report for many small elements: reports cost a lock
        if (const std::size_t n = ++done; (n & 0xFF) == 0 || n == elements.size())
            progress.report(what, n, elements.size(), "elements");
    };
    tbb::parallel_for(std::size_t{0}, elements.size(), [&](std::size_t i) {
        if (progress.isCancelled())
            return;
        try {
            built[i] = builder.build(elements[i]);
        } catch (const std::exception& failure) {
            built[i].diagnostics.push_back(internalFailure(elements[i].entity, failure));
        }
        step();
    });

    // Numbered in the order of first use, so that results are the same at any thread count.
    auto geometry = std::make_shared<MemberGeometry>();
    std::vector<ShapePool::Entry*> entries;
    for (const Built& b : built)
        for (const Built::Use& use : b.uses)
            if (use.entry->index == ShapePool::kUnused) {
                use.entry->index = static_cast<ShapeIndex>(entries.size());
                entries.push_back(use.entry);
            }
    tbb::parallel_for(std::size_t{0}, entries.size(), [&](std::size_t i) {
        if (progress.isCancelled())
            return;
        try {
            builder.finish(*entries[i]);
        } catch (const std::exception& failure) {
            entries[i]->diagnostics.push_back(internalFailure(0, failure));
        }
    });
    if (progress.isCancelled())
        return fail({step::kCancelled, "Building was cancelled."});
    geometry->shapes_.reserve(entries.size());
    for (ShapePool::Entry* entry : entries) {
        geometry->shapes_.push_back(std::move(entry->shape));
        std::move(entry->diagnostics.begin(), entry->diagnostics.end(), std::back_inserter(geometry->diagnostics_));
    }

    geometry->elements_.resize(elements.size());
    tbb::parallel_for(std::size_t{0}, elements.size(), [&](std::size_t i) {
        if (progress.isCancelled())
            return;
        ElementShape& shape = geometry->elements_[i];
        const auto ofMaterial = builder.reader().styles().ofMaterial(elements[i].materialEntity);
        for (const Built::Use& use : built[i].uses) {
            if (geometry->shapes_[use.entry->index].mesh.isEmpty()) {
                if (use.item != 0 && std::holds_alternative<EntityId>(use.entry->source) &&
                    std::get<EntityId>(use.entry->source) == 0)
                    built[i].diagnostics.push_back({Severity::Error, "geometry.not-built", ifc::entityName(use.item),
                                                    "IfcExtrudedAreaSolid was not built: its outline crosses itself."});
                continue;
            }
            shape.placed.push_back(
                {use.entry->index, elements[i].placement * use.placement, use.colour ? use.colour : ofMaterial});
        }
        measure(shape, geometry->shapes_);
        if (!shape.placed.empty() && !(length(shape.bounds.min) + length(shape.bounds.max) <
                                       kFarthestMetres)) { // placed nowhere, or farther than anything is built
            shape = {};
            built[i].diagnostics.push_back({Severity::Error, "geometry.place", ifc::entityName(elements[i].entity),
                                            "The element's placement is no place on earth; it was not built."});
        }
    });
    if (progress.isCancelled())
        return fail({step::kCancelled, "Building was cancelled."});
    for (std::size_t i = 0; i < built.size(); ++i) {
        const ElementShape& shape = geometry->elements_[i];
        std::move(built[i].diagnostics.begin(), built[i].diagnostics.end(), std::back_inserter(geometry->diagnostics_));
        if (shape.placed.empty())
            geometry->diagnostics_.push_back({Severity::Error, "geometry.element", ifc::entityName(elements[i].entity),
                                              std::string(model.className(elements[i])) + " " + elements[i].guid +
                                                  " has no body that could be built."});
        geometry->bounds_.add(shape.bounds);
    }
    return geometry;
}

Digest MemberGeometry::digestOf(ifc::ElementIndex element) const
{
    Digest digest;
    for (const PlacedShape& placed : elements_[element].placed) {
        digest.add(shapes_[placed.shape].digest);
        digest.add(placed.placement);
    }
    return digest;
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
