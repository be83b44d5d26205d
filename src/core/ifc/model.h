#pragma once

#include "core/base/column.h"
#include "core/base/digest.h"
#include "core/base/text.h"
#include "core/base/transform.h"
#include "core/ifc/georeference.h"
#include "core/ifc/grid.h"
#include "core/ifc/placement.h"
#include "core/ifc/relations.h"
#include "core/ifc/source.h"
#include "core/ifc/units.h"

#include <filesystem>
#include <memory>
#include <mutex>
#include <optional>
#include <span>
#include <string>
#include <unordered_map>
#include <vector>

namespace wendrix::ifc {

inline constexpr ErrorCode kUnknownSchema{"ifc.unknown-schema"};
inline constexpr ErrorCode kNoProject{"ifc.no-project"};
inline constexpr ErrorCode kDamagedCache{"ifc.damaged-cache"};

using ElementIndex = std::uint32_t;
using StoreyIndex = std::int32_t;
inline constexpr StoreyIndex kNoStorey = -1;

/// A product that carries a body: an element, a space, a site's terrain.
struct Element {
    EntityId entity = 0;
    TypeId type = kUnknownType;
    std::string guid;
    StringId name = 0, tag = 0, typeName = 0, material = 0, system = 0;
    StoreyIndex storey = kNoStorey;
    Transform placement;                         ///< own frame to the file's world frame, metres
    std::vector<EntityId> representations;       ///< the body representations
    std::vector<EntityId> openings;              ///< opening elements to subtract, its assembly's included
    EntityId typeEntity = 0, materialEntity = 0; ///< its own material, else its type's
};

struct Storey {
    EntityId entity = 0;
    std::string guid, name;
    Metres elevation; ///< as the file says it, else the placement's height
    Metres height;    ///< of its placement, in the file's world frame
};

struct Property {
    std::string name;
    std::string value; ///< as text, in SI where the type is a measure
    std::string unit;  ///< "m", "m²"; empty where none
    bool operator==(const Property&) const = default;
};

struct PropertySet {
    std::string name;
    std::vector<Property> properties;
    bool operator==(const PropertySet&) const = default;
};

/// What one IFC file says, apart from shapes: elements as columns of small rows, properties read on demand.
///
/// Frames: the file's own world frame, in metres, before any fit. Immutable after reading, so safe to share.
class Model {
public:
    /// @param leftOut  classes whose elements, and those of their subclasses, are not wanted: "IfcFurnishingElement"
    /// @return the model, or why the file is none: what step::File::open gives, kUnknownSchema, kNoProject.
    [[nodiscard]] static Result<std::shared_ptr<const Model>>
    open(const std::filesystem::path& path, Progress& progress, std::span<const std::string> leftOut = {});
    [[nodiscard]] static Result<std::shared_ptr<const Model>>
    open(std::shared_ptr<const MappedFile> mapped, Progress& progress, std::span<const std::string> leftOut = {});
    /// The same from bytes that outlive the model; `name` stands in messages.
    [[nodiscard]] static Result<std::shared_ptr<const Model>> fromBytes(std::string_view bytes, const std::string& name,
                                                                        Progress& progress);

    /// Everything but the file's own bytes, for restore().
    void save(BinaryWriter& out) const;
    /// A model that was read before, from the same file: without reading it again.
    /// @return where `in` is not sound, kDamagedCache
    [[nodiscard]] static Result<std::shared_ptr<const Model>> restore(std::shared_ptr<const MappedFile> mapped,
                                                                      BinaryReader& in);

    [[nodiscard]] const Source& source() const { return source_; }
    [[nodiscard]] const Units& units() const { return units_; }
    [[nodiscard]] const std::string& projectGuid() const { return projectGuid_; }
    [[nodiscard]] const std::vector<Element>& elements() const { return elements_; }
    [[nodiscard]] const std::vector<Storey>& storeys() const { return storeys_; } ///< lowest first
    [[nodiscard]] const std::vector<Grid>& grids() const { return grids_; }
    [[nodiscard]] const Georeference& georeference() const { return georeference_; }
    [[nodiscard]] const std::vector<Diagnostic>& diagnostics() const { return diagnostics_; }

    [[nodiscard]] const std::string& text(StringId id) const { return strings_.text(id); }
    [[nodiscard]] std::string_view className(const Element& e) const { return source_.schema().typeName(e.type); }
    /// The name a person would use: its name, else its class in words.
    [[nodiscard]] std::string displayName(const Element& e) const;
    /// Gets ready for find(), which otherwise does it when it is first asked; for whoever must not wait then.
    void indexGuids() const;
    /// The element of this GlobalId; where the file repeats it, the one of this ordinal in the file's order.
    [[nodiscard]] std::optional<ElementIndex> find(std::string_view guid, std::uint32_t ordinal = 0) const;
    /// Which of the elements with its GlobalId it is; 0 where the file does not repeat it.
    [[nodiscard]] std::uint32_t ordinalOf(ElementIndex element) const;
    /// Property and quantity sets of an element, read from the file now: its own, then what its type adds. Where
    /// both have a set of one name they are one, and the element's own word counts.
    [[nodiscard]] std::vector<PropertySet> properties(const Element& e) const;
    /// By element, of everything the file says of it but its shape, as digestOfDescription() makes it when reading.
    [[nodiscard]] std::span<const Digest> descriptions() const { return descriptions_.view(); }
    [[nodiscard]] const Relations& relations() const { return *relations_; }
    /// The placement of any product of the file (openings, for one).
    [[nodiscard]] Transform placementOf(const Entity& product) const;

private:
    explicit Model(Source source) : source_(std::move(source)) {}
    [[nodiscard]] std::vector<EntityId> propertySetsOf(const Element& e) const;
    static Result<std::shared_ptr<const Model>> read(Result<step::File> file, Progress& progress,
                                                     std::span<const std::string> leftOut);
    friend class ModelReader;
    friend struct ModelStore;

    Source source_;
    Units units_;
    std::string projectGuid_;
    StringPool strings_;
    ObjectPlacements placements_;
    std::unique_ptr<const Relations> relations_;
    std::vector<Element> elements_;
    Column<Digest> descriptions_;
    std::vector<Storey> storeys_;
    std::vector<Grid> grids_;
    Georeference georeference_;
    std::vector<Diagnostic> diagnostics_;
    mutable std::once_flag guidsIndexed_;                               ///< at the first find()
    mutable std::unordered_map<std::string_view, ElementIndex> byGuid_; ///< the first; views of the elements' own guids
    mutable std::unordered_map<std::string_view, std::vector<ElementIndex>>
        repeats_; ///< all of a GlobalId that is repeated
};

/// The representations of a product that show its body: `Body` and what exporters call it; never boxes,
/// axes, footprints or clearances.
[[nodiscard]] std::vector<EntityId> bodyRepresentations(const Source& source, const Entity& product);

} // namespace wendrix::ifc
