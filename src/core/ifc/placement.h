#pragma once

#include "core/base/transform.h"
#include "core/ifc/source.h"

#include <unordered_map>

namespace wendrix::ifc {

/// Reads points, directions and placements in metres; missing or degenerate axes take the standard's defaults.
class PlacementReader {
public:
    PlacementReader(const Source& source, double lengthToMetres) : source_(source), scale_(lengthToMetres) {}

    [[nodiscard]] double lengthToMetres() const { return scale_; }
    /// IfcCartesianPoint, in metres; 2D points get z = 0.
    [[nodiscard]] Point3 point(const Entity& cartesianPoint) const;
    [[nodiscard]] Point3 point(Value reference) const { return point(source_.entity(reference)); }
    /// IfcDirection as given, not normalised; `otherwise` if absent or zero.
    [[nodiscard]] Vector3 direction(Value reference, Vector3 otherwise) const;
    /// IfcAxis2Placement2D, IfcAxis2Placement3D or IfcAxis1Placement.
    [[nodiscard]] Transform axisPlacement(const Entity& placement) const;
    [[nodiscard]] Transform axisPlacement(Value reference) const { return axisPlacement(source_.entity(reference)); }
    /// IfcCartesianTransformationOperator of any kind.
    [[nodiscard]] Transform transformationOperator(const Entity& op) const;

private:
    const Source& source_;
    double scale_;
};

/// Object placements chained up to the file's world frame, each worked out once.
class ObjectPlacements {
public:
    ObjectPlacements(const Source& source, const PlacementReader& reader, std::vector<Diagnostic>& diagnostics)
        : source_(source), reader_(reader), diagnostics_(diagnostics)
    {
    }
    /// From the object's own frame to the file's world frame. A circular chain is cut, with a diagnostic.
    [[nodiscard]] Transform of(EntityId placement);

private:
    const Source& source_;
    const PlacementReader& reader_;
    std::vector<Diagnostic>& diagnostics_;
    std::unordered_map<EntityId, Transform> known_;
};

} // namespace wendrix::ifc
