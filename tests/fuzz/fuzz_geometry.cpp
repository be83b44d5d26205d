#include "core/geometry/member_geometry.h"

#include <cstdint>
#include <string>

/// Any bytes as the data of an IFC file with a project and a storey: the model, its properties, its shapes.
namespace {

const std::string kHead =
    "ISO-10303-21;HEADER;FILE_SCHEMA(('IFC4X3'));ENDSEC;DATA;\n"
    "#1=IFCPROJECT('0000000000000000000001',$,'Fuzz',$,$,$,$,(#3),#2);#2=IFCUNITASSIGNMENT((#6,#7));"
    "#3=IFCGEOMETRICREPRESENTATIONCONTEXT($,'Model',3,1.E-5,#8,$);#4=IFCLOCALPLACEMENT($,#8);"
    "#5=IFCBUILDINGSTOREY('0000000000000000000005',$,'Level 1',$,$,#4,$,$,.ELEMENT.,0.);"
    "#6=IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.);#7=IFCSIUNIT(*,.PLANEANGLEUNIT.,$,.RADIAN.);"
    "#8=IFCAXIS2PLACEMENT3D(#9,$,$);#9=IFCCARTESIANPOINT((0.,0.,0.));\n";

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    using namespace wendrix;
    const std::string text =
        kHead + std::string(reinterpret_cast<const char*>(data), size) + "\nENDSEC;END-ISO-10303-21;";
    Progress progress;
    const auto model = ifc::Model::fromBytes(text, "fuzz.ifc", progress);
    if (!model)
        return 0;
    for (const ifc::Element& e : (*model)->elements())
        (void)(*model)->properties(e);
    const auto built = geometry::MemberGeometry::build(**model, progress).value();
    for (ifc::ElementIndex i = 0; i < built->elements().size(); ++i)
        for (const Point3 p : built->meshOf(i).points)
            if (!(std::abs(p.x) < 1e10) || !(std::abs(p.y) < 1e10) || !(std::abs(p.z) < 1e10))
                __builtin_trap(); // what was built must stand somewhere
    return 0;
}
