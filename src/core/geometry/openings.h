#pragma once

#include "core/geometry/fineness.h"
#include "core/geometry/mesh.h"
#include "core/ifc/model.h"

namespace wendrix::geometry {

/// What is cut out of an element.
struct OpeningBody {
    ifc::EntityId entity = 0;
    Mesh mesh; ///< file's world frame, metres
};

/// The bodies of an element's openings that nothing fills, as a door would; what can not be built is left out.
[[nodiscard]] std::vector<OpeningBody> freeOpeningsOf(const ifc::Model& model, const ifc::Element& element,
                                                      const Fineness& fineness = {});

} // namespace wendrix::geometry
