#include "support/small_scene.h"

namespace wendrix::test {

namespace {

std::string number(double v)
{
    std::string text = std::to_string(v);
    return text;
}

std::string point(double x, double y, double z)
{
    return "IFCCARTESIANPOINT((" + number(x) + "," + number(y) + "," + number(z) + "));";
}

/// An element over a solid #`id`, its own frame at a place.
std::string element(int id, const std::string& ifcClass, const std::string& name, Point3 at, const std::string& more)
{
    const auto n = [&](int k) { return "#" + std::to_string(id + k); };
    return n(1) + "=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(" + n(0) + "));" + n(2) +
           "=IFCPRODUCTDEFINITIONSHAPE($,$,(" + n(1) + "));" + n(3) + "=IFCLOCALPLACEMENT(#4," + n(4) + ");" + n(4) +
           "=IFCAXIS2PLACEMENT3D(" + n(5) + ",$,$);" + n(5) + "=" + point(at.x, at.y, at.z) + n(6) + "=" + ifcClass +
           "('00000000000000000000" + std::to_string(id / 10) + "',$,'" + name + "',$,$," + n(3) + "," + n(2) + ",'T" +
           std::to_string(id) + "'" + more + ");" + n(7) + "=IFCRELCONTAINEDINSPATIALSTRUCTURE('00000000000000000001" +
           std::to_string(id / 10) + "',$,$,$,(" + n(6) + "),#5);";
}

std::string properties(int id, int of, const std::string& value)
{
    const auto n = [&](int k) { return "#" + std::to_string(id + k); };
    return n(0) + "=IFCPROPERTYSET('00000000000000000002" + std::to_string(id / 10) + "',$,'Pset_Store',$,(" + n(1) +
           "));" + n(1) + "=IFCPROPERTYSINGLEVALUE('Rating',$,IFCLABEL('" + value + "'),$);" + n(2) +
           "=IFCRELDEFINESBYPROPERTIES('00000000000000000003" + std::to_string(id / 10) + "',$,$,$,(#" +
           std::to_string(of) + ")," + n(0) + ");";
}

} // namespace

SmallScene::SmallScene()
{
    std::string body = "#22=IFCDIRECTION((0.,0.,1.));#23=IFCDIRECTION((1.,0.,0.));#24=IFCDIRECTION((0.,-1.,0.));";
    const auto ring = [&](int first, const std::vector<Point2>& corners) {
        std::string list;
        for (std::size_t i = 0; i < corners.size(); ++i) {
            const std::string id = "#" + std::to_string(first + static_cast<int>(i) + 1);
            body += id + "=IFCCARTESIANPOINT((" + number(corners[i].x) + "," + number(corners[i].y) + "));";
            list += id + ",";
        }
        body += "#" + std::to_string(first) + "=IFCPOLYLINE((" + list + "#" + std::to_string(first + 1) + "));";
    };
    ring(500, {{-5, -4}, {5, -4}, {5, 4}, {-5, 4}});
    ring(510, {{2.4, 1.6}, {3.6, 1.6}, {3.6, 2.4}, {2.4, 2.4}});
    body += "#520=IFCARBITRARYPROFILEDEFWITHVOIDS(.AREA.,$,#500,(#510));#110=IFCEXTRUDEDAREASOLID(#520,#8,#22,0.3);";
    body += element(110, "IFCSLAB", "Floor", {0, 0, -0.3}, ",.FLOOR.");
    // Drawn upright: its outline in x and z, swept along -y.
    ring(530, {{-3, 0}, {-0.6, 0}, {-0.6, 2.1}, {0.6, 2.1}, {0.6, 0}, {3, 0}, {3, 3}, {-3, 3}});
    body += "#540=IFCARBITRARYCLOSEDPROFILEDEF(.AREA.,$,#530);#541=IFCAXIS2PLACEMENT3D(#9,#24,#23);#120="
            "IFCEXTRUDEDAREASOLID(#540,#541,#22,0.2);";
    body += element(120, "IFCWALL", "Wall", {0, 2.2, 0}, ",$");
    body += "#550=IFCCIRCLEPROFILEDEF(.AREA.,$,$,0.1);#551=IFCAXIS2PLACEMENT3D(#9,#23,#22);#130=IFCEXTRUDEDAREASOLID(#"
            "550,#551,#22,5.);";
    body += element(130, "IFCPIPESEGMENT", "Pipe", {-2, 0, 2}, ",$");
    body += "#560=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,1.,1.);#140=IFCEXTRUDEDAREASOLID(#560,#8,#22,1.);";
    body += element(140, "IFCFURNITURE", "Crate", {-3, -2, 0}, ",$");
    body += "#150=IFCEXTRUDEDAREASOLID(#560,#8,#22,1.);" + element(150, "IFCFURNITURE", "Crate", {-1, -2, 0}, ",$");
    body += properties(160, 146, "dry") + properties(170, 156, "cold") + properties(180, 116, "dry");
    read_ = readText(ifcFile("IFC4", body));
    federation::Member member;
    member.discipline = "Architecture";
    member.revision = "P01";
    member.model = read_->model;
    member.geometry = read_->geometry;
    members = {member};
}

} // namespace wendrix::test
