#include "core/ifc/model.h"

namespace wendrix::ifc {

namespace {

/// What of an element is plain; its texts and lists follow one behind the other.
struct ElementRow {
    EntityId entity, typeEntity, materialEntity;
    Transform placement;
    StringId name, tag, typeName, material, system;
    StoreyIndex storey;
    TypeId type;
    std::uint16_t representations, openings;
    std::uint16_t guidBytes;
};
constexpr std::size_t kMostInList = 0xFFFF;

/// A number that can be calculated with.
double number(BinaryReader& in)
{
    constexpr double kLargest = 1e18;
    const auto v = in.value<double>();
    if (!(std::abs(v) < kLargest))
        in.fail();
    return v;
}
double factor(BinaryReader& in)
{
    const double v = number(in);
    if (!(v > 0))
        in.fail();
    return v;
}
Point3 point(BinaryReader& in)
{
    const double x = number(in), y = number(in);
    return {x, y, number(in)};
}

void optional(BinaryWriter& out, const std::optional<double>& v)
{
    out.value(v.has_value());
    out.value(v.value_or(0));
}
std::optional<double> optional(BinaryReader& in)
{
    const bool has = in.value<bool>();
    const double v = number(in);
    return has ? std::optional(v) : std::nullopt;
}

template <class Quantity>
std::optional<double> plain(const std::optional<Quantity>& q)
{
    return q ? std::optional(q->value) : std::nullopt;
}
template <class Quantity>
std::optional<Quantity> quantity(std::optional<double> v)
{
    return v ? std::optional(Quantity{*v}) : std::nullopt;
}

void save(BinaryWriter& out, const Georeference& g)
{
    out.value(g.crs.has_value());
    out.text(g.crs.value_or(""));
    for (const auto& v : {g.eastings, g.northings, g.height, plain(g.rotation), g.scale, g.latitudeDegrees,
                          g.longitudeDegrees, plain(g.siteElevation), plain(g.trueNorth)})
        optional(out, v);
}

Georeference restoreGeoreference(BinaryReader& in)
{
    Georeference g;
    const bool hasCrs = in.value<bool>();
    const std::string crs = in.text();
    if (hasCrs)
        g.crs = crs;
    g.eastings = optional(in);
    g.northings = optional(in);
    g.height = optional(in);
    g.rotation = quantity<Radians>(optional(in));
    g.scale = optional(in);
    g.latitudeDegrees = optional(in);
    g.longitudeDegrees = optional(in);
    g.siteElevation = quantity<Metres>(optional(in));
    g.trueNorth = quantity<Radians>(optional(in));
    return g;
}

void save(BinaryWriter& out, const Units& u)
{
    out.text(u.lengthName);
    out.value(u.lengthToMetres);
    out.value(u.areaToSquareMetres);
    out.value(u.volumeToCubicMetres);
    out.value(u.angleToRadians);
    out.value(static_cast<std::uint64_t>(u.byKind.size()));
    for (const auto& [kind, unit] : u.byKind) {
        out.text(kind);
        out.value(unit.factor);
        out.value(unit.offset);
        out.text(unit.symbol);
    }
}

Units restoreUnits(BinaryReader& in)
{
    Units u;
    u.lengthName = in.text();
    u.lengthToMetres = factor(in);
    u.areaToSquareMetres = factor(in);
    u.volumeToCubicMetres = factor(in);
    u.angleToRadians = factor(in);
    for (std::size_t n = in.count(); n > 0 && in.isSound(); --n) {
        const std::string kind = in.text();
        Unit unit;
        unit.factor = number(in);
        unit.offset = number(in);
        unit.symbol = in.text();
        u.byKind.emplace(kind, unit);
    }
    return u;
}

} // namespace

struct ModelStore {
    static void saveElements(BinaryWriter& out, const Model& m)
    {
        std::vector<ElementRow> rows;
        std::vector<EntityId> lists;
        std::string guids;
        rows.reserve(m.elements_.size());
        for (const Element& e : m.elements_) {
            const auto size = [](const auto& list) {
                return static_cast<std::uint16_t>(std::min(list.size(), kMostInList));
            };
            ElementRow row{};
            row.entity = e.entity;
            row.typeEntity = e.typeEntity;
            row.materialEntity = e.materialEntity;
            row.placement = e.placement;
            row.name = e.name;
            row.tag = e.tag;
            row.typeName = e.typeName;
            row.material = e.material;
            row.system = e.system;
            row.storey = e.storey;
            row.type = e.type;
            row.representations = size(e.representations);
            row.openings = size(e.openings);
            row.guidBytes = size(e.guid);
            lists.insert(lists.end(), e.representations.begin(), e.representations.begin() + row.representations);
            lists.insert(lists.end(), e.openings.begin(), e.openings.begin() + row.openings);
            guids.append(e.guid, 0, row.guidBytes);
            rows.push_back(row);
        }
        out.column(std::span<const ElementRow>(rows));
        out.column(std::span<const EntityId>(lists));
        out.text(guids);
    }

    static void restoreElements(BinaryReader& in, Model& m)
    {
        const Column<ElementRow> rows = in.column<ElementRow>();
        const Column<EntityId> lists = in.column<EntityId>();
        const std::string guids = in.text();
        std::size_t list = 0, guid = 0;
        m.elements_.reserve(rows.size());
        for (const ElementRow& row : rows) {
            const std::size_t inLists = std::size_t{row.representations} + row.openings;
            const StringId last = std::max({row.name, row.tag, row.typeName, row.material, row.system});
            if (inLists > lists.size() - list || row.guidBytes > guids.size() - guid || last >= m.strings_.size() ||
                row.storey < kNoStorey || row.storey >= static_cast<StoreyIndex>(m.storeys_.size()) || row.type < 0 ||
                row.type >= static_cast<int>(m.source_.schema().typeCount())) {
                in.fail();
                return;
            }
            Element e;
            e.entity = row.entity;
            e.typeEntity = row.typeEntity;
            e.materialEntity = row.materialEntity;
            e.placement = row.placement;
            e.name = row.name;
            e.tag = row.tag;
            e.typeName = row.typeName;
            e.material = row.material;
            e.system = row.system;
            e.storey = row.storey;
            e.type = row.type;
            const auto first = lists.begin() + static_cast<std::ptrdiff_t>(list);
            e.representations.assign(first, first + row.representations);
            e.openings.assign(first + row.representations, first + row.representations + row.openings);
            e.guid.assign(guids, guid, row.guidBytes);
            list += inLists;
            guid += row.guidBytes;
            m.elements_.push_back(std::move(e));
        }
    }

    static void saveStructure(BinaryWriter& out, const Model& m)
    {
        out.value(static_cast<std::uint64_t>(m.storeys_.size()));
        for (const Storey& s : m.storeys_) {
            out.value(s.entity);
            out.text(s.guid);
            out.text(s.name);
            out.value(s.elevation);
            out.value(s.height);
        }
        out.value(static_cast<std::uint64_t>(m.grids_.size()));
        for (const Grid& g : m.grids_) {
            out.text(g.guid);
            out.text(g.name);
            out.value(static_cast<std::uint64_t>(g.axes.size()));
            for (const GridAxis& a : g.axes) {
                out.text(a.tag);
                out.value(a.family);
                out.value(a.start);
                out.value(a.end);
                out.value(a.arc.has_value());
                out.value(a.arc.value_or(GridArc{}));
            }
        }
    }

    static void restoreStructure(BinaryReader& in, Model& m)
    {
        for (std::size_t n = in.count(); n > 0 && in.isSound(); --n) {
            Storey s;
            s.entity = in.value<EntityId>();
            s.guid = in.text();
            s.name = in.text();
            s.elevation = Metres{number(in)};
            s.height = Metres{number(in)};
            m.storeys_.push_back(std::move(s));
        }
        for (std::size_t n = in.count(); n > 0 && in.isSound(); --n) {
            Grid g{in.text(), in.text(), {}};
            for (std::size_t k = in.count(); k > 0 && in.isSound(); --k) {
                GridAxis a;
                a.tag = in.text();
                a.family = in.value<char>();
                a.start = point(in);
                a.end = point(in);
                const bool isCircular = in.value<bool>();
                const GridArc arc{point(in), point(in), point(in), number(in), number(in)};
                if (std::abs(arc.sweep) > 6.3)
                    in.fail();
                if (isCircular)
                    a.arc = arc;
                g.axes.push_back(std::move(a));
            }
            m.grids_.push_back(std::move(g));
        }
    }
};

void Model::save(BinaryWriter& out) const
{
    source_.file().save(out);
    ifc::save(out, units_);
    out.text(projectGuid_);
    out.value(static_cast<std::uint64_t>(strings_.size()));
    for (StringId id = 0; id < strings_.size(); ++id)
        out.text(strings_.text(id));
    ModelStore::saveStructure(out, *this);
    ModelStore::saveElements(out, *this);
    out.column(descriptions_.view());
    placements_.save(out);
    relations_->save(out);
    ifc::save(out, georeference_);
    out.diagnostics(diagnostics_);
}

Result<std::shared_ptr<const Model>> Model::restore(std::shared_ptr<const MappedFile> mapped, BinaryReader& in)
{
    const auto damaged = [] {
        return wendrix::fail({kDamagedCache, "What was kept of this file is damaged; it is read again."});
    };
    step::File file = step::File::restore(std::move(mapped), in);
    const Schema* schema = Schema::forFile(file.header().schema);
    if (schema == nullptr || !in.isSound())
        return damaged();
    std::shared_ptr<Model> model(new Model(Source(std::move(file), *schema)));
    model->units_ = restoreUnits(in);
    model->projectGuid_ = in.text();
    if (const std::size_t n = in.count(); n == 0 || !in.text().empty())
        in.fail(); // the empty text comes first
    else
        for (std::size_t id = 1; id < n && in.isSound(); ++id)
            model->strings_.append(in.text());
    ModelStore::restoreStructure(in, *model);
    ModelStore::restoreElements(in, *model);
    model->descriptions_ = in.column<Digest>();
    if (model->descriptions_.size() != model->elements_.size())
        in.fail();
    model->placements_ = ObjectPlacements(in);
    model->relations_ = std::make_unique<const Relations>(model->source_, in);
    model->georeference_ = restoreGeoreference(in);
    model->diagnostics_ = in.diagnostics();
    if (!in.isSound())
        return damaged();
    return std::shared_ptr<const Model>(std::move(model));
}

} // namespace wendrix::ifc
