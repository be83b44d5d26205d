#pragma once

#include "core/base/binary.h"
#include "core/base/progress.h"
#include "core/base/transform.h"
#include "core/ifc/source.h"

#include <vector>

namespace wendrix::ifc {

/// Reads points, directions and placements in metres; missing or degenerate axes take the standard's defaults.
class PlacementReader {
public:
    PlacementReader(const Source& source, double lengthToMetres)
        : source_(source), scale_(lengthToMetres), point_(source.schema().type("IfcCartesianPoint"))
    {
    }

    [[nodiscard]] double lengthToMetres() const { return scale_; }
    /// IfcCartesianPoint, in metres; 2D points get z = 0. One that is missing or not well formed is no place: NaN.
    [[nodiscard]] Point3 point(const Entity& cartesianPoint) const;
    [[nodiscard]] Point3 point(EntityId cartesianPoint) const;
    [[nodiscard]] Point3 point(Value reference) const { return point(reference.reference()); }
    /// IfcDirection as given, not normalised; `otherwise` if absent or zero.
    [[nodiscard]] Vector3 direction(Value reference, Vector3 otherwise) const;
    /// IfcAxis2Placement2D, IfcAxis2Placement3D, IfcAxis1Placement, or IfcAxis2PlacementLinear by the place it is
    /// relative to. A placement whose location is missing is at the origin.
    [[nodiscard]] Transform axisPlacement(const Entity& placement) const;
    [[nodiscard]] Transform axisPlacement(Value reference) const { return axisPlacement(source_.entity(reference)); }
    /// IfcCartesianTransformationOperator of any kind.
    [[nodiscard]] Transform transformationOperator(const Entity& op) const;

private:
    const Source& source_;
    double scale_;
    TypeId point_;
};

/// Every object placement of a file, chained up to the file's world frame. Immutable after reading.
///
/// Local placements of any depth; grid placements at the crossing of their axes; linear placements where they
/// carry a Cartesian fallback. A circular chain is cut, other kinds are the origin they are relative to, each with a
/// diagnostic.
class ObjectPlacements {
    struct Placed {
        EntityId id = 0, relativeTo = 0;
        Transform transform; ///< to relativeTo's frame while reading, then to the world
    };

public:
    ObjectPlacements() = default;
    /// Once cancelled it may hold placements that are not chained up.
    ObjectPlacements(const Source& source, const PlacementReader& reader, std::vector<Diagnostic>& diagnostics,
                     const Progress& progress);
    explicit ObjectPlacements(BinaryReader& in) : placed_(in.column<Placed>()) {}
    void save(BinaryWriter& out) const { out.column(placed_.view()); }
    /// From the object's own frame to the file's world frame; the identity where there is no such placement.
    [[nodiscard]] Transform of(EntityId placement) const;

private:
    Column<Placed> placed_; ///< by id
};

} // namespace wendrix::ifc
