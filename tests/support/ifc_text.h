#pragma once

#include "core/geometry/member_geometry.h"
#include "core/ifc/model.h"

#include <string>

/// Small IFC files as text, for tests of one thing each.
namespace wendrix::test {

/// A whole file around `body`. It has a project #1 with the unit assignment #2 (metres and radians unless
/// `lengthUnit` names another entity text), a context #3, a placement #4 at the origin and a storey #5.
[[nodiscard]] std::string ifcFile(const std::string& schema, const std::string& body,
                                  const std::string& lengthUnit = "IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.)");
/// `body` with an IfcBuildingElementProxy over the item `item`, so that it is an element.
[[nodiscard]] std::string proxyOver(const std::string& item, const std::string& kind = "SweptSolid");

struct Read {
    std::string text; ///< the model reads from it
    std::shared_ptr<const ifc::Model> model;
    std::shared_ptr<const geometry::MemberGeometry> geometry;
};
/// Reads and builds; aborts the test program with the error if it can not.
[[nodiscard]] std::unique_ptr<Read> readText(std::string text);

} // namespace wendrix::test
