#pragma once

#include "core/geometry/curve_reader.h"
#include "core/geometry/repair.h"

#include <memory>

namespace wendrix::geometry {

/// A straight extrusion as a shape that is shared by all of one profile: the prism of height 1 over these areas,
/// stretched along z by the placement.
struct Prism {
    std::vector<Area> areas;
    Transform placement;
};

/// Reads swept solids: extruded and revolved, also tapered; swept disks, also polygonal; swept along a directrix with
/// a fixed reference or a reference surface; sectioned spines and sectioned solids.
///
/// Metres, in the frame of the representation.
class SweptReader {
public:
    explicit SweptReader(const CurveReader& curves)
        : curves_(curves), bends_(curves.source(), curves.units(), curves.fineness().ofBends())
    {
    }

    /// Whether this entity is one of the kinds above.
    [[nodiscard]] static bool reads(const ifc::Entity& item);
    /// One mesh for each area of the profile. Nothing, with the reason in `why`, where it can not be built.
    [[nodiscard]] std::vector<Mesh> meshes(const ifc::Entity& item, std::string& why, Repairs& repairs) const;
    /// Only for a plain extrusion at right angles to its profile.
    [[nodiscard]] std::optional<Prism> prism(const ifc::Entity& item, Repairs& repairs) const;

private:
    [[nodiscard]] static std::optional<std::vector<Area>> endProfile(const CurveReader& curves, const ifc::Entity& item,
                                                                     std::size_t count, std::string& why,
                                                                     Repairs& repairs);
    [[nodiscard]] std::vector<Mesh> extrusion(const ifc::Entity& item, std::string& why, Repairs& repairs) const;
    [[nodiscard]] std::vector<Mesh> revolution(const ifc::Entity& item, std::string& why, Repairs& repairs) const;
    [[nodiscard]] std::vector<Mesh> disk(const ifc::Entity& item, std::string& why) const;
    [[nodiscard]] std::vector<Mesh> alongDirectrix(const ifc::Entity& item, std::string& why, Repairs& repairs) const;
    [[nodiscard]] std::vector<Mesh> sectioned(const ifc::Entity& item, std::string& why, Repairs& repairs) const;
    [[nodiscard]] std::optional<Transform> sectionFrame(const ifc::Entity& position, const Path& directrix) const;

    const CurveReader& curves_;
    CurveReader bends_; ///< the same, for what is turned or carried along a curve
};

} // namespace wendrix::geometry
