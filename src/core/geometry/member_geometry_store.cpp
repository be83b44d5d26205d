#include "core/geometry/member_geometry.h"

#include <algorithm>

namespace wendrix::geometry {

namespace {

/// Colours are often not given: nothing is a negative red.
struct PlainColour {
    double red = -1, green = 0, blue = 0, transparency = 0;

    PlainColour() = default;
    explicit PlainColour(const std::optional<ifc::SurfaceColour>& c)
    {
        if (c)
            *this = {c->red, c->green, c->blue, c->transparency};
    }
    PlainColour(double r, double g, double b, double t) : red(r), green(g), blue(b), transparency(t) {}
    [[nodiscard]] std::optional<ifc::SurfaceColour> colour() const
    {
        return red < 0 ? std::nullopt : std::optional(ifc::SurfaceColour{red, green, blue, transparency});
    }
};

struct RunRow {
    std::uint32_t firstTriangle;
    PlainColour colour;
};
struct PlacedRow {
    Transform placement;
    PlainColour colour;
    ShapeIndex shape;
};
struct ElementRow {
    Box3 bounds;
    double volume, area;
    std::uint64_t triangles;
    std::uint32_t placed;
    std::uint32_t isClosed; ///< 1 if it is
};

/// Whether everything in a shape refers to what there is, and stands somewhere.
bool isConsistent(const Shape& shape)
{
    const std::size_t points = shape.mesh.points.size(), triangles = shape.mesh.triangles.size();
    const auto isWithin = [points](const auto& indices) {
        return std::all_of(indices.begin(), indices.end(), [points](std::uint32_t i) { return i < points; });
    };
    if (!std::all_of(shape.mesh.triangles.begin(), shape.mesh.triangles.end(), isWithin) ||
        !std::all_of(shape.edges.begin(), shape.edges.end(), isWithin) || !isSomewhere(shape.mesh))
        return false;
    std::uint32_t last = 0;
    for (const ColourRun& run : shape.colours) {
        if (run.firstTriangle < last || run.firstTriangle > triangles)
            return false;
        last = run.firstTriangle;
    }
    return triangles == 0 || (!shape.colours.empty() && shape.colours.front().firstTriangle == 0);
}

constexpr auto isNear = [](Vector3 v) { return length(v) < kFarthestMetres; };

bool isSomewhere(const Box3& box) { return isNear(box.min) && isNear(box.max); }

bool isSomewhere(const Transform& t) { return isNear(t.x) && isNear(t.y) && isNear(t.z) && isNear(t.origin); }

} // namespace

void MemberGeometry::save(BinaryWriter& out) const
{
    out.value(static_cast<std::uint64_t>(shapes_.size()));
    for (const Shape& s : shapes_) {
        out.column(std::span<const Point3>(s.mesh.points));
        out.column(std::span<const Triangle>(s.mesh.triangles));
        out.column(std::span<const std::array<std::uint32_t, 2>>(s.edges));
        std::vector<RunRow> runs;
        for (const ColourRun& run : s.colours)
            runs.push_back({run.firstTriangle, PlainColour(run.colour)});
        out.column(std::span<const RunRow>(runs));
        out.value(s.isClosed);
        out.value(s.volume);
        out.value(s.area);
        out.value(s.digest);
    }
    std::vector<ElementRow> rows;
    std::vector<PlacedRow> placed;
    for (const ElementShape& e : elements_) {
        rows.push_back({e.bounds, e.volume, e.area, e.triangles, static_cast<std::uint32_t>(e.placed.size()),
                        e.isClosed ? 1u : 0u});
        for (const PlacedShape& p : e.placed)
            placed.push_back({p.placement, PlainColour(p.colour), p.shape});
    }
    out.column(std::span<const ElementRow>(rows));
    out.column(std::span<const PlacedRow>(placed));
    out.value(bounds_);
    out.diagnostics(diagnostics_);
}

std::shared_ptr<const MemberGeometry> MemberGeometry::restore(BinaryReader& in, std::size_t elements)
{
    auto geometry = std::make_shared<MemberGeometry>();
    for (std::size_t n = in.count(); n > 0 && in.isSound(); --n) {
        Shape s;
        s.mesh.points = in.copy<Point3>();
        s.mesh.triangles = in.copy<Triangle>();
        s.edges = in.copy<std::array<std::uint32_t, 2>>();
        for (const RunRow& run : in.column<RunRow>())
            s.colours.push_back({run.firstTriangle, run.colour.colour()});
        s.isClosed = in.value<bool>();
        s.volume = in.value<double>();
        s.area = in.value<double>();
        s.digest = in.value<Digest>();
        if (!isConsistent(s))
            in.fail();
        geometry->shapes_.push_back(std::move(s));
    }
    const Column<ElementRow> rows = in.column<ElementRow>();
    const Column<PlacedRow> placed = in.column<PlacedRow>();
    geometry->bounds_ = in.value<Box3>();
    geometry->diagnostics_ = in.diagnostics();
    if (rows.size() != elements)
        in.fail();
    std::size_t next = 0;
    geometry->elements_.reserve(rows.size());
    for (const ElementRow& row : rows) {
        if (row.placed > placed.size() - next) {
            in.fail();
            break;
        }
        ElementShape e;
        e.bounds = row.bounds;
        e.volume = row.volume;
        e.area = row.area;
        e.isClosed = row.isClosed == 1;
        e.placed.reserve(row.placed);
        for (std::uint32_t i = 0; i < row.placed; ++i, ++next) {
            if (placed[next].shape >= geometry->shapes_.size() || !isSomewhere(placed[next].placement)) {
                in.fail();
                return geometry;
            }
            e.triangles += geometry->shapes_[placed[next].shape].mesh.triangles.size();
            e.placed.push_back({placed[next].shape, placed[next].placement, placed[next].colour.colour()});
        }
        if (e.triangles != row.triangles || (!e.placed.empty() && !isSomewhere(e.bounds)))
            in.fail();
        geometry->elements_.push_back(std::move(e));
    }
    return geometry;
}

} // namespace wendrix::geometry
