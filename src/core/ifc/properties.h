#pragma once

#include "core/ifc/model.h"

namespace wendrix::ifc {

/// Reads one IfcPropertySet or IfcElementQuantity; other definitions give a set without properties.
[[nodiscard]] PropertySet readPropertySet(const Source& source, const Units& units, const Entity& set);

} // namespace wendrix::ifc
