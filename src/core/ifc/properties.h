#pragma once

#include "core/ifc/model.h"

namespace wendrix::ifc {

/// Reads one IfcPropertySet, IfcElementQuantity or predefined set, every kind of property value, each in the unit
/// it carries itself or the project's, in SI.
[[nodiscard]] PropertySet readPropertySet(const Source& source, const Units& units, const Entity& set);

/// Reads IfcMaterialProperties (IFC2X3: IfcExtendedMaterialProperties).
[[nodiscard]] PropertySet readMaterialProperties(const Source& source, const Units& units, const Entity& set);

} // namespace wendrix::ifc
