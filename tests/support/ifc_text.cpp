#include "support/ifc_text.h"

#include <cstdlib>
#include <iostream>

namespace wendrix::test {

std::string ifcFile(const std::string& schema, const std::string& body, const std::string& lengthUnit)
{
    return "ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\n"
           "FILE_NAME('test.ifc','2026-01-01T00:00:00',(''),(''),'','','');\nFILE_SCHEMA(('" +
           schema +
           "'));\nENDSEC;\nDATA;\n"
           "#1=IFCPROJECT('0000000000000000000001',$,'Test',$,$,$,$,(#3),#2);\n"
           "#2=IFCUNITASSIGNMENT((#6,#7));\n"
           "#3=IFCGEOMETRICREPRESENTATIONCONTEXT($,'Model',3,1.E-5,#8,$);\n"
           "#4=IFCLOCALPLACEMENT($,#8);\n"
           "#5=IFCBUILDINGSTOREY('0000000000000000000005',$,'Level 1',$,$,#4,$,$,.ELEMENT.,0.);\n"
           "#6=" +
           lengthUnit +
           ";\n#7=IFCSIUNIT(*,.PLANEANGLEUNIT.,$,.RADIAN.);\n"
           "#8=IFCAXIS2PLACEMENT3D(#9,$,$);\n#9=IFCCARTESIANPOINT((0.,0.,0.));\n" +
           body + "\nENDSEC;\nEND-ISO-10303-21;\n";
}

std::string proxyOver(const std::string& item, const std::string& kind)
{
    return "\n#90=IFCSHAPEREPRESENTATION(#3,'Body','" + kind + "',(" + item +
           "));\n#91=IFCPRODUCTDEFINITIONSHAPE($,$,(#90));\n"
           "#92=IFCBUILDINGELEMENTPROXY('0000000000000000000092',$,'Proxy',$,$,#4,#91,$,$);\n"
           "#93=IFCRELCONTAINEDINSPATIALSTRUCTURE('0000000000000000000093',$,$,$,(#92),#5);\n";
}

std::unique_ptr<Read> readText(std::string text)
{
    auto read = std::make_unique<Read>();
    read->text = std::move(text);
    Progress progress;
    const auto model = ifc::Model::fromBytes(read->text, "test.ifc", progress);
    if (!model) {
        std::cerr << model.error().inWords() << '\n';
        std::abort();
    }
    read->model = *model;
    read->geometry = geometry::MemberGeometry::build(**model, progress).value();
    return read;
}

} // namespace wendrix::test
